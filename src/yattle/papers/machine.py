"""Files for machines: a whole nest as DXF, one for each metal, and fold programs for folders with a gauge."""

from __future__ import annotations

import json
from collections.abc import Sequence

from yattle.brake import FoldOrder
from yattle.coil.answer import Placement
from yattle.coil.names import pieces_of
from yattle.coil.sizes import turned
from yattle.csv_tables import Cell, as_csv
from yattle.derive.derived import Derived
from yattle.drawing.shapes import Drawing, Label, Line, Point, Ring, Shape
from yattle.papers.dxf import drawing_to_dxf
from yattle.pattern import Pattern
from yattle.section import Girth

PROGRAM_COLUMNS = ("step", "fold", "action", "gauge_mm", "leaf_deg", "turn_deg", "side_up", "edge_out", "handling")
_BETWEEN = 300.0  # mm between stock pieces in one drawing
_LETTERS = 24.0  # mm: names of pieces, so that they are read on a machine's screen


def nests_as_dxf(derived: Derived) -> dict[str, str]:
    """For each metal its whole nest as DXF: stock on layer STOCK, true outlines and holes on CUT, folds on FOLD_PAINT
    and FOLD_BACK, lines and screws on MARK, names on NOTES; one stock piece above the other, at true size."""
    stock, shapes, high = pieces_of(derived.job.stock), dict[str, list[Shape]](), dict[str, float]()
    patterns = {pattern.id: pattern for pattern in derived.patterns}
    for used in derived.nest.used:
        piece = stock[used.stock]
        x0, y0, x1, y1 = piece.box
        x1 = min(x1, used.length) if piece.kind == "coil" else x1
        up = high.get(piece.metal, 0.0)
        ring = piece.outline or ((x0, y0), (x1, y0), (x1, y1), (x0, y1))
        rows = shapes.setdefault(piece.metal, [])
        rows += [Ring(tuple((x, y + up) for x, y in ring), "stock"), Label((x0, y1 + up + 40), used.stock)]
        for place in (p for p in derived.nest.placements if p.stock == used.stock and p.part in patterns):
            rows += laid_shapes(patterns[place.part], place, up)
        high[piece.metal] = up + (y1 - y0) + _BETWEEN
    return {metal: drawing_to_dxf(Drawing(tuple(rows)), _LETTERS) for metal, rows in shapes.items()}


def laid_shapes(pattern: Pattern, place: Placement, up: float = 0.0) -> list[Shape]:
    """A pattern as it lies on its stock piece, moved ``up`` mm."""
    def at(points: Sequence[Point]) -> tuple[Point, ...]:
        return laid(points, pattern.outline, place, up)
    rows: list[Shape] = [Ring(at(ring), "cut", pattern.id) for ring in (pattern.outline, *pattern.holes)]
    for fold in pattern.folds:
        if fold.kind != "roll":
            toward = (fold.turn > 0) != place.mirrored
            rows.append(Line(at((fold.a, fold.b)), "fold-paint" if toward else "fold-back", fold.id))
    for mark in pattern.marks:
        x, y = mark.a
        cross = ((x - 4, y), (x + 4, y)) if mark.a == mark.b else (mark.a, mark.b)
        rows.append(Line(at(cross), "mark"))
        if mark.a == mark.b:
            rows.append(Line(at(((x, y - 4), (x, y + 4))), "mark"))
    middle = place.x + place.width / 2, place.y + up + place.height / 2
    return [*rows, Label(middle, f"{pattern.id} {pattern.metal.name}")]


def laid(points: Sequence[Point], outline: Sequence[Point], place: Placement, up: float = 0.0) -> tuple[Point, ...]:
    """Points of a pattern where they lie on the stock piece: turned over where the plan does, turned, and moved so that
    the turned ``outline`` stands in its place, ``up`` mm higher."""
    flip = -1.0 if place.mirrored else 1.0
    ring = turned(tuple((x, flip * y) for x, y in outline), place.turn)
    dx, dy = place.x - min(x for x, _ in ring), place.y + up - min(y for _, y in ring)
    return tuple((x + dx, y + dy) for x, y in turned(tuple((x, flip * y) for x, y in points), place.turn))


def fold_program(run: str, order: FoldOrder, girth: Girth) -> str:
    """A fold order as an open program for folders with a gauge (``yattle-fold-program/1``): for each step where the
    gauge stands, mm from the out edge to the fold line, how far the leaf goes, which side is up and which edge is
    out."""
    return json.dumps({
        "format": "yattle-fold-program/1", "run": run, "metal": girth.profile.metal.name,
        "thickness": girth.profile.metal.thickness, "girth": girth.girth,
        "steps": [dict(zip(("step", "fold", "action", "gauge", "leaf", "turn", "side_up", "edge_out", "handling"), row,
                           strict=True)) for row in _rows(order)]}, indent=1, sort_keys=True) + "\n"


def fold_program_csv(order: FoldOrder) -> str:
    """The same as a table."""
    return as_csv([PROGRAM_COLUMNS, *_rows(order)])


def _rows(order: FoldOrder) -> list[tuple[Cell, ...]]:
    return [(step.n, step.fold, step.action, step.mark_from_out_edge, step.set_angle, step.turn, step.face_up, step.out,
             step.handling) for step in order.steps]
