"""Parts pushed closer together: by hand where the sum can be done, apart and in the strip whatever they are."""

from __future__ import annotations

import math
import random
import time

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from yattle.coil import NestJob, NestRules, Part, Stock, faults, nest, packer
from yattle.coil.compaction import _convex, closer
from yattle.coil.engine import PackingStrip, _PackingSearch, far, packed
from yattle.coil.sizes import turned

COIL = Stock(id="coil 1", kind="coil", width=500.0, metal="m", cost_per_m=10.0)


def part(name, *ring, holes=(), **more) -> Part:
    return Part(id=name, outline=ring, holes=holes, metal="m", **more)


def rect(name, long, wide, **more) -> Part:
    return part(name, (0.0, 0.0), (long, 0.0), (long, wide), (0.0, wide), **more)


def shape(laid):
    one, turn, (x, y) = laid
    rings = [[(a + x, b + y) for a, b in turned(ring, turn)] for ring in (one.outline, *one.holes)]
    return shapely.Polygon(rings[0], rings[1:])


def pushed(laid, high=500.0, gap=0.0):
    return closer(laid, high, gap, time.perf_counter() + 20)


def nearest(laid) -> float:
    """The least distance between two of them; under 0 by the area they share."""
    shapes = [shape(one) for one in laid]
    found = [np.inf]
    for n, one in enumerate(shapes):
        for other in shapes[n + 1:]:
            shared = one.intersection(other).area
            found.append(-shared if shared > 1e-3 else one.distance(other))
    return float(min(found))


def test_squares_in_a_row_close_up():
    """Three of 100 with 40 between them: 380 become 300."""
    laid = [(rect("A", 100.0, 400.0), 0.0, (140.0 * n, 10.0)) for n in range(3)]
    assert far(laid) == 380.0 and far(pushed(laid)) == pytest.approx(300.0, abs=0.01)
    assert far(pushed(laid, gap=5.0)) == pytest.approx(310.0, abs=0.01)


def test_one_that_is_in_the_way_is_moved_aside():
    """A tall one right of two that lie above each other with nothing between: it cannot pass, they come to the start."""
    laid = [(rect("A", 200.0, 240.0), 0.0, (50.0, 0.0)), (rect("B", 150.0, 240.0), 0.0, (70.0, 245.0)),
            (rect("C", 100.0, 300.0), 0.0, (260.0, 100.0))]
    assert far(pushed(laid)) == pytest.approx(300.0, abs=0.01)


def test_leaning_ones_lean_on_each_other():
    """Three that lean by 100 and are 100 wide: 200 for the first, 100 more for each other, where rectangles take 200. The
    last pushed 100 mm up wins 100 · 100 / 400 = 25."""
    leaning = part("L", (0.0, 0.0), (100.0, 0.0), (200.0, 400.0), (100.0, 400.0))
    laid = [(leaning, 0.0, (210.0 * n, 0.0)) for n in range(3)]
    assert far(laid) == 620.0 and far(pushed(laid, high=400.0)) == pytest.approx(400.0, abs=0.02)
    assert far(pushed(laid, high=500.0)) == pytest.approx(375.0, abs=0.02)


def test_wedges_back_to_back_are_as_short_as_one():
    wedge = part("W", (0.0, 0.0), (300.0, 0.0), (0.0, 480.0))
    assert far(pushed([(wedge, 0.0, (0.0, 0.0)), (wedge, 180.0, (310.0, 490.0))])) == pytest.approx(300.0, abs=0.01)


def test_a_part_goes_into_the_notch_of_another():
    """A U lying open to the right takes a tongue of 80 into its notch of 100, up to its back of 50."""
    notched = part("U", (0.0, 0.0), (300.0, 0.0), (300.0, 100.0), (50.0, 100.0), (50.0, 200.0), (300.0, 200.0), (300.0, 300.0),
                   (0.0, 300.0))
    laid = [(notched, 0.0, (0.0, 0.0)), (rect("T", 260.0, 80.0), 0.0, (110.0, 110.0))]
    assert far(pushed(laid)) == pytest.approx(310.0, abs=0.01)
    assert far(pushed(laid, gap=4.0)) == pytest.approx(314.0, abs=0.01)
    tight = [laid[0], (rect("T", 260.0, 120.0), 0.0, (310.0, 90.0))]
    assert far(pushed(tight)) == pytest.approx(560.0, abs=0.01)  # 120 do not go in


