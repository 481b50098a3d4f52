"""One piece of a flashing round an opening: an upstand on the wall and a flange on the roof, folded along the foot.

Sheet round a corner has only 360° to give. What an end asks for on the wall round the corner is cut back to what the
flat sheet has left there; the neighbour covers the rest.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from yattle.details.feet import UP, Array, RoofHere, Stretch, angle, cross
from yattle.errors import InputError
from yattle.pattern.body import Body

LIFT = 10.0  # mm over its foot that an upstand goes on past a meeting of planes
CUT = 2.0  # mm: how wide a relief cut is
_LEAST = 40.0  # mm of height that the end of a tab keeps
SLIT = 1.5  # degrees kept free between parts that lie beside each other in the flat sheet


@dataclass(frozen=True)
class Sizes:
    """Sizes of an upstand with its flange on the roof, mm.

    ``height``: of the upstand, plumb; ``flange``: on the roof
    ``before``, ``after``: how far the flange goes on beyond its ends: measured across the fall, its ends cut along the
        fall; of a foot that runs down the slope measured along it, its end square
    ``slant``: how much longer such an end is at the outer edge
    ``hem``: turned under along the flange's outer edge; ``turn_in``: of the upstand's top, into the wall
    ``by_neighbour``: measured square from the neighbour's foot, the end cut along its flange's outer edge
    ``tab``: round a corner; ``lap``: over a place where planes meet
    """

    height: float
    flange: float
    before: float
    after: float
    tab: float
    lap: float
    slant: tuple[float, float] = (0.0, 0.0)
    by_neighbour: tuple[bool, bool] = (False, False)
    hem: float = 0.0
    turn_in: float = 0.0


def upstand(
    name: str, here: Stretch, before: Stretch, after: Stretch, sizes: Sizes, roof: RoofHere
) -> Body:
    """The piece of one foot; ``before`` and ``after`` are its neighbours round the opening."""
    body = Body(name)
    ends = (_FlangeEnd(here, before, sizes, roof, True), _FlangeEnd(here, after, sizes, roof, False))
    flange, wall = _stand(body, here, ends)
    for end in ends:
        end.finish(body, flange, wall)
    return body


def through_valley(
    name: str, feet: tuple[Stretch, Stretch], before: Stretch, after: Stretch, sizes: tuple[Sizes, Sizes],
    roof: RoofHere
) -> Body:
    """One piece for two feet on one side of the opening with a valley between them: water comes to that line from both
    sides, so the flange goes through it in one; the upstand is slit there, with a tab behind."""
    one, other = feet
    body = Body(name)
    way = _FlangeEnd(one, other, sizes[0], roof, False).meeting
    reach = max(size.flange / float(way @ foot.away) for size, foot in zip(sizes, feet, strict=True))
    if way[2] > 0:  # the valley comes in from above
        tip = one.b + way * reach
        sizes = _up_to(one, one.a - tip, sizes[0]), _up_to(other, tip - other.b, sizes[1])
    first = (_FlangeEnd(one, before, sizes[0], roof, True), _FlangeEnd(one, other, sizes[0], roof, False, reach))
    second = (_FlangeEnd(other, one, sizes[1], roof, True, reach), _FlangeEnd(other, after, sizes[1], roof, False))
    flange, wall = _stand(body, one, first)
    beyond, wall2 = _stand(body, other, second, flange, one.b + way * reach)
    first[0].finish(body, flange, wall)
    second[1].finish(body, beyond, wall2)
    return body


def _up_to(here: Stretch, tip: Array, sizes: Sizes) -> Sizes:
    """The sizes of a foot down the slope beside a valley that comes in: its flange as wide and as far up as where that
    one's metal begins, ``tip`` from its corner along the foot, so that water finds metal on both sides of the line."""
    if not here.falls:
        return sizes
    on = float(tip @ here.along)
    return replace(sizes, flange=max(sizes.flange, abs(float(tip @ here.away))), before=max(sizes.before, on),
                   after=max(sizes.after, on))


