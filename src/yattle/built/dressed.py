"""What is dressed by hand on the roof: end tabs, ends carried on over a ridge or turned under at an eave, heads of pans
turned up with the tongs, ribs of valleys flat under the caps at their heads. They are bent round whatever stands there,
so that they go through nothing."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray

from yattle import overlay
from yattle.built.ends import WantedEnd
from yattle.built.laid import LaidPanel
from yattle.built.run_ends import trim_ends
from yattle.built.standing import Standing
from yattle.derive.corners import beside_edge, run_frame
from yattle.derive.derived import Derived
from yattle.derive.face_pans import PANS, is_pans
from yattle.derive.lift import lift_of
from yattle.details.closed import DormerRidge, RidgeJoint
from yattle.pattern import Pattern
from yattle.pattern.folded import fold_tree
from yattle.pattern.rings import before_plane, boxes, cross
from yattle.pattern.surface import Array
from yattle.roof import Edge
from yattle.roof.plane import Plane

_OVER_HEADS = ("ridge", "half-ridge", "hip", "rake")  # edges whose trims lie over the heads of valleys
_BESIDE = 10.0  # mm beside a cap, within which a rib is dressed flat as well
_PASSES = 40.0  # mm over which a rib passes from standing to lying
_BETWEEN = 100.0  # mm between two of them, over which it is not raised again
_FLAT = 0.9995  # cosine: parts that lie in their face
_REACH = 2.0  # mm: what ends at a valley's line lies over it
_GOES_ON = 500.0  # mm past a crease's end, as far as panels are longer beside it
_IN_THE_MIDDLE = 40.0  # mm beside a valley's line: what goes no further is its rib
_Plane = tuple[Array, Array]  # a point of it, mm, and its normal out of the piece


@dataclass(frozen=True, eq=False)
class _Past:
    """What is past a plane, from a place ``at`` in mm along its ``normal`` out of the piece, and before all its
    ``ends``; ``half``: only of parts on that side of a plane, and of those in the middle, as a rib is."""

    at: Array
    normal: Array
    ends: tuple[_Plane, ...] = ()
    half: _Plane | None = None

    def cut_off(self, part: Array) -> Iterator[Array]:
        """What is left of a part (n, 3), mm."""
        if self.half is not None:
            off = (part - self.half[0]) @ self.half[1]
            if float(off.mean()) < 0 and float(off.min()) < -_IN_THE_MIDDLE:
                yield part
                return
        level = float(self.at @ self.normal)
        kept, line = before_plane(part, self.normal, level)
        if len(kept) > 2:
            yield kept
        if (line is not None or not len(kept)) and self.ends:
            past = before_plane(part, -self.normal, -level)[0]
            for at, away in self.ends:
                rest = before_plane(past, -away, -float(at @ away))[0] if len(past) > 2 else past
                if len(rest) > 2:
                    yield rest


def stiff(derived: Derived, standing: dict[str, Standing]) -> list[Standing]:
    """All that stands, of trims only what keeps its shape."""
    found = dict(standing)
    patterns = {pattern.id: pattern for pattern in derived.patterns}
    ends = _carried(derived, frozenset(one.pattern for one in standing.values()))
    trims = {piece.id for run in derived.runs for piece in run.pieces}
    over = {piece.pattern.id: _past_creases(derived, one.id.removeprefix(f"{PANS} "))
            for one in derived.openings if is_pans(one) for piece in one.pieces}
    flat = _flat_by_piece(derived, standing, patterns)
    tabs = {name: _tabs(patterns[name]) for name in {one.pattern for one in standing.values()} & trims}
    for name, piece in standing.items():
        if piece.pattern in trims:
            ribs = flat.get(piece.pattern)
            dressed = _ribs_dressed(piece, patterns[piece.pattern], ribs) if ribs is not None else piece
            found[name] = _without(dressed, tabs[piece.pattern], ends.get(name, ()))
        elif piece.pattern in over:
            found[name] = _without(piece, _by_tongs(patterns[piece.pattern]), over[piece.pattern])
    return [one for one in found.values() if one.parts]


def _carried(derived: Derived, only: frozenset[str]) -> dict[str, tuple[_Past, ...]]:
    """The planes past which pieces are carried on, by the pieces' names; of runs with one of these patterns."""
    found: dict[str, tuple[_Past, ...]] = {}
    for end in trim_ends(derived, taped=True, only=only):
        if end.carried:
            found[end.piece] = (*found.get(end.piece, ()), *_past_end(end))
    return found


