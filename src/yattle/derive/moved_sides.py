"""A ring whose sides are moved out or in, each by its own measure: how a panel's floor goes on past its face."""

from __future__ import annotations

import math
from itertools import pairwise

import shapely

from yattle import overlay
from yattle.details.pan_floor import Place
from yattle.errors import InputError
from yattle.roof.panel_rule import NOTHING

STEP = -1
"""The number of a side that only joins two moved ones."""
_SCRAP = 400.0  # mm²: a floor that is smaller is none
_SMALL = 60.0  # mm: nor is one that is no wider and no deeper


def moved_sides(ring: list[Place], out: list[float]) -> tuple[list[Place], list[int]]:
    """A ring that runs anticlockwise with each side (from a corner to the next) moved outward by so many mm, its
    corners where neighbouring sides then meet, and which sides are left: one that its neighbours cut off is gone; where
    two in one line are moved by more and by less there is a :data:`STEP` between them. Raises :class:`InputError` where
    nothing is left."""
    kept = list(range(len(ring)))
    while len(kept) > 2:
        lines = [_moved(ring[n], ring[(n + 1) % len(ring)], out[n]) for n in kept]
        found = [_meet(lines[k - 1], line) for k, line in enumerate(lines)]
        turned = [k for k, (_, way) in enumerate(lines) if _along(found[k], found[(k + 1) % len(found)], way) < 0]
        if turned:
            del kept[turned[0]]
            continue
        if not shapely.Polygon(found).is_valid:
            found, lines, kept = _untangled(lines, found, kept)
        if len(kept) > 2 and not is_scrap(found):
            return _stepped(lines, found, kept)
        break
    raise nothing_left()


def nothing_left() -> InputError:
    """What is said of a panel of which nothing (no mm²) is left."""
    return InputError("panels", "a panel of which nothing is left", "less held back, or another start")


def is_scrap(floor: list[Place]) -> bool:
    """Whether a floor is too small for a pan: what lies round it covers it."""
    wide, deep = (max(along) - min(along) for along in zip(*floor, strict=True))
    return bool(shapely.Polygon(floor).area < (_SCRAP if max(wide, deep) > _SMALL else _SMALL**2))


def _untangled(lines: list[_Line], ring: list[Place], kept: list[int]) -> tuple[list[Place], list[_Line], list[int]]:
    """The largest part of a ring whose moved sides cross that it still goes round anticlockwise, with the sides that it
    has."""
    parts = shapely.get_parts(shapely.polygonize([overlay.union_all(shapely.LinearRing(ring))]))
    whole = [part for part in parts if _times_round(ring, part.representative_point()) > 0]
    if not whole:
        return [], [], []
    largest = shapely.geometry.polygon.orient(max(whole, key=lambda part: float(part.area)))
    corners = [(float(x), float(y)) for x, y in largest.exterior.coords]
    beside = [min(range(len(lines)), key=lambda k: _off(lines[k], a, b)) for a, b in pairwise(corners)]
    return corners[:-1], [lines[k] for k in beside], [kept[k] for k in beside]


def _times_round(ring: list[Place], at: shapely.Point) -> int:
    """How many times a ring goes anticlockwise round a place."""
    turned = 0.0
    for (ax, ay), (bx, by) in pairwise([*ring, ring[0]]):
        ax, ay, bx, by = ax - at.x, ay - at.y, bx - at.x, by - at.y
        turned += math.atan2(ax * by - ay * bx, ax * bx + ay * by)
    return round(turned / math.tau)


def _off(line: _Line, a: Place, b: Place) -> float:
    """How far from a line an edge ends, mm."""
    (x, y), way = line
    return max(abs((at[0] - x) * way[1] - (at[1] - y) * way[0]) for at in (a, b))


def _stepped(lines: list[_Line], found: list[Place], kept: list[int]) -> tuple[list[Place], list[int]]:
    """The ring with a step where a side goes on beside the line of the one before it."""
    ring, sides = list[Place](), list[int]()
    for k, (line, at, side) in enumerate(zip(lines, found, kept, strict=True)):
        (q, way), beside = lines[k - 1], line[1]
        off = (at[0] - q[0]) * way[1] - (at[1] - q[1]) * way[0]
        parallel = abs(way[0] * beside[1] - way[1] * beside[0]) < 1e-6
        if parallel and way[0] * beside[0] + way[1] * beside[1] > 0.0 and abs(off) > NOTHING:
            ring.append((at[0] - off * way[1], at[1] + off * way[0]))
            sides.append(STEP)
        ring.append(at)
        sides.append(side)
    return ring, sides


_Line = tuple[Place, Place]


def _moved(a: Place, b: Place, out: float) -> _Line:
    """A side's line, moved to its right: a place on it and its way."""
    long = math.dist(a, b) or 1.0
    way = (b[0] - a[0]) / long, (b[1] - a[1]) / long
    return (a[0] + way[1] * out, a[1] - way[0] * out), way


def _meet(before: _Line, line: _Line) -> Place:
    """Where a side begins after another; of one that goes on from it where it begins by itself."""
    (q, one), (p, other) = before, line
    cross = one[0] * other[1] - one[1] * other[0]
    if abs(cross) < 1e-6:
        return p
    along = ((p[0] - q[0]) * other[1] - (p[1] - q[1]) * other[0]) / cross
    return q[0] + one[0] * along, q[1] + one[1] * along


def _along(a: Place, b: Place, way: Place) -> float:
    return (b[0] - a[0]) * way[0] + (b[1] - a[1]) * way[1]


def anticlockwise(ring: list[Place], sides: list[str]) -> tuple[list[Place], list[str]]:
    if shapely.is_ccw(shapely.LinearRing(ring)):
        return ring, sides
    return ring[::-1], [sides[(len(ring) - 2 - n) % len(ring)] for n in range(len(ring))]
