"""A pan, wherever it lies: a floor of any outline, seams along its sides, a hem at its foot, its head turned up plain
or folded up as a tray. Its own frame: x across, y up the slope, z square to the roof, mm."""

from __future__ import annotations

import math
from functools import cached_property
from typing import Annotated, Literal

import numpy as np
import shapely
from pydantic import Field

from yattle.bounds import Count, Measured, PlacePair, Size, SizeOrNone
from yattle.details.feet import UP, Array
from yattle.details.pan_floor import CLEAR, Place, inward, plain_floor, sharp_tip, turn_up_outlines
from yattle.errors import InputError
from yattle.pattern.body import Body
from yattle.pattern.surface import Crease, Surface
from yattle.values import Value

_HEM = 15.0  # mm taken off a hem's corners, or as much as it is wide
_NEAR = 1e-6  # mm
_TRIM = 2.0  # mm that a leg is lower where its lock is cut off
_SLIM = 20.0  # degrees: a pocket of less cannot be creased


class SeamSide(Value):
    """A side of a pan that stands up: from ``low`` to ``high`` on its floor, which lies to the other side of ``side``
    (−1: this is its left side). Lengths in mm.

    ``height``: of its leg; ``lock``: the width of the lock; ``locks``: 0 a leg by itself, 1 the low edge, over which
        the neighbour's lock closes, 2 the high edge, whose hook goes round it
    ``back``: how far the leg is kept back at its lower and upper end; ``free``: how far, from these ends of the
        floor, there is no lock on it
    ``tall``: (from, to, how high), from ``low``: there its leg stands up beside a chimney, without a lock, and comes
        down to the seam's height at 45° at either end
    ``relief``: (which end, height left at it, how far back): there the leg is cut down evenly, without a lock, so that
        it can be laid over
    """

    low: PlacePair
    high: PlacePair
    side: Literal[-1, 1]
    height: Size
    lock: SizeOrNone = 0.0
    locks: Annotated[int, Field(ge=0, le=2)] = 0
    back: tuple[SizeOrNone, SizeOrNone] = (0.0, CLEAR)
    free: tuple[SizeOrNone, SizeOrNone] = (0.0, 0.0)
    tall: tuple[SizeOrNone, SizeOrNone, Size] | None = None
    relief: tuple[Literal["low", "high"], Size, Size] | None = None


class PanHead(Value):
    """An edge of the floor that is turned up by ``rise`` mm, from ``left`` to ``right`` seen from the floor. ``lean``:
    how far what it stands against leans off the square to the pan, degrees, + where that rises away from it; ``tray``:
    its corners folded, not cut."""

    left: PlacePair
    right: PlacePair
    rise: Size
    lean: Annotated[float, Field(gt=-60, lt=60)] = 0.0
    tray: bool = False


class PanSet(Value):
    """A strip along an edge of the floor, ``width`` mm wide, set down by ``angle`` degrees so that the edge lies tight
    on what is beneath."""

    a: PlacePair
    b: PlacePair
    width: Size
    angle: Annotated[float, Field(gt=0, lt=60)]


