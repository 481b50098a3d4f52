"""Texts on paper: none over another, few lines through them."""

from __future__ import annotations

import random

import pytest

from yattle.drawing.placing import clear_place, covers, crossings, segments_of


@pytest.mark.parametrize("seed", range(40))
def test_crowded_texts_keep_clear_of_each_other(seed):
    chance = random.Random(seed)
    taken = []
    for _ in range(12):
        x, y, wide = chance.uniform(0, 200), chance.uniform(0, 120), chance.uniform(10, 40)
        push = chance.choice([(0.0, 0.0), (0.0, 1.0), (-1.0, 0.0), (0.6, -0.8)])
        taken.append(clear_place((x, y, x + wide, y + 10), push, taken))
    assert not [(a, b) for n, a in enumerate(taken) for b in taken[:n] if covers(a, b)]


def test_a_free_place_is_kept_and_a_push_is_held():
    assert clear_place((0, 0, 10, 4), (0.0, 1.0), []) == (0, 0, 10, 4)
    left, low, right, high = clear_place((0, 0, 10, 4), (0.0, 1.0), [(-30, -2, 40, 2)])
    assert low >= 2 and (right - left, high - low) == (10, 4)


def test_a_text_goes_off_a_line_that_runs_through_it():
    lines = segments_of([[(-50.0, 2.0), (50.0, 2.0)]])
    assert crossings((0, 0, 10, 4), lines) == 1
    assert crossings(clear_place((0, 0, 10, 4), (0.0, 0.0), [], lines), lines) == 0
    slanted = segments_of([[(0.0, 10.0), (10.0, 4.1)]])
    assert crossings((0, 0, 10, 4), slanted) == 0
    assert crossings((0, 0, 10, 4), segments_of([[(1.0, 1.0), (2.0, 2.0)]])) == 1  # wholly within it
