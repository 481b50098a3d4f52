"""A ring whose sides are moved out or in, each by its own measure: how a panel's floor goes on past its face."""

from __future__ import annotations

import math

import shapely

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
        if not turned and shapely.Polygon(found).is_valid and not is_scrap(found):
            return _stepped(lines, found, kept)
        del kept[turned[0] if turned else 0]
    raise InputError("panels", "a panel of which nothing is left", "less held back, or another start")


def is_scrap(floor: list[Place]) -> bool:
    """Whether a floor is too small for a pan: what lies round it covers it."""
    wide, deep = (max(along) - min(along) for along in zip(*floor, strict=True))
    return bool(shapely.Polygon(floor).area < (_SCRAP if max(wide, deep) > _SMALL else _SMALL**2))


def _stepped(lines: list[_Line], found: list[Place], kept: list[int]) -> tuple[list[Place], list[int]]:
    """The ring with a step where a side goes on beside the line of the one before it."""
    ring, sides = list[Place](), list[int]()
    for k, (line, at, side) in enumerate(zip(lines, found, kept, strict=True)):
        (q, way), beside = lines[k - 1], line[1]
        off = (at[0] - q[0]) * way[1] - (at[1] - q[1]) * way[0]
        if abs(way[0] * beside[1] - way[1] * beside[0]) < 1e-6 and abs(off) > NOTHING:
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
