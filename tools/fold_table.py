"""The table of fold orders: every sample section on three machines. fold_table.py FILE"""

from __future__ import annotations

import sys
import time
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1] / "benchmarks"))

from sections import SECTIONS

from yattle.brake import LIBRARY, FoldJob, FoldOrder
from yattle.brake.order import plain_order

HEAD = """# Fold orders of our sample sections

Every section of `benchmarks/sections.py` in prepainted steel 0.60, 1 m long, on three of our machines: handling
cost (roll 1, spin 2), strokes, and seconds of the search on one core. All orders are proven least in handling
unless marked *best found*. Where there is none, what stops it. Made by `make fold-table`.

| section | folds | {machines} |
|---|---|{lines}|
"""


def _cell(job: FoldJob) -> str:
    started = time.perf_counter()
    order = plain_order(job)
    seconds = time.perf_counter() - started
    if isinstance(order, FoldOrder):
        proof = "" if order.proved_best else " *best found*"
        return f"{order.cost}, {len(order.steps)} strokes, {seconds:.2f} s{proof}"
    return f"{order.reasons[0].says if order.reasons else 'none'} ({seconds:.2f} s)"


def main(path: Path) -> None:
    machines = LIBRARY[:3]
    lines = [HEAD.format(machines=" | ".join(b.name for b in machines), lines="|".join("---" for _ in machines))]
    for name, profile in SECTIONS.items():
        cells = [_cell(FoldJob(profile=profile, length=1000.0, brake=brake)) for brake in machines]
        lines.append(f"| {name} | {len(profile.fold_ids)} | {' | '.join(cells)} |\n")
        print(lines[-1], end="", flush=True)
    path.write_text("".join(lines), encoding="utf-8")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
