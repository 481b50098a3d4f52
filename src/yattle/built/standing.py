"""A piece folded up from its written pattern and put at its place: the check's own view of it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from yattle import overlay
from yattle.built.placed import PlacedPiece, name_of
from yattle.pattern import Pattern
from yattle.pattern.folded import FoldTree, fold_tree
from yattle.pattern.rings import area_vectors, cross
from yattle.pattern.surface import Array


@dataclass(frozen=True)
class Standing:
    """``name`` as in the answer; ``parts``: the corners (n, 3) of its flat parts in the roof's
    coordinates, mm; ``flats``: the same corners (n, 2) on its sheet; ``hems``: of each the part it is folded on, its
    own part, and how far it is turned, degrees, more than 0 toward the paint."""

    name: str
    pattern: str
    parts: tuple[Array, ...]
    flats: tuple[Array, ...] = ()
    hems: tuple[tuple[int, int, float], ...] = ()

    @cached_property
    def sizes(self) -> tuple[float, ...]:
        """The area of each part, mm²."""
        return tuple(np.linalg.norm(self._areas, axis=1).tolist())

    @cached_property
    def normals(self) -> tuple[Array, ...]:
        """Square to each part, 1 mm long."""
        return tuple(self._areas / np.maximum(self.sizes, 1e-9)[:, None])

    @cached_property
    def _areas(self) -> Array:
        return area_vectors(self.parts)

    @cached_property
    def plans(self) -> NDArray[np.object_]:
        """Its parts in plan."""
        return overlay.polygons([part[:, :2] for part in self.parts])

    @cached_property
    def way(self) -> Array:
        """Along the piece: its longest side, 1 mm long."""
        sides = np.concatenate([np.roll(part, -1, axis=0) - part for part in self.parts])
        longs = np.linalg.norm(sides, axis=1)
        return np.asarray(sides[int(np.argmax(longs))] / longs.max())

    @cached_property
    def middle(self) -> Array:
        """The mean of its corners, mm."""
        return np.asarray(np.concatenate(self.parts).mean(axis=0))


Spot = tuple[float, float, float]
"""A place in the roof's coordinates, mm."""


def spot(place: Array) -> Spot:
    """A place as plain numbers, mm."""
    x, y, z = place.tolist()
    return x, y, z


def axes_in(square: Array) -> tuple[Array, Array]:
    """Two ways in a plane, square to each other and to the plane's ``square``, all 1 mm long."""
    u = cross(square, np.eye(3)[int(np.argmin(np.abs(square)))])
    u = u / np.linalg.norm(u)
    return u, cross(square, u)


def stand(pattern: Pattern, placed: PlacedPiece) -> Standing:
    """A pattern folded up sharp, the part that its base lies in kept at z = 0, then carried to its place, mm."""
    tree = _kept(fold_tree(pattern), placed.base)
    turn, at = placed.place[:, :3], placed.place[:, 3]
    name = name_of(pattern.id, placed.copy, pattern.qty)
    folded = tree.folded()
    return Standing(name, pattern.id, tuple(part.space @ turn.T + at for part in folded),
                    tuple(part.flat for part in folded), tuple(_hems(pattern, tree)))


def _hems(pattern: Pattern, tree: FoldTree) -> Iterator[tuple[int, int, float]]:
    """Every hem as the part it is folded on, its own part and its turn; of a crease between two parts that other folds
    hold, as in a pocket, the part that a hem turned comes first."""
    found = {one.fold.id: (one.parent, one.child) for one in tree.joints if one.fold.kind == "hem"}
    turned = {hem for _, hem in found.values()}
    for fold in pattern.folds:
        if fold.kind == "hem" and fold.id not in found:
            long = {n: _along(part.flat, part.edges, fold.id) for n, part in enumerate(tree.facets)}
            most = [n for n in sorted(long, key=lambda n: -long[n])[:2] if long[n] > 0.0]
            parts = sorted(most, key=lambda n: n not in turned)
            if len(parts) == 2:  # else the sheet ends before it: nothing is folded there
                found[fold.id] = parts[0], parts[1]
    yield from ((*found[fold.id], fold.turn) for fold in pattern.folds if fold.id in found)


def _along(flat: Array, edges: tuple[str | None, ...], fold: str) -> float:
    """How far a flat part goes along a fold, mm."""
    lengths = np.linalg.norm(np.roll(flat, -1, axis=0) - flat, axis=1)
    return float(sum(long for long, on in zip(lengths, edges, strict=True) if on == fold))


def _kept(tree: FoldTree, base: tuple[float, float]) -> FoldTree:
    """The tree folded up from the part that ``base`` lies in. Where the sheet has none there, from its largest one."""
    import shapely

    at = shapely.Point(base)
    inside = (n for n, facet in enumerate(tree.facets) if _boxed(facet.flat, base)
              and shapely.Polygon(facet.flat).buffer(0).covers(at))
    return replace(tree, base=next(inside, tree.base))


def _boxed(flat: Array, at: tuple[float, float]) -> bool:
    """Whether a place lies in the box round a flat part, mm."""
    (left, low), (right, high) = flat.min(axis=0).tolist(), flat.max(axis=0).tolist()
    return bool(left <= at[0] <= right and low <= at[1] <= high)


def stand_all(patterns: Iterable[Pattern], placed: Iterable[PlacedPiece]) -> dict[str, Standing]:
    """Every piece that has a place, by its name."""
    known: Mapping[str, Pattern] = {pattern.id: pattern for pattern in patterns}
    standing = (stand(known[one.pattern], one) for one in placed if one.pattern in known)
    return {one.name: one for one in standing}
