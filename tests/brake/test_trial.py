"""Somebody's own order, tried stroke by stroke."""

from __future__ import annotations

import itertools

import pytest

from samples import section
from yattle.brake import LIBRARY, SHOP_BRAKE, FoldJob, FoldOrder, natural_order, plain_order, try_order
from yattle.section import Hem

EAVE = FoldJob(profile=section((85.0, 95.0, 18.0), (-58.0, 42.0)), length=2400.0, brake=SHOP_BRAKE)


def strokes(order):
    return tuple((step.fold, step.action) for step in order.steps)


def test_the_best_order_tried_is_free_and_costs_the_same():
    best = plain_order(EAVE)
    trial = try_order(EAVE, strokes(best))
    assert trial.ok and trial.cost == best.cost
    assert [t.step.mark_from_out_edge for t in trial.steps] == pytest.approx([s.mark_from_out_edge for s in best.steps])


def test_no_order_tried_is_cheaper_than_the_best():
    best = plain_order(EAVE).cost
    for wanted in itertools.permutations(natural_order(EAVE)):
        trial = try_order(EAVE, wanted)
        assert trial.cost >= best or not trial.ok
        flat_first = wanted.index(("hB", "flatten")) < wanted.index(("hB", "fold"))
        assert not (trial.ok and flat_first), "a hem cannot be flattened before it is folded"


def test_hems_first_by_nature():
    assert natural_order(EAVE) == (("hB", "fold"), ("hB", "flatten"), ("f1", "fold"), ("f2", "fold"))
    both = EAVE.but(profile=EAVE.profile.but(hem_a=Hem(kind="closed", length=12.0, toward="paint")))
    assert [fold for fold, _ in natural_order(both)] == ["hA", "hA", "hB", "hB", "f1", "f2"]


def test_a_strike_is_told_with_its_angle_and_the_rest_goes_on():
    zed = EAVE.but(profile=section((20.0, 15.0, 20.0), (90.0, -90.0), hem_b=None))
    trial = try_order(zed, (("f1", "fold"), ("f2", "fold")))
    assert trial.steps[0].limit is None and not trial.ok
    struck = trial.steps[1]
    assert struck.limit.against in ("leaf", "bed") and 0 <= struck.angle <= 90
    assert try_order(zed.but(brake=LIBRARY[1]), strokes(plain_order(zed.but(brake=LIBRARY[1])))).ok


def test_an_unfinished_order_can_be_tried():
    trial = try_order(EAVE, (("f1", "fold"),))
    assert trial.ok and trial.cost == 0 and len(trial.steps) == 1
    assert try_order(EAVE, ()).steps == ()


def test_a_section_that_is_no_section():
    broken = EAVE.but(profile=section((40.0, 1.0, 18.0)))
    assert natural_order(broken) == () and try_order(broken, ()).steps == ()


@pytest.mark.parametrize("brake", LIBRARY, ids=lambda b: b.name)
def test_every_best_order_can_be_tried(brake):
    for profile in (section(hem_b=None), section((50.0, 60.0, 50.0), (90.0, 90.0), hem_b=None)):
        job = FoldJob(profile=profile, length=900.0, brake=brake)
        best = plain_order(job)
        if isinstance(best, FoldOrder):
            assert try_order(job, strokes(best)).cost == best.cost
