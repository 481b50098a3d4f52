"""Trims that lie on no edge of the roof: copings, gutters, fascia and corners; and what fixes them."""

from __future__ import annotations

import math

import numpy as np
import pytest

from samples import made, metal
from yattle.derive.graph import derive
from yattle.derive.roof_runs import with_run
from yattle.details import develop
from yattle.details.boxes import Kneeler
from yattle.details.forms import develop_form
from yattle.details.run_ends import section_corners
from yattle.details.schools import Schools
from yattle.install.installation import installation
from yattle.job import demo_path, load
from yattle.job.model import Run

SUM = metal({"rule": "sum"})


@pytest.mark.parametrize("fall", [0.0, 3.0, 15.0])
@pytest.mark.parametrize("toward", ["inside", "both"])
def test_a_coping_covers_its_wall_with_room_on_both_sides(fall, toward):
    """Its faces stand plumb, so far apart as wall and room are wide; falling to both sides it is as high in front as
    behind, else the outer fold is higher by the fall over that width."""
    result = develop(made("coping", wall=300.0, room=6.0, fall=fall, toward=toward))
    corners = section_corners(result.profile, result.heading, 2)
    first = 1 + 2  # hem, kick: the head of the inner face
    last = first + (2 if toward == "both" else 1)
    across, up = corners[last] - corners[first]
    assert across == pytest.approx(312.0)
    assert up == pytest.approx(0.0 if toward == "both" else 312.0 * math.tan(math.radians(fall)), abs=1e-9)
    for a, b in ((first - 1, first), (last, last + 1)):
        assert abs((corners[b] - corners[a])[0]) < 1e-9, "plumb"
    said = any("water stands on it" in finding.says() for finding in result.findings)
    assert said == (fall < 2)


def test_a_coping_s_girth_by_hand():
    """18 + 70 + (240 + 2 × 5) / cos 5° + 70 + 18 and two hems of 12."""
    girth = develop(made("coping", metal=SUM)).girth.girth
    assert girth == pytest.approx(2 * (12 + 18 + 70) + 250 / math.cos(math.radians(5)))


@pytest.mark.parametrize("kinks", [4, 9, 24])
@pytest.mark.parametrize("wide", [100.0, 150.0])
def test_a_half_round_is_as_long_round_as_its_half_circle(kinks, wide):
    result = develop(made("round-gutter", metal=SUM, kinks=kinks, wide=wide))
    assert result.girth.girth == pytest.approx(12 + 20 + math.pi * wide / 2 + 20)
    corners = section_corners(result.profile, result.heading, kinks + 1)
    mouth = corners[2][0] - corners[2 + kinks][0]
    assert mouth == pytest.approx(math.pi * wide / 2 / kinks / math.sin(math.pi / 2 / kinks)), "the chords of that circle"
    assert corners[2][1] == pytest.approx(corners[2 + kinks][1]), "both rims alike high"


def test_a_box_gutter_s_stop_end_is_as_high_as_its_lower_side():
    piece = develop(made("box-gutter", right="cap", length=2000.0)).pieces[0]
    flaps = {tab.leg: tab.length for tab in piece.tabs}
    assert flaps == {2: 25.0, 4: 25.0, 3: 84.0} and piece.proof.holds
    low = develop(made("box-gutter", front=110.0, back=110.0))
    assert any("runs over against the wall" in finding.says() for finding in low.findings)


def test_two_arms_of_a_coping_meet_on_the_plane_that_halves_their_corner():
    """The end's places, seen in the mirror of that plane, are the other arm's."""
    arm = made("coping", length=1500.0, right_plane=(math.cos(math.pi / 4), -math.sin(math.pi / 4), 0.0))
    result = develop(arm)
    assert result.ok and result.max_gap < 1e-6
    corners = section_corners(result.profile, result.heading, 2)
    ends = np.array([a for a, _ in result.pieces[0].cuts[1]])
    assert ends - 1500.0 == pytest.approx(corners[:-1, 0], abs=1e-9), "at 45° each place is as far along as it is out"


