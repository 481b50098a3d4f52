"""Counts against hand-worked runs; movement, metals, scatter."""

from __future__ import annotations

from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yattle.install import needs_of, packed, positions
from yattle.install.metals import drains_onto, quarrel, run_off
from yattle.install.movement import fights, movement_of, slides_wanted
from yattle.install.schedule import staggered
from yattle.job.fixing_rules import FixingRules
from yattle.job.scatter import Scatter, far_end

RULES = FixingRules()


def test_screws_of_a_run_by_hand():
    """3 m at 300, 25 from the ends: 2950 in 10 gaps of 295, 11 screws."""
    assert len(positions(3000.0, 300.0, 25.0)) == 11 and positions(3000.0, 300.0, 25.0)[1] == 320.0
    assert positions(40.0, 300.0, 25.0) == (20.0,)
    assert positions(1000.0, 300.0, 25.0, ((900.0, 1001.0),))[-1] == 900.0


@given(st.floats(60, 20000), st.floats(50, 900), st.floats(0, 30))
def test_positions_are_even_and_near_enough(length, pitch, edge):
    places = positions(length, pitch, edge)
    gaps = [b - a for a, b in pairwise(places)]
    assert places[0] == pytest.approx(min(edge, length / 2), abs=1e-3) and all(gap <= pitch + 2e-3 for gap in gaps)
    assert len(places) < (length - 2 * edge) / pitch + 3


def test_a_rake_s_two_rows_stand_in_each_other_s_gaps_by_hand():
    """3 m at 300, 25 from the ends: 2950 in 10.5 gaps of 280.95, 11 in each row, the second 140.48 further on; its last
    one stands 25 from the right end. At a cap all within its zone move to its near end and are one."""
    one, other = staggered(3000.0, 300.0, 25.0)
    assert len(one) == len(other) == 11 and one[0] == 25.0 and other[-1] == 2975.0
    assert other[0] == pytest.approx(25 + 2950 / 10.5 / 2, abs=1e-3) and one[1] == pytest.approx(25 + 2950 / 10.5, abs=1e-3)
    kept = staggered(3000.0, 300.0, 25.0, ((2815.0, 3001.0),))
    assert all(place <= 2815.0 for row in kept for place in row) and kept[1][-1] == 2815.0
    assert staggered(120.0, 300.0, 25.0) == ((60.0,), (60.0,))


@given(st.floats(200, 20000), st.floats(50, 900))
def test_staggered_rows_mirror_each_other(length, pitch):
    one, other = staggered(length, pitch, 25.0)
    assert sorted(round(length - place, 2) for place in other) == pytest.approx(sorted(one), abs=0.02)
    assert all(b - a <= pitch + 2e-3 for a, b in pairwise(one))


def test_closures_with_side_tabs_are_taped_on_three_sides():
    """Ten of 450: 4.5 m along their feet, and twice 38 up the seams for each, 760 more."""
    plain, tabbed = (next(n.many for n in needs_of("closure", 9999.0, 90.0, (), RULES, ((450.0, 10),), tabs=tabs)
                          if n.what == "tape") for tabs in (0.0, 2 * 38.0))
    assert plain == 4500 and tabbed == 4500 + 760


def test_a_ridge_by_hand():
    """6 m, girth 340, one joint riveted: 2 rows of 21 screws, 12 m of tape, 6 rivets, 2 beads of 340 mm."""
    needs = {need.what: need for need in needs_of("ridge", 6000.0, 340.0, (3000.0,), RULES)}
    assert needs["screws"].many == 2 * 21 and not needs["screws"].hidden
    assert needs["tape"].many == 12_000 and needs["rivets"].many == 6
    assert needs["sealant"].many == pytest.approx(2 * 0.34 * 25) and needs["sealant"].only
    nested = {need.what: need for need in needs_of("ridge", 6000.0, 340.0, (3000.0,), RULES, riveted=False)}
    assert "rivets" not in nested and nested["sealant"].many == pytest.approx(0.34 * 25) and not nested["sealant"].only


def test_closures_are_fixed_each_by_itself():
    needs = {need.what: need for need in needs_of("closure", 9999.0, 90.0, (), RULES, ((450.0, 10), (200.0, 1)))}
    assert needs["screws"].many == 10 * 3 + 2 and needs["tape"].many == 4700


def test_valleys_are_held_by_clips_and_never_pierced():
    needs = needs_of("valley", 4000.0, 500.0, (), RULES)
    assert [need.what for need in needs] == ["clips"] and needs[0].many == 2 * 13


def test_packs_with_spare():
    needs = [*needs_of("ridge", 6000.0, 340.0, (3000.0,), RULES)] * 6
    by_what = {pack.what: pack for pack in packed(needs, RULES)}
    assert by_what["screws"].many == 252 and by_what["screws"].packs == 2  # 252 and 5 % are 265
    assert by_what["tape"].packs == 6 and by_what["sealant"].packs == 1


def test_movement_by_hand():
    """10 m of aluminium, 24 in a million a kelvin, 90 K: 21.6 mm; steel of 6 m at 12: 6.48."""
    assert movement_of(10_000.0, 24.0, RULES).whole == pytest.approx(21.6)
    steel = movement_of(6000.0, 12.0, RULES)
    assert steel.whole == pytest.approx(6.48) and steel.sum.value == pytest.approx(steel.whole)
    assert fights(6000.0, 12.0, RULES) == pytest.approx(2.48) and fights(3000.0, 12.0, RULES) == 0
    assert slides_wanted(6000.0, 12.0, RULES) == 1 and slides_wanted(3000.0, 12.0, RULES) == 0


