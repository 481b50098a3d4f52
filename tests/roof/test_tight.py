"""Roofs too close to themselves, by hand: how much height there is, how much is wanted, and what height would do."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest

from plans import gable, plan, shed, wild
from yattle.roof import build
from yattle.roof.plane import Plane
from yattle.roof.tight import Room, tight_places, would_do

HOUSE = {"length": 12000.0, "span": 8000.0, "eave": 3000.0, "eave_overhang": 300.0, "rake_overhang": 250.0}


def tan(pitch):
    return math.tan(math.radians(pitch))


def room(roof, hangs=110.0, stands=40.0, wing=170.0):
    return Room(dict.fromkeys(("eave", "rake", "half-ridge"), hangs), {facet.id: stands for facet in roof.facets}, wing)


def places(blocks, **wants):
    roof = build(plan(*blocks))
    return roof, list(tight_places(roof, room(roof, **wants)))


def low_roof(gap, main=30.0, pitch=8.0):
    """A lean-to whose roof lies so much under the edge of the house's eave, 300 out from the wall."""
    eave = 3000.0 - 300.0 * tan(main) - gap - 2200.0 * tan(pitch)
    return (gable("main", **HOUSE, pitch=main), shed("low", -1000.0, -5250.0, length=6000.0, span=2500.0, eave=eave, pitch=pitch,
                                                    eave_overhang=250.0, top_overhang=0.0))


@pytest.mark.parametrize("gap", [20.0, 60.0, 149.0, 151.0, 400.0])
def test_an_eave_over_a_lean_to_wants_its_trim_and_what_stands_there(gap):
    """110 of trim and 40 of seams square to 8°: 110 + 40 / cos 8°."""
    _, found = places(low_roof(gap))
    want = 110.0 + 40.0 / math.cos(math.radians(8.0))
    assert [one.how for one in found] == (["hangs"] if gap < want else [])
    for one in found:
        assert (one.have, one.need) == pytest.approx((gap, want)) and one.edge.kind == "eave" and one.face.block == "low"


@pytest.mark.parametrize("gap", [20.0, 60.0, 120.0])
def test_what_is_advised_is_the_nearest_whole_height_that_does(gap):
    roof, [one] = places(low_roof(gap))
    block, high = would_do(roof.plan, one, room(roof))
    assert block == "low" and high < roof.plan.blocks[1].eave_height
    wanted = roof.plan.blocks[1].eave_height - (one.need - one.have)
    assert high == pytest.approx(math.floor(wanted / 10.0) * 10.0)
    again = build(plan(*[one.model_dump() if one.id != "low" else one.but(eave_height=high).model_dump() for one in roof.plan.blocks]))
    assert not list(tight_places(again, room(again)))


@pytest.mark.parametrize("under", [40.0, 120.0, 188.0, 192.0, 400.0])
def test_a_wall_under_a_shallow_eave_wants_its_flashing_and_what_it_lies_on(under):
    """A lean-to of 18° under a house of 3°: 40 of ribs square to 18°, 120 of upstand over them and 30 of boards, at the wall,
    where there is less room than at the eave, 300 out; built as advised nothing is too close."""
    eave = 3000.0 - under - 2500.0 * tan(18.0)
    blocks = (gable("main", **HOUSE, pitch=3.0), shed("low", -1000.0, -5250.0, length=6000.0, span=2500.0, eave=eave, pitch=18.0,
                                                      eave_overhang=250.0, top_overhang=0.0))
    roof = build(plan(*blocks))
    asked = replace(room(roof, hangs=60.0), rises=120.0)
    want = 40.0 / math.cos(math.radians(18.0)) + 120.0 + 30.0
    found = [one for one in tight_places(roof, asked) if one.how == "wall"]
    assert [(one.have, one.need) for one in found] == ([pytest.approx((under, want))] if under < want else [])
    for one in tight_places(roof, asked):
        block, high = would_do(roof.plan, one, asked)
        assert block == "low" and high == pytest.approx(math.floor((3000.0 - want - 2500.0 * tan(18.0)) / 10.0) * 10.0)