def _stand(body: Body, here: Stretch, ends: tuple[_FlangeEnd, _FlangeEnd], parent: int | None = None,
           to: Array | None = None) -> tuple[int, int]:
    """Flange and upstand of one foot; the flange hangs on ``parent``'s along the line from its start to ``to``."""
    flange = body.add("flange", [*ends[0].flange(), *reversed(ends[1].flange())], here.normal)
    if parent is not None and to is not None:
        body.fold(parent, flange, here.a, to)
    wall = body.add("upstand", [*ends[0].wall(LIFT), *reversed(ends[1].wall(LIFT))], here.out)
    body.fold(flange, wall, here.a, here.b)
    _edges(body, here, ends, (flange, wall))
    return flange, wall


def _edges(body: Body, here: Stretch, ends: tuple[_FlangeEnd, _FlangeEnd], faces: tuple[int, int]) -> None:
    """The hem at a flange's outer edge, to be hooked; what an upstand turns into the wall at its top, mitred at
    corners."""
    (flange, wall), sizes = faces, ends[0].sizes
    if sizes.hem:
        low, high = ends[0].flange()[0], ends[1].flange()[0]
        body.flap(flange, low, high, -here.away * sizes.hem, -here.normal, "hem", "brake", (sizes.hem, sizes.hem),
                  layer=-here.normal)
    if sizes.turn_in and not any(here.kinks):
        one, other = ends[0].top, ends[1].top
        level = cross(here.out, other - one)
        body.flap(wall, one, other, -here.out * sizes.turn_in, level if level[2] > 0 else -level, "turned in", "brake",
                  (sizes.turn_in, sizes.turn_in))


