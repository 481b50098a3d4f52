"""The flat pattern of a straight piece: a section along a line, with its two ends prepared.

The pattern lies as the piece is seen from its paint face with edge A on top: x runs from
the left end to the right end, y from raw edge B (0) up to raw edge A (the girth). So a
distance ``s`` from edge A stands at ``y = girth − s``.

The two ends are made by one set of rules on the *left* end; a right end is the left one
mirrored, which is also how a right-hand piece differs from a left-hand one.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

from yattle.pattern.pattern import Mark, Pattern, PatternFold, Point
from yattle.section.girth import Bend, Girth

EndKind = Literal["plain", "over", "under", "wrap", "cut"]


@dataclass(frozen=True)
class End:
    """How one end is cut before folding.

    ``plain``: square, no more. ``over``: square, laps over its neighbour by ``lap``, its hem
    opened a little. ``under``: lies beneath its neighbour; carries the ``lap``, with hem and
    drip cut back so that the two nest. ``wrap``: a tab of ``wrap`` mm on the leg
    ``wrap_leg`` (counted from 0), folded back by tongs round the corner. ``cut``: ends on a plane; ``offsets``
    say how far beyond the share's end each mould line of the section reaches, raw edges included (below 0: short
    of it).
    """

    kind: EndKind = "plain"
    lap: float = 0.0
    wrap: float = 0.0
    wrap_leg: int = 1
    relief: float = 2.0
    nest: float = 2.0
    offsets: tuple[float, ...] = ()

    def added(self, tab_deduction: float) -> float:
        """Millimetres this end adds to the blank beyond the piece's share of the run."""
        return {"under": self.lap, "wrap": self.wrap - tab_deduction,
                "cut": max(self.offsets, default=0.0)}.get(self.kind, 0.0)


@dataclass(frozen=True)
class StripPlan:
    """A piece to be laid out: its section's girth, its share of the run and its two ends."""

    id: str
    name: str
    girth: Girth
    share: float
    left: End = field(default_factory=End)
    right: End = field(default_factory=End)
    tab: Bend | None = None  # a fold of 90° in this metal, for the wraps' tabs

    @property
    def tab_deduction(self) -> float:
        return self.tab.deduction if self.tab else 0.0


@dataclass(frozen=True)
class _EndShape:
    """A left end: its cut from raw edge A down to raw edge B, how far each fold runs, tab folds, marks."""

    cut: tuple[Point, ...]
    reach: tuple[float, ...]
    folds: tuple[PatternFold, ...] = ()
    marks: tuple[Mark, ...] = ()


def strip_pattern(plan: StripPlan, hem_clearance: float = 2.0) -> Pattern:
    """Lay ``plan`` out flat; its share of the run lies between x = 0 and x = ``plan.share``."""
    left = _end_shape(plan, plan.left, "L", hem_clearance)
    right = _mirrored(_end_shape(plan, plan.right, "R", hem_clearance), plan.share)
    folds = tuple(_run_fold(plan, bend, a, b)
                  for bend, a, b in zip(plan.girth.bends, left.reach, right.reach, strict=True))
    outline = _without_repeats((*left.cut, *reversed(right.cut)))
    xs = [x for x, _ in outline]
    return Pattern(id=plan.id, name=plan.name, metal=plan.girth.profile.metal, outline=outline,
                   folds=(*folds, *left.folds, *right.folds), marks=(*left.marks, *right.marks),
                   girth=plan.girth.girth, length=max(xs) - min(xs))


def _run_fold(plan: StripPlan, bend: Bend, a: float, b: float) -> PatternFold:
    y = plan.girth.girth - bend.mark
    return PatternFold(id=bend.id, a=(a, y), b=(b, y), turn=bend.turn, deduction=bend.deduction,
                       kind=bend.kind)


def _end_shape(plan: StripPlan, end: End, side: str, hem_clearance: float) -> _EndShape:
    if end.kind == "wrap":
        return _wrap(plan, end, side)
    if end.kind == "under":
        return _under(plan, end, hem_clearance)
    if end.kind == "cut":
        return _cut(plan, end)
    girth = plan.girth
    marks = (_lap_mark(girth.girth, end.lap, "lap over"),) if end.kind == "over" and end.lap else ()
    return _EndShape(((0.0, girth.girth), (0.0, 0.0)), tuple(0.0 for _ in girth.bends), (), marks)


