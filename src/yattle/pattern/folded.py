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
    parts = shapely.get_parts(shapely.polygonize([shapely.union_all([body.boundary, *lines], grid_size=_GRID)]))
    rings = [shapely.get_coordinates(part.exterior)[:-1] for part in shapely.orient_polygons(parts)
             if body.contains(part.representative_point())]
    exact = np.array([*body.exterior.coords, *(p for hole in body.interiors for p in hole.coords),
                      *(end for fold in folds for end in (fold.a, fold.b))])
    rings = [_snapped(ring, exact) for ring in rings]
    clean = [ring[np.hypot(*(ring - np.concatenate((ring[-1:], ring[:-1]))).T) > _ONE] for ring in rings]
    return [ring for ring in clean if len(ring) > 2]


def _snapped(ring: Array, exact: Array) -> Array:
    """A ring off the grid again: its corners where the outline and the fold lines say."""
    apart = np.abs(ring[:, None] - exact[None]).max(axis=2)
    nearest = apart.argmin(axis=1)
    return np.where((apart[np.arange(len(ring)), nearest] < 5 * _GRID)[:, None], exact[nearest], ring)


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
    ring, on = ring[own], [on[n] for n in own]
    side = np.concatenate((ring[1:], ring[:1])) - ring
    along = side / np.hypot(side[:, 0], side[:, 1])[:, None]
    outward = np.column_stack((along[:, 1], -along[:, 0]))  # the ring runs anticlockwise
    shift = outward * np.array([line.fold.deduction / 2 if line else 0.0 for line in on])[:, None]
    corners: list[Array] = []
    edges: list[str | None] = []
    for n, point in enumerate(ring):
        new = _corner(point, along[n - 1], shift[n - 1], along[n], shift[n])
        line = on[n]
        corners.extend(new)
        edges.extend([*[None] * (len(new) - 1), line.fold.id if line else None])
    area = float(np.sum(ring[:, 0] * side[:, 1] - ring[:, 1] * side[:, 0])) / 2
    return _FlatFacet(np.array(corners), tuple(edges), area)


def _corner(point: Array, u: Array, du: Array, v: Array, dv: Array) -> list[Array]:
    """Where two moved edges meet; two corners where they are parallel and moved differently."""
    cross = u[0] * v[1] - u[1] * v[0]
    if abs(cross) < 1e-5:
        return [point + du] if abs(du - dv).max() < 1e-12 else [point + du, point + dv]
    gap = dv - du
    return [point + du + u * ((gap[0] * v[1] - gap[1] * v[0]) / cross)]


def _joints(pieces: list[Array], on: list[list[_FoldedLine | None]], root: int) -> list[_FoldedJoint]:
    sides: dict[str, list[_Side]] = {}
    folds: dict[int, list[str]] = {}
    for n, ring in enumerate(pieces):
        for k, line in enumerate(on[n]):
            if line is not None:
                ends = sorted(((ring[k] - line.a) @ line.along, (ring[(k + 1) % len(ring)] - line.a) @ line.along))
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
