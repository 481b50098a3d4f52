"""A page of the schools with what each costs on the demo job: schools_page.py FILE."""

from __future__ import annotations

import sys
from pathlib import Path

from yattle.derive.compare import DETAIL, Cost, title_of, variants
from yattle.job import demo_path, load

_ON = (("eave", "E1", DETAIL), ("valley", "V1", DETAIL), ("ridge", "R1", "closures"), ("ridge", "R1", "ridge"),
       ("eave", "E1", "joint"), ("rake", "G1", "rake_under"), ("rake", "G1", "rake_end"), ("headwall", "W2", "counter"))


def page() -> str:
    """The page as Markdown."""
    job = load(demo_path())
    lines = ["# Schools and what they cost", "",
             "Where good people disagree both ways are there. Costs are those of one run of the demo job with all that",
             "comes with it: pieces, metal, folds made, and joints that stand by sealant alone.", ""]
    for where, run, question in _ON:
        lines += [f"## {where}: {title_of(question)} ({run})", "",
                  "| way | pieces | m² | folds | by sealant | in words |", "|---|---|---|---|---|---|"]
        for variant in (v for v in variants(job, run, question) if v.key != "free"):
            cost = variant.cost or Cost(0, 0.0, 0, 0)
            lines.append(f"| {variant.title}{' (usual)' if variant.chosen else ''} | {cost.pieces} | {cost.area:.2f} | "
                         f"{cost.folds} | {cost.sealed} | {variant.says} |")
        lines.append("")
    return "\n".join(lines) + "Local codes, makers' instructions and licensed practice outrank this page.\n"


if __name__ == "__main__":
    Path(sys.argv[1]).write_text(page(), encoding="utf-8")
