"""What is dressed by hand on the roof: end tabs, ends carried on over a ridge or turned under at an eave, heads of pans
turned up with the tongs. They are bent round whatever stands there, so that they go through nothing."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from yattle.built.laid import LaidPanel
from yattle.built.run_ends import trim_ends
from yattle.built.standing import Standing, before_plane
from yattle.derive.corners import beside_edge
from yattle.derive.derived import Derived
from yattle.derive.face_pans import PANS, is_pans
from yattle.pattern import Pattern
from yattle.pattern.folded import fold_tree
from yattle.pattern.surface import Array

_Plane = tuple[Array, Array]  # a point of it, mm, and its normal out of the piece


def stiff(derived: Derived, standing: dict[str, Standing]) -> list[Standing]:
    """All that stands, of trims only what keeps its shape."""
    found = dict(standing)
    patterns = {pattern.id: pattern for pattern in derived.patterns}
    ends = _carried(derived, frozenset(one.pattern for one in standing.values()))
    trims = {piece.id for run in derived.runs for piece in run.pieces}
    over = {piece.pattern.id: tuple(_over_creases(derived, one.id.removeprefix(f"{PANS} ")))
            for one in derived.openings if is_pans(one) for piece in one.pieces}
    for name, piece in standing.items():
        if piece.pattern in trims:
            found[name] = _without(piece, _tabs(patterns[piece.pattern]), ends.get(name, ()))
        elif piece.pattern in over:
            found[name] = _without(piece, _by_tongs(patterns[piece.pattern]), over[piece.pattern])
    return [one for one in found.values() if one.parts]


def _carried(derived: Derived, only: frozenset[str]) -> dict[str, tuple[_Plane, ...]]:
    """The planes past which pieces are carried on, by the pieces' names; of runs with one of these patterns."""
    found: dict[str, tuple[_Plane, ...]] = {}
    for end in trim_ends(derived, taped=True, only=only):
        if end.carried:
            found[end.piece] = (*found.get(end.piece, ()), *((at, normal) for at, normal, _ in end.planes))
    return found


def _tabs(pattern: Pattern) -> frozenset[int]:
    """Parts that hang on the piece by one fold that does not run along it: end tabs and flaps."""
    slant = {fold.id for fold in pattern.folds if abs(fold.a[1] - fold.b[1]) > 1e-6}
    folded = [{name for name in facet.edges if name is not None} for facet in fold_tree(pattern).facets]
    return frozenset(n for n, names in enumerate(folded) if names and names <= slant)


def _over_creases(derived: Derived, face: str) -> Iterator[_Plane]:
    """Pans are left longer along hips and ridges, and turned up or down there."""
    for edge in derived.roof.edges_of(face):
        if edge.kind in ("hip", "ridge"):
            frame, at = beside_edge(derived.roof, edge, face)
            level = np.cross(frame[0], np.array([0.0, 0.0, 1.0]))
            yield at, level if float(level @ frame[1]) < 0 else -level


def within_creases(derived: Derived, panel: LaidPanel) -> Standing:
    """A bought panel as it stands when what it is left longer at hips and ridges is turned up or down there."""
    piece = Standing(panel.id, panel.id, (panel.ring, *panel.seams))
    return _without(piece, frozenset(), tuple(_over_creases(derived, panel.face)))


def _by_tongs(pattern: Pattern) -> frozenset[int]:
    """Parts with a fold made by tongs, but for the largest one, on which they hang."""
    tongs = {fold.id for fold in pattern.folds if fold.by == "tongs"}
    facets = fold_tree(pattern).facets
    largest = max(range(len(facets)), key=lambda n: facets[n].area)
    return frozenset(n for n, facet in enumerate(facets) if n != largest and not tongs.isdisjoint(facet.edges))


def _without(piece: Standing, tabs: frozenset[int], ends: tuple[_Plane, ...]) -> Standing:
    parts = [part for n, part in enumerate(piece.parts) if n not in tabs]
    for at, normal in ends:
        parts = [cut for part in parts if len(cut := before_plane(part, normal, float(at @ normal))[0]) > 2]
    return replace(piece, parts=tuple(parts), flats=())
