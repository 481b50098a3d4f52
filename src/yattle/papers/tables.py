"""The cut list as CSV: one row a piece, lengths in mm and as the job's unit says them."""

from __future__ import annotations

from yattle.coil.answer import Placement
from yattle.csv_tables import Cell, as_csv
from yattle.derive.derived import Derived
from yattle.derive.measures import face_out_of_square
from yattle.derive.roof_runs import roof_runs
from yattle.measure import UNITS, say_length

COLUMNS = ("piece", "run", "detail", "hand", "qty", "blank_length_mm", "girth_mm", "blank_length", "girth", "metal",
           "left_end", "right_end", "stock", "x_mm", "y_mm", "places_mm")


PANEL_COLUMNS = ("face", "panel", "length_mm", "length", "width_mm", "cuts", "head_offset_mm")


def panel_list(derived: Derived) -> str:
    """CSV of every panel of every face from its left side: ordered length, width, slanting cuts, and how far its right
    seam's head goes from square to the eave where both diagonals of the face were taped."""
    unit = UNITS[derived.job.unit]
    rows: list[tuple[Cell, ...]] = [PANEL_COLUMNS]
    names = {r.edge.id: r.run.id for r in roof_runs(derived.job)}
    for facet in derived.roof.facets:
        laid = derived.panels[facet.id]
        lean = face_out_of_square(derived.job, derived.roof, facet)
        columns = sorted({panel.left for panel in laid.panels})
        heads = lean.per_panel(len(columns)) if lean is not None else ()
        for panel in laid.panels:
            cuts = ", ".join(f"{names[cut.edge]} {cut.angle:.1f}°" for cut in panel.cuts)
            rows.append((facet.id, panel.n, round(panel.length, 1), say_length(panel.length, unit),
                         round(panel.width, 1), cuts, round(heads[columns.index(panel.left)], 1) if heads else None))
    return as_csv(rows)


def cut_list(derived: Derived) -> str:
    """CSV with a head line; where a piece is not placed its stock is empty. Of like pieces every copy's place stands in
    the last column, that of the first one before it."""
    unit = UNITS[derived.job.unit]
    places: dict[str, list[Placement]] = {}
    for place in sorted(derived.nest.placements, key=lambda place: place.copy):
        places.setdefault(place.part, []).append(place)
    rows: list[tuple[Cell, ...]] = [COLUMNS]
    for run in derived.runs:
        for piece in run.pieces:
            pattern = piece.pattern
            rows.append((
                piece.id, run.run.id, run.detail.name, piece.hand, pattern.qty, round(pattern.length, 3),
                round(pattern.girth, 3), say_length(pattern.length, unit), say_length(pattern.girth, unit),
                derived.job.metal_name, *(end.says(unit) for end in piece.ends),
                *_placed(places.get(piece.id, []))))
    for opening in derived.openings:
        for made in opening.pieces:
            pattern = made.pattern
            rows.append((
                pattern.id, opening.id, pattern.name, "", pattern.qty, round(pattern.length, 3),
                round(pattern.girth, 3),
                say_length(pattern.length, unit), say_length(pattern.girth, unit), derived.job.metal_name, "", "",
                *_placed(places.get(pattern.id, []))))
    return as_csv(rows)


def _placed(places: list[Placement]) -> tuple[Cell, ...]:
    """Stock and place of the first copy, and of all of them."""
    if not places:
        return "", "", "", ""
    all_of_them = "; ".join(f"{p.copy}: {p.stock} {p.x:.1f} {p.y:.1f}" for p in places)
    return places[0].stock, round(places[0].x, 3), round(places[0].y, 3), all_of_them
