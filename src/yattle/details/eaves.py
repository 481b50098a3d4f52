"""The other schools of eave: an apron into the gutter, and a plain apron over the fascia."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from yattle.bounds import Opened, Size, SizeOrNone
from yattle.details.common import Roles
from yattle.details.eave_drip import deck_and_fascia
from yattle.details.trim import SHARP, Leg, Trim, TrimSection, closed_hem
from yattle.section import Hem


class GutterApron(Trim):
    """Lies on the deck and leads into the gutter, ``lean`` degrees out of plumb, with a drip at its foot."""

    detail: Literal["gutter-apron"] = "gutter-apron"
    pitch: Annotated[float, Field(ge=0, lt=90)]
    flange: Size = 110.0
    apron: Size = 75.0
    drip: Size = 15.0
    lean: Annotated[float, Field(ge=0, le=60)] = 15.0
    drip_turn: Opened = 30.0
    hem: SizeOrNone = 12.0

    def sheet(self) -> TrimSection:
        turn = min(self.pitch + self.lean - 90.0, 0.0)
        return TrimSection("gutter apron",
                           (Leg("deck flange", "flange", self.flange), Leg("apron", "apron", self.apron),
                            Leg("drip", "drip", self.drip)),
                           (turn, self.drip_turn), ("pitch", "drip_turn"), -self.pitch,
                           hem_b=closed_hem(self.hem, "back"),
                           roles=Roles(face=1), around=deck_and_fascia(self.pitch, self.flange, self.apron),
                           notes=("Its foot hangs inside the gutter's back edge.",), cautions=SHARP)


class EaveApron(Trim):
    """Lies on the deck and covers the fascia's head, its hem open by ``hook`` to go over the cleat on the fascia. The
    panels' ends hook on a strip of their own that lies on it. Lengths in mm, angles in degrees."""

    detail: Literal["eave-apron"] = "eave-apron"
    pitch: Annotated[float, Field(ge=0, lt=90)]
    flange: Size = 150.0
    apron: Size = 60.0
    hem: SizeOrNone = 12.0
    hook: Size = 3.0

    def sheet(self) -> TrimSection:
        hem = Hem(kind="open", length=self.hem, gap=self.hook, toward="back") if self.hem else None
        return TrimSection("eave apron", (Leg("deck flange", "flange", self.flange), Leg("apron", "apron", self.apron)),
                           (self.pitch - 90.0,), ("pitch",), -self.pitch, hem_b=hem,
                           roles=Roles(face=1), around=deck_and_fascia(self.pitch, self.flange, self.apron),
                           notes=("Its foot hooks on the cleat on the fascia: no screw in its face.",), cautions=SHARP)


class ApronCleat(Trim):
    """The strip that an eave apron's hem hooks on: flat on the fascia behind it, ``strip`` high, screwed at its head,
    its edge doubled and sprung off the board by the hem that goes round it. Lengths in mm."""

    detail: Literal["apron-cleat"] = "apron-cleat"
    strip: Size = 56.0
    hem: SizeOrNone = 10.0

    def sheet(self) -> TrimSection:
        return TrimSection("apron cleat", (Leg("strip", "strip", self.strip),), (), (), 0.0,
                           hem_b=closed_hem(self.hem, "back"), roles=Roles(),
                           notes=("Screwed high on the fascia, straight by the string: its edge stays free.",),
                           cautions=SHARP[:1])


class EaveCleat(Trim):
    """The strip that hooked panels hold on to: flat on the deck over the eave's trim, its stiffened edge beyond it,
    ``set_back`` from the fold of panels that hang over by ``overhang``, so that uneven ends are not seen. Lengths in
    mm."""

    detail: Literal["eave-cleat"] = "eave-cleat"
    pitch: Annotated[float, Field(ge=0, lt=90)] = 0.0
    base: Size = 60.0
    overhang: SizeOrNone = 40.0
    set_back: SizeOrNone = 12.0
    hem: SizeOrNone = 10.0

    def sheet(self) -> TrimSection:
        wide = self.base + max(self.overhang - self.set_back, 0.0)
        return TrimSection("eave cleat", (Leg("strip", "base", wide),), (), (), -self.pitch,
                           hem_b=closed_hem(self.hem, "back"), roles=Roles(),
                           around=deck_and_fascia(self.pitch, self.base, 60.0),
                           notes=("Screwed on the deck through the trim's flange, straight by the string.",),
                           cautions=SHARP)
