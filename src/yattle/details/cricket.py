"""The cricket: two small planes behind a chimney that lead the water round it.

Its ridge is level, half the width times tan(its pitch) above the chimney's back corners, and meets the roof that much
over tan(the roof's pitch) further up; from there its valleys run down to the corners.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from yattle.details.feet import UP, Array, angle, cross
from yattle.details.upstand import CUT, LIFT, SLIT
from yattle.errors import InputError
from yattle.pattern.body import Body

_WIDEST = 75.0  # degrees that a patch can close
_LEAST = 9.0  # degrees: a sharper corner cannot be folded on both its sides


@dataclass(frozen=True)
class Cricket:
    """A cricket behind a straight chimney. Lengths in mm, angles in degrees.

    ``width``: the chimney's; ``pitch``: the roof's; ``own``: the cricket's own pitch
    ``back``: the middle of the chimney's back foot
    ``above``: the upstand over its ridge
    ``flange``, ``lap``, ``tab``: on the roof, at the seam, at corners; ``wing``: beyond the chimney's corners
    """

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
        """The chimney's back corner at the left (−1) or right (+1) ``hand``, mm."""
        return np.asarray(self.back + np.array([hand * self.width / 2, 0.0, 0.0]))

    @property
    def foot(self) -> Array:
        """The lower end of its ridge, at the chimney, mm."""
        return np.asarray(self.back + UP * self.rise)

    @property
    def end(self) -> Array:
        """The upper end of its ridge, on the roof, mm."""
        return np.asarray(self.back + np.array([0.0, self.reach, self.rise]))

    def normal(self, hand: int) -> Array:
        """The unit normal, upward, of its left (−1) or right (+1) plane."""
        lean = math.radians(self.own)
        return np.array([hand * math.sin(lean), 0.0, math.cos(lean)])

    @property
    def _roof(self) -> Array:
        lean = math.radians(self.pitch)
        return np.array([0.0, -math.sin(lean), math.cos(lean)])

    @property
    def height(self) -> float:
        """Of the upstand behind the chimney, from its back corners to the level top. In mm."""
        return self.rise + self.above

    # -- pieces ---------------------------------------------------------------------------------------

    def halves(self) -> tuple[Body, Body]:
        """Two pieces with a seam on the ridge; the right one laps over the left one and goes on it last."""
        return self._half(-1, "cricket, left"), self._half(1, "cricket, right", laps=True)

    def one_piece(self) -> tuple[Body, ...]:
        """One piece folded on the ridge, and two patches. Round both ends of the ridge there is more roof and wall
        than the 360° of a sheet, so the right half's flange and upstand are cut back there, and a patch closes each
        gap. Raises :class:`InputError` where it is too steep to be folded from one."""
        if self._open_wall > _WIDEST:
            raise InputError("cricket", f"'one' at a cricket of {self.own:g}°",
                             f"'two': the gap in the upstand would open by {self._open_wall:.0f}°")
        body = Body("cricket")
        left = self._plane(body, -1)
        right = self._plane(body, 1)
        body.fold(left, right, self.foot, self.end)
        for hand, plane in ((-1, left), (1, right)):
            self._flange(body, plane, hand, [self._head(hand)])
            way = math.radians(self._open_wall if hand > 0 else 0.0)
            top = self.foot + np.array([math.tan(way), 0.0, 1.0]) * self.above
            ring = [self.corner(hand), self.corner(hand) + UP * self.height, top, self.foot]
            wall = body.add("upstand", ring, (0, 1, 0))
            body.fold(plane, wall, self.corner(hand), self.foot)
            self._tab(body, wall, hand, self.corner(hand))
        return body, self._patch_roof(), self._patch_wall()

    def _head(self, hand: int) -> Array:
        """The upper outer corner of a flange of the cricket in one piece."""
        up = self._turned(self._open_roof if hand > 0 else 0.0)
        return np.asarray(self.end + up * self.flange / math.sin(math.radians(180 - angle(up, self._down(hand)))))

    @property
    def _open_roof(self) -> float:
        """Degrees that the flanges want more than the sheet has round the ridge's end on the roof."""
        fall = -self._turned(0.0)
        return 2 * (angle(self.foot - self.end, self._down(1)) - angle(fall, self._down(1))) + SLIT

    @property
    def _open_wall(self) -> float:
        """The same round the ridge's foot at the chimney."""
        return 2 * self.own + SLIT

    def _down(self, hand: int) -> Array:
        """Along a valley, down from the ridge's end."""
        way = self.corner(hand) - self.end
        return np.asarray(way / np.linalg.norm(way))

    def _turned(self, degrees: float) -> Array:
        """In the roof: up the slope, turned to the right."""
        lean, turn = math.radians(self.pitch), math.radians(degrees)
        up = np.array([0.0, math.cos(lean), math.sin(lean)])
        return np.asarray(up * math.cos(turn) + np.array([math.sin(turn), 0.0, 0.0]))

    def _patch_roof(self) -> Body:
        up, body, lap = self._turned(0.0), Body("patch, roof"), self._patch_lap
        right = self._head(1) + self._out(1) * 8.0  # a little over the flange's edge, under the panels
        high = self._head(-1) + up * 20.0
        tops = [right + self._down(1) * lap, right, high, high - np.array([lap, 0.0, 0.0])]
        self._wedge(body, self.end, up, self._open_roof, tops, self._roof)
        return body

    @property
    def _patch_lap(self) -> float:
        return min(self.lap, 0.4 * self.width) / 2

    def _patch_wall(self) -> Body:
        body, lap, at = Body("patch, upstand"), self._patch_lap, self.foot + np.array([0.0, 0.6, 0.0])
        far = min(self.above * math.tan(math.radians(self._open_wall)) + lap, 0.5 * self.width)
        tops = [at + UP * self.above + np.array([x, 0.0, 0.0]) for x in (far, -lap)]
        self._wedge(body, at, UP, self._open_wall, tops, np.array([0.0, 1.0, 0.0]))
        return body

    def _wedge(self, body: Body, at: Array, up: Array, opens: float, tops: list[Array], paint: Array) -> None:
        """A plate over a gap that opens by so many degrees from its tip, lapping both sides, up to ``tops``."""
        lap, right = self._patch_lap, np.array([1.0, 0.0, 0.0])
        wide = lap + math.tan(math.radians(opens))
        body.add("patch", [at + up - right * lap, at + up + right * wide, *tops], paint)

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
        corner = self.corner(hand)
        head = [self._at(hand, off, -self.lap) for off in (self.flange, CUT)] + [self.end + self._out(hand) * CUT]
        if hand < 0:  # it lies beneath: only a tip of it goes on under the other half's relief cut
            head = [self._at(hand, self.flange, 0.0), self._at(hand, 0.0, 25.0)]
        self._flange(body, plane, hand, head)
        wall = body.add("upstand", self._upstand(hand, room, UP * LIFT), (0, 1, 0))
        body.fold(plane, wall, corner, self.foot)
        self._tab(body, wall, hand, corner)

    def _out(self, hand: int) -> Array:
        """In the roof, square to a valley, away from the cricket."""
        out = cross(self._down(hand), self._roof)
        return np.asarray(out if out[1] > 0 else -out)

    def _at(self, hand: int, off: float, x: float) -> Array:
        """The place on the roof ``off`` mm from a valley's line, at x in plan."""
        down, out = self._down(hand), self._out(hand)
        start = self.corner(hand) + out * off
        return np.asarray(start + down * ((x - start[0]) / down[0]))

    def _flange(self, body: Body, plane: int, hand: int, head: list[Array]) -> None:
        """The flange along a valley, its lower end cut along the fall, its upper one as ``head`` says."""
        foot_x = hand * (self.width / 2 + self.wing)
        corner = self.corner(hand)
        ring = [corner, self._at(hand, 0.0, foot_x), self._at(hand, self.flange, foot_x), *head, self.end]
        body.fold(plane, body.add("flange", ring, self._roof), corner, self.end)

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
