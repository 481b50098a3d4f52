"""Runs whose section changes evenly from one end to the other: gutters, copings and aprons with a fall of their own.

Every mould line is straight from its place in the left end's section to that in the right end's. A leg that lies alike
in both is flat, whatever becomes of its length, and is laid flat exactly. A leg that turns on the way twists: a fold
from corner to corner makes two flat parts of it, and how far it is off a plane is said.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from yattle.details.common import Finding
from yattle.details.trim import Hole, Trim, TrimSection
from yattle.errors import InputError
from yattle.pattern import End, Mark, Pattern, StripPlan, Tab
from yattle.pattern.body import Body
from yattle.pattern.marks import on_sheet
from yattle.pattern.pattern import Point
from yattle.pattern.unfold import Unfolded, unfold
from yattle.runs import RunPiece
from yattle.section import Girth, GirthRefused, Profile, girth_of

Array = NDArray[np.float64]
_FLAT = 1e-6  # mm: a leg that is off a plane by less is flat
_OUTLET = "outlet"
_MIDDLE = "middle of the share"
_LEFT = 4.0  # mm that a cut for a nested hem leaves of its leg


@dataclass(frozen=True)
class Taper:
    """The mould lines of a run ``length`` mm long: their places (out, up) in the sections at its ends, each (n + 1, 2),
    hems included."""

    left: Array
    right: Array
    length: float

    @property
    def parts(self) -> int:
        return len(self.left) - 1

    def corner(self, line: int, along: float) -> Array:
        """Where a mould line is, ``along`` mm from the run's left end: (along, up, out)."""
        out, up = (self.left[line] + (self.right[line] - self.left[line]) * (along / self.length)).tolist()
        return np.array([along, up, out])

    def meets(self, normal: Sequence[float], along: float) -> tuple[float, ...]:
        """Where each mould line meets a plane (its ``normal`` as along, out, up) that crosses the edge's line ``along``
        mm from the left end, told in mm from there."""
        steps = (self.right - self.left) / self.length
        off, slant = self.left @ np.array(normal[1:]), steps @ np.array(normal[1:])
        found = (normal[0] * along - off) / (normal[0] + slant)
        return tuple((found - along).tolist())

    def paint(self, part: int, along: float) -> Array:
        """Out of the paint face of a part, square to its line in the section there; not of unit length."""
        _, dy, dz = (self.corner(part + 1, along) - self.corner(part, along)).tolist()
        return np.array([0.0, dz, -dy])

    def girth(self, profile: Profile, along: float) -> Girth:
        """The girth tape of the section there: where its folds are marked across a piece, ``along`` mm from the left.
        Raises :class:`InputError` where that section cannot be folded."""
        places = self.left + (self.right - self.left) * (along / self.length)
        steps = np.diff(places, axis=0)
        if profile.hem_a:
            steps = steps[1:]
        legs = [math.hypot(x, y) for x, y in steps[:len(profile.legs)].tolist()]
        ways = [math.atan2(y, x) for x, y in steps[:len(profile.legs)].tolist()]
        turns = [math.degrees(math.remainder(b - a, math.tau)) for a, b in pairwise(ways)]
        hems = {name: hem.but(length=math.dist(*places[ends].tolist())) for name, hem, ends in (
            ("hem_a", profile.hem_a, slice(0, 2)), ("hem_b", profile.hem_b, slice(-2, None))) if hem is not None}
        found = girth_of(profile.but(legs=tuple(legs), turns=tuple(turns), **hems))
        if isinstance(found, GirthRefused):
            raise InputError("tapers", found.reasons[0], "a section that can be folded all along the run")
        return found

    def girths(self, profile: Profile, cut: RunPiece) -> tuple[Girth, Girth]:
        """The tapes at both ends of a piece's share."""
        return self.girth(profile, cut.start), self.girth(profile, cut.start + cut.share)

    def off_plane(self, part: int) -> float:
        """How far a part's fourth corner is off the plane of the other three, over the whole run, mm."""
        a, b, c, d = (self.corner(part + n, x) for n, x in ((0, 0.0), (1, 0.0), (1, self.length), (0, self.length)))
        normal = np.cross(b - a, c - a)
        return float(abs((d - a) @ normal) / np.linalg.norm(normal))


def check_same_parts(near: TrimSection, far: TrimSection) -> None:
    """Raise :class:`InputError` where the sections at the two ends do not have the same legs and hems."""
    def kind(sheet: TrimSection) -> tuple[object, ...]:
        return len(sheet.legs), *(hem and (hem.kind, hem.toward) for hem in (sheet.hem_a, sheet.hem_b))
    if kind(near) != kind(far):
        raise InputError("tapers", "other legs or hems at the right end", "the same ones at both ends, of other sizes")


