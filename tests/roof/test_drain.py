"""Where rain goes, against areas worked by hand and against drops followed one by one."""

from __future__ import annotations

import math
import random
from itertools import pairwise

import pytest
import shapely
from hypothesis import given, settings

from plans import blocks, flat, gable, hip, plan, roof, shed
from yattle.roof import build
from yattle.roof.drain import drainage, drop, fall_line


def kinds_reached(made, path):
    return [made.edge(name).kind for name in path.edges]


def test_a_gable_drains_to_its_eaves():
    made = roof(gable("main"))
    water = drainage(made)
    assert water.direct == {"E1": pytest.approx(14.6 * 4.4), "E2": pytest.approx(14.6 * 4.4)}
    assert water.flow("E1", 100.0) == pytest.approx(14.6 * 4.4 * 100 / 3600)
    path = drop(made, (1000.0, 1000.0))
    assert kinds_reached(made, path) == ["eave"] and path.end == "off" and path.places[-1][1] == pytest.approx(4400)


def test_a_valley_takes_from_both_sides():
    """Main and wing of one pitch: what lies above the valley up to the ridge, and a triangle of the wing."""
    made = roof(gable("main"), gable("wing", 2000.0, -6000.0, 90.0, 10000.0, 3000.0))
    water, valley = drainage(made), next(e for e in made.edges if e.kind == "valley")
    reach = 1900.0  # half the wing's span with its overhang: the valley runs at 45° in plan
    from_main, from_wing = reach * (4400 + 4400 - reach) / 2, reach * reach / 2
    assert water.direct[valley.id] == pytest.approx((from_main + from_wing) / 1e6, rel=1e-4)
    total = sum(f.shape.area for f in made.facets) / 1e6
    off = [e for e in made.edges if e.kind in ("eave", "valley")]
    assert sum(water.direct[e.id] for e in off if e.id in water.direct) == pytest.approx(total, rel=1e-4)
    assert kinds_reached(made, drop(made, (500.0, -3500.0)))[:1] == ["valley"]


def test_a_dormers_water_ends_at_the_main_eave():
    made = roof(gable("main"), gable("dormer", -3000.0, -2300.0, 90.0, 3000.0, 1800.0, 5400.0, 40.0, eave_overhang=200.0,
                                     rake_overhang=150.0))
    water = drainage(made)
    south = next(e for e in made.edges if e.kind == "eave" and e.a[1] < -4000)
    assert water.catchment[south.id] == pytest.approx(14.6 * 4.4, rel=0.02), "valleys and dormer eaves drip on it"
    assert kinds_reached(made, drop(made, (-3500.0, -1500.0))) == ["valley", "eave"]
    assert kinds_reached(made, drop(made, (-3500.0, -3500.0))) == ["eave", "eave"], "off the dormer, then off the roof"


def test_a_pitch_break_hands_on_its_water():
    made = roof(gable("main", eave=3000 + 2500 * math.tan(math.radians(15)), eave_overhang=0.0),
                shed("low", 0.0, -5250.0, 0.0, 14000.0, 2500.0, 3000.0, 15.0, eave_overhang=0.0, rake_overhang=300.0))
    water = drainage(made)
    low = next(e for e in made.edges if e.kind == "eave" and e.a[1] < -5000)
    assert water.direct[low.id] == pytest.approx(14.6 * 2.5) and water.catchment[low.id] == pytest.approx(14.6 * 6.5)


def test_water_against_a_wall_is_said_and_flats_keep_it():
    made = roof(gable("tall", 0.0, 6000.0, eave=9000.0), shed("s", 0.0, 800.0, 180.0, 6000.0, 2400.0, 3000.0, 10.0,
                                                              eave_overhang=0.0))
    assert drop(made, (0.0, 700.0)).end == "wall"
    assert drop(roof(flat("f")), (0.0, 0.0)).end == "flat"
    assert drop(roof(flat("f")), (90000.0, 0.0)).places == ()


def test_a_tower_parts_the_water():
    made = roof(gable("main"), hip("tower", 1000.0, -2000.0, 30.0, 1500.0, 1500.0, 9000.0, 50.0, eave_overhang=0.0))
    path = drop(made, (1000.0, -600.0))
    assert kinds_reached(made, path)[0] == "skew-wall" and kinds_reached(made, path)[-1] == "eave"


@settings(max_examples=20, deadline=None)
@given(blocks(3))
def test_every_drop_goes_down_and_ends(made):
    house = build(plan(*made))
    rnd = random.Random(3)
    for facet in house.facets:
        x0, y0, x1, y1 = facet.shape.bounds
        at = (rnd.uniform(x0, x1), rnd.uniform(y0, y1))
        if facet.shape.contains(shapely.Point(at)):
            path = drop(house, at)
            heights = [z for *_, z in path.places]
            assert all(low <= high + 0.6 for high, low in pairwise(heights))
            assert path.end in ("off", "wall", "flat") and len(path.edges) < 60


@settings(max_examples=20, deadline=None)
@given(blocks(3))
def test_no_water_is_lost_on_the_facets(made):
    house = build(plan(*made))
    water = drainage(house)
    whole = sum(f.shape.area for f in house.facets) / 1e6
    assert sum(water.direct.values()) == pytest.approx(whole, rel=1e-3, abs=0.01)


@settings(max_examples=8, deadline=None)
@given(blocks(3))
def test_a_fall_line_ends_where_it_first_meets_the_border(made):
    """Against the line cut by the outline and its holes; from within, and from places of the border itself."""
    house, rnd = build(plan(*made)), random.Random(5)
    for facet in house.facets:
        shape, fall = facet.shape, facet.plane.fall
        low_x, low_y, high_x, high_y = shape.bounds
        inside = [at for at in ((rnd.uniform(low_x, high_x), rnd.uniform(low_y, high_y)) for _ in range(6))
                  if shape.contains(shapely.Point(at))]
        for at in (*inside, *shape.exterior.coords[:-1]):
            end = fall_line(facet, at)
            if fall is None:
                assert end is None
                continue
            far = math.hypot(high_x - low_x, high_y - low_y) + 10
            line = shapely.LineString([(at[0] + fall[0] * 0.05, at[1] + fall[1] * 0.05),
                                       (at[0] + fall[0] * far, at[1] + fall[1] * far)])
            met = shapely.get_coordinates(shape.boundary.intersection(line))
            ahead = sorted((x - at[0]) * fall[0] + (y - at[1]) * fall[1] for x, y in met)
            if at in inside:
                assert end is not None and math.dist(at, end) == pytest.approx(ahead[0], abs=1e-4)
            assert end is None or shape.boundary.distance(shapely.Point(end)) < 1e-6


@settings(max_examples=8, deadline=None)
@given(blocks(3))
def test_the_facets_at_a_place_are_all_that_lie_there(made):
    house, rnd = build(plan(*made)), random.Random(7)
    corners = [corner for facet in house.facets for corner in facet.shape.exterior.coords]
    for at in (*corners[:12], *((rnd.uniform(-9000, 9000), rnd.uniform(-9000, 9000)) for _ in range(20))):
        there = [facet.id for facet in house.facets if facet.shape.intersects(shapely.Point(at))]
        assert [facet.id for facet in house.facets_at(at)] == there
