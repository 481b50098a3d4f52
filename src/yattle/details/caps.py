"""Caps where two faces bend away from each other, and the edge where one face ends at its head."""

from __future__ import annotations

import math
from typing import Annotated, Literal

from pydantic import Field

from yattle.bounds import Opened, Size, SizeOrNone
from yattle.details.beneath import BOARD, behind, legs_in_place, on_deck, on_panels
from yattle.details.common import Roles, Surrounding
from yattle.details.trim import SHARP, Leg, Trim, TrimSection, closed_hem


def _under_wings(cap: RidgeCap | HipCap, heading: float, second: float) -> tuple[Surrounding, ...]:
    """What lies under the two wings of a cap, the ``second`` so wide; mm."""
    one, other = legs_in_place(heading, cap.hem, (cap.wing, second), (-cap.fold,))
    return (*on_panels(one, cap.over, cap.fold, True), *on_panels(other, cap.over, cap.fold, False, False))


class RidgeCap(Trim):
    """Over a ridge: folded by the angle between the two faces. ``pitch`` is that of the face edge A lies on. Lengths
    in mm, angles in degrees."""

    detail: Literal["ridge-cap"] = "ridge-cap"
    pitch: Annotated[float, Field(ge=0, lt=90)]
    fold: Opened
    wing: Size = 170.0
    wing_b: Size | None = None
    hem: SizeOrNone = 12.0

    def sheet(self) -> TrimSection:
        other = self.wing if self.wing_b is None else self.wing_b
        second = Leg("wing", "wing_b" if self.wing_b else "wing", other)
        return TrimSection("ridge cap", (Leg("wing", "wing", self.wing), second),
                           (-self.fold,), ("fold",), self.pitch, closed_hem(self.hem, "back"),
                           closed_hem(self.hem, "back"),
                           roles=Roles(wings=(0, 1)), around=_under_wings(self, self.pitch, other),
                           notes=("Closures between the seams on both sides before it goes on.",), cautions=SHARP)


class HipCap(Trim):
    """Over a hip, drawn square to it: folded by the angle between the two planes along the hip, its first wing rising
    ``lean`` degrees from level across it (half the fold where both pitches are alike)."""

    detail: Literal["hip-cap"] = "hip-cap"
    fold: Opened
    lean: Annotated[float, Field(ge=-90, le=90)] | None = None
    wing: Size = 120.0
    hem: SizeOrNone = 12.0

    def sheet(self) -> TrimSection:
        heading = self.fold / 2 if self.lean is None else self.lean
        return TrimSection("hip cap", (Leg("wing", "wing", self.wing), Leg("wing", "wing", self.wing)), (-self.fold,),
                           ("fold",), heading, closed_hem(self.hem, "back"), closed_hem(self.hem, "back"),
                           roles=Roles(wings=(0, 1)), around=_under_wings(self, heading, self.wing),
                           notes=("From the eave up: each piece laps over the one below.",), cautions=SHARP)


class HipReceiver(Trim):
    """One of a pair of receivers, back to back along a hip: ``lean`` degrees from level across the hip along its own
    face. The panels' cut ends go under its lip; the backs stand plumb, so unequal pitches need no other trick."""

    detail: Literal["hip-receiver"] = "hip-receiver"
    lean: Annotated[float, Field(ge=0, lt=85)] = 20.0
    base: Size = 60.0
    back: Size = 45.0
    lip: Size = 25.0

    def sheet(self) -> TrimSection:
        one, = legs_in_place(self.lean, 0.0, (self.base,), ())
        return TrimSection("hip receiver", (Leg("base", "base", self.base), Leg("back", "back", self.back),
                                            Leg("lip", "lip", self.lip)), (90.0 - self.lean, 90.0 + self.lean),
                           ("lean", "lean"), self.lean,
                           around=tuple(on_deck(one)),
                           notes=("Its twin stands against its back, riveted through; from the eave up.",),
                           cautions=SHARP)


class HalfRidge(Trim):
    """The free top edge of a single slope: over the edge and down the wall or fascia behind it. Lengths in mm, angles
    in degrees."""

    detail: Literal["half-ridge"] = "half-ridge"
    pitch: Annotated[float, Field(ge=0, lt=80)]
    flange: Size = 150.0
    face: Size = 90.0
    kick: Size = 18.0
    kick_turn: Opened = 42.0
    hem: SizeOrNone = 12.0

    def sheet(self) -> TrimSection:
        flange, face = legs_in_place(self.pitch, self.hem, (self.flange, self.face), (-90.0 - self.pitch,))
        board = behind(face, "fascia", BOARD, -12.0, 30.0)
        short = (BOARD + 2.0) / math.cos(math.radians(self.pitch))
        around = (*on_panels(flange, self.over, 2 * self.pitch, True, short=short), board)
        return TrimSection("half-ridge", (Leg("flange", "flange", self.flange), Leg("face", "face", self.face),
                                          Leg("kick", "kick", self.kick)),
                           (-90.0 - self.pitch, self.kick_turn), ("pitch", "kick_turn"), self.pitch,
                           closed_hem(self.hem, "back"), closed_hem(self.hem, "back"),
                           roles=Roles(face=1), around=around,
                           cautions=SHARP)
