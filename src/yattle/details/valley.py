"""Valley pans: held by clips and never pierced, with a centre rib, with edge returns, or closed."""

from __future__ import annotations

import math
from typing import Annotated, Literal

from pydantic import Field

from yattle.bounds import Opened, Size, SizeOrNone
from yattle.details.beneath import two_faces
from yattle.details.common import Finding, Roles
from yattle.details.trim import SHARP, Leg, Trim, TrimSection, closed_hem
from yattle.pattern import Mark
from yattle.runs import RunPiece
from yattle.section import Girth

_COVERED = 75.0  # mm of pan that should lie under the panels


class _Pan(Trim):
    """``lean`` degrees from level across the valley along the first wing (below 0; half the fold where both pitches are
    alike). The panels are cut along lines ``open`` / 2 from the wings' inner folds at the upper end, opening by
    ``taper`` mm for each metre downslope."""

    fold: Opened
    lean: Annotated[float, Field(ge=-90, le=90)] | None = None
    wing: Size = 185.0
    open: SizeOrNone = 100.0
    taper: SizeOrNone = 10.0

    @property
    def heading(self) -> float:
        return -self.fold / 2 if self.lean is None else self.lean

    def aside(self, from_low: float) -> float:
        """How far the panels' cut ends stand from the inner folds, mm, at a place ``from_low`` mm from the low end."""
        return (self.open + self.taper * (self.length - from_low) / 1000) / 2

    def marks(self, girth: Girth, cut: RunPiece) -> tuple[Mark, ...]:
        """The panels' lines on both wings."""
        long = self.low != "right"  # the low end is on the left unless it is said to be on the right
        places = [cut.start if long else self.length - cut.start,
                  cut.start + cut.share if long else self.length - cut.start - cut.share]
        shift = 1 if girth.profile.hem_a else 0
        wing_a, wing_b = self.sheet().roles.water
        inner = girth.bends[wing_a + shift], girth.bends[wing_b - 1 + shift]
        marks = []
        for bend, sign in zip(inner, (1.0, -1.0), strict=True):
            y = girth.girth - bend.mark
            a, b = (y + sign * self.aside(place) for place in places)
            marks.append(Mark(a=(0.0, a), b=(cut.share, b), text="panel line"))
        return tuple(marks)

    def _covered(self) -> tuple[Finding, ...]:
        left = self.wing - self.aside(0.0)
        if left >= _COVERED:
            return ()
        return (Finding("look", "at its foot only {0} of the pan lies under the panels",
                        "at least {1} keeps driven rain out: a wider wing, a narrower opening or less taper", "wing",
                        (left, _COVERED)),)


_CLIPS = "From the eave up; clips about every 350 mm, no screw in the pan."
_OVER = "The upper end is dressed over the ridge with the tongs."


class Valley(_Pan):
    """Open, drawn square to the valley. ``rib`` 0: one fold by the angle between the planes; else a rib of two legs of
    ``rib`` mm with ``apex`` degrees of turn at its top, whose folds at the foot make up the rest."""

    detail: Literal["valley"] = "valley"
    rib: SizeOrNone = 30.0
    apex: Annotated[float, Field(gt=0, lt=170)] = 70.0
    hem: SizeOrNone = 15.0

    def sheet(self) -> TrimSection:
        wings = (Leg("wing", "wing", self.wing), Leg("wing", "wing", self.wing))
        foot = (self.fold + self.apex) / 2
        legs: tuple[Leg, ...] = wings
        turns: tuple[float, ...] = (self.fold,)
        fields: tuple[str, ...] = ("fold",)
        if self.rib:
            rib = Leg("rib", "rib", self.rib)
            legs, turns, fields = (wings[0], rib, rib, wings[1]), (foot, -self.apex, foot), ("fold", "apex", "fold")
        looks = list(self._covered())
        if self.rib and foot > 150:
            looks.append(Finding("look", "the valley is steeper folded than its rib can follow",
                                 "a rib's foot folds past 150°: take a flatter apex", "apex"))
        return TrimSection("valley pan", legs, turns, fields, self.heading, closed_hem(self.hem, "paint"),
                           closed_hem(self.hem, "paint"), datum=2 if self.rib else 1, crossing=True, looks=tuple(looks),
                           roles=Roles(water=(0, len(legs) - 1)),
                           around=two_faces(self.heading, self.fold, (self.wing, self.wing), 12.0),
                           notes=(_CLIPS, _OVER), cautions=SHARP)


