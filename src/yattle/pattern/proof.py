"""The proof fold: a pattern folded up again and held against what it was made for.

Starts from the written pattern alone; see :mod:`yattle.pattern.folded`.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Protocol

import numpy as np

from yattle.pattern.ends import Tab
from yattle.pattern.folded import Array, FoldedFacet, FoldTree, Ring, fold_tree, fold_up, tree_of
from yattle.pattern.pattern import Pattern, PatternFold, Point
from yattle.pattern.relief import polygons
from yattle.pattern.surface import Face, side_of
from yattle.section.fold import folded_points, headings
from yattle.section.profile import Profile

GAP = 0.05  # mm: a piece that is further than this from what it was made for does not fold up
_ALIKE = 1e-6  # mm: corners nearer than this lie on each other


@dataclass(frozen=True)
class Proof:
    """The largest distance in mm between the folded pattern and what it was made for."""

    max_gap: float
    checked: int
    worst: str

    @property
    def holds(self) -> bool:
        """Whether the piece folds up to what it was made for, to 0.05 mm."""
        return self.max_gap <= GAP


Places = tuple[tuple[float, float], ...] | None
"""Where along the run each flat part must end, on its mould line toward edge A and on that toward edge B; in mm."""


def prove_against_section(pattern: Pattern, profile: Profile, tabs: tuple[Tab, ...] = (),
                          ends: tuple[Places, Places] = (None, None)) -> Proof:
    """Fold ``pattern`` up and hold it against ``profile`` run along x.

    Every corner of every facet must lie on its leg, every fold on its mould line, every raw edge where the section
    ends; every flap must be one of ``tabs``: on its leg, turned as it says, as long as it says. ``ends``: where along
    the run each flat part must end on its mould lines, raw edges included, at the left and at the right end; ``None``
    for ends that are not cut by a plane.
    """
    return _proof(pattern.outline, pattern.holes, pattern.folds, profile, tabs, ends)


@lru_cache(maxsize=16384)
def _proof(outline: Ring, holes: tuple[Ring, ...], folds: tuple[PatternFold, ...], profile: Profile,
           tabs: tuple[Tab, ...], ends: tuple[Places, Places]) -> Proof:
    tree = section_tree(outline, holes, folds)
    folded = tree.folded()
    strips = [strip_of(facet, folds) for facet in folded]
    corners = expected_corners(profile, folded[tree.base], strips[tree.base])
    middle = float(folded[tree.base].flat[:, 0].mean())
    worst, where, checked = 0.0, "", 0
    for facet, strip in zip(folded, strips, strict=True):
        if is_tab(facet, folds):
            gaps = _tab_gaps(facet, corners, strip, middle, tabs)
        else:
            gaps = np.concatenate((_leg_gaps(facet, corners, strip, profile), _end_gaps(facet, corners, strip, ends)))
        checked += len(gaps)
        if len(gaps) and float(gaps.max()) > worst:
            worst, where = float(gaps.max()), profile.strip_names[strip]
    return Proof(worst, checked, where)


def section_tree(outline: Ring, holes: tuple[Ring, ...], folds: tuple[PatternFold, ...]) -> FoldTree:
    """A straight piece's facets, its largest part that is no flap staying where it is: on a short piece a flap may be
    larger than any part of the section."""
    tree = tree_of(outline, holes, folds)
    own = [n for n, facet in enumerate(tree.facets) if not is_tab(facet, folds)]
    return replace(tree, base=max(own, key=lambda n: tree.facets[n].area, default=tree.root))


def strip_of(facet: FoldedFacet, folds: tuple[PatternFold, ...]) -> int:
    """Which flat part of the section (from edge A, hems counted) a facet of a straight piece belongs to."""
    y = float((facet.flat[:, 1].max() + facet.flat[:, 1].min()) / 2)
    return sum(1 for fold in folds if _runs_along(fold) and fold.a[1] > y)


class CreasedFacet(Protocol):
    """What is asked of a facet, flat or folded: its flat corners (n, 2), mm, and the fold on each edge."""

    @property
    def flat(self) -> Array: ...
    @property
    def edges(self) -> tuple[str | None, ...]: ...


def is_tab(facet: CreasedFacet, folds: tuple[PatternFold, ...]) -> bool:
    """Whether a facet of a straight piece is a flap at its end: it hangs on folds across the run alone and lies beyond
    them, left of those at the left end (``wL…``), right of those at the right one (``wR…``)."""
    across = {fold.id: fold for fold in folds if not _runs_along(fold)}
    on = {edge for edge in facet.edges if edge}
    if not on or not on <= across.keys():
        return False
    low, high = float(facet.flat[:, 0].min()), float(facet.flat[:, 0].max())
    return all((low + high) / 2 < across[name].a[0] if name.startswith("wL") else
               (low + high) / 2 > across[name].a[0] for name in on)


def _runs_along(fold: PatternFold) -> bool:
    return abs(fold.a[1] - fold.b[1]) < abs(fold.a[0] - fold.b[0])


def expected_corners(profile: Profile, base: FoldedFacet, strip: int) -> Array:
    """The section's mould corners as (y, z) in the frame of the base facet, shape (n+1, 2). In mm."""
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
    wanted = [(places[strip][side], *corners[strip + side]) for places in ends if places is not None
              for side in (0, 1)]
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
    return strip_of(tree.resting, pattern.folds)