class PanShape(Value):
    """One pan. ``floor``: its outline, anticlockwise; ``holes`` in it; ``hems``: edges of the floor with what is turned
    under there (below 0: turned over onto it); ``lines``: what is marked on the floor. Lengths in mm, in the pan's own
    frame. ``mitred``: its hems meet at the corners, cut at 45°, as a shingle's locks."""

    name: str
    qty: Count = 1
    floor: tuple[PlacePair, ...]
    holes: tuple[tuple[PlacePair, ...], ...] = ()
    seams: tuple[SeamSide, ...] = ()
    hems: tuple[tuple[PlacePair, PlacePair, Measured], ...] = ()
    heads: tuple[PanHead, ...] = ()
    sets: tuple[PanSet, ...] = ()
    lines: tuple[tuple[PlacePair, PlacePair, str], ...] = ()
    straight: bool = True
    mitred: bool = False

    @property
    def soft(self) -> bool:
        """Whether its corners are dressed by hand, so that no fold round them takes an allowance."""
        return any(head.tray for head in self.heads)

    @cached_property
    def turn_ups(self) -> tuple[tuple[Place, ...], ...]:
        """The outline of each of the ``heads`` in its own plane: (along, up) from its left end, mm. Whole where the
        sheet is free; cut back beside an inner corner of the floor, where it meets another turn-up or the floor's own
        sheet; empty where nothing of one is left."""
        beside = [_laid_flat(seam) for seam in self.seams]
        return turn_up_outlines(self.floor, tuple((head.left, head.right, head.rise) for head in self.heads), beside)

    @property
    def cut_back(self) -> bool:
        """Whether a turn-up lacks more of its sheet than the cuts beside it take."""
        return any(shapely.Polygon(line).area < head.rise * (math.dist(head.left, head.right) - 2 * CLEAR) - 0.1
                   for head, line in zip(self.heads, self.turn_ups, strict=True) if not head.tray)

    def surface(self) -> Surface:
        """The pan as it stands. Raises :class:`InputError` where it cannot be folded."""
        body = Body(self.name, self.qty)
        floor = body.add("pan", [_at(p) for p in plain_floor(self.floor)], UP)
        for hole in self.holes:
            body.hole(floor, [_at(p) for p in hole])
        for a, b, long in self.hems:
            if long:
                cut = abs(long) if self.mitred else min(_HEM, abs(long))
                over = UP * math.copysign(1.0, -long)
                name = "lock" if self.mitred else "eave hem" if long > 0 else "cross seam"
                body.flap(floor, _at(a), _at(b), inward(self.floor, a, b) * abs(long), -UP, name,
                          "brake", (cut, cut), layer=over)
        for edge in self.sets:
            self._set(body, floor, edge)
        legs = [(seam, self._seam(body, floor, seam)) for seam in self.seams]
        closing = [pair for head in self.heads for pair in self._head(body, floor, head, legs)]
        for a, b, text in self.lines:
            body.mark(floor, _at(a), _at(b), text)
        made = body.surface()
        creases = tuple(Crease(one, edge_between(made, one, p, q), other, "tongs", soft=True)
                        for one, other, p, q in closing)
        return Surface(made.name, made.faces, made.creases, self.qty, creases, straight=self.straight)

    def _set(self, body: Body, floor: int, edge: PanSet) -> None:
        turn = math.radians(edge.angle)
        out, cut = -inward(self.floor, edge.a, edge.b), min(CLEAR, edge.width)
        way = out * math.cos(turn) - UP * math.sin(turn)
        body.flap(floor, _at(edge.a), _at(edge.b), way * edge.width, UP * math.cos(turn) + out * math.sin(turn), "set",
                  "brake", (cut, cut))

    # -- seams ------------------------------------------------------------------------------------------

    def _tray_at(self, seam: SeamSide) -> PanHead | None:
        """The tray whose corner a seam ends at."""
        ends = ((head, end) for head in self.heads if head.tray for end in (head.left, head.right))
        return next((head for head, end in ends if math.dist(end, seam.high) < _NEAR), None)

    @staticmethod
    def _rise_at(seam: SeamSide, tray: PanHead) -> float:
        """How high a tray's corner is closed, mm along its turn-up: to its top, or as far as the sheet of a leg and one
        lock goes, so that no blank is wider for it; above that it is cut."""
        sheet = seam.tall[2] if seam.tall is not None else seam.height + min(seam.locks, 1) * seam.lock
        return min(tray.rise, sheet / math.cos(math.radians(tray.lean)))

    def _seam(self, body: Body, floor: int, seam: SeamSide) -> int:
        """A seam's leg with its lock, parted where the leg stands tall."""
        low, high = _at(seam.low), _at(seam.high)
        long = float(np.linalg.norm(high - low))
        way, tray = (high - low) / long, self._tray_at(seam)
        back = (max(seam.back[0], sharp_tip(self.floor, seam.low)),
                0.0 if tray else max(seam.back[1], sharp_tip(self.floor, seam.high)))
        ends = back[0], long - back[1]
        if ends[1] - ends[0] < 1.0:
            raise InputError("length", f"a side of {long:g} mm, its seam kept back {sum(back):g}", "a longer pan")
        turn_up = None if tray is None else _plumb(tray.lean) * self._rise_at(seam, tray)
        free = 0.0 if turn_up is None or seam.tall is not None else float(np.linalg.norm(turn_up)) + CLEAR
        locks = _locked(seam, long, ends, free) if seam.locks else []
        slope = free if turn_up is not None and turn_up[2] > seam.height + _NEAR else 0.0
        out, line = _outward(way, seam.side), _top_line(seam, ends, locks, slope)
        top = [low + way * t + UP * z for t, z in line]
        corner = [top[-1]] if turn_up is None else _corner(low + way * ends[1], turn_up, line[-1][1])
        leg = body.add("seam leg", [low + way * ends[0], low + way * ends[1], *corner, *top[-2::-1]], -out)
        body.fold(floor, leg, low + way * ends[0], low + way * ends[1], soft=self.soft)
        for one, other in locks:
            self._lock(body, leg, (low + way * one + UP * seam.height, low + way * other + UP * seam.height), seam, out)
        return leg

    def _lock(self, body: Body, leg: int, along: tuple[Array, Array], seam: SeamSide, out: Array) -> None:
        """The lock over a leg, and on the high edge the hook down over the neighbour's. The low edge's lies over its
        own pan, the high edge's over the neighbour's: side by side they lie on each other."""
        a, b = along
        over = (out if seam.locks == 2 else -out) * seam.lock
        lock = body.add("lock", [a, b, b + over, a + over], UP if seam.locks == 2 else -UP)
        body.fold(leg, lock, a, b)
        if seam.locks == 2:
            down = -UP * seam.lock
            hook = body.add("hook", [a + over, b + over, b + over + down, a + over + down], out)
            body.fold(lock, hook, a + over, b + over)

    # -- heads ------------------------------------------------------------------------------------------

    def _head(self, body: Body, floor: int, head: PanHead,
              legs: list[tuple[SeamSide, int]]) -> list[tuple[int, int, Array, Array]]:
        """A turn-up; of a tray with its pockets, whose closing creases are given back as (face, face, from, to)."""
        line, plumb = self.turn_ups[self.heads.index(head)], _plumb(head.lean)
        if not line:
            return []
        start, way = _at(head.left), (_at(head.right) - _at(head.left)) / math.dist(head.left, head.right)
        ends, back = (start + way * line[0][0], start + way * line[1][0]), -np.cross(UP, way)
        if not head.tray:
            flap = body.add("turn-up", [start + way * along + plumb * up for along, up in line], back)
            body.fold(floor, flap, ends[1], ends[0], "tongs", soft=self.soft)
            return []
        pocket = 90.0 - head.lean
        if pocket < _SLIM or 2 * head.rise * math.sin(math.radians(pocket / 2)) > math.dist(head.left, head.right):
            raise InputError("width", f"{math.dist(head.left, head.right):g} mm with a turn-up of {head.rise:g} mm",
                             "a wider pan or a lower turn-up: the pockets would meet behind it")
        top = [end + plumb * head.rise for end in ends]
        turned = body.add("turn-up", [*ends, *top[::-1]], back)
        body.fold(floor, turned, *ends, "tongs", soft=True)
        return [_pocket(body, (turned, leg), seam, head, self._rise_at(seam, head)) for seam, leg in legs
                if min(math.dist(seam.high, end) for end in (head.left, head.right)) < _NEAR]



