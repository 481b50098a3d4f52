"""What the drawings hold, whatever shows them."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings

from samples import made, section, sections
from yattle.details import develop
from yattle.drawing import FreeEave, PlanEdge, cut_drawing, roof_drawing, section_drawing, step_drawing
from yattle.drawing.fixings import fixed_section
from yattle.drawing.roof import EDGE_ROLES
from yattle.drawing.section import tape_drawing
from yattle.drawing.shapes import Drawing, Label, Line, Ring, Tag
from yattle.measure import UNITS
from yattle.roof import RoofPlan, build
from yattle.roof.section import cut_through
from yattle.roof.starts import STARTS
from yattle.section import girth_of
from yattle.section.fold import folded_points, rounded_path


def test_an_eave_in_plan_stands_where_it_is():
    drawing = roof_drawing(build(RoofPlan()), (), (FreeEave("E1", (1000.0, 500.0), 90.0, 4000.0),))
    edge = next(s for s in drawing.shapes if isinstance(s, Line) and s.key == "E1")
    assert np.allclose(edge.points, ((1000, 500), (1000, 4500)))
    tag = next(s for s in drawing.shapes if isinstance(s, Tag) and s.key == "E1")
    assert tag.push[0] == pytest.approx(1), "outside is on the right of a run going up"


def test_an_empty_plan_has_a_box_all_the_same():
    assert roof_drawing(build(RoofPlan()), ()).box == (0.0, 0.0, 1.0, 1.0) and Drawing(()).shapes == ()


def test_a_roof_in_plan_has_every_edge_in_its_line():
    roof = build(STARTS["gable with a wing"])
    drawing = roof_drawing(roof, tuple(PlanEdge(e.id, e) for e in roof.edges), pitches={"main.1": "35°"}, block="wing")
    for edge in roof.edges:
        line = next(s for s in drawing.shapes if isinstance(s, Line) and s.key == edge.id)
        assert line.role == EDGE_ROLES[edge.kind] and np.allclose(line.points, (edge.a[:2], edge.b[:2]))
    assert {s.text for s in drawing.shapes if isinstance(s, Label) and s.key.startswith("block:wing")} == {
        "10\u00a0000", "6\u00a0000"}
    rakes = [s for s in drawing.shapes if isinstance(s, Tag) and s.key.startswith("G")]
    assert all(s.at[0] * s.push[0] + s.at[1] * s.push[1] > 0 for s in rakes), "letters of free edges stand outside"


def test_a_cut_shows_its_peak():
    roof = build(STARTS["gable"])
    drawing = cut_drawing(cut_through(roof, (0.0, -9000.0), (0.0, 9000.0)))
    texts = [s.text for s in drawing.shapes if isinstance(s, Label)]
    assert "5\u00a0801" in texts and any("35.0°" in text for text in texts)
    assert cut_drawing(()).shapes == ()


@settings(max_examples=40)
@given(sections())
def test_every_fold_has_its_tag_and_every_leg_its_number(profile):
    drawing = section_drawing(profile)
    assert [s.key for s in drawing.shapes if isinstance(s, Tag)] == list(profile.fold_ids)
    assert [s.key for s in drawing.shapes if isinstance(s, Label)] == [f"leg:{n + 1}" for n in range(len(profile.legs))]
    points = np.array([p for s in drawing.shapes if isinstance(s, Line | Ring) for p in s.points])
    assert np.isfinite(points).all()


def test_the_paint_band_lies_on_the_paint_side():
    """One leg going right: the paint face is on its left, so the band lies above the line, the back line below."""
    drawing = section_drawing(section((100.0,), (), hem_b=None))
    band = next(s for s in drawing.shapes if isinstance(s, Ring) and s.role == "paint")
    back = next(s for s in drawing.shapes if isinstance(s, Line) and s.role == "back")
    assert min(y for _, y in band.points) >= -1e-9 and max(y for _, y in back.points) < 0


def test_the_eave_drip_stands_as_on_the_roof():
    """Flange up the slope, face plumb, kick outward."""
    path = rounded_path(section((85.0, 95.0, 18.0), (-58.0, 42.0), hem_b=None), 1.0, -32.0)
    steps = np.diff(path, axis=0)
    plumb = steps[np.hypot(*steps.T) > 50]
    assert math.degrees(math.atan2(*plumb[0][::-1])) == pytest.approx(-32)
    assert math.degrees(math.atan2(*plumb[1][::-1])) == pytest.approx(-90)
    assert path[-1][0] > path[-3][0]


def test_the_tape_reads_from_either_edge():
    girth = girth_of(section())
    from_a = tape_drawing(girth.bends, girth.girth, girth.profile)
    from_b = tape_drawing(girth.bends, girth.girth, girth.profile, UNITS["in16"], from_b=True)
    numbers = [s.text for s in from_a.shapes if isinstance(s, Label)]
    assert numbers == ["39.5", "133.9", "151.5"]
    places = [s.at[0] for s in from_b.shapes if isinstance(s, Label)]
    assert places == pytest.approx([girth.girth - b.mark for b in girth.bends])


@pytest.mark.parametrize("swing", [0.0, 45.0, 90.0])
def test_the_leaf_goes_up_with_the_flange(swing):
    from yattle.brake import SHOP_BRAKE

    girth = girth_of(section((60.0, 80.0), (90.0,), hem_b=None))
    drawing = step_drawing(girth, SHOP_BRAKE, {}, "f1", "paint", "B", swing)
    leaf = next(s for s in drawing.shapes if isinstance(s, Ring) and s.role == "leaf")
    flange = next(s for s in drawing.shapes if isinstance(s, Line) and s.key == "swinging")
    (x0, y0), (x1, y1) = flange.points[-2:]
    assert math.degrees(math.atan2(y1 - y0, x1 - x0)) == pytest.approx(swing)
    assert math.degrees(math.atan2(*leaf.points[1][::-1])) == pytest.approx(swing), "the leaf's face lies under it"
    assert len([s for s in drawing.shapes if isinstance(s, Ring)]) == 3
    assert not [s for s in step_drawing(girth, SHOP_BRAKE, {}, "f1", "paint", "B", swing, tools=False).shapes
                if isinstance(s, Ring)]


@pytest.mark.parametrize(("name", "fixings", "told"), [
    ("coping", (("anchor", 1), ("hook strip", 1)), {"anchor", "hook strip"}), ("box-gutter", (("strap", 1),), {"strap"}),
    ("round-gutter", (("strap", 1),), {"strap"}), ("headwall", (("screw", 2),), {"screw"}), ("sidewall", (("clip", 1),), {"clip"})])
def test_what_holds_a_section_is_drawn_where_it_holds_it(name, fixings, told):
    """Screws end under the metal or in the wall behind it, a strap spans the mouth, a strip stands behind the drop."""
    made_ = develop(made(name))
    legs = made_.roles.wings or made_.roles.water or (0,)
    plain = section_drawing(made_.profile, made_.heading)
    drawn = fixed_section(made_.profile, made_.heading, legs=legs, fixings=fixings)
    new = drawn.shapes[len(plain.shapes):]
    assert {shape.text for shape in new if isinstance(shape, Label)} == told
    lines = [shape.points for shape in new if isinstance(shape, Line)]
    assert len(lines) == sum({"screw": 2, "clip": 2, "anchor": 2}.get(what, 1) * rows for what, rows in fixings)
    points = folded_points(made_.profile, made_.heading - (made_.profile.hem_a.turn if made_.profile.hem_a else 0.0))
    if "strap" in told:
        assert lines[0][1] == pytest.approx(tuple(points[-1])) and lines[0][0][1] == pytest.approx(float(points[2][1]))
    if name == "coping":  # anchor into the masonry on the far side, strip within the wall's width
        x = sorted(float(p[0]) for p in points)
        assert all(x[0] - 1 < p[0] < x[-1] + 30 for line in lines for p in line) and lines[0][1][0] < lines[0][0][0]
    if name == "headwall":
        assert all(tip[1] < top[1] for top, tip in lines[::2]), "down into the roof"