def _past_end(end: WantedEnd) -> Iterator[_Past]:
    """What of a piece goes past its end: at the foot of a valley each of its sides past the eave of its own face."""
    for n, (at, normal, _) in enumerate(end.planes):
        yield _Past(at, normal, half=(at, end.halves[n]) if n < len(end.halves) else None)


def _tabs(pattern: Pattern) -> frozenset[int]:
    """Parts that hang on the piece by one fold that does not run along it: end tabs and flaps."""
    slant = {fold.id for fold in pattern.folds if abs(fold.a[1] - fold.b[1]) > 1e-6}
    folded = [{name for name in facet.edges if name is not None} for facet in fold_tree(pattern).facets]
    return frozenset(n for n, names in enumerate(folded) if names and names <= slant)


@lru_cache(maxsize=1024)  # every panel of a face asks for them
def _over_creases(derived: Derived, face: str, kinds: tuple[str, ...] = ("hip", "ridge")) -> tuple[_Plane, ...]:
    """Pans are left longer along hips and ridges, and turned up or down there: under the line of the cap, which of
    unequal pitches does not lie plumb over that of the roof."""
    found = list[_Plane]()
    for edge in derived.roof.edges_of(face):
        if edge.kind in kinds:
            frame, at = beside_edge(derived.roof, edge, face)
            level = cross(frame[0], _up_to_the_cap(derived, edge))
            level = level / np.linalg.norm(level)
            found.append((at, level if float(level @ frame[1]) < 0 else -level))
    return tuple(found)


@lru_cache(maxsize=1024)
def _past_creases(derived: Derived, face: str, kinds: tuple[str, ...] = ("hip", "ridge")) -> tuple[_Past, ...]:
    """What of a face's panels goes past its creases, each as far as it goes: where one turns outward into the next, as
    a wing's ridge into the hip of the house, the face goes on beside it."""
    edges = [edge for edge in derived.roof.edges_of(face) if edge.kind in kinds]
    found = list[_Past]()
    for edge, (at, normal) in zip(edges, _over_creases(derived, face, kinds), strict=True):
        ends = list[_Plane]()
        for end, start in ((np.array(edge.a), np.array(edge.b)), (np.array(edge.b), np.array(edge.a))):
            away = (end - start) / np.linalg.norm(end - start)
            outward = any(float((np.array(far) - at) @ normal) > _REACH for other in edges if other is not edge
                          for near, far in ((other.a, other.b), (other.b, other.a)) if math.dist(near, end) < _REACH)
            ends.append((end + away * (0.0 if outward else _GOES_ON), away))
        found.append(_Past(at, normal, tuple(ends)))
    return tuple(found)


def over_ridges(derived: Derived, stands: Iterable[Standing]) -> list[Standing]:
    """All that stands, flanges of valleys only as far as the ridge of their face: where that runs close above their
    head they are dressed over it."""
    valleys = {piece.id: found.edge.facets for run in derived.runs if run.run.kind == "valley" and not run.run.layer
               and (found := derived.edge_runs.get(run.run.id)) is not None for piece in run.pieces}
    return [_over_the_ridge(derived, valleys[one.pattern], one) if one.pattern in valleys else one for one in stands]


def _over_the_ridge(derived: Derived, faces: tuple[str, ...], piece: Standing) -> Standing:
    parts = list(piece.parts)
    for face in faces:
        square = np.array(derived.roof.facet(face).plane.normal)
        ridges = sorted(_over_creases(derived, face, ("ridge",)), key=lambda plane: float(plane[0][2]))
        for at, normal in ridges[-1:]:
            parts = [before_plane(part, normal, float(at @ normal))[0] if abs(float(one @ square)) > _FLAT else part
                     for part, one in zip(parts, piece.normals, strict=True)]
    return replace(piece, parts=tuple(part for part in parts if len(part) > 2), flats=())


