"""True shapes: nested closer than their rectangles, apart by the gap, in holes, held against exact geometry."""

from __future__ import annotations

import json
import math
import random

import pytest
import shapely
from hypothesis import assume, given
from hypothesis import strategies as st

from yattle.coil import NestJob, NestRules, Part, Stock, faults, first_answer, nest
from yattle.coil.holes import fill_holes
from yattle.coil.outlines import ROUGH, coarse

COIL = Stock(id="coil 1", kind="coil", width=500.0, metal="m", cost_per_m=10.0)
SHEET = Stock(id="sheet", kind="sheet", width=500.0, length=700.0, qty=2, metal="m", cost=4.0)


def job(*parts, stock=(COIL,), **rules) -> NestJob:
    return NestJob(stock=stock, parts=parts, rules=NestRules(**{"cutting": "snips", "seconds": 1.2, **rules}))


def checked(question: NestJob):
    answer = nest(question)
    assert faults(question, json.loads(json.dumps(answer.answer()))) == []
    return answer


WEDGE = Part(id="W", outline=((0.0, 0.0), (300.0, 0.0), (0.0, 480.0)), qty=4, metal="m", turns=(0.0, 180.0))


def test_two_wedges_lie_in_one_rectangle():
    """Four right-angled wedges: two and two make rectangles, half of what their own rectangles take."""
    answer = checked(job(WEDGE))
    assert first_answer(job(WEDGE)).objective == pytest.approx(12.0)
    assert answer.objective < 7.0 and len(answer.placements) == 4 and not answer.cuts


@pytest.mark.parametrize("gap", [0.0, 5.0])
def test_random_shapes_keep_their_gap(gap):
    draw, parts = random.Random(3), []
    for n in range(8):
        corners = sorted(draw.uniform(0, 2 * math.pi) for _ in range(6))
        ring = tuple((round(90 * math.cos(t), 3), round(90 * math.sin(t), 3)) for t in corners)
        parts.append(Part(id=f"S{n}", outline=ring, metal="m", turns="any" if n % 2 else (0.0, 90.0)))
    answer = checked(job(*parts, gap=gap, edge_trim=4.0, end_trim=6.0))
    assert len(answer.placements) == 8 and answer.objective <= first_answer(job(*parts, gap=gap)).objective + 0.1


def test_sheets_are_filled_one_after_another():
    answer = checked(job(WEDGE, stock=(SHEET,)))
    assert answer.ok and {used.stock for used in answer.used} <= {"sheet 1", "sheet 2"}


def test_what_is_too_large_is_said():
    answer = checked(job(WEDGE.but(id="big", outline=((0.0, 0.0), (900.0, 0.0), (0.0, 900.0)), qty=1), WEDGE))
    assert [u.part for u in answer.unplaced] == ["big"] and answer.unplaced[0].reason == "too wide"


RING = Part(id="R", outline=((0.0, 0.0), (480.0, 0.0), (480.0, 480.0), (0.0, 480.0)),
            holes=(((40.0, 40.0), (440.0, 40.0), (440.0, 440.0), (40.0, 440.0)),), metal="m", turns=(0.0,))
SMALL = Part(id="s", outline=((0.0, 0.0), (120.0, 0.0), (120.0, 90.0), (0.0, 90.0)), qty=6, metal="m", turns=(0.0, 90.0))


def test_small_parts_go_into_the_holes_of_large_ones():
    answer = checked(job(RING, SMALL, gap=3.0))
    inside = [p for p in answer.placements if p.part == "s" and p.x + p.width < 490]
    assert len(inside) == 6 and answer.used[0].length == pytest.approx(480.0, abs=0.1)


def test_a_hole_takes_no_more_than_it_has_room_for():
    from yattle.coil.answer import Placement

    left = [SMALL] * 40
    rows = fill_holes([(RING, Placement("R", 1, "coil 1", 0.0, False, 0.0, 0.0, 480.0, 480.0))], left, COIL, 3.0)
    assert len(rows) + len(left) == 40 and 0 < len(rows) <= 400 * 400 / (120 * 90)
    assert all(p.x >= 43 and p.x + p.width <= 437 and p.y >= 43 and p.y + p.height <= 437 for _, p in rows)


@pytest.mark.parametrize("damage", ["shift", "turn"])
def test_the_validator_sees_shapes_that_overlap(damage):
    question = job(WEDGE)
    document = json.loads(json.dumps(nest(question).answer()))
    if damage == "shift":
        document["placements"][0]["x"] += 40
    else:
        document["placements"][0]["turn"] = (document["placements"][0]["turn"] + 180) % 360
    assert faults(question, document)


