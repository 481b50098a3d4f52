"""Clash: whether one piece goes through another, told by shape alone.

Two flat parts clash where the line that their planes share runs through both of them and both go on beyond it to
either side: by the least of these four ways they go through each other. What only ends on another, lies on it or hangs
beside it does not.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from yattle import overlay
from yattle.built.standing import Spot, Standing, spot
from yattle.pattern.rings import area_vectors, boxes, cross
from yattle.pattern.surface import Array

THROUGH = 1.0  # mm: two sheets of a lap, drawn without thickness, are nearer to each other than this
_PARALLEL = 0.02  # sine of the angle between planes that share no line worth looking at
_SHORT = 2.0  # mm of a shared line that is no more than a corner's touch
_WITHIN = 0.1  # mm from its ends: an edge across it there is not beside it


@dataclass(frozen=True)
class Clash:
    """Two things that go through each other, ``depth`` mm at the most, at a place in the roof's coordinates."""

    a: str
    b: str
    depth: float
    at: Spot


def clashes(solids: Sequence[Standing], moved: frozenset[str] | None = None) -> Iterator[Clash]:
    """Every two that go more than 1 mm through each other, each pair once, where they do most; ``moved``: only those
    with a piece of these patterns."""
    parts = _CrossedParts.of(solids)
    found: dict[tuple[int, int], Clash] = {}
    for one, other in parts.crossing(moved):
        depth, at = _through(parts.rings[one], parts.normals[one], parts.rings[other], parts.normals[other])
        pair = parts.owners[one], parts.owners[other]
        if depth > THROUGH and (pair not in found or depth > found[pair].depth):
            found[pair] = Clash(solids[pair[0]].name, solids[pair[1]].name, depth, at)
    yield from found.values()


@dataclass(frozen=True)
class _CrossedParts:
    """All flat parts with area: their corners, the numbers of the things they belong to, their unit normals."""

    rings: list[Array]
    owners: list[int]
    names: list[str]
    normals: Array

    @staticmethod
    def of(solids: Sequence[Standing]) -> _CrossedParts:
        rings = [ring for solid in solids for ring in solid.parts]
        owners = [n for n, solid in enumerate(solids) for _ in solid.parts]
        squares = area_vectors(rings)
        sizes = np.linalg.norm(squares, axis=1)
        kept = np.nonzero(sizes > _SHORT * _SHORT)[0].tolist()
        return _CrossedParts([rings[n] for n in kept], [owners[n] for n in kept], [solid.pattern for solid in solids],
                             squares[kept] / sizes[kept, None])

    def crossing(self, moved: frozenset[str] | None) -> Iterator[tuple[int, int]]:
        """Pairs of parts of two things whose boxes meet and of which each reaches to both sides of the other's
        plane."""
        one, other = self._near(moved)
        keep = self._astride(one, other)
        one, other = one[keep], other[keep]
        keep = self._astride(other, one)
        one, other = one[keep], other[keep]
        yield from zip(one.tolist(), other.tolist(), strict=True)

    def _near(self, moved: frozenset[str] | None) -> tuple[Array, Array]:
        if not self.rings:
            return np.empty(0, int), np.empty(0, int)
        low, high = boxes(self.rings)
        tree = shapely.STRtree(shapely.box(low[:, 0], low[:, 1], high[:, 0], high[:, 1]))
        asked = np.array([moved is None or self.names[owner] in moved for owner in self.owners])
        mine = np.nonzero(asked)[0]
        one, other = tree.query(shapely.box(low[mine, 0], low[mine, 1], high[mine, 0], high[mine, 1]))
        one, owners = mine[one], np.array(self.owners)
        keep = (owners[one] != owners[other]) & (low[one, 2] < high[other, 2]) & (low[other, 2] < high[one, 2])
        keep &= (owners[one] < owners[other]) | ~asked[other]
        one, other = one[keep], other[keep]
        keep = np.linalg.norm(np.cross(self.normals[one], self.normals[other]), axis=1) > _PARALLEL
        return one[keep], other[keep]

    def _astride(self, mine: Array, theirs: Array) -> Array:
        """Of which pairs the first part reaches to both sides of the second one's plane by more than 1 mm."""
        sizes = np.array([len(ring) for ring in self.rings])
        starts = np.concatenate(([0], np.cumsum(sizes)[:-1]))
        corners = np.concatenate(self.rings) if self.rings else np.empty((0, 3))
        many = sizes[mine]
        begin = np.concatenate(([0], np.cumsum(many)))
        if not len(mine):
            return np.empty(0, bool)
        row = np.repeat(np.arange(len(mine)), many)
        index = starts[mine][row] + np.arange(begin[-1]) - begin[row]
        origin, normal = corners[starts[theirs]], self.normals[theirs]
        off = ((corners[index] - origin[row]) * normal[row]).sum(axis=1)
        least, most = np.minimum.reduceat(off, begin[:-1]), np.maximum.reduceat(off, begin[:-1])
        return np.asarray((least < -THROUGH) & (most > THROUGH))


