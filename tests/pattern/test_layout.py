"""Flat patterns as the scissors and the brake meet them: outline, folds, ends, both hands; and folding them up."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
import shapely
import shapely.affinity
from hypothesis import given, settings
from hypothesis import strategies as st
from test_proof import ENDS, end_of, laid_out

from samples import RULES, section, sections
from yattle.pattern import End, Pattern, StripPlan, fold_up, strip_pattern
from yattle.pattern.by_hand import hand_order
from yattle.pattern.pattern import signed_area
from yattle.pattern.unfold import deduction_of
from yattle.section import GirthRefused, girth_of

DRIP = section((85.0, 95.0, 18.0), (-58.0, 42.0))


def polygon(pattern: Pattern):
    return shapely.Polygon(pattern.outline, pattern.holes)


# -- a straight piece, flat -------------------------------------------------------------------------------------


@pytest.mark.parametrize(("left", "right"), list(itertools.product(ENDS, ENDS)))
def test_the_outline_is_simple_and_every_fold_ends_on_it(left, right):
    pattern = laid_out(DRIP, left, right)
    shape = polygon(pattern)
    assert shape.is_valid and signed_area(pattern.outline) > 0 and shape.area == pytest.approx(pattern.area)
    x0, y0, x1, y1 = pattern.box
    assert (x1 - x0, y1 - y0) == pytest.approx((pattern.length, pattern.girth))
    for fold in pattern.folds:
        for at in (fold.a, fold.b):
            on_fold = min(shapely.LineString((other.a, other.b)).distance(shapely.Point(at))
                          for other in pattern.folds if other is not fold)
            assert min(shape.exterior.distance(shapely.Point(at)), on_fold) < 1e-3
        assert shape.buffer(1e-3).covers(shapely.LineString((fold.a, fold.b)))
    for mark in pattern.marks:
        assert shape.buffer(1e-6).covers(shapely.LineString((mark.a, mark.b)) if mark.a != mark.b else shapely.Point(mark.a))


@settings(max_examples=60, deadline=None)
@given(sections(), st.floats(200, 6000))
def test_a_plain_piece_is_a_rectangle_with_its_folds_at_the_marks(profile, share):
    girth = girth_of(profile)
    if isinstance(girth, GirthRefused):
        return
    pattern = strip_pattern(StripPlan("P", "plain", girth, share))
    assert pattern.area == pytest.approx(share * girth.girth) and pattern.length == pytest.approx(share)
    assert [fold.id for fold in pattern.folds] == [bend.id for bend in girth.bends]
    for fold, bend in zip(pattern.folds, girth.bends, strict=True):
        assert fold.a[1] == fold.b[1] == pytest.approx(girth.girth - bend.mark) and fold.deduction == bend.deduction
        assert {fold.a[0], fold.b[0]} == {0.0, share}


@pytest.mark.parametrize(("left", "right"), [(a, b) for a, b in itertools.product(ENDS, ENDS) if a != b])
def test_the_other_hand_is_the_mirror_image(left, right):
    """Turned round its middle line a left-hand piece is the right-hand one: outline, folds and all."""
    one, other = laid_out(DRIP, left, right), laid_out(DRIP, right, left)
    turned = shapely.affinity.scale(polygon(one), xfact=-1.0, origin=(1200.0, 0.0))
    assert turned.symmetric_difference(polygon(other)).area < 1e-6
    mine = sorted((round(fold.turn, 6), *sorted(round(2400.0 - x, 3) for x in (fold.a[0], fold.b[0]))) for fold in one.folds)
    assert mine == sorted((round(fold.turn, 6), *sorted(round(x, 3) for x in (fold.a[0], fold.b[0]))) for fold in other.folds)


@pytest.mark.parametrize("lap", [40.0, 80.0, 150.0])
@pytest.mark.parametrize("nested", [True, False])
def test_a_lap_lies_beyond_the_share_and_is_marked(lap, nested):
    girth = girth_of(DRIP)
    pattern = strip_pattern(StripPlan("P", "lap", girth, 2000.0, End(), End("under", lap=lap, nested=nested)))
    assert pattern.length == pytest.approx(2000.0 + lap) and pattern.box[0] == 0.0
    if not nested:
        assert pattern.area == pytest.approx((2000.0 + lap) * girth.girth)
    else:
        assert pattern.area < (2000.0 + lap) * girth.girth, "hem and drip are cut back so that the two nest"
    assert any(mark.a[0] == mark.b[0] == pytest.approx(2000.0) for mark in pattern.marks)


# -- folding up -------------------------------------------------------------------------------------------------


@settings(max_examples=40, deadline=None)
@given(sections(), st.floats(0, 1))
def test_half_folded_or_whole_every_facet_keeps_its_shape(profile, share):
    """Facets turn about their folds: none is stretched, whatever share of the way is folded."""
    girth = girth_of(profile)
    if isinstance(girth, GirthRefused):
        return
    pattern = strip_pattern(StripPlan("P", "fold", girth, 1000.0))
    flat, some = fold_up(pattern, 0.0), fold_up(pattern, share)
    for one, other in zip(flat, some, strict=True):
        a, b = one.space, other.space
        assert np.linalg.norm(a - np.roll(a, 1, axis=0), axis=1) == pytest.approx(
            np.linalg.norm(b - np.roll(b, 1, axis=0), axis=1), abs=1e-6)
        assert np.linalg.norm(a[0] - a[len(a) // 2]) == pytest.approx(np.linalg.norm(b[0] - b[len(b) // 2]), abs=1e-6)


@settings(max_examples=40)
@given(RULES, st.floats(5, 175))
def test_a_fold_takes_off_what_its_section_takes_off(rule, turn):
    """The unfolder's deduction is the girth's, for outside and inside measures."""
    for measured in ("outside", "inside"):
        profile = section((200.0, 200.0), (turn,), hem_b=None, rule=rule, measured=measured)
        girth = girth_of(profile)
        if isinstance(girth, GirthRefused):
            continue
        assert deduction_of(profile.metal, measured, turn) == pytest.approx(girth.bends[0].deduction)
        assert girth.girth == pytest.approx(400.0 - girth.bends[0].deduction)


def test_hands_fold_the_flaps_of_an_end_before_the_long_folds_over_them():
    pattern = laid_out(DRIP, "box", "plain")
    order = [fold.id for fold in hand_order(pattern)]
    assert sorted(order) == sorted(fold.id for fold in pattern.folds)
    flaps = [fold.id for fold in pattern.folds if fold.by == "tongs"]
    assert flaps and end_of("box", DRIP).tabs
