"""Runs into pieces."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yattle.runs import RunTooHard, SplitRules, split_run


def test_even_and_full_by_hand():
    # 9480 with wraps of 34 at both ends and three laps of 80: four blanks, none over 3000.
    even = split_run(9480, SplitRules(3000, 500, 80), 34, 34)
    assert [cut.share for cut in even] == [2370] * 4
    full = split_run(9480, SplitRules(3000, 500, 80, joints="full"), 34, 34)
    assert [cut.share for cut in full] == [2966, 2920, 2920, 674]


def test_a_silly_rest_is_made_longer():
    cuts = split_run(6000, SplitRules(3000, 500, 80, joints="full"))
    assert [cut.share for cut in cuts] == [3000, 2500, 500]


def test_who_lies_beneath():
    left = split_run(9000, SplitRules(3000, 500, 80, weather="left"))
    assert [(c.under_left, c.under_right) for c in left] == [(False, False), (True, False), (True, False), (True, False)]
    right = split_run(9000, SplitRules(3000, 500, 80, weather="right"))
    assert [(c.under_left, c.under_right) for c in right] == [(False, True)] * 3 + [(False, False)]


@given(st.floats(1, 200_000), st.floats(700, 6000), st.floats(20, 150), st.floats(0, 60), st.floats(0, 60),
       st.sampled_from(["even", "full"]), st.sampled_from(["left", "right"]))
def test_laws(length, stock, lap, add_left, add_right, joints, weather):
    rules = SplitRules(stock, 400, lap, weather, joints)
    cuts = split_run(length, rules, add_left, add_right)
    assert sum(cut.share for cut in cuts) == pytest.approx(length, abs=1e-6)
    blanks = [cut.share + lap * (cut.under_left + cut.under_right) for cut in cuts]
    blanks[0] += add_left
    blanks[-1] += add_right
    assert max(blanks) <= stock + 1e-6
    assert min(cut.share for cut in cuts) >= min(400, length, length / len(cuts) * 0.5) - 160
    assert sum(c.under_left + c.under_right for c in cuts) == len(cuts) - 1
    if len(cuts) > 1:  # one piece fewer would not do
        assert length > (len(cuts) - 1) * stock - (len(cuts) - 2) * lap - add_left - add_right - 1e-6


def test_joints_kept_clear_by_hand():
    """Beneath joints at 2400, 4800 and 7200 of 9600 nothing may come nearer than 200: there are places beside them."""
    below = [2400.0, 4800.0, 7200.0]
    rules = SplitRules(3000, 500, 80, avoid=tuple((j - 200, j + 200) for j in below))
    cuts = split_run(9600, rules)
    assert len(cuts) == 4 and [round(c.start) for c in cuts[1:]] == [2200, 4600, 7000]
    tight = SplitRules(3000, 500, 80, avoid=((500.0, 8900.0),))
    assert split_run(9600, tight).field == "stagger"


@given(st.floats(3500, 40_000), st.integers(1, 12), st.floats(0, 300), st.sampled_from(["left", "right"]))
def test_joints_kept_clear(length, count, apart, weather):
    zones = tuple((length * k / (count + 1) - apart, length * k / (count + 1) + apart) for k in range(1, count + 1))
    cuts = split_run(length, SplitRules(3000, 400, 80, weather, avoid=zones))
    if isinstance(cuts, RunTooHard):
        assert cuts.field == "stagger"
        return
    assert sum(cut.share for cut in cuts) == pytest.approx(length)
    assert all(cut.share + 80 * (cut.under_left + cut.under_right) <= 3000 + 1e-6 for cut in cuts)
    assert min(cut.share for cut in cuts) >= 400 - 1e-6
    assert all(not (low + 1e-6 < cut.start < high - 1e-6) for cut in cuts[1:] for low, high in zones)


def test_what_no_splitting_helps():
    assert isinstance(split_run(1e7, SplitRules(3000, 500, 80)), RunTooHard)
    assert split_run(9000, SplitRules(550, 500, 80)).field == "stock_length"
