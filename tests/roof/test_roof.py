"""Roofs worked by hand with vector algebra: lengths, slopes and folds of every kind of edge."""

from __future__ import annotations

import json
import math
from collections import Counter

import numpy as np
import pytest
import shapely
import shapely.affinity

from plans import flat, gable, hip, plan, roof, shed
from yattle.errors import InputError
from yattle.roof import RoofPlan, build
from yattle.values import read

MAIN = gable("main")


def tan(degrees):
    return math.tan(math.radians(degrees))


def of_kind(made, kind):
    return [edge for edge in made.edges if edge.kind == kind]


def one(made, kind):
    found = of_kind(made, kind)
    assert len(found) == 1, [e.kind for e in made.edges]
    return found[0]


def normal(fall, pitch):
    """Upward normal of a plane that falls along ``fall`` (degrees in plan) with ``pitch``."""
    p, f = math.radians(pitch), math.radians(fall)
    return np.array([math.sin(p) * math.cos(f), math.sin(p) * math.sin(f), math.cos(p)])


def fold_of(one, other):
    return math.degrees(math.acos(float(one @ other)))


def test_a_gable():
    made = roof(MAIN)
    assert Counter(e.kind for e in made.edges) == {"eave": 2, "rake": 4, "ridge": 1}
    ridge = one(made, "ridge")
    assert ridge.length == pytest.approx(14600) and ridge.fold == pytest.approx(70) and ridge.slope == 0
    assert ridge.a[2] == pytest.approx(4200 + 4000 * tan(35))
    rake = of_kind(made, "rake")[0]
    assert rake.length == pytest.approx(4400 / math.cos(math.radians(35))) and rake.slope == pytest.approx(35)
    assert [e.a[2] for e in of_kind(made, "eave")] == pytest.approx([4200 - 400 * tan(35)] * 2)
    assert sum(f["area"] for f in made.answer()["facets"]) == pytest.approx(14.6 * 8.8 / math.cos(math.radians(35)))


def test_two_pitches_put_the_ridge_off_the_middle():
    made = roof(gable("a", pitch=35.0, pitch_right=50.0))
    ridge = one(made, "ridge")
    off = 4000 * (tan(35) - tan(50)) / (tan(35) + tan(50))
    assert ridge.a[1] == pytest.approx(off) and ridge.fold == pytest.approx(85)
    assert ridge.a[2] == pytest.approx(4200 + tan(35) * (4000 - off))


@pytest.mark.parametrize(("main", "wing"), [(35, 35), (35, 40), (30, 45), (28, 33), (25.5, 31.25)])
def test_the_valley_of_a_crossing_wing(main, wing):
    """Two planes' normals crossed give the valley's direction; its slope and fold follow."""
    made = roof(gable("main", pitch=float(main)),
                gable("wing", 2000.0, -6000.0, 90.0, 10000.0, 3000.0, pitch=float(wing)))
    assert len(of_kind(made, "valley")) == 2
    for valley, fall in zip(of_kind(made, "valley"), (180, 0), strict=True):
        n1, n2 = normal(-90, main), normal(fall, wing)
        along = np.cross(n1, n2)
        along *= np.sign(along[2]) / np.linalg.norm(along)
        step = np.subtract(valley.b, valley.a)
        assert step / np.linalg.norm(step) == pytest.approx(along, abs=1e-9)
        assert valley.slope == pytest.approx(math.degrees(math.asin(along[2])), abs=1e-7)
        assert valley.fold == pytest.approx(fold_of(n1, n2), abs=1e-7)
    top = 4200 + 1500 * tan(wing)
    assert valley.b == pytest.approx((2000, -4000 + (top - 4200) / tan(main), top), abs=1e-4)
    wing_ridge = next(e for e in of_kind(made, "ridge") if e.facets[0].startswith("wing"))
    assert sorted(p[1] for p in (wing_ridge.a, wing_ridge.b))[1] == pytest.approx(valley.b[1], abs=1e-4)


@pytest.mark.parametrize(("pitch", "right", "ends"), [(30, None, None), (30, None, 45), (40, 25, 60)])
def test_a_hip_roof(pitch, right, ends):
    made = roof(hip("h", pitch=float(pitch), pitch_right=right and float(right), pitch_ends=ends and float(ends)))
    right, ends = right or pitch, ends or pitch
    assert len(of_kind(made, "hip")) == 4 and len(of_kind(made, "ridge")) == 1
    for edge in of_kind(made, "hip"):
        side = pitch if edge.facets[0] == "h.1" else right
        fall = 90 if edge.facets[0] == "h.1" else -90
        n1, n2 = normal(fall, side), normal(0 if edge.facets[1] == "h.3" else 180, ends)
        along = np.cross(n1, n2)
        assert edge.fold == pytest.approx(fold_of(n1, n2), abs=1e-7)
        assert edge.slope == pytest.approx(math.degrees(math.asin(abs(along[2]) / np.linalg.norm(along))), abs=1e-7)
    ridge = one(made, "ridge")
    height = (8000 * tan(pitch) * tan(right) / (tan(pitch) + tan(right)))
    assert ridge.a[2] == pytest.approx(3000 + height)
    assert ridge.length == pytest.approx(12000 - 2 * height / tan(ends))


