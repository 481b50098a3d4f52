"""Parts as the shear sees them: bounding rectangles in each turn allowed."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

from yattle.bounds import Ring
from yattle.coil.job import Part, Stock

QUARTERS = (0.0, 90.0, 180.0, 270.0)


@dataclass(frozen=True)
class Orientation:
    """One way a part may lie: its turn and the size of its bounding rectangle, mm."""

    turn: float
    along: float
    across: float


def turned(ring: Ring, turn: float) -> list[tuple[float, float]]:
    """The ring turned by degrees anticlockwise about the origin, exact for quarter turns.

    >>> turned(((0.0, 0.0), (100.0, 0.0), (100.0, 40.0)), 90.0)
    [(0.0, 0.0), (0.0, 100.0), (-40.0, 100.0)]
    """
    quarter = {0.0: (1.0, 0.0), 90.0: (0.0, 1.0), 180.0: (-1.0, 0.0), 270.0: (0.0, -1.0)}.get(turn % 360)
    cos, sin = quarter or (math.cos(math.radians(turn)), math.sin(math.radians(turn)))
    return [(x * cos - y * sin, x * sin + y * cos) for x, y in ring]


def box_of(ring: list[tuple[float, float]]) -> tuple[float, float, float, float]:
    """Least x, least y, greatest x, greatest y of a ring, mm."""
    xs, ys = zip(*ring, strict=True)
    return min(xs), min(ys), max(xs), max(ys)


@lru_cache(maxsize=8192)
def orientations(part: Part) -> tuple[Orientation, ...]:
    """The ways ``part`` may lie that differ in size, the longest along the coil first."""
    turns = QUARTERS if part.turns == "any" else part.turns
    found: dict[tuple[float, float], Orientation] = {}
    for turn in turns:
        x0, y0, x1, y1 = box_of(turned(part.outline, float(turn)))
        size = (round(x1 - x0, 6), round(y1 - y0, 6))
        found.setdefault(size, Orientation(float(turn), x1 - x0, y1 - y0))
    return tuple(sorted(found.values(), key=lambda lie: -lie.along))


def may_use(part: Part, stock: Stock) -> bool:
    """Same metal; an offcut of unknown direction only for parts that may lie any way."""
    if part.metal != stock.metal:
        return False
    return stock.kind != "offcut" or stock.direction == "along" or part.turns == "any"


@lru_cache(maxsize=1024)
def usable_rect(stock: Stock) -> tuple[float, float, float, float]:
    """The rectangle of a stock piece that can be cut: all of coil and sheet, the largest inside an offcut. In mm."""
    if stock.outline is None:
        return stock.box
    return largest_inside(stock.outline)


def largest_inside(ring: Ring) -> tuple[float, float, float, float]:
    """The largest upright rectangle inside ``ring`` with sides through its corners. In mm."""
    from shapely import Polygon, box, prepare

    shape = Polygon(ring).buffer(2e-6, join_style="mitre")  # corners that were moved are a hair off
    prepare(shape)
    xs, ys = (sorted({round(p[k], 6) for p in ring}) for k in (0, 1))
    best, area = (xs[0], ys[0], xs[0], ys[0]), 0.0
    for i, x0 in enumerate(xs):
        for x1 in xs[i + 1:]:
            for j, y0 in enumerate(ys):
                for y1 in ys[j + 1:]:
                    if (x1 - x0) * (y1 - y0) > area and shape.covers(box(x0, y0, x1, y1)):
                        best, area = (x0, y0, x1, y1), (x1 - x0) * (y1 - y0)
    return best
