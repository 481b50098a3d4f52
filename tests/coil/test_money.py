"""Money as the objective: hand-worked sums, the search's reckoning against the written answer's, bounds under every plan."""

from __future__ import annotations

import random
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from test_search import COIL, checked, job

from yattle.coil import NestRules, Stock, faults, first_answer, nest
from yattle.coil.annealing import Annealing, Budget
from yattle.coil.answer import Cut, Offcut, Used
from yattle.coil.block import Spacing
from yattle.coil.first import trims_of
from yattle.coil.money import besides, objective_of
from yattle.coil.price import stock_cost
from yattle.coil.pricing import block_of
from yattle.coil.tree import Leaf, Split
from yattle.coil.types import kinds_of, sources_of

MONEY = {"objective": "money", "cut_cost": 0.5, "offcuts_worth": 0.5}


def made(sizes, n=3, stock=(COIL,), **rules):
    random.seed(n)
    return job(sizes, stock, **{"work": 8, **MONEY, **rules})


def random_sizes(seed, many=10):
    dice = random.Random(seed)
    return [(dice.choice((3000.0, 2400.0, 1500.0, 900.0, 600.0)), dice.choice((120.0, 210.0, 305.0, 410.0)),
             dice.randint(1, 3)) for _ in range(many)]


def test_an_answer_s_money_by_hand():
    """3 m at 10 a metre, 4 cuts at 0.5; an offcut of 1 m × 0.61 m is half the width: 5, of which half counts."""
    rules = NestRules(**MONEY)
    used = (Used("coil 1", 3000.0, 3.66, 30.0),)
    cuts = tuple(Cut(n, "coil 1", "across", 1.0, ("a", "b")) for n in range(4))
    offcut = Offcut("coil 1", ((0.0, 0.0), (1000.0, 0.0), (1000.0, 610.0), (0.0, 610.0)))
    assert objective_of(rules, used, cuts, (offcut,)) == pytest.approx(30 + 2 - 2.5)
    assert objective_of(rules.but(objective="cost"), used, cuts, (offcut,)) == 30.0


def test_a_block_s_cuts_and_what_is_kept_by_hand():
    """A block of 2 m off the coil: crosscut, a piece of 2000 × 500 slit off, one of 1200 × 400 slit and crosscut; kept
    are 800 × 400 beside it and 2000 × 320 above."""
    question = made([(2000.0, 500.0, 1), (1200.0, 400.0, 1)])
    kinds, sources, spacing = parts_of(question)
    long, short = (Leaf(n, kind.orientations[0]) for n, kind in enumerate(kinds))
    tree = Split(False, 500.0, long, Split(False, 400.0, short))
    block = block_of(0, [(2000.0, tree)], 0.0, 0.0)
    kept = (800 * 400 + 2000 * 320) * 10 / 1000 / 1220
    assert besides(block, sources[0], question.rules, spacing.gap) == pytest.approx(4 * 0.5 - 0.5 * kept)
    assert besides(block, sources[0], question.rules.but(objective="cost"), 0.0) == 0.0


def parts_of(question):
    kinds = kinds_of([(part, part.qty) for part in question.parts])
    trims = {stock.id: trims_of(stock, question.rules) for stock in question.stock}
    return kinds, sources_of(question, kinds, None, trims, lambda s, x: stock_cost(s, x, question.rules)), Spacing.of(question.rules)


@pytest.mark.parametrize("seed", range(6))
@pytest.mark.parametrize("gap", [0.0, 5.0])
def test_the_compiled_search_reckons_as_the_blocks_do(seed, gap):
    """What it says its plan costs is what the blocks it gives cost."""
    question = made(random_sizes(seed), gap=gap, min_sliver=4.0)
    kinds, sources, spacing = parts_of(question)
    blocks = [block_of(0, [(0.0, Leaf(n, kind.orientations[0]))], 0.0, spacing.gap) for n, kind in enumerate(kinds)
              for _ in range(kind.qty)]
    search = Annealing(kinds, sources, spacing, blocks, question.rules)
    begun = search.cost
    search.run(Budget(1e12, 4000, begun=0.0), seed + 1)
    found = search.best
    cost = sum(sources[b.source].cost(b.length + spacing.gap) + besides(b, sources[b.source], question.rules, spacing.gap)
               for b in found)
    assert search.cost == pytest.approx(cost, abs=1e-6) and cost < begun
    assert sum(qty for b in found for _, qty in b.counts) == sum(kind.qty for kind in kinds)