def _through(a: Array, square_a: Array, b: Array, square_b: Array) -> tuple[float, Spot]:
    """How deep two parts go through each other, mm, and where."""
    way = cross(square_a, square_b)
    sine = float(np.linalg.norm(way))
    way = way / sine
    at = np.linalg.solve(np.array([square_a, square_b, way]), np.array([a[0] @ square_a, b[0] @ square_b, 0.0]))
    (low, high), (least, most) = (_met(ring - at, way, square) for ring, square in ((a, square_a), (b, square_b)))
    if min(high, most) - max(low, least) <= _SHORT:
        return 0.0, spot(at)
    flats = [_seen(ring - at, way, square) for ring, square in ((a, square_a), (b, square_b))]
    spans = [_along(flat) for flat in flats]
    best, place = 0.0, 0.0
    for low, high in _shared(*spans):
        depth = min(_beyond(flat, low, high) for flat in flats) * sine
        if depth > best:
            best, place = depth, (low + high) / 2
    return best, spot(at + way * place)


def _met(ring: Array, way: Array, square: Array) -> tuple[float, float]:
    """Between which places along the shared line all of a part's share of it lies."""
    along, off = (ring @ way).tolist(), (ring @ cross(square, way)).tolist()
    low, high = float("inf"), -float("inf")
    for n, (place, beside) in enumerate(zip(along, off, strict=True)):
        before, was = along[n - 1], off[n - 1]
        if abs(beside) < _WITHIN:
            low, high = min(low, place), max(high, place)
        elif (beside < 0.0) != (was < 0.0):
            cut = before + (place - before) * was / (was - beside)
            low, high = min(low, cut), max(high, cut)
    return low, high


def _seen(ring: Array, way: Array, square: Array) -> shapely.Polygon:
    """A part in its own plane: along the shared line, and beside it."""
    flat = shapely.Polygon(np.column_stack((ring @ way, ring @ cross(square, way))))
    return flat if flat.is_valid else flat.buffer(0)


def _along(flat: shapely.Polygon) -> list[tuple[float, float]]:
    """From where to where the shared line runs in a part."""
    low, _, high, _ = flat.bounds
    line = shapely.LineString([(low - 1.0, 0.0), (high + 1.0, 0.0)])
    cut = overlay.intersection(flat, line)
    return [(one.bounds[0], one.bounds[2]) for one in shapely.get_parts(cut) if one.length > _SHORT]


def _shared(one: Iterable[tuple[float, float]], other: Iterable[tuple[float, float]]) -> Iterator[tuple[float, float]]:
    spans = list(other)
    for low, high in one:
        for a, b in spans:
            if min(high, b) - max(low, a) > _SHORT:
                yield max(low, a), min(high, b)


def _beyond(flat: shapely.Polygon, low: float, high: float) -> float:
    """How far a part goes on beside the shared line between two places, on the side where it is less, mm. Of one that
    goes round what it meets, what lies at the line counts and not what lies beyond the other."""
    _, bottom, _, top = flat.bounds
    part = overlay.intersection(flat, shapely.box(low + _WITHIN, bottom, high - _WITHIN, top))
    sides = [(one.bounds[1], one.bounds[3]) for one in shapely.get_parts(part)]
    at_it = [(below, above) for below, above in sides if below <= _WITHIN and above >= -_WITHIN]
    ups, downs = (above for _, above in at_it), (-below for below, _ in at_it)
    return max(0.0, min(max(ups, default=0.0), max(downs, default=0.0)))
