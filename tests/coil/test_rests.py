"""What is left and what is cut: rests as they are, no strip thinner than a shear sees, no plan lost at the end."""

from __future__ import annotations

import json
import random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import Polygon, box

from yattle.coil import NestJob, nest
from yattle.coil import solve as solver
from yattle.coil.check import faults
from yattle.coil.job import NestRules, Part, Stock
from yattle.coil.rests import is_kept
from yattle.coil.shapes import Nested
from yattle.coil.solve import first_answer

TRAPEZOID = ((0.0, 0.0), (1500.0, 0.0), (1500.0, 200.0), (900.0, 520.0), (0.0, 520.0))


def rect(name, along, across, qty=1):
    return Part(id=name, outline=((0.0, 0.0), (along, 0.0), (along, across), (0.0, across)), qty=qty, metal="m")


def job(parts, stock, **rules):
    return NestJob(stock=tuple(stock), parts=tuple(parts), rules=NestRules(**{"work": 4, "max_crosscut": 3000.0, **rules}))


def offcut(outline, name="off"):
    return Stock(id=name, kind="offcut", outline=outline, metal="m")


def test_a_trapezoid_s_rest_keeps_its_own_outline():
    """880 × 500 comes out of the square end; what is left beside it is metal only where the trapezoid is."""
    question = job([rect("P", 880.0, 500.0)], [offcut(TRAPEZOID)], min_offcut=(100.0, 100.0))
    answer = nest(question)
    assert not answer.unplaced and faults(question, json.loads(json.dumps(answer.answer()))) == []
    metal = Polygon(TRAPEZOID)
    for kept in answer.offcuts:
        shape = Polygon(kept.outline)
        assert shape.difference(metal).area < 1e-3, "air in an offcut"
        assert len(kept.outline) >= 4 and shape.area > 0
    assert any(len(kept.outline) == 5 or abs(Polygon(kept.outline).area - box(*Polygon(kept.outline).bounds).area) > 100
               for kept in answer.offcuts), "the slanting rest keeps its slant"


def test_the_validator_finds_air_overlaps_and_crumbs_in_what_is_kept():
    question = job([rect("P", 880.0, 500.0)], [offcut(TRAPEZOID)], min_offcut=(100.0, 100.0))
    good = json.loads(json.dumps(nest(question).answer()))
    for outline, said in (([[900, 0], [1500, 0], [1500, 520], [900, 520]], "not all of it is on"),
                          ([[100, 100], [300, 100], [300, 300], [100, 300]], "lies over P"),
                          ([[1000, 10], [1050, 10], [1050, 60], [1000, 60]], "smaller than what is kept")):
        wrong = good | {"offcuts": [{"stock": "off", "outline": outline}]}
        assert any(said in fault for fault in faults(question, wrong)), said
    twice = good | {"offcuts": [{"stock": "off", "outline": [[1000, 0], [1300, 0], [1300, 150], [1000, 150]]}] * 2}
    assert any("over another" in fault for fault in faults(question, twice))


@given(st.integers(0, 10**6))
@settings(max_examples=25)
def test_rests_of_irregular_pieces_are_metal(seed):
    draw = random.Random(seed)
    corners = sorted((draw.uniform(300, 1500), draw.uniform(150, 600)) for _ in range(2))
    outline = ((0.0, 0.0), (corners[1][0], 0.0), (corners[1][0], draw.uniform(50, corners[1][1])), corners[0], (0.0, corners[0][1]))
    if not Polygon(outline).is_valid:
        return
    parts = [rect(f"P{n}", draw.uniform(60, 500), draw.uniform(40, 250), draw.randint(1, 3)) for n in range(4)]
    coil = Stock(id="c", kind="coil", width=700.0, metal="m")
    question = job(parts, [offcut(outline), coil], min_offcut=(80.0, 60.0), work=1)
    answer = first_answer(question)
    assert faults(question, json.loads(json.dumps(answer.answer()))) == []


