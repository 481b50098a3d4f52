"""A plan cut up the simpler way: the same pieces from the same metal, never more lines, every cut one the shear makes."""

from __future__ import annotations

import json
import random
from collections import Counter

from hypothesis import given, settings
from hypothesis import strategies as st

from yattle.coil import NestJob, NestRules, Part, Stock, faults, nest
from yattle.coil.block import Spacing
from yattle.coil.read import in_priority, laid_of
from yattle.coil.simpler import lines, simpler
from yattle.coil.sizes import Orientation
from yattle.coil.tree import Leaf, Split, is_fine, leaves

FREE = Spacing(0.0, 0.0)


def leaf(along, across, name="z"):
    return Leaf(name, Orientation(0.0, along, across))


def round_and_round(n):
    """n × n equal pieces as a search leaves them: a row off the top, a column off the side, and so on."""
    if n == 0:
        return None
    if n == 1:
        return leaf(469.0, 95.5)
    tree = None
    for _ in range(n):
        tree = Split(False, 95.5, leaf(469.0, 95.5), tree)
    column = Split(True, 469.0, tree)
    row = None
    for _ in range(n - 1):
        row = Split(True, 469.0, leaf(469.0, 95.5), row)
    return Split(True, 469.0, column.low, Split(False, 95.5, row, round_and_round(n - 1)))


def test_equal_pieces_cut_round_and_round_become_plain_strips_by_hand():
    """25 of 469 × 95.5 in 2,400 × 495: nine nested settings and more become five strips of five, said in two lines."""
    tree = round_and_round(5)
    assert len(list(leaves(tree, 0.0))) == 25 and is_fine(tree, 2400.0, 495.0, FREE)
    made = simpler(tree, 2400.0, 495.0, FREE)
    assert Counter(at.lie for at, _, _ in leaves(made, 0.0)) == {Orientation(0.0, 469.0, 95.5): 25}
    assert lines(made) == 2 < lines(tree) and is_fine(made, 2400.0, 495.0, FREE)


def test_a_rest_that_the_shear_cannot_take_off_is_no_way_to_cut():
    """Five strips of 95.5 leave 2.5 of 480: with slivers of 10 mm at the least the plan stays as it is."""
    tree = Split(False, 95.5, leaf(469.0, 95.5), Split(True, 469.0, leaf(469.0, 95.5)))
    made = simpler(tree, 1000.0, 480.0, Spacing(0.0, 10.0))
    assert is_fine(made, 1000.0, 480.0, Spacing(0.0, 10.0)) and lines(made) <= lines(tree)


@settings(max_examples=10, deadline=None)
@given(st.integers(0, 10_000), st.integers(3, 14), st.sampled_from([0.0, 15.0]))
def test_the_same_pieces_from_the_same_metal(seed, kinds, sliver):
    chance = random.Random(seed)
    parts = tuple(Part(id=f"P{n}", qty=chance.randint(1, 9), metal="m",
                       outline=((0.0, 0.0), (x, 0.0), (x, y), (0.0, y)))
                  for n, (x, y) in enumerate((float(chance.randint(90, 1400)), float(chance.randint(60, 420))) for _ in range(kinds)))
    job = NestJob(stock=(Stock(id="c", kind="coil", width=1220.0, metal="m"),), parts=parts,
                  rules=NestRules(max_crosscut=3000.0, min_sliver=sliver, seconds=0.25))
    answer = nest(job)
    assert faults(job, json.loads(json.dumps(answer.answer()))) == []
    again = in_priority(job, answer)
    assert again.objective <= answer.objective + 1e-9 and len(again.placements) == len(answer.placements)
    assert sum(used.length for used in again.used) <= sum(used.length for used in answer.used) + 1e-6
    spacing = Spacing.of(job.rules)
    for laid in laid_of(job, answer):
        for _, length, tree in laid.blocks:
            made = simpler(tree, length, 1220.0, spacing)
            assert Counter(at.item.id for at, _, _ in leaves(made, 0.0)) == Counter(at.item.id for at, _, _ in leaves(tree, 0.0))
            assert lines(made) <= lines(tree) and is_fine(made, length, 1220.0, spacing)
