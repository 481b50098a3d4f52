"""What blocks are beside others: overhangs that are not there at walls that stand in them, or against them; ridges that
are one height."""

from __future__ import annotations

import math
from dataclasses import replace

from yattle.roof.plane import BlockBody, Point, covered

_TOUCHES = 1.0  # mm: walls that are no further apart touch
_ONE_HEIGHT = 0.06  # mm: ridges that differ by less are meant to be level; heights are typed and shown to 0.1
_ALONG_A_WALL = tuple(n / 16 for n in range(17))


def boxes_touch(one: BlockBody, other: BlockBody) -> bool:
    """Whether the roofs of two blocks may lie over each other in plan."""
    a, b = one.box, other.box
    return a[0] <= b[2] and b[0] <= a[2] and a[1] <= b[3] and b[1] <= a[3]


def without_buried_overhangs(bodies: tuple[BlockBody, ...]) -> tuple[BlockBody, ...]:
    """The bodies without overhangs at walls that stand in, or against, other blocks at least as high there. Of two
    walls in line that are one height the block that comes first has the overhang, round their common corner too."""
    return tuple(_without_overhang(own, [(n < place, other) for n, other in enumerate(bodies)
                                         if n != place and boxes_touch(own, other)])
                 for place, own in enumerate(bodies))


def with_level_ridges(bodies: tuple[BlockBody, ...]) -> tuple[BlockBody, ...]:
    """The bodies, their ridges exactly as high as that of one before them where they differ by less than
    what heights are typed and shown to."""
    highs, made = list[float](), list[BlockBody]()
    for own in bodies:
        high = own.ridge
        by = next((one - high for one in highs if high is not None and 0.0 < abs(one - high) < _ONE_HEIGHT), 0.0)
        made.append(own.raised(by) if by else own)
        highs += [high + by] if high is not None else []
    return tuple(made)


def _without_overhang(own: BlockBody, others: list[tuple[bool, BlockBody]]) -> BlockBody:
    roof = list(own.roof)
    for side in range(4) if others else ():
        a, b = own.walls[side], own.walls[(side + 1) % 4]
        out = _out_of(a, b)
        along = ((a[0] + s * (b[0] - a[0]), a[1] + s * (b[1] - a[1])) for s in _ALONG_A_WALL)
        if all(_built_in(own, others, at, out) for at in along):
            beyond = _beyond(a, b, own.roof[side])
            for corner in (side, (side + 1) % 4):
                roof[corner] = (roof[corner][0] - beyond * out[0], roof[corner][1] - beyond * out[1])
    return own if tuple(roof) == own.roof else replace(own, roof=tuple(roof), faces=covered(tuple(roof), own.planes))


def _built_in(own: BlockBody, others: list[tuple[bool, BlockBody]], at: Point, out: Point) -> bool:
    """Whether a place on a block's wall that looks ``out`` lies in another block, or against it, that is as high there;
    of a wall in line with the other's that is one height with it, whether that block comes first."""
    beyond = (at[0] + 2 * _TOUCHES * out[0], at[1] + 2 * _TOUCHES * out[1])
    return any(other.stands_at(at, -_TOUCHES) and (over := other.height(at) - own.height(at)) > -_TOUCHES and (
        first or over > _TOUCHES or other.stands_at(beyond, -_TOUCHES)) for first, other in others)


def _out_of(a: Point, b: Point) -> Point:
    size = math.dist(a, b)
    return (b[1] - a[1]) / size, (a[0] - b[0]) / size


def _beyond(a: Point, b: Point, at: Point) -> float:
    """How far a place lies out of a wall from ``a`` to ``b``, mm."""
    out = _out_of(a, b)
    return (at[0] - a[0]) * out[0] + (at[1] - a[1]) * out[1]
