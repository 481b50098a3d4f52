"""What comes with a trim: cleats, closures, counterflashings, twins; their joints, ends and costs."""

from __future__ import annotations

import numpy as np
import pytest

from samples import COVERAGE_ONLY
from yattle.derive import derive
from yattle.derive.compare import questions, variants
from yattle.derive.corners import beside_edge, crease_frame
from yattle.derive.layers import schools_of
from yattle.derive.roof_runs import roof_runs, run_of, with_run
from yattle.details.free import Mitre
from yattle.details.run_ends import section_corners
from yattle.details.schools import SCHOOLS, USUAL, Schools, schools_for
from yattle.job import Job, demo_path, load
from yattle.job.model import Run
from yattle.roof.at_edge import sides
from yattle.roof.panels import seams_of
from yattle.roof.starts import STARTS, with_part

DEMO = load(demo_path())


def layers(job, run_id):
    return {run.run.id.partition(".")[2]: run for run in derive(job).runs if run.run.id.startswith(run_id + ".")}


def test_the_usual_layers_of_the_demo():
    assert set(layers(DEMO, "G1")) == {"k"} and layers(DEMO, "G1")["k"].family.name == "cleat"
    assert set(layers(DEMO, "R1")) == {"z1", "z2"} and set(layers(DEMO, "W1")) == {"c", "z1"}
    assert set(layers(DEMO, "S1")) == {"c", "k"} and set(layers(DEMO, "S3")) == {"c"}, "no seam to hook on by a sandwich"
    assert not layers(DEMO, "R4") and not layers(DEMO, "E1") and not layers(DEMO, "V1")
    assert not [f for run in derive(DEMO).runs if run.run.layer for f in run.findings if f.level == "stop"]


def test_closures_fill_every_gap_between_the_seams():
    """Over the whole ridge: gaps and the seams' own width make up its length, each closure shorter by the clearance."""
    found = next(r for r in roof_runs(DEMO) if r.run.id == "R1")
    roof = derive(DEMO).roof
    for n, face in enumerate(found.edge.facets, 1):
        closure = layers(DEMO, "R1")[f"z{n}"]
        seams = seams_of(roof, face, DEMO.panel_rule(face)).on(found.edge)
        assert sum(piece.pattern.qty for piece in closure.pieces) == len(seams) + 1
        filled = sum(gap * count for gap, count in closure.run.gaps) + len(seams) * DEMO.panel_rule(face).seam
        assert filled == pytest.approx(found.edge.length, abs=0.1 * len(seams))
        assert {round(p.share + 6, 1) for p in closure.pieces} == {gap for gap, _ in closure.run.gaps}


def test_side_tabs_and_folded_pans():
    tabs = with_run(DEMO, "R1", schools=Schools(closures="tabs"))
    piece = layers(tabs, "R1")["z1"].pieces[0]
    assert [fold.by for fold in piece.pattern.folds].count("tongs") == 2 and piece.hand == "both corners"
    assert not layers(with_run(DEMO, "R1", schools=Schools(closures="folded")), "R1")
    vented = layers(with_run(DEMO, "R1", schools=Schools(ridge="vented")), "R1")["z1"]
    assert vented.detail.profile.legs[1] == 58.0


def test_end_flaps_by_tongs_or_by_brake():
    """By brake the flaps may be deep, but the piece goes in end on: the throat says how long it can be."""
    by_brake = with_run(DEMO, "E1", schools=Schools(flaps="brake"))
    piece = derive(by_brake).run("E1").pieces[0]
    assert {fold.by for fold in piece.pattern.folds} == {"brake"} and piece.proof.max_gap < 1e-6
    assert piece.ends[0].says().endswith("by brake")
    said = [f.says() for f in derive(by_brake).run("E1").findings]
    assert any("end flaps by brake" in text and "takes 450" in text for text in said)
    assert not any("end flaps" in f.says() for f in derive(DEMO).run("E1").findings)
    deep = with_run(by_brake, "E1", own=by_brake.own.but(wrap=80.0))
    assert not any("deeper than ordinary tongs" in f.says() for f in derive(deep).run("E1").findings)


def test_a_seam_higher_than_its_closure_is_said():
    job = load(COVERAGE_ONLY).but(own=DEMO.own.but(seam_height=50.0))
    said = [f.says() for run in derive(job).runs if run.run.gaps for f in run.findings]
    assert said and all("stands higher than the closure" in text for text in said)


