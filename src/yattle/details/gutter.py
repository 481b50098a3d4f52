"""The corner of a box gutter where two eaves meet: two arms mitred on the line that halves the angle."""

from __future__ import annotations

import math
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from yattle.bounds import Id, LapOrNone, Size, SizeOrNone
from yattle.details.feet import UP, Array
from yattle.details.forms import Form
from yattle.errors import InputError
from yattle.pattern.body import Body
from yattle.pattern.surface import Surface


class GutterCorner(Form):
    """A gutter that goes round a corner of the eaves. Lengths in mm, angles in degrees. A mitre is the shortest seam.

    ``back``: its height at the wall; ``bottom``: its width; ``front``: its height outside; ``lip``: turned in there
    ``turn``: of the eaves in plan; ``corner``: ``outer`` round the house's own, ``inner`` in one that runs in
    ``arm``: each arm along the wall to the corner
    ``lap``: the rivet tabs of the seam, on the right arm, inside the left one
    """

    detail: Literal["gutter-corner"] = "gutter-corner"
    id: Id = "GC1"
    back: Size = 110.0
    bottom: Size = 120.0
    front: Size = 85.0
    lip: SizeOrNone = 15.0
    turn: Annotated[float, Field(ge=5, le=150)] = 90.0
    corner: Literal["outer", "inner"] = "outer"
    arm: Size = 300.0
    lap: LapOrNone = 25.0

    @property
    def section(self) -> list[tuple[float, float]]:
        """Corners of the section, mm: out from the wall, up."""
        points = [(0.0, self.back), (0.0, 0.0), (self.bottom, 0.0), (self.bottom, self.front)]
        return [*points, (self.bottom - self.lip, self.front)] if self.lip else points

    @property
    def slant(self) -> float:
        """How much further an arm runs for each mm out from the wall: tan of half the turn, less at an inner corner."""
        return math.tan(math.radians(self.turn) / 2) * (1 if self.corner == "outer" else -1)

    @property
    def seam(self) -> float:
        """The length of the mitred seam over the whole section, mm."""
        stretch = math.hypot(1.0, self.slant)
        return self.back + self.bottom * stretch + self.front + self.lip * stretch

    def surfaces(self) -> tuple[Surface, ...]:
        """Its two arms, mitred. Raises :class:`InputError` where an arm is too short for an inner corner, or the lip
        wider than the bottom."""
        if self.arm + self.bottom * min(self.slant, 0.0) < 40:
            raise InputError("arm", f"{self.arm:g} mm", f"{40 - self.bottom * self.slant:.0f} mm or more: in an inner "
                             "corner the front is shorter than the wall")
        if self.lip >= self.bottom:
            raise InputError("lip", f"{self.lip:g} mm", f"less than the bottom's {self.bottom:g} mm")
        return self._arm(-1).surface(), self._arm(1).surface()

    def _ways(self, hand: int) -> tuple[Array, Array]:
        """Along an arm to the corner, and out from its wall."""
        turn = math.radians(self.turn / 2) * (1 if self.corner == "outer" else -1)
        return (np.array([-hand * math.cos(turn), math.sin(turn), 0.0]),
                np.array([hand * math.sin(turn), math.cos(turn), 0.0]))

    def _arm(self, hand: int) -> Body:
        along, out = self._ways(hand)
        body = Body(f"gutter corner, {'left' if hand < 0 else 'right'} arm")
        mitre = [out * x + UP * z + along * x * self.slant for x, z in self.section]
        far = [out * x + UP * z - along * self.arm for x, z in self.section]
        legs = []
        for n, name in enumerate(("back", "bottom", "front", "lip")[:len(mitre) - 1]):
            paint = (-out, -UP, out, UP)[n]
            legs.append(body.add(name, [mitre[n], mitre[n + 1], far[n + 1], far[n]], paint))
            if n:
                body.fold(legs[n - 1], legs[n], mitre[n], far[n])
        if hand > 0 and self.lap:
            self._tabs(body, legs[:3], mitre)
        return body

    def _tabs(self, body: Body, legs: list[int], mitre: list[Array]) -> None:
        """Rivet tabs on back, bottom and front, each in its plane of the other arm."""
        along, out = self._ways(-1)
        for n, leg in enumerate(legs):
            a, b = mitre[n], mitre[n + 1]
            size = float(np.linalg.norm(b - a))
            tip = min(self.lap, 0.3 * size)
            slope = self.slant if n == 1 else 0.0  # the tab keeps clear of the creases beside it
            body.flap(leg, a, b, -along * self.lap, (-out, -UP, out)[n], "rivet tab", "tongs",
                      (tip + max(slope, 0.0) * tip, tip + max(-slope, 0.0) * tip))

    @property
    def notes(self) -> tuple[str, ...]:
        return (f"Seam {self.seam:.0f} long, mitred at {self.turn / 2:g}°; rivets every 30 in the tabs, two rows of "
                "sealant or solder inside, the outlet away from it.",)
