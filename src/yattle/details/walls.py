"""Where a roof runs into a wall: headwall, sidewall, skew wall, and the counterflashing over them."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from yattle.bounds import Opened, Size, SizeOrNone
from yattle.details.beneath import behind, beside_a_wall, legs_in_place, on_deck, on_panels
from yattle.details.common import Roles, Surrounding
from yattle.details.trim import SHARP, Leg, Trim, TrimSection, closed_hem
from yattle.section import Hem

_JOG = 45.0  # degrees: a step square to the wall could not be folded, the sheet would strike the bed
_DUST = "Cutting masonry: wet or with extraction, and a mask (silica)."


class _Wall(Trim):
    upstand: Size = 120.0
    hem: SizeOrNone = 12.0
    lies_over: ClassVar[bool] = True  # the panels; else on the deck, under them

    def _sheet(self, name: str, out: Leg, turn: float, field: str, toward: Literal["paint", "back"],
               note: str) -> TrimSection:
        wall, roof = legs_in_place(-90.0, 0.0, (self.upstand, out.length), (turn,))
        lies = on_panels(roof, self.over, 0.0, False) if self.lies_over else on_deck(roof)
        return TrimSection(name, (Leg("upstand", "upstand", self.upstand), out), (turn,), (field,), -90.0,
                           hem_b=closed_hem(self.hem, toward), roles=Roles(wall=0, water=(1,)),
                           around=(behind(wall, "wall"), *lies),
                           notes=(note, "The top goes under the counterflashing or the cladding."), cautions=SHARP)


class Headwall(_Wall):
    """A roof that falls away from a wall: up the wall, and down over the panels. Folded by 90° less the pitch."""

    detail: Literal["headwall"] = "headwall"
    pitch: Annotated[float, Field(ge=0, lt=90)]
    apron: Size = 140.0

    def sheet(self) -> TrimSection:
        return self._sheet("headwall flashing", Leg("apron", "apron", self.apron), 90.0 - self.pitch, "pitch", "back",
                           "Closures between the seams under the apron.")


class Sidewall(_Wall):
    """A wall along the fall: up the wall, and out over the panels, its edge returned so that water stays on it. Carried
    by a ``zed`` on the pan or by the first ``seam`` its edge is turned down instead: open to hook on the zed, closed
    over the seam. Sizes in mm."""

    detail: Literal["sidewall"] = "sidewall"
    flange: Size = 110.0
    carried: Literal["", "zed", "seam"] = ""
    hook: Size = 3.0

    def sheet(self) -> TrimSection:
        made = self._sheet("sidewall flashing", Leg("flange", "flange", self.flange), 90.0, "",
                           "back" if self.carried else "paint", "From the eave up, with a kick-out at the foot.")
        roof = legs_in_place(-90.0, 0.0, (self.upstand, self.flange), (90.0,))[1]
        made = replace(made, around=(made.around[0], *beside_a_wall(roof, self.over, self.carried == "zed")))
        if self.carried != "zed" or not self.hem:
            return made
        return replace(made, hem_b=Hem(kind="open", length=self.hem, gap=self.hook, toward="back"))


class SkewWall(_Wall):
    """A wall neither along nor across the fall: folded by the angle between roof and wall. Lengths in mm, angles in
    degrees."""

    detail: Literal["skew-wall"] = "skew-wall"
    fold: Opened
    flange: Size = 140.0

    def sheet(self) -> TrimSection:
        return self._sheet("skew wall flashing", Leg("flange", "flange", self.flange), self.fold, "fold", "paint",
                           "Water runs along this wall: the return stands against it.")


class BackPan(_Wall):
    """A wall that the roof falls against, straight or along it: up the wall, and a pan out under the panels that drain
    into it, its edge hemmed back. Folded by the angle between roof and wall, over 90°. Lengths in mm, angles in
    degrees."""

    detail: Literal["back-pan"] = "back-pan"
    fold: Opened
    pan: Size = 250.0
    lies_over: ClassVar[bool] = False

    def sheet(self) -> TrimSection:
        return self._sheet("back pan", Leg("pan", "pan", self.pan), self.fold, "fold", "paint",
                           "Under the panels: held by clips on its hem, no screw in the pan.")


class Counterflashing(Trim):
    """Covers the top of an upstand: ``kerf`` mm into the wall, face, kick."""

    detail: Literal["counterflashing"] = "counterflashing"
    kerf: Size = 20.0
    face: Size = 80.0
    kick: Size = 15.0
    kick_turn: Opened = 30.0
    hem: SizeOrNone = 12.0

    def sheet(self) -> TrimSection:
        front, foot = self.kerf - 3.0, -self.face - 30.0
        below = ((front, -2.0), (front, foot), (-30.0, foot), (-30.0, -2.0))
        above = ((front, 2.0), (front, 40.0), (-30.0, 40.0), (-30.0, 2.0))
        return TrimSection("counterflashing", (Leg("kerf", "kerf", self.kerf), Leg("face", "face", self.face),
                                               Leg("kick", "kick", self.kick)),
                           (-90.0, self.kick_turn), ("", "kick_turn"), 0.0, hem_b=closed_hem(self.hem, "back"),
                           roles=Roles(face=1), around=(Surrounding("wall", below), Surrounding("", above)),
                           notes=("Wedged in the kerf, sealed on top as an extra.",),
                           cautions=(*SHARP, _DUST))


class WallZed(Trim):
    """Along a wall beside a pan that is turned up to it: ``base`` on the wall, a slanting ``step`` out as far as the
    pan's edge and its tape take, a ``cover`` down over it, hemmed back, its foot as high as the seams. Lengths in
    mm."""

    detail: Literal["wall-zed"] = "wall-zed"
    base: Size = 100.0
    step: Size = 13.0
    cover: Size = 60.0
    hem: SizeOrNone = 12.0

    def sheet(self) -> TrimSection:
        slant = self.step / math.sin(math.radians(_JOG))
        wall, _, cover = legs_in_place(-90.0, 0.0, (self.base, slant, self.cover), (_JOG, -_JOG))
        pan = cover.plate("pan turned up", (0.25 * cover.long, 1.3 * cover.long), (2.0, 5.0))
        return TrimSection("wall zed", (Leg("base", "base", self.base), Leg("step", "step", slant),
                                        Leg("cover", "cover", self.cover)), (_JOG, -_JOG), ("", ""), -90.0,
                           hem_b=closed_hem(self.hem, "back"), datum=3, aside=self.step, roles=Roles(face=2, wall=0),
                           around=(behind(wall, "wall", below=self.cover + 30.0), pan),
                           notes=("The last pan is turned up along the wall behind it, and cut that much wider.",
                                  "Its head goes under the counterflashing or the cladding."), cautions=SHARP)


def zed_high(base: float, step: float, cover: float) -> float:
    """How high a wall zed of these measures goes up its wall over its cover's foot, mm."""
    return base + step / math.tan(math.radians(_JOG)) + cover


