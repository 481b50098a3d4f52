"""The proof fold: a flat pattern folded up again from the pattern alone.

Shares nothing with the code that laid the pattern out. A *facet* is what lies between fold
lines. To fold it up sharp, each facet's edge on a fold is first moved outward by half that
fold's deduction, which restores the mould lines; then facets turn about them.

The folded piece is in the frame of its largest facet: that facet keeps its flat x and y and
lies in z = 0 with the paint face toward +z.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from yattle.pattern.ends import Tab
from yattle.pattern.pattern import Pattern, PatternFold, Point
from yattle.section.fold import folded_points, headings
from yattle.section.profile import Profile

Array = NDArray[np.float64]
Ring = tuple[Point, ...]
_ONE = 1e-5  # mm: points nearer to each other are one
_ON_LINE = 0.002  # mm: how near a facet's edge must be to a fold line to lie on it


@dataclass(frozen=True)
class FoldedFacet:
    """One facet folded up: its corners in space (n, 3), its flat corners with mould lines
    restored (n, 2), and which edge (corner k to k+1) lies on which fold."""

    space: Array
    flat: Array
    edges: tuple[str | None, ...]


@dataclass(frozen=True)
class Proof:
    """The largest distance in mm between the folded pattern and what it was made for."""

    max_gap: float
    checked: int
    worst: str


@dataclass(frozen=True)
class _Facet:
    flat: Array
    edges: tuple[str | None, ...]
    area: float


@dataclass(frozen=True)
class _Joint:
    parent: int
    child: int
    fold: PatternFold
    out: Array  # unit normal of the fold line in the sheet, from parent to child


@dataclass(frozen=True)
class FoldTree:
    """Facets of a pattern and the joints that fold them, from the largest facet outward."""

    facets: tuple[_Facet, ...]
    joints: tuple[_Joint, ...]
    root: int

    def folded(self, share: float = 1.0, hem_open: float = 0.0) -> tuple[FoldedFacet, ...]:
        """The piece folded to ``share`` of every turn: 0 flat, 1 done; hems stay ``hem_open`` degrees short."""
        places = {self.root: np.eye(4)}
        for joint in self.joints:
            most = 180.0 - hem_open
            turn = max(-most, min(most, joint.fold.turn * share))
            places[joint.child] = places[joint.parent] @ _hinge(joint, turn)
        return tuple(
            FoldedFacet(_apply(places[n], facet.flat), facet.flat, facet.edges)
            for n, facet in enumerate(self.facets) if n in places
        )


def fold_up(pattern: Pattern, share: float = 1.0) -> tuple[FoldedFacet, ...]:
    """Fold ``pattern`` to ``share`` (0 … 1) of every turn; the largest facet stays in z = 0."""
    return fold_tree(pattern).folded(share)


def fold_tree(pattern: Pattern) -> FoldTree:
    """Facets and joints of ``pattern``; kept, since patterns of one shape come again and again."""
    return _tree(pattern.outline, pattern.holes, pattern.folds)


@lru_cache(maxsize=4096)
def _tree(outline: Ring, holes: tuple[Ring, ...], folds: tuple[PatternFold, ...]) -> FoldTree:
    lines = [_Line.of(fold) for fold in folds]
    pieces = _split(outline, holes, folds)
    on = [_edge_folds(ring, lines) for ring in pieces]
    facets = tuple(_restored(ring, edges) for ring, edges in zip(pieces, on, strict=True))
    root = max(range(len(facets)), key=lambda n: facets[n].area)
    return FoldTree(facets, tuple(_joints(pieces, on, root)), root)


@dataclass(frozen=True)
class _Line:
    """A fold line ready to be measured against: its start, direction, normal and length."""

    fold: PatternFold
    a: Array
    along: Array
    normal: Array
    length: float

    @staticmethod
    def of(fold: PatternFold) -> _Line:
        dx, dy = fold.b[0] - fold.a[0], fold.b[1] - fold.a[1]
        length = math.hypot(dx, dy)
        return _Line(fold, np.array(fold.a), np.array([dx, dy]) / length, np.array([-dy, dx]) / length, length)


def _split(outline: Ring, holes: tuple[Ring, ...], folds: tuple[PatternFold, ...]) -> list[Array]:
    from shapely import LineString, Polygon, get_coordinates, polygonize, union_all

    body = Polygon(outline, holes)
    lines = [LineString(_stretched(fold)) for fold in folds]
    parts = polygonize([union_all([body.boundary, *lines])]).geoms
    rings = [get_coordinates(part.exterior)[:-1] if part.exterior.is_ccw else get_coordinates(part.exterior)[:-1][::-1]
             for part in parts if body.contains(part.representative_point())]
    clean = [ring[np.linalg.norm(ring - np.roll(ring, 1, axis=0), axis=1) > _ONE] for ring in rings]
    return [ring for ring in clean if len(ring) > 2]


def _stretched(fold: PatternFold) -> Array:
    a, b = np.array(fold.a), np.array(fold.b)
    beyond = (b - a) / np.linalg.norm(b - a) * _ON_LINE
    return np.array([a - beyond, b + beyond])


def _edge_folds(ring: Array, lines: list[_Line]) -> list[_Line | None]:
    """For each edge of a facet (corner k to k+1) the fold it lies on."""
    found: list[_Line | None] = [None] * len(ring)
    for line in lines:
        near = np.abs((ring - line.a) @ line.normal) < _ON_LINE
        if near.sum() < 2:
            continue
        where = (ring - line.a) @ line.along
        for n in np.nonzero(near & np.concatenate((near[1:], near[:1])))[0]:
            if 0 < (where[n] + where[(n + 1) % len(ring)]) / 2 < line.length:
                found[n] = line
    return found


def _restored(ring: Array, on: list[_Line | None]) -> _Facet:
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
    return _Facet(np.array(corners), tuple(edges), area)


def _corner(point: Array, u: Array, du: Array, v: Array, dv: Array) -> list[Array]:
    """Where two moved edges meet; two corners where they are parallel and moved differently."""
    cross = u[0] * v[1] - u[1] * v[0]
    if abs(cross) < 1e-9:
        return [point + du] if abs(du - dv).max() < 1e-12 else [point + du, point + dv]
    gap = dv - du
    return [point + du + u * ((gap[0] * v[1] - gap[1] * v[0]) / cross)]


def _joints(pieces: list[Array], on: list[list[_Line | None]], root: int) -> list[_Joint]:
    sides: dict[str, list[_Side]] = {}
    for n, ring in enumerate(pieces):
        for k, line in enumerate(on[n]):
            if line is not None:
                ends = sorted(((ring[k] - line.a) @ line.along, (ring[(k + 1) % len(ring)] - line.a) @ line.along))
                sides.setdefault(line.fold.id, []).append(_Side(n, line, *ends))
    joints, reached, queue = [], {root}, [root]
    while queue:
        parent = queue.pop(0)
        for line, child in _neighbours(parent, sides):
            if child not in reached:
                joints.append(_Joint(parent, child, line.fold, _toward(pieces[child], line)))
                reached.add(child)
                queue.append(child)
    return joints


@dataclass(frozen=True)
class _Side:
    """That facet ``facet`` has an edge on a fold line, from ``low`` to ``high`` mm along it."""

    facet: int
    line: _Line
    low: float
    high: float


def _neighbours(parent: int, sides: dict[str, list[_Side]]) -> list[tuple[_Line, int]]:
    return [(side.line, side.facet) for along in sides.values() for mine in along if mine.facet == parent
            for side in along if side.facet != parent
            and min(mine.high, side.high) - max(mine.low, side.low) > _ON_LINE]


def _toward(child: Array, line: _Line) -> Array:
    # The child lies on one side of the fold: its farthest corner tells which.
    across = (child - line.a) @ line.normal
    return line.normal if across[abs(across).argmax()] > 0 else -line.normal


def _hinge(joint: _Joint, degrees: float) -> Array:
    """Where a child lies in its parent's frame: shifted onto the parent's mould line, then turned."""
    deduction = joint.fold.deduction
    out = np.array([*joint.out, 0.0])
    axis = np.array([out[1], -out[0], 0.0])  # out × z
    turn = np.radians(degrees)
    cos, sin = np.cos(turn), np.sin(turn)
    skew = np.array([[0, -axis[2], axis[1]], [axis[2], 0, -axis[0]], [-axis[1], axis[0], 0]])
    rotation = cos * np.eye(3) + sin * skew + (1 - cos) * np.outer(axis, axis)
    pivot = np.array([*joint.fold.a, 0.0]) + out * deduction / 2
    place = np.eye(4)
    place[:3, :3] = rotation
    place[:3, 3] = pivot + rotation @ (out * deduction - pivot)
    return place


def _apply(place: Array, flat: Array) -> Array:
    moved: Array = flat @ place[:3, :2].T + place[:3, 3]
    return moved


Places = tuple[float, ...] | None


def prove_against_section(pattern: Pattern, profile: Profile, tabs: tuple[Tab, ...] = (),
                          ends: tuple[Places, Places] = (None, None)) -> Proof:
    """Fold ``pattern`` up and hold it against ``profile`` run along x.

    Every corner of every facet must lie on its leg, every fold on its mould line, every raw edge where the section
    ends; every flap must be one of ``tabs``: on its leg, turned as it says, as long as it says. ``ends``: where along
    the run each mould line must end, raw edges included, at the left and at the right end; ``None`` for ends that are
    not cut by a plane.
    """
    return _proof(pattern.outline, pattern.holes, pattern.folds, profile, tabs, ends)


@lru_cache(maxsize=4096)
def _proof(outline: Ring, holes: tuple[Ring, ...], folds: tuple[PatternFold, ...], profile: Profile,
           tabs: tuple[Tab, ...], ends: tuple[Places, Places]) -> Proof:
    tree = _tree(outline, holes, folds)
    folded = tree.folded()
    strips = [_strip_of(facet, folds) for facet in folded]
    corners = _expected_corners(profile, folded[tree.root], strips[tree.root])
    middle = float(folded[tree.root].flat[:, 0].mean())
    worst, where, checked = 0.0, "", 0
    for facet, strip in zip(folded, strips, strict=True):
        if _is_tab(facet, folds):
            gaps = _tab_gaps(facet, corners, strip, middle, tabs)
        else:
            gaps = np.concatenate((_leg_gaps(facet, corners, strip, profile), _end_gaps(facet, corners, strip, ends)))
        checked += len(gaps)
        if len(gaps) and float(gaps.max()) > worst:
            worst, where = float(gaps.max()), profile.strip_names[strip]
    return Proof(worst, checked, where)


def _strip_of(facet: FoldedFacet, folds: tuple[PatternFold, ...]) -> int:
    y = float((facet.flat[:, 1].max() + facet.flat[:, 1].min()) / 2)
    return sum(1 for fold in folds if fold.by == "brake" and fold.a[1] > y)


def _is_tab(facet: FoldedFacet, folds: tuple[PatternFold, ...]) -> bool:
    by_tongs = {fold.id for fold in folds if fold.by == "tongs"}
    on = {edge for edge in facet.edges if edge}
    return bool(on) and on <= by_tongs


def _expected_corners(profile: Profile, base: FoldedFacet, strip: int) -> Array:
    """The section's mould corners as (y, z) in the frame of the base facet, shape (n+1, 2)."""
    start = -float(headings(profile)[strip])
    points = folded_points(profile, start) - folded_points(profile, start)[strip]
    return np.column_stack((base.flat[:, 1].max() - points[:, 0], points[:, 1]))