def _pocket(body: Body, faces: tuple[int, int], seam: SeamSide, head: PanHead,
            rise: float) -> tuple[int, int, Array, Array]:
    """The sheet between a turn-up and a seam's leg (the ``faces``), folded double behind it, ``rise`` mm up: its two
    halves, and the crease between them that closes it."""
    at, plumb, (turned, leg) = _at(seam.high), _plumb(head.lean), faces
    top, turn = at + plumb * rise, math.radians((90.0 - head.lean) / 2)
    inward = np.array([-float(seam.side), 0.0, 0.0])
    tip = at + (plumb * math.cos(turn) + inward * math.sin(turn)) * rise
    behind = np.cross(plumb, inward) * -float(seam.side)  # the turn-up, then the pocket's two halves behind it
    inner = body.add("pocket", [at, top, tip], behind, behind)
    outer = body.add("pocket", [at, top, tip], -behind, 2 * behind)
    body.fold(turned, inner, at, top, "tongs", soft=True)
    body.fold(leg, outer, at, top, "tongs", soft=True)
    return inner, outer, at, tip


def _corner(end: Array, turn_up: Array, high: float) -> list[Array]:
    """A leg's end along a tray's turn-up, from its foot; of a leg that is higher on up to its own top."""
    if high >= turn_up[2] - _NEAR:
        return [end + turn_up, end + turn_up * (high / float(turn_up[2]))]
    return [end + turn_up]