@given(st.lists(st.floats(1e-10, 0.004), min_size=3, max_size=3), st.sampled_from(["crosscut", "slit"]))
@settings(max_examples=20)
def test_no_strip_thinner_than_a_shear_sees(hairs, first):
    """Widths that add up to the coil's but for a hair, lengths alike but for one."""
    a, b, c = hairs
    parts = [rect("A", 2000.0, 400.0 - a), rect("B", 2000.0 - b, 300.0), rect("C", 2000.0 - c, 300.0)]
    question = job(parts, [Stock(id="c", kind="coil", width=1000.0, metal="m")], first=first, work=1)
    for answer in (first_answer(question), nest(question)):
        assert faults(question, json.loads(json.dumps(answer.answer()))) == []


# -- the best so far ---------------------------------------------------------------------------------------------

TRIANGLES = job([Part(id="T", outline=((0.0, 0.0), (400.0, 0.0), (0.0, 300.0)), qty=8, metal="m", turns="any"),
                 rect("R", 350.0, 120.0, 4)],
                [offcut(((0.0, 0.0), (900.0, 0.0), (900.0, 200.0), (400.0, 200.0), (400.0, 500.0), (0.0, 500.0))),
                 Stock(id="c", kind="coil", width=900.0, metal="m")], cutting="snips", work=None, seconds=1.6)


@pytest.mark.parametrize("end", ["nothing", "overlapping", "worse", "raising late"])
def test_what_the_engine_does_last_loses_no_plan(monkeypatch, end):
    """Good plans come on the way; the last one is missing, wrong or worse: the best of all is the answer."""
    real, seen = solver.nest_shapes, []

    def spoiled(question, budget, told=None):
        def listen(nested):
            seen.append(sum(used.length for used in nested.used if used.stock == "c"))
            told(nested)
        found = real(question, budget, listen)
        listen(found)
        if end == "nothing":
            return None
        if end == "overlapping":
            return Nested([*found.placements[:-1], found.placements[0]], found.used)
        return found if end == "worse" else Nested(found.placements[:-1], found.used)
    monkeypatch.setattr(solver, "nest_shapes", spoiled)
    answer = nest(TRIANGLES)
    first = first_answer(TRIANGLES)
    assert answer.objective < first.objective and not answer.unplaced
    assert sum(used.length for used in answer.used if used.stock == "c") <= min(seen) + 1e-6
    assert faults(TRIANGLES, json.loads(json.dumps(answer.answer()))) == []


@pytest.mark.parametrize("seconds", [0.3, 1.0])
def test_however_little_time_the_plan_is_no_worse_than_the_first(seconds):
    question = TRIANGLES.but(rules=TRIANGLES.rules.but(seconds=seconds))
    answer = nest(question)
    assert answer.objective <= first_answer(question).objective + 1e-9
    assert faults(question, json.loads(json.dumps(answer.answer()))) == []
    assert {type(value) for place in answer.placements for value in (place.x, place.y, place.turn)} == {float}
    assert type(answer.objective) is float and type(answer.proved_best) is bool, "no array's number reaches the answer"


def test_counted_work_gives_the_same_plan_and_bound_each_time():
    parts = [rect(f"P{n}", 700.0 + 37.0 * n, 90.0 + 11.0 * (n % 9), 2) for n in range(34)]
    question = job(parts, [Stock(id="c", kind="coil", width=1000.0, metal="m")], seconds=None, work=8)
    one, other = nest(question), nest(question)
    assert one.after(0.0) == other.after(0.0) and one.stopped == "work"
    assert one.objective < first_answer(question).objective and one.bound.value > 0


def test_a_ragged_rest_is_kept_for_what_lies_in_it_and_not_for_its_box():
    """A comb: teeth of 40 mm on a back of 50, in a box of 700 × 400."""
    comb = [(0.0, 0.0), (700.0, 0.0)]
    for n in range(7):
        right = 700.0 - 100.0 * n
        comb += [(right, 400.0), (right - 40.0, 400.0), (right - 40.0, 50.0), (right - 100.0, 50.0)]
    comb[-1] = (0.0, 50.0)
    assert not is_kept(tuple(comb), (600.0, 100.0)) and is_kept(tuple(comb), (50.0, 700.0))
    assert is_kept(((0, 0), (600, 0), (600, 100), (0, 100)), (600.0, 100.0)) and not is_kept((), (0.0, 0.0))
