"""Rake trims: along the gable's edge, over the last panel and down the barge board, or back under a flying gable."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from yattle.bounds import Opened, Size, SizeOrNone
from yattle.details.beneath import beside_a_rake, legs_in_place
from yattle.details.common import Roles
from yattle.details.trim import SHARP, Leg, Trim, TrimSection, closed_hem

_PAST_SEAM = 3.0  # mm: so far a box reaches past the seam it closes


class Rake(Trim):
    """Drawn square to the edge: flange on the panels, face plumb down the barge board, kick. The low end makes the
    hand. ``lean``: how the face of the roof rises across the edge toward its free side, 0 where the edge runs along
    the fall. A boxed end closes the height ``over`` that the flange stands over the panel, and a little more. Lengths
    in mm, angles in degrees."""

    detail: Literal["rake"] = "rake"
    flange: Size = 60.0
    face: Size = 120.0
    kick: Size = 20.0
    lean: Annotated[float, Field(ge=-80, le=80)] = 0.0
    kick_turn: Opened = 42.0
    hem: SizeOrNone = 12.0

    @property
    def box_tab(self) -> float:
        """How far a boxed end's tab comes down from the flange, mm: past the seam, onto the flat."""
        return self.over + _PAST_SEAM if self.over else self.tab

    def sheet(self) -> TrimSection:
        hem = closed_hem(self.hem, "back")
        flange, face = legs_in_place(self.lean, self.hem, (self.flange, self.face), (-90.0 - self.lean,))
        return TrimSection("rake trim", (Leg("flange", "flange", self.flange), Leg("face", "face", self.face),
                                         Leg("kick", "kick", self.kick)),
                           (-90.0 - self.lean, self.kick_turn), ("lean", "kick_turn"), self.lean, hem, hem,
                           roles=Roles(face=1), around=tuple(beside_a_rake(flange, face, self.over)),
                           notes=("Begin at the eave: each piece laps over the one below.",
                                  "The last panel is ripped to width under it."), cautions=SHARP)


class FlyingGable(Rake):
    """A rake whose roof flies past the gable wall: its face goes back under the ladder by ``soffit`` mm, square to the
    face, instead of kicking out, and its end is nailed to the soffit board. Lengths in mm, angles in degrees."""

    detail: Literal["flying-gable"] = "flying-gable"  # type: ignore[assignment]
    soffit: Size = 45.0

    def sheet(self) -> TrimSection:
        hem = closed_hem(self.hem, "back")
        flange, face = legs_in_place(self.lean, self.hem, (self.flange, self.face), (-90.0 - self.lean,))
        return TrimSection("flying gable", (Leg("flange", "flange", self.flange), Leg("face", "face", self.face),
                                            Leg("soffit return", "soffit", self.soffit)),
                           (-90.0 - self.lean, -90.0), ("lean", ""), self.lean, hem, hem,
                           roles=Roles(face=1), around=tuple(beside_a_rake(flange, face, self.over, 0.95)),
                           notes=("Begin at the eave: each piece laps over the one below.",
                                  "The soffit goes up after it and closes on its return."), cautions=SHARP)
