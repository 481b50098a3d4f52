"""One stock piece with the pieces on it and the cuts through it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from yattle.coil import NestAnswer, Stock
from yattle.coil.answer import Placement
from yattle.coil.sizes import turned
from yattle.drawing.shapes import Dim, Drawing, Label, Line, Ring, Shape
from yattle.measure import UNITS, Unit, say_length
from yattle.pattern import Pattern

_EPS = 1e-6
Ringed = tuple[tuple[float, float], ...]


def crosscuts(answer: NestAnswer, name: str) -> list[float]:
    """Where stock piece ``name`` itself is cut across, in mm from its end, in order."""
    return sorted(cut.at for cut in answer.cuts if cut.piece == name and cut.axis == "across")


def stock_drawing(stock: Stock, answer: NestAnswer, name: str, unit: Unit = UNITS["mm"],
                  upto_cut: int | None = None, span: tuple[float, float] | None = None,
                  folded: Pattern | None = None, outlines: Mapping[str, Ringed] | None = None) -> Drawing:
    """``stock`` (called ``name`` in the answer) to scale; a coil as far as it is used.

    ``upto_cut``: only the cuts made by then are drawn. ``span``: only this stretch is in the frame.
    ``folded``: the pattern whose fold lines are shown where it lies. ``outlines``: of parts that are drawn by their
    true shapes instead of the rectangles that a shear cuts. Places in mm.
    """
    used = next(row for row in answer.used if row.stock == name)
    x0, y0, x1, y1 = stock.box
    if stock.kind == "coil":
        x1 = min(x1, used.length)
    outline = stock.outline or ((x0, y0), (x1, y0), (x1, y1), (x0, y1))
    shapes: list[Shape] = [Ring(outline, "stock")]
    for place in answer.placements:
        if place.stock == name:
            a, b, c, d = place.x, place.y, place.x + place.width, place.y + place.height
            own = (outlines or {}).get(place.part)
            ring = _lain(place, own) if own is not None else ((a, b), (c, b), (c, d), (a, d))
            shapes.append(Ring(ring, "piece", place.part))
            shapes.append(Label(((a + c) / 2, (b + d) / 2), place.part, key=place.part, room=(c - a, d - b)))
            if folded is not None and place.part == folded.id:
                shapes += _fold_lines(place, folded)
    kept = [o for o in answer.offcuts if o.stock == name]
    shapes += [Ring(offcut.outline, "waste", "offcut") for offcut in kept]
    shapes += _cuts(answer, name, (x0, y0, x1, y1), upto_cut)
    whole = Drawing((*shapes, *_sizes(x0, x1, y0, y1, unit)), (name,))
    return stretches(whole, [span], unit)[0] if span is not None else whole


def stretches(whole: Drawing, spans: Sequence[tuple[float, float]], unit: Unit) -> list[Drawing]:
    """Of the drawing of a ``whole`` stock piece these stretches along it, mm, each with its own sizes and what lies in
    it or reaches into it: a coil of thousands of pieces is looked through once."""
    shapes = [shape for shape in whole.shapes if not isinstance(shape, Dim)]
    ends = np.array([_reach(shape) for shape in shapes]).reshape(-1, 2)
    y0, y1 = whole.box[1], whole.box[3]
    found = []
    for a, b in spans:
        inside = np.flatnonzero((ends[:, 1] >= a - _EPS) & (ends[:, 0] <= b + _EPS)).tolist()
        found.append(Drawing((*(shapes[n] for n in inside), *_sizes(a, b, y0, y1, unit)), whole.notes, (a, y0, b, y1)))
    return found


def _reach(shape: Shape) -> tuple[float, float]:
    """From where to where a shape lies along the stock, mm."""
    along = [x for x, _ in shape.points] if isinstance(shape, Line | Ring) else [shape.at[0]]  # type: ignore[union-attr]
    return min(along), max(along)


def _sizes(a: float, b: float, y0: float, y1: float, unit: Unit) -> tuple[Dim, Dim]:
    return (Dim((a, y1), (b, y1), say_length(b - a, unit, 0), (0, 1)),
            Dim((a, y0), (a, y1), say_length(y1 - y0, unit, 0), (-1, 0)))


def _lain(place: Placement, outline: Ringed) -> Ringed:
    """An outline as its part lies on the stock."""
    ring = turned(outline, place.turn)
    dx, dy = place.x - min(x for x, _ in ring), place.y - min(y for _, y in ring)
    return tuple((x + dx, y + dy) for x, y in ring)


def _fold_lines(place: Placement, pattern: Pattern) -> list[Shape]:
    """The folds of a piece, turned and shifted to where it lies on the stock."""
    ring = turned(pattern.outline, place.turn)
    dx, dy = place.x - min(x for x, _ in ring), place.y - min(y for _, y in ring)
    lines: list[Shape] = []
    for fold in pattern.folds:
        a, b = ((x + dx, y + dy) for x, y in turned((fold.a, fold.b), place.turn))
        lines.append(Line((a, b), "fold-paint" if fold.turn > 0 else "fold-back", fold.id))
    return lines


def _cuts(answer: NestAnswer, name: str, box: tuple[float, float, float, float],
          upto: int | None) -> list[Shape]:
    """Every cut as the line it makes, found by making the cuts again."""
    table, lines = {name: box}, list[Shape]()
    for cut in answer.cuts:
        rect = table.pop(cut.piece, None)
        if rect is None:
            continue
        a, b, c, d = rect
        if cut.axis == "across":
            line, parts = ((cut.at, b), (cut.at, d)), ((a, b, cut.at, d), (cut.at, b, c, d))
        else:
            line, parts = ((a, cut.at), (c, cut.at)), ((a, b, c, cut.at), (a, cut.at, c, d))
        table[cut.gives[0]], table[cut.gives[1]] = parts
        if upto is None or cut.n <= upto:
            lines.append(Line(line, "cut", f"cut:{cut.n}"))
    return lines
