"""Where two faces that fall the same way meet, and the small sections beneath trims."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from yattle.bounds import Count, Opened, Size, SizeOrNone
from yattle.details.beneath import legs_in_place, on_deck, on_panels
from yattle.details.common import Finding, Roles
from yattle.details.trim import SHARP, Hole, Leg, Trim, TrimSection, closed_hem
from yattle.details.vents import holes_in
from yattle.errors import InputError
from yattle.pattern import Mark
from yattle.runs import RunPiece
from yattle.section import Girth, Hem


class PitchBreak(Trim):
    """Under the upper panels' ends, over the lower panels' heads: folded by the difference of the pitches, toward the
    paint where the upper face is the steeper (``upper`` its pitch). Lengths in mm, angles in degrees."""

    detail: Literal["pitch-break"] = "pitch-break"
    upper: Annotated[float, Field(ge=0, lt=90)]
    lower: Annotated[float, Field(ge=0, lt=90)]
    above: Size = 150.0
    below: Size = 150.0
    hem: SizeOrNone = 12.0

    def sheet(self) -> TrimSection:
        turn = self.upper - self.lower
        above, below = legs_in_place(-self.upper, 0.0, (self.above, self.below), (turn,))
        return TrimSection("pitch break",
                           (Leg("upper leg", "above", self.above), Leg("lower leg", "below", self.below)),
                           (turn,), ("fold",), -self.upper, hem_b=closed_hem(self.hem, "back"), roles=Roles(water=(1,)),
                           around=(*on_deck(above), *on_panels(below, self.over, 0.0, False)),
                           notes=("Closures between the lower seams beneath it.",), cautions=SHARP)


class Closure(Trim):
    """The zed that fills between two seams under a cap or wall flashing, one for each of ``gaps`` (clear width mm, how
    many), each cut shorter by ``clearance`` so that it does not scrape the tape off; without gaps one for the whole
    ``length``. It stands with its paint to the weather, from the top's free edge down to the foot that points up the
    slope. ``height`` must be no less than the ``seam``. Cut square or, at a hip, along the seams."""

    detail: Literal["closure"] = "closure"
    foot: Size = 30.0
    height: Size = 38.0
    top: Size = 30.0
    tab: Size = 12.0
    seam: SizeOrNone = 0.0
    clearance: SizeOrNone = 6.0
    gaps: tuple[tuple[Size, Count], ...] = ()
    vented: bool = False
    hole: Size = 8.0
    hole_pitch: Size = 16.0
    least_piece: Size = 20.0

    def own_cuts(self) -> tuple[RunPiece, ...]:
        return tuple(RunPiece(0.0, gap - self.clearance, count=count) for gap, count in self.gaps)

    def sheet(self) -> TrimSection:
        """The closure's section. Raises :class:`InputError` where a gap leaves nothing after its clearance."""
        looks = []
        if self.height < self.seam:
            looks.append(Finding("look", "a seam of {0} stands higher than the closure of {1}",
                                 "the cap would ride on the seams: make the closure as high as the seams", "height",
                                 (self.seam, self.height)))
        short = [gap for gap, _ in self.gaps if gap <= self.clearance + 1]
        if short:
            raise InputError("gaps", f"{short[0]:g} mm", f"more than the clearance of {self.clearance:g} mm")
        return TrimSection("zed closure", (Leg("top", "top", self.top), Leg("height", "height", self.height),
                                           Leg("foot", "foot", self.foot)), (90.0, -90.0), ("", ""), 180.0,
                           roles=Roles(face=1),
                           notes=("The foot's screw line is the tape's line: taped, then screwed through the tape.",
                                  "Set back from the cap's edge; the foot points up the slope."), cautions=SHARP[:1],
                           looks=tuple(looks))

    def holes(self, girth: Girth, cut: RunPiece) -> tuple[Hole, ...]:
        """Of a vented one rows over its whole height."""
        return holes_in(girth, 1, cut, self.hole, self.hole_pitch) if self.vented else ()

    def marks(self, girth: Girth, cut: RunPiece) -> tuple[Mark, ...]:
        """The screw line, which is the tape's, in the middle of the foot."""
        y = (girth.girth - girth.bends[-1].mark) / 2
        return (Mark(a=(0.0, y), b=(cut.share, y), text="tape and screws"),)


class Cleat(Trim):
    """A hidden strip that a hem hooks on, its own edge an open hem. Sizes in mm."""

    detail: Literal["cleat"] = "cleat"
    base: Size = 40.0
    lip: Size = 22.0
    turn: Opened = 90.0
    hem: Size = 15.0
    gap: Size = 3.0

    def sheet(self) -> TrimSection:
        return TrimSection("cleat", (Leg("base", "base", self.base), Leg("lip", "lip", self.lip)), (-self.turn,),
                           ("turn",), 0.0, hem_b=Hem(kind="open", length=self.hem, gap=self.gap, toward="back"),
                           cautions=SHARP[:1])