@pytest.mark.parametrize(("sheet", "screw", "bad"), [
    ("copper", "coated steel", True), ("copper", "copper", False), ("copper", "stainless", False), ("zinc", "copper", True),
    ("aluminium", "stainless", False), ("aluminium", "coated steel", True), ("steel", "coated steel", False)])
def test_screws_and_sheets(sheet, screw, bad):
    assert (quarrel(sheet, screw) is not None) == bad


def test_rivets_clips_and_copper_that_drains_onto_others():
    assert "aluminium rivets" in quarrel("copper", "aluminium", "rivets") and quarrel("steel", "coated steel", "clips") is None
    assert "zinc" in drains_onto("copper", "zinc") and drains_onto("copper", "nothing") is None
    assert drains_onto("steel", "zinc") is None


def test_water_from_copper():
    assert "copper" in run_off("zinc", "copper") and run_off("copper", "copper") is None and run_off("zinc", "nothing") is None


def test_the_far_end_s_spread():
    """Lengths and laying alone add up as roots of sums: 4 pieces of 1 mm and 3 laps of 1.5 mm, 3.28 mm; 95 % within 6.4."""
    found = far_end(4, 12_000.0, Scatter(angle=0.0), 10.0)
    assert found.spread == pytest.approx(1.96 * (4 + 3 * 1.5**2) ** 0.5, rel=0.05) and found.worst == "laying in the laps"
    assert far_end(4, 12_000.0, Scatter(angle=0.5), 10.0).worst == "angles at the joints"  # 26 mm on the last 3 m
    assert far_end(1, 3000.0, Scatter(), 50.0).off == 0


# What every kind of run is fixed with, as it is done on a roof: what, in how many rows, covered by what comes after or
# seen. A cap or a wall flashing is screwed through its own leg (seen), one row on each side that lies on panels, each on
# its own tape beneath; what goes under panels or trims is covered by them.
FIXED = {
    "eave": {("screws", 1, True)}, "valley": {("clips", 2, True)}, "rake": {("screws", 2, False), ("tape", 1, True)},
    "rake on a zed": {("zed rivets", 1, False)},
    "rake by itself": {("screws", 2, False), ("face screws", 1, False), ("tape", 1, True)},
    "ridge": {("screws", 2, False), ("tape", 2, True)}, "hip": {("screws", 2, False), ("tape", 2, True)},
    "half-ridge": {("screws", 1, False), ("tape", 1, True)}, "headwall": {("screws", 1, False), ("tape", 1, True), ("wall anchors", 1, True)},
    "sidewall": {("screws", 1, False), ("tape", 1, True), ("wall anchors", 1, True)},
    "skew-wall": {("screws", 1, False), ("tape", 1, True), ("wall anchors", 1, True)},
    "pitch-break": {("screws", 1, True), ("tape", 1, True)}, "cleat": {("screws", 1, True)}, "zed": {("screws", 1, True), ("tape", 1, True)},
    "twin": {("screws", 1, True)}, "closure": {("screws", 1, True), ("tape", 1, True)},
    "counterflashing": {("wedges", 1, True)}}


@pytest.mark.parametrize("kind", FIXED)
def test_rows_and_what_is_seen_of_every_kind(kind):
    gaps = ((3000.0, 1),) if kind == "closure" else ()
    needs = needs_of(kind, 3000.0, 300.0, (), RULES, gaps)
    assert {(need.what, need.rows, need.hidden) for need in needs} == FIXED[kind] and len(needs) == len(FIXED[kind])
    for need in needs:
        pitch = {"screws": RULES.screw_pitch, "clips": RULES.clip_pitch, "wedges": RULES.wedge_pitch,
                 "zed rivets": RULES.screw_pitch, "face screws": RULES.screw_pitch,
                 "wall anchors": RULES.anchor_pitch}.get(need.what)
        one = 3000.0 if pitch is None else len(positions(3000.0, pitch, RULES.edge))
        assert need.many == need.rows * (len(need.second) or one)


@pytest.mark.parametrize("kind", ["ridge", "hip", "half-ridge", "headwall", "sidewall", "skew-wall"])
def test_a_wide_lap_on_panels_takes_a_second_row_on_each_side(kind):
    narrow, wide = (needs_of(kind, 3000.0, 300.0, (), RULES, lap=lap) for lap in (RULES.wide, RULES.wide + 0.1))
    for one, other in zip(narrow, wide, strict=True):
        assert other.rows == 2 * one.rows and other.many == 2 * one.many and other.hidden == one.hidden


@pytest.mark.parametrize("kind", ["eave", "valley", "rake", "cleat", "zed", "closure", "counterflashing"])
def test_what_lies_on_no_panel_takes_no_second_row(kind):
    assert needs_of(kind, 3000.0, 300.0, (), RULES, lap=500.0) == needs_of(kind, 3000.0, 300.0, (), RULES)


def test_rivets_are_seen_and_sealant_is_covered():
    needs = {need.what: need for need in needs_of("eave", 3000.0, 300.0, (1500.0,), RULES)}
    assert not needs["rivets"].hidden and needs["sealant"].hidden and needs["rivets"].places == (1500.0,)