def test_a_square_hip_is_a_pyramid_and_a_short_one_turns_its_ridge():
    square = roof(hip("h", length=8000.0))
    assert not of_kind(square, "ridge") and len(of_kind(square, "hip")) == 4 and len(square.corners) == 5
    short = roof(hip("h", length=6000.0))
    ridge = one(short, "ridge")
    assert abs(ridge.a[1] - ridge.b[1]) == pytest.approx(2000) and ridge.a[0] == pytest.approx(ridge.b[0])


def test_a_dormer_has_cheeks_a_front_and_two_valleys():
    made = roof(MAIN, gable("dormer", -3000.0, -2300.0, 90.0, 3000.0, 1800.0, 5400.0, 40.0, eave_overhang=200.0,
                            rake_overhang=150.0))
    front = one(made, "headwall")
    assert front.length == pytest.approx(1800) and front.fold == pytest.approx(55) and front.a[1] == pytest.approx(-3800)
    for cheek in of_kind(made, "sidewall"):  # up the main roof from the front to where it reaches the dormer's eave
        rise = 5400 - (4200 + 200 * tan(35))
        assert cheek.length == pytest.approx(rise / math.sin(math.radians(35))) and cheek.fold == pytest.approx(90)
    assert len(of_kind(made, "valley")) == 2
    assert {len(f.shape.interiors) for f in made.facets if f.block == "main"} == {0, 1}
    answer = next(f for f in made.answer()["facets"] if "holes" in f)
    assert len(answer["holes"]) == 1 and len(answer["holes"][0]) >= 5


def test_a_lean_to_under_the_eave_goes_on_to_the_wall():
    made = roof(MAIN, shed("store", -3000.0, -5200.0))
    wall = one(made, "headwall")
    assert wall.length == pytest.approx(5400) and wall.fold == pytest.approx(78) and wall.wall == "main"
    assert wall.a[1] == pytest.approx(-4000) and wall.a[2] == pytest.approx(2600 + 2400 * tan(12))
    assert len(of_kind(made, "eave")) == 3 and not of_kind(made, "half-ridge")


def test_a_lean_to_against_a_gable_end_has_a_sidewall_of_level_slope():
    made = roof(MAIN, shed("porch", 8200.0, 0.0, 90.0, 4000.0, 2400.0, 2600.0, 15.0))
    wall = one(made, "headwall")
    assert wall.a[0] == pytest.approx(7000) and wall.fold == pytest.approx(75)


def test_a_lower_wing_ends_at_the_wall_of_a_taller_block():
    made = roof(gable("tall", eave=8000.0), gable("low", 9000.0, 0.0, 0.0, 6000.0, 5000.0, 3000.0, 30.0))
    walls = of_kind(made, "sidewall")
    assert {round(w.length) for w in walls} == {round(2900 / math.cos(math.radians(30)))}
    assert {round(w.a[0]) for w in walls} == {7000} and all(w.fold == pytest.approx(90) for w in walls)


def test_a_turned_tower_meets_the_roof_in_skew_walls():
    made = roof(MAIN, hip("tower", 1000.0, -2000.0, 30.0, 1500.0, 1500.0, 9000.0, 50.0, eave_overhang=0.0))
    skew = of_kind(made, "skew-wall")
    assert len(skew) == 4 and {round(e.a[2] > 0) for e in skew} == {1}
    n = normal(-90, 35)
    for edge in skew:
        along = np.subtract(edge.b, edge.a)[:2]
        across = np.array([along[1], -along[0]]) / np.linalg.norm(along)
        centre = np.array([1000.0, -2000.0]) - np.array(edge.a[:2])
        out = -across if across @ centre > 0 else across
        assert edge.fold == pytest.approx(fold_of(n, np.array([*out, 0.0])), abs=1e-6)


def test_a_pitch_break_where_two_planes_fall_the_same_way():
    low = shed("low", 0.0, -5250.0, 0.0, 14000.0, 2500.0, 3000.0, 15.0, eave_overhang=0.0, rake_overhang=300.0)
    high = 3000 + 2500 * tan(15)
    made = roof(gable("main", eave=high, eave_overhang=0.0), low)
    brk = one(made, "pitch-break")
    assert brk.length == pytest.approx(14600) and brk.fold == pytest.approx(20) and brk.a[1] == pytest.approx(-4000)


