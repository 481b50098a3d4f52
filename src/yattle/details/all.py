"""Every detail by its name, which kinds of edge it suits, and which entries of the house standard it takes."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from yattle.details.breaks import Cleat, Closure, PitchBreak
from yattle.details.caps import HalfRidge, HipCap, HipReceiver, RidgeCap
from yattle.details.copings import Coping
from yattle.details.corners import FasciaTrim, InsideCorner, OutsideCorner
from yattle.details.eave_drip import EaveDrip
from yattle.details.eaves import ApronCleat, EaveApron, EaveCleat, GutterApron
from yattle.details.free import FreeSection
from yattle.details.gutters import BoxGutter, RoundGutter
from yattle.details.rake import FlyingGable, Rake
from yattle.details.trim import Trim
from yattle.details.valley import ClosedValley, DoubleValley, ReturnValley, Valley
from yattle.details.vents import EaveVent
from yattle.details.walls import BackPan, Counterflashing, Headwall, Sidewall, SkewWall, SurfaceCounter, WallZed
from yattle.roof.edges import LETTERS

_SHARED = {name: name for name in ("lap", "wrap", "tab", "nest_gap", "stock_length", "least_piece")}
_WET = {"lap": "lap_wet"}
_PAN = {**_WET, "open": "valley_open", "taper": "valley_taper", "carry": "carry", "under": "under"}
_WALL = {"kick_out": "kick_out"}


@dataclass(frozen=True)
class Family:
    """``kinds`` of edge it is for; ``entries`` its field → the standard's entry; ``roof`` fields the roof gives."""

    model: type[Trim]
    title: str
    kinds: tuple[str, ...]
    entries: dict[str, str]
    roof: tuple[str, ...] = ()

    @property
    def says(self) -> str:
        """What speaks for and against it where there are others for the same edge."""
        return _SAYS.get(self.name, "")

    @cached_property
    def name(self) -> str:
        return str(self.model.model_fields["detail"].default)


_SAYS = {
    "eave-drip": "panels overhang and are screwed through into tape: quick, the screws are seen and renewed",
    "gutter-apron": "leads into the gutter: nothing runs behind it, the gutter must hang right",
    "eave-apron": "panels hook on its hem: no screw seen, free to move, each pan's end hemmed by hand",
    "rake": "face and kick over the barge board",
    "flying-gable": "goes back under a roof that flies past its gable: the soffit closes on it",
    "sidewall": "a flashing over the first seam or its zed: each can be renewed by itself",
    "wall-zed": "the last pan itself goes up the wall: no lap beside it, made to the wall",
    "hip-cap": "one strip over the finished hip, closures on both sides",
    "hip-receiver": "two strips back to back, no closures: suits unequal pitches, cut ends must be true",
    "valley": "open with a centre rib: clears itself, water of one side stays there",
    "valley-double": "two ribs and a channel: each side's water stays in it, most metal, most folds",
    "valley-returns": "open with turned edges: flat to fold, the sides' waters meet",
    "valley-closed": "hidden under panels that meet: least metal, holds leaves and ice, shortest life",
    "free": "as drawn",
}


def _family(model: type[Trim], title: str, kinds: tuple[str, ...], roof: tuple[str, ...], **entries: str) -> Family:
    return Family(model, title, kinds, {**_SHARED, **entries}, roof)