def test_a_lean_to_at_a_shallow_eave_is_not_advised_down_to_where_its_wall_has_no_room():
    """It comes out over the house's eave: cleared at the eave alone its flashing would stand up through the house's roof."""
    blocks = (gable("main", **HOUSE, pitch=3.0), shed("low", -1000.0, -5250.0, length=6000.0, span=2500.0, eave=2200.0, pitch=18.0,
                                                      eave_overhang=250.0, top_overhang=0.0))
    roof = build(plan(*blocks))
    asked = replace(room(roof, hangs=60.0), rises=120.0)
    tight = next(one for one in tight_places(roof, asked) if one.edge.kind == "eave")
    _, high = would_do(roof.plan, tight, asked)
    again = build(plan(blocks[0], blocks[1] | {"eave_height": high}))
    assert high < 2200.0 and not list(tight_places(again, asked))
    assert 3000.0 - high - 2500.0 * tan(18.0) > 40.0 / math.cos(math.radians(18.0)) + 150.0


def wing(main, other, eave):
    return (gable("main", **HOUSE, pitch=main), gable("wing", 2500.0, -5000.0, 90.0, **HOUSE | {
        "length": 10000.0, "span": 6000.0, "eave": eave}, pitch=other))


@pytest.mark.parametrize("below", [0.2, 30.0, 90.0, 200.0, 400.0])
def test_a_ridge_below_another_wants_what_its_cap_comes_down(below):
    """170 of cap at 30° come 85 down; 5 to dress it, half of 40 square to 30°."""
    _, found = places(wing(30.0, 38.0, 3000.0 + 4000.0 * tan(30.0) - below - 3000.0 * tan(38.0)))
    want = 85.0 + 5.0 + 20.0 / math.cos(math.radians(30.0))
    assert {one.how for one in found} == ({"ridge"} if below < want else set())
    assert all((one.have, one.need) == pytest.approx((below, want)) for one in found)


@pytest.mark.parametrize(("eave", "close"), [(2000.0, False), (2480.0, True), (2500.0, True), (2600.0, False), (2950.0, False)])
def test_a_ridge_in_another_roof_s_overhang_is_said(eave, close):
    """A wing of 6000 at 10° has its ridge 529 over its eave; the house's overhang at 40° goes from 2748 to its wall's 3000."""
    ridge = eave + 3000.0 * tan(10.0)
    _, found = places(wing(40.0, 10.0, eave))
    said = [one for one in found if one.how == "eave"]
    assert bool(said) == close == (3000.0 - 300.0 * tan(40.0) + 2.0 < ridge < 3100.0)
    assert all(one.have == pytest.approx(ridge - 3000.0 + 300.0 * tan(40.0)) for one in said)


@pytest.mark.parametrize(("more", "said"), [(30.0, True), (80.0, True), (400.0, False)])
def test_a_gable_that_comes_out_over_a_ridge_wants_room_beside_it(more, said):
    """So much over the ridge, its sides at 45° go as far down as the slope behind is lower 250 out: more + 250 tan 30°."""
    _, found = places(wing(30.0, 45.0, 3000.0 + 4000.0 * tan(30.0) + more - 3000.0 * tan(45.0)))
    gables = [one for one in found if one.how == "gable"]
    assert bool(gables) == said
    assert all(one.have == pytest.approx(more + 250.0 * tan(30.0)) for one in gables)