def _up_to_the_cap(derived: Derived, edge: Edge) -> Array:
    """From a crease's line to that of the trim over it, 1 mm long; plumb where none is raised."""
    run = next((one for one in derived.runs if not one.run.layer and one.pieces and (
        found := derived.edge_runs.get(one.run.id)) is not None and found.edge.id == edge.id), None)
    _, _, (_, out, up) = run_frame(derived.roof, edge)
    by = lift_of(derived, run) if run is not None and edge.kind in ("hip", "ridge") else np.zeros(2)
    way = out * by[0] + up * by[1]
    return np.asarray(way / np.linalg.norm(way)) if by.any() else np.array([0.0, 0.0, 1.0])


def within_creases(derived: Derived, panel: LaidPanel) -> Standing:
    """A bought panel as it stands when what it is left longer at hips and ridges is turned up or down there; what its
    seams go on past a pitch break is cut down, where the rake below goes over it."""
    seams = _without(Standing(panel.id, panel.id, panel.seams), frozenset(),
                     _past_creases(derived, panel.face, ("pitch-break",)))
    piece = Standing(panel.id, panel.id, (panel.ring, *seams.parts))
    return _without(piece, frozenset(), _past_creases(derived, panel.face))


def _over_heads(derived: Derived, standing: dict[str, Standing]) -> tuple[NDArray[np.object_], Array, Array]:
    """The parts of the trims and caps that lie over the heads of valleys, in plan, a little grown, and the boxes round
    them, mm."""
    over = {piece.id for run in derived.runs for piece in run.pieces
            if (found := derived.edge_runs.get(run.run.id)) is not None and found.edge.kind in _OVER_HEADS}
    over |= {piece.pattern.id for one in derived.openings if isinstance(one.form, RidgeJoint | DormerRidge)
             for piece in one.pieces}
    parts = [part for piece in standing.values() if piece.pattern in over for part in piece.parts]
    lows, highs = boxes(parts)
    hulls = shapely.convex_hull(np.array([shapely.MultiPoint(part[:, :2]) for part in parts], dtype=object))
    return shapely.buffer(hulls, _REACH), lows[:, :2] - _REACH, highs[:, :2] + _REACH


@dataclass(frozen=True)
class _FlatRibs:
    """Where the ribs of a valley's piece, under folds ``tops``, are laid flat on its ``faces``: past the planes of
    ``ends``."""

    tops: frozenset[str]
    ends: tuple[_Plane, ...]
    faces: list[Plane]


def _flat_by_piece(derived: Derived, standing: dict[str, Standing],
                   patterns: dict[str, Pattern]) -> dict[str, _FlatRibs]:
    """The valleys' pieces whose ribs are laid flat, by their patterns: of all where something lies over the head, of
    the lowest alone where something lies over the foot."""
    caps, found = None, dict[str, _FlatRibs]()
    for run in derived.runs:
        tops = frozenset(fold for fold, field in run.detail.turn_fields.items() if field == "apex")
        edge_run = derived.edge_runs.get(run.run.id)
        if edge_run is None or edge_run.edge.kind != "valley" or not tops:
            continue
        edge, mine = edge_run.edge, {piece.id for piece in run.pieces}
        pieces = [one for one in standing.values() if one.pattern in mine]
        if not pieces:
            continue
        caps = caps or _over_heads(derived, standing)
        lowest = min(((float(one.middle[2]), one.pattern) for one in pieces), default=(0.0, ""))[1]
        wide = max((_rib_reach(edge, one, patterns[one.pattern], tops) for one in pieces), default=0.0)
        foot, head = sorted((np.array(edge.a), np.array(edge.b)), key=lambda end: float(end[2]))
        high, low = _flat_from(head, foot, wide, caps), _flat_from(foot, head, wide, caps)
        for name in mine:
            ends = (*high, *(low if name == lowest else ()))
            if ends:
                found[name] = _FlatRibs(tops, ends, [derived.roof.facet(face).plane for face in edge.facets])
    return found


