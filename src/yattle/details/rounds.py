"""Round things: cones and cylinders, straight or leaning, cut by the roof; a square brought over into a round."""

from __future__ import annotations

import math
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from yattle.bounds import Id, LapOrNone, Place, Size, SizeOrNone
from yattle.details.forms import Array, Form, corner, parts_for, ruled, true_to_girth
from yattle.errors import InputError
from yattle.pattern.surface import Crease, Face, Surface

Pitch = Annotated[float, Field(ge=0, lt=80)]


def circle(radius: float, parts: int, start: float = 0.0) -> Array:
    """Points round the origin, anticlockwise from ``start`` radians back to it, at the height 0: (parts + 1, 3)."""
    angle = start + np.linspace(0, 2 * math.pi, parts + 1)
    return np.column_stack((radius * np.cos(angle), radius * np.sin(angle), np.zeros(parts + 1)))


class Cone(Form):
    """A cone's frustum, or a cylinder where both ends are alike. Lengths in mm, angles in degrees.

    ``bottom``, ``top``: diameters; ``height``: between them
    ``aside``: the top's centre from the bottom's, for an oblique cone
    ``pitch``: cuts its foot by a plane falling toward the side it leans to; without it the foot is level
    """

    detail: Literal["cone"] = "cone"
    id: Id = "C1"
    bottom: Size
    top: SizeOrNone
    height: Size
    aside: Place = 0.0
    pitch: Pitch = 0.0
    lap: LapOrNone = 20.0

    def surfaces(self) -> tuple[Surface, ...]:
        parts = parts_for(max(self.bottom, self.top) / 2, self.chord)
        low = circle(true_to_girth(self.bottom / 2, parts), parts)
        high = circle(true_to_girth(self.top / 2, parts), parts) + np.array([self.aside, 0.0, self.height])
        return (ruled("cone" if self.bottom != self.top else "cylinder", self._cut(low, high), high, self.lap),)

    def _cut(self, low: Array, high: Array) -> Array:
        """Where each ruling meets the plane of the foot, which passes through the bottom's centre."""
        fall = math.tan(math.radians(self.pitch))
        way = high - low
        share = -(low[:, 2] + low[:, 0] * fall) / (way[:, 2] + way[:, 0] * fall)
        if not (np.isfinite(share).all() and share.max() < 0.95):
            raise InputError("pitch", f"{self.pitch:g}°", "a plane that cuts the cone between its foot and its top: "
                             "less pitch, more height or a narrower foot")
        return np.asarray(low + way * share[:, None])


class SquareToRound(Form):
    """From a rectangle below to a round above: four triangles and four parts of oblique cones, by rulings from the
    corners. Lengths in mm.

    ``width``, ``depth``: of the rectangle; ``diameter``: of the round
    ``height``: between them; ``aside``: the round's centre from the rectangle's
    """

    detail: Literal["square-to-round"] = "square-to-round"
    id: Id = "Q1"
    width: Size
    depth: Size
    diameter: Size
    height: Size
    aside: Place = 0.0
    lap: LapOrNone = 20.0

    def surfaces(self) -> tuple[Surface, ...]:
        quarter = max(3, math.ceil(parts_for(self.diameter / 2, self.chord) / 4))
        radius = true_to_girth(self.diameter / 2, 4 * quarter)
        round_ = circle(radius, 4 * quarter) + np.array([self.aside, 0.0, self.height])
        w, d = self.width / 2, self.depth / 2
        corners = np.array([[w, d, 0.0], [-w, d, 0.0], [-w, -d, 0.0], [w, -d, 0.0]])
        seam = np.array([w, 0.0, 0.0])  # in the middle of a side, where it is shortest
        faces = [Face("half side", tuple(corner(p) for p in (seam, corners[0], round_[0])))]
        creases: list[Crease] = []

        def add(name: str, *ring: Array) -> None:
            face = Face(name, tuple(corner(p) for p in ring))
            before = faces[-1].corners
            at = next(k for k in range(len(before)) if before[(k + 1) % len(before)] == face.corners[0]
                      and before[k] == face.corners[1])
            creases.append(Crease(len(faces) - 1, at, len(faces), roll=True))
            faces.append(face)
        for side in range(4):
            for k in range(quarter):
                n = side * quarter + k
                add(f"corner {side + 1}.{k + 1}", round_[n], corners[side], round_[n + 1])
            if side < 3:
                add(f"side {side + 1}", round_[(side + 1) * quarter], corners[side], corners[side + 1])
        add("other half", round_[-1], corners[3], seam)
        return (Surface("square to round", tuple(faces), tuple(creases)),)
