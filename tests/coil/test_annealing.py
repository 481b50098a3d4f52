"""Trees of cuts, equal sides joined, the compiled search: against known optima and the independent validator."""

from __future__ import annotations

import json
import random
import time
from collections import Counter

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from yattle.coil import NestJob, NestRules, Part, Stock, faults, first_answer, nest
from yattle.coil.block import Spacing
from yattle.coil.joined import without_waste
from yattle.coil.price import stock_cost
from yattle.coil.sizes import Orientation
from yattle.coil.tree import Leaf, Split, changed, extent, in_turn, is_fine, leaves
from yattle.coil.types import kinds_of, sources_of

COIL = Stock(id="coil 1", kind="coil", width=1220.0, metal="m", cost_per_m=10.0)


def job(sizes, stock=(COIL,), **rules) -> NestJob:
    parts = tuple(Part(id=f"P{n}", outline=((0.0, 0.0), (a, 0.0), (a, b), (0.0, b)), qty=qty, metal="m")
                  for n, (a, b, qty) in enumerate(sizes))
    return NestJob(stock=stock, parts=parts, rules=NestRules(**{"seconds": 6.0, "max_crosscut": 3000.0, **rules}))


def checked(question: NestJob):
    answer = nest(question)
    assert faults(question, json.loads(json.dumps(answer.answer()))) == []
    assert answer.bound.value <= answer.objective + 1e-6
    return answer


def cut_up(pieces: int, seed: int, length: float = 3000.0) -> list[tuple[float, float, int]]:
    """Blocks of coil cut up edge to edge without waste, ten pieces a block."""
    draw = random.Random(seed)
    found = [(length, 1220.0)] * max(1, pieces // 10)
    while len(found) < pieces:
        found.sort(key=lambda size: size[0] * size[1])
        a, b = found.pop()
        share = draw.uniform(0.25, 0.75)
        found += [(a, round(b * share, 1)), (a, b - round(b * share, 1))] if b > 0.4 * a else [
            (round(a * share, 1), b), (a - round(a * share, 1), b)]
    return [(round(a, 1), round(b, 1), 1) for a, b in found]


def test_a_tree_knows_its_places():
    lie = Orientation(0.0, 100.0, 50.0)
    tree = in_turn(False, [(60.0, in_turn(True, [(100.0, Leaf("a", lie)), (100.0, Leaf("b", lie))])), (50.0, Leaf("c", lie))])
    assert {leaf.item: (x, y) for leaf, x, y in leaves(tree, 3.0)} == {"a": (0, 0), "b": (103, 0), "c": (0, 63)}
    assert extent(tree, 3.0) == 203
    assert is_fine(tree, 203.0, 113.0, Spacing(3.0, 0.0)) and not is_fine(tree, 203.0, 112.0, Spacing(3.0, 0.0))
    assert not is_fine(tree, 203.0, 113.0, Spacing(3.0, 20.0))  # 10 beside a and b, which a shear of 20 cannot take off
    assert is_fine(tree, 203.0, 113.0 + 15, Spacing(3.0, 10.0), edge=5.0)
    without = changed(tree, lambda leaf: None if leaf.item == "c" else leaf)
    assert isinstance(without, Split) and without.high is None and extent(without, 3.0) == 203
    assert changed(tree, lambda leaf: None) is None


@pytest.mark.parametrize(("pieces", "seed"), [(10, 1), (20, 2), (30, 3), (40, 4)])
def test_what_was_cut_up_without_waste_is_put_together_again(pieces, seed):
    sizes = cut_up(pieces, seed)
    answer = checked(job(sizes))
    assert answer.proved_best and answer.objective == pytest.approx(sum(a * b for a, b, _ in sizes) / 1220 / 100, rel=1e-6)
    assert answer.share_used == pytest.approx(1.0)


def test_joining_takes_every_piece_once():
    question = job(cut_up(30, 8), stock=(COIL, COIL.but(id="narrow", width=610.0)))
    kinds = kinds_of([(part, part.qty) for part in question.parts])
    trims = {stock.id: (0.0, 0.0) for stock in question.stock}
    sources = sources_of(question, kinds, {}, trims, lambda stock, length: stock_cost(stock, length, question.rules))
    blocks = without_waste(kinds, sources, 0.0, time.perf_counter() + 5)
    taken = Counter(kind for block in blocks for kind, qty in block.counts for _ in range(qty))
    assert blocks and all(taken[k] <= kind.qty for k, kind in enumerate(kinds))
    for block in blocks:
        assert block.filled == pytest.approx(block.length * sources[block.source].across)


@settings(max_examples=7, deadline=None)
@given(st.lists(st.tuples(st.floats(200, 2900), st.floats(60, 1200), st.integers(1, 3)), min_size=2, max_size=9),
       st.sampled_from(["crosscut", "slit"]), st.sampled_from([0.0, 3.0]), st.sampled_from([0.0, 25.0]),
       st.sampled_from([(COIL,), (COIL, COIL.but(id="b", width=1000.0, cost_per_m=8.0)),
                        (COIL, Stock(id="s", kind="sheet", width=1000.0, length=2000.0, qty=2, metal="m", cost=15.0)),
                        (COIL.but(length=4000.0), COIL.but(id="b", width=1250.0))]),
       st.sampled_from(["cost", "area", "length"]), st.sampled_from([0.0, 8.0]))
def test_every_plan_is_valid_and_none_worse_than_the_first(sizes, first, gap, sliver, stock, objective, trim):
    question = job(sizes, stock, first=first, gap=gap, min_sliver=sliver, objective=objective, edge_trim=trim,
                   end_trim=trim, work=6, seconds=0.8)
    answer, begin = checked(question), first_answer(question)
    if len(begin.placements) == len(answer.placements):
        assert answer.objective <= begin.objective + 1e-9


def test_cut_anew_is_much_better_than_side_by_side():
    """Pieces that go above each other inside a block, deeper than strips and pieces in a row can say: nothing is wasted."""
    sizes = [(1800.0, 820.0, 1), (1200.0, 500.0, 1), (1200.0, 720.0, 1), (700.0, 400.0, 1), (1100.0, 250.0, 1), (1100.0, 150.0, 1)]
    answer = checked(job(sizes))
    assert answer.objective == pytest.approx(30.0)


def test_slit_first_gets_shorter():
    draw = random.Random(5)
    sizes = [(round(draw.uniform(300, 3000), 1), round(draw.uniform(80, 500), 1), 1) for _ in range(16)]
    question = job(sizes, first="slit", max_crosscut=None, work=4, seconds=2.0)
    answer, begin = checked(question), first_answer(question)
    assert answer.objective < 0.99 * begin.objective
    assert [cut.axis for cut in answer.cuts[:2]] == ["across", "along"]  # cut off, then slit


def test_the_same_work_gives_the_same_plan():
    draw = random.Random(9)
    sizes = [(round(draw.uniform(300, 2900), 1), round(draw.uniform(80, 500), 1), 2) for _ in range(25)]
    one, two = (nest(NestJob.model_validate(job(sizes, work=5, seed=3).model_dump())) for _ in range(2))
    assert one.placements == two.placements and one.stopped == two.stopped == "work"
    assert one.objective < first_answer(job(sizes)).objective
