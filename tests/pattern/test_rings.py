"""Plane rings: how they face and how large they are, their boxes, a vector square to two."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from yattle.pattern.rings import area_vector, area_vectors, boxes, cross

NUMBERS = st.floats(-5000.0, 5000.0, allow_nan=False)
PLACES = st.lists(st.tuples(NUMBERS, NUMBERS, NUMBERS), min_size=3, max_size=7)


def test_a_square_on_a_slope():
    ring = np.array([[0.0, 0.0, 0.0], [3.0, 0.0, 4.0], [3.0, 2.0, 4.0], [0.0, 2.0, 0.0]])
    assert area_vector(ring) == pytest.approx([-8.0, 0.0, 6.0])  # 5 by 2, turned up and back


@given(st.lists(PLACES, max_size=5))
def test_many_rings_at_once_are_as_each_by_itself(rings):
    each = [np.array(ring) for ring in rings]
    together, (lows, highs) = area_vectors(each), boxes(each)
    assert together.shape == lows.shape == highs.shape == (len(rings), 3)
    for ring, square, low, high in zip(each, together, lows, highs, strict=True):
        assert square == pytest.approx(area_vector(ring), abs=1e-5)
        assert (low == ring.min(axis=0)).all() and (high == ring.max(axis=0)).all()


@given(st.tuples(NUMBERS, NUMBERS, NUMBERS), st.tuples(NUMBERS, NUMBERS, NUMBERS))
def test_a_vector_square_to_two(one, other):
    a, b = np.array(one), np.array(other)
    assert cross(a, b) == pytest.approx(np.cross(a, b), abs=1e-6)