@dataclass(frozen=True)
class _FlangeEnd:
    """One end of a piece: at a corner of the opening, or where two roof planes meet on one of its sides (there the
    flange goes ``reach`` mm along their line, if that is said)."""

    here: Stretch
    beside: Stretch
    sizes: Sizes
    roof: RoofHere
    first: bool
    reach: float = 0.0

    @property
    def at(self) -> Array:
        return self.here.a if self.first else self.here.b

    @property
    def on(self) -> Array:
        """Along the foot, on beyond this end."""
        return -self.here.along if self.first else self.here.along

    @property
    def kink(self) -> bool:
        return self.here.kinks[0 if self.first else 1]

    @property
    def top(self) -> Array:
        return np.asarray(self.at + UP * self.sizes.height)

    def flange(self) -> list[Array]:
        """The flange's end, from its outer corner to the foot."""
        if self.kink:
            way = self.meeting
            return [self.at + way * (self.reach or self.sizes.flange / float(way @ self.here.away)), self.at]
        away = self.here.away
        cut = CUT if angle(-self.on, UP) > 90.5 else 0.0
        inner, outer = self._reaches(cut), self._reaches(self.sizes.flange)
        return [
            self.at + self.on * outer + away * self.sizes.flange,
            self.at + self.on * inner + away * max(cut, inner * self._aside),
            self.at + away * cut,
            self.at,
        ]

    @property
    def _aside(self) -> float:
        """How far water goes aside, away from the opening, for each mm down past the lowest corner: there the end of a
        flange that runs down the slope is cut along the fall, so that nothing gets in under it from the corner."""
        if not (self.here.falls and self.here.sheds and not self.beside.falls):
            return 0.0
        fall = cross(self.here.across, self.here.normal)
        down = float(self.on @ fall)
        return float(self.here.away @ fall) / down if down * float(fall[2]) < 0 else 0.0

    def _reaches(self, out: float) -> float:
        """How far beyond this end the flange goes, ``out`` mm from the foot."""
        more = self.sizes.before if self.first else self.sizes.after
        if self.sizes.by_neighbour[0 if self.first else 1]:
            away = self.beside.away
            return (more - out * float(self.here.away @ away)) / float(self.on @ away)
        if self.here.falls and not self.beside.falls:
            return more + self.sizes.slant[0 if self.first else 1] * out / self.sizes.flange
        over = float(self.on @ self.here.across)
        return (more * math.copysign(1.0, over) - float(self.here.away @ self.here.across) * out) / over

    def wall(self, lift: float) -> list[Array]:
        """The upstand's end, from its top to the foot; over a meeting of planes one piece goes on under the other, its
        top along the saw line as far as that turns, and on from there."""
        if not (self.kink and self._laps):
            return [self.top, self.at]
        spent = angle(-self.on, self.meeting) + angle(-self.on, UP)
        beyond = angle(self._next, self.meeting) + angle(self._next, UP) if self.roof.valley else 45.0  # 45: the lap's
        room = 360 - spent - beyond - 2 * SLIT
        top, high, low = _round(self, self._level, self._natural, min(self._natural, room), self.sizes.lap)
        return [top, high, low + UP * lift, self.at + UP * lift, self.at]

    def finish(self, body: Body, flange: int, wall: int) -> None:
        """What is folded on at this end."""
        if self.kink:
            if self._laps:
                self._flap(body, flange)
            return
        if self._open:
            return
        room = 180 - angle(-self.on, UP) - SLIT
        top, high, low = _round(self, self._level, self._natural, min(self._natural, room), self.sizes.tab)
        tab = body.add("tab", [top, high, low, self.at], self.beside.out)
        body.fold(wall, tab, self.at, self.top)

    def _flap(self, body: Body, flange: int) -> None:
        way, lap = self.meeting, self.sizes.lap
        reach = self.sizes.flange / float(way @ self.here.away)
        normal = self.roof.normal(self.beside.plane)
        out = cross(way, normal)
        out = out if out[:2] @ self.on[:2] > 0 else -out
        body.flap(
            flange, self.at, self.at + way * reach, out * lap, normal, "lap", "brake", (min(lap, 0.8 * reach), 0.0)
        )

    @property
    def _open(self) -> bool:
        """At the upper end of a side no tab is needed: the tab of the piece above goes over it."""
        return self.here.falls and float(self.on[2]) > 0

    @property
    def _laps(self) -> bool:
        """Of the two pieces that meet there the first one has the lap."""
        return not self.first

    @property
    def meeting(self) -> Array:
        """Along the line where the planes meet, away from the opening."""
        line = self.roof.line
        return np.asarray(line if line @ self.here.out > 0 else -line)

    @property
    def _next(self) -> Array:
        """Along the neighbour's foot, away from this end."""
        return -self.beside.along if self.first else self.beside.along

    @property
    def _level(self) -> Array:
        return -self.beside.level if self.first else self.beside.level

    @property
    def _natural(self) -> float:
        """Degrees from the plumb to the neighbour's foot."""
        return angle(self._next, UP)


def _round(end: _FlangeEnd, level: Array, natural: float, given: float, reach: float) -> list[Array]:
    """The part on the neighbour's side of the wall, ``reach`` mm wide, from its top to its lower corner: its lower edge
    along the neighbour's foot, or as steep as the sheet allows, and no wider than leaves something of it."""
    long = min(reach, 0.8 * end.beside.length)
    steeper = 1 / math.tan(math.radians(given)) - 1 / math.tan(math.radians(natural))
    if steeper > 0:
        long = min(long, max(end.sizes.height - _LEAST, 0.0) / steeper)
    low = end.at + long * (level + UP / math.tan(math.radians(given)))
    high = end.at + long * (level + UP / math.tan(math.radians(natural))) + UP * end.sizes.height
    if long < 10:
        raise InputError(
            "tab", f"{reach:g} mm", "a narrower one or a higher upstand: nothing of it is left at this pitch"
        )
    taper = UP * min(3.0, (high[2] - low[2]) / 8)
    return [end.top, high - taper, low]