class SurfaceCounter(Trim):
    """Covers the top of an upstand where no kerf can be cut: flat on the wall, fixed through its face, its head kicked
    out for a bead of ``caulk`` mm that has to be renewed. Lengths in mm, angles in degrees."""

    detail: Literal["counter-surface"] = "counter-surface"
    caulk: Size = 13.0
    face: Size = 80.0
    kick: Size = 15.0
    kick_turn: Opened = 30.0
    hem: SizeOrNone = 12.0

    def sheet(self) -> TrimSection:
        foot = -0.7 * self.caulk
        wall = ((-0.7 * self.caulk - 2.0, 40.0), (-0.7 * self.caulk - 2.0, foot - self.face - 30.0),
                (-0.7 * self.caulk - 40.0, foot - self.face - 30.0), (-0.7 * self.caulk - 40.0, 40.0))
        return TrimSection("surface counterflashing", (Leg("caulk kick", "caulk", self.caulk),
                                                       Leg("face", "face", self.face), Leg("kick", "kick", self.kick)),
                           (45.0, self.kick_turn), ("", "kick_turn"), -135.0, hem_b=closed_hem(self.hem, "back"),
                           roles=Roles(face=1), around=(Surrounding("wall", wall),),
                           notes=("Anchors through its face, tape behind it, a bead in its kick: only as long as the "
                                  "bead lasts.",), cautions=(*SHARP, _DUST))
