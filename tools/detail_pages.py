"""A page for each detail with its section and its sums, from the code's own models: detail_pages.py FOLDER."""

from __future__ import annotations

import sys
from pathlib import Path

from yattle.derive.run import spec_of
from yattle.details import ENTRIES, FAMILIES, Family, develop
from yattle.details.all_forms import FORMS
from yattle.details.forms import Form, develop_form
from yattle.details.trim import Trim
from yattle.drawing import fold_letter, pattern_drawing, section_drawing
from yattle.drawing.installed import installed_drawing
from yattle.papers.svg import drawing_to_svg

FROM_ROOF: dict[str, float | None] = {"pitch": 30.0, "fold": 60.0, "lean": None, "upper": 40.0, "lower": 15.0}
MEANS = {"pitch": "pitch of the roof", "fold": "angle between the two planes along the edge",
         "upper": "pitch of the upper face", "lower": "pitch of the lower face"}


def sample(family: Family) -> Trim:
    """The detail as the house standard has it, 3 m long."""
    roof = {name: value for name, value in FROM_ROOF.items()
            if name in family.roof and value is not None}
    own = {field: ENTRIES[entry].metric for field, entry in family.entries.items()}
    free = {"legs": (40.0, 60.0, 20.0), "turns": (80.0, -40.0)} if family.name == "free" else {}
    return family.model(id="T", length=2900.0, metal=spec_of("prepainted-steel", 0.6), **roof, **own, **free)  # type: ignore[arg-type]


def page(family: Family) -> tuple[str, str]:
    """The page as Markdown, and its drawing as SVG."""
    detail = sample(family)
    result = develop(detail)
    assert result.profile is not None and result.girth is not None
    around = tuple((s.name, s.outline) for s in result.around)
    svg = drawing_to_svg(section_drawing(result.profile, result.heading, around=around), family.title)
    lines = [f"# {family.title[0].upper()}{family.title[1:]}", "", _first_words(family.model), "",
             f"![{family.title}]({family.name}.svg)", ""]
    if family.kinds:
        roof = " and the ".join(MEANS[name] for name in family.roof if name in MEANS)
        lines += [f"For the {' and '.join(kind.replace('-', ' ') for kind in family.kinds)}"
                  + (f"; from the roof come the {roof}." if roof else "; its angles do not depend on the roof."), ""]
    lines += ["| part | measure | from |", "|---|---|---|"]
    for name, length in zip(result.leg_names, result.profile.strip_lengths, strict=True):
        lines.append(f"| {name} | {length:g} mm | {'house standard' if family.entries else 'given'} |")
    for bend in result.girth.bends:
        field = result.turn_fields.get(bend.id, "")
        source = MEANS.get(field, "house standard" if field else "square by its nature")
        lines.append(f"| fold {fold_letter(bend.id, bend.turn, result.profile)} | {abs(bend.turn):g}° | {source} |")
    terms = " + ".join(f"{length:g}" for length in result.profile.strip_lengths)
    off = sum(bend.deduction for bend in result.girth.bends)
    lines += ["", f"Girth in {detail.metal.name}: {terms} − {off:.2f} for the folds = **{result.girth.girth:.2f} mm**; "
              "marks from raw edge A at " + ", ".join(f"{bend.mark:.2f}" for bend in result.girth.bends) + " mm.", "",
              "Every piece is folded up again from its pattern alone and held against the section; how ends are cut: "
              "[ends](ends.md).", ""]
    lines += [f"- {note}" for note in (*result.notes, *result.cautions)]
    lines += ["", "Local codes, makers' instructions and licensed practice outrank this page.", ""]
    return "\n".join(lines), svg


def _first_words(model: type[Trim] | type[Form]) -> str:
    return " ".join((model.__doc__ or "").replace("``", "`").split())


