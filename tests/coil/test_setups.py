"""The slitter's fence: settings counted by hand and by another way, and never more of them than before in an order."""

from __future__ import annotations

import random
import time
from collections import Counter
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from test_search import COIL, checked, job

from yattle.coil import first_answer
from yattle.coil.answer import Cut
from yattle.coil.setups import settings as set_anew
from yattle.coil.setups import strips_of, with_fewer
from yattle.coil.sizes import Orientation
from yattle.coil.tree import Leaf, Split, in_turn, leaves

BOX = {"coil 1": (0.0, 0.0, 9000.0, 1220.0)}


def block(length, *widths):
    return length, in_turn(False, [(width, Leaf(n, Orientation(0.0, length, width))) for n, width in enumerate(widths)])


def test_settings_by_hand():
    """Two blocks of 300, 300 and 200 wide strips: the fence is set to 300, then 200, then 300 and 200 again."""
    cuts = []
    for n, start in enumerate((0.0, 2000.0)):
        name = f"b{n}"
        cuts.append(Cut(0, "coil 1", "across", start + 2000.0, (name, "coil 1")))
        for k, at in enumerate((300.0, 600.0, 800.0)):
            cuts.append(Cut(0, name, "along", at, (f"{name}s{k}", f"{name}r{k}")))
            name = f"{name}r{k}"
    assert set_anew(cuts, BOX) == 4
    assert set_anew([cut for cut in cuts if cut.axis == "across"], BOX) == 0


def changes(rows):
    widths = [width for row in rows for width, _ in strips_of(row[1]) or ()]
    return sum(a != b for a, b in zip([-1.0, *widths], widths, strict=False))


def test_equal_widths_come_behind_each_other():
    """310, 120 | 120, 310 | 310, 310, 120: one after another 310, 120 | 120, 310 | 310, 310, 120 takes 4 settings."""
    rows = [block(3000.0, 310.0, 120.0), block(2900.0, 310.0, 120.0), block(2800.0, 120.0, 310.0, 310.0)]
    made = with_fewer(rows, lambda row: 0, True)
    assert changes(made) == 4 and changes(rows) == 5
    assert [[width for width, _ in strips_of(tree)] for _, tree in made] == [[310, 120], [120, 310], [310, 310, 120]]


@given(st.lists(st.tuples(st.integers(0, 2), st.lists(st.sampled_from([100.0, 150.0, 220.0, 310.0]), min_size=1, max_size=5)),
                min_size=1, max_size=8), st.booleans())
def test_nothing_is_lost_and_what_is_wanted_first_stays_first(given_blocks, slits):
    rows = [block(3000.0 - n, *widths) for n, (_, widths) in enumerate(given_blocks)]
    wanted = {length: given_blocks[n][0] for n, (length, _) in enumerate(rows)}
    made = with_fewer(rows, lambda row: wanted[row[0]], slits)
    assert [wanted[length] for length, _ in made] == sorted(wanted.values())

    def pieces(all_rows):
        return Counter((length, leaf.lie.across) for length, tree in all_rows for leaf, _, _ in leaves(tree, 0.0))
    assert pieces(made) == pieces(rows)
    if slits:
        plain = sorted(rows, key=lambda row: (wanted[row[0]], -row[0]))
        assert changes(made) <= changes(plain)


def test_a_block_that_is_cut_across_first_stays_as_it_is():
    tree = Split(True, 1000.0, Leaf(0, Orientation(0.0, 1000.0, 300.0)), Leaf(1, Orientation(0.0, 500.0, 300.0)))
    assert strips_of(tree) is None and strips_of(Leaf(0, Orientation(0.0, 1.0, 1.0))) is None
    assert with_fewer([(1500.0, tree)], lambda row: 0, True) == [(1500.0, tree)]


@settings(max_examples=5, deadline=None)
@given(st.lists(st.tuples(st.sampled_from([3000.0, 2400.0, 1500.0, 800.0]), st.sampled_from([120.0, 210.0, 305.0]),
                          st.integers(1, 5)), min_size=1, max_size=8), st.sampled_from([0.0, 4.0]))
def test_plans_are_valid_and_their_strips_are_slit_before_they_are_cut_across(sizes, gap):
    """In each block all slits from one rectangle come together: a strip is not crosscut while others wait to be slit."""
    question = job(sizes, work=4, gap=gap, min_sliver=4.0)
    for answer in (first_answer(question), None):
        document = answer or checked(question)
        slit: dict[str, int] = {}
        for cut in document.cuts:
            if cut.axis == "along" and cut.piece in slit:
                assert slit[cut.piece] == cut.n - 1, "the rest of a slit rectangle is slit on at once"
            if cut.axis == "along":
                slit[cut.gives[1]] = cut.n


@pytest.mark.parametrize("seed", [1, 2, 3])
def test_the_demo_s_like_is_cut_with_fewer_settings_than_blocks_by_length(seed):
    import random

    dice = random.Random(seed)
    sizes = [(dice.choice((3000.0, 2950.0, 2900.0, 2850.0)), width, 1) for width in (120.0, 210.0, 305.0) for _ in range(12)]
    answer = checked(job(sizes, work=10))
    alongs = sum(cut.axis == "along" for cut in answer.cuts)
    boxes = {"coil 1": (0.0, 0.0, 1e9, COIL.width)}
    assert set_anew(answer.cuts, boxes) < 0.75 * alongs


def test_thousands_of_blocks_are_put_in_order_at_once():
    """Six widths and two wishes: those wanted first come first, among them each width in one go."""
    dice = random.Random(4)
    rows = [(float(dice.randint(500, 3000)), Split(False, dice.choice([100.0, 150.0, 200.0, 250.0, 300.0, 350.0]), Leaf(n % 2, Orientation(0.0, 500.0, 100.0)), None))
            for n in range(3000)]
    began = time.perf_counter()
    made = with_fewer(rows, lambda row: row[1].low.item, True)
    assert time.perf_counter() - began < 5.0
    assert Counter((long, tree.at) for long, tree in made) == Counter((long, tree.at) for long, tree in rows)
    assert [row[1].low.item for row in made] == [0] * 1500 + [1] * 1500
    widths = [row[1].at for row in made]
    assert sum(a != b for a, b in pairwise(widths)) <= 11