def with_runs(*runs):
    job = load(demo_path())
    return job.but(runs=runs)


def test_what_fixes_them_is_counted_and_ordered():
    """6 m of coping: anchors every 250 at most in the 5,950 between 25 mm from each end: 24 gaps, 25 anchors; 6 m of
    strip. 6 m of gutter: straps every 600: 10 gaps, 11."""
    found = installation(derive(with_runs(
        Run(id="F1", kind="free", detail="coping", length=6000.0), Run(id="F2", kind="free", detail="box-gutter", length=6000.0))))
    needs = {(run, need.what): need.many for run in ("F1", "F2") for need in found.runs[run].needs}
    assert needs["F1", "wall anchors"] == 25 and needs["F1", "hook strip"] == 6000.0 and needs["F2", "straps"] == 11
    packs = {pack.what: pack for pack in found.packs}
    assert packs["straps"].many == 11 and packs["hook strip"].packs == 3, "with its spare"


def test_a_counterflashing_on_the_wall_s_face_is_anchored_taped_and_stands_by_its_bead():
    job = load(demo_path())
    there = next(run.run for run in derive(job).runs if run.run.layer == "counterflashing" and not run.run.gaps)
    found = derive(job.but(schools=Schools(counter="surface")))
    run = next(run for run in found.runs if run.run.id == there.id)
    assert run.family.name == "counter-surface" and run.detail.max_gap < 1e-6
    needs = {need.what: need for need in installation(found).runs[there.id].needs}
    assert needs["tape"].many == pytest.approx(there.length) and needs["sealant"].many >= there.length / 1000 * 25 - 1e-6
    assert needs["wall anchors"].many >= there.length / 250 and any(need.only for need in needs.values())
    assert "wedges" not in needs


def test_a_sidewall_with_the_pan_turned_up_has_a_zed_along_the_wall():
    """No flashing over the first seam and no zed on the pan: base on the wall, longer than the 93 that a counterflashing comes down, step
    out, cover down; anchors and tape."""
    job = load(demo_path())
    wall = next(run.run for run in derive(job).own_runs if run.run.kind == "sidewall" and "dormer" in run.run.name)
    turned = derive(with_run(job, wall.id, detail="wall-zed"))
    run = turned.run(wall.id)
    assert run.detail.ok and [round(leg, 1) for leg in run.detail.profile.legs] == [100, round(13 * math.sqrt(2), 1), 60]
    corners = section_corners(run.detail.profile, run.detail.heading, 1)
    base, cover = corners[1] - corners[0], corners[3] - corners[2]
    assert base[0] == pytest.approx(0) and base[1] < 0 and cover[0] == pytest.approx(0) and cover[1] < 0, "both plumb, down"
    assert corners[2][0] - corners[1][0] == pytest.approx(13.0), "out from the wall"
    assert f"{wall.id}.k" not in {one.run.id for one in turned.runs}
    needs = {need.what: need for need in installation(turned).runs[wall.id].needs}
    assert needs["wall anchors"].many >= wall.length / 250 and needs["tape"].many == pytest.approx(wall.length) and "clips" not in needs


def test_a_kneeler_rises_with_the_pitch_and_is_open_to_the_wall():
    """300 out at 30°: 150 at the fascia, 150 + 300 · tan 30° at the wall; three sides folded, none at the wall."""
    (piece,) = develop_form(Kneeler(metal=SUM, tab=0.0)).pieces
    assert piece.proof.holds and piece.pattern.name == "kneeler" and len(piece.pattern.folds) == 3
    far = 150 + 300 * math.tan(math.radians(30))
    top = 300 / math.cos(math.radians(30))
    assert piece.pattern.area == pytest.approx((150 + far) / 2 * 300 + 250 * (300 + top + 150), rel=1e-4), "but for its reliefs"


