"""Bears: whether a piece touches the face that it should lie on."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

import numpy as np
import shapely

from yattle import overlay
from yattle.built.standing import Spot, Standing, spot
from yattle.pattern.surface import Array

_OVER = 0.02  # of a part in plan, or of a face that is smaller: as much of it lies over the face it is carried by
_GRID = 1e-4  # mm
TOUCHES = 1.0  # mm: how far a piece may stand off what it lies on; a lap's two sheets of 0.6 are less


@dataclass(frozen=True)
class Ground:
    """What is under a trim on one face: ``on`` its name, a point of the deck's plane and the plane's normal, and how
    high above it, mm, a piece may lie: on the deck, on the panels' flats, on seams or closures; ``shape``: as far as it
    goes in plan, mm; ``None``: a wall or a board; ``above``: what lies on it stays over that height, mm."""

    on: str
    at: Array
    normal: Array
    heights: tuple[float, ...]
    shape: shapely.Geometry | None = None
    above: float = -np.inf

    def under(self, part: Array, plan: shapely.Geometry) -> bool:
        """Whether it is there beneath a part (n, 3) in mm at all, and not only in line with it; its ``plan``."""
        if self.shape is None:
            return bool(part[:, 2].min() > self.above - TOUCHES)
        shapely.prepare(self.shape)  # once
        if shapely.contains_properly(self.shape, plan):
            return True
        shared = overlay.intersection(plan.buffer(0.0), self.shape, grid_size=_GRID)  # borders may lie on each other
        return bool(shared.area > _OVER * min(plan.area, self.shape.area))


@dataclass(frozen=True)
class Contact:
    """A piece on something: ``gap`` mm between what should touch."""

    piece: str
    on: str
    gap: float
    at: Spot

    @property
    def ok(self) -> bool:
        return self.gap <= TOUCHES


def contact(piece: Standing, ground: Ground) -> Contact:
    """How many mm the part of a piece that lies best on the ground is off it, at its worst corner; by shape alone."""
    asked: list[tuple[float, int, int]] = []  # how far off each large part is, at which corner
    for n in piece.seats:
        off = np.abs((piece.parts[n] - ground.at) @ ground.normal - np.array(ground.heights)[:, None])
        worst = off.argmax(axis=1)
        asked += [(float(row[corner]), n, corner) for row, corner in zip(off, worst.tolist(), strict=True)]
    for gap, n, corner in sorted(asked, key=lambda one: one[0]):
        if ground.under(piece.parts[n], piece.plans[n]):
            return Contact(piece.name, ground.on, gap, spot(piece.parts[n][corner]))
    return Contact(piece.name, ground.on, float("inf"), (0.0, 0.0, 0.0))


def contacts(pieces: Iterable[tuple[Standing, tuple[Ground, ...]]]) -> Iterator[Contact]:
    """Each piece on each of its grounds."""
    for piece, grounds in pieces:
        for ground in grounds:
            yield contact(piece, ground)
