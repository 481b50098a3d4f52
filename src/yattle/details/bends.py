"""Segment bends: round pipe brought round a corner in straight pieces."""

from __future__ import annotations

import math
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from yattle.bounds import Id, LapOrNone, Size, SizeOrNone
from yattle.details.forms import Array, Form, parts_for, ruled, true_to_girth
from yattle.details.rounds import circle
from yattle.errors import InputError
from yattle.pattern.surface import Surface


class SegmentBend(Form):
    """A bend of ``degrees`` in round pipe of ``diameter``, its inside bent to the radius ``throat``, of ``segments``
    pieces: two ends, each half as long as those between. ``collar`` goes straight on at both ends, ``lap`` is the
    seams'."""

    detail: Literal["bend"] = "bend"
    id: Id = "EB1"
    diameter: Size
    degrees: Annotated[float, Field(ge=5, le=180)] = 90.0
    throat: SizeOrNone = 50.0
    segments: Annotated[int, Field(ge=2, le=20)] = 4
    collar: SizeOrNone = 20.0
    lap: LapOrNone = 12.0

    @property
    def mitre(self) -> float:
        """The angle of each cut off square, degrees: the bend in halves of a middle piece."""
        return self.degrees / (2 * (self.segments - 1))

    def surfaces(self) -> tuple[Surface, ...]:
        """The pieces, laid round the bend. Raises :class:`InputError` where a cut would be sharper than 60° from
        square, or nothing is left inside."""
        if self.mitre > 60:
            raise InputError("segments", f"{self.segments}", f"more than {self.segments} for {self.degrees:g}°: cuts "
                                                             f"of "
                             f"{self.mitre:.0f}° cannot be made")
        if self.throat + self.collar < 1:
            raise InputError("throat", f"{self.throat:g} mm", "a throat or a collar: nothing is left of the inside")
        parts = parts_for(self.diameter / 2, self.chord)
        ring = circle(true_to_girth(self.diameter / 2, parts), parts)
        half = self._rulings(ring)
        end = ruled("bend, end", ring, self._up(ring, half + self.collar), self.lap)
        made = [Surface(end.name, end.faces, end.creases, 2)]
        if self.segments > 2:
            middle = ruled("bend, middle", self._up(ring, -half), self._up(ring, half), self.lap)
            made.append(Surface(middle.name, middle.faces, middle.creases, self.segments - 2))
        return tuple(made)

    def _rulings(self, ring: Array) -> Array:
        """Half of each ruling of a middle piece: (throat + r − x) · tan(mitre), x toward the inside of the bend."""
        radius = self.throat + self.diameter / 2
        return np.asarray((radius - ring[:, 0]) * math.tan(math.radians(self.mitre)))

    def _up(self, ring: Array, by: Array) -> Array:
        return np.column_stack((ring[:, :2], by))

    @property
    def notes(self) -> tuple[str, ...]:
        parts = parts_for(self.diameter / 2, self.chord)
        return (f"Cut at {self.mitre:.2f}°; on a brake {parts} kinks of {360 / parts:.2f}° make each piece round.",
                "Seams stand on the inside of the bend in one piece, on the outside in the next.")
