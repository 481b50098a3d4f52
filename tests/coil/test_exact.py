"""All plans of a small job looked at: what it proves, never over a plan that can be cut, the same each time."""

from __future__ import annotations

import random
import threading
import time

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from yattle.coil import NestJob, NestRules, Part, Stock, faults, nest
from yattle.coil.budget import Budget
from yattle.coil.exact import MOST, Known, least_of_all
from yattle.coil.sizes import orientations
from yattle.coil.types import ItemType, StockType

COIL = Stock(id="coil 1", kind="coil", width=1220.0, metal="m", cost_per_m=10.0)
NARROW = Stock(id="narrow", kind="coil", width=800.0, metal="m", cost_per_m=7.5)
SHEET = Stock(id="sheet", kind="sheet", width=1000.0, length=2000.0, qty=2, metal="m", cost=15.0)


def part(name: str, long: float, wide: float, qty: int = 1, turns=(0.0, 180.0)) -> Part:
    return Part(id=name, outline=((0.0, 0.0), (long, 0.0), (long, wide), (0.0, wide)), qty=qty, metal="m", turns=turns)


def asked(parts, stock=(COIL,), **rules) -> NestJob:
    return NestJob(stock=tuple(stock), parts=tuple(parts), rules=NestRules(**{"max_crosscut": 3200.0, "work": 25, **rules}))


def by_itself(sizes, across=1220.0, longest=3200.0, known=1e3, least=0.0, gap=0.0, end=0.0, steps=None, more=lambda: False) -> float:
    """The bound for pieces (long, wide, qty) of a coil at 10 a metre."""
    parts = [part(f"P{n}", long, wide, qty) for n, (long, wide, qty) in enumerate(sizes)]
    kinds = [ItemType(orientations(one), (one,), one.qty) for one in parts]
    source = StockType(COIL, across, longest, 0.01, 0.0, 1_000_000, 1e12, tuple(range(len(kinds))))
    return least_of_all(kinds, [source], gap, Known(known, least, [end]), Budget(time.perf_counter() + 10, steps, more))


def test_three_that_need_a_block_each_are_seen_to_do_so():
    """700 of 1,220 wide: no two lie side by side, two behind each other are 4 m and over what the shear lifts."""
    assert by_itself([(2000.0, 700.0, 3)], known=70.0) == pytest.approx(60.0, abs=1e-3)
    assert by_itself([(2000.0, 600.0, 3)], known=70.0) == pytest.approx(40.0, abs=1e-3)


def test_the_gap_between_blocks_and_what_is_trimmed_off_count():
    """Three blocks of 2 m, 5 mm between each, 20 mm off the end first: 6,030 mm."""
    assert by_itself([(2000.0, 700.0, 3)], gap=5.0, end=20.0, known=70.0) == pytest.approx(60.30, abs=1e-3)


def test_what_is_as_cheap_as_a_plan_can_be_is_proven_to_within_a_hair():
    assert by_itself([(2000.0, 700.0, 3)], known=60.0) == pytest.approx(60.0, rel=1e-4)


def test_it_says_nothing_of_many_pieces():
    assert by_itself([(200.0, 70.0, MOST + 1)]) == 0.0
    assert by_itself([(200.0, 70.0, MOST)], known=20.0, least=5.0, steps=0.02) >= 5.0 - 1e-6


def test_a_plan_that_the_area_says_little_of_is_proven():
    """Five of 620 wide and two of 610: the area of them is 5.6 m of coil, 6.9 m are needed; no other bound says so."""
    answer = nest(asked([part("A", 1100.0, 620.0, 5), part("B", 1400.0, 610.0, 2)]))
    assert answer.objective == pytest.approx(69.0) and answer.proved_best
    job = asked([part("A", 1500.0, 500.0, 3), part("B", 1300.0, 730.0, 2), part("C", 900.0, 400.0, 3)], work=None, seconds=6.0)
    answer = nest(job)
    assert faults(job, answer.answer()) == []
    assert answer.proved_best and answer.bound.proof == "search" and answer.seconds < 5.0 and answer.stopped == ""


