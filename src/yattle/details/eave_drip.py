"""Eave drip: lies on the deck, turns down over the fascia, kicks the water off.

From edge A (upslope) to edge B: the deck flange, the face, the kick, its hem. The paint
face is up on the roof and out on the face, so the fold over the eave is toward the back by
90° − pitch, the kick toward the paint face, the hem toward the back.
"""

from __future__ import annotations

import math
from typing import Annotated, Literal

from pydantic import Field

from yattle.bounds import Id, Opened, Size, SizeOrNone
from yattle.details.common import Finding, Roles, RunEnd, Surrounding
from yattle.details.trim import SHARP, Leg, Trim, TrimSection, closed_hem
from yattle.errors import InputError


class EaveDrip(Trim):
    """An eave drip along one run. ``pitch`` of the roof (0 to under 90), ``hem`` 0 for a raw edge. Lengths in mm,
    angles in degrees."""

    detail: Literal["eave-drip"] = "eave-drip"
    id: Id = "E1"
    pitch: Annotated[float, Field(ge=0, lt=90)]
    flange: Size = 85.0
    face: Size = 95.0
    kick: Size = 18.0
    kick_turn: Opened = 42.0
    hem: SizeOrNone = 12.0
    left: RunEnd = "wrap"
    right: RunEnd = "wrap"

    def sheet(self) -> TrimSection:
        """Its first fold is 90° less the pitch, so that flange and face suit deck and fascia."""
        looks = []
        if self.hem and self.hem + self.nest_gap > self.kick:
            looks.append(Finding("look", "hem {0} is longer than the kick leaves room for in a lap",
                                 "the kick is cut away over the whole lap", "hem", (self.hem,)))
        return TrimSection(
            "eave drip", (Leg("deck flange", "flange", self.flange), Leg("face", "face", self.face),
                          Leg("kick", "kick", self.kick)),
            (self.pitch - 90.0, self.kick_turn), ("pitch", "kick_turn"), -self.pitch,
            hem_b=closed_hem(self.hem, "back"), roles=Roles(face=1),
            around=deck_and_fascia(self.pitch, self.flange, self.face),
            notes=("Hook and lap from the lee end toward the weather.", "Open the receiving hem before nesting."),
            cautions=SHARP, looks=tuple(looks))


def deck_and_fascia(pitch: float, flange: float, face: float) -> tuple[Surrounding, ...]:
    """Deck and fascia behind a section; the origin is raw edge A, x out of the building, y up. ``pitch`` in degrees,
    lengths in mm."""
    slope = math.radians(pitch)
    down = (math.cos(slope), -math.sin(slope))
    eave = (flange * down[0], flange * down[1])
    thick, beyond, off = 22.0, 40.0, 2.0
    top = (-beyond * down[0], -beyond * down[1] - off)
    foot = (eave[0] - off, eave[1] - off)
    depth = thick / max(math.cos(slope), 0.2)
    deck = (top, foot, (foot[0], foot[1] - depth), (top[0], top[1] - depth))
    fascia = ((foot[0], foot[1] - depth), (foot[0], foot[1] - face * 1.08),
              (foot[0] - 24, foot[1] - face * 1.08),
              (foot[0] - 24, foot[1] - depth + 24 * math.tan(min(slope, 1.2))))
    return (Surrounding("deck", deck), Surrounding("fascia", fascia))


def check_pitch(pitch: float, field: str = "pitch") -> float:
    """``pitch`` in degrees if an eave drip can be made for it, else :class:`InputError`."""
    if 0 <= pitch <= 80:
        return pitch
    raise InputError(field, f"{pitch:g}°", "a roof pitch from 0° to 80°")