def test_closures_at_a_hip_are_cut_along_the_seams():
    job = Job(name="hip", roof=STARTS["hip"])
    found = next(r for r in roof_runs(job) if r.edge.kind == "hip")
    closure = layers(job, found.run.id)["z1"]
    roof, face = derive(job).roof, found.edge.facets[0]
    frame, _ = beside_edge(roof, found.edge, face)
    plane = roof.facet(face).plane
    fall = np.array([*plane.fall, 0.0])
    fall = frame @ (fall - np.array(plane.normal) * float(fall @ np.array(plane.normal)))
    normal = np.array(closure.run.left_plane)
    assert abs(normal @ fall) < 1e-9 and abs(normal[0]) < 0.9, "the seam lies in the plane of the cut"
    assert abs(normal[2]) < 1e-9, "which stands square on the face"
    assert closure.pieces[0].proof.max_gap < 1e-6


@pytest.mark.parametrize("ends", [35.0, 50.0])
def test_receivers_of_a_hip_stand_back_to_back(ends):
    """On each face a receiver: its base on the plane, its back plumb on the hip's line, whatever the pitches."""
    job = Job(name="hip", roof=with_part(STARTS["hip"], "main", pitch_ends=ends))
    found = next(r for r in roof_runs(job) if r.edge.kind == "hip")
    job = with_run(job, found.run.id, detail="hip-receiver")
    both = [derive(job).run(found.run.id), layers(job, found.run.id)["r"]]
    roof, frame = derive(job).roof, crease_frame(found.edge)
    for run, face, sign in zip(both, sides(roof, found.edge), (1.0, -1.0), strict=True):
        corners = section_corners(run.detail.profile, run.detail.heading, 1)
        base = corners[1] - corners[0]
        normal = frame @ np.array(roof.facet(face).plane.normal)
        assert abs(base @ np.array([sign * normal[1], normal[2]])) < 1e-9, "the base lies on its plane"
        assert abs((corners[2] - corners[1])[0]) < 1e-9, "the back is square to level across the hip"
        assert run.pieces and max(p.proof.max_gap for p in run.pieces) < 1e-6


def test_joints_of_stacked_layers_keep_apart():
    job = load(demo_path())
    run, counter = derive(job).run("W2"), layers(job, "W2")["c"]
    joints = [p.start for p in run.pieces[1:]]
    assert joints and all(abs(p.start - j) >= 199.999 for p in counter.pieces[1:] for j in joints)
    assert sum(p.share for p in counter.pieces) == pytest.approx(run.run.length)
    loose = job.but(own=job.own.but(stagger=0.0))
    assert [p.start for p in layers(loose, "W2")["c"].pieces] == [p.start for p in derive(loose).run("W2").pieces]


def test_heads_of_valleys_meet_and_are_carried_over():
    """Two valleys below a dormer's ridge: their heads are cut by the one plumb plane over that ridge."""
    roof = derive(DEMO).roof
    pair = [r for r in roof_runs(DEMO) if r.run.id in ("V3", "V4")]
    ridge = next(r for r in roof_runs(DEMO) if r.run.name == "dormer" and r.edge.kind == "ridge").edge
    along = np.array(ridge.b) - ridge.a
    for found in pair:
        planes = found.run.right_plane, found.run.right_plane_b or found.run.right_plane
        for plane in planes:
            normal = np.array(plane) @ crease_frame(found.edge)
            assert abs(normal[2]) < 1e-9 * np.linalg.norm(normal) + 1e-9, "plumb"
            assert abs(normal @ along) < 1e-6 * np.linalg.norm(normal) * np.linalg.norm(along), "along the ridge"
    piece = derive(DEMO).run("V3").pieces[-1]
    assert {mark.text for mark in piece.pattern.marks} >= {"dress over", "panel line"}
    assert any(term.what.startswith("dress over") and term.amount == 50 for term in piece.ledger.terms)
    assert roof.facets


def test_the_foot_of_a_valley_turns_under_the_eaves():
    run = derive(DEMO).run("V1")
    foot = run.pieces[0]
    assert {m.text for m in foot.pattern.marks} >= {"turn under"} and foot.proof.max_gap < 1e-6
    assert any(t.what == "turn under left" and t.amount == 25 for t in foot.ledger.terms)
    without = derive(DEMO.but(own=DEMO.own.but(under=0.0))).run("V1").pieces[0]
    assert foot.pattern.length - without.pattern.length == pytest.approx(25.0)