def twisted(taper: Taper, sheet: TrimSection) -> list[Finding]:
    """Legs that twist, with what makes them flat; those that nothing does stop the run."""
    shift, found = (1 if sheet.hem_a else 0), []
    for part in range(taper.parts):
        off, leg = taper.off_plane(part), part - shift
        if off <= _FLAT:
            continue
        last = len(sheet.legs) - 1
        if not 0 <= leg <= last or (leg == 0 and sheet.hem_a) or (leg == last and sheet.hem_b):
            return [Finding("stop", "a hem lies on a leg that twists by {0}",
                            "no hem there, or the same angles at both ends", "hem", (off,))]
        found.append(Finding("look", f"{sheet.legs[leg].name} twists: it is {{0}} off a plane",
                             "a slight fold from corner to corner, marked on it, makes it flat", sheet.legs[leg].field,
                             (off,)))
    return found


@dataclass(frozen=True)
class LaidFlat:
    """A piece laid flat and the round holes in it: (along, up, across) in its pattern, mm."""

    unfolded: Unfolded
    holes: tuple[Hole, ...]

    @property
    def pattern(self) -> Pattern:
        return self.unfolded.pattern


def laid_flat(detail: Trim, taper: Taper, plan: StripPlan, cut: RunPiece, name: str) -> LaidFlat:
    """One piece laid flat, ``cut`` from the run; ``name`` is what is written on it."""
    profile, start = plan.girth.profile, cut.start
    body, parts = Body(plan.name, plan.qty), _Parts(taper, plan, start, detail.nest_gap, profile)
    chain = parts.into(body)
    tabs = [_tab(body, parts, chain, end, side, n) for side, end in ((-1, plan.left), (1, plan.right))
            for n in range(len(end.tabs))]
    _lap_lines(body, parts, chain, plan)
    half = start + plan.share / 2
    for part, (face, _) in enumerate(chain):  # of a short piece some parts may not reach it
        body.mark(face, taper.corner(part, half), taper.corner(part + 1, half), _MIDDLE)
    _outlets(body, taper, chain, detail, cut)
    flat = unfold(replace(body.surface(), straight=True), detail.metal, plan.id, detail.measured)
    flat = _from_share(flat, plan.share)
    ids = [*parts.folds, *tabs]
    folds = tuple(fold.but(id=new) for fold, new in zip(flat.pattern.folds, ids, strict=True))
    middle = flat.seats[max(range(len(flat.faces)), key=lambda n: _size(flat.faces[n].corners))][0]
    said = Mark(a=middle, b=(middle[0] + 30.0, middle[1]), text=name)
    marks = on_sheet((*flat.pattern.marks, said), flat.pattern.outline)
    holes = tuple(((mark.a[0] + mark.b[0]) / 2, (mark.a[1] + mark.b[1]) / 2, math.dist(mark.a, mark.b))
                  for mark in marks if mark.text == _OUTLET)
    marks = tuple(mark for mark in marks if mark.text != _OUTLET)
    return LaidFlat(replace(flat, pattern=flat.pattern.but(folds=folds, marks=marks)), holes)


def _outlets(body: Body, taper: Taper, chain: list[tuple[int, int]], detail: Trim, cut: RunPiece) -> None:
    """Each outlet as the line across it along the middle of the bottom."""
    if detail.drained is None:
        return
    part = detail.drained + (1 if detail.sheet().hem_a is not None else 0)
    for place, wide in detail.outlets:
        if cut.start <= place <= cut.start + cut.share:
            a, b = ((taper.corner(part, place + far) + taper.corner(part + 1, place + far)) / 2
                    for far in (-wide / 2, wide / 2))
            body.mark(chain[part][0], a, b, _OUTLET)


def _from_share(flat: Unfolded, share: float) -> Unfolded:
    """Moved along so that its share of the run begins at x = 0, as of every piece of a section along a line."""
    pattern = flat.pattern
    lines = [mark for mark in pattern.marks if mark.text == _MIDDLE]
    by = share / 2 - (lines[0].a[0] + lines[0].b[0]) / 2 if lines else 0.0

    def moved(point: Point) -> Point:
        return point[0] + by, point[1]
    folds = tuple(fold.but(a=moved(fold.a), b=moved(fold.b)) for fold in pattern.folds)
    marks = tuple(mark.but(a=moved(mark.a), b=moved(mark.b)) for mark in pattern.marks if mark.text != _MIDDLE)
    pattern = pattern.but(outline=tuple(map(moved, pattern.outline)), folds=folds, marks=marks,
                          holes=tuple(tuple(map(moved, hole)) for hole in pattern.holes))
    return replace(flat, pattern=pattern, seats=tuple((moved(a), moved(b)) for a, b in flat.seats))


