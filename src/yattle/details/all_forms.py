"""Every form by the name of its detail, and which openings it is for."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from yattle.details.bends import SegmentBend
from yattle.details.boxes import Box, EndCap, Kneeler
from yattle.details.chimney import Chimney
from yattle.details.closed import DormerRidge, PaperJig, PeakCap, RidgeJoint, ThreeWay
from yattle.details.curb import Curb
from yattle.details.forms import Form
from yattle.details.gutter import GutterCorner
from yattle.details.pans import StandingPan, Tray
from yattle.details.pipe import Pipe
from yattle.details.rounds import Cone, SquareToRound
from yattle.details.three_pans import ThreePans

_ALL: tuple[type[Form], ...] = (
    Chimney, Pipe, Curb, StandingPan, Tray, ThreePans, ThreeWay, DormerRidge, RidgeJoint, PeakCap,
    GutterCorner, Box, EndCap, Kneeler, PaperJig,
    SegmentBend, Cone, SquareToRound)
FORMS: dict[str, type[Form]] = {str(form.model_fields["detail"].default): form for form in _ALL}
"""Forms by the name of their detail."""
OPENINGS = {"chimney": "chimney", "pipe": "pipe", "curb": "curb", "skylight": "curb"}
"""Which form a kind of opening gets."""
_CAP = {"arm": "arms", "wing": "to each side", "lap": "lap"}
TITLES: dict[str, dict[str, str]] = {
    "chimney": {"school": "school", "cricket": "behind it", "cricket_pitch": "its pitch", "counter": "at the wall",
                "saw": "saw to blade", "packing": "packing", "kerf_depth": "kerf depth",
                "kerf_room": "seal room",
                "apron": "apron", "flange": "side flange", "pan": "back pan", "lap": "lap", "tab": "corner tab",
                "counter_face": "counter face", "counter_kick": "counter kick", "course": "course",
                "apron_hem": "apron hem", "stock_length": "stock length",
                "seam_height": "seam height", "lock": "seam's lock", "cross_foot": "feet turned under",
                "water_check": "water check"},
    "pipe": {"school": "school", "height": "collar height", "gap": "gap to pipe", "skirt": "plate round it",
             "lap": "collar seam", "tabs": "tabs", "brim": "storm brim", "rise": "storm height",
             "pan_lap": "pans' lap", "past_hole": "past the hole", "seam_height": "seam height", "lock": "seam's lock",
             "set_width": "set's width", "set_angle": "set by", "chord": "off the round"},
    "curb": {"panel": "panels", "height": "upstand", "lower": "lower flange", "side": "side flange",
             "upper": "upper flange", "diverter": "diverter", "diverter_reach": "its reach", "tab": "corner tab",
             "lap": "lap", "seam_height": "seam height", "seam_width": "seam width",
             "seam_aside": "seam off its line", "rib_pitch": "ribs every", "caps_past": "caps past ends",
             "below_gap": "gap below", "above_gap": "gap above",
             "frame_thick": "frame", "screw_pitch": "screws every"},
    "three-way-cap": _CAP, "dormer-ridge": _CAP | {"up": "up the main roof"}, "ridge-joint": _CAP, "peak-cap": _CAP,
    "gutter-corner": {"back": "back", "bottom": "bottom", "front": "front", "lip": "lip", "arm": "arms",
                      "lap": "rivet tabs"},
    "box": {"width": "width", "height": "height", "hand": "end", "depth": "depth", "tab": "rivet tabs", "hem": "hem"},
    "end-cap": {"hand": "end", "fit": "goes", "clearance": "clearance", "depth": "sides", "tab": "rivet tabs",
                "hem": "hem", "closing": "its mouth", "slopes": "slopes", "parts": "parts", "lap": "lap"},
    "kneeler": {"width": "eave overhang", "height": "at the fascia", "pitch": "pitch", "depth": "past the wall",
                "tab": "rivet tabs", "hem": "hem"},
    "tray": {"width": "between seams", "floor": "length of pan", "legs": "turn-up"},
    "three-pans": {"over": "who lies over", "school": "school", "hand": "hand", "cross": "cross seam",
                   "height": "seam height", "lock": "lock", "head": "head turned", "taper": "taper", "keep": "kept",
                   "offset": "seams apart"}}
"""What can be chosen for the forms of openings and corners, and what it is called."""
_BEGIN: dict[str, dict[str, float]] = {
    "pan": {"coverage": 500.0, "length": 3000.0}, "jig": {"degrees": 45.0}, "bend": {"diameter": 100.0},
    "cone": {"bottom": 300.0, "top": 150.0, "height": 250.0},
    "square-to-round": {"width": 300.0, "depth": 300.0, "diameter": 200.0, "height": 250.0}}
FREE = tuple(name for name in FORMS if name not in OPENINGS.values())
"""Forms that can be made as pieces of their own, without an opening or corner of the roof."""


_BESIDE = {"pipe": ("gap", "skirt"), "curb": ("side",), "chimney": ("flange",)}
_NO_PLATE = ("flexible", "folded")  # schools: a ready boot on the pan, pans whose seams run along the sides


def lies_beside(kind: str, values: Mapping[str, Any]) -> float:
    """How far the plate or the flange of an opening of that kind lies on the roof to either side of it, mm; ``values``:
    what was chosen for its form."""
    form = OPENINGS[kind]
    if values.get("school") in _NO_PLATE:
        return 0.0
    fields = FORMS[form].model_fields
    return sum(chosen(values, name, fields[name].default) for name in _BESIDE[form])


def chosen(values: Mapping[str, Any], field: str, usual: float) -> float:
    """What was chosen for a measure of an opening's form, mm; ``usual`` where nothing was, or a word: that is said
    where the piece is made."""
    value = values.get(field)
    return float(value) if isinstance(value, float | int) else usual


def beginning(form: str) -> dict[str, float]:
    """The measures that a piece of its own begins with, where the form has none for itself. In mm or degrees."""
    return dict(_BEGIN.get(form, {}))


def _own_titles(form: type[Form]) -> dict[str, str]:
    """Every number and choice of a form under its own name."""
    plain = ("format", "id", "metal", "measured", "detail", "chord")
    return {name: name.replace("_", " ") for name, field in form.model_fields.items() if name not in plain
            and (field.annotation in (float, int) or "Literal" in str(field.annotation))}


OWN_TITLES = {name: _own_titles(FORMS[name]) | {
    field: title for field, title in TITLES.get(name, {}).items() if field in FORMS[name].model_fields}
    for name in FREE}
"""What can be chosen for pieces of their own: all there is."""
ANSWERS = {"none": "nothing", "two": "cricket, ridge seam", "one": "cricket, one piece", "straight": "in a kerf",
           "stepped": "stepped to the courses", "turned": "sides turned into the kerf",
           "three-way-cap": "cap over the three", "dormer-ridge": "cap at the valleys",
           "ridge-joint": "cap where ridges meet",
           "peak-cap": "peak cap", "gutter-corner": "gutter corner", "box": "closing box",
           "end-cap": "end cap", "over": "over the section", "inside": "inside the section",
           "kneeler": "kneeler", "tray": "folded tray",
           "three-pans": "three pans' relief", "pan": "seamed pan", "jig": "angle template",
           "bend": "segment bend", "cone": "cone or cylinder", "square-to-round": "square to round",
           "cut": "cut and tabbed", "folded": "folded pans, no cut",
           "base": "base and collar", "boot": "conical boot", "split": "pans split round it", "flexible": "ready boot",
           "standing-seam": "standing seam", "ribbed": "ribbed"}
"""Choices in the trade's words."""
SAYS = {"cut": "made on the brake, its corners lapped: fits every chimney",
        "folded": "no cut, no sealant: slow hands, low pitches, a straight chimney",
        "base": "soldered or riveted collar: decades, two pieces more", "boot": "one cone, its seal renewed",
        "split": "flashing between two pans: longest life, two pans made for it",
        "flexible": "on top of the pan: quick, a fraction of the life",
        "straight": "one strip each side, a kerf right through the bricks",
        "stepped": "follows the joints: more pieces, no cut through bricks",
        "turned": "no counterflashing: fewer pieces, but the roof's sheet is held by the wall",
        "two": "water never stands behind it", "one": "no ridge seam, but two patches to solder",
        "none": "least metal; water and snow lie there"}
"""What each choice costs."""
