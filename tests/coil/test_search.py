"""The search over blocks: its sums, its blocks, its plans against everything tried, its bound never over any plan."""

from __future__ import annotations

import itertools
import json
import random
import time

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from yattle.coil import NestJob, NestRules, Part, Stock, faults, first_answer, nest, plain_answer
from yattle.coil.bound import bound_of
from yattle.coil.first import FirstPlan
from yattle.coil.sums import Sums

COIL = Stock(id="coil 1", kind="coil", width=1220.0, metal="m", cost_per_m=10.0)


def rect(length: float, width: float) -> tuple[tuple[float, float], ...]:
    return ((0.0, 0.0), (length, 0.0), (length, width), (0.0, width))


def job(sizes, stock=(COIL,), **rules) -> NestJob:
    parts = tuple(Part(id=f"P{n}", outline=rect(length, width), qty=qty, metal="m", turns=(0.0, 180.0))
                  for n, (length, width, qty) in enumerate(sizes))
    return NestJob(stock=stock, parts=parts, rules=NestRules(**{"work": 20, "seconds": None, "max_crosscut": 3200.0, **rules}))


def checked(question: NestJob):
    answer = nest(question)
    assert faults(question, json.loads(json.dumps(answer.answer()))) == []
    return answer


@given(st.lists(st.tuples(st.integers(1, 60), st.integers(1, 50), st.integers(1, 4)), min_size=1, max_size=6), st.integers(1, 120))
def test_sums_are_the_best_there_are(items, room):
    """Against every choice of numbers; and each sum comes apart into what it says."""
    sums = Sums(float(room))
    for n, (size, worth, most) in enumerate(items):
        sums.add(n, float(size), float(worth), most)
    best = max(sum(k * worth for k, (_, worth, _) in zip(ks, items, strict=True))
               for ks in itertools.product(*(range(most + 1) for *_, most in items))
               if sum(k * size for k, (size, *_) in zip(ks, items, strict=True)) <= room)
    which = sums.at(room)
    assert sums.worth[which] == best and np.all(np.diff(sums.sizes) > 0) and np.all(np.diff(sums.worth) > 0)
    taken = sums.taken(which)
    assert sum(items[n][0] * k for n, k in taken) == sums.sizes[which]
    assert sum(items[n][1] * k for n, k in taken) == best and all(k <= items[n][2] for n, k in taken)


def test_widths_that_go_into_the_coil_are_put_together():
    """Two of 610, one of 800 with one of 420: by hand three blocks of 3 m; the widest first would take four."""
    answer = checked(job([(3000.0, 800.0, 1), (3000.0, 420.0, 1), (3000.0, 610.0, 2), (3000.0, 500.0, 1), (3000.0, 720.0, 1)]))
    assert answer.objective == pytest.approx(90.0) and answer.proved_best and answer.bound.proof in ("area", "lp")


def test_short_pieces_go_behind_each_other_in_long_strips():
    answer = checked(job([(1000.0, 300.0, 12)]))
    assert answer.objective == pytest.approx(30.0)


def test_the_cheaper_width_is_taken():
    narrow = COIL.but(id="narrow", width=610.0, cost_per_m=5.5)
    answer = checked(job([(3000.0, 600.0, 3)], stock=(COIL, narrow)))
    assert {used.stock for used in answer.used} == {"coil 1", "narrow"} and answer.objective == pytest.approx(30 + 16.5)


@pytest.mark.parametrize("seed", range(8))
def test_no_plan_of_one_piece_a_strip_is_better(seed):
    """Every way of parting the pieces into blocks of side by side strips, tried; the search is no worse, the bound no more."""
    draw = random.Random(seed)
    sizes = [(draw.choice([500.0, 900.0, 1000.0, 2000.0, 3000.0]), draw.choice([200.0, 305.0, 400.0, 610.0, 820.0]), draw.randint(1, 2))
             for _ in range(draw.randint(2, 4))]
    pieces = [(length, width) for length, width, qty in sizes for _ in range(qty)]
    best = _by_trying(sorted(pieces, reverse=True))
    answer = checked(job(sizes))
    assert answer.objective <= best / 100 + 1e-6
    assert answer.bound.value <= answer.objective + 1e-6


def _by_trying(pieces) -> float:
    """The least length of coil where every piece has a strip of its own, by trying all blocks for the longest piece left."""
    if not pieces:
        return 0.0
    first, rest = pieces[0], pieces[1:]
    found = []
    for many in range(len(rest) + 1):
        for chosen in itertools.combinations(range(len(rest)), many):
            if first[1] + sum(rest[n][1] for n in chosen) <= 1220.0:
                found.append(first[0] + _by_trying([p for n, p in enumerate(rest) if n not in chosen]))
    return min(found)


@settings(max_examples=6, deadline=None)
@given(st.lists(st.tuples(st.floats(300, 3100), st.floats(60, 1200), st.integers(1, 4)), min_size=1, max_size=10),
       st.sampled_from([(COIL,), (COIL, COIL.but(id="b", width=1000.0, cost_per_m=8.0)),
                        (COIL, Stock(id="s", kind="sheet", width=1000.0, length=2000.0, qty=2, metal="m", cost=15.0))]),
       st.sampled_from([0.0, 3.0]), st.sampled_from([0.0, 30.0]))
