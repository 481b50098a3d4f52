"""Laws that every roof obeys, tried on random ones: nothing is left open, nothing is there twice."""

from __future__ import annotations

import math
import random
from collections import Counter
from itertools import pairwise

import pytest
import shapely
from hypothesis import given, settings

from plans import blocks, gable, plan, shed, wild
from yattle.roof import build
from yattle.roof.at_edge import into
from yattle.roof.edges import WALLS

CREASES = ("ridge", "hip", "valley", "pitch-break")


def places(roof, count=25):
    """Random places over the roofs, away from any line by 5 mm."""
    rnd = random.Random(7)
    lines = shapely.union_all([f.shape.boundary for f in roof.facets] + [
        shapely.LinearRing(ring) for b in roof.bodies for ring in (b.walls, b.roof)] + [
        shapely.LinearRing(face) for b in roof.bodies for face in b.faces if len(face) > 2])
    for body in roof.bodies:
        x0, y0, x1, y1 = body.box
        for _ in range(count):
            point = shapely.Point(rnd.uniform(x0, x1), rnd.uniform(y0, y1))
            if shapely.Polygon(body.roof).contains(point) and lines.distance(point) > 5:
                yield (point.x, point.y), point


@settings(max_examples=20, deadline=None)
@given(blocks())
def test_the_highest_roof_is_there_and_nothing_twice(made):
    """Above every place the highest block's roof is seen; what lies under it lies under an overhang."""
    roof = build(plan(*made))
    for at, point in places(roof):
        here = sorted((f.plane.z(at) for f in roof.facets if f.shape.contains(point)), reverse=True)
        over = [b for b in roof.bodies if shapely.Polygon(b.roof).contains(point)]
        top = max(b.height(at) for b in over)
        assert here and here[0] == pytest.approx(top, abs=0.01)
        assert all(high - low > 0.01 for high, low in pairwise(here)), "two roofs in one place"
        for low in here[1:]:
            assert not any(b.stands_at(at) and b.height(at) > low + 0.01 for b in roof.bodies), "buried in a block"


@settings(max_examples=20, deadline=None)
@given(blocks())
def test_every_border_is_an_edge_and_every_edge_has_its_sides(made):
    roof = build(plan(*made))
    for facet in roof.facets:
        border = shapely.union_all([shapely.LineString([e.a[:2], e.b[:2]]) for e in roof.edges_of(facet.id)])
        missing = facet.shape.boundary.difference(border.buffer(1.0))
        assert missing.length < 5.0, f"{facet.id} has {missing.length:.1f} mm of border that is no edge"
    for edge in roof.edges:
        assert edge.length >= 1.0 and 0 <= edge.slope < 90
        assert len(edge.facets) == (2 if edge.kind in CREASES else 1) and (edge.kind in WALLS) == bool(edge.wall)
        assert (edge.fold is None) == (edge.kind in ("eave", "rake", "half-ridge"))
        middle = [(p + q) / 2 for p, q in zip(edge.a, edge.b, strict=True)]
        for name in edge.facets:
            facet = roof.facet(name)
            assert facet.plane.z(middle[:2]) == pytest.approx(middle[2], abs=0.6)
            assert facet.shape.distance(shapely.Point(middle[:2])) < 0.05


def kinds(roof):
    """What the edges are, with lengths and folds rounded: the same however the roof is turned."""
    return Counter((e.kind, round(e.length, 0), round(e.slope, 2), None if e.fold is None else round(e.fold, 2))
                   for e in roof.edges)


def near(one, other):
    """Equal but for roundings at the edge between two numbers."""
    left, right = one - other, other - one
    assert len(list(left.elements())) == len(list(right.elements())), (left, right)
    for (kind, length, slope, fold), (k2, l2, s2, f2) in zip(
            sorted(left.elements(), key=str), sorted(right.elements(), key=str), strict=True):
        assert kind == k2 and abs(length - l2) <= 1 and abs(slope - s2) <= 0.02
        assert fold == f2 or abs(fold - f2) <= 0.02


@settings(max_examples=20, deadline=None)
@given(blocks(3))
def test_turned_and_shifted_it_is_the_same_roof(made):
    angle = math.radians(40)
    turned = [{**b, "x": b["x"] * math.cos(angle) - b["y"] * math.sin(angle) + 5000,
               "y": b["x"] * math.sin(angle) + b["y"] * math.cos(angle) - 800, "bearing": b["bearing"] + 40,
               "eave_height": b["eave_height"] + 120} for b in made]
    near(kinds(build(plan(*made))), kinds(build(plan(*turned))))


