"""A curb's rows of tape and screws: hand-worked counts and places, on every flange and nowhere beside it."""

from __future__ import annotations

import math
from itertools import pairwise

import pytest
import shapely

from samples import metal
from yattle.details.curb import Curb
from yattle.details.forms import develop_form, tilted
from yattle.pattern.pattern import SCREW


def flats(**given):
    form = Curb(metal=metal(), **{"across": 800.0, "along": 1000.0, "pitch": 20.0, **given})
    return {piece.pattern.name: piece.pattern for piece in develop_form(form).pieces}, form


def crosses(pattern):
    """The places of the screws."""
    places = sorted(mark.a for mark in pattern.marks if mark.text == SCREW)
    assert all(mark.a == mark.b for mark in pattern.marks if mark.text == SCREW) and len(set(places)) == len(places)
    return [(round(x, 6), round(y, 6)) for x, y in places]


def lines(pattern):
    return [mark for mark in pattern.marks if mark.text and mark.text != SCREW]


def test_the_lower_flange_s_screws_by_hand():
    """800 + 2 × 140 flange − 2 × 25 = 1030 mm of row: 7 spaces of 147.1, 8 screws, each 25 from the outer edge."""
    made, form = flats()
    lower = made["lower flashing"]
    places = crosses(lower)
    assert len(places) == 8
    steps = [math.dist(p, q) for p, q in pairwise(places)]
    assert steps == pytest.approx([1030 / 7] * 7)
    edge = shapely.Polygon(lower.outline).exterior
    assert [edge.distance(shapely.Point(p)) for p in places] == pytest.approx([25.0] * 8)
    assert form.notes[0].startswith("Lower flange over the panels: 8 screws at 147, 25 from its edge")


@pytest.mark.parametrize(("flange", "rows"), [(150.0, 1), (160.0, 2)])
def test_a_wide_lap_has_a_second_row_of_tape_75_further_in(flange, rows):
    lower = flats(lower=flange)[0]["lower flashing"]
    rows_of_tape = [shapely.LineString((mark.a, mark.b)) for mark in lines(lower)]
    assert [mark.text for mark in lines(lower)] == ["tape and screws", "tape"][:rows]
    if rows == 2:
        assert rows_of_tape[0].distance(rows_of_tape[1]) == pytest.approx(75.0)


def test_on_ribbed_panels_screws_go_into_every_flange_and_on_standing_seam_only_into_the_lower_one():
    ribbed, seam = flats(panel="ribbed")[0], flats()[0]
    four = ("lower flashing", "right side", "upper flashing", "left side")
    assert all(crosses(ribbed[name]) for name in four)
    assert [bool(crosses(seam[name])) for name in four] == [True, False, False, False]
    long = ribbed["right side"].length
    mirrored = sorted((round(long - x, 6), y) for x, y in crosses(ribbed["left side"]))
    assert crosses(ribbed["right side"]) == mirrored
    rows = {name: [mark for mark in ribbed[name].marks if mark.text == "tape"][-1] for name in four[1::2]}
    assert rows["right side"].a[0] == pytest.approx(long - rows["left side"].a[0])  # hands: each at its lower end


@pytest.mark.parametrize("given", [{}, {"lower": 200.0, "upper": 400.0, "side": 170.0}, {"panel": "ribbed", "pitch": 45.0},
                                   {"across": 300.0, "along": 300.0}], ids=str)
def test_every_mark_lies_on_the_flange_clear_of_the_folds(given):
    for pattern in flats(**given)[0].values():
        sheet = shapely.Polygon(pattern.outline).buffer(1e-6)
        for mark in pattern.marks:
            line = shapely.LineString((mark.a, mark.b))
            assert sheet.contains(line)
            assert all(line.distance(shapely.LineString((fold.a, fold.b))) > 5 for fold in pattern.folds)


def test_across_its_lap_a_side_has_a_row_and_the_upper_flashing_one_at_each_end():
    made = flats()[0]
    texts = {name: [mark.text for mark in lines(made[name])] for name in made}
    assert texts["right side"] == texts["left side"] == ["tape", "tape"]
    assert texts["upper flashing"] == ["tape", "tape", "tape", "tape"]  # 250 wide: two along, one at each end
    assert texts["diverter, left"] == []


def test_marks_go_along_where_a_surface_is_set_on_the_slope():
    form = Curb(metal=metal(), across=800.0, along=1000.0, pitch=20.0)
    flat = form.surfaces()[0].faces[0]
    for (a, b, _), (c, d, _) in zip(flat.marks, tilted(form.surfaces()[0], 20.0).faces[0].marks, strict=True):
        assert math.dist(a, b) == pytest.approx(math.dist(c, d))
        assert c[2] == pytest.approx(a[1] * math.sin(math.radians(20)))
