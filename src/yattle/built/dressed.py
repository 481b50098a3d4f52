"""What is dressed by hand on the roof: end tabs, ends carried on over a ridge or turned under at an eave, heads of pans
turned up with the tongs. They are bent round whatever stands there, so that they go through nothing."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from yattle.built.layers import trim_of
from yattle.built.standing import Standing
from yattle.derive.corners import beside_edge, run_frame
from yattle.derive.derived import Derived
from yattle.derive.face_pans import is_pans
from yattle.derive.run import DerivedRun
from yattle.pattern import Pattern
from yattle.pattern.folded import fold_tree
from yattle.pattern.surface import Array


@dataclass(frozen=True)
class DressedEnd:
    """A plane beyond which a piece is dressed: a point of it, mm, and its normal away from the piece."""

    at: Array
    normal: Array


def stiff(derived: Derived, standing: dict[str, Standing]) -> list[Standing]:
    """All that stands, of trims only what keeps its shape."""
    found = dict(standing)
    patterns = {pattern.id: pattern for pattern in derived.patterns}
    for run in derived.runs:
        ends = tuple(_dressed_ends(derived, run)) if run.run.id in derived.edge_runs else ()
        for piece in run.pieces:
            for name in (piece.id, *(f"{piece.id}/{n}" for n in range(1, piece.pattern.qty + 1))):
                if name in found:
                    found[name] = _without(found[name], _tabs(patterns[piece.id]), ends)
    for one in derived.openings:
        ends = tuple(_over_creases(derived, one.id.removeprefix("pans "))) if is_pans(one) else ()
        for made in one.pieces if is_pans(one) else ():
            for name in (made.pattern.id, *(f"{made.pattern.id}/{n}" for n in range(1, made.pattern.qty + 1))):
                if name in found:
                    found[name] = _without(found[name], _by_tongs(patterns[made.pattern.id]), ends)
    return [one for one in found.values() if one.parts]


def _tabs(pattern: Pattern) -> frozenset[int]:
    """Parts that hang on the piece by one fold that does not run along it: end tabs and flaps."""
    slant = {fold.id for fold in pattern.folds if abs(fold.a[1] - fold.b[1]) > 1e-6}
    folded = [{name for name in facet.edges if name is not None} for facet in fold_tree(pattern).facets]
    return frozenset(n for n, names in enumerate(folded) if names and names <= slant)


def _over_creases(derived: Derived, face: str) -> Iterator[DressedEnd]:
    """Pans are left longer along hips and ridges, and turned up or down there."""
    for edge in derived.roof.edges_of(face):
        if edge.kind in ("hip", "ridge"):
            frame, at = beside_edge(derived.roof, edge, face)
            level = np.cross(frame[0], np.array([0.0, 0.0, 1.0]))
            yield DressedEnd(at, level if float(level @ frame[1]) < 0 else -level)


def _by_tongs(pattern: Pattern) -> frozenset[int]:
    """Parts with a fold made by tongs, but for the largest one, on which they hang."""
    tongs = {fold.id for fold in pattern.folds if fold.by == "tongs"}
    facets = fold_tree(pattern).facets
    largest = max(range(len(facets)), key=lambda n: facets[n].area)
    return frozenset(n for n, facet in enumerate(facets) if n != largest and not tongs.isdisjoint(facet.edges))


def _without(piece: Standing, tabs: frozenset[int], ends: tuple[DressedEnd, ...]) -> Standing:
    parts = [part for n, part in enumerate(piece.parts) if n not in tabs]
    for end in ends:
        parts = [cut for part in parts if len(cut := _before(part, end)) > 2]
    return replace(piece, parts=tuple(parts), flats=())


def _before(ring: Array, end: DressedEnd) -> Array:
    """A part up to a plane (I. Sutherland and G. Hodgman)."""
    off = (ring - end.at) @ end.normal
    if off.max() <= 0.0:
        return ring
    kept = []
    for k, corner in enumerate(ring):
        before = off[k - 1]
        if (before <= 0.0) != (off[k] <= 0.0):
            share = before / (before - off[k])
            kept.append(ring[k - 1] + (corner - ring[k - 1]) * share)
        if off[k] <= 0.0:
            kept.append(corner)
    return np.array(kept).reshape(-1, 3)


def _dressed_ends(derived: Derived, run: DerivedRun) -> Iterator[DressedEnd]:
    """The planes at which a valley's or hip's pieces are carried over or turned under."""
    own = run.run
    if run.family is None or not run.pieces or own.low is None:
        return
    detail = trim_of(derived, run)
    left, right, frame = run_frame(derived.roof, derived.edge_runs[own.id].edge)
    for side, at, planes, reaches in (("left", left, (own.left_plane, own.left_plane_b), own.reaches[:2]),
                                      ("right", right, (own.right_plane, own.right_plane_b), own.reaches[2:])):
        carried = getattr(detail, "under", 0.0) if own.low == side else getattr(detail, "carry", 0.0)
        out = -1.0 if side == "left" else 1.0
        for plane, reach in zip(planes, reaches, strict=True):
            if carried and plane is not None:
                normal = np.array(plane) @ frame
                yield DressedEnd(at + frame[0] * out * reach, normal * (out if plane[0] > 0 else -out))
