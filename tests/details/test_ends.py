"""Every end of the library on every section that can have it, and what its flaps do when folded up."""

from __future__ import annotations

import numpy as np
import pytest

from samples import made
from yattle.details import FAMILIES, develop
from yattle.details.ends import TITLES, ends_of, plumb_normal
from yattle.errors import InputError
from yattle.pattern.folded import fold_up
from yattle.pattern.pattern import signed_area
from yattle.pattern.proof import prove_against_section


def pairs():
    for name in FAMILIES:
        for end in ends_of(made(name).sheet()):
            yield name, end


@pytest.mark.parametrize(("name", "end"), list(pairs()))
def test_it_folds_up_on_both_hands(name, end):
    """Proven by folding, alike on both hands, its outline sound, every millimetre of its length said."""
    from shapely import Polygon

    low = {"low": "left", "slope": 30.0} if end == "plumb" else {}
    left = develop(made(name, length=2400.0, left=end, right="plain", **low)).pieces[0]
    right = develop(made(name, length=2400.0, left="plain", right=end, **({"low": "right", "slope": 30.0} if low else {}))).pieces[0]
    for piece in (left, right):
        assert piece.proof.max_gap < 1e-6 and Polygon(piece.pattern.outline).is_valid
        assert signed_area(piece.pattern.outline) > 0
        assert piece.ledger.value == pytest.approx(piece.pattern.length, abs=1e-6)
    assert {(round(2400 - x, 6), round(y, 6)) for x, y in left.pattern.outline} == {
        (round(x, 6), round(y, 6)) for x, y in right.pattern.outline}, "the other hand is the mirror image"
    if end != "plain":
        assert left.hand == "left hand" and right.hand == "right hand"


def tips(name, end, **more):
    """For each flap of a left end: how far its tip stands behind the piece's end and out of its leg's plane, mm."""
    piece = develop(made(name, length=2400.0, left=end, **more)).pieces[0]
    flaps = {fold.id for fold in piece.pattern.folds if fold.by == "tongs"}
    return [facet.space for facet in fold_up(piece.pattern) if {e for e in facet.edges if e} and
            {e for e in facet.edges if e} <= flaps]


def test_a_wrap_goes_behind_and_an_inner_one_in_front():
    """The face is the largest part, so it lies in z = 0 with its paint toward +z."""
    (outer,), (inner,) = tips("eave-drip", "wrap", pitch=0.0, right="plain"), tips(
        "eave-drip", "wrap-in", pitch=0.0, right="plain")
    assert outer[:, 2].min() == pytest.approx(-34.0) and np.abs(outer[:, 0]).max() < 1e-9
    assert inner[:, 2].max() == pytest.approx(34.0) and np.abs(inner[:, 0]).max() < 1e-9


def test_a_boxed_end_closes_flange_and_face():
    assert len(tips("rake", "box")) == 2 and len(tips("rake", "tab")) == 1 and len(tips("ridge-cap", "cap")) == 2


def test_a_kick_out_has_its_dam():
    flaps = tips("sidewall", "kick-out")
    assert len(flaps) == 2
    result = develop(made("sidewall", length=2400.0, left="kick-out"))
    assert any("sealant alone" in finding.says() for finding in result.findings)


def test_a_lock_lies_back_on_its_leg():
    piece = develop(made("eave-drip", length=2400.0, left="lock-down", right="plain")).pieces[0]
    locks = [fold for fold in piece.pattern.folds if fold.by == "tongs"]
    assert {fold.turn for fold in locks} == {-180.0} and {fold.kind for fold in locks} == {"hem"}
    assert piece.pattern.length == pytest.approx(2400 + 25 - locks[0].deduction)


def test_hems_cut_at_45_meet():
    """Cut at 45° the hem's raw corner comes as far in as the hem is deep, its fold line stays whole."""
    pattern = develop(made("eave-drip", length=2400.0, left="hem-45")).pieces[0].pattern
    low = min(pattern.outline, key=lambda p: (p[1], p[0]))
    hem = next(fold for fold in pattern.folds if fold.id == "hB")
    assert low[0] == pytest.approx(hem.a[1]) and hem.a[0] == 0.0


def test_a_plumb_cut_is_plumb():
    """Folded up and laid at its slope, every point of the end is over the next: one place along level ground."""
    slope = 30.0
    detail = made("rake", length=2400.0, left="plumb", low="left", slope=slope)
    piece = develop(detail).pieces[0]
    rise = np.radians(slope)  # the run rises to the right: level ground along it, in (along, out, up) of the piece
    normal = np.array([np.cos(rise), 0.0, -np.sin(rise)])
    assert plumb_normal(slope, True) == pytest.approx(tuple(normal))
    corners = {}
    for facet in fold_up(piece.pattern):
        for place, flat in zip(facet.space, facet.flat, strict=True):
            if flat[0] < 1000:
                corners[tuple(np.round(place, 6))] = place
    ends = np.array(list(corners.values()))
    # the face lies in z = 0: down the face is −y, so up is y there and out is z
    level = ends @ np.array([normal[0], normal[2], normal[1]])
    assert np.ptp(level) < 1e-6


@pytest.mark.parametrize(("name", "change", "says"), [
    ("ridge-cap", {"left": "kick-out"}, "an end that a ridge cap can have: plain, cap, hem-45"),
    ("eave-drip", {"right": "dam"}, "found 'dam'")])
def test_an_end_that_a_section_cannot_have_is_refused(name, change, says):
    with pytest.raises(InputError, match=says):
        develop(made(name, **change))


def test_a_flap_too_short_for_its_fold_is_said():
    for end, field in (("wrap", "wrap"), ("tab", "tab")):
        found = develop(made("eave-drip", left=end, **{field: 1.0})).findings[0]
        assert found.level == "stop" and found.field == field
    assert develop(made("eave-drip", left="lock-up", tab=0.5)).findings[0].level == "stop"


def test_a_wrong_flap_is_found_out():
    piece = develop(made("eave-drip", length=2400.0, left="wrap")).pieces[0]
    right = piece.tabs[0]
    for wrong in (type(right)(right.leg, 33.0, right.turn, right.deduction),
                  type(right)(right.leg, right.length, 90.0, right.deduction),
                  type(right)(right.leg - 1, right.length, right.turn, right.deduction)):
        assert prove_against_section(piece.pattern, piece.profile, (wrong,)).max_gap > 0.5
    assert prove_against_section(piece.pattern, piece.profile).max_gap == np.inf


def test_every_end_is_used_and_named():
    used = {end for _, end in pairs()}
    assert used == set(TITLES)
