"""Where the ends of a run should be: its planes in the roof, and how far its first and last piece go beyond them."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

import numpy as np

from yattle.built.standing import Spot, Standing, spot
from yattle.pattern.rings import area_vector
from yattle.pattern.surface import Array

_LEVEL = 0.9  # cosine: a pan's floor lies level with its panel
_SIDE = 20.0  # mm: shorter sides of an outline are not asked
_WIDE = 0.3  # of a piece's largest part: narrower ones are hems and stiffenings, cut back at ends
OFF = 3.0  # mm that an end may be off: what marking out, cutting and setting scatter together


@dataclass(frozen=True)
class WantedEnd:
    """A run's end: the piece there, by its name; the ``planes`` that it ends at, that on the side of edge A and that of
    edge B where they are two, each a point, mm, a normal out of the piece, and by how much it should go on past it,
    mm; ``on``: what is there; ``halves``: where the first two cut a half of it each, at one corner, the ways from the
    run's line into them, 1 mm long."""

    piece: str
    on: str
    planes: tuple[tuple[Array, Array, float], ...]
    halves: tuple[Array, ...] = ()

    @property
    def carried(self) -> bool:
        """Whether it goes on past them, to be dressed."""
        return any(beyond > OFF for *_, beyond in self.planes)


@dataclass(frozen=True)
class Reach:
    """How far a piece goes past the plane where its run ends, or a ``leg`` of it past the line where that should end,
    ``have`` of ``want`` mm, and where."""

    piece: str
    on: str
    have: float
    want: float
    at: Spot
    leg: bool = False

    @property
    def ok(self) -> bool:
        return abs(self.have - self.want) <= OFF


def reach(piece: Standing, end: WantedEnd) -> Reach:
    """How far a piece goes beyond the plane of its end at the most, mm. Where two planes cut it, each of its wide parts
    ends at one of them: what that one which is most off does."""
    if len(end.planes) == 1:
        return _said(piece, end, np.concatenate(piece.parts), end.planes[0])
    wide = max(piece.sizes) * _WIDE
    found = [min((_said(piece, end, part, plane) for plane in end.planes), key=lambda one: abs(one.have - one.want))
             for part, size in zip(piece.parts, piece.sizes, strict=True) if size >= wide]
    return max(found, key=lambda one: abs(one.have - one.want))


def _said(piece: Standing, end: WantedEnd, corners: Array, plane: tuple[Array, Array, float]) -> Reach:
    off = (corners - plane[0]) @ plane[1]
    far = int(np.argmax(off))
    return Reach(piece.name, end.on, float(off[far]), plane[2], spot(corners[far]))


def reaches(stiff: dict[str, Standing], standing: dict[str, Standing], ends: Iterable[WantedEnd]) -> Iterator[Reach]:
    """Every end of those that have places, in mm, by what keeps its shape; of an end carried on to be dressed by all of
    it."""
    for end in ends:
        pieces = standing if end.carried else stiff
        if end.piece in pieces and pieces[end.piece].parts:
            yield reach(pieces[end.piece], end)


def outlines(standing: dict[str, Standing], wanted: Iterable[tuple[str, Array]]) -> Iterator[Reach]:
    """Every pan's floor held against its panel's outline (n, 3) in mm: square to each side, as far as that goes; of
    each pan the side that is most off."""
    for name, ring in wanted:
        if name not in standing:
            continue
        piece = standing[name]
        square = area_vector(ring) / np.linalg.norm(area_vector(ring))
        level = [size * (abs(float(normal @ square)) > _LEVEL) for size, normal in zip(
            piece.sizes, piece.normals, strict=True)]
        floor = piece.parts[int(np.argmax(level))]
        sides = np.roll(ring, -1, axis=0) - ring
        long = np.linalg.norm(sides, axis=1)
        ways = np.cross(sides[long > _SIDE] / long[long > _SIDE, None], square)
        have, want = (floor @ ways.T).max(axis=0), (ring @ ways.T).max(axis=0)
        worst = int(np.argmax(np.abs(have - want)))
        at = floor[int(np.argmax(floor @ ways[worst]))]
        yield Reach(name, "its panel's outline", float(have[worst] - want[worst]), 0.0, spot(at))