@settings(max_examples=20, deadline=None)
@given(blocks(3))
def test_the_order_of_the_blocks_does_not_matter(made):
    one, other = build(plan(*made)), build(plan(*made[::-1]))
    near(kinds(one), kinds(other))
    assert sum(f.shape.area for f in one.facets) == pytest.approx(sum(f.shape.area for f in other.facets), rel=1e-6)


@settings(max_examples=20, deadline=None)
@given(blocks(3))
def test_the_mirrored_roof_mirrors_every_edge(made):
    """Mirrored in the x axis: bearings turn round, so left and right change sides; a shed is turned about."""
    def mirror(b):
        bearing = -b["bearing"] + (180 if b["kind"] == "shed" else 0)
        return {**b, "y": -b["y"], "bearing": bearing}
    near(kinds(build(plan(*made))), kinds(build(plan(*map(mirror, made)))))


@settings(max_examples=20, deadline=None)
@given(blocks(3))
def test_twice_the_size_is_twice_every_length(made):
    sizes = ("x", "y", "length", "span", "eave_height", "eave_overhang", "rake_overhang")
    doubled = [{k: v * 2 if k in sizes else v for k, v in b.items()} for b in made]
    one, two = build(plan(*made)), build(plan(*doubled))
    total = sum(e.length for e in one.edges)
    assert sum(e.length for e in two.edges) == pytest.approx(2 * total, rel=1e-3, abs=20), "but for parts under a millimetre"
    assert sum(f.shape.area for f in two.facets) == pytest.approx(4 * sum(f.shape.area for f in one.facets), rel=2e-4)


def open_into_a_house(roof):
    """Free edges over the inside of a block that is higher there: a drop or a bird could get in."""
    for edge in roof.edges:
        if edge.kind in ("eave", "rake", "half-ridge") and edge.length > 30:
            (x, y), (dx, dy), z = [(p + q) / 2 for p, q in zip(edge.a, edge.b, strict=True)][:2], into(roof, edge, edge.facets[0]), (edge.a[2] + edge.b[2]) / 2
            beyond = (x - 5 * dx, y - 5 * dy)
            if any(body.stands_at(beyond, 1.0) and body.height(beyond) > z - 1 for body in roof.bodies):
                yield edge.key


@pytest.mark.parametrize("first", range(0, 500, 100))
def test_no_free_edge_opens_into_a_house(first):
    """500 roofs: whatever is under a higher overhang goes on to the wall, or ends where the planes meet."""
    found = {seed for seed in range(first, first + 100) if list(open_into_a_house(build(plan(*wild(seed)))))}
    assert found == set()


WING = {"x": 2000.0, "y": -5000.0, "bearing": 90.0, "length": 10000.0, "span": 6000.0}


@pytest.mark.parametrize("off", [sign * off for off in (0.001, 0.01, 0.3, 0.9, 1.5, 3.0) for sign in (1, -1)])
def test_what_nearly_lines_up_is_a_clear_roof(off):
    """Blocks a hair apart, coplanar faces, eaves a millimetre apart, bearings of a thousandth of a degree."""
    for nearly in ((gable("a"), gable("b", x=14000.0 + off)), (gable("a", eave=6000.0), gable("b", x=12000.0 + off, length=10000.0)),
                   (gable("a"), gable("b", x=3000.0, y=off, length=6000.0)), (gable("a"), gable("w", **WING, eave=4200.0 + off)),
                   (gable("a"), gable("w", **WING, pitch=35.0 + off / 10)), (gable("a"), gable("w", **{**WING, "bearing": 90.0 + off / 100})),
                   (gable("a"), gable("w", **{**WING, "span": 8000.0 + off})),
                   (gable("a"), shed("s", y=-5200.0 + off, span=2400.0, eave=3000.0, top_overhang=0.0)),
                   (gable("a", length=500.0, rake_overhang=700.0), gable("w", **{**WING, "x": off, "span": 400.0, "length": 4000.0},
                                                                         eave_overhang=700.0, rake_overhang=700.0))):
        roof = build(plan(*nearly))
        for facet in roof.facets:
            assert not facet.shape.buffer(-0.5).is_empty, "no sliver"
            border = shapely.union_all([shapely.LineString([e.a[:2], e.b[:2]]) for e in roof.edges_of(facet.id)])
            assert facet.shape.boundary.difference(border.buffer(1.0)).length < 5.0, "every border has its edge"
        assert all(edge.length >= 1.0 for edge in roof.edges)