def test_sheds_have_a_free_top_edge_and_flats_only_eaves():
    made = roof(shed("s"))
    assert Counter(e.kind for e in made.edges) == {"eave": 1, "half-ridge": 1, "rake": 2}
    top = one(made, "half-ridge")
    assert top.a[2] == pytest.approx(2600 + (2400 + 300) * tan(12)) and top.a[1] == pytest.approx(1500)
    level = roof(flat("f"))
    assert Counter(e.kind for e in level.edges) == {"eave": 4} and level.facets[0].plane.pitch == 0
    assert roof(MAIN, flat("f", 0.0, -6000.0)).edges


def test_one_plane_of_two_blocks_is_one_face():
    made = roof(gable("a", -3000.0, length=8000.0), gable("b", 3000.0, length=8000.0))
    assert len(made.facets) == 2 and one(made, "ridge").length == pytest.approx(14600)
    assert Counter(e.kind for e in made.edges) == {"eave": 2, "rake": 4, "ridge": 1}


def test_what_is_buried_is_gone_and_what_is_apart_stays():
    assert [f.block for f in roof(MAIN, gable("b", length=4000.0, span=3000.0, eave=3000.0, pitch=20.0)).facets] == [
        "main", "main"]
    apart = roof(MAIN, gable("b", 40000.0))
    assert len(apart.facets) == 4 and len(of_kind(apart, "ridge")) == 2


@pytest.mark.parametrize("turned", [0.0, 90.0, 217.0])
@pytest.mark.parametrize("hand", [-1, 1])
@pytest.mark.parametrize(("wide", "wing_first"), [(8000.0, False), (8000.0, True), (5000.0, False), (5000.0, True)])
@pytest.mark.parametrize("pitch", [4.0, 35.0, 58.0])
def test_a_hipped_roof_in_the_shape_of_an_l_has_all_its_corners(turned, hand, wide, wing_first, pitch):
    """The outline is that of both blocks with their overhangs round them, and water runs off eaves alone."""
    x, y, turn = hand * (12000.0 - wide) / 2, -2000.0, math.radians(turned)
    at = {"x": x * math.cos(turn) - y * math.sin(turn), "y": x * math.sin(turn) + y * math.cos(turn)}
    both = [hip("main", bearing=turned, pitch=pitch),
            hip("wing", **at, bearing=turned + 90.0, length=12000.0, span=wide, pitch=pitch)]
    found = roof(*(both[::-1] if wing_first else both))
    assert {edge.kind for edge in found.edges} == {"eave", "ridge", "hip", "valley"}
    out = shapely.union_all([facet.shape for facet in found.facets])
    want = shapely.union_all([shapely.box(-6500, -4500, 6500, 4500),
                              shapely.box(x - wide / 2 - 500, y - 6500, x + wide / 2 + 500, y + 6500)])
    assert out.symmetric_difference(shapely.affinity.rotate(want, turned, origin=(0, 0))).area < 100.0
    assert sum(edge.length for edge in found.edges if edge.kind == "eave") == pytest.approx(want.length, abs=0.1)
    assert len([edge for edge in found.edges if edge.kind == "valley"]) == 1


def test_of_two_walls_in_line_the_lower_roof_has_no_overhang():
    """A wing's end in line with the back wall of the house, under its eave: nothing looks out there."""
    found = roof(hip("main", eave=4500.0), hip("wing", y=-1500.0, bearing=90.0, length=11000.0, span=5000.0, eave=4200.0))
    back = [facet for facet in found.facets if facet.block == "wing" and max(y for _, y in facet.ring) > 0.0]
    assert not back


def test_a_crossing_of_four_valleys():
    made = roof(gable("a", span=6000.0, pitch=40.0), gable("b", bearing=90.0, length=12000.0, span=6000.0, pitch=40.0))
    assert Counter(e.kind for e in made.edges) == {"eave": 8, "rake": 8, "ridge": 4, "valley": 4}
    middle = next(c for c in made.corners if abs(c.at[0]) + abs(c.at[1]) < 1)
    assert Counter(i[0] for i in middle.edges) == {"R": 4, "V": 4}


def test_faces_from_a_sketch():
    """Two faces drawn by hand meet in a ridge as a gable's do."""
    faces = [{"id": "south", "outline": [[0, 0], [6000, 0], [6000, 3000], [0, 3000]], "pitch": 30.0, "eave_height": 2500.0},
             {"id": "north", "outline": [[0, 3000], [6000, 3000], [6000, 6000], [0, 6000]], "pitch": 30.0, "eave": 2,
              "eave_height": 2500.0}]
    made = build(plan(faces=faces))
    assert Counter(e.kind for e in made.edges) == {"eave": 2, "rake": 4, "ridge": 1}
    assert one(made, "ridge").fold == pytest.approx(60)