@pytest.mark.parametrize("seed", range(2))
def test_it_costs_no_more_money_than_the_plan_of_least_metal(seed):
    question = made(random_sizes(seed, 8))
    by_metal = nest(question.model_copy(update={"rules": question.rules.but(objective="cost")}))
    answer = checked(question)
    money = objective_of(question.rules, by_metal.used, by_metal.cuts, by_metal.offcuts)
    assert answer.objective <= money * 1.01 and answer.metal_cost >= by_metal.bound.value - 1e-6
    assert answer.objective == pytest.approx(objective_of(question.rules, answer.used, answer.cuts, answer.offcuts))


@settings(max_examples=15, deadline=None)
@given(st.integers(0, 10_000), st.just(0.0) | st.floats(0.01, 3), st.floats(0, 1), st.booleans())
def test_no_plan_is_under_the_bound_in_money(seed, cut, worth, sheets):
    stock = (COIL, Stock(id="s", kind="sheet", width=1000.0, length=2000.0, qty=3, metal="m", cost=12.0)) if sheets else (COIL,)
    question = made(random_sizes(seed, 5), stock=stock, cut_cost=cut, offcuts_worth=worth, work=3)
    for answer in (first_answer(question), nest(question)):
        assert answer.objective >= answer.bound.value - 1e-6 * max(1.0, answer.objective)


def test_dear_cuts_and_cheap_metal_make_fewer_cuts():
    """Where a cut costs as much as a metre, strips are not slit for the sake of a little metal."""
    sizes = [(1500.0, 300.0, 6), (1480.0, 290.0, 6), (700.0, 150.0, 8)]
    dear = nest(made(sizes, cut_cost=10.0, offcuts_worth=0.0, work=10))
    cheap = nest(made(sizes, cut_cost=0.0, offcuts_worth=0.0, work=10))
    assert len(dear.cuts) <= len(cheap.cuts) and dear.metal_cost >= cheap.metal_cost - 1e-6
    assert cheap.objective == pytest.approx(cheap.metal_cost)


def test_the_validator_finds_a_wrong_objective():
    question = made([(2000.0, 500.0, 1), (1200.0, 400.0, 1)])
    answer = nest(question).answer()
    assert faults(question, answer) == []
    answer["objective"]["value"] += 0.01
    assert faults(question, answer)[0].startswith("objective: says")
    sheet = replace(nest(made([(900.0, 400.0, 2)], stock=(Stock(
        id="s", kind="sheet", width=1000.0, length=2000.0, metal="m", cost=12.0),))), objective=1.0)
    assert any("objective" in line for line in faults(made([(900.0, 400.0, 2)], stock=(Stock(
        id="s", kind="sheet", width=1000.0, length=2000.0, metal="m", cost=12.0),)), sheet.answer()))


def test_one_piece_as_wide_as_the_coil_takes_one_cut():
    """Nothing is kept, and that it is the least is proven."""
    answer = checked(made([(1000.0, 1220.0, 1)]))
    assert answer.objective == pytest.approx(10.0 + 0.5) and answer.proved_best


# -- metres -----------------------------------------------------------------------------------------------------------


NARROW = COIL.but(id="narrow", width=610.0, cost_per_m=2.0)


def test_metres_are_least_on_the_wide_coil_though_the_narrow_one_is_cheap():
    """Four of 3 m × 600: on the narrow coil 12 m at 2 each, on the wide one 6 m at 10."""
    sizes = [(3000.0, 600.0, 4)]
    cheap = checked(job(sizes, (COIL, NARROW)))
    short = checked(job(sizes, (COIL, NARROW), objective="length"))
    assert {used.stock for used in cheap.used} == {"narrow"} and cheap.objective == pytest.approx(24.0)
    assert {used.stock for used in short.used} == {"coil 1"} and short.objective == pytest.approx(6.0)
    assert short.objective_of == "length" and short.proved_best


def test_a_sheet_counts_its_length_and_an_offcut_nothing():
    sheet = Stock(id="sheet", kind="sheet", width=1000.0, length=2000.0, qty=1, metal="m", cost=1.0)
    offcut = Stock(id="off", kind="offcut", outline=((0.0, 0.0), (1000.0, 0.0), (1000.0, 300.0), (0.0, 300.0)), metal="m", cost=50.0)
    answer = checked(job([(1900.0, 900.0, 1), (900.0, 250.0, 1)], (sheet, offcut), objective="length"))
    assert {used.stock: used.cost for used in answer.used} == {"sheet": 2.0, "off": 0.0} and answer.objective == 2.0


@pytest.mark.parametrize("seed", range(4))
def test_no_plan_is_under_the_bound_in_metres(seed):
    question = job(random_sizes(seed, 6), (COIL, NARROW), objective="length", work=20)
    answer, first = checked(question), first_answer(question)
    assert answer.bound.value <= answer.objective + 1e-9 and answer.objective <= first.objective + 1e-9
    assert answer.objective == pytest.approx(sum(used.length for used in answer.used) / 1000)
