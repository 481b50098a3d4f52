"""True shapes within any outline, an offcut as it is or what a shear left: each part where it lies lowest and leftmost,
corner to corner with the outline and with those already there."""

from __future__ import annotations

import time
from collections.abc import Iterable, Iterator
from typing import Any

import numpy as np

from yattle.bounds import Ring
from yattle.coil.job import Part
from yattle.coil.sizes import turned

Laid = tuple[Part, float, tuple[float, float]]  # part, turn, where its own origin comes to lie
_GRID = 10  # places along and across that are tried besides corners
_CORNERS = 60  # corners of what is free that are tried
_EPS = 1e-6
ROUGH = 0.25  # mm: how far an outline with fewer corners may be off the true one
_MANY = 48  # corners from which on it is made


def laid_within(outline: Ring, parts: Iterable[Part], gap: float, until: float) -> list[Laid]:
    """Those of ``parts`` that find room, large ones first, ``gap`` mm apart; none is needed toward the outline."""
    import shapely

    return laid_in(shapely.Polygon(outline).buffer(_EPS, join_style="mitre"), parts, gap, until)


def laid_in(free: Any, parts: Iterable[Part], gap: float, until: float) -> list[Laid]:
    """The same in whatever is ``free``, an area of any kind. Gaps in mm, the moment in seconds of
    :func:`time.perf_counter`."""
    return laid_in_turn(free, sorted(parts, key=lambda p: -p.area), gap, until)


def laid_in_turn(free: Any, parts: Iterable[Part], gap: float, until: float) -> list[Laid]:
    """The same in the order in which they come. Gaps in mm, the moment in seconds of :func:`time.perf_counter`."""
    found: list[Laid] = []
    failed: set[Part] = set()
    for part in parts:
        if part in failed or time.perf_counter() > until:
            continue
        best = _best(free, part)
        if best is None:
            failed.add(part)
            continue
        turn, (x, y), shape = best
        found.append((part, turn, (x, y)))
        free = free.difference(shape.buffer(gap, join_style="mitre") if gap else shape)
    return found


def _best(free: Any, part: Part) -> tuple[float, tuple[float, float], Any] | None:
    """The place of a part in what is free that is nearest to the start, its turn and its shape there."""
    import shapely

    best, least = None, np.inf
    shapely.prepare(free)
    for turn in _turns(part):
        ring = np.array(turned(part.outline, turn))
        low, high = ring.min(axis=0), ring.max(axis=0)
        for x, y in _places(free, high - low):
            if x * 4 + y >= least:
                continue
            shape = shapely.Polygon(ring - low + (x, y))
            if free.covers(shape):
                best, least = (turn, (x - float(low[0]), y - float(low[1])), shape), x * 4 + y
    return best


def _turns(part: Part) -> list[float]:
    return [45.0 * n for n in range(8)] if part.turns == "any" else [float(turn) for turn in part.turns]


def _places(free: Any, size: Any) -> Iterator[tuple[float, float]]:
    """Where the lower left corner of a part's rectangle may come to lie: against corners of what is free, on a grid."""
    import shapely

    x0, y0, x1, y1 = free.bounds
    wide, tall = x1 - x0 - size[0], y1 - y0 - size[1]
    if wide < -_EPS or tall < -_EPS:
        return
    corners = shapely.get_coordinates(free)
    corners = corners[np.argsort(corners[:, 0] * 4 + corners[:, 1])][:_CORNERS]
    for cx, cy in corners:
        for x in (cx, cx - size[0]):
            for y in (cy, cy - size[1]):
                yield float(x), float(y)
    for i in range(_GRID + 1):
        for j in range(_GRID + 1):
            yield x0 + max(wide, 0.0) * i / _GRID, y0 + max(tall, 0.0) * j / _GRID


def coarse(outline: Ring) -> Ring:
    """An outline of many corners (a round laid flat has hundreds) with fewer for the engine: never inside the true one,
    and no more than a quarter of a millimetre off it. Answers are held against the true shapes all the same."""
    if len(outline) <= _MANY:
        return outline
    from shapely import Polygon

    true = Polygon(outline)
    rough = true.buffer(ROUGH / 2, join_style="mitre", mitre_limit=2).simplify(ROUGH / 2)
    if rough.geom_type != "Polygon" or not rough.covers(true) or len(rough.exterior.coords) > len(outline):
        return outline
    return tuple((float(x), float(y)) for x, y in rough.exterior.coords[:-1])