def test_openings_come_back_on_the_plane():
    made = roof(MAIN, openings=[
        {"id": "flue", "kind": "chimney", "x": 0.0, "y": -2000.0, "bearing": 0.0, "across": 900.0, "along": 600.0, "top": 7500.0},
        {"id": "peak", "kind": "chimney", "x": 4000.0, "y": 0.0, "across": 600.0, "along": 800.0},
        {"id": "vent", "kind": "pipe", "x": 3000.0, "y": 2000.0, "diameter": 110.0}])
    flue, peak, vent = made.openings
    assert [c[:2] for c in flue.corners] == [(-450, -2300), (450, -2300), (450, -1700), (-450, -1700)]
    assert all(z == pytest.approx(4200 + tan(35) * (4000 + y)) for _, y, z in flue.corners)
    assert flue.facets == ("main.2",) and set(peak.facets) == {"main.1", "main.2"} and vent.facets == ("main.1",)
    assert peak.corners[0][2] == pytest.approx(peak.corners[2][2]), "astride the ridge it falls to both sides"
    assert made.answer()["openings"][0]["top"] == 7500.0


BAD = [
    ({"span": 0}, "blocks.0.span: found 0"), ({"length": -5}, "blocks.0.length: found -5"),
    ({"pitch": 0}, "blocks.0.pitch: found 0"), ({"pitch": 89.5}, "blocks.0.pitch: found 89.5"),
    ({"pitch_ends": 40}, "blocks.0.pitch_ends: found 40, expected only the fields"),
    ({"eave_overhang": -1}, "blocks.0.eave_overhang: found -1"), ({"x": "0"}, 'blocks.0.x: found "0"'),
    ({"kind": "dome"}, "expected one of 'gable', 'hip', 'shed', 'flat'")]


@pytest.mark.parametrize(("wrong", "says"), BAD)
def test_wrong_blocks_are_said_in_one_sentence(wrong, says):
    with pytest.raises(InputError) as told:
        read(RoofPlan, json.dumps({"format": "yattle-roof/1", "blocks": [{**MAIN, **wrong}]}))
    assert says in str(told.value)


@pytest.mark.parametrize(("y", "across"), [(-9000.0, 500.0), (-4300.0, 500.0)])
def test_an_opening_off_the_roof(y, across):
    with pytest.raises(InputError, match="off the roof"):
        roof(MAIN, openings=[{"id": "c", "kind": "curb", "x": 0.0, "y": y, "across": across, "along": across}])


def test_other_wrong_plans():
    with pytest.raises(InputError, match="'main' twice"):
        read(RoofPlan, json.dumps({"blocks": [MAIN, MAIN]}))
    crossed = {"id": "f", "outline": [[0, 0], [1000, 1000], [1000, 0], [0, 1000]], "pitch": 20}
    with pytest.raises(InputError, match="crosses itself"):
        read(RoofPlan, json.dumps({"faces": [crossed]}))
    with pytest.raises(InputError, match="expected a place from 0 to 3"):
        read(RoofPlan, json.dumps({"faces": [{**crossed, "eave": 4}]}))


def test_steep_and_many_never_hang():
    assert len(roof(gable("a", pitch=89.0)).facets) == 2
    many = [gable(f"b{n}", x=(n % 8) * 5500.0, y=(n // 8) * 6100.0, bearing=90.0 * (n % 2), pitch=30.0 + n % 3)
            for n in range(60)]
    made = roof(*many)
    assert min(e.length for e in made.edges) >= 1.0 and len(made.edges) > 150


@pytest.mark.parametrize("kind", [gable, hip])
@pytest.mark.parametrize("wide", [8000.0, 5000.0])
@pytest.mark.parametrize("long", [12819.9, 14000.0])
def test_a_crossing_is_the_same_turned_by_any_angle(kind, wide, long):
    """Borders that lie on each other but for the last digit of a coordinate: whole parts of a face were lost of them."""
    def lines(bearing):
        found = roof(kind("main", bearing=bearing, length=long, pitch=22.0, eave_overhang=200.0),
                     kind("cross", bearing=bearing + 90.0, length=15000.0, span=wide, eave=kind("x")["eave_height"], pitch=22.0,
                          eave_overhang=200.0))
        return {kind: sorted(edge.length for edge in found.edges if edge.kind == kind)
                for kind in sorted({edge.kind for edge in found.edges})}
    square = lines(0.0)
    for bearing in (30.0, 37.0, 90.0, 117.0, 127.0, 180.0, 203.0, 217.0, 270.0, 307.0, 333.3):
        turned = lines(bearing)
        assert {kind: pytest.approx(many, abs=0.1) for kind, many in square.items()} == turned