def _locked(seam: SeamSide, long: float, ends: tuple[float, float], free: float) -> list[tuple[float, float]]:
    """Where there is a lock on a leg, from its side's lower end: not over what is kept free, nor where it stands tall
    and comes down again."""
    first, last = max(seam.free[0], ends[0]), min(long - max(seam.free[1], free), ends[1])
    if seam.relief is not None:
        end, _, back = seam.relief
        first, last = (max(first, ends[0] + back), last) if end == "low" else (first, min(last, ends[1] - back))
    if seam.tall is None:
        return [(first, last)] if last - first > 1.0 else []
    ramp = seam.tall[2] - seam.height + CLEAR
    parts = (first, min(last, seam.tall[0] - ramp)), (max(first, seam.tall[1] + ramp), last)
    return [(a, b) for a, b in parts if b - a > 1.0]


def _top_line(seam: SeamSide, ends: tuple[float, float], locks: list[tuple[float, float]],
              free: float) -> list[tuple[float, float]]:
    """The top of a leg as (along, height) from its lower end to its upper one: at the seam's height where its lock is,
    a little lower where that is cut off, so that the cut runs out of the fold."""
    low, (first, last) = seam.height - _TRIM if seam.locks else seam.height, ends
    start, end, high = seam.tall or (last + 1, last + 1, low)
    cut = None if seam.relief is None else first if seam.relief[0] == "low" else last

    def bare(at: float) -> float:
        return seam.relief[1] if seam.relief and at == cut else high if start <= at <= end else low
    marks = [(a, [low, seam.height]) for a, _ in locks] + [(b, [seam.height, low]) for _, b in locks]
    if seam.tall is not None:
        marks += [(start - high + low, [low]), (start, [high]), (end, [high]), (end + high - low, [low])]
    if seam.relief is not None and not locks:
        marks.append((first + seam.relief[2] if seam.relief[0] == "low" else last - seam.relief[2], [low]))
    marks += [(last - free, [low])] if free and not seam.locks and seam.tall is None else []
    found = [] if any(a - first < _NEAR for a, _ in locks) else [(first, bare(first))]
    for at, heights in sorted(marks):
        if first + _NEAR < at < last - _NEAR:
            found += [(at, z) for z in heights]
        elif len(heights) > 1:  # a lock that goes on to the leg's end
            found.append((at, seam.height))
    return found if any(last - b < _NEAR for _, b in locks) else [*found, (last, bare(last))]


def _plumb(lean: float) -> Array:
    turn = math.radians(lean)
    return np.array([0.0, math.sin(turn), math.cos(turn)])


def _at(place: Place) -> Array:
    return np.array([place[0], place[1], 0.0])


def _laid_flat(seam: SeamSide) -> list[Place]:
    """The ring of a seam's leg and locks beside the floor, before anything is taken off at its folds."""
    low, high = _at(seam.low), _at(seam.high)
    way = (high - low) / float(np.linalg.norm(high - low))
    out = _outward(way, seam.side) * (seam.height + seam.locks * seam.lock)
    ends = low + way * seam.back[0], high - way * seam.back[1]
    ring = *ends, ends[1] + out, ends[0] + out
    return [(float(x), float(y)) for x, y, _ in ring]


def _outward(way: Array, side: int) -> Array:
    """Across a side and away from its pan."""
    return np.array([way[1], -way[0], 0.0]) * (1.0 if way[1] * side > 0 else -1.0)


def edge_between(surface: Surface, face: int, a: Array, b: Array) -> int:
    """Which edge of a face runs between two places. Raises :class:`InputError` where none does."""
    ring = [np.array(p) for p in surface.faces[face].corners]
    for k, p in enumerate(ring):
        q = ring[(k + 1) % len(ring)]
        if min(np.abs(p - a).max() + np.abs(q - b).max(), np.abs(p - b).max() + np.abs(q - a).max()) < _NEAR:
            return k
    raise InputError(surface.name, "a pocket whose sides do not meet", "legs as high as the turn-up")