def _size(corners: Sequence[Sequence[float]]) -> float:
    points = np.array(corners)
    total = np.sum(np.cross(points[1:-1] - points[0], points[2:] - points[0]), axis=0)
    return float(np.linalg.norm(total))


class _Parts:
    """The flat parts of one piece, each from its end line on the left to that on the right."""

    def __init__(self, taper: Taper, plan: StripPlan, start: float, nest: float, profile: Profile) -> None:
        self.taper, self.plan, self.start, self.nest, self.profile = taper, plan, start, nest, profile
        self.folds: list[str] = []

    def end(self, part: int, side: int) -> tuple[float, float]:
        """How far along the run a part ends on that side (−1 left, 1 right), on its mould lines toward edge A and
        edge B, mm."""
        end = self.plan.left if side < 0 else self.plan.right
        share = self.start + (self.plan.share if side > 0 else 0.0)
        hem_a, hem_b = part == 0 and self.profile.hem_a, part == self.taper.parts - 1 and self.profile.hem_b
        back = end.back[part] if end.back else 0.0
        if end.kind == "cut":
            a, b = (place - back for place in end.parts[part])
            if end.hem_cut and hem_a:
                a = b - hem_a.length
            if end.hem_cut and hem_b:
                b = a - hem_b.length
            return share + side * a, share + side * b
        beyond = end.past + (end.lap if end.kind == "under" else 0.0) - back
        if end.kind == "under" and end.nested and (hem_a or hem_b):
            beyond = end.past - end.nest
        if end.hem_cut and hem_a:
            return share + side * (beyond - hem_a.length), share + side * beyond
        if end.hem_cut and hem_b:
            return share + side * beyond, share + side * (beyond - hem_b.length)
        return share + side * beyond, share + side * beyond

    def into(self, body: Body) -> list[tuple[int, int]]:
        """Every part as a face of ``body``, of one that twists two, folded on one after another; of each part its first
        and its last face."""
        chain: list[tuple[int, int]] = []
        for part in range(self.taper.parts):
            faces = self._faces(body, part)
            if chain:
                a, b = (self.taper.corner(part, x) for x in self._shared(part))
                body.fold(chain[-1][1], faces[0], a, b)
                self.folds.append(self.plan.girth.bends[part - 1].id)
            if faces[1] != faces[0]:
                body.fold(faces[0], faces[1], self.taper.corner(part, self.end(part, -1)[0]),
                          self.taper.corner(part + 1, self.end(part, 1)[1]))
                self.folds.append(f"d{part}")
            chain.append(faces)
        return chain

    def _shared(self, line: int) -> tuple[float, float]:
        """From where to where the two parts beside a mould line both have it."""
        above, below = (tuple(self.end(line - 1, side)[1] for side in (-1, 1)),
                        tuple(self.end(line, side)[0] for side in (-1, 1)))
        return max(above[0], below[0]), min(above[1], below[1])

    def _faces(self, body: Body, part: int) -> tuple[int, int]:
        (la, lb), (ra, rb) = self.end(part, -1), self.end(part, 1)
        paint, layer = self.taper.paint(part, (la + rb) / 2), self._layer(part, (la + rb) / 2)
        a, b, c, d = (self.taper.corner(line, x) for line, x in (
            (part, la), (part + 1, lb), (part + 1, rb), (part, ra)))
        name = self.profile.strip_names[part]
        if self.taper.off_plane(part) <= _FLAT:
            face = body.add(name, self._nested(part, a, b, c, d), paint, layer)
            return face, face
        return body.add(f"{name}, one", [a, c, d], paint), body.add(f"{name}, other", [a, b, c], paint)

    def _nested(self, part: int, a: Array, b: Array, c: Array, d: Array) -> list[Array]:
        """A part's corners with what is cut away over a lap for the neighbour's hem beside it."""
        left, right = [a, b], [c, d]
        for side, end, corners in ((-1, self.plan.left, left), (1, self.plan.right, right)):
            if end.kind != "under" or not end.nested:
                continue
            share = self.start + (self.plan.share if side > 0 else 0.0)
            reach, back = share + side * (end.past + end.lap), share + side * (end.past - end.nest)
            for line, hem, inner in ((part, self.profile.hem_a, part == 1), (part + 1, self.profile.hem_b,
                                                                           part == self.taper.parts - 2)):
                if hem is None or not inner:
                    continue
                step = [self._aside(part, line, x, hem.length + self.nest) for x in (reach, back)]
                cut = [self.taper.corner(line, back), step[1], step[0]]  # from the fold in, then out along the lap
                first = (line == part) == (side < 0)  # whether the cut corner is the first of the two
                at = 0 if first else len(corners) - 1
                corners[at:at + 1] = cut if first else cut[::-1]
        return [*left, *right]

    def _aside(self, part: int, line: int, along: float, deep: float) -> Array:
        """The place ``deep`` mm in from a mould line of a part, as far as the part leaves some of itself."""
        at = self.taper.corner(line, along)
        way = self.taper.corner(part + 1 if line == part else part, along) - at
        wide = float(np.linalg.norm(way))
        return np.asarray(at + way / wide * max(min(deep, wide - _LEFT), 0.0))

    def _layer(self, part: int, along: float) -> Array:
        """Which way a hem lies off its leg's plane, by one sheet; nothing for legs."""
        beside = {0: (self.profile.hem_a, 1), self.taper.parts - 1: (self.profile.hem_b, self.taper.parts - 2)}
        hem, leg = beside.get(part, (None, 0))
        if hem is None:
            return np.zeros(3)
        out = self.taper.paint(leg, along)
        return np.asarray(out / np.linalg.norm(out) * (1 if hem.toward == "paint" else -1))


