"""What goes with a curb's flashings: plugs before seams and ribs, caps over seams where flanges lie on them, the frame
under its opening as a cut list."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from yattle.details.feet import UP
from yattle.pattern.body import Body
from yattle.pattern.pattern import SCREW

PLUG, RIB_PLUG, CAP = "seam plug", "rib plug", "seam cap"
_FOOT = 25.0  # mm of a cap's foot on the panel, and of a plug's
ROOM = 2.0  # mm between a seam and what goes over it
_SCREWS = 100.0  # mm from one screw of a cap to the next


@dataclass(frozen=True)
class SeamSize:
    """A seam's, or a rib's, width and height over the flat, mm."""

    width: float
    height: float


def plug(seam: SeamSize, ribbed: bool, many: int) -> Body:
    """Closes a seam's or a rib's end before the curb: a small box open below, one for each seam above and below."""
    half, high = seam.width / 2 + ROOM, seam.height + ROOM
    body = Body(RIB_PLUG if ribbed else PLUG, qty=many)
    front = body.add("front", [(-half, 0, 0), (half, 0, 0), (half, 0, high), (-half, 0, high)], (0, -1, 0))
    depth = np.array([0.0, 40.0, 0.0])
    for name, a, b, paint in (("top", (-half, 0, high), (half, 0, high), (0, 0, 1)),
                              ("cheek", (-half, 0, 0), (-half, 0, high), (-1, 0, 0)),
                              ("cheek", (half, 0, high), (half, 0, 0), (1, 0, 0))):
        body.flap(front, a, b, depth, paint, name)
    body.flap(front, (half, 0, 0), (-half, 0, 0), (0, -_FOOT, 0), (0, 0, 1), "foot")
    return body


def seam_cap(seam: SeamSize, flange: float, past: float, where: str, many: int) -> Body:
    """A cap over a seam where a flange of so many mm lies over it, from the curb's upstand to ``past`` mm beyond the
    flange's outer edge: a hat with a foot on the flats to either side, its tape and its screws marked."""
    half, high, long = seam.width / 2 + ROOM, seam.height + ROOM, flange + past - ROOM
    body = Body(f"{CAP}, {where}", qty=many)
    low, top = np.array([0.0, -long / 2, 0.0]), np.array([0.0, long / 2, 0.0])
    right = np.array([1.0, 0.0, 0.0])
    roof = body.add("top", [low - right * half + UP * high, low + right * half + UP * high,
                            top + right * half + UP * high, top - right * half + UP * high], UP)
    for side in (-1.0, 1.0):
        out = right * side
        a, b = low + out * half + UP * high, top + out * half + UP * high
        web = body.add("side", [a, b, b - UP * high, a - UP * high], out)
        body.fold(roof, web, a, b)
        c, d = a - UP * high, b - UP * high
        foot = body.add("foot", [c, d, d + out * _FOOT, c + out * _FOOT], UP)
        body.fold(web, foot, c, d)
        line = c + out * _FOOT / 2, d + out * _FOOT / 2
        body.mark(foot, *line, "tape and screws")
        many_screws = max(1, math.ceil((long - _FOOT) / _SCREWS - 1e-9))
        for n in range(many_screws + 1):
            at = line[0] + (line[1] - line[0]) * ((_FOOT / 2 + (long - _FOOT) * n / many_screws) / long)
            body.mark(foot, at, at, SCREW)
    return body


@dataclass(frozen=True)
class FrameMember:
    """A member of the frame round an opening: ``many`` of a ``length``, notched for ribs at ``notches`` from its left
    end, each as ``wide`` and as deep as a rib. In mm."""

    name: str
    many: int
    length: float
    notches: tuple[float, ...] = ()
    wide: float = 0.0
    deep: float = 0.0

    def says(self) -> str:
        """One line of a cut list."""
        cut = ""
        if self.notches:
            places = ", ".join(f"{at:.0f}" for at in self.notches)
            cut = f", notched {self.wide:.0f} by {self.deep:.0f} at {places} from its left end"
        return f"{self.many} {self.name} of {self.length:.0f}{cut}"


def frame_of(across: float, along: float, thick: float, ribs: tuple[float, ...],
             rib: SeamSize) -> tuple[FrameMember, ...]:
    """The frame under an opening of ``across`` by ``along``, its members ``thick`` mm: two sides with the cross members
    between them; of a ribbed roof the cross members' tops are notched where ``ribs`` (from the left side) run over."""
    notches = tuple(round(at, 1) for at in ribs if rib.width / 2 < at < across - rib.width / 2)
    return (FrameMember("sides", 2, along + 2 * thick),
            FrameMember("cross members", 2, across, notches, rib.width + 2 * ROOM, rib.height + ROOM))