def test_a_mitre_typed_on_an_edge_goes_before_the_roof_s():
    job = with_run(DEMO, "G1", mitre_right=Mitre(way="elevation", angle=40.0))
    run = derive(job).run("G1")
    assert run.pieces[-1].ends[1].kind == "cut" and run.pieces[-1].proof.max_gap < 1e-6
    assert derive(DEMO).run("G1").pieces[-1].ends[1].kind == "tabs"


def test_a_valley_opens_downslope():
    """10 mm for each metre: half of it on either side of the rib."""
    run = derive(DEMO).run("V1")
    lines = [m for p in run.pieces for m in p.pattern.marks if m.text == "panel line"]
    assert len(lines) == 2 * len(run.pieces)
    for piece in run.pieces:
        above, below = [m for m in piece.pattern.marks if m.text == "panel line"]
        leans = [(mark.b[1] - mark.a[1]) / (mark.b[0] - mark.a[0]) for mark in (above, below)]
        assert leans[1] - leans[0] == pytest.approx(10 / 1000), "the left end is the low one"


def test_every_school_has_its_words_and_its_cost():
    for name, school in SCHOOLS.items():
        assert getattr(USUAL, name) == next(iter(school.choices)) and all(c.says for c in school.choices.values())
    job = DEMO.but(runs=(Run(id="F1", kind="free", detail="coping", length=3000.0),))
    asked = {q for run in derive(job).own_runs for q in questions(job, run.run.id)}
    assert asked == {"detail", *SCHOOLS}
    for run_id, question in (("R1", "closures"), ("G1", "rake_under"), ("V1", "detail"), ("W1", "counter")):
        found = variants(DEMO, run_id, question)
        assert sum(v.chosen for v in found) == 1 and len({v.cost for v in found}) > 1
    folded = next(v for v in variants(DEMO, "R1", "closures") if v.key == "folded")
    square = next(v for v in variants(DEMO, "R1", "closures") if v.key == "square")
    assert folded.cost.sealed == 0 < square.cost.sealed and folded.cost.pieces < square.cost.pieces


def test_a_run_s_school_goes_before_the_job_s():
    job = DEMO.but(schools=Schools(rake_under="zed"))
    assert schools_of(run_of(job, "G1"), job.schools).rake_under == "zed"
    own = with_run(job, "G1", schools=Schools(rake_under="none"))
    assert not layers(own, "G1") and layers(own, "G2")["k"].family.name == "closure"
    assert schools_for("eave-drip") == ("joint", "flaps", "eave_vent")
    boxed = derive(DEMO.but(schools=Schools(rake_end="box"))).run("G2").pieces[0]
    assert [fold.by for fold in boxed.pattern.folds].count("tongs") == 2


def test_a_plain_lap_leaves_its_hems_whole():
    plain = derive(DEMO.but(schools=Schools(joint="plain"))).run("E1").pieces[1]
    nested = derive(DEMO).run("E1").pieces[1]
    assert len(plain.pattern.outline) < len(nested.pattern.outline)
    assert "two beads and rivets" in plain.ends[1].says() and plain.proof.max_gap < 1e-6


def test_an_edit_of_a_layer_goes_to_its_run():
    job = with_run(DEMO, "R1.z1", own=DEMO.own.but(closure_height=44.0))
    assert run_of(job, "R1").own.closure_height == 44.0 and layers(job, "R1")["z2"].detail.profile.legs[1] == 44.0


@pytest.mark.parametrize("name", ["sail-loft", "net-shed"])
def test_a_rake_s_flange_covers_the_zed_under_it(name):
    """Foot and top together: 60 mm are as wide as the flange, 2.5 in are 1/8 in more."""
    job = load(demo_path(name))
    derived = derive(job.but(schools=job.schools.but(rake_under="zed")))
    zeds = [run for run in derived.runs if run.run.layer == "zed" and run.run.kind == "rake" and run.pieces]
    assert zeds
    for zed in zeds:
        flange = derived.run(zed.run.id.partition(".")[0]).detail.profile.legs[0]
        assert flange >= zed.detail.profile.legs[0] + zed.detail.profile.legs[2] - 1e-6