def test_what_lies_in_a_hole_stays_in_it():
    ring = rect("R", 300.0, 300.0, holes=(((40.0, 40.0), (260.0, 40.0), (260.0, 260.0), (40.0, 260.0)),))
    laid = [(ring, 0.0, (60.0, 20.0)), (rect("S", 90.0, 90.0), 0.0, (160.0, 120.0)), (rect("T", 90.0, 90.0), 0.0, (400.0, 0.0))]
    made = pushed(laid, gap=2.0)
    assert shapely.Polygon(shape(made[0]).exterior).contains(shape(made[1]))
    assert nearest(made) >= 2.0 - 0.005 and far(made) == pytest.approx(392.0, abs=0.01)


def test_corner_to_corner_counts_as_the_crow_flies():
    """Two diamonds beside each other, 4 mm from point to point: nothing to win where 4 mm are asked, 4 where none are."""
    diamond = part("D", (-100.0, 0.0), (0.0, -100.0), (100.0, 0.0), (0.0, 100.0))
    laid = [(diamond, 0.0, (100.0, 100.0)), (diamond, 0.0, (304.0, 100.0))]
    held = pushed(laid, high=200.0, gap=4.0)
    assert far(held) == pytest.approx(404.0, abs=0.01) and nearest(held) >= 4.0 - 0.005
    assert far(pushed(laid, high=200.0)) == pytest.approx(400.0, abs=0.01)


def test_where_some_are_nearer_than_the_gap_nothing_is_made_worse():
    laid = [(rect("A", 100.0, 100.0), 0.0, (0.0, 0.0)), (rect("B", 100.0, 100.0), 0.0, (50.0, 0.0))]
    made = pushed(laid, high=100.0)
    assert made == laid or nearest(made) >= -1e-3


def _star(draw, n):
    """A part with notches, some with a hole."""
    count = draw.choice([4, 5, 7, 9])
    reach = [draw.uniform(30, 80) if k % 2 else draw.uniform(70, 110) for k in range(count)]
    ring = tuple((r * math.cos(2 * math.pi * k / count), r * math.sin(2 * math.pi * k / count)) for k, r in enumerate(reach))
    hole = ((-8.0, -8.0), (8.0, -8.0), (8.0, 8.0), (-8.0, 8.0))
    whole = shapely.Polygon(ring)
    return part(f"S{n}", *ring, holes=(hole,) if whole.contains(shapely.Polygon(hole)) and n % 2 else ())