def _tab(body: Body, parts: _Parts, chain: list[tuple[int, int]], end: End, side: int, n: int) -> str:
    """Add the flap of an end; its fold's id."""
    tab, taper = end.tabs[n], parts.taper
    at_a, at_b = parts.end(tab.leg, side)
    a, b = taper.corner(tab.leg, at_a), taper.corner(tab.leg + 1, at_b)
    face = chain[tab.leg][0 if side > 0 else 1]  # of a part that twists the one that reaches this end
    normal = taper.paint(tab.leg, at_a)
    normal = normal / np.linalg.norm(normal)
    along = np.cross(b - a, normal)
    along = along / np.linalg.norm(along) * (1 if along[0] * side > 0 else -1)
    turn = math.radians(tab.turn) if end.kind != "cut" else _into_plane(end.planes[tab.leg], b - a, along, normal, tab)
    out, paint = along * math.cos(turn) + normal * math.sin(turn), normal * math.cos(turn) - along * math.sin(turn)
    narrow = min(3.0, float(np.linalg.norm(b - a)) / 8)
    layer = normal * math.copysign(1.0, tab.turn) if abs(tab.turn) == 180 else np.zeros(3)
    body.flap(face, a, b, out * tab.length, paint, "tab", tab.by, (narrow, narrow), layer)
    return f"w{'L' if side < 0 else 'R'}{n or ''}"


def _into_plane(plane: tuple[float, float, float], edge: Array, along: Array, normal: Array, tab: Tab) -> float:
    """How far a flap is turned to lie in the plane of the cut, radians, to the side that its own turn says."""
    way = np.cross(edge, np.array([plane[0], plane[2], plane[1]]))
    if (way @ normal) * tab.turn < 0:
        way = -way
    return math.atan2(float(way @ normal), float(way @ along))


def _lap_lines(body: Body, parts: _Parts, chain: list[tuple[int, int]], plan: StripPlan) -> None:
    """Where a piece laps over or under its neighbour, on every part."""
    for side, end in ((-1, plan.left), (1, plan.right)):
        if end.kind not in ("over", "under") or not end.lap:
            continue
        share = parts.start + (plan.share if side > 0 else 0.0)
        at = share if end.kind == "under" else share - side * end.lap
        for part, (face, _) in enumerate(chain):
            body.mark(face, parts.taper.corner(part, at), parts.taper.corner(part + 1, at),
                      f"lap {end.kind}" if part == 1 else "")


def check_tapers(detail: Trim) -> None:
    """Raise :class:`InputError` where a measure that differs at the right end is none that shapes the section."""
    own = {name: getattr(detail, name) for name in type(detail).model_fields if name not in Trim.model_fields}
    numbers = [name for name, value in own.items() if isinstance(value, float | int) and not isinstance(value, bool)]
    listed = [f"{name}.{n}" for name, value in own.items() if isinstance(value, tuple) for n, item in enumerate(value)
              if isinstance(item, float)]
    for n, (name, _) in enumerate(detail.tapers):
        if name not in numbers and name not in listed:
            raise InputError(f"tapers.{n}", repr(name), f"one of {', '.join((*numbers, *listed))}")


def far_of(detail: Trim) -> Trim:
    """The detail as it is at its right end, all along it. Raises :class:`InputError` for measures it does not have."""
    check_tapers(detail)
    changes: dict[str, object] = {"tapers": ()}
    for name, value in detail.tapers:
        field, _, place = name.partition(".")
        if place:
            row = list(changes.get(field, getattr(detail, field)))  # type: ignore[call-overload]
            row[int(place)] = value
            changes[field] = tuple(row)
        else:
            changes[field] = value
    return detail.but(**changes)
