"""The bound for true shapes: rectangles inside them, under every plan, above bare area where shapes are wide."""

from __future__ import annotations

import json
import math
import random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import Polygon
from shapely.affinity import rotate

from yattle.coil import NestJob, nest
from yattle.coil.bound import area_bound, bound_of
from yattle.coil.check import faults
from yattle.coil.inner import inner_part
from yattle.coil.job import NestRules, Part, Stock
from yattle.coil.solve import first_answer

COIL = Stock(id="c", kind="coil", width=1000.0, metal="m")


def shape(draw, name, tall):
    wide, high = draw.uniform(300, 900), draw.uniform(*tall)
    outline = draw.choice([((0.0, 0.0), (wide, 0.0), (0.95 * wide, high), (0.05 * wide, high)),
                           ((0.0, 0.0), (wide, 0.0), (wide, high), (0.0, 0.9 * high)), ((0.0, 0.0), (wide, 0.0), (0.0, high)),
                           ((0.0, 0.0), (wide, 0.0), (wide, 0.4 * high), (0.4 * wide, 0.4 * high), (0.4 * wide, high), (0.0, high))])
    return Part(id=name, outline=outline, qty=draw.randint(1, 3), metal="m", turns=draw.choice(((0.0, 180.0), (0.0, 90.0), "any", (15.0,))))


@given(st.integers(0, 10**6), st.floats(0, 360))
@settings(max_examples=20)
def test_the_inner_rectangle_lies_inside_however_it_is_turned(seed, turn):
    part = shape(random.Random(seed), "P", (100, 900))
    inner = inner_part(part)
    if inner is None:
        return
    angles = (turn,) if part.turns == "any" else part.turns
    long, high = inner.outline[2]
    for angle in angles:
        turned = rotate(Polygon(part.outline), angle, origin=(0, 0))
        upright = (long, high) if angle % 180 == 0 or long == high else (high, long)
        hull = turned.buffer(1e-3)
        x0, y0, x1, y1 = turned.bounds
        places = [(x0 + (x1 - x0 - upright[0]) * i / 60, y0 + (y1 - y0 - upright[1]) * k / 60) for i in range(61) for k in range(61)]
        centre = turned.representative_point() if long != high else None
        found = any(hull.covers(Polygon([(x, y), (x + upright[0], y), (x + upright[0], y + upright[1]), (x, y + upright[1])]))
                    for x, y in places) or _covered_by_circle(turned, long, high)
        assert found, (angle, upright, centre)


def _covered_by_circle(turned, long, high):
    import shapely

    radius = shapely.maximum_inscribed_circle(turned, tolerance=0.01).length
    return math.hypot(long, high) / 2 <= radius + 0.05


@given(st.integers(0, 10**6))
@settings(max_examples=5)
def test_no_plan_is_under_the_bound(seed):
    draw = random.Random(seed)
    parts = tuple(shape(draw, f"P{n}", (100, 900)) for n in range(4))
    question = NestJob(stock=(COIL,), parts=parts, rules=NestRules(cutting="snips", seconds=1.0))
    for answer in (first_answer(question), nest(question)):
        assert faults(question, json.loads(json.dumps(answer.answer()))) == []
        assert bound_of(question, answer, 0.0).value <= answer.objective + 1e-9


@pytest.mark.parametrize("seed", range(3))
def test_wide_shapes_are_bounded_nearly_to_what_is_found(seed):
    """None of them can lie beside another: bare area knows nothing of that."""
    draw = random.Random(seed)
    parts = tuple(shape(draw, f"P{n}", (560, 700)).but(
        turns=(0.0, 180.0), outline=((0.0, 0.0), (600.0 + 50 * n, 0.0), (580.0 + 50 * n, 650.0), (20.0, 650.0))) for n in range(4))
    question = NestJob(stock=(COIL,), parts=parts, rules=NestRules(cutting="snips", seconds=1.5))
    answer = nest(question)
    area, _ = area_bound(question, [part for part in question.parts for _ in range(part.qty)])
    assert answer.bound.proof == "dual" and answer.bound.value > 1.3 * area
    assert answer.over_bound < 0.08
