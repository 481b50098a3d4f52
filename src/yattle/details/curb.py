"""A curb on the roof, for a skylight or a machine: base of four flashings, diverter, plugs for the seams."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from yattle.bounds import Id, Lap, Size, SizeOrNone
from yattle.details.common import Finding
from yattle.details.curb_parts import CAP, PLUG, RIB_PLUG, ROOM, FrameMember, SeamSize, frame_of, plug, seam_cap
from yattle.details.drops import Leak, Piece, leaks
from yattle.details.feet import UP, Array, angle
from yattle.details.forms import Form, moved, tilted
from yattle.details.panels_round import Flashed, panels_round
from yattle.details.parted import parted
from yattle.errors import InputError
from yattle.measure import Whole
from yattle.pattern.body import Body
from yattle.pattern.pattern import SCREW
from yattle.pattern.surface import Surface

_SIDES = ("lower flashing", "right side", "upper flashing", "left side")
_PAST = 10.0  # mm that the diverter's flange goes on above the upper flashing
_EDGE = 25.0  # mm from an edge to its row of tape and screws
_WIDE = 150.0  # mm of lap from which there is a second row
_APART = 75.0  # mm between two rows
_BESIDE = 0.01  # mm: nearer to a side a seam runs along it
_AT_END = 0.5  # mm between a seam's end and its plug
_SLACK = 6.0  # a diverter reaches back at least that share of the curb's width


class Curb(Form):
    """A curb built square to a roof of ``pitch``. Lengths in mm, angles in degrees.

    Corners are mitred, laps go down the slope. Rows of tape, two where a lap is over 150 wide, and the screws in them
    are marked on the flanges: through the lower one into the panels, on a ribbed roof through the panels into the
    others too.

    ``across``, ``along``: its sizes on the slope; ``height``: of its upstand
    ``panel``: seams that run in are plugged, and on a ``standing-seam`` roof capped where flanges lie on them, the caps
        ``caps_past`` past their outer edges; ribs of a ``ribbed`` one, ``rib_pitch`` apart, are plugged and filled
    ``coverage``: the panels'; ``from_seam``: from the next seam on its left to its left side
    ``seam_aside``: from a seam's line to its middle, to the right: a lock goes to one side
    ``below_gap``, ``above_gap``: between the curb and the panels' ends below and above it
    ``frame_thick``: the members' that frame the opening; ``stock_length``: what is longer is parted and lapped
    ``lower``, ``side``, ``upper``: the flanges
    ``diverter``: how high the saddle behind the curb stands at it, 0: none; ``diverter_reach``: how far it goes back
    """

    detail: Literal["curb"] = "curb"
    id: Id = "CU1"
    across: Size
    along: Size
    pitch: Annotated[float, Field(ge=0, lt=80)]
    height: Size = 200.0
    lower: Size = 150.0
    side: Size = 120.0
    upper: Size = 250.0
    tab: Size = 50.0
    lap: Lap = 80.0
    panel: Literal["standing-seam", "ribbed"] = "standing-seam"
    coverage: Size = 500.0
    from_seam: SizeOrNone = 100.0
    seam_height: Size = 38.0
    seam_width: Size = 25.0
    seam_aside: SizeOrNone = 0.0
    diverter: SizeOrNone = 60.0
    diverter_reach: Size = 300.0
    screw_pitch: Size = 150.0
    rib_pitch: SizeOrNone = 0.0
    caps_past: SizeOrNone = 150.0
    below_gap: SizeOrNone = 10.0
    above_gap: SizeOrNone = 60.0
    frame_thick: Size = 45.0
    stock_length: Size = 3000.0

    @property
    def _corners(self) -> list[Array]:
        a, b = self.across / 2, self.along / 2
        return [np.array(p) for p in ((-a, -b, 0.0), (a, -b, 0.0), (a, b, 0.0), (-a, b, 0.0))]

    def surfaces(self) -> tuple[Surface, ...]:
        self._check()
        made = [part for n in (0, 1, 3, 2) for part in self._to_stock(n)]
        if self.diverter and self.pitch > 0:
            made += [self._saddle(hand).surface() for hand in (-1, 1)]
        if self.seams:
            made += self._over_seams()
        return tuple(made)

    def _to_stock(self, n: int) -> tuple[Surface, ...]:
        """One side's flashing, in parts that lap where it is longer than the stock."""
        along = np.array([1.0, 0.0, 0.0] if n in (0, 2) else [0.0, 1.0, 0.0])
        return parted(self._side(n).surface(), along, self.stock_length, self.lap)

    def _check(self) -> None:
        if self.diverter and self.diverter + 20 > self.height:
            raise InputError("diverter", f"{self.diverter:g} mm on an upstand of {self.height:g} mm",
                             "20 mm less than the upstand, so that it can be closed above it")
        if min(self.across, self.along) < 2 * self.tab:
            raise InputError("tab", f"{self.tab:g} mm", f"at most half the curb's shorter side, "
                             f"{min(self.across, self.along) / 2:g} mm")

    @property
    def seams(self) -> tuple[float, ...]:
        """Where seams, or ribs, run into it between its sides, mm from its left one; one that runs along a side is
        none."""
        each = self.rib_pitch if self.panel == "ribbed" and self.rib_pitch else self.coverage
        last = math.floor((self.across + self.from_seam - _BESIDE) / each)
        places = (n * each - self.from_seam for n in range(1, last + 1))
        return tuple(place for place in places if place > _BESIDE)

    def _side(self, n: int) -> Body:
        """Upstand and flange of one side. The lower one reaches past the sides' flanges, the sides lap over it and go
        on under the upper one, which laps over them."""
        corners = self._corners
        a, b = corners[n], corners[(n + 1) % 4]
        along = (b - a) / np.linalg.norm(b - a)
        out = np.cross(along, UP)
        flange = (self.lower, self.side, self.upper, self.side)[n]
        beyond = (self.side + 20, self.lap, self.side - 15, self.lap)[n]
        body = Body(_SIDES[n])
        face = body.add("flange", [a - along * beyond, a, b, b + along * beyond, b + along * beyond + out * flange,
                                   a - along * beyond + out * flange], UP)
        wall = body.add("upstand", [a, b, b + UP * self.height, a + UP * self.height], out)
        body.fold(face, wall, a, b)
        for at, way in ((a, -along), (b, along)):
            low, top, turned = at + UP * 3.0, at + UP * self.height, -out * self.tab
            tab = body.add("tab", [low, low + turned + UP * 0.03 * self.tab, top + turned - UP * 3, top], way)
            body.fold(wall, tab, low, top)
        self._mark(body, face, n, (a - along * beyond, b + along * beyond, out), flange)
        return body

    def _mark(self, body: Body, face: int, n: int, foot: tuple[Array, Array, Array], flange: float) -> None:
        """Rows of tape along the outer edge, with the screws in them, and across where it laps over what lies below."""
        a, b, out = foot
        along = (b - a) / np.linalg.norm(b - a)
        for off in _rows(flange):
            one, other = (end + out * (flange - off) for end in (a + along * _EDGE, b - along * _EDGE))
            screwed = off == _EDGE and (n == 0 or self.panel == "ribbed")
            body.mark(face, one, other, "tape and screws" if screwed else "tape")
            for at in self._screws(float(np.linalg.norm(other - one))) if screwed else ():
                body.mark(face, one + along * at, one + along * at, SCREW)
        ends = {1: ((a, along),), 2: ((a, along), (b, -along)), 3: ((b, -along),)}.get(n, ())
        reach = min(flange - _EDGE, self.lap) if n == 2 else flange - _EDGE
        for end, inward in ends:  # across the flange, where it lies on the piece below
            for off in _rows(self.side if n == 2 else self.lap):
                body.mark(face, end + inward * off + out * 10.0, end + inward * off + out * reach, "tape")

    def _screws(self, row: float) -> tuple[float, ...]:
        """Where the screws come in a row of so many mm: one at each end, no further apart than their pitch."""
        return tuple(np.linspace(0.0, row, math.ceil(row / self.screw_pitch - 1e-9) + 1).tolist())

    def _saddle(self, hand: int) -> Body:
        """Half of the diverter: a plane from the curb's upper corner to the saddle's ridge, with a leg up the curb
        and a flange on the roof; the right half laps over the left one on the ridge."""
        corner = np.array([hand * self.across / 2, self.along / 2, 0.0])
        foot = np.array([0.0, self.along / 2, self.diverter])
        end = np.array([0.0, self.along / 2 + self.diverter_reach, 0.0])
        normal = np.cross(foot - corner, end - corner)
        normal = normal if normal[2] > 0 else -normal
        body = Body(f"diverter, {'left' if hand < 0 else 'right'}")
        plane = body.add("plane", [corner, foot, end], normal)
        flange = body.add("flange", self._saddle_flange(hand, corner, end), UP)
        body.fold(plane, flange, corner, end)
        top = self.diverter + 20.0
        leg = body.add("leg", [corner, foot, np.array([0.0, foot[1], top]), np.array([corner[0], foot[1], top])],
                       (0, 1, 0))
        body.fold(plane, leg, corner, foot)
        if hand > 0:
            other = np.array([-foot[0], foot[1], foot[2]]) - np.array([-corner[0], corner[1], corner[2]])
            beyond = np.cross(other, end - foot)
            beyond = beyond if beyond[2] > 0 else -beyond
            ridge = (end - foot) / np.linalg.norm(end - foot)
            way = np.cross(ridge, beyond / np.linalg.norm(beyond))
            way = way if way[0] < 0 else -way
            steep = math.tan(math.radians(angle(foot - end, corner - end)))
            lap = min(30.0, 0.6 * float(np.linalg.norm(end - foot)) / (1 + 1 / steep))
            body.flap(plane, foot, end, way * lap, beyond, "ridge seam", "brake", (lap, lap / steep))
        return body

    def lost_drops(self) -> tuple[Leak, ...] | None:
        flashings = [surface for surface in self.surfaces()
                     if surface.name not in (PLUG, RIB_PLUG) and not surface.name.startswith(CAP)]
        below, above, seams = panels_round(self._flashed, flashings, lambda x, y: 0.0)
        pieces = [Piece(tilted(surface, self.pitch), surface is below or surface.name.startswith(_SIDES[0]))
                  for surface in (below, *flashings, above)]
        lean = math.radians(self.pitch)

        def seen(ring: Iterable[Iterable[float]]) -> list[tuple[float, float]]:
            return [(x, y * math.cos(lean)) for x, y, *_ in ring]
        return tuple(leaks(pieces, seen(self._corners), lambda x, y: y * math.tan(lean),
                           standing=[seen(seam) for seam in seams]))

    @property
    def _flashed(self) -> Flashed:
        return Flashed(self.across, self.along, self.side, self.lower, self.upper, self.below_gap, self.above_gap,
                       tuple(x - self.across / 2 for x in self.seams), self.seam_width, self.caps_past > 0)

    def _saddle_flange(self, hand: int, corner: Array, end: Array) -> list[Array]:
        """On the upper flashing, up under the panels and as far out as it, so that water comes on it from nowhere but
        above; over the ridge's end the right one goes on over the left one."""
        side, low = hand * (self.across / 2 + self.side - 20), corner[1] + 3.0
        top = self._flange_top  # or a drop comes in above it
        middle = [np.array([0.0, top, 0.0])]
        if hand > 0:
            over = end[1] - self.lap * self.diverter_reach / (self.across / 2)
            middle = [np.array([-self.lap, top, 0.0]), np.array([-self.lap, over + 4.0, 0.0]), end + UP * 0]
        return [corner, np.array([side, low, 0.0]), np.array([side, top, 0.0]), *middle, end]

    @property
    def _seam(self) -> SeamSize:
        return SeamSize(self.seam_width, self.seam_height)

    def _over_seams(self) -> list[Surface]:
        """Plugs before the seams or ribs that run in; over standing seams caps where the flanges lie on them."""
        ribbed, many = self.panel == "ribbed", len(self.seams)
        x = self.seams[0] - self.across / 2 + (0.0 if ribbed else self.seam_aside)
        front = -self.along / 2
        begins = [self._begins_above(seam) for seam in self.seams]
        begin, aside = begins[0], [seam - self.seams[0] for seam in self.seams]
        others = tuple(((by, up - begin, 0.0), False) for by, up in zip(aside[1:], begins[1:], strict=True))
        end = self.along / 2 + begin - _AT_END  # where the first one above ends
        below = tuple(((by, front + _AT_END - end, 0.0), True) for by in aside)  # these end before the curb, looking up
        made = [(plug(self._seam, ribbed, 2 * many), end, (*others, *below))]
        if not ribbed and self.caps_past:
            over = max(self._flange_top - self.along / 2 - min(begins), 0.0)
            level = tuple(((by, 0.0, 0.0), False) for by in aside[1:])
            made += [(seam_cap(self._seam, flange, self.caps_past, where, many), at, like)
                     for flange, where, at, like in (
                         (self.lower, "below", front - self._cap_middle(self.lower), level),
                         (over, "above", self.along / 2 + begin + self._cap_middle(over), others))]
        return [replace(moved(body.surface(), np.eye(3), np.array([x, y, 0.0])), also=also) for body, y, also in made]

    @property
    def _diverts(self) -> bool:
        return bool(self.diverter) and self.pitch > 0

    @property
    def _flange_top(self) -> float:
        """How far up from the middle the flanges behind it go, mm."""
        flat = self.along / 2 + self.upper
        return max(flat + _PAST, self.along / 2 + self.diverter_reach + self.lap) if self._diverts else flat

    def _begins_above(self, seam: float) -> float:
        """How far behind the upstand a seam above begins, mm from the left side: at it, or as far behind the diverter
        as the panels do."""
        if not self._diverts:
            return 0.0
        half = self.across / 2
        return max(self.diverter_reach * (1 - abs(seam - half) / half), 0.0) + self.above_gap

    @property
    def _seams_above(self) -> float:
        """How far behind the upstand the seam begins that is highest up, mm."""
        return max(map(self._begins_above, self.seams), default=0.0)

    def _cap_middle(self, flange: float) -> float:
        """How far a cap's middle is from the upstand or the diverter's panels, where it begins."""
        return (flange + self.caps_past + ROOM) / 2

    @property
    def frame(self) -> tuple[FrameMember, ...]:
        """The frame under its opening, as a cut list."""
        return frame_of(self.across, self.along, self.frame_thick, self.seams if self.panel == "ribbed" else (),
                        self._seam)

    @property
    def panel_ends(self) -> tuple[float, float]:
        """How far the panels below go under the lower flange, and those above lie over the upper one. In mm."""
        return self.lower - self.below_gap, max(self.upper - self.above_gap, 0.0)

    @property
    def notes(self) -> tuple[str, ...]:
        row = self.across + 2 * (self.side + 20 - _EDGE)
        screws = self._screws(row)
        return (f"Lower flange over the panels: {len(screws)} screws at {screws[1]:.0f}, {_EDGE:g} from its edge, tape "
                f"in the same line; a second row of tape where a lap is over {_WIDE:g} wide.",
                "Order: lower flashing, sides, upper flashing, diverter; panels below go under, panels above over it.",
                self._seams_say(),
                f"Panels below end {self.below_gap:g} from the upstand, {self.panel_ends[0]:g} under the lower flange; "
                f"those above begin {self.above_gap:g} behind it, {self.panel_ends[1]:g} over the upper flange: both "
                "can move.",
                f"The opening is framed all round: {'; '.join(member.says() for member in self.frame)}.")

    def _seams_say(self) -> str:
        if not self.seams:
            return "No seam runs in."
        if self.panel == "ribbed":
            return (f"{len(self.seams)} ribs run in; a plug stands in each above and below, profile strips lie under "
                    "the flanges.")
        begins = "the upstand, above from behind the diverter," if self._diverts else "the upstand"
        caps = f"; a cap over it goes from {begins} to {self.caps_past:g} past each flange" if self.caps_past else ""
        return f"{len(self.seams)} seams run in; a plug stands in each above and below{caps}."

    @property
    def ribs_beneath(self) -> int:
        """How many ribs run under its flanges, between their outer edges."""
        if self.panel != "ribbed":
            return 0
        each, left = self.rib_pitch or self.coverage, self.side
        first = math.ceil((self.from_seam - left) / each - 1e-9)
        return max(0, math.floor((self.from_seam + self.across + self.side) / each + 1e-9) - first + 1)

    @property
    def cautions(self) -> tuple[str, ...]:
        return (*super().cautions, "A hole in the deck: guard it, its framing by a licensed person.",
                "Before the deck is cut: what runs beneath it.")

    def looks(self) -> tuple[Finding, ...]:
        found = []
        left, right = self.from_seam, (-self.from_seam - self.across) % self.coverage
        if self.panel == "standing-seam" and min(left, right) < self.side + 20:
            found.append(Finding("look", "a seam {0} beside the curb",
                                 "the side flange of {1} wants the flat of the pan: shift the panels or the "
                                 "curb", "from_seam", (Whole(min(left, right)), Whole(self.side))))
        if self.ribs_beneath:
            found.append(Finding("look", f"its flanges lie over {self.ribs_beneath} ribs, not flat on the panel",
                                 "profile strips in two beads under every flange, screws in the ribs; on low pitches a "
                                 "flat pan welded or soldered to the curb", "side"))
        least = self.across / _SLACK
        if self.diverter and self.pitch > 0 and self.diverter_reach < least:
            found.append(Finding("look", "the diverter reaches {0} behind a curb of {1}: drops run in at its ridge",
                                 "{2} or more", "diverter_reach", (self.diverter_reach, self.across, least)))
        return tuple(found)


def _rows(lap: float) -> tuple[float, ...]:
    """How far from the edge the rows of tape of a lap lie, mm."""
    return (_EDGE, _EDGE + _APART) if lap > _WIDE else (_EDGE,)