def _leg_gaps(facet: FoldedFacet, corners: Array, strip: int, profile: Profile) -> Array:
    a, b = corners[strip], corners[strip + 1]
    across = facet.space[:, 1:]
    along = np.clip((across - a) @ (b - a) / ((b - a) @ (b - a)), 0, 1)
    gaps = [np.linalg.norm(across - a - along[:, None] * (b - a), axis=1),
            np.abs(facet.space[:, 0] - facet.flat[:, 0])]
    order = {fold_id: n + 1 for n, fold_id in enumerate(profile.fold_ids)}
    for n, edge in enumerate(facet.edges):
        if edge in order:
            ends = across[[n, (n + 1) % len(across)]]
            gaps.append(np.linalg.norm(ends - corners[order[edge]], axis=1))
    low, high = facet.flat[:, 1].argmin(), facet.flat[:, 1].argmax()
    if strip == 0:
        gaps.append(np.linalg.norm(across[[high]] - corners[0], axis=1))
    if strip == len(corners) - 2:
        gaps.append(np.linalg.norm(across[[low]] - corners[-1], axis=1))
    return np.concatenate(gaps)


def _end_gaps(facet: FoldedFacet, corners: Array, strip: int, ends: tuple[Places, Places]) -> Array:
    """From where a part's end should come on its two mould lines to the nearest corner that it has."""
    wanted = [(places[k], *corners[k]) for places in ends if places is not None for k in (strip, strip + 1)]
    return np.array([float(np.linalg.norm(facet.space - np.array(place), axis=1).min()) for place in wanted])


