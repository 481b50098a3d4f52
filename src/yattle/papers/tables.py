"""The cut list as CSV: one row a piece, lengths in mm and as the job's unit says them."""

from __future__ import annotations

from yattle.csv_tables import Cell, as_csv
from yattle.derive.derived import Derived
from yattle.derive.measures import face_out_of_square
from yattle.derive.roof_runs import roof_runs
from yattle.measure import UNITS, say_length
from yattle.roof.panels import lay

COLUMNS = ("piece", "run", "detail", "hand", "qty", "blank_length_mm", "girth_mm", "blank_length", "girth", "metal",
           "left_end", "right_end", "stock", "x_mm", "y_mm")


PANEL_COLUMNS = ("face", "panel", "length_mm", "length", "width_mm", "cuts", "head_offset_mm")


def panel_list(derived: Derived) -> str:
    """CSV of every panel of every face from its left side: ordered length, width, slanting cuts, and how far its right
    seam's head goes from square to the eave where both diagonals of the face were taped."""
    unit = UNITS[derived.job.unit]
    rows: list[tuple[Cell, ...]] = [PANEL_COLUMNS]
    names = {r.edge.id: r.run.id for r in roof_runs(derived.job)}
    for facet in derived.roof.facets:
        laid = lay(derived.roof, facet.id, derived.job.panel_rule(facet.id))
        lean = face_out_of_square(derived.job, derived.roof, facet)
        heads = lean.per_panel(len(laid.panels)) if lean is not None else ()
        for n, panel in enumerate(laid.panels):
            cuts = ", ".join(f"{names[cut.edge]} {cut.angle:.1f}°" for cut in panel.cuts)
            rows.append((facet.id, panel.n, round(panel.length, 1), say_length(panel.length, unit),
                         round(panel.width, 1), cuts, round(heads[n], 1) if heads else None))
    return as_csv(rows)


def cut_list(derived: Derived) -> str:
    """CSV with a head line; where a piece is not placed its stock is empty."""
    unit = UNITS[derived.job.unit]
    places = {place.part: place for place in derived.nest.placements}
    rows: list[tuple[Cell, ...]] = [COLUMNS]
    for run in derived.runs:
        for piece in run.pieces:
            pattern, place = piece.pattern, places.get(piece.id)
            rows.append((
                piece.id, run.run.id, run.detail.name, piece.hand, pattern.qty, round(pattern.length, 3),
                round(pattern.girth, 3), say_length(pattern.length, unit), say_length(pattern.girth, unit),
                derived.job.metal_name, *(end.says(unit) for end in piece.ends),
                *((place.stock, round(place.x, 3), round(place.y, 3)) if place else ("", "", ""))))
    for opening in derived.openings:
        for made in opening.pieces:
            pattern, place = made.pattern, places.get(made.pattern.id)
            rows.append((
                pattern.id, opening.id, pattern.name, "", pattern.qty, round(pattern.length, 3),
                round(pattern.girth, 3),
                say_length(pattern.length, unit), say_length(pattern.girth, unit), derived.job.metal_name, "", "",
                *((place.stock, round(place.x, 3), round(place.y, 3)) if place else ("", "", ""))))
    return as_csv(rows)