class DoubleValley(_Pan):
    """Open, with two ribs and a channel of two halves ``channel`` mm wide between them: the water runs between the
    ribs, what shoots down a steep side stays there. Each rib has two legs of ``rib`` mm and ``apex`` degrees of turn at
    its top, and stands square on its wing."""

    detail: Literal["valley-double"] = "valley-double"
    rib: Size = 30.0
    apex: Annotated[float, Field(gt=0, lt=170)] = 70.0
    channel: Size = 40.0
    hem: SizeOrNone = 15.0

    def sheet(self) -> TrimSection:
        wing, rib, half = Leg("wing", "wing", self.wing), Leg("rib", "rib", self.rib), Leg("channel", "channel",
                                                                                        self.channel)
        foot = self.apex / 2
        ribbed = (foot, -self.apex, foot)
        named = ("apex", "apex", "apex")
        return TrimSection("valley pan, two ribs", (wing, rib, rib, half, half, rib, rib, wing),
                           (*ribbed, self.fold, *ribbed), (*named, "fold", *named), self.heading,
                           closed_hem(self.hem, "paint"), closed_hem(self.hem, "paint"), datum=4, crossing=True,
                           looks=self._covered(), roles=Roles(water=(0, 7)),
                           around=two_faces(self.heading, self.fold, tuple(
                               self.wing + 2 * self.rib * math.cos(math.radians(foot)) + self.channel
                               for _ in range(2)), 12.0),  # type: ignore[arg-type]
                           notes=(_CLIPS, _OVER), cautions=SHARP)


class ReturnValley(_Pan):
    """Open, without a rib: its edges are folded up and back, so that water that comes so far is turned. Lengths in mm,
    angles in degrees."""

    detail: Literal["valley-returns"] = "valley-returns"
    back: Size = 20.0
    back_turn: Opened = 120.0

    def sheet(self) -> TrimSection:
        wing, back = Leg("wing", "wing", self.wing), Leg("return", "back", self.back)
        return TrimSection("valley pan, returns", (back, wing, wing, back), (self.back_turn, self.fold, self.back_turn),
                           ("back_turn", "fold", "back_turn"), self.heading - self.back_turn, datum=2, crossing=False,
                           looks=self._covered(), roles=Roles(water=(1, 2)),
                           around=two_faces(self.heading, self.fold, (self.wing, self.wing), 12.0),
                           notes=(_CLIPS, _OVER), cautions=SHARP)


class ClosedValley(_Pan):
    """Under panels that meet over it: narrower, no rib, seen by nobody. Leaves and ice stay in it. Sizes in mm."""

    detail: Literal["valley-closed"] = "valley-closed"
    wing: Size = 150.0
    open: SizeOrNone = 20.0
    taper: SizeOrNone = 0.0
    hem: SizeOrNone = 15.0

    def sheet(self) -> TrimSection:
        wing = Leg("wing", "wing", self.wing)
        return TrimSection("closed valley pan", (wing, wing), (self.fold,), ("fold",), self.heading,
                           closed_hem(self.hem, "paint"), closed_hem(self.hem, "paint"), crossing=True,
                           looks=self._covered(), roles=Roles(water=(0, 1)),
                           around=two_faces(self.heading, self.fold, (self.wing, self.wing), 12.0),
                           notes=(_CLIPS, "Sweep it every autumn: it does not clear itself."), cautions=SHARP)