def _tab_gaps(facet: FoldedFacet, corners: Array, strip: int, middle: float, tabs: tuple[Tab, ...]) -> Array:
    """How far a flap is off the best of the ``tabs`` on its leg: its hinge on the leg, its corners in the plane that
    the turn makes, its tip as far out as the flap is long."""
    a, b = corners[strip], corners[strip + 1]
    along = (b - a) / np.linalg.norm(b - a)
    paint = np.array([along[1], -along[0]])  # y runs against the walk from A: the paint face is on its right
    hinge = [n for n, edge in enumerate(facet.edges) if edge]
    ends = facet.space[[hinge[0], (hinge[0] + 1) % len(facet.space)]]
    x, sign = float(ends[0, 0]), -1.0 if facet.flat[:, 0].mean() < middle else 1.0
    on_leg = np.concatenate((abs((ends[:, 1:] - a) @ paint), [abs(ends[1, 0] - x)]))
    beyond, up = (facet.space[:, 0] - x) * sign, (facet.space[:, 1:] - a) @ paint
    found = [np.concatenate((on_leg, abs(beyond * np.sin(t) - up * np.cos(t)),
                             [abs((beyond * np.cos(t) + up * np.sin(t)).max() - tab.length)]))
             for tab in tabs if tab.leg == strip for t in [np.radians(tab.turn)]]
    return min(found, key=lambda gaps: float(gaps.max()), default=np.array([math.inf]))


