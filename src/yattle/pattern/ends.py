"""How the two ends of a straight piece are cut before folding.

All is said of the *left* end: x = 0 is where the piece's share of the run ends, x < 0 beyond it. A right end is the
left one mirrored. Heights are from raw edge B (0) up to raw edge A (the girth).
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

from yattle.pattern.pattern import Mark, PatternFold, Point
from yattle.section.girth import Girth

EndKind = Literal["plain", "over", "under", "tabs", "cut"]


@dataclass(frozen=True)
class Tab:
    """A flap at an end. Lengths in mm.

    ``leg``: the flat part it is on, from edge A, hems counted; ``length``: how far it reaches
    ``turn``: degrees, + toward the paint face, 180: a lock; ``deduction``: of that fold in this metal
    ``by``: what folds it
    """

    leg: int
    length: float
    turn: float
    deduction: float
    by: Literal["brake", "tongs"] = "tongs"


@dataclass(frozen=True)
class CornerOff:
    """What another plane cuts off a flat part of a slanting end: all that lies on the ``side`` of its mould line toward
    edge A or B, or its whole end; ``share``, ``at``: where its end line turns, as a share of its width from the mould
    line toward edge A, and how far beyond the share's end, mm."""

    side: Literal["a", "b", "all"]
    share: float = 1.0
    at: float = 0.0


@dataclass(frozen=True)
class End:
    """One end of a piece; lengths in mm.

    ``kind`` is ``plain``: square, no more; ``over``: square, laps over its neighbour, its hem opened a little;
    ``under``: lies beneath its neighbour and carries the lap; ``tabs``: square, with flaps to fold; ``cut``: ends on a
    plane.

    ``lap``: at a joint; ``nested``: hem and drip cut back so that the two nest
    ``tabs``: flaps, the first of which is folded first
    ``parts``: of a cut end, how far beyond the share's end each flat part reaches on its mould line toward edge A and
        on that toward edge B, hems included; below 0: short of it. Neighbours that end on two planes may differ on
        the mould line between them: there the outline steps along it
    ``corners``: of a cut end from which another plane cuts a corner off, for each part what that takes of it
    ``carry``: how much of that lies beyond the plane itself, dressed over or turned under as ``carried`` says
    ``past``: how far a square end, flaps and all, goes on beyond the share; of a cut one what of ``parts`` is that
    ``hem_cut``: hems cut off at 45°
    ``planes``: of a cut end that has flaps, for each part the normal (along, out, up) of the plane its flap lies in
    ``back``: how much sooner each part ends, mm; empty: none does
    """

    kind: EndKind = "plain"
    lap: float = 0.0
    relief: float = 2.0
    nest: float = 2.0
    nested: bool = True
    tabs: tuple[Tab, ...] = ()
    parts: tuple[tuple[float, float], ...] = ()
    corners: tuple[CornerOff | None, ...] = ()
    carry: float = 0.0
    carried: str = "dress over"
    past: float = 0.0
    hem_cut: bool = False
    planes: tuple[tuple[float, float, float], ...] = ()
    back: tuple[float, ...] = ()

    @property
    def shaped(self) -> bool:
        """Whether it is put together from parts that a strip cut off square cannot have: flaps or cut hems on a
        slanting cut, legs cut back."""
        return bool(self.back) or (self.kind == "cut" and (bool(self.tabs) or self.hem_cut))


@dataclass(frozen=True)
class EndShape:
    """A left end: its cut from raw edge A down to raw edge B, how far each fold runs, tab folds, marks. All in mm
    along the piece from its share's end, + beyond it."""

    cut: tuple[Point, ...]
    reach: tuple[float, ...]
    folds: tuple[PatternFold, ...] = ()
    marks: tuple[Mark, ...] = ()


def end_shape(girth: Girth, end: End, side: str, hem_clearance: float) -> EndShape:
    """The left end laid out, mm; ``side`` (L or R) names its tabs' folds. A right end is the same mirrored.
    ``hem_clearance``: how far a hem that nests is cut back, mm."""
    if end.kind in ("tabs", "plain") and end.past:
        return _further(end_shape(girth, replace(end, past=0.0), side, hem_clearance), end.past)
    if end.kind == "tabs":
        return _tabbed(girth, end, side)
    if end.kind == "under":
        return _under(girth, end, hem_clearance)
    if end.kind == "cut":
        return _cut(girth, end)
    lap = Mark(a=(end.lap, girth.girth), b=(end.lap, 0.0), text="lap over")
    marks = (lap,) if end.kind == "over" and end.lap else ()
    top, bottom = _square(girth, end)
    return EndShape((*top, *bottom), tuple(0.0 for _ in girth.bends), (), marks)


