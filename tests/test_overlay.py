"""Flat shapes cut with each other where the library alone gives up."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
import shapely
from shapely.affinity import translate

from yattle import overlay
from yattle.derive import derive

SHARP = shapely.Polygon([  # what a wing's overhang leaves of a face: two of its corners nearly lie on its long side
    (246.59277, -4732.24423), (213.05007859437504, -4757.520460994098), (213.0500785780137, -4757.520460972386),
    (734.8207885780137, -1044.9290009723861), (760.0970194500395, -1078.4716922852506), (768.36348, -1019.65277)])


def test_a_sharp_corner_on_its_own_border_is_no_trouble():
    """Moved by 42 mm: the two together are as large as both less what they share."""
    moved = translate(SHARP, 25.28, -33.54)
    both, shared = overlay.union(SHARP, moved), overlay.intersection(SHARP, moved)
    assert both.area == pytest.approx(SHARP.area + moved.area - shared.area, rel=1e-6)
    assert overlay.difference(SHARP, moved).area == pytest.approx(SHARP.area - shared.area, rel=1e-6)


def test_it_is_as_exact_as_the_coordinates_where_nothing_tangles():
    left, right = shapely.box(0, 0, 1 / 3, 1), shapely.box(1 / 7, 0, 1, 1)
    assert overlay.intersection(left, right).bounds == (1 / 7, 0.0, 1 / 3, 1.0)
    assert overlay.union_all([left, right]).area == pytest.approx(1.0)


@pytest.mark.parametrize("seed", range(5))
def test_grown_shapes_reach_as_far_as_round_ones_at_every_corner(seed):
    """Sharp corners too, which are cut off; and a square's corners stay corners."""
    corners = np.random.default_rng(seed).uniform(0, 100, (200, 3, 2))
    shapes = shapely.polygons(corners)
    assert shapely.covers(overlay.grown(shapes, 5.0), shapely.buffer(shapes, 4.99)).all()
    assert overlay.grown(shapely.box(0, 0, 10, 20), 5.0).equals(shapely.box(-5, -5, 15, 25))


def test_a_roof_under_a_wing_s_overhang_with_such_a_corner_is_worked_out(monkeypatch):
    monkeypatch.syspath_prepend(str(Path(__file__).parents[1] / "tools"))
    import random_compounds

    assert derive(random_compounds.of_compounds(38)).patterns


def test_rings_become_shapes_all_at_once_and_in_their_order():
    rings = [np.array([[0.0, 0.0], [4.0, 0.0], [4.0, n]]) for n in (1.0, 3.0)] + [np.array(
        [[0.0, 0.0], [2.0, 0.0], [2.0, 2.0], [0.0, 2.0]])]
    assert [shape.area for shape in overlay.polygons(rings)] == [2.0, 6.0, 4.0]
    assert overlay.polygons([]).shape == (0,)


@pytest.mark.parametrize("many", [False, True])
def test_a_shape_whose_corner_was_rounded_across_its_side_is_cleaned(many):
    """The part of a roof beside a gable, moved by 42 mm down the slope: its thread toward the corner tangles."""
    part = shapely.Polygon([(-500, -3000.4), (-500, -4300), (-842, -4300), (-842, -3300.4), (2458, -0.4), (2458, -42.4),
                            (2500, -0.4)])
    moved = shapely.Polygon([(-500, -3042.4), (-500, -4342), (-842, -4342), (-842, -3342.4), (2458, -42.4), (2458, -84.4),
                             (2500, -42.4)])
    assert part.is_valid and not moved.is_valid
    both = overlay.union(np.array([part]), np.array([moved]))[0] if many else overlay.union(part, moved)
    assert both.is_valid and both.area == pytest.approx(part.area + moved.buffer(0).area - part.intersection(
        moved.buffer(0)).area, rel=1e-6)
    assert overlay.union_all(np.array([part, moved])).area == pytest.approx(both.area, rel=1e-6)
