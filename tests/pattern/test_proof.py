"""The proof fold: right patterns come out right, wrong ones are found out."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from samples import RULES, metal, section
from yattle.pattern import End, Pattern, PatternFold, StripPlan, Tab, fold_up, prove_against_section, strip_pattern
from yattle.pattern.pattern import signed_area
from yattle.section import Hem, girth_of

ENDS = ("wrap", "under", "over", "plain", "wrap-in", "box", "hem-45", "lock")


def end_of(name, profile):
    """An end of that name on an eave drip, its flaps' deductions by the metal's own rule."""
    def tab(leg, length, turn):
        other = profile.but(legs=(95.0, 34.0), turns=(turn,), hem_a=None, hem_b=None) if abs(turn) < 180 else profile.but(
            legs=(95.0,), turns=(), hem_a=None, hem_b=Hem(kind="closed", length=length, toward="back"))
        return Tab(leg, length, turn, girth_of(other).bends[-1].deduction)
    return {"wrap": lambda: End("tabs", tabs=(tab(1, 34.0, -90.0),)), "under": lambda: End("under", lap=80.0),
            "over": lambda: End("over", lap=80.0), "plain": End, "hem-45": lambda: End(hem_cut=True),
            "wrap-in": lambda: End("tabs", tabs=(tab(1, 34.0, 90.0),)),
            "box": lambda: End("tabs", tabs=(tab(0, 25.0, -90.0), tab(1, 34.0, -90.0))),
            "lock": lambda: End("tabs", tabs=(tab(0, 25.0, -180.0), tab(1, 25.0, -180.0)))}[name]()


def laid_out(profile, left="plain", right="plain", share=2400.0) -> Pattern:
    return strip_pattern(StripPlan("E1-1", "eave drip", girth_of(profile), share, end_of(left, profile),
                                   end_of(right, profile)))


def proof_of(pattern, profile, left="plain", right="plain"):
    return prove_against_section(pattern, profile, (*end_of(left, profile).tabs, *end_of(right, profile).tabs))


@pytest.mark.parametrize(("left", "right"), list(itertools.product(ENDS, ENDS)))
@pytest.mark.parametrize("pitch", [5.0, 32.0, 60.0])
def test_every_pair_of_ends_folds_up_to_its_section(pitch, left, right):
    profile = section((85.0, 95.0, 18.0), (pitch - 90, 42.0))
    proof = proof_of(laid_out(profile, left, right), profile, left, right)
    assert proof.max_gap < 1e-9 and proof.checked > 40


@settings(max_examples=40, deadline=None)
@given(RULES, st.floats(0, 80), st.floats(20, 135), st.sampled_from(list(ENDS)), st.sampled_from(list(ENDS)))
def test_whatever_the_school(rule, pitch, kick, left, right):
    profile = section((85.0, 95.0, 18.0), (pitch - 90, kick), rule=rule)
    assert proof_of(laid_out(profile, left, right), profile, left, right).max_gap < 1e-6


@pytest.mark.parametrize("fault", ["moved fold", "mirrored turn", "no deduction", "turn off", "short tab", "wide"])
def test_a_wrong_pattern_is_found_out(fault):
    profile = section((85.0, 95.0, 18.0), (-58.0, 42.0))
    pattern = laid_out(profile, "wrap", "under")
    first, *rest = pattern.folds
    wrong = {
        "moved fold": lambda: pattern.but(folds=(first.but(a=(first.a[0], first.a[1] - 1),
                                                           b=(first.b[0], first.b[1] - 1)), *rest)),
        "mirrored turn": lambda: pattern.but(folds=(first.but(turn=58.0), *rest)),
        "no deduction": lambda: pattern.but(folds=(first.but(deduction=0.0), *rest)),
        "turn off": lambda: pattern.but(folds=(first.but(turn=-57.0), *rest)),
        "short tab": lambda: pattern.but(outline=tuple((max(x, -30.0), y) for x, y in pattern.outline)),
        "wide": lambda: pattern.but(outline=tuple((x, y + 0.5 * (y > 200)) for x, y in pattern.outline)),
    }[fault]()
    assert proof_of(wrong, profile, "wrap", "under").max_gap > 0.05


def test_outline_and_folds_keep_the_format_s_promises():
    from shapely import LineString, Point, Polygon

    pattern = laid_out(section((85.0, 95.0, 18.0), (-58.0, 42.0)), "wrap", "under")
    assert signed_area(pattern.outline) > 0 and Polygon(pattern.outline).is_valid
    edge = LineString([*pattern.outline, pattern.outline[0]])
    for fold in pattern.folds:
        for end in (fold.a, fold.b):
            assert edge.distance(Point(end)) < 0.001, fold.id
    assert pattern.length == pytest.approx(pattern.box[2] - pattern.box[0])


def test_a_right_hand_is_the_left_one_mirrored():
    profile = section((85.0, 95.0, 18.0), (-58.0, 42.0))
    left, right = laid_out(profile, "wrap", "over"), laid_out(profile, "over", "wrap")
    mirrored = {(round(2400 - x, 9), round(y, 9)) for x, y in left.outline}
    assert mirrored == {(round(x, 9), round(y, 9)) for x, y in right.outline}
    assert left.outline != right.outline


def test_a_box_corner_by_hand():
    """A square 100 × 100 with one flap of 30 folded up 90°: its far corners stand 30 high."""
    pattern = Pattern(id="t", name="flap", metal=metal(), girth=130.0, length=100.0,
                      outline=((0.0, 0.0), (100.0, 0.0), (100.0, 130.0), (0.0, 130.0)),
                      folds=(PatternFold(id="f1", a=(0.0, 100.0), b=(100.0, 100.0), turn=90.0, deduction=2.0),))
    flap = next(f for f in fold_up(pattern) if f.flat[:, 1].min() > 90)
    # Folded up sharp: the base reaches 101, the flap is 31 long.
    assert sorted(np.round(flap.space[:, 2], 9)) == [0, 0, 31, 31]
    assert np.allclose(flap.space[:, 1], 101)


@given(st.floats(0, 1))
@settings(max_examples=20)
def test_folding_keeps_every_facet_s_lengths(share):
    pattern = laid_out(section((85.0, 95.0, 18.0), (-58.0, 42.0)), "wrap", "under")
    for facet in fold_up(pattern, share):
        flat = np.hypot(*np.diff(facet.flat, axis=0).T)
        assert np.linalg.norm(np.diff(facet.space, axis=0), axis=1) == pytest.approx(flat, abs=1e-9)


def test_flat_is_flat():
    pattern = laid_out(section((85.0, 95.0, 18.0), (-58.0, 42.0)), "wrap", "under")
    assert all(np.allclose(facet.space[:, 2], 0) for facet in fold_up(pattern, 0.0))
    assert math.isclose(pattern.area, signed_area(pattern.outline))