def _further(shape: EndShape, past: float) -> EndShape:
    """A left end moved out, mm."""
    def out(point: Point) -> Point:
        return (point[0] - past, point[1])

    folds = tuple(fold.but(a=out(fold.a), b=out(fold.b)) for fold in shape.folds)
    marks = tuple(mark.but(a=out(mark.a), b=out(mark.b)) for mark in shape.marks)
    return EndShape(tuple(out(p) for p in shape.cut), tuple(x - past for x in shape.reach), folds, marks)


def mirrored(shape: EndShape, share: float) -> EndShape:
    """A left end made a right one, of a piece whose share is ``share`` mm long."""
    def flip(point: Point) -> Point:
        return (share - point[0], point[1])

    folds = tuple(fold.but(a=flip(fold.a), b=flip(fold.b)) for fold in shape.folds)
    marks = tuple(mark.but(a=flip(mark.a), b=flip(mark.b)) for mark in shape.marks)
    return EndShape(tuple(flip(p) for p in shape.cut), tuple(share - x for x in shape.reach), folds, marks)


def _square(girth: Girth, end: End) -> tuple[tuple[Point, ...], tuple[Point, ...]]:
    """Where a square end begins at raw edge A and ends at raw edge B, hems cut off at 45° where that is asked."""
    profile, bends = girth.profile, girth.bends
    top: tuple[Point, ...] = ((0.0, girth.girth),)
    bottom: tuple[Point, ...] = ((0.0, 0.0),)
    if end.hem_cut and profile.hem_a is not None:
        depth = bends[0].mark
        top = ((depth, girth.girth), (0.0, girth.girth - depth))
    if end.hem_cut and profile.hem_b is not None:
        depth = girth.girth - bends[-1].mark
        bottom = ((0.0, depth), (depth, 0.0))
    return top, bottom


def _cut(girth: Girth, end: End) -> EndShape:
    """The end line of a cut by a plane: straight across each flat part, changing direction at each fold.

    A flat part is drawn apart by half the deduction at each of its folds when it is folded up, so its end line is
    the stretch, between its fold lines, of the line from mould line to mould line. At a fold the two parts' lines
    come to places that differ, by a few tenths, or more where they end on two planes: there the outline steps along
    the fold line, which reaches to the outer one.
    """
    heights = (girth.girth, *(girth.girth - bend.mark for bend in girth.bends), 0.0)
    halves = (0.0, *(bend.deduction / 2 for bend in girth.bends), 0.0)
    made = [_end_line(part, end.corners[k] if end.corners else None, heights[k:k + 2], halves[k:k + 2])
            for k, part in enumerate(end.parts)]
    cut = [place for line, _ in made for place in line]
    reach = tuple(min(made[k][0][-1][0], made[k + 1][0][0][0]) for k in range(len(girth.bends)))
    marks = tuple(Mark(a=(a[0] + end.carry, a[1]), b=(b[0] + end.carry, b[1]), text=end.carried if n == 0 else "")
                  for n, (a, b) in enumerate(pair for _, own in made for pair in own) if end.carry)
    return EndShape(tuple(p for n, p in enumerate(cut) if n == 0 or math.dist(p, cut[n - 1]) > 1e-9), reach, (), marks)


def _end_line(part: tuple[float, float], off: CornerOff | None, heights: tuple[float, ...],
              halves: tuple[float, ...]) -> tuple[list[Point], list[tuple[Point, Point]]]:
    """The end line of a flat part between two fold lines, mm, and its pieces that lie on the end's own plane."""
    (toward_a, toward_b), (top, low), (above, below) = part, heights, halves
    wide = top - low + above + below
    if off is None or off.side == "all":
        lean = (toward_a - toward_b) / wide
        line = [(-toward_a + lean * above, top), (-toward_b - lean * below, low)]
        return line, [] if off else [(line[0], line[1])]
    first, last = (toward_a - off.at) / (off.share * wide), (off.at - toward_b) / ((1.0 - off.share) * wide)
    ends, turn = ((-toward_a + first * above, top), (-toward_b - last * below, low)), (
        -off.at, top + above - off.share * wide)
    if not low < turn[1] < top:  # it turns within a fold
        return list(ends), [ends]
    return [ends[0], turn, ends[1]], [(turn, ends[1]) if off.side == "a" else (ends[0], turn)]


