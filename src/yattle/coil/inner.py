"""Rectangles inside true shapes: what no way of nesting can lay over each other, so a bound for them is one for the
shapes."""

from __future__ import annotations

import math
from functools import lru_cache

from yattle.coil.job import Part
from yattle.coil.sizes import QUARTERS, largest_inside


@lru_cache(maxsize=4096)
def inner_part(part: Part) -> Part | None:
    """A rectangle that lies inside ``part`` however it is turned within what it may be, as a part of its own; ``None``
    where there is none to speak of.

    In quarter turns it is the largest upright one through the outline's corners, or the square within the largest
    circle inside; turned otherwise, or with holes that others may lie in, only that square.
    """
    import shapely

    shape = shapely.Polygon(part.outline, part.holes)
    line = shapely.maximum_inscribed_circle(shape, tolerance=0.01)
    side = max(0.0, line.length - 0.02) * math.sqrt(2)
    wide = high = side
    if part.turns != "any" and all(turn % 360 in QUARTERS for turn in part.turns) and not part.holes:
        x0, y0, x1, y1 = largest_inside(part.outline)
        if (x1 - x0) * (y1 - y0) > side * side:
            wide, high = x1 - x0, y1 - y0
    if min(wide, high) < 1.0:
        return None
    turns = part.turns if part.turns != "any" else QUARTERS
    turns = turns if all(turn % 360 in QUARTERS for turn in turns) else (0.0,)
    return part.but(outline=((0.0, 0.0), (wide, 0.0), (wide, high), (0.0, high)), holes=(), turns=turns)