def root_strip(pattern: Pattern) -> int:
    """Which flat part of the section (from edge A, hems counted) stays in z = 0 when folded up."""
    tree = fold_tree(pattern)
    return _strip_of(tree.folded()[tree.root], pattern.folds)


def prove_against_faces(pattern: Pattern, seats: tuple[tuple[Point, Point], ...],
                        faces: tuple[tuple[tuple[float, float, float], ...], ...], names: tuple[str, ...]) -> Proof:
    """Fold ``pattern`` up and hold it against the faces it was made for; ``seats`` say which part of the sheet is
    which: a place inside each, and where its first corner lies.

    The folded piece is laid on the faces as well as it goes, as one stiff body; then every corner of a part must be a
    corner of its face, and every face's corner must be met.
    """
    from shapely import Point as Place
    from shapely import Polygon

    folded = fold_up(pattern)
    pairs = []
    for n, (inside, first) in enumerate(seats):
        found = next((f for f in folded if Polygon(f.flat).buffer(1e-6).contains(Place(inside))), None)
        if found is None:
            return Proof(math.inf, 0, names[n])
        start = int(np.linalg.norm(found.flat - np.array(first), axis=1).argmin())
        pairs.append((np.roll(found.space, -start, axis=0), np.array(faces[n])))
    alike = [(space, target) for space, target in pairs if len(space) == len(target)]
    if not alike:
        return Proof(math.inf, 0, names[0])
    turn, by = _stiff(np.concatenate([a for a, _ in alike]), np.concatenate([b for _, b in alike]))
    worst, where, checked = 0.0, "", 0
    for (space, target), name in zip(pairs, names, strict=True):
        laid = space @ turn.T + by
        apart = np.linalg.norm(laid[:, None] - target[None], axis=2)
        gap = max(float(apart.min(axis=1).max()), float(apart.min(axis=0).max()))
        checked += len(laid) + len(target)
        if gap > worst:
            worst, where = gap, name
    return Proof(worst, checked, where)


def _stiff(ours: Array, theirs: Array) -> tuple[Array, Array]:
    """The turn and shift of a stiff body that bring ``ours`` nearest to ``theirs`` (W. Kabsch)."""
    a, b = ours.mean(axis=0), theirs.mean(axis=0)
    u, _, v = np.linalg.svd((ours - a).T @ (theirs - b))
    flip = np.diag([1.0, 1.0, float(np.sign(np.linalg.det(v.T @ u.T)))])
    turn: Array = np.asarray(v.T @ flip @ u.T)
    by: Array = b - turn @ a
    return turn, by
