"""Folding a flat pattern up again, from the pattern alone.

Shares nothing with the code that laid the pattern out. A *facet* is what lies between fold
lines. To fold it up sharp, each facet's edge on a fold is first moved outward by half that
fold's deduction, which restores the mould lines; then facets turn about them.

The folded piece is in the frame of its largest facet: that facet keeps its flat x and y and
lies in z = 0 with the paint face toward +z.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from yattle import overlay
from yattle.pattern.pattern import Pattern, PatternFold, Point

Array = NDArray[np.float64]
Ring = tuple[Point, ...]
_ONE = 1e-5  # mm: points nearer to each other are one
_GRID = 1e-7  # mm: what is nearer than this is the same place
_ON_LINE = 0.002  # mm: how near a facet's edge must be to a fold line to lie on it


@dataclass(frozen=True)
class FoldedFacet:
    """One facet folded up: its corners in space (n, 3), its flat corners with mould lines restored (n, 2), and which
    edge (corner k to k+1) lies on which fold. Corners in mm."""

    space: Array
    flat: Array
    edges: tuple[str | None, ...]



@dataclass(frozen=True)
class _FlatFacet:
    flat: Array
    edges: tuple[str | None, ...]
    area: float


@dataclass(frozen=True)
class _FoldedJoint:
    parent: int
    child: int
    fold: PatternFold
    out: Array  # unit normal of the fold line in the sheet, from parent to child


@dataclass(frozen=True)
class FoldTree:
    """Facets of a pattern and the joints that fold them, from the largest facet outward; ``base``: the facet that stays
    where it is, the largest one unless another is chosen."""

    facets: tuple[_FlatFacet, ...]
    joints: tuple[_FoldedJoint, ...]
    root: int
    base: int

    @property
    def resting(self) -> FoldedFacet:
        """The facet that stays where it is, however far the others are folded."""
        facet = self.facets[self.base]
        return FoldedFacet(_apply(np.eye(4), facet.flat), facet.flat, facet.edges)

    def folded(self, share: float = 1.0, hem_open: float = 0.0,
               own: Mapping[str, float] | None = None) -> tuple[FoldedFacet, ...]:
        """The piece folded to ``share`` of every turn: 0 flat, 1 done; hems stay ``hem_open`` degrees short. ``own``:
        shares of single folds by their ids."""
        places = {self.root: np.eye(4)}
        for joint in self.joints:
            most, each = 180.0 - hem_open, share if own is None else own.get(joint.fold.id, share)
            turn = max(-most, min(most, joint.fold.turn * each))
            places[joint.child] = places[joint.parent] @ _hinge(joint, turn)
        if self.base != self.root:
            back = np.linalg.inv(places[self.base])
            places = {n: back @ place for n, place in places.items()}
        return tuple(
            FoldedFacet(_apply(places[n], facet.flat), facet.flat, facet.edges)
            for n, facet in enumerate(self.facets) if n in places
        )


def fold_up(pattern: Pattern, share: float = 1.0) -> tuple[FoldedFacet, ...]:
    """Fold ``pattern`` to ``share`` (0 … 1) of every turn; the largest facet stays in z = 0."""
    return fold_tree(pattern).folded(share)


def fold_tree(pattern: Pattern) -> FoldTree:
    """Facets and joints of ``pattern``; kept, since patterns of one shape come again and again."""
    return tree_of(pattern.outline, pattern.holes, pattern.folds)


@lru_cache(maxsize=8192)
def tree_of(outline: Ring, holes: tuple[Ring, ...], folds: tuple[PatternFold, ...]) -> FoldTree:
    """The flat sheet as facets and the folds between them; corners in mm."""
    lines = [_FoldedLine.of(fold) for fold in folds]
    pieces = _split(outline, holes, folds)
    on = _edge_folds(pieces, lines)
    facets = tuple(_restored(ring, edges) for ring, edges in zip(pieces, on, strict=True))
    root = max(range(len(facets)), key=lambda n: facets[n].area)
    return FoldTree(facets, tuple(_joints(pieces, on, root)), root, root)


@dataclass(frozen=True)
class _FoldedLine:
    """A fold line ready to be measured against: its start, direction, normal and length."""

    fold: PatternFold
    a: Array
    along: Array
    normal: Array
    length: float

    @staticmethod
    def of(fold: PatternFold) -> _FoldedLine:
        dx, dy = fold.b[0] - fold.a[0], fold.b[1] - fold.a[1]
        length = math.hypot(dx, dy)
        return _FoldedLine(fold, np.array(fold.a), np.array([dx, dy]) / length, np.array([-dy, dx]) / length, length)


def _split(outline: Ring, holes: tuple[Ring, ...], folds: tuple[PatternFold, ...]) -> list[Array]:
    import shapely

    body = shapely.Polygon(outline, holes)
    lines = shapely.linestrings(_lines(body.boundary, folds)) if folds else []
    # a fine grid: a fold line and an outline that run on each other become one
    parts = shapely.get_parts(shapely.polygonize([overlay.union_all([body.boundary, *lines], grid_size=_GRID)]))
    inside = shapely.contains(body, shapely.point_on_surface(parts))
    edges = shapely.get_exterior_ring(shapely.orient_polygons(parts[inside]))
    corners, which = shapely.get_coordinates(edges, return_index=True)
    rings = [ring[:-1] for ring in np.split(corners, np.flatnonzero(np.diff(which)) + 1)] if len(corners) else []
    exact = np.array([*body.exterior.coords, *(p for hole in body.interiors for p in hole.coords),
                      *(end for fold in folds for end in (fold.a, fold.b))])
    clean = [_without_repeats(ring) for ring in _snapped(rings, exact)]
    return [ring for ring in clean if len(ring) > 2]


def _without_repeats(ring: Array) -> Array:
    corners = ring.tolist()
    kept = [k for k, (x, y) in enumerate(corners) if math.hypot(x - corners[k - 1][0], y - corners[k - 1][1]) > _ONE]
    return ring if len(kept) == len(corners) else ring[kept]


def _snapped(rings: list[Array], exact: Array) -> list[Array]:
    """Rings off the grid again: their corners where the outline and the fold lines say."""
    import shapely

    if not rings:
        return rings
    corners, tree = np.concatenate(rings), shapely.STRtree(shapely.points(exact))
    own, near = tree.query_nearest(shapely.points(corners), max_distance=8 * _GRID, all_matches=False)
    close = np.abs(corners[own] - exact[near]).max(axis=1) < 5 * _GRID
    corners[own[close]] = exact[near[close]]
    return np.split(corners, np.cumsum([len(ring) for ring in rings])[:-1])


def _lines(boundary, folds: tuple[PatternFold, ...]) -> Array:  # type: ignore[no-untyped-def]
    """The fold lines, those that end a little short of the outline drawn on to it."""
    import shapely

    ends = np.array([[fold.a, fold.b] for fold in folds])
    way = ends[:, 1] - ends[:, 0]
    beyond = way / np.hypot(*way.T)[:, None] * _ON_LINE
    short = shapely.distance(shapely.points(ends), boundary) > _GRID
    return np.asarray(ends + np.stack((-beyond, beyond), axis=1) * short[:, :, None])


def _edge_folds(rings: list[Array], lines: list[_FoldedLine]) -> list[list[_FoldedLine | None]]:
    """For each edge of each facet (corner k to k+1) the fold it lies on."""
    found: list[list[_FoldedLine | None]] = [[None] * len(ring) for ring in rings]
    if not lines:
        return found
    starts = np.concatenate(rings)
    ends = np.concatenate([np.concatenate((ring[1:], ring[:1])) for ring in rings])
    normals, alongs = np.array([line.normal for line in lines]), np.array([line.along for line in lines])
    offs, froms = ((np.array([line.a for line in lines]) * axes).sum(axis=1) for axes in (normals, alongs))
    near = (np.abs(starts @ normals.T - offs) < _ON_LINE) & (np.abs(ends @ normals.T - offs) < _ON_LINE)
    where = (starts + ends) / 2 @ alongs.T - froms
    near &= (where > 0) & (where < np.array([line.length for line in lines]))
    places = [(n, k) for n, ring in enumerate(rings) for k in range(len(ring))]
    for edge, line in zip(*np.nonzero(near), strict=True):
        n, k = places[edge]
        found[n][k] = lines[line]
    return found


def _restored(ring: Array, on: list[_FoldedLine | None]) -> _FlatFacet:
    """The facet with each edge on a fold moved outward by half the fold's deduction; corners that only its neighbour
    has on the fold between them are left out."""
    own = [n for n in range(len(ring)) if on[n] is None or on[n] is not on[n - 1]]
    points, on = [(x, y) for x, y in ring[own].tolist()], [on[n] for n in own]
    after = [*points[1:], *points[:1]]
    sides = [_side_of(a, b, line) for a, b, line in zip(points, after, on, strict=True)]
    corners: list[_Flat] = []
    edges: list[str | None] = []
    for n, (point, line) in enumerate(zip(points, on, strict=True)):
        new = _corner(point, sides[n - 1], sides[n])
        corners.extend(new)
        edges.extend([*[None] * (len(new) - 1), line.fold.id if line else None])
    area = sum(a[0] * b[1] - a[1] * b[0] for a, b in zip(points, after, strict=True)) / 2
    return _FlatFacet(np.array(corners), tuple(edges), area)


_Flat = tuple[float, float]


def _side_of(a: _Flat, b: _Flat, line: _FoldedLine | None) -> tuple[_Flat, _Flat]:
    """A side's way, a unit vector, and how far it is moved outward; the ring runs anticlockwise."""
    x, y = b[0] - a[0], b[1] - a[1]
    long, half = math.hypot(x, y), line.fold.deduction / 2 if line else 0.0
    return (x / long, y / long), (y / long * half, -x / long * half)


