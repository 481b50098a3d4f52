"""Parts of a nest pushed closer together, each as it is turned, until none can move any further along with the others.

Two parts that do not overlap have lines between them; while each stays on its side of one such line, all of them may
move at once. How far back along the strip that lets the last one come is a linear program; then new lines are drawn
and it is asked again (after Z. Li and V. Milenkovic). Parts that are not convex are taken as convex ones that move
together; what lies in a hole stays there, since the metal round it is such parts too.
"""

from __future__ import annotations

import time
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from yattle.bounds import Ring
from yattle.coil.outlines import Laid
from yattle.coil.sizes import turned

Floats = NDArray[np.float64]
Whole = NDArray[np.int64]
_REACHES = (60.0, 30.0, 15.0, 6.0)  # mm that a part may move at once: as far as there are not too many pairs
_PAIRS = 9000
_ROUNDS = 30
_STILL = 0.01  # mm: a round that gains less is the last
_SAFE = 0.001  # mm more than the gap asked for
_ALL = 1e-4  # of the last part's way: how much the ways of all together count


@dataclass
class Nest:
    """Convex shapes, each moving with the part it is of. ``corners``: (shapes, corners, 2), anticlockwise, the last
    corner repeated; ``of``: the part's number. Corners in mm."""

    corners: Floats
    of: Whole

    @staticmethod
    def of_parts(laid: Sequence[Laid]) -> Nest:
        """Parts, each with its turn and where its own origin lies."""
        rings = [(np.array(ring) + at, n) for n, (part, turn, at) in enumerate(laid)
                 for ring in _convex(part.outline, part.holes, turn)]
        most = max(len(ring) for ring, _ in rings)
        return Nest(np.array([np.vstack((ring, np.repeat(ring[-1:], most - len(ring), axis=0))) for ring, _ in rings]),
                    np.array([n for _, n in rings]))

    def moved(self, by: Floats) -> Nest:
        """The same with every part moved ``by`` (parts, 2), mm."""
        return Nest(self.corners + by[self.of][:, None, :], self.of)

    @property
    def far(self) -> float:
        """The greatest x of all parts, mm."""
        return float(self.corners[:, :, 0].max())


def load() -> None:
    """Load what it needs, which takes a moment the first time."""
    import scipy.optimize  # noqa: F401


def closer(laid: Sequence[Laid], high: float, gap: float, until: float) -> list[Laid]:
    """The same parts on a strip from x = 0, 0 ≤ y ≤ ``high``, the last of them no farther than it was; ``until``: the
    moment after which no new round is begun. Parts ``gap`` apart stay so; where they are not, they are left as they
    are. All in mm, the moment in seconds of :func:`time.perf_counter`."""
    nest = Nest.of_parts(laid)
    ways = np.zeros((len(laid), 2))
    for n in range(_ROUNDS):
        if n and time.perf_counter() >= until:
            break  # once at least: that also brings in what is a hair beyond an edge
        by = _step(nest, len(laid), high, gap + _SAFE)
        if by is None:
            break
        after = nest.moved(by)
        gained, nest, ways = nest.far - after.far, after, ways + by
        if gained < _STILL:
            break
    if _nearest(nest) < gap - 2 * _SAFE:
        return list(laid)
    return [(part, turn, (x + float(dx), y + float(dy)))
            for (part, turn, (x, y)), (dx, dy) in zip(laid, ways, strict=True)]


def _step(nest: Nest, parts: int, high: float, apart: float) -> Floats | None:
    """How each part moves at once; ``None`` where nothing can be told."""
    from scipy.optimize import linprog
    from scipy.sparse import csr_matrix

    reach, one, other = _pairs(nest, apart)
    normal, between = _lines(nest, one, other, apart)
    count, shapes = len(one), len(nest.corners)
    rows = np.arange(count)
    data = np.concatenate((normal[:, 0], normal[:, 1], -normal[:, 0], -normal[:, 1],
                           np.ones(shapes), -np.ones(shapes)))
    down = np.concatenate((rows, rows, rows, rows, count + np.arange(shapes), count + np.arange(shapes)))
    a, b = nest.of[one], nest.of[other]
    across = np.concatenate((2 * a, 2 * a + 1, 2 * b, 2 * b + 1, 2 * nest.of, np.full(shapes, 2 * parts)))
    matrix = csr_matrix((data, (down, across)), shape=(count + shapes, 2 * parts + 1))
    room = np.concatenate((between - apart, -nest.corners[:, :, 0].max(axis=1)))
    cost = np.zeros(2 * parts + 1)
    cost[0:2 * parts:2], cost[-1] = _ALL / parts, 1.0
    bounds = np.vstack((_bounds(nest, parts, (np.inf, high), reach), [[0.0, np.inf]]))
    done = linprog(cost, A_ub=matrix, b_ub=room, bounds=bounds, method="highs")
    return None if done.x is None else np.asarray(done.x[:-1]).reshape(parts, 2)


