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