def _cut(plan: StripPlan, end: End) -> _EndShape:
    """The end line of a cut by a plane: straight across each flat part, changing direction at each fold.

    A fold's line stands where its mould line meets the plane: when the flat parts are drawn apart by the deductions
    their ends come to lie on the plane.
    """
    girth = plan.girth
    heights = (girth.girth, *(girth.girth - bend.mark for bend in girth.bends), 0.0)
    places = tuple(-offset for offset in end.offsets)
    return _EndShape(tuple(zip(places, heights, strict=True)), places[1:-1])


def _lap_mark(girth: float, x: float, text: str) -> Mark:
    return Mark(a=(x, girth), b=(x, 0.0), text=text)


def _under(plan: StripPlan, end: End, clearance: float) -> _EndShape:
    girth, x = plan.girth, -end.lap
    low, high = _nest_height(girth, clearance), girth.girth - _nest_depth(girth, clearance)
    cut: tuple[Point, ...] = ((x, high), (x, low))
    if high < girth.girth:
        cut = ((end.nest, girth.girth), (end.nest, high), *cut)
    if low > 0:
        cut = (*cut, (end.nest, low), (end.nest, 0.0))
    reach = tuple(x if low < girth.girth - bend.mark < high else end.nest for bend in girth.bends)
    return _EndShape(cut, reach, (), (Mark(a=(0.0, high), b=(0.0, low), text="lap under"),))


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


def _wrap(plan: StripPlan, end: End, side: str) -> _EndShape:
    """A tab on one leg; the rest of the end stays square at x = 0.

    The tab's fold stands half its deduction inside, so that the folded corner comes out at
    x = 0; relief cuts at both its ends run a little past it, clear of the arcs of the folds
    beside it.
    """
    girth, leg = plan.girth, end.wrap_leg + (1 if plan.girth.profile.hem_a else 0)
    top, bottom = _leg_band(girth, leg, end.relief)
    fold_x = plan.tab_deduction / 2
    tip = plan.tab_deduction - end.wrap
    past = fold_x + girth.profile.metal.inside_radius + girth.profile.metal.thickness
    taper = min(3.0, (top - bottom) / 8)
    cut = (
        (0.0, girth.girth), (0.0, top + end.relief), (past, top + end.relief), (past, top), (fold_x, top),
        (tip, top - taper), (tip, bottom + taper),
        (fold_x, bottom), (past, bottom), (past, bottom - end.relief), (0.0, bottom - end.relief), (0.0, 0.0),
    )
    fold = PatternFold(id=f"w{side}", a=(fold_x, top), b=(fold_x, bottom), turn=-90.0,
                       deduction=plan.tab_deduction, by="tongs")
    return _EndShape(cut, tuple(0.0 for _ in girth.bends), (fold,), ())


def _leg_band(girth: Girth, leg: int, relief: float) -> tuple[float, float]:
    """Upper and lower y of the tab on flat part ``leg``, clear of the arcs and relief cuts beside it."""
    above = girth.bends[leg - 1] if leg else None
    below = girth.bends[leg] if leg < len(girth.bends) else None
    top = girth.girth - (above.mark + above.arc / 2 + relief if above else 0.0)
    bottom = girth.girth - (below.mark - below.arc / 2 - relief) if below else 0.0
    return top - 0.5, bottom + 0.5


def _mirrored(shape: _EndShape, share: float) -> _EndShape:
    def flip(point: Point) -> Point:
        return (share - point[0], point[1])

    folds = tuple(fold.but(a=flip(fold.a), b=flip(fold.b)) for fold in shape.folds)
    marks = tuple(mark.but(a=flip(mark.a), b=flip(mark.b)) for mark in shape.marks)
    return _EndShape(tuple(flip(p) for p in shape.cut), tuple(share - x for x in shape.reach), folds, marks)


def _without_repeats(ring: tuple[Point, ...]) -> tuple[Point, ...]:
    """The ring without doubled points, from the left end down, across edge B, up and back: anticlockwise."""
    kept = [point for n, point in enumerate(ring)
            if max(abs(point[0] - ring[n - 1][0]), abs(point[1] - ring[n - 1][1])) > 1e-9]
    return tuple(kept)