def _bounds(nest: Nest, parts: int, room: tuple[float, float], reach: float) -> Floats:
    """How far each part may go each way, ``reach`` at most, and stay within ``room`` from 0 on: least and most, for x
    and y of each part in turn. One that is beyond an edge has to come in."""
    low, top = np.full((parts, 2), np.inf), np.full((parts, 2), -np.inf)
    np.minimum.at(low, nest.of, nest.corners.min(axis=1))
    np.maximum.at(top, nest.of, nest.corners.max(axis=1))
    most = np.minimum(reach, np.array(room) - top)
    least = np.minimum(np.maximum(-reach, -low), np.maximum(most, -low))
    return np.stack((least.ravel(), np.maximum(most, least).ravel()), axis=1)


def _pairs(nest: Nest, apart: float) -> tuple[float, Whole, Whole]:
    """How far parts may move, and the pairs of shapes that could then come to touch."""
    for reach in _REACHES:
        one, other = _near(nest, 2 * reach + apart)
        if len(one) <= _PAIRS:
            break
    return reach, one, other


def _near(nest: Nest, within: float) -> tuple[Whole, Whole]:
    """Pairs of shapes of different parts whose rectangles are nearer than that, each once."""
    low, top = nest.corners.min(axis=1), nest.corners.max(axis=1)
    clear = np.zeros((len(low), len(low)), np.bool_)
    for k in (0, 1):
        apart = low[:, None, k] - top[None, :, k] > within
        clear |= apart | apart.T
    clear |= nest.of[:, None] == nest.of[None, :]
    one, other = np.nonzero(np.triu(~clear, 1))
    return one, other


def _lines(nest: Nest, one: Whole, other: Whole, apart: float) -> tuple[Floats, Floats]:
    """For each pair the direction from the first to the second in which they are farthest apart, and how far; under 0
    how deep they lie in each other. Exact where they are nearer than ``apart``, else at least so far."""
    there, far = _beyond(nest.corners, one, other)
    back, near = _beyond(nest.corners, other, one)
    first = far >= near
    normal = np.where(first[:, None], there, -back)
    between = np.where(first, far, near)
    cornered = np.nonzero(between < apart)[0]  # corner to corner: nearer along every side's normal than they are
    if len(cornered):
        lines, lengths = _shortest(nest, one[cornered], other[cornered])
        better = lengths > np.maximum(between[cornered], 1e-9)
        normal[cornered[better]] = lines[better]
        between[cornered[better]] = lengths[better]
    return normal, between


def _beyond(corners: Floats, one: Whole, other: Whole) -> tuple[Floats, Floats]:
    """The outward normal of one of the first's sides that the second is farthest beyond, and how far."""
    sides = np.roll(corners, -1, axis=1) - corners
    long = np.linalg.norm(sides, axis=2)
    normals = np.stack((sides[:, :, 1], -sides[:, :, 0]), axis=2) / np.maximum(long, 1e-12)[:, :, None]
    reach = (normals * corners).sum(axis=2)
    best, where = np.full(len(one), -np.inf), np.zeros(len(one), np.int64)
    for k in range(corners.shape[1]):
        beyond = (corners[other] * normals[one, k][:, None, :]).sum(axis=2).min(axis=1) - reach[one, k]
        beyond[long[one, k] < 1e-9] = -np.inf
        better = beyond > best
        best[better], where[better] = beyond[better], k
    return normals[one, where], best


def _shortest(nest: Nest, one: Whole, other: Whole) -> tuple[Floats, Floats]:
    """Directions and lengths of the shortest lines between pairs."""
    import shapely

    shapes = shapely.polygons(nest.corners)
    ends = shapely.get_coordinates(shapely.shortest_line(shapes[one], shapes[other])).reshape(-1, 2, 2)
    ways = ends[:, 1] - ends[:, 0]
    lengths = np.linalg.norm(ways, axis=1)
    return ways / np.maximum(lengths, 1e-12)[:, None], lengths


def _nearest(nest: Nest) -> float:
    """How far apart the two parts are that are nearest to each other; under 0 where some overlap."""
    one, other = _near(nest, 1.0)
    return float(_lines(nest, one, other, np.inf)[1].min(initial=np.inf)) if len(one) else np.inf


@lru_cache(maxsize=4096)
def _convex(outline: Ring, holes: tuple[Ring, ...], turn: float) -> tuple[tuple[tuple[float, float], ...], ...]:
    """Convex rings, anticlockwise, that together are the part as it is turned."""
    import shapely

    shape = shapely.Polygon(turned(outline, turn), [turned(hole, turn) for hole in holes])
    if not holes and shape.convex_hull.area - shape.area < 1e-9 * shape.area:
        return (_corners(shape),)
    return tuple(_corners(piece) for piece in _joined(list(shapely.constrained_delaunay_triangles(shape).geoms)))


def _joined(pieces: list[Any]) -> list[Any]:
    """Triangles put together into larger convex pieces, as long as two make one."""
    done: list[Any] = []
    while pieces:
        one = pieces.pop()
        for n, other in enumerate(pieces):
            if one.intersects(other) and one.intersection(other).length > 1e-9:
                both = one.union(other)
                if both.convex_hull.area - both.area < 1e-9 * both.area:
                    pieces[n] = both.convex_hull
                    break
        else:
            done.append(one)
    return done


def _corners(shape: Any) -> tuple[tuple[float, float], ...]:
    import shapely

    ring = shapely.orient_polygons(shape).exterior.coords[:-1]
    return tuple((float(x), float(y)) for x, y in ring)