def prove_against_faces(pattern: Pattern, seats: tuple[tuple[Point, Point], ...], faces: tuple[Face, ...]) -> Proof:
    """Fold ``pattern`` up and hold it against the faces it was made for; ``seats`` say which part of the sheet is
    which: a place inside each, and where its first corner lies.

    The folded piece is laid on the faces as well as it goes, as one stiff body; then every corner of a part must be a
    corner of its face, and every face's corner must be met; where parts lie doubled over, each on the side of the other
    that their layers say. Gaps in mm; infinite where a part is missing or lies on the wrong side.
    """
    folded = fold_up(pattern)
    places = _which(folded, [inside for inside, _ in seats])
    pairs = []
    for n, (_, first) in enumerate(seats):
        if n not in places:
            return Proof(math.inf, 0, faces[n].name)
        found = folded[places[n]]
        target = _apart(np.array(faces[n].corners))
        pairs.append((_from_corner(found, first, target), target))
    alike = [(space, target) for space, target in pairs if len(space) == len(target)]
    if not alike:
        return Proof(math.inf, 0, faces[0].name)
    wrong = _wrong_side(pattern, folded, {facet: faces[n] for n, facet in places.items()})
    if wrong:
        return Proof(math.inf, 0, wrong)
    turn, by = _stiff(np.concatenate([a for a, _ in alike]), np.concatenate([b for _, b in alike]))
    gaps = _gaps([(space @ turn.T + by, target) for space, target in pairs])
    worst = max(range(len(gaps)), key=gaps.__getitem__)
    return Proof(gaps[worst], sum(len(a) + len(b) for a, b in pairs), faces[worst].name if gaps[worst] > 0 else "")


def _gaps(pairs: list[tuple[Array, Array]]) -> list[float]:
    """How far, for each two rings, a corner of one is from the nearest of the other at the most, mm."""
    found = []
    for ours, theirs in pairs:
        if len(ours) == len(theirs) and (gap := float(np.abs(ours - theirs).max())) < _ALIKE:
            found.append(gap)  # corner upon corner: none is nearer
            continue
        apart = np.linalg.norm(ours[:, None] - theirs[None], axis=2)
        found.append(max(float(apart.min(axis=1).max()), float(apart.min(axis=0).max())))
    return found