def test_the_tip_of_an_overhang_that_comes_out_beyond_the_ridge_is_told_and_no_height_advised():
    """A wing wider than the house is long, whose overhang goes on past its ridge: 10 mm look out of the other face."""
    past = 500.0 - 10.0 / tan(35.0)
    low = past * tan(35.0)  # so much lower its ridge would be level with the face there
    derived_plan = plan(gable("main", length=7600.0, span=8000.0, pitch=35.0), gable(
        "wing", y=-3000.0, bearing=90.0, length=6000.0, span=8000.0, eave=4200.0 - low, pitch=35.0, rake_overhang=500.0))
    roof = build(derived_plan)
    room = Room({"eave": 0.0, "rake": 0.0, "half-ridge": 0.0}, {facet.id: 0.0 for facet in roof.facets}, 100.0)
    gables = [one for one in tight_places(roof, room) if one.how == "gable"]
    assert gables and all(one.have < 20.0 for one in gables)
    assert all(would_do(derived_plan, one, room) is None for one in gables)


def test_roofs_beside_each_other_with_room_are_not_said():
    for blocks in (wing(35.0, 35.0, 3000.0), low_roof(600.0), (gable("main", **HOUSE, pitch=35.0),)):
        assert places(blocks)[1] == []


@pytest.mark.parametrize("seed", range(40))
def test_any_roof_is_asked_and_every_height_that_is_told_is_there(seed):
    """What is said to be over a face is over it, by what the planes say; advice is a height that was tried."""
    roof, found = places(wild(seed))
    for one in found:
        assert one.have < one.need and one.edge.kind in ("eave", "rake", "half-ridge", "ridge")
        assert roof.facet(one.edge.facets[0]).block != one.face.block and isinstance(one.face.plane, Plane)
        if one.how == "hangs":
            highs = [end[2] - one.face.plane.z(end[:2]) for end in (one.edge.a, one.edge.b)]
            assert min(highs) - 1e-6 <= one.have <= max(highs) + 1e-6
        does = would_do(roof.plan, one, room(roof))
        assert does is None or (does[0] in {block.id for block in roof.plan.blocks} and does[1] > 0.0)


@pytest.mark.parametrize("pitch", [12.0, 20.0, 42.0])
def test_overhangs_of_two_pitches_that_go_through_each_other_at_a_corner_are_told(pitch):
    """An annex as wide as its house, both eaves at one height at the wall: 350 further out the steeper roof is the lower one."""
    blocks = plan(gable("main", length=8000.0, span=9000.0, eave=4500.0, pitch=42.0, eave_overhang=350.0, rake_overhang=200.0),
                  gable("annex", x=6000.0, length=4000.0, span=9000.0, eave=4500.0, pitch=pitch, eave_overhang=350.0, rake_overhang=200.0))
    roof = build(blocks)
    through = [one for one in tight_places(roof, room(roof)) if one.how == "through"]
    below = 350.0 * (tan(42.0) - tan(pitch))
    assert bool(through) == (pitch < 42.0)
    assert all(one.have == pytest.approx(below, abs=0.1) for one in through if one.face.block == "annex")
    assert all(would_do(blocks, one, room(roof)) is None for one in through)


@pytest.mark.parametrize(("pitch", "below"), [(4.0, 17.0), (8.0, 25.0), (12.0, 30.0), (28.0, 40.0), (42.0, 60.0)])
def test_no_height_is_advised_that_brings_shallow_eaves_hardly_off_one_height(pitch, below):
    """A ridge comes in a little below another, their eaves at one height: of shallow roofs the valley between would come out far
    beside the corner of the eaves; of steep ones hardly."""
    blocks = plan(gable("main", length=12000.0, span=8000.0, eave=4500.0, pitch=pitch),
                  gable("wing", y=-5000.0, bearing=90.0, length=10000.0, span=8000.0 - 2 * below / tan(pitch), eave=4500.0, pitch=pitch))
    roof = build(blocks)
    tight = next(one for one in tight_places(roof, room(roof)) if one.how == "ridge")
    assert tight.have == pytest.approx(below, abs=0.1)
    does = would_do(blocks, tight, room(roof))
    assert does is None or abs(does[1] - 4500.0) >= 150.0 or abs(does[1] - 4500.0) <= 120.0 * tan(pitch)
    assert (does is not None) == (pitch > 12.0)