def _under(girth: Girth, end: End, clearance: float) -> EndShape:
    x = -end.lap
    low, high = 0.0, girth.girth
    if end.nested:
        low, high = _nest_height(girth, clearance), girth.girth - _nest_depth(girth, clearance)
    cut: tuple[Point, ...] = ((x, high), (x, low))
    if high < girth.girth:
        cut = ((end.nest, girth.girth), (end.nest, high), *cut)
    if low > 0:
        cut = (*cut, (end.nest, low), (end.nest, 0.0))
    reach = tuple(x if low <= girth.girth - bend.mark <= high else end.nest for bend in girth.bends)
    return EndShape(cut, reach, (), (Mark(a=(0.0, high), b=(0.0, low), text="lap under"),))


def _nest_depth(girth: Girth, clearance: float) -> float:
    """As :func:`_nest_height`, on the side of edge A."""
    if girth.profile.hem_a is None:
        return 0.0
    cut = girth.bends[0].mark + girth.profile.hem_a.length + clearance
    if len(girth.bends) == 1:
        return cut
    return max(0.0, min(cut, girth.bends[1].mark - girth.bends[1].arc / 2 - 1.0))


def _nest_height(girth: Girth, clearance: float) -> float:
    """How much of the edge-B side is cut back over a lap so that two pieces nest; 0 without a hem.

    The neighbour's hem lies where this piece's last leg would be, so the cut goes beyond the hem
    by the hem's own length and a clearance, but leaves the fold above whole.
    """
    if girth.profile.hem_b is None:
        return 0.0
    hem = girth.bends[-1]
    cut = girth.girth - hem.mark + girth.profile.hem_b.length + clearance
    if len(girth.bends) == 1:
        return cut
    above = girth.bends[-2]
    return max(0.0, min(cut, girth.girth - above.mark - above.arc / 2 - 1.0))


def _tabbed(girth: Girth, end: End, side: str) -> EndShape:
    """Flaps on some flat parts; the rest of the end stays square at x = 0.

    A tab's fold stands half its deduction inside, so that the folded corner comes out at x = 0; relief cuts at its
    ends run a little past it, clear of the arcs of the folds beside it.
    """
    top, bottom = _square(girth, end)
    cut = list(top)
    for tab in sorted(end.tabs, key=lambda tab: tab.leg):
        flap = _flap(girth, tab, end.relief)
        cut = flap if flap[0][1] >= girth.girth else cut + flap  # a flap at the raw edge begins the cut itself
    cut = cut if cut[-1][1] <= 0 else [*cut, *bottom]
    folds = tuple(PatternFold(
        id=f"w{side}{n or ''}", a=(tab.deduction / 2, _band(girth, tab.leg, end.relief)[0]),
        b=(tab.deduction / 2, _band(girth, tab.leg, end.relief)[1]), turn=tab.turn, deduction=tab.deduction,
        kind="hem" if abs(tab.turn) == 180 else "fold", by=tab.by) for n, tab in enumerate(end.tabs))
    return EndShape(tuple(p for n, p in enumerate(cut) if n == 0 or p != cut[n - 1]), tuple(0.0 for _ in girth.bends),
                    folds)


def _flap(girth: Girth, tab: Tab, relief: float) -> list[Point]:
    top, bottom = _band(girth, tab.leg, relief)
    fold_x, tip = tab.deduction / 2, tab.deduction - tab.length
    past = fold_x + girth.profile.metal.inside_radius + girth.profile.metal.thickness
    taper = min(3.0, (top - bottom) / 8)
    cut: list[Point] = [(fold_x, top), (tip, top - taper), (tip, bottom + taper), (fold_x, bottom)]
    if top < girth.girth - relief:
        cut = [(0.0, top + relief), (past, top + relief), (past, top), *cut]
    if bottom > relief:
        cut = [*cut, (past, bottom), (past, bottom - relief), (0.0, bottom - relief)]
    return cut


def _band(girth: Girth, leg: int, relief: float) -> tuple[float, float]:
    """Upper and lower y of a tab on flat part ``leg``, clear of the arcs and relief cuts beside it."""
    above = girth.bends[leg - 1] if leg else None
    below = girth.bends[leg] if leg < len(girth.bends) else None
    top = girth.girth - (above.mark + above.arc / 2 + relief + 0.5 if above else 0.0)
    bottom = girth.girth - (below.mark - below.arc / 2 - relief - 0.5) if below else 0.0
    return top, bottom
