"""A piece as it stands installed: flat faces in space, sharp at their mould lines, and the creases that join them."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from yattle.errors import InputError

Array = NDArray[np.float64]
Corner = tuple[float, float, float]
LOCK = 179.999  # degrees: from here on a fold is doubled over
FLAT = 1e-6  # mm: how far a face's corners may be off its plane


@dataclass(frozen=True)
class Face:
    """A flat face: its corners anticlockwise as its paint face is seen, mm; ``holes`` clockwise; ``marks``: lines drawn
    on it, from where to where, with what is written there. ``layer``: which way, and how many sheets, it lies off its
    plane where faces lie doubled over, so that these are told apart."""

    name: str
    corners: tuple[Corner, ...]
    holes: tuple[tuple[Corner, ...], ...] = ()
    marks: tuple[tuple[Corner, Corner, str], ...] = ()
    layer: Corner = (0.0, 0.0, 0.0)

    @property
    def normal(self) -> Array:
        """The unit normal, out of the paint face."""
        return np.array(self.paint)

    @cached_property
    def paint(self) -> Corner:
        """The unit normal of the paint face, worked out in plain numbers by the area vector: right for any simple
        outline. Raises :class:`InputError` where it has no area."""
        x = y = z = 0.0
        ax, ay, az = self.corners[0]
        before = (0.0, 0.0, 0.0)
        for px, py, pz in self.corners[1:]:  # in plain numbers: a round has hundreds of faces
            now = (px - ax, py - ay, pz - az)
            x += before[1] * now[2] - before[2] * now[1]
            y += before[2] * now[0] - before[0] * now[2]
            z += before[0] * now[1] - before[1] * now[0]
            before = now
        size = math.sqrt(x * x + y * y + z * z)
        if size < FLAT:
            raise InputError(self.name, "a face without area", "corners that are not all on one line")
        return x / size, y / size, z / size


def side_of(layer: Corner, beneath: Corner, paint: Corner) -> float:
    """On which side of a face, whose layer is ``beneath`` and whose paint looks to ``paint``, another one of ``layer``
    lies doubled over it: 1 on its paint, −1 on its back, 0 where the layers do not say."""
    above = sum((a - b) * p for a, b, p in zip(layer, beneath, paint, strict=True))
    return 0.0 if abs(above) < 1e-6 else math.copysign(1.0, above)


@dataclass(frozen=True)
class Crease:
    """An edge that is folded: face ``parent`` from its corner ``at`` to the next, to face ``child``.

    ``by``: who or what folds it
    ``roll``: a ruling of a curved surface, bent without a fold of its own
    ``soft``: dressed by hand, without an allowance
    """

    parent: int
    at: int
    child: int
    by: Literal["brake", "tongs"] = "brake"
    roll: bool = False
    soft: bool = False


@dataclass(frozen=True)
class Surface:
    """Faces, the creases that join them from face 0 outward (parents before children), how many like pieces.

    ``closing`` creases are folded too, but join faces that hang together already: round a pocket. ``paper``: a template
    to be printed, not cut from the coil. ``straight``: a section along a line, which lies with its folds along x.
    ``also``: where each further like piece stands, as (x, y, z) mm off the first one, and whether turned half round.
    """

    name: str
    faces: tuple[Face, ...]
    creases: tuple[Crease, ...] = ()
    qty: int = 1
    closing: tuple[Crease, ...] = ()
    paper: bool = False
    straight: bool = False
    also: tuple[tuple[Corner, bool], ...] = ()
