"""What stands through the roof in its openings: chimneys, curbs, pipes, as the survey has them."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
import shapely

from yattle import overlay
from yattle.built.frames import opening_frame
from yattle.built.structure import BuildingPart
from yattle.derive.derived import Derived
from yattle.derive.openings import DerivedOpening
from yattle.details.chimney import Chimney
from yattle.details.curb import Curb
from yattle.details.pipe import Pipe
from yattle.pattern.surface import Array
from yattle.roof import Roof
from yattle.roof.openings import Placed, outline

_ROUND = 48  # sides that stand for a pipe
_HIGH = 400.0  # mm of a chimney or a pipe that are there over the roof


@dataclass(frozen=True)
class OpeningBody:
    """What stands in one opening: its upright sides, each (4, 3), in mm, its outside to the eye that sees them
    anticlockwise; ``round``: a pipe, whose hole is cut on the roof."""

    opening: str
    sides: tuple[Array, ...]
    round: bool = False

    def parts(self) -> Iterator[BuildingPart]:
        """Its sides as parts of the building."""
        for n, side in enumerate(self.sides, 1):
            yield BuildingPart(f"side {n} of {self.opening}", side, [[0, 1, 2], [0, 2, 3]])


def bodies(derived: Derived) -> tuple[OpeningBody, ...]:
    """Every chimney, curb and pipe that stands on one face or more of the roof."""
    return derived.once("bodies", lambda: tuple(_bodies(derived)))


def _bodies(derived: Derived) -> Iterator[OpeningBody]:
    placed = {one.opening.id: one for one in derived.roof.openings}
    for opening in derived.openings:
        if opening.id in placed and opening.pieces:
            yield from _body(derived, opening, placed[opening.id])


def _body(derived: Derived, opening: DerivedOpening, placed: Placed) -> Iterator[OpeningBody]:
    form, frame = opening.form, opening_frame(derived, opening)
    if frame is None:
        return
    if isinstance(form, Chimney):
        ring = _turned(_box(form.across, form.along), form.turned)
        low = min(z for *_, z in placed.corners) - float(frame.at[2])
        top = max(float(getattr(placed.opening, "top", 0.0) or 0.0), _highest(derived.roof, placed) + _HIGH)
        high = top - float(frame.at[2])
    elif isinstance(form, Curb):
        ring, low, high = _box(form.across, form.along), 0.0, form.height
    elif isinstance(form, Pipe):
        radius = form.diameter / 2
        ring = [(radius * math.cos(2 * math.pi * n / _ROUND), radius * math.sin(2 * math.pi * n / _ROUND))
                for n in range(_ROUND)]
        low, high = -radius * math.tan(math.radians(form.pitch)), _HIGH
    else:
        return
    sides = (np.array([(*a, low), (*b, low), (*b, high), (*a, high)]) for a, b in pairwise([*ring, ring[0]]))
    yield OpeningBody(opening.id, tuple(side @ frame.turn.T + frame.at for side in sides), isinstance(form, Pipe))


def _highest(roof: Roof, placed: Placed) -> float:
    """How high the roof comes at what stands in it, over a ridge between its corners too, mm."""
    stands = shapely.Polygon(outline(placed.opening))
    parts = ((roof.facet(face).plane, overlay.intersection(roof.facet(face).shape, stands)) for face in placed.facets)
    return max([*(float(z) for *_, z in placed.corners), *(
        plane.z((x, y)) for plane, part in parts for x, y in shapely.get_coordinates(part).tolist())])


def _box(across: float, along: float) -> list[tuple[float, float]]:
    return [(s * across / 2, t * along / 2) for s, t in ((-1, -1), (1, -1), (1, 1), (-1, 1))]


def _turned(ring: list[tuple[float, float]], by: float) -> list[tuple[float, float]]:
    cos, sin = math.cos(math.radians(by)), math.sin(math.radians(by))
    return [(x * cos - y * sin, x * sin + y * cos) for x, y in ring]
