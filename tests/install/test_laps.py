"""The order of fitting: nothing before what it laps over, as few stages as can be, rings found and told."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from yattle.install import Item, Lap, order_of

NAMES = [f"i{n}" for n in range(12)]
ITEMS = tuple(Item(name, name, "x") for name in NAMES)
LAPS = st.lists(st.tuples(st.integers(0, 11), st.integers(0, 11)), max_size=30)


@given(LAPS)
def test_nothing_goes_on_before_what_it_laps_over(pairs):
    laps = tuple(Lap(NAMES[max(a, b)], NAMES[min(a, b)], "") for a, b in pairs if a != b)  # no ring
    order = order_of(ITEMS, laps)
    assert not order.troubles and sorted(name for stage in order.stages for name in stage) == sorted(NAMES)
    for lap in laps:
        assert order.stage_of(lap.over) > order.stage_of(lap.under)
    for n, stage in enumerate(order.stages[1:], 1):  # as few stages as can be: each waits for one of the stage before
        for name in stage:
            assert any(lap.over == name and lap.under in order.stages[n - 1] for lap in laps)


@given(LAPS)
def test_rings_are_found_and_the_rest_is_still_in_order(pairs):
    laps = tuple(dict.fromkeys(Lap(NAMES[a], NAMES[b], "") for a, b in pairs if a != b))
    order = order_of(ITEMS, laps)
    assert sorted(name for stage in order.stages for name in stage) == sorted(NAMES)
    left_out = [lap for lap in laps if order.stage_of(lap.over) <= order.stage_of(lap.under)]
    assert len(left_out) <= len(order.troubles)
    for trouble in order.troubles:
        for lap, after in zip(trouble.laps, (*trouble.laps[1:], trouble.laps[0]), strict=True):
            assert lap in laps and lap.under == after.over  # a ring indeed


def test_what_somebody_said_gives_way_to_the_water():
    items = tuple(Item(name, name, "x") for name in ("eave", "panels", "ridge"))
    order = order_of(items, (Lap("panels", "eave", "they end over it"), Lap("ridge", "panels", "it covers them"),
                             Lap("eave", "ridge", "said by hand", True)))
    assert order.stages == (("eave",), ("panels",), ("ridge",)) and len(order.troubles) == 1
    assert "said by hand" in order.troubles[0].says() and set(order.troubles[0].items) == {"eave", "panels", "ridge"}


def test_laps_of_what_is_not_there_are_passed_over():
    assert order_of(ITEMS[:1], (Lap("i0", "gone", ""), Lap("i0", "i0", ""))).stages == (("i0",),)