def _corner(point: _Flat, before: tuple[_Flat, _Flat], after: tuple[_Flat, _Flat]) -> list[_Flat]:
    """Where two moved sides meet; two corners where they are parallel and moved differently."""
    ((ux, uy), (dux, duy)), ((vx, vy), (dvx, dvy)) = before, after
    cross, (x, y) = ux * vy - uy * vx, point
    if abs(cross) < 1e-5:
        first = (x + dux, y + duy)
        return [first] if max(abs(dux - dvx), abs(duy - dvy)) < 1e-12 else [first, (x + dvx, y + dvy)]
    share = ((dvx - dux) * vy - (dvy - duy) * vx) / cross
    return [(x + dux + ux * share, y + duy + uy * share)]


def _joints(pieces: list[Array], on: list[list[_FoldedLine | None]], root: int) -> list[_FoldedJoint]:
    sides: dict[str, list[_Side]] = {}
    folds: dict[int, list[str]] = {}
    for n, ring in enumerate(pieces):
        corners = ring.tolist()
        for k, line in enumerate(on[n]):
            if line is not None:
                (x, y), (u, v) = line.a.tolist(), line.along.tolist()
                ends = sorted((p - x) * u + (q - y) * v for p, q in (corners[k], corners[(k + 1) % len(corners)]))
                sides.setdefault(line.fold.id, []).append(_Side(n, line, *ends))
                folds.setdefault(n, []).append(line.fold.id)
    joints, reached, queue = [], {root}, [root]
    while queue:
        parent = queue.pop(0)
        for line, child in _neighbours(parent, {name: sides[name] for name in folds.get(parent, ())}):
            if child not in reached:
                joints.append(_FoldedJoint(parent, child, line.fold, _toward(pieces[child], line)))
                reached.add(child)
                queue.append(child)
    return joints


