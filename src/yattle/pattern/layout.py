"""The flat pattern of a straight piece: a section along a line, with its two ends prepared.

The pattern lies as the piece is seen from its paint face with edge A on top: x runs from
the left end to the right end, y from raw edge B (0) up to raw edge A (the girth). So a
distance ``s`` from edge A stands at ``y = girth − s``.

Its two ends are made in :mod:`yattle.pattern.ends`, by one set of rules on the *left* end; a right end is the
left one mirrored, which is also how a right-hand piece differs from a left-hand one.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from itertools import pairwise

from yattle.pattern.ends import End, EndShape, end_shape, mirrored
from yattle.pattern.marks import on_sheet
from yattle.pattern.pattern import Mark, Pattern, PatternFold, Point
from yattle.section.girth import Bend, Girth


@dataclass(frozen=True)
class StripPlan:
    """A piece to be laid out: its section's girth, its share of the run, its two ends, marks of its own, how many."""

    id: str
    name: str
    girth: Girth
    share: float
    left: End = field(default_factory=End)
    right: End = field(default_factory=End)
    marks: tuple[Mark, ...] = ()
    qty: int = 1


def strip_pattern(plan: StripPlan, hem_clearance: float = 2.0) -> Pattern:
    """Lay ``plan`` out flat; its share of the run lies between x = 0 and x = ``plan.share``."""
    left, right = _end_shapes(plan, hem_clearance)
    folds = tuple(_run_fold(plan, bend, a, b)
                  for bend, a, b in zip(plan.girth.bends, left.reach, right.reach, strict=True))
    outline = _without_repeats((*left.cut, *reversed(right.cut)))
    xs = [x for x, _ in outline]
    marks = on_sheet((*left.marks, *right.marks, *plan.marks), outline)
    return Pattern(id=plan.id, name=plan.name, qty=plan.qty, metal=plan.girth.profile.metal, outline=outline,
                   folds=(*folds, *left.folds, *right.folds), marks=marks,
                   girth=plan.girth.girth, length=max(xs) - min(xs))


def _end_shapes(plan: StripPlan, hem_clearance: float) -> tuple[EndShape, EndShape]:
    return (end_shape(plan.girth, plan.left, "L", hem_clearance),
            mirrored(end_shape(plan.girth, plan.right, "R", hem_clearance), plan.share))


def end_reach(girth: Girth, end: End, hem_clearance: float = 2.0) -> float:
    """How far the outline goes beyond a piece's share of the run at that end, mm: a lap, a flap, a slant as it is
    drawn in for its folds."""
    return max(0.0, -min(x for x, _ in end_shape(girth, end, "L", hem_clearance).cut))


def room_between(plan: StripPlan, hem_clearance: float = 2.0) -> float:
    """What is left between the piece's two ends where they are nearest, along the run, mm; below 0 they cross."""
    left, right = _end_shapes(plan, hem_clearance)
    heights = {y for _, y in (*left.cut, *right.cut)}
    return min(min(_places(right.cut, y)) - max(_places(left.cut, y)) for y in heights)


def _places(cut: tuple[Point, ...], y: float) -> list[float]:
    """Where an end's line, from raw edge A down to B, stands at height ``y``: its corners there and, between corners
    above and below, the line itself. Beyond the line's own ends, the nearest one."""
    found = [x for x, at in cut if abs(at - y) < 1e-9]
    for (ax, ay), (bx, by) in pairwise(cut):
        if min(ay, by) < y < max(ay, by):
            found.append(ax + (bx - ax) * (y - ay) / (by - ay))
    return found or [min(cut, key=lambda point: abs(point[1] - y))[0]]


def _run_fold(plan: StripPlan, bend: Bend, a: float, b: float) -> PatternFold:
    y = plan.girth.girth - bend.mark
    return PatternFold(id=bend.id, a=(a, y), b=(b, y), turn=bend.turn, deduction=bend.deduction,
                       kind=bend.kind)


def _without_repeats(ring: tuple[Point, ...]) -> tuple[Point, ...]:
    """The ring without doubled points, from the left end down, across edge B, up and back: anticlockwise."""
    kept = [point for n, point in enumerate(ring)
            if max(abs(point[0] - ring[n - 1][0]), abs(point[1] - ring[n - 1][1])) > 1e-9]
    return tuple(kept)