@pytest.mark.parametrize("seed", range(3))
def test_jobs_of_a_dozen_pieces_end_by_themselves_with_the_proof(seed):
    """Twelve pieces of three lengths: the least there is within seconds, not when the time is up."""
    draw = random.Random((1, 7, 12)[seed])
    girths = [round(draw.uniform(300, 700), 1) for _ in range(4)]
    parts = [part(f"P{n}", draw.choice([3000.0, 2440.0, 1200.0]), draw.choice(girths)) for n in range(12)]
    job = asked(parts, work=None, seconds=12.0)
    answer = nest(job)
    assert faults(job, answer.answer()) == []
    assert answer.proved_best and answer.stopped == "" and answer.seconds < 9.0


def test_a_coil_that_costs_nothing_and_never_ends_is_no_trouble():
    """Cut in any length: beside one at 10 a metre that the plan is told to be on; the least is nothing then."""
    piece = part("P", 900.0, 700.0, 3)
    sources = [StockType(COIL, 1220.0, float("inf"), price, 0.0, 1_000_000, float("inf"), (0,)) for price in (0.01, 0.0)]
    kinds = [ItemType(orientations(piece), (piece,), 3)]
    assert least_of_all(kinds, sources, 0.0, Known(27.0, 0.0, [0.0, 0.0]), Budget(time.perf_counter() + 10)) == 0.0
    assert least_of_all(kinds, sources[:1], 0.0, Known(30.0, 0.0, [0.0]), Budget(time.perf_counter() + 10)) == pytest.approx(27.0, abs=1e-2)


PIECES = st.lists(st.tuples(st.floats(300, 3100), st.floats(60, 780), st.integers(1, 3),
                            st.sampled_from([(0.0, 180.0), (0.0, 90.0), "any", (0.0, 45.0, 90.0)])), min_size=1, max_size=5)


@settings(max_examples=3, deadline=None)
@given(PIECES, st.sampled_from([(COIL,), (COIL, NARROW), (COIL, SHEET), (SHEET, COIL.but(length=9000.0))]),
       st.fixed_dictionaries({"gap": st.sampled_from([0.0, 3.0]), "end_trim": st.sampled_from([0.0, 20.0]),
                              "edge_trim": st.sampled_from([0.0, 8.0]), "first": st.sampled_from(["crosscut", "slit"]),
                              "objective": st.sampled_from(["cost", "area", "length"])}))
def test_it_is_never_over_a_plan_that_can_be_cut(pieces, stock, rules):
    """Told of a plan that costs twice as much as the one there is, so that all of them are left to look at."""
    from yattle.coil.bound import _seen

    parts = [part(f"P{n}", long, wide, qty, turns) for n, (long, wide, qty, turns) in enumerate(pieces)]
    job = asked(parts, stock, work=6, **rules)
    answer = nest(job)
    assert faults(job, answer.answer()) == []
    placed = [(one, sum(place.part == one.id for place in answer.placements)) for one in parts]
    seen = _seen(job, [row for row in placed if row[1]], 2 * answer.metal_cost, 0.0, Budget(time.perf_counter() + 1.0, 0.05))
    assert seen <= answer.metal_cost * (1 + 1e-6) + 1e-9


def test_counted_steps_prove_the_same_each_time():
    sizes = [(1000.0 + 130 * n, 230.0 + 41 * n, 2) for n in range(8)]
    assert len({by_itself(sizes, known=140.0, least=100.0, steps=0.05) for _ in range(3)}) == 1


def test_whoever_asks_it_to_stop_does_not_wait():
    sizes = [(700.0 + 97 * n, 180.0 + 23 * n, 2) for n in range(18)]
    over = threading.Event()
    threading.Timer(0.7, over.set).start()
    began = time.perf_counter()
    by_itself(sizes, known=260.0, least=200.0, more=over.is_set)
    assert time.perf_counter() - began < 4.0