@settings(max_examples=20, deadline=None)
@given(st.integers(0, 10_000), st.integers(2, 14), st.sampled_from([0.0, 3.0]))
def test_parts_of_any_shape_stay_apart_and_in_the_strip(seed, count, gap):
    draw = random.Random(seed)
    laid = [(_star(draw, n), draw.choice([0.0, 180.0, 33.0]), (120.0 + 230.0 * (n // 2), 120.0 + 230.0 * (n % 2))) for n in range(count)]
    made = pushed(laid, high=480.0, gap=gap)
    assert [(one.id, turn) for one, turn, _ in made] == [(one.id, turn) for one, turn, _ in laid]
    assert nearest(made) >= gap - 0.005 and far(made) <= far(laid) + 1e-6
    bounds = np.array([shape(one).bounds for one in made])
    assert bounds[:, :2].min() >= -0.005 and bounds[:, 3].max() <= 480.005


@given(st.integers(0, 10_000), st.sampled_from([0.0, 90.0, 217.0]))
def test_convex_shapes_of_a_part_are_the_whole_of_it(seed, turn):
    one = _star(random.Random(seed), seed)
    pieces = [shapely.Polygon(ring) for ring in _convex(one.outline, one.holes, turn)]
    whole = shape((one, turn, (0.0, 0.0)))
    assert all(piece.convex_hull.area == pytest.approx(piece.area, rel=1e-6) and piece.exterior.is_ccw for piece in pieces)
    assert sum(piece.area for piece in pieces) == pytest.approx(whole.area, rel=1e-6)
    assert shapely.union_all(pieces).symmetric_difference(whole).area < 1e-3


# -- the engine -------------------------------------------------------------------------------------------------------


def shapes(count) -> list[Part]:
    draw = random.Random(5)
    made = []
    for n in range(count):
        turns = sorted(draw.uniform(0, 2 * math.pi) for _ in range(5))
        made.append(part(f"S{n}", *((round(90 * math.cos(t), 2), round(60 * math.sin(t), 2)) for t in turns)))
    return [one for one in made if abs(shapely.Polygon(one.outline).area) > 500]


def test_it_ends_at_its_moment_with_what_it_has():
    parts = shapes(60)
    began = time.perf_counter()
    laid = packed(PackingStrip(parts, 500.0, 1.0, 1, began + 2.0))
    assert time.perf_counter() - began < 12.0  # other work may run beside
    assert sorted(one.id for one, _, _ in laid) == sorted(one.id for one in parts) and nearest(laid) >= 1.0 - 0.01


def test_whoever_asks_stops_it_and_sees_its_plans_before():
    parts, told = shapes(50), []
    began = time.perf_counter()
    laid = packed(PackingStrip(parts, 500.0, 0.0, 1, began + 60.0, lambda: len(told) >= 3, told.append))
    assert time.perf_counter() - began < 45.0 and len(laid) == len(parts)
    assert far(laid) <= min(far(one) for one in told) + 1e-6 and all(nearest(one) > -1e-3 for one in told)


def test_a_search_that_is_stopped_takes_no_more_of_the_processor():
    search = _PackingSearch(PackingStrip(shapes(30), 500.0, 0.0, 1, time.perf_counter() + 60.0), 0, 60, 1)
    search.start()
    began = time.perf_counter()
    while not search.best and time.perf_counter() < began + 20:
        time.sleep(0.05)
    assert search.best and search.is_alive() and search.code is None
    search.stop()
    assert not search.is_alive() and search.code not in (None, 0) and time.perf_counter() < began + 25


def test_an_engine_that_is_not_there_says_so(monkeypatch, tmp_path):
    """In place of the engine a program that ends at once with nothing."""
    broken = tmp_path / "broken.py"
    broken.write_text("import sys; sys.exit(1)\n")
    monkeypatch.setattr(packer, "__file__", str(broken))
    with pytest.raises(RuntimeError, match="packing engine"):
        packed(PackingStrip(shapes(20), 500.0, 0.0, 1, time.perf_counter() + 3.0))


def test_what_only_just_fits_is_placed_beside_others():
    """A part as high as the strip to the last hundredth, with small ones: 300 and their own two rows of 90."""
    job = NestJob(stock=(COIL,), parts=(rect("tall", 300.0, 499.995), rect("s", 90.0, 240.0, qty=4)),
                  rules=NestRules(cutting="snips", seconds=2.0))
    answer = nest(job)
    assert faults(job, answer.answer()) == [] and answer.ok and answer.used[0].length == pytest.approx(480.0, abs=0.1)


def test_better_plans_by_true_shapes_are_told_while_it_works_and_it_can_be_stopped():
    parts, told = shapes(40), []
    job = NestJob(stock=(COIL,), parts=tuple(parts), rules=NestRules(cutting="snips", seconds=60.0))
    answer = nest(job, lambda: len(told) >= 3, told.append)
    assert answer.stopped == "asked" and answer.seconds < 30.0
    costs = [plan.objective for plan in told]
    assert costs == sorted(costs, reverse=True) and answer.objective <= costs[-1] + 1e-9
    assert all(faults(job, plan.answer()) == [] for plan in (*told, answer))