@dataclass(frozen=True)
class _Side:
    """That facet ``facet`` has an edge on a fold line, from ``low`` to ``high`` mm along it."""

    facet: int
    line: _FoldedLine
    low: float
    high: float


def _neighbours(parent: int, sides: dict[str, list[_Side]]) -> list[tuple[_FoldedLine, int]]:
    return [(side.line, side.facet) for along in sides.values() for mine in along if mine.facet == parent
            for side in along if side.facet != parent
            and min(mine.high, side.high) - max(mine.low, side.low) > _ON_LINE]


def _toward(child: Array, line: _FoldedLine) -> Array:
    # The child lies on one side of the fold: its farthest corner tells which.
    across = (child - line.a) @ line.normal
    return line.normal if across[abs(across).argmax()] > 0 else -line.normal


def _hinge(joint: _FoldedJoint, degrees: float) -> Array:
    """Where a child lies in its parent's frame: shifted onto the parent's mould line, then turned."""
    deduction, (ox, oy), (ax, ay) = joint.fold.deduction, joint.out.tolist(), joint.fold.a
    cos, sin = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    x, y = oy, -ox  # the axis: out × z
    rest = 1 - cos
    rows = ((cos + rest * x * x, rest * x * y, sin * y), (rest * x * y, cos + rest * y * y, -sin * x),
            (-sin * y, sin * x, cos))  # O. Rodrigues
    px, py = ax + ox * deduction / 2, ay + oy * deduction / 2
    dx, dy = ox * deduction - px, oy * deduction - py
    return np.array([(a, b, c, pivot + a * dx + b * dy) for (a, b, c), pivot in zip(rows, (px, py, 0.0), strict=True)]
                    + [(0.0, 0.0, 0.0, 1.0)])


def _apply(place: Array, flat: Array) -> Array:
    moved: Array = flat @ place[:3, :2].T + place[:3, 3]
    return moved
