"""A swing is looked at on its whole way: what strikes between its start and its end is no order."""

from __future__ import annotations

import math

import pytest
from shapely import LineString, Polygon

from samples import section
from yattle.brake import SHOP_BRAKE, FoldJob, Refusal, plain_order, try_order
from yattle.brake.simulate import DEEP, Simulator
from yattle.brake.state import Bench
from yattle.section import girth_of

HOOK = ((0.0, 0.0), (-20.0, 8.0), (-120.0, 8.0), (-120.0, 100.0), (-30.0, 100.0), (-30.0, 112.0), (-300.0, 112.0),
        (-300.0, 4.0))
"""A clamp with a bar that hangs out over its nose: a flange of some 105 mm passes under it, but not past its end."""
BRAKE = SHOP_BRAKE.but(name="hooked", clamp=HOOK)


def folded(flange, turn=135.0, other=None):
    return FoldJob(profile=section((flange, other or flange), (turn,), hem_b=None), length=1000.0, brake=BRAKE)


def at(length, turn):
    """A straight flange turned up by so many degrees."""
    way = math.radians(turn)
    return LineString([(0, 0), (length * math.cos(way), length * math.sin(way))])


def deep(length, turn):
    """Whether the flange lies inside the clamp, made smaller as contact is no strike."""
    return at(length, turn).intersects(Polygon(HOOK).buffer(-DEEP, join_style="mitre"))


def test_the_sample_strikes_only_on_the_way():
    assert not deep(106.0, 0) and not deep(106.0, 135) and any(deep(106.0, turn) for turn in range(100, 112))


def test_what_strikes_only_on_the_way_has_no_order():
    found = plain_order(folded(106.0))
    assert isinstance(found, Refusal) and {reason.against for reason in found.reasons} == {"clamp"}
    assert not isinstance(plain_order(folded(80.0)), Refusal), "a shorter flange passes under the bar's end"


def test_somebody_s_own_order_says_at_which_angle():
    tried = try_order(folded(106.0), (("f1", "fold"),)).steps[0]
    assert tried.limit is not None and tried.limit.against == "clamp" and 95 < tried.angle < 115


@pytest.mark.parametrize("flange", [60.0, 92.0, 99.0, 101.0, 104.0, 106.0, 112.0, 118.0, 140.0])
@pytest.mark.parametrize("turn", [60.0, 100.0, 108.0, 120.0, 135.0])
def test_a_stroke_is_free_where_no_angle_of_it_strikes(flange, turn):
    job = folded(flange, turn)
    bench = Bench(girth_of(job.profile), BRAKE)
    long = max(bench.marks[0], bench.girth.girth - bench.marks[0])
    strikes = any(deep(long, angle) for angle in [*range(0, int(turn) + 1), turn])
    fine = Simulator(bench, 1.0)
    assert fine.free(0, 0, "A") == (not strikes) and fine.free(0, 0, "B") == (not strikes)
