"""Fold orders against trying everything, and the machine's plain limits."""

from __future__ import annotations

import itertools
import random

import pytest
from pydantic import ValidationError

from samples import section
from yattle.brake import SHOP_BRAKE, Brake, FoldJob, FoldOrder, Refusal, best_order
from yattle.brake.machine import gauges
from yattle.brake.order import plain_order
from yattle.brake.simulate import FINE, Simulator
from yattle.brake.state import POSITIONS, Bench, handling
from yattle.errors import InputError
from yattle.section import Hem, girth_of


def order_of(profile, brake=SHOP_BRAKE, length=2400.0):
    return best_order(FoldJob(profile=profile, length=length, brake=brake))


def cheapest_by_trying_everything(profile, brake=SHOP_BRAKE):
    """Every sequence of strokes in every position: least handling, gauge changes and heavy swings, or None."""
    bench = Bench(girth_of(profile), brake)
    girth = bench.girth.girth

    def from_out(bit, position):
        mark = bench.marks[bench.actions[bit].index]
        return mark if position[1] == "A" else girth - mark

    def price(last, before, bit, position):
        moved = last is not None and abs(from_out(last, before) - from_out(bit, position)) > 1e-6
        return (handling(before, position)[0], int(moved), int(from_out(bit, position) > girth / 2))

    fine = Simulator(bench, FINE)
    best = None
    for sequence in itertools.permutations(range(len(bench.actions))):
        reached, done, last = {None: (0, 0, 0)}, 0, None
        for bit in sequence:
            action = bench.actions[bit]
            after = {}
            if action.needs & done == action.needs:
                for position in POSITIONS:
                    if (position[0] == action.face and bench.limit(done, action, position[1]) is None
                            and fine.free(done, bit, position[1])):
                        after[position] = min(
                            tuple(map(sum, zip(paid, price(last, before, bit, position), strict=True)))
                            for before, paid in reached.items())
            reached, done, last = after, done | 1 << bit, bit
            if not reached:
                break
        else:
            cost = min(reached.values())
            best = cost if best is None else min(best, cost)
    return best


def test_the_eave_drip_takes_one_roll():
    order = order_of(section((85.0, 95.0, 18.0), (-58.0, 42.0)))
    assert order.cost == 1 and order.proved_best and len(order.steps) == 4
    hem = [step for step in order.steps if step.fold == "hB"]
    assert [step.action for step in hem] == ["fold", "flatten"]
    assert hem[0].turn == -135 and hem[0].set_angle == 135 and hem[1].set_angle is None
    assert order.steps[0].handling == "start" and [step.n for step in order.steps] == [1, 2, 3, 4]
    girth = girth_of(section((85.0, 95.0, 18.0), (-58.0, 42.0)))
    eave = next(step for step in order.steps if step.fold == "f1")
    assert eave.set_angle == pytest.approx(58 * 1.03)
    assert eave.mark_from_out_edge == pytest.approx(
        girth.bends[0].mark if eave.out == "A" else girth.girth - girth.bends[0].mark)


@pytest.mark.parametrize("seed", range(25))
def test_small_cases_against_trying_everything(seed):
    choose = random.Random(seed)
    count = choose.randint(1, 4)
    hem = Hem(kind="closed", length=12.0, toward=choose.choice(["paint", "back"])) if choose.random() < 0.5 else None
    profile = section([choose.choice([9.0, 14.0, 25.0, 60.0]) for _ in range(count + 1)],
                      [choose.choice([-90.0, 90.0, 45.0, -120.0]) for _ in range(count)], hem_b=hem)
    brake = SHOP_BRAKE.but(throat=float(choose.choice([60, 450])), min_flange=float(choose.choice([8, 12])))
    order, cheapest = order_of(profile, brake), cheapest_by_trying_everything(profile, brake)
    if cheapest is None:
        assert isinstance(order, Refusal) and order.reasons
    else:
        assert isinstance(order, FoldOrder) and order.proved_best
        marks = [(step.mark_from_out_edge, girth_of(profile).girth) for step in order.steps]
        moves = sum(abs(a[0] - b[0]) > 1e-6 for a, b in itertools.pairwise(marks))
        assert (order.cost, moves, sum(mark > girth / 2 for mark, girth in marks)) == cheapest


