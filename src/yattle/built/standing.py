"""A piece folded up from its written pattern and put at its place: the check's own view of it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from yattle import overlay
from yattle.built.placed import PlacedPiece, name_of
from yattle.pattern import Pattern
from yattle.pattern.folded import FoldTree, fold_tree
from yattle.pattern.rings import area_vectors, boxes, cross, longest_sides
from yattle.pattern.surface import Array

_SAME = 1e-6  # mm: pieces that differ by less lie alike
_SEAT = 12.0  # mm: a part narrower than this over the piece's length is a hem or a stiffening, no seat


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
    def box(self) -> tuple[Array, Array]:
        """Its lowest and its highest coordinates (3,), mm."""
        lows, highs = self._boxes
        return lows.min(axis=0), highs.max(axis=0)

    @cached_property
    def _boxes(self) -> tuple[Array, Array]:
        return boxes(self.parts)

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
    def seats(self) -> tuple[int, ...]:
        """The parts that are large enough to stand on."""
        least = least_seat(self._boxes, self.sizes)
        return tuple(n for n, size in enumerate(self.sizes) if size >= least)

    @cached_property
    def plans(self) -> NDArray[np.object_]:
        """Its parts in plan."""
        return overlay.polygons([part[:, :2] for part in self.parts])

    @cached_property
    def way(self) -> Array:
        """Along the piece: its longest side, 1 mm long."""
        sides, longs = self._sides
        longest = int(np.argmax(longs))
        return np.asarray(sides[longest] / longs[longest])

    @cached_property
    def _sides(self) -> tuple[Array, Array]:
        return longest_sides(self.parts)

    @cached_property
    def middle(self) -> Array:
        """The mean of its corners, mm."""
        return np.asarray(np.concatenate(self.parts).mean(axis=0))


def boxes_of(pieces: Iterable[Standing]) -> tuple[Array, Array]:
    """The lowest and the highest corners (n, 3) of the boxes round some pieces, mm."""
    found = np.array([one.box for one in pieces]).reshape(-1, 2, 3)
    return found[:, 0], found[:, 1]


def least_seat(boxed: tuple[Array, Array], sizes: Sequence[float]) -> float:
    """How large a part of a piece is at the least that it stands on, mm², by the boxes round its parts; of a short
    piece cut slantwise every part is small."""
    lows, highs = boxed
    return min(_SEAT * float((highs - lows).max()) / 2, max(sizes) / 4)


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
    return _carried(_folded(pattern, placed.base), pattern, placed)


@dataclass(frozen=True)
class _Folded:
    """A pattern folded up sharp: the corners (n, 3) of its parts, mm, one after the other, where each begins but for
    the first, and what is told of them."""

    corners: Array
    starts: NDArray[np.int64]
    flats: tuple[Array, ...]
    hems: tuple[tuple[int, int, float], ...]


def _folded(pattern: Pattern, base: tuple[float, float]) -> _Folded:
    tree = _kept(fold_tree(pattern), base)
    folded = tree.folded()
    return _Folded(np.concatenate([part.space for part in folded]), np.cumsum([len(part.flat) for part in folded])[:-1],
                   tuple(part.flat for part in folded), tuple(_hems(pattern, tree)))


def lying_alike(pieces: Sequence[Standing]) -> list[tuple[int, Array]]:
    """For each piece the first one of its pattern that lies as it does, moved alone, and how far it is from there (3,),
    mm."""
    kinds, found = dict[str, list[tuple[int, Array]]](), list[tuple[int, Array]]()
    for n, piece in enumerate(pieces):
        corners = np.concatenate(piece.parts)
        known = kinds.setdefault(piece.pattern, [])
        same = next((one for one in known if one[1].shape == corners.shape and float(
            np.ptp(corners - one[1], axis=0).max()) < _SAME), None)
        if same is None:
            known.append((n, corners))
        found.append((n, np.zeros(3)) if same is None else (same[0], (corners - same[1])[0]))
    return found


def _carried(folded: _Folded, pattern: Pattern, placed: PlacedPiece) -> Standing:
    corners = folded.corners @ placed.place[:, :3].T + placed.place[:, 3]
    return Standing(name_of(pattern.id, placed.copy, pattern.qty), pattern.id,
                    tuple(np.split(corners, folded.starts)), folded.flats, folded.hems)


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

    inside = (n for n, facet in enumerate(tree.facets) if _boxed(facet.flat, base)
              and shapely.intersects_xy(shapely.Polygon(facet.flat), *base))
    return replace(tree, base=next(inside, tree.base))


def _boxed(flat: Array, at: tuple[float, float]) -> bool:
    """Whether a place lies in the box round a flat part, mm."""
    (left, low), (right, high) = flat.min(axis=0).tolist(), flat.max(axis=0).tolist()
    return bool(left <= at[0] <= right and low <= at[1] <= high)


def stand_all(patterns: Iterable[Pattern], placed: Iterable[PlacedPiece]) -> dict[str, Standing]:
    """Every piece that has a place, by its name; copies that keep the same part are folded up once."""
    known: Mapping[str, Pattern] = {pattern.id: pattern for pattern in patterns}
    folded, standing = dict[tuple[str, tuple[float, float]], _Folded](), {}
    for one in (one for one in placed if one.pattern in known):
        pattern, kept = known[one.pattern], (one.pattern, one.base)
        if kept not in folded:
            folded[kept] = _folded(pattern, one.base)
        made = _carried(folded[kept], pattern, one)
        standing[made.name] = made
    _ask_all(list(standing.values()))
    return standing


def _ask_all(standing: Sequence[Standing]) -> None:
    """What every row asks of each piece, worked out of all parts at once, as the piece would work it out by itself."""
    if not standing:
        return
    parts = [part for one in standing for part in one.parts]
    ends = np.cumsum([len(one.parts) for one in standing], dtype=np.int64)[:-1]
    areas, plans = area_vectors(parts), overlay.polygons([part[:, :2] for part in parts])
    asked = areas, plans, *longest_sides(parts), *boxes(parts)
    for one, own, shapes, sides, longs, lows, highs in zip(
            standing, *(np.split(all_of, ends) for all_of in asked), strict=True):
        vars(one).update(_areas=own, plans=shapes, _sides=(sides, longs), _boxes=(lows, highs))