def test_the_bound_is_under_every_plan(sizes, stock, gap, sliver):
    question = job(sizes, stock=stock, gap=gap, min_sliver=sliver, work=8, seconds=0.8)
    answer = checked(question)
    begin = first_answer(question)
    if len(begin.placements) == len(answer.placements):
        assert answer.objective <= begin.objective + 1e-9
        assert bound_of(question, begin, time.perf_counter() + 0.4).value <= answer.objective + 1e-6


@settings(max_examples=25, deadline=None)
@given(st.lists(st.tuples(st.floats(300, 3100), st.floats(60, 1200), st.integers(1, 4)), min_size=1, max_size=12),
       st.sampled_from([(COIL,), (COIL.but(id="b", width=1000.0, length=4000.0), COIL)]), st.sampled_from([0.0, 3.0]),
       st.sampled_from(["crosscut", "slit"]), st.sampled_from(["cost", "money"]))
def test_put_in_order_the_first_plan_takes_what_it_took_as_it_was_laid(sizes, stock, gap, first, objective):
    """Of every coil and sheet the same length, and the same pieces left over: so trials are judged without the rest."""
    question = job(sizes, stock=stock, gap=gap, first=first, objective=objective, cut_cost=0.5)
    plain, ordered = plain_answer(question), first_answer(question)
    taken, after = ({used.stock: used.length for used in answer.used} for answer in (plain, ordered))
    assert after == pytest.approx(taken, abs=1e-6) and plain.unplaced == ordered.unplaced


@pytest.mark.parametrize("seed", [1, 2, 3])
def test_of_many_kinds_few_at_hand_give_no_longer_first_plan(monkeypatch, seed):
    """Blocks of like lengths are better filled than those of which all short pieces are gone at the end."""
    chance = random.Random(seed)
    question = job([(float(chance.randint(300, 3000)), float(chance.randint(60, 500)), 1) for _ in range(900)])
    few = FirstPlan(question)
    monkeypatch.setattr("yattle.coil.first._KINDS", 10_000)
    many = FirstPlan(question)
    used = [sum(length for laid in plan.laid for _, length, _ in laid.blocks) for plan in (few, many)]
    assert not few.left.counts and used[0] < used[1]


def test_a_search_that_is_stopped_gives_the_best_so_far():
    sizes = [(300.0 + 37.3 * n % 2700, 80.0 + 23.7 * n % 400, 2) for n in range(40)]
    asked = itertools.count()
    answer = nest(job(sizes, work=None, seconds=60.0), lambda: next(asked) > 5)
    assert answer.stopped == "asked" and len(answer.placements) == 80 and answer.seconds < 20
    by_clock = nest(job(sizes, work=None, seconds=1.0))
    assert by_clock.stopped == "seconds" and by_clock.seconds < 8 and by_clock.answer()["stopped"] == "seconds"
    by_work = [nest(NestJob.model_validate(job(sizes, work=4).model_dump())) for _ in range(2)]
    assert by_work[0].stopped == "work" and by_work[0].placements == by_work[1].placements


def test_every_better_plan_is_told_and_none_is_worse():
    sizes = [(300.0 + 37.3 * n % 2700, 80.0 + 23.7 * n % 400, 1) for n in range(30)]
    told = []
    answer = nest(job(sizes), found=lambda plan: told.append(plan.objective))
    assert answer.objective == pytest.approx(min(told)) and len(told) >= 2


@pytest.mark.parametrize("work", [1, 2])
def test_who_asks_for_a_step_or_two_does_not_wait_for_a_proof(monkeypatch, work):
    """The plan is sound all the same, and no better bound is told than was worked out; with more steps it is proven."""
    monkeypatch.setattr("yattle.coil.solve._PROOF", 60.0)
    question = job([(900.0 + 37 * n, 150.0 + 11 * n, 2) for n in range(8)], work=work, seconds=None)
    answer, more = nest(question), nest(question.but(rules=question.rules.but(work=3)))
    assert faults(question, answer.answer()) == [] and answer.bound.proof in ("area", "dual")
    assert 0.0 < answer.bound.value <= more.bound.value <= more.objective + 1e-9 and more.bound.proof in ("lp", "search")


def test_where_steps_are_counted_a_busy_machine_changes_nothing():
    """The same answer while three threads take the processor away from it."""
    import threading

    question = job([(900.0 + 37 * n, 150.0 + 11 * n, 3) for n in range(9)], work=3, seconds=None)
    alone = nest(question).answer()
    stop = threading.Event()

    def busy():
        while not stop.is_set():
            sum(range(5000))
    threads = [threading.Thread(target=busy) for _ in range(3)]
    for thread in threads:
        thread.start()
    try:
        beside = nest(NestJob.model_validate(question.model_dump())).answer()
    finally:
        stop.set()
        for thread in threads:
            thread.join()
    assert alone["stopped"] == beside["stopped"] == "work"
    assert {**alone, "seconds": 0} == {**beside, "seconds": 0}


def test_parts_alike_but_drawn_the_other_way_lie_each_in_its_own_turn():
    """306 × 407 and 407 × 306: of one kind for the search, but a quarter turn of one is the other as it is drawn."""
    parts = (Part(id="A", outline=rect(306.0, 407.0), metal="m", turns=(0.0, 90.0)),
             Part(id="B", outline=rect(407.0, 306.0), qty=3, metal="m", turns=(0.0, 90.0)))
    for first in ("crosscut", "slit"):
        checked(NestJob(stock=(COIL,), parts=parts, rules=NestRules(work=8, seconds=None, max_crosscut=3200.0, first=first)))