FAMILIES: dict[str, Family] = {family.name: family for family in (
    _family(EaveDrip, "eave drip", ("eave",), ("pitch",), flange="flange", face="face", kick="kick",
            kick_turn="kick_turn", hem="hem"),
    _family(GutterApron, "gutter apron", ("eave",), ("pitch",), flange="gutter_flange", apron="gutter_apron",
            drip="gutter_drip", lean="gutter_lean", hem="hem"),
    _family(EaveApron, "eave apron", ("eave",), ("pitch",), flange="apron_flange", apron="apron_face", hem="hem"),
    _family(Rake, "rake trim", ("rake",), ("lean",), flange="rake_flange", face="rake_face", kick="rake_kick",
            kick_turn="kick_turn", hem="hem", over="seam_height"),
    _family(FlyingGable, "flying gable", ("rake",), ("lean",), flange="rake_flange", face="rake_face", soffit="soffit",
            kick="rake_kick", kick_turn="kick_turn", hem="hem", over="seam_height"),
    _family(RidgeCap, "ridge cap", ("ridge",), ("pitch", "fold"), wing="ridge_wing", hem="hem", over="seam_height"),
    _family(HalfRidge, "half-ridge", ("half-ridge",), ("pitch",), flange="half_flange", face="half_face", kick="kick",
            kick_turn="kick_turn", hem="hem", over="seam_height"),
    _family(HipCap, "hip cap", ("hip",), ("fold", "lean"), wing="hip_wing", hem="hem", over="seam_height"),
    _family(HipReceiver, "hip receivers", ("hip",), ("lean",), base="receiver_base", back="receiver_back",
            lip="receiver_lip"),
    _family(Valley, "valley pan", ("valley",), ("fold", "lean"), wing="valley_wing", rib="valley_rib",
            apex="valley_apex", hem="valley_hem", **_PAN),
    _family(DoubleValley, "valley, two ribs", ("valley",), ("fold", "lean"), wing="valley_wing", rib="valley_rib",
            apex="valley_apex", channel="valley_channel", hem="valley_hem", **_PAN),
    _family(ReturnValley, "valley, returns", ("valley",), ("fold", "lean"), wing="valley_wing", back="valley_return",
            **_PAN),
    _family(ClosedValley, "closed valley", ("valley",), ("fold", "lean"), wing="closed_wing", hem="valley_hem",
            carry="carry", under="under", **_WET),
    _family(Headwall, "headwall flashing", ("headwall",), ("pitch",), upstand="upstand", apron="wall_apron", hem="hem",
            over="seam_height", **_WALL),
    _family(Sidewall, "sidewall flashing", ("sidewall",), (), upstand="upstand", flange="wall_flange", hem="hem",
            over="seam_height", **_WALL, **_WET),
    _family(WallZed, "wall zed, pan turned up", ("sidewall",), (), base="zed_base", step="zed_step", cover="zed_cover",
            hem="hem"),
    _family(SkewWall, "skew wall flashing", ("skew-wall",), ("fold",), upstand="upstand", flange="wall_flange",
            hem="hem",
            over="seam_height", **_WALL),
    _family(BackPan, "back pan", ("headwall", "skew-wall"), ("fold",), upstand="upstand", pan="back_pan",
            hem="valley_hem", **_WALL, **_WET),
    _family(Counterflashing, "counterflashing", (), (), kerf="kerf", face="counter_face", kick="counter_kick"),
    _family(SurfaceCounter, "surface counterflashing", (), (), caulk="caulk_kick", face="counter_face",
            kick="counter_kick", hem="hem"),
    _family(PitchBreak, "pitch break", ("pitch-break",), ("upper", "lower"), above="break_above", below="break_below",
            hem="hem", over="seam_height"),
    _family(Closure, "zed closure", (), (), foot="closure_foot", height="closure_height", top="closure_top",
            tab="closure_tab", seam="seam_height", clearance="closure_gap",
            hole="vent_hole", hole_pitch="vent_pitch"),
    _family(EaveVent, "eave vent", (), (), base="vent_base", face="vent_face", foot="vent_foot",
            hole="vent_hole", hole_pitch="vent_pitch"),
    _family(Cleat, "cleat", (), (), base="cleat_base", lip="cleat_lip"),
    _family(ApronCleat, "apron cleat", (), ()),
    _family(EaveCleat, "eave cleat", (), ("pitch",), base="eave_cleat", set_back="eave_set_back"),
    _family(Coping, "coping", ("free",), (), wall="coping_wall", fall="coping_fall", inner="coping_inner",
            outer="coping_outer", kick="kick", kick_turn="kick_turn", hem="hem"),
    _family(BoxGutter, "box gutter", ("free",), (), lip="gutter_lip", front="gutter_front", bottom="gutter_bottom",
            back="gutter_back", hem="hem", **_WET),
    _family(RoundGutter, "half-round gutter", ("free",), (), wide="gutter_wide", lip="gutter_lip", hem="hem", **_WET),
    _family(FasciaTrim, "fascia trim", ("free",), (), head="fascia_head", face="fascia_face", foot="fascia_foot",
            hem="hem"),
    _family(OutsideCorner, "outside corner", ("free",), (), side="corner_side", angle="corner_angle", hem="hem"),
    _family(InsideCorner, "inside corner", ("free",), (), side="corner_side", angle="corner_angle", hem="hem"),
    _family(FreeSection, "own section", (*LETTERS, "free"), ()),
)}


SQUARE = 90.05
"""A wall that a roof is folded up to by more falls toward it, degrees: water comes to the wall."""
_AGAINST = {Headwall: False, SkewWall: False, BackPan: True}  # whether for a wall that the roof falls toward


def families_for(kind: str, fold: float | None = None) -> tuple[Family, ...]:
    """The details that suit a kind of edge, the usual one first; of a wall only those for a roof that is folded up to
    it by ``fold`` degrees, where that is given."""
    against = None if fold is None else fold > SQUARE
    found = [family for family in FAMILIES.values() if kind in family.kinds and (
        against is None or _AGAINST.get(family.model, against) == against)]
    return tuple(sorted(found, key=lambda family: kind == "free" and family.name != "free"))
