"""Where two faces that fall the same way meet, and the small sections beneath trims."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from yattle.details.caps import _faces
from yattle.details.trim import SHARP, Leg, NotNegative, Positive, Sheet, Trim, closed_hem
from yattle.section import Hem


class PitchBreak(Trim):
    """Under the upper panels' ends, over the lower panels' heads: folded by the difference of the pitches, toward the
    paint where the upper face is the steeper (``upper`` its pitch)."""

    detail: Literal["pitch-break"] = "pitch-break"
    upper: Annotated[float, Field(ge=0, lt=90)]
    lower: Annotated[float, Field(ge=0, lt=90)]
    above: Positive = 150.0
    below: Positive = 150.0
    hem: NotNegative = 12.0

    def sheet(self) -> Sheet:
        turn = self.upper - self.lower
        return Sheet("pitch break", (Leg("upper leg", "above", self.above), Leg("lower leg", "below", self.below)),
                     (turn,), ("fold",), -self.upper, hem_b=closed_hem(self.hem, "back"),
                     around=_faces(-self.upper, turn, (self.above, self.below)),
                     notes=("Closures between the lower seams beneath it.",), cautions=SHARP)


class Closure(Trim):
    """The zed that fills between two seams under a cap or wall flashing: ``clear`` between the seams is ``length``."""

    detail: Literal["closure"] = "closure"
    foot: Positive = 30.0
    height: Positive = 38.0
    top: Positive = 30.0

    def sheet(self) -> Sheet:
        return Sheet("zed closure", (Leg("foot", "foot", self.foot), Leg("height", "height", self.height),
                                     Leg("top", "top", self.top)), (90.0, -90.0), ("", ""), 0.0,
                     notes=("The foot's screw line is the tape's line.",), cautions=SHARP[:1])


class Cleat(Trim):
    """A hidden strip that a hem hooks on, its own edge an open hem."""

    detail: Literal["cleat"] = "cleat"
    base: Positive = 40.0
    lip: Positive = 22.0
    turn: Annotated[float, Field(gt=0, lt=180)] = 90.0
    hem: Positive = 15.0
    gap: Positive = 3.0

    def sheet(self) -> Sheet:
        return Sheet("cleat", (Leg("base", "base", self.base), Leg("lip", "lip", self.lip)), (-self.turn,), ("turn",),
                     0.0, hem_b=Hem(kind="open", length=self.hem, gap=self.gap, toward="back"), cautions=SHARP[:1])