OFFCUT = Stock(id="off 1", kind="offcut", metal="m", outline=((0.0, 0.0), (700.0, 0.0), (700.0, 200.0), (250.0, 200.0), (0.0, 450.0)))


def test_an_offcut_is_used_to_its_own_outline():
    """A triangle in the slanting corner, where the largest rectangle inside would have no room for it."""
    corner = Part(id="C", outline=((0.0, 0.0), (150.0, 0.0), (0.0, 180.0)), metal="m", turns=(0.0,), qty=2)
    answer = checked(job(corner, stock=(OFFCUT, COIL)))
    assert {place.stock for place in answer.placements} == {"off 1"} and answer.objective == 0


def strip(name, long, wide, qty=1):
    return Part(id=name, outline=((0.0, 0.0), (long, 0.0), (long, wide), (0.0, wide)), qty=qty, metal="m")


@pytest.mark.parametrize("gap", [0.0, 3.0])
def test_mixed_strips_are_sheared_and_the_rest_comes_out_of_what_they_leave(gap):
    question = job(strip("S", 2000.0, 120.0, 3), strip("T", 900.0, 90.0, 2), WEDGE.but(qty=3), stock=(OFFCUT, COIL),
                   cutting="mixed", gap=gap, max_crosscut=3000.0)
    answer = checked(question)
    assert answer.ok and len(answer.placements) == 8
    assert gap or all((place.piece is None) == (place.part == "W") for place in answer.placements)
    sheared = checked(question.but(rules=question.rules.but(cutting="shear")))
    assert answer.objective <= sheared.objective + 1e-6 and answer.cuts


def test_mixed_without_anything_irregular_is_a_shear_s_plan():
    question = job(strip("S", 2000.0, 120.0, 3), cutting="mixed", max_crosscut=3000.0)
    answer = checked(question)
    assert answer.ok and all(place.piece for place in answer.placements)
    only = checked(job(WEDGE, cutting="mixed"))
    assert only.ok and not any(place.piece for place in only.placements)


def test_a_part_across_a_cut_is_found_out():
    question = job(strip("S", 2000.0, 120.0, 3), WEDGE.but(qty=1), cutting="mixed", max_crosscut=3000.0)
    said = json.loads(json.dumps(nest(question).answer()))
    wedge = next(place for place in said["placements"] if place["part"] == "W")
    wedge["x"] = wedge["y"] = 0.0
    assert any("across a cut" in fault or "apart" in fault for fault in faults(question, said))


def test_of_several_widths_the_one_that_takes_least():
    wide = COIL.but(id="wide", width=960.0, cost_per_m=10.0)
    answer = checked(job(WEDGE.but(qty=6), stock=(COIL, wide), seconds=2.0))
    assert {used.stock for used in answer.used} == {"wide"}


@given(st.integers(50, 400), st.floats(20, 600), st.floats(0, 0.3), st.integers(0, 1000))
def test_an_outline_with_fewer_corners_is_never_smaller_and_hardly_larger(corners, radius, rough, seed):
    """Of rounds, some of them rough at the edge."""
    dice = random.Random(seed)
    ring = tuple((radius * (1 + rough * dice.random()) * math.cos(2 * math.pi * k / corners),
                  radius * (1 + rough * dice.random()) * math.sin(2 * math.pi * k / corners)) for k in range(corners))
    true = shapely.Polygon(ring)
    assume(true.is_valid)
    made = coarse(ring)
    shape = shapely.Polygon(made)
    assert shape.covers(true) and len(made) <= len(ring)
    assert true.buffer(2 * ROUGH + 1e-6, join_style="mitre").covers(shape)


def test_outlines_with_few_corners_stay_as_they_are():
    ring = ((0.0, 0.0), (100.0, 0.0), (100.0, 50.0), (0.0, 50.0))
    assert coarse(ring) is ring


def test_rounds_with_hundreds_of_corners_are_nested_and_hold_against_their_true_shapes():
    ring = tuple((60 * math.cos(k * math.pi / 150), 60 * math.sin(k * math.pi / 150)) for k in range(300))
    question = NestJob(stock=(Stock(id="coil 1", kind="coil", width=500.0, metal="m", cost_per_m=10.0),),
                       parts=(Part(id="round", outline=ring, qty=12, metal="m", turns="any"),),
                       rules=NestRules(cutting="snips", gap=2.0, seconds=1.2))
    assert len(coarse(ring)) < 150, "half as many corners will do for 60 mm"
    answer = nest(question).answer()
    assert answer["ok"] and faults(question, json.loads(json.dumps(answer))) == []
    assert answer["used"][0]["length"] < 420.0, "four in a row of 122, three and a bit rows"
