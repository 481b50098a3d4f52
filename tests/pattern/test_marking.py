"""Marking out: who has nothing but the table of points gets the same sheet."""

from __future__ import annotations

from math import dist

import pytest

from yattle.derive import derive
from yattle.job import demo_path, load
from yattle.pattern import check_measure, marking_points
from yattle.pattern.pattern import signed_area

DERIVED = derive(load(demo_path()))
PATTERNS = [made.pattern for opening in DERIVED.openings for made in opening.pieces] + [
    piece.pattern for run in DERIVED.runs for piece in run.pieces[:1]]


@pytest.mark.parametrize("pattern", PATTERNS, ids=lambda pattern: pattern.id)
def test_the_table_alone_gives_the_sheet(pattern):
    points = marking_points(pattern)
    x0, y0, x1, y1 = pattern.box
    assert [point.number for point in points] == list(range(1, len(points) + 1))
    for point in points:
        assert point.left == pytest.approx(point.place[0] - x0) and point.top == pytest.approx(y1 - point.place[1])
        assert -1e-9 <= point.left <= x1 - x0 + 1e-9 and -1e-9 <= point.top <= y1 - y0 + 1e-9
    on_outline = sorted((p for p in points if p.place in pattern.outline), key=lambda p: pattern.outline.index(p.place))
    marked = abs(signed_area(tuple((p.left, -p.top) for p in on_outline)))
    whole = abs(signed_area(pattern.outline))
    assert marked == pytest.approx(whole, rel=0.003)  # curves are marked at some of their points
    for fold in (fold for fold in pattern.folds if fold.kind != "roll"):
        for end in (fold.a, fold.b):
            assert min(dist(end, point.place) for point in points) <= 0.05


@pytest.mark.parametrize("pattern", PATTERNS[:12], ids=lambda pattern: pattern.id)
def test_the_check_is_the_longest_distance(pattern):
    points = marking_points(pattern)
    a, b, far = check_measure(points)
    assert far == pytest.approx(dist((a.left, a.top), (b.left, b.top)))
    assert far >= pattern.length - 0.1 or far >= max(pattern.box[2] - pattern.box[0], pattern.box[3] - pattern.box[1])


def test_numbers_run_clockwise_from_the_upper_left():
    plate = next(p for p in PATTERNS if p.id == "VP-1")
    one, two, three, four, *hole = marking_points(plate)
    assert (one.left, one.top) == pytest.approx((0, 0)) and two.top == pytest.approx(0) and two.left > 0
    assert three.left == pytest.approx(two.left) and three.top > 0 and four.left == pytest.approx(0)
    middle, *screws = hole  # an ellipse on the slope, longer along the fall
    assert 4 <= len(screws) <= sum(mark.text == "screw" for mark in plate.marks), "of a row its first and last"
    long, short = middle.hole
    assert long > short > 110 and abs(middle.angle) in (pytest.approx(0, abs=1), pytest.approx(90, abs=1))