def _rib_reach(edge: Edge, piece: Standing, pattern: Pattern, tops: frozenset[str]) -> float:
    """How far the ribs of a piece reach beside a valley's line, in plan, mm."""
    (ax, ay), (bx, by) = edge.a[:2], edge.b[:2]
    square = np.array([by - ay, ax - bx]) / math.hypot(bx - ax, by - ay)
    return max((float(np.abs((part[:, :2] - (ax, ay)) @ square).max()) for part, facet
                in zip(piece.parts, fold_tree(pattern).facets, strict=True)
                if len(part) and not tops.isdisjoint(facet.edges)), default=0.0)


def _flat_from(end: Array, other: Array, wide: float,
               caps: tuple[NDArray[np.object_], Array, Array]) -> tuple[_Plane, ...]:
    """The plane past which caps or rakes lie over the ribs at a valley's ``end``, which reach ``wide`` mm beside its
    line; none where nothing lies over them."""
    line = shapely.LineString([end[:2], other[:2]])
    band = line.buffer(max(wide, _REACH), cap_style="flat")
    parts, lows, highs = caps
    near = (lows <= np.maximum(end, other)[:2] + wide).all(axis=1) & (
        highs >= np.minimum(end, other)[:2] - wide).all(axis=1)
    cuts = overlay.intersection(band, parts[near])
    far = 0.0
    for low, high in sorted((min(ends), max(ends)) for cut in cuts if not cut.is_empty
                            for ends in [[line.project(shapely.Point(at)) for at in shapely.get_coordinates(cut)]]):
        far = max(far, high) if low < far + _BETWEEN else far
    if far <= 0.0:
        return ()
    way = (end - other) / np.linalg.norm(end - other)
    return ((end - way * (far + _BESIDE) * float(np.linalg.norm(end - other)) / line.length, way),)


def _ribs_dressed(piece: Standing, pattern: Pattern, flat: _FlatRibs) -> Standing:
    """A valley's piece with the legs beside the tops of its ribs laid flat on its faces past the planes."""
    stands, laid = list[Array](), list[Array]()
    for part, facet in zip(piece.parts, fold_tree(pattern).facets, strict=True):
        rib, kept = not flat.tops.isdisjoint(facet.edges), part
        for at, way in flat.ends if rib else ():
            level = float(at @ way)
            down = before_plane(part, -way, _PASSES - level)[0]
            laid += _laid_down(down, (at, way), flat.faces) if len(down) > 2 else []
            kept = before_plane(kept, way, level)[0] if len(kept) else kept
        stands.append(kept)
    return replace(piece, parts=(*stands, *laid), flats=())


def _laid_down(part: Array, line: _Plane, faces: list[Plane]) -> list[Array]:
    """A part (n, 3) brought down square to a valley's ``line`` (a place, mm, and its way) onto its faces: what lies
    beside the line on either onto that one."""
    at, way = line
    down, across = way * way[2] - np.array([0.0, 0.0, 1.0]), np.array([way[1], -way[0], 0.0])
    level, laid = float(at @ across), list[Array]()
    for half in (before_plane(part, across, level)[0], before_plane(part, -across, -level)[0]):
        if len(half) > 2:
            over = [((half - np.array(face.at((0.0, 0.0)))) @ np.array(face.normal)) / -float(
                down @ np.array(face.normal)) for face in faces]
            laid.append(half + np.outer(np.maximum(np.min(over, axis=0), 0.0), down))
    return laid


def _by_tongs(pattern: Pattern) -> frozenset[int]:
    """Parts with a fold made by tongs, but for the floor: the largest one that others hang on by the brake, too."""
    tongs = {fold.id for fold in pattern.folds if fold.by == "tongs"}
    facets = fold_tree(pattern).facets
    braked = [bool({name for name in facet.edges if name is not None} - tongs) for facet in facets]
    floor = max(range(len(facets)), key=lambda n: (braked[n], facets[n].area))
    return frozenset(n for n, facet in enumerate(facets) if n != floor and not tongs.isdisjoint(facet.edges))


def _without(piece: Standing, tabs: frozenset[int], ends: tuple[_Past, ...]) -> Standing:
    if not (tabs or ends) and all(len(part) > 2 for part in piece.parts):
        return piece
    parts = [part for n, part in enumerate(piece.parts) if n not in tabs and len(part) > 2]
    for end in ends:
        parts = [left for part in parts for left in end.cut_off(part)]
    return replace(piece, parts=tuple(parts), flats=())
