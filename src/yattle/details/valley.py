"""Valley pan: open, hemmed edges, with or without a centre rib, held by clips and never pierced."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from yattle.details.caps import _faces
from yattle.details.common import Finding
from yattle.details.trim import SHARP, Leg, NotNegative, Positive, Sheet, Trim, closed_hem


class Valley(Trim):
    """Drawn square to the valley, ``lean`` degrees from level across it along the first wing (below 0; half the fold
    where both pitches are alike). ``rib`` 0: one fold by the angle between the planes; else a rib of two legs of
    ``rib`` mm with ``apex`` degrees of turn at its top, whose folds at the foot make up the rest."""

    detail: Literal["valley"] = "valley"
    fold: Annotated[float, Field(gt=0, lt=180)]
    lean: Annotated[float, Field(ge=-90, le=90)] | None = None
    wing: Positive = 185.0
    rib: NotNegative = 30.0
    apex: Annotated[float, Field(gt=0, lt=170)] = 70.0
    hem: NotNegative = 15.0

    def sheet(self) -> Sheet:
        wings = (Leg("wing", "wing", self.wing), Leg("wing", "wing", self.wing))
        foot = (self.fold + self.apex) / 2
        legs: tuple[Leg, ...] = wings
        turns: tuple[float, ...] = (self.fold,)
        fields: tuple[str, ...] = ("fold",)
        if self.rib:
            rib = Leg("rib", "rib", self.rib)
            legs, turns, fields = (wings[0], rib, rib, wings[1]), (foot, -self.apex, foot), ("fold", "apex", "fold")
        looks = []
        if self.rib and foot > 150:
            looks.append(Finding("look", "the valley is steeper folded than its rib can follow",
                                 "a rib's foot folds past 150°: take a flatter apex", "apex"))
        heading = -self.fold / 2 if self.lean is None else self.lean
        return Sheet("valley pan", legs, turns, fields, heading, closed_hem(self.hem, "paint"),
                     closed_hem(self.hem, "paint"), datum=2 if self.rib else 1, crossing=True, looks=tuple(looks),
                     around=_faces(heading, self.fold, (self.wing, self.wing), 12.0),
                     notes=("From the eave up; clips about every 350 mm, no screw in the pan.",
                            "Open width wider downslope, about 10 mm a metre."), cautions=SHARP)
