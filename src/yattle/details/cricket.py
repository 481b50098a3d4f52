"""The cricket: two small planes behind a chimney that lead the water round it.

Its ridge is level, half the width times tan(its pitch) above the chimney's back corners, and meets the roof that much
over tan(the roof's pitch) further up; from there its valleys run down to the corners.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from yattle.details.feet import UP, Array, angle
from yattle.details.upstand import CUT, LIFT, SLIT
from yattle.errors import InputError
from yattle.pattern.body import Body

_LEAST = 9.0  # degrees: a sharper corner cannot be folded on both its sides


@dataclass(frozen=True)
class Cricket:
    """Behind a straight chimney ``width`` wide on a roof of ``pitch`` degrees, itself of pitch ``own``; ``back`` is the
    middle of the chimney's back foot. ``above``: the upstand over its ridge; ``flange``, ``lap``, ``tab``, ``wing``
    (beyond the corners) in mm."""

    width: float
    pitch: float
    own: float
    back: Array
    above: float
    flange: float
    lap: float
    tab: float
    wing: float

    def __post_init__(self) -> None:
        if not self.reach < 20 * self.width:
            raise InputError(
                "cricket_pitch",
                f"{self.own:g}° on a roof of {self.pitch:g}°",
                "less of it, or none: its ridge meets the roof too far up",
            )
        if angle(self.foot - self.corner(1), self.end - self.corner(1)) < _LEAST:
            raise InputError(
                "cricket_pitch",
                f"{self.own:g}° on a roof of {self.pitch:g}°",
                f"more: its planes come to a corner sharper than {_LEAST:g}°, which cannot be folded",
            )

    @property
    def rise(self) -> float:
        """Its ridge above the chimney's back corners, mm."""
        return self.width / 2 * math.tan(math.radians(self.own))

    @property
    def reach(self) -> float:
        """From the chimney to where its ridge meets the roof, mm in plan."""
        return self.rise / math.tan(math.radians(self.pitch))

    @property
    def valley(self) -> float:
        """The length of each of its valleys, mm."""
        return math.sqrt((self.width / 2) ** 2 + self.reach**2 + self.rise**2)

    def corner(self, hand: int) -> Array:
        return np.asarray(self.back + np.array([hand * self.width / 2, 0.0, 0.0]))

    @property
    def foot(self) -> Array:
        """Of its ridge, at the chimney."""
        return np.asarray(self.back + UP * self.rise)

    @property
    def end(self) -> Array:
        """Of its ridge, on the roof."""
        return np.asarray(self.back + np.array([0.0, self.reach, self.rise]))

    def normal(self, hand: int) -> Array:
        lean = math.radians(self.own)
        return np.array([hand * math.sin(lean), 0.0, math.cos(lean)])

    @property
    def _roof(self) -> Array:
        lean = math.radians(self.pitch)
        return np.array([0.0, -math.sin(lean), math.cos(lean)])

    @property
    def height(self) -> float:
        """Of the upstand behind the chimney, from its back corners to the level top."""
        return self.rise + self.above

    # -- pieces ---------------------------------------------------------------------------------------

    def halves(self) -> tuple[Body, Body]:
        """Two pieces with a seam on the ridge; the right one laps over the left one and goes on it last."""
        return self._half(-1, "cricket, left"), self._half(1, "cricket, right", laps=True)

    def _plane(self, body: Body, hand: int) -> int:
        return body.add("plane", [self.corner(hand), self.foot, self.end], self.normal(hand))

    def _half(self, hand: int, name: str, laps: bool = False) -> Body:
        body = Body(name)
        plane = self._plane(body, hand)
        room = 90 + self.own + (min(90 + self.own, 135 - self.own - SLIT) if laps else 0.0)
        self._skirt(body, plane, hand, room)
        if laps:
            slope = math.radians(self.own)
            steep = math.tan(math.radians(angle(self.foot - self.end, self.corner(hand) - self.end)))
            lap = min(self.lap, 0.7 * self.reach / (1 + 1 / steep))  # no further than the other half reaches
            out = np.array([-hand * math.cos(slope), 0.0, -math.sin(slope)]) * lap
            body.flap(plane, self.foot, self.end, out, self.normal(-hand), "ridge seam", "brake", (lap, lap / steep))
        return body

    def _skirt(self, body: Body, plane: int, hand: int, room: float) -> None:
        """The flange on the roof, the upstand behind the chimney and its tab round the corner."""
        corner, end = self.corner(hand), self.end
        down = (corner - end) / np.linalg.norm(corner - end)
        out = np.cross(down, self._roof)
        out = out if out[1] > 0 else -out

        def at(off: float, x: float) -> Array:
            """The place on the roof ``off`` mm from the valley's line, at x in plan."""
            return np.asarray(corner + out * off + down * ((x - corner[0] - out[0] * off) / down[0]))

        foot_x, head_x = (
            hand * (self.width / 2 + self.wing),
            -self.lap if hand > 0 else 0.0,
        )  # ends cut along the fall
        head = [at(self.flange, head_x), at(CUT, head_x), end + out * CUT]
        if hand < 0:  # it lies beneath: only a tip of it goes on under the other half's relief cut
            head = [at(self.flange, 0.0), at(0.0, 25.0)]
        flange = body.add("flange", [corner, at(0.0, foot_x), at(self.flange, foot_x), *head, end], self._roof)
        body.fold(plane, flange, corner, end)
        wall = body.add("upstand", self._upstand(hand, room, UP * LIFT), (0, 1, 0))
        body.fold(plane, wall, corner, self.foot)
        self._tab(body, wall, hand, corner)

    def _upstand(self, hand: int, room: float, lift: Array) -> list[Array]:
        """Its corners: to the ridge, and over the ridge's line as far as the sheet allows (``room`` degrees from its
        own foot)."""
        corner, top = self.corner(hand), self.back + UP * self.height
        more = room - 90 - self.own  # beyond the plumb line over the ridge, degrees
        ring = [corner, corner + UP * self.height]
        if abs(more) < 1e-9:
            return [*ring, top, self.foot]
        wide = -hand * self.lap
        low = self.foot + np.array([wide, 0.0, 0.0]) + UP * self.lap / math.tan(math.radians(more))
        return [*ring, top + np.array([wide, 0.0, 0.0]), low + lift, self.foot + lift, self.foot]

    def _tab(self, body: Body, wall: int, hand: int, corner: Array) -> None:
        spent = angle(self.foot - corner, self.end - corner) + angle(self.foot - corner, UP)
        given = min(90 + self.pitch, 180 - spent - SLIT)
        toward = np.array([0.0, -1.0, 0.0])
        low = corner + self.tab * (toward + UP / math.tan(math.radians(given)))
        top = corner + UP * self.height
        if top[2] - low[2] < 5:
            return  # nothing of a tab is left: the side's own tab closes the corner
        tab = body.add("tab", [corner, low, top + toward * self.tab - UP * 3, top], (hand, 0, 0))
        body.fold(wall, tab, corner, top)
