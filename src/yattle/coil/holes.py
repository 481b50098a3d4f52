"""Small parts in the holes of large ones: what is cut out anyway costs nothing."""

from __future__ import annotations

from collections import Counter

from yattle.bounds import Ring
from yattle.coil.answer import Placement
from yattle.coil.job import Part, Stock
from yattle.coil.sizes import Orientation, box_of, largest_inside, may_use, orientations, turned

_EPS = 1e-6
Row = tuple[Part, Placement]


def for_holes(parts: list[Part], stock: Stock, gap: float) -> list[Part]:
    """Which of ``parts`` have room in holes of others among them, as these lie unturned. ``gap`` in mm."""
    left = [part for part in parts if not part.holes]
    before = Counter(left)
    for host in (part for part in parts if part.holes):
        turn = 0.0 if host.turns == "any" else float(host.turns[0])
        x0, y0, x1, y1 = box_of(turned(host.outline, turn))
        fill_holes([(host, Placement(host.id, 0, stock.id, turn, False, 0.0, 0.0, x1 - x0, y1 - y0))], left, stock, gap)
    return list((before - Counter(left)).elements())


def fill_holes(rows: list[Row], left: list[Part], stock: Stock, gap: float) -> list[Row]:
    """Parts of ``left`` laid, in rows, into the holes of those placed on ``stock``; they are taken out of ``left``.
    ``gap`` in mm."""
    found: list[Row] = []
    for part, place in rows:
        for hole in part.holes:
            found += _fill(_where(part, place, hole), place.stock, left, stock, gap)
    return found


def _where(part: Part, place: Placement, hole: Ring) -> tuple[float, float, float, float]:
    """The largest upright rectangle in a hole, as it lies on the stock."""
    x0, y0, _, _ = box_of(turned(part.outline, place.turn))
    ring = tuple((x - x0 + place.x, y - y0 + place.y) for x, y in turned(hole, place.turn))
    return largest_inside(ring)


def _fill(room: tuple[float, float, float, float], name: str, left: list[Part], stock: Stock, gap: float) -> list[Row]:
    """Rows of parts from the lower left, large ones first."""
    x0, y0, x1, y1 = room[0] + gap, room[1] + gap, room[2] - gap, room[3] - gap
    found: list[Row] = []
    x, y, high = x0, y0, 0.0
    for part in sorted(dict.fromkeys(left), key=lambda p: -p.area):
        while part in left and may_use(part, stock):
            lie = _lie(part, x1 - x, y1 - y) or None
            if lie is None and high:
                x, y, high = x0, y + high + gap, 0.0
                lie = _lie(part, x1 - x, y1 - y)
            if lie is None:
                break
            found.append((part, Placement(part.id, 0, name, lie.turn, False, x, y, lie.along, lie.across)))
            left.remove(part)
            x, high = x + lie.along + gap, max(high, lie.across)
    return found


def _lie(part: Part, wide: float, tall: float) -> Orientation | None:
    return next((lie for lie in orientations(part) if lie.along <= wide + _EPS and lie.across <= tall + _EPS), None)