@pytest.mark.parametrize("fall", [(), (("front", 120.0), ("back", 145.0))])
def test_outlets_are_round_in_the_middle_of_the_bottom_and_no_joint_is_near(fall):
    """7 m with outlets at 2,333 (where an even joint would be) and 6,600: holes of 100 in their pieces, as far from the left
    end as typed, with and without a fall of the gutter's own."""
    result = develop(made("box-gutter", length=7000.0, outlets=((2333.0, 100.0), (6600.0, 100.0)), tapers=fall))
    assert result.ok and result.max_gap < 1e-6
    found = []
    for piece in result.pieces:
        for hole in piece.pattern.holes:
            xs, ys = [p[0] for p in hole], [p[1] for p in hole]
            folds = {fold.id: fold for fold in piece.pattern.folds}
            x = (max(xs) + min(xs)) / 2
            heights = [fold.a[1] + (fold.b[1] - fold.a[1]) * (x - fold.a[0]) / (fold.b[0] - fold.a[0]) for fold in (folds["f2"], folds["f3"])]
            assert (max(ys) + min(ys)) / 2 == pytest.approx(sum(heights) / 2, abs=0.6), "half way between the bottom's folds"
            found.append(piece.start + x)
    assert found == pytest.approx([2333.0, 6600.0], abs=1.0 if fall else 1e-6)  # a slant of 35 in 7,000 turns the sheet
    for joint in (piece.start for piece in result.pieces[1:]):
        assert all(abs(joint - place) > 100.0 for place in (2333.0, 6600.0))


@pytest.mark.parametrize(("given", "says"), [
    ({"outlets": ((1000.0, 110.0),)}, "outlet: found 110.0 mm, the bottom takes at most 104.0 mm"),
    ({"outlets": ((7290.0, 80.0),)}, "outlets: found one at 7\u00a0290.0 mm, expected a place on the run of 7\u00a0300.0 mm")])
def test_outlets_that_cannot_be_are_said(given, says):
    result = develop(made("box-gutter", **given))
    assert not result.ok and result.findings[0].says().startswith(says)
    assert "expected a gutter" in develop(made("coping", outlets=((500.0, 80.0),))).findings[0].says()
    assert not develop(made("round-gutter", outlets=((500.0, 140.0),))).ok, "the rim of its flange would be over the side"


@pytest.mark.parametrize("kinks", [4, 9])
@pytest.mark.parametrize("wide", [80.0, 110.0])
def test_an_outlet_of_a_half_round_is_marked_so_that_it_is_round_from_below(kinks, wide):
    """Each marked place rolled up again round 75 mm: from below all of them lie on the circle."""
    result = develop(made("round-gutter", length=5000.0, kinks=kinks, outlets=((1200.0, wide), (4000.0, wide))))
    assert result.ok
    for piece, at in zip(result.pieces, (1200.0, 4000.0), strict=True):
        lines = [mark for mark in piece.pattern.marks if math.dist(mark.a, mark.b) < 40.0 and abs(mark.a[0] + piece.start - at) < wide]
        folds = [fold.a[1] for fold in piece.pattern.folds if fold.kind == "fold"]
        middle = (max(folds) + min(folds)) / 2
        assert len(lines) == 24 and sum("cut in the ready gutter" in mark.text for mark in lines) == 1
        for mark in lines:
            down = 75.0 * math.sin((mark.a[1] - middle) / 75.0)
            assert math.hypot(mark.a[0] + piece.start - at, down) == pytest.approx(wide / 2, abs=0.01)


def test_long_gutters_want_expansion_joints():
    said = [f.says() for f in develop(made("box-gutter", length=26_000.0)).findings]
    assert any("2 expansion joints" in text for text in said)
    assert not any("expansion" in f.says() for f in develop(made("box-gutter", length=11_900.0)).findings)