def laid_on(pattern: Pattern, seats: tuple[tuple[Point, Point], ...],
            faces: tuple[Face, ...]) -> tuple[Array, Array] | None:
    """The turn (3, 3) and the shift, mm, that bring a pattern folded up sharp, its largest facet in z = 0, onto the
    faces it was made for; ``None`` where none of them is found again."""
    folded = fold_up(pattern)
    places = _which(folded, [inside for inside, _ in seats])
    targets = {n: _apart(np.array(faces[n].corners)) for n in places}
    pairs = [(_from_corner(folded[places[n]], seats[n][1], target), target) for n, target in targets.items()]
    alike = [(space, target) for space, target in pairs if len(space) == len(target)]
    if not alike:
        return None
    return _stiff(np.concatenate([a for a, _ in alike]), np.concatenate([b for _, b in alike]))


def _wrong_side(pattern: Pattern, folded: tuple[FoldedFacet, ...], faces: dict[int, Face]) -> str:
    """A part that is folded over its neighbour on the side where, by their layers, it does not lie; "" if there is
    none."""
    for fold in pattern.folds:
        if abs(fold.turn) < 180:
            continue
        along = [_length_on(facet, fold.id) for facet in folded]
        one, other = sorted(range(len(folded)), key=lambda n: -along[n])[:2]  # others touch its end only
        beneath, above = faces[one], faces[other]
        if side_of(above.layer, beneath.layer, beneath.paint) * fold.turn <= 0:
            return f"{above.name} on the wrong side of {beneath.name}"
    return ""


def _length_on(facet: FoldedFacet, fold: str) -> float:
    """How many mm of a facet's edge lie on a fold."""
    corners = facet.flat.tolist()
    return sum(math.dist(corner, corners[(k + 1) % len(corners)]) for k, corner in enumerate(corners)
               if facet.edges[k] == fold)


def _apart(ring: Array) -> Array:
    """A ring in space without corners that repeat."""
    corners = ring.tolist()
    kept = [k for k, corner in enumerate(corners) if math.dist(corner, corners[k - 1]) > 1e-6]
    return ring if len(kept) == len(corners) else np.asarray(ring[kept])


def _from_corner(found: FoldedFacet, first: Point, target: Array) -> Array:
    """A facet's corners from the one that is the face's first: near ``first``, sides as long as the face's."""
    near = [math.dist(corner, first) for corner in found.flat.tolist()]
    start = found.space[near.index(min(near))].tolist()
    space = _apart(found.space)
    if len(space) != len(target):
        return space
    corners = space.tolist()
    ours, theirs = ([math.dist(corner, ring[k - 1]) for k, corner in enumerate(ring)]
                    for ring in (corners, target.tolist()))
    k = corners.index(start) if start in corners else 0
    if all(abs(a - b) < _ALIKE for a, b in zip(ours[k:] + ours[:k], theirs, strict=True)):
        return np.concatenate((space[k:], space[:k])) if k else space  # most begin there
    off = [sum(abs(a - b) for a, b in zip(ours[k:] + ours[:k], theirs, strict=True)) for k in range(len(ours))]
    likely = [k for k, far in enumerate(off) if far < min(off) + 1e-3]
    begin = min(likely, key=lambda k: math.dist(corners[k], start))
    return np.concatenate((space[begin:], space[:begin]))


def _which(folded: tuple[FoldedFacet, ...], inside: list[Point]) -> dict[int, int]:
    """Which facet each place lies in."""
    import shapely

    tree = shapely.STRtree(polygons([facet.flat for facet in folded]))
    places, facets = tree.query(shapely.points(inside), predicate="within")
    return dict(zip(places.tolist(), facets.tolist(), strict=True))


def _stiff(ours: Array, theirs: Array) -> tuple[Array, Array]:
    """The turn and shift of a stiff body that bring ``ours`` nearest to ``theirs`` (W. Kabsch)."""
    a, b = ours.mean(axis=0), theirs.mean(axis=0)
    u, _, v = np.linalg.svd((ours - a).T @ (theirs - b))
    flip = np.diag([1.0, 1.0, float(np.sign(np.linalg.det(v.T @ u.T)))])
    turn: Array = np.asarray(v.T @ flip @ u.T)
    by: Array = b - turn @ a
    return turn, by