def test_a_zed_shares_its_mark():
    """Both folds of a zed stand at one mark from the edge that is out: the roll leaves the gauge where it is."""
    order = order_of(section((40.0, 150.0, 40.0), (90.0, -90.0), hem_b=None))
    first, second = order.steps
    assert order.cost == 1 and first.mark_from_out_edge == pytest.approx(second.mark_from_out_edge)
    assert first.out != second.out and second.handling == "roll"


def test_handling_costs_are_the_contract_s():
    assert handling(None, ("paint", "A")) == (0, "start")
    assert handling(("paint", "A"), ("paint", "A")) == (0, "stay")
    assert handling(("paint", "A"), ("back", "B")) == (1, "roll")
    assert handling(("paint", "A"), ("paint", "B")) == (2, "spin")
    assert handling(("paint", "A"), ("back", "A")) == (3, "roll+spin")


@pytest.mark.parametrize(("change", "brake", "against"), [
    ({}, {"max_thickness": 0.5}, "thickness"), ({}, {"max_length": 2000.0}, "length"), ({}, {"can_flatten": False}, "flatten"),
    ({"turns": (-140.0, 42.0)}, {}, "turn"), ({"legs": (6.0, 95.0, 18.0)}, {}, "flange"),
    ({}, {"throat": 15.0}, "throat"), ({}, {"min_hold": 180.0}, "hold")])
def test_each_limit_is_named(change, brake, against):
    refused = order_of(section(**change), SHOP_BRAKE.but(**brake))
    assert isinstance(refused, Refusal)
    assert against in {reason.against for reason in refused.reasons}
    answer = refused.answer()
    assert not answer["ok"] and all(reason["says"] for reason in answer["reasons"])


def test_the_thickest_sheet_goes_by_the_metal():
    """A stiff metal is refused where a soft one of the same gauge is folded; the reason names the metal."""
    profile = section((40.0, 40.0), (90.0,), hem_b=None)

    def answer(name, thickness, brake=SHOP_BRAKE):
        spec = profile.metal.but(name=name, thickness=thickness)
        return order_of(profile.but(metal=spec), brake)
    assert isinstance(answer("aluminium 1.20", 1.2), FoldOrder) and isinstance(answer("copper 1.00", 1.0), FoldOrder)
    refused = answer("stainless steel 0.80", 0.8)
    assert "0.6 mm of stainless steel 0.80" in refused.reasons[0].says
    assert isinstance(answer("copper 1.20", 1.2), Refusal)
    only = SHOP_BRAKE.but(by_metal=gauges(steel=0.5, steel_soft=0.9))
    assert only.thickest("Steel soft 0.7") == 0.9 and only.thickest("steel 0.7") == 0.5 and only.thickest("zinc") == 1.0
    with pytest.raises(ValidationError, match="each metal once"):
        Brake.model_validate({**SHOP_BRAKE.model_dump(), "by_metal": ({"metal": "Zinc", "thickness": 1},) * 2})


def test_a_turn_of_nothing_has_no_step():
    order = order_of(section((40.0, 40.0, 40.0), (0.0, 90.0), hem_b=None))
    assert [step.fold for step in order.steps] == ["f2"]


def test_no_folds_is_an_empty_order():
    order = order_of(section((40.0,), (), hem_b=None))
    assert order.steps == () and order.cost == 0 and order.answer()["ok"]


def test_forty_folds_give_an_order_without_a_proof():
    profile = section([30.0] * 41, [4.0, -4.0] * 20, hem_b=None)
    order = plain_order(FoldJob(profile=profile, length=1000.0, brake=SHOP_BRAKE.but(throat=5000.0)), most_states=20)
    assert isinstance(order, FoldOrder) and len(order.steps) == 40
    assert order.bound <= order.cost and order.proved_best == (order.bound == order.cost)


def test_polygons_that_cross_are_refused():
    with pytest.raises(InputError, match="clamp"):
        SHOP_BRAKE.but(clamp=((0.0, 0.0), (10.0, 10.0), (10.0, 0.0), (0.0, 10.0)))
