"""Relief cuts: parts of a sheet laid out flat are cut clear of each other, so that nothing touches but what is folded
together."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from yattle import overlay
from yattle.errors import InputError
from yattle.pattern.sheet import FlatFace, apart
from yattle.pattern.surface import Array, Crease, Surface

_CUT = 2.0  # mm: how wide a relief cut is, between parts that would lie over each other or touch in the flat sheet

_SPECK = 0.01  # mm: corners nearer to each other are one

_ENOUGH = 1.9  # mm: parts that far apart are left as they are, so that no cut takes off a hair


def polygons(rings: list[Array]) -> Any:
    """The rings as an array of polygons, made in one go. Corners in mm."""
    import shapely

    corners = np.repeat(np.arange(len(rings)), [len(ring) for ring in rings])
    return shapely.polygons(shapely.linearrings(np.concatenate(rings), indices=corners))


def relieved(surface: Surface, placed: list[FlatFace]) -> list[Array]:
    """The faces' rings, cut clear of those laid out before them. In mm. Raises :class:`InputError` where a face
    crosses itself, or where others leave nothing of it."""
    import shapely

    creases = {(c.child, c.parent): c for c in (*surface.closing, *surface.creases)}
    rolls = {crease.child for crease in surface.creases if crease.roll}
    soft = {crease.child for crease in surface.creases if crease.soft and not surface.closing}
    rings = [sheet.ring for sheet in placed]
    shapes = polygons(rings)
    crossed = np.nonzero(~shapely.is_valid(shapes))[0]
    if crossed.size:
        raise InputError(surface.name, f"{surface.faces[crossed[0]].name} that crosses itself",
                         "a narrower one, or corners further apart")
    boxes, slits = shapely.bounds(shapes), _at_a_corner(shapes, soft, creases)
    for n, whole in enumerate(shapes):
        if not n or n in rolls:
            continue
        shape, close = whole, _by_box(boxes, n)
        near = close[shapely.dwithin(whole, shapes[close], _ENOUGH)].tolist()
        if n in soft:  # dressed by hand: beside its fold a slit will do
            near = [m for m in near if (n, m) not in slits]
        for some in [[m] for m in near] if surface.closing else [near]:
            if surface.closing and shape.intersection(shapes[some[0]]).area < 1e-6:
                continue  # round a pocket the sheet stays whole: nothing is cut where its parts meet
            shape = _clear(shape, shapes, n, some, creases, placed)
        if shape is not whole:
            for m in near:
                if (n, m) in creases and (m, n) not in creases:
                    shape = _off_corners(shape, shapes[m])
            shapes[n], rings[n] = _clean(surface, n, shape, whole)
    return rings


def _by_box(boxes: Array, n: int) -> Any:
    """Which parts before part ``n`` have a box near its own."""
    before, own = boxes[:n], boxes[n]
    return ((before[:, :2] < own[2:] + _CUT) & (before[:, 2:] > own[:2] - _CUT)).all(axis=1).nonzero()[0]


def _at_a_corner(shapes: Any, these: set[int], creases: dict[tuple[int, int], Crease]) -> set[tuple[int, int]]:
    """Which of ``these`` parts touch which others, laid out before them, at a corner and nowhere else."""
    import shapely

    if not these:
        return set()
    some = np.array(sorted(these))
    one, other = shapely.STRtree(shapes).query(shapes[some], predicate="dwithin", distance=1e-7)
    one = some[one]
    before = [m < n and (n, m) not in creases for n, m in zip(one.tolist(), other.tolist(), strict=True)]
    one, other = one[before], other[before]
    touch = shapely.length(overlay.intersection(shapes[one], shapes[other])) < 1e-6
    return set(zip(one[touch].tolist(), other[touch].tolist(), strict=True))


def _clear(shape: Any, shapes: Any, n: int, near: list[int], creases: dict[tuple[int, int], Crease],
           placed: list[FlatFace]) -> Any:
    """Part ``n`` cut clear of the parts ``near`` it; of the one it is folded from only beside the fold."""
    import shapely

    strange = [m for m in near if (n, m) not in creases and (m, n) not in creases]
    if strange:
        shape = shape.difference(overlay.union_all(shapely.buffer(shapes[strange], _CUT, join_style="mitre")))
    for m in near:
        if (n, m) in creases and (m, n) not in creases and not shape.is_empty:
            edge = placed[m].edges[creases[n, m].at]
            if not _only_at(edge, placed[n].ring, placed[m].ring):
                shape = _beside_fold(shape, shapes[m], edge)
    return shape


def _only_at(edge: Array, child: Array, parent: Array) -> bool:
    """Whether two rings lie on either side of a fold line and meet there nowhere but on the fold."""
    a, way = complex(*edge[0]), complex(*(edge[1] - edge[0]))
    turn, long = way.conjugate() / abs(way), abs(way) + 1e-7
    beyond, before = ([(complex(x, y) - a) * turn for x, y in ring.tolist()] for ring in (child, parent))
    return (all(p.imag < 1e-7 for p in beyond) and all(p.imag > -1e-7 for p in before)
            and any(all(-1e-7 < p.real < long for p in ring if abs(p.imag) < 1e-5) for ring in (beyond, before)))


def _off_corners(shape: Any, parent: Any) -> Any:
    """A part that has been cut, clear of its parent where the two still touch at a mere corner beside their fold."""
    import shapely

    meets = shapely.get_parts(shape.intersection(parent.buffer(1e-6, join_style="mitre")))
    if len(meets) < 2:
        return shape
    fold = max(meets, key=lambda part: part.area)
    loose = [part for part in meets if part is not fold and part.area < 1e-6]
    return shape.difference(overlay.union_all(shapely.buffer(loose, _CUT / 2, cap_style="square")))


def _clean(surface: Surface, n: int, shape: Any, whole: Any) -> tuple[Any, Array]:
    """What is left of a part in one piece and without spikes that have no width, with its ring."""
    import shapely

    shape = max(shapely.get_parts(shape), key=lambda part: part.area, default=shape)
    if shape.area < 0.3 * whole.area:
        raise InputError(surface.name, f"{surface.faces[n].name} covered in the flat sheet",
                         "faces that lie side by side: part the piece by a seam")
    for by in (-1e-4, 1e-4):
        shape = shape.buffer(by, join_style="mitre", mitre_limit=200)
    shape = max(shapely.get_parts(shape), key=lambda part: part.area)
    ring = shapely.get_coordinates(shapely.orient_polygons(shape.simplify(1e-7)).exterior)[:-1]
    return shape, _without_specks(apart(ring, 1e-5), whole)


def _without_specks(ring: Array, whole: Any) -> Array:
    """A ring without sides that no knife can cut: of two corners that near the one on an edge the part had stays, for
    a fold may end there."""
    import shapely

    while len(ring) > 3:
        long = np.hypot(*(np.roll(ring, -1, axis=0) - ring).T)
        at = int(long.argmin())
        if long[at] > _SPECK:
            break
        pair = [at, (at + 1) % len(ring)]
        off = shapely.distance(whole.exterior, shapely.points(ring[pair]))
        ring = np.delete(ring, pair[int(off.argmax())], axis=0)
    return ring


def _beside_fold(shape: Any, parent: Any, edge: Array) -> Any:
    """A part cut clear of the one it is folded from, along the fold ``edge``, wherever else it would touch."""
    import shapely

    near, fold = parent.buffer(1e-5, join_style="mitre"), shapely.LineString(edge).buffer(1e-4, quad_segs=1)
    touch = shape.boundary.intersection(near).difference(fold)
    if touch.length > 1e-3:  # beside the fold: they would hang together there
        way = (edge[1] - edge[0]) / math.dist(*edge) * _CUT
        fold = _along(edge + np.array([way, -way]))
    elif shape.difference(fold := _along(edge)).intersection(parent).area < 1e-8:
        return shape
    return shape.difference(parent.buffer(_CUT, join_style="mitre").difference(fold))


def _along(edge: Array) -> Any:
    """Where a part folded from an edge may lie: beyond it, within its length."""
    import shapely

    a, b = edge
    way = (b - a) / np.linalg.norm(b - a)
    out = np.array([way[1], -way[0]]) * 1e5
    return shapely.Polygon([a - out * 1e-11, b - out * 1e-11, b + out, a + out])
