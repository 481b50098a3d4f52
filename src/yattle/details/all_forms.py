"""Every form by the name of its detail, and which openings it is for."""

from __future__ import annotations

from yattle.details.bends import Bend
from yattle.details.chimney import Chimney
from yattle.details.closed import Box, DormerRidge, PaperJig, PeakCap, ThreeWay
from yattle.details.curb import Curb
from yattle.details.forms import Form
from yattle.details.pans import StandingPan, ThreePans, Tray
from yattle.details.pipe import Pipe
from yattle.details.rounds import Cone, SquareToRound

_ALL: tuple[type[Form], ...] = (
    Chimney, Pipe, Curb, StandingPan, Tray, ThreePans, ThreeWay, DormerRidge, PeakCap, Box, PaperJig, Bend, Cone,
        SquareToRound)
FORMS: dict[str, type[Form]] = {str(form.model_fields["detail"].default): form for form in _ALL}
"""Forms by the name of their detail."""
OPENINGS = {"chimney": "chimney", "pipe": "pipe", "curb": "curb", "skylight": "curb"}
"""Which form a kind of opening gets."""
TITLES: dict[str, dict[str, str]] = {
    "chimney": {"cricket": "behind it", "cricket_pitch": "its pitch", "counter": "at the wall",
                "saw": "saw to blade", "packing": "packing", "kerf_depth": "kerf depth",
                "kerf_room": "seal room",
                "apron": "apron", "flange": "side flange", "pan": "back pan", "lap": "lap", "tab": "corner tab",
                "counter_face": "counter face", "counter_kick": "counter kick", "course": "course"},
    "pipe": {"school": "school", "height": "collar height", "gap": "gap to pipe", "skirt": "plate round it",
             "lap": "collar seam", "tabs": "tabs", "brim": "storm brim", "rise": "storm height",
             "pan_lap": "pans' lap", "chord": "off the round"},
    "curb": {"panel": "panels", "height": "upstand", "lower": "lower flange", "side": "side flange",
             "upper": "upper flange", "diverter": "diverter", "diverter_reach": "its reach", "tab": "corner tab",
             "lap": "lap", "seam_height": "seam height", "seam_width": "seam width", "screw_pitch": "screws every"}}
"""What can be chosen for the openings' forms, and what it is called."""
ANSWERS = {"none": "nothing", "two": "cricket, ridge seam", "straight": "in a kerf",
           "stepped": "stepped to the courses",
           "base": "base and collar", "boot": "conical boot", "split": "pans split round it", "flexible": "ready boot",
           "standing-seam": "standing seam", "ribbed": "ribbed"}
"""Choices in the trade's words."""
SAYS = {"base": "soldered or riveted collar: decades, two pieces more", "boot": "one cone, its seal renewed",
        "split": "flashing between two pans: longest life, two pans made for it",
        "flexible": "on top of the pan: quick, a fraction of the life",
        "straight": "one strip each side, a kerf right through the bricks",
        "stepped": "follows the joints: more pieces, no cut through bricks",
        "two": "water never stands behind it", "none": "least metal; water and snow lie there"}
"""What each choice costs."""
