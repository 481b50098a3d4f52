"""Flat trims of walls and boards: fascia, outside corner, inside corner."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from yattle.bounds import Size, SizeOrNone
from yattle.details.beneath import BOARD, behind, legs_in_place
from yattle.details.common import Roles
from yattle.details.trim import SHARP, Leg, Trim, TrimSection, closed_hem


class FasciaTrim(Trim):
    """Round a fascia board: ``head`` on its top, ``face`` down it, ``foot`` back under it. Sizes in mm."""

    detail: Literal["fascia"] = "fascia"
    head: Size = 20.0
    face: Size = 150.0
    foot: Size = 25.0
    hem: SizeOrNone = 12.0

    def sheet(self) -> TrimSection:
        hem = closed_hem(self.hem, "back")
        _, face, _ = legs_in_place(0.0, 0.0, (self.head, self.face, self.foot), (-90.0, -90.0))
        return TrimSection("fascia trim", (Leg("head", "head", self.head), Leg("face", "face", self.face),
                                           Leg("foot", "foot", self.foot)), (-90.0, -90.0), ("", ""), 0.0, hem_b=hem,
                           roles=Roles(face=1), around=(behind(face, "fascia", BOARD, -2.0, -2.0),),
                           notes=("Its head goes under the eave's trim, nailed there: no nail in its face.",),
                           cautions=SHARP)


class _WallCorner(Trim):
    """Two sides that stand plumb, hems back; seen from above, ``angle`` degrees between the walls."""

    side: Size = 75.0
    angle: Annotated[float, Field(ge=30, le=170)] = 90.0
    hem: SizeOrNone = 12.0

    def _sheet(self, name: str, sign: float) -> TrimSection:
        turn, hem = sign * (180.0 - self.angle), closed_hem(self.hem, "back")
        side = Leg("side", "side", self.side)
        one, other = legs_in_place(0.0, self.hem, (self.side, self.side), (turn,))
        return TrimSection(name, (side, side), (turn,), ("angle",), 0.0, hem, hem, roles=Roles(face=0),
                           around=(one.plate("wall", (0.0, one.long), (2.0, 30.0)),
                                   other.plate("", (0.0, other.long), (2.0, 30.0))),
                           notes=("From the foot up: each laps over the one below; cladding closes on its hems.",),
                           cautions=SHARP)


class OutsideCorner(_WallCorner):
    """Round an outer corner of two clad walls. Sizes in mm, angles in degrees."""

    detail: Literal["outside-corner"] = "outside-corner"

    def sheet(self) -> TrimSection:
        return self._sheet("outside corner", -1.0)


class InsideCorner(_WallCorner):
    """Into the inner corner of two clad walls. Sizes in mm, angles in degrees."""

    detail: Literal["inside-corner"] = "inside-corner"

    def sheet(self) -> TrimSection:
        return self._sheet("inside corner", 1.0)