FORM_SAMPLES: dict[str, dict[str, object]] = {
    "chimney": {"across": 900.0, "along": 600.0, "pitch": 30.0},
    "pipe": {"diameter": 110.0, "pitch": 30.0, "chord": 0.5},
    "curb": {"across": 800.0, "along": 1000.0, "pitch": 20.0}, "pan": {"coverage": 500.0, "length": 1200.0},
    "tray": {"width": 500.0}, "box": {"outline": ((0.0, 0.0), (120.0, 0.0), (120.0, 60.0), (60.0, 100.0), (0.0, 60.0))},
    "jig": {"degrees": 40.0}, "bend": {"diameter": 150.0, "chord": 1.0},
    "cone": {"bottom": 240.0, "top": 120.0, "height": 180.0, "pitch": 20.0, "chord": 1.0},
    "square-to-round": {"width": 400.0, "depth": 300.0, "diameter": 200.0, "height": 250.0, "chord": 1.0}}
"""What the forms' pages show; forms not named here have usual values for everything."""
DRAWN = {"chimney": 4, "pipe": 1}  # which piece's pattern the page shows, where it is not the first


def form_page(name: str) -> tuple[str, str, str]:
    """A form's page as Markdown, the pattern of one of its pieces and all of them installed as SVG."""
    made = FORMS[name](metal=spec_of("prepainted-steel", 0.6), **FORM_SAMPLES.get(name, {}))  # type: ignore[arg-type]
    result = develop_form(made)
    shown = result.pieces[DRAWN.get(name, 0)].pattern
    sizes = ", ".join(f"{k} {v:g}" for k, v in FORM_SAMPLES.get(name, {}).items() if isinstance(v, float))
    lines = [f"# {name.replace('-', ' ').capitalize()}", "", _first_words(FORMS[name]), "",
             f"![installed]({name}-installed.svg)", f"![{shown.name}]({name}.svg)", "",
             f"As it stands installed, and {shown.name} flat{', of ' + sizes if sizes else ''}.", "",
             "| piece | cut | folds |", "|---|---|---|"]
    for piece in result.pieces:
        p = piece.pattern
        folds = ", ".join(fold_letter(f.id, f.turn, None) for f in p.folds[-12:] if f.kind != "roll")
        many = f"{p.qty} × " if p.qty > 1 else ""
        folds = folds or ("rolled" if p.folds else "none")
        lines.append(f"| {many}{p.name} | {p.length:.1f} × {p.girth:.1f} mm | {folds} |")
    lines += ["", f"Fields with their usual values: `yattle schema detail/{name}`. Every piece is folded up again from "
              "its pattern alone and held against what it was made for; here the largest gap is under 0.01 mm.", ""]
    lines += [f"- {note}" for note in (*made.notes, *made.cautions)]
    lines += ["", "Local codes, makers' instructions and licensed practice outrank this page.", ""]
    assert result.max_gap < 0.01
    installed = installed_drawing([piece.surface for piece in result.pieces])
    return "\n".join(lines), drawing_to_svg(pattern_drawing(shown, None), name), drawing_to_svg(
        installed, f"{name}, installed") if installed.shapes else ""


def main(folder: Path) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    rows = ["# Details", "", "How ends are cut: [ends](ends.md). What each way costs: [schools](../schools.md). "
            "Sums of [round pieces](rounds.md).", "", "| detail | edge |", "|---|---|"]
    for family in FAMILIES.values():
        text, svg = page(family)
        (folder / f"{family.name}.md").write_text(text, encoding="utf-8")
        (folder / f"{family.name}.svg").write_text(svg, encoding="utf-8")
        rows.append(f"| [{family.title}]({family.name}.md) | {', '.join(family.kinds) or 'any'} |")
    rows += ["", "Pieces that are not a run with two ends:", ""]
    for name in FORMS:
        text, svg, installed = form_page(name)
        if not installed:
            text = text.replace(f"![installed]({name}-installed.svg)\n", "").replace("As it stands installed, and ", "")
        (folder / f"{name}.md").write_text(text, encoding="utf-8")
        (folder / f"{name}.svg").write_text(svg, encoding="utf-8")
        if installed:
            (folder / f"{name}-installed.svg").write_text(installed, encoding="utf-8")
        rows.append(f"- [{name.replace('-', ' ')}]({name}.md)")
    (folder / "README.md").write_text("\n".join(rows) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
