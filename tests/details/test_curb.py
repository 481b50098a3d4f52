"""A curb's rows of tape and screws: hand-worked counts and places, on every flange and nowhere beside it."""

from __future__ import annotations

import math
import random
from itertools import pairwise

import pytest
import shapely

from samples import metal
from yattle.details.curb import Curb
from yattle.details.forms import develop_form, tilted
from yattle.details.panels_round import panels_round
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


def test_caps_over_seams_go_150_past_the_curb_s_flanges_at_both_ends_and_plugs_are_their_own():
    """A curb of 800 from 100 beside a seam, pans of 500, no diverter: one seam at 400. Caps of 150 + 150 below and 250 + 150
    above, 2 off the upstand: nothing goes through it."""
    made, form = flats(seam_height=38.0, seam_width=25.0, diverter=0.0)
    assert form.seams == (400.0,)
    below, above = made["seam cap, below"], made["seam cap, above"]
    assert (below.length, above.length) == pytest.approx((298.0, 398.0)) and below.qty == above.qty == 1
    for surface in form.surfaces():
        if surface.name.startswith("seam cap"):
            ups = [y for face in surface.faces for _, y, _ in face.corners]
            assert (max(ups), min(ups)) == pytest.approx((-502.0, -800.0) if surface.name.endswith("below") else (900.0, 502.0))
    assert made["seam plug"].qty == 2 and [round(fold.turn) for fold in below.folds] in ([-90, 90, -90, 90], [-90, -90, 90, 90])
    for cap in (below, above):
        edge, places = shapely.Polygon(cap.outline).exterior, crosses(cap)
        assert all(edge.distance(shapely.Point(p)) == pytest.approx(12.5) for p in places)
        rows = sorted({round(y) for _, y in places})
        assert len(rows) == 2 and all(b[0] - a[0] <= 100.0 + 1e-6 for row in rows for a, b in pairwise(
            [p for p in places if round(p[1]) == row]))
    assert "seam cap, below" not in flats(caps_past=0.0)[0] and "seam cap, below" not in flats(panel="ribbed", rib_pitch=333.0)[0]


def test_behind_a_diverter_a_cap_begins_where_the_panels_do():
    """The diverter reaches 300 behind 1,000 of curb, under its ridge the seam: panels and cap begin 60 behind it, at 860, and it goes
    150 past the diverter's flange; nothing of it lies on the diverter's planes."""
    form = flats(seam_height=38.0, seam_width=25.0)[1]
    surfaces = {surface.name: surface for surface in form.surfaces()}
    ups = [y for face in surfaces["seam cap, above"].faces for _, y, _ in face.corners]
    top = max(y for name in ("diverter, left", "diverter, right") for face in surfaces[name].faces for _, y, _ in face.corners)
    assert min(ups) == pytest.approx(862.0) and max(ups) == pytest.approx(top + 150.0)
    ridge = min(y for _, y, z in surfaces["diverter, left"].faces[0].corners if z < 1e-6)
    assert ridge < min(ups) and form.lost_drops() == ()


@pytest.mark.parametrize(("rib_pitch", "from_seam", "inside", "beneath"), [(333.0, 100.0, 2, 4), (207.0, 0.0, 3, 5), (0.0, 100.0, 1, 3)])
def test_ribs_are_counted_by_their_own_pitch_and_flanges_over_them_are_told(rib_pitch, from_seam, inside, beneath):
    """800 wide, flanges of 120: ribs from the seam on every 333: at 233 and 566 inside, those at −100 and 899 lie under flanges."""
    form = flats(panel="ribbed", rib_pitch=rib_pitch, from_seam=from_seam, coverage=500.0)[1]
    assert len(form.seams) == inside and form.ribs_beneath == beneath
    told = [finding for finding in form.looks() if finding.field == "side"]
    assert len(told) == 1 and f"over {beneath} ribs" in told[0].text
    assert not [f for f in flats(from_seam=200.0)[1].looks() if f.field == "side"]


def test_the_frame_is_a_cut_list_with_its_notches():
    form = flats(panel="ribbed", rib_pitch=333.0, seam_width=100.0, seam_height=45.0)[1]
    sides, cross = form.frame
    assert (sides.many, sides.length) == (2, 1090.0) and (cross.many, cross.length) == (2, 800.0)
    assert cross.notches == (233.0, 566.0) and (cross.wide, cross.deep) == (104.0, 47.0)
    assert "2 cross members of 800, notched 104 by 47 at 233, 566" in form.notes[-1]
    assert flats()[1].frame[1].notches == ()


def test_wide_curbs_are_flashed_in_parts_that_lap():
    made, form = flats(across=4200.0, diverter_reach=900.0)
    lower = [p for name, p in made.items() if name.startswith("lower flashing")]
    upper = [p for name, p in made.items() if name.startswith("upper flashing")]
    assert len(lower) == len(upper) == 2 and all(p.length <= 3000.0 + 1e-6 for p in (*lower, *upper))
    assert sum(p.length for p in lower) == pytest.approx(4200 + 2 * 140 + 80)
    assert form.lost_drops() == ()


def test_panel_ends_are_in_numbers():
    form = flats()[1]
    assert form.panel_ends == (140.0, 190.0) and "140 under the lower flange" in form.notes[3] and "190 over the upper" in form.notes[3]


@pytest.mark.parametrize("seed", range(10))
def test_where_nothing_is_said_of_the_diverter_no_drop_goes_round_it(seed):
    draw = random.Random(seed)
    form = flats(across=draw.uniform(400, 2000), pitch=draw.uniform(2, 40), diverter=draw.uniform(20, 150), upper=draw.uniform(200, 450),
                 diverter_reach=draw.uniform(60, 500))[1]
    told = [finding for finding in form.looks() if finding.field == "diverter_reach"]
    assert told or form.lost_drops() == ()
    if told:
        assert form.but(diverter_reach=told[0].lengths[2]).lost_drops() == ()


@pytest.mark.parametrize("given", [{}, {"panel": "ribbed", "rib_pitch": 207.0}, {"from_seam": 300.0, "across": 1100.0, "diverter_reach": 400.0},
                                   {"caps_past": 0.0}, {"diverter": 0.0, "across": 450.0}, {"pitch": 8.0}])
def test_drops_from_the_panels_above_stay_on_top_between_their_seams_to_the_panels_below(given):
    form = flats(**given)[1]
    flashings = [surface for surface in form.surfaces() if not surface.name.startswith("seam cap")]
    below, _, seams = panels_round(form._flashed, flashings, lambda x, y: 0.0)
    assert form.lost_drops() == () and len(seams) == 2 * len(form.seams)
    assert max(y for face in below.faces for _, y, _ in face.corners) == pytest.approx(-form.along / 2 - form.below_gap)


def test_panels_that_end_before_the_flange_and_seams_that_go_on_into_the_diverter_lose_drops(monkeypatch):
    """Panels above that begin 60 beyond a flange of 250; a seam that is not cut before the saddle stands across its valley."""
    assert flats(above_gap=310.0, diverter=0.0, across=450.0)[1].lost_drops()
    form = flats(from_seam=300.0)[1]
    assert form.lost_drops() == ()
    at = form.seams[0] - form.across / 2
    through = [(at - 12.5, 500.0), (at + 12.5, 500.0), (at + 12.5, 900.0), (at - 12.5, 900.0)]
    whole = panels_round(form._flashed, form.surfaces(), lambda x, y: 0.0)
    monkeypatch.setattr("yattle.details.curb.panels_round", lambda *_: (*whole[:2], [*whole[2], through]))
    assert form.lost_drops()
