"""The demo's openings with their pieces: measures from the roof, choices kept in the job, on the coil and on paper."""

from __future__ import annotations

import math

import pytest

from yattle.derive import derive
from yattle.derive.laying import lay_faces
from yattle.derive.names import short_name
from yattle.derive.openings import with_choice, with_own
from yattle.details.all_forms import FORMS, FREE
from yattle.errors import InputError
from yattle.job import Job, demo_path, load
from yattle.job.model import OpeningNote
from yattle.papers.tables import cut_list
from yattle.roof.build import build
from yattle.roof.model import BoxOpening, PipeOpening, RoofPlan
from yattle.roof.panels import PanelRule
from yattle.roof.starts import STARTS, with_part

DEMO = load(demo_path())
ALONE = DEMO.but(roof=RoofPlan(), openings=())


def opening(job, name):
    return derive(job).opening(name)


def test_forms_take_their_measures_from_the_roof():
    chimney, vent = opening(DEMO, "chimney"), opening(DEMO, "vent pipe")
    assert (chimney.form.across, chimney.form.pitch, chimney.form.turned) == (920.0, 35.0, 0.0)
    assert chimney.form.with_cricket == "two" and vent.form.diameter == 110.0
    assert vent.form.coverage == DEMO.panels.coverage
    assert 0 <= vent.form.from_seam < vent.form.coverage
    assert max(piece.proof.max_gap for o in derive(DEMO).openings for piece in o.pieces) < 1e-3


def test_a_chimney_moved_onto_the_ridge_or_turned():
    over = opening(DEMO.but(roof=with_part(DEMO.roof, "chimney", y=0.0)), "chimney")
    assert over.form.meets.kind == "ridge" and {p.pattern.name for p in over.pieces} >= {"apron", "apron, far side"}
    turned = opening(DEMO.but(roof=with_part(DEMO.roof, "chimney", bearing=30.0)), "chimney")
    assert abs(turned.form.turned) == pytest.approx(30.0) and turned.pieces
    square = opening(DEMO.but(roof=with_part(DEMO.roof, "chimney", bearing=90.0)), "chimney")
    assert square.form.turned == 0.0 and (square.form.across, square.form.along) == (610.0, 920.0)


def test_what_cannot_be_flashed_is_a_finding():
    over = opening(DEMO.but(roof=with_part(DEMO.roof, "fan curb", bearing=30.0)), "fan curb")
    assert not over.pieces and "turned" in over.findings[0].says()
    wide = DEMO.but(roof=with_part(DEMO.roof, "vent pipe", diameter=700.0))
    assert "narrower than its pan" in opening(wide, "vent pipe").findings[0].says()
    assert any(run == "vent pipe" for run, _ in derive(wide).findings)


@pytest.mark.parametrize("given", [{"across": 20000.0}, {"along": 9000.0}, {"y": -5000.0}], ids=str)
def test_a_chimney_wider_than_the_roof_or_off_it_is_refused_with_its_corner(given):
    with pytest.raises(InputError, match="off the roof") as wrong:
        _ = derive(DEMO.but(roof=with_part(DEMO.roof, "chimney", **given))).roof
    assert "chimney" in str(wrong.value)


def test_a_chimney_across_a_hip_and_a_pipe_across_a_ridge_are_refused():
    hipped = STARTS["hip"]
    edge = next(edge for edge in build(hipped).edges if edge.kind == "hip")
    x, y = ((a + b) / 2 for a, b in zip(edge.a[:2], edge.b[:2], strict=True))
    astride = hipped.but(openings=(BoxOpening(id="stack", kind="chimney", x=x, y=y, across=500.0, along=500.0),))
    job = DEMO.but(roof=astride, runs=(), taped=(), edges=(), faces=(), openings=())
    said = opening(job, "stack").findings[0].says()
    assert "stack across a hip" in said and "a place on one face" in said
    ridge = opening(DEMO.but(roof=with_part(DEMO.roof, "vent pipe", y=0.0)), "vent pipe")
    assert not ridge.pieces and "across ridge" in ridge.findings[0].says()


def beside_the_wing_s_valley(name, dx, **given):
    edge = next(edge for edge in build(DEMO.roof).edges if edge.kind == "valley")
    x, y = ((a + b) / 2 for a, b in zip(edge.a[:2], edge.b[:2], strict=True))
    return opening(DEMO.but(roof=with_part(DEMO.roof, name, x=x + dx, y=y, **given)), name)


@pytest.mark.parametrize(("dx", "meets", "says"), [
    (-900.0, False, ""), (-700.0, False, "under a flange"), (-400.0, True, "a valley runs into it"),
    (300.0, True, "a valley runs into it"), (450.0, False, "59 mm from a corner"), (700.0, False, "under a flange"),
    (800.0, False, "")])
def test_a_chimney_by_a_valley_is_flashed_through_it_clear_of_it_or_refused(dx, meets, says):
    found = beside_the_wing_s_valley("chimney", dx, across=600.0, along=500.0)
    said = [finding.says() for finding in found.findings if "a seam " not in finding.text]
    assert says in "".join(said) and bool(said) == bool(says)
    assert any("through the valley" in piece.pattern.name for piece in found.pieces) == meets
    assert bool(found.pieces) == (meets or not says)


def test_a_curb_s_flange_in_a_valley_s_water_is_told_how_far_to_move():
    near, far = (beside_the_wing_s_valley("fan curb", dx) for dx in (-800.0, -1100.0))
    said = next(f for f in near.findings if "valley" in f.says())
    short = float(said.reason().split("move the curb ")[1].split(" mm")[0])
    away = float(said.says().split(" mm from the valley")[0])
    assert away + short == pytest.approx(max(near.form.upper, near.form.lower, near.form.side) + 100, abs=1.1)
    assert not any("valley" in finding.says() for finding in far.findings)


def test_choices_are_kept_and_taken_back():
    job = with_choice(DEMO, "vent pipe", "school", "boot")
    assert {p.pattern.name for p in opening(job, "vent pipe").pieces} == {"base plate", "boot"}
    assert load_again(job) == job
    assert with_choice(job, "vent pipe", "school", None) == DEMO
    low = opening(with_choice(DEMO, "chimney", "counter", "none"), "chimney")
    assert not [p for p in low.pieces if p.pattern.name.startswith("counter")]


def load_again(job):
    return type(job).model_validate_json(job.model_dump_json())


def test_its_pieces_are_cut_with_the_rest():
    derived = derive(DEMO)
    ids = {pattern.id for pattern in derived.patterns}
    assert "CHIM-1" in ids and len(ids) == len(derived.patterns)
    placed = {place.part for place in derived.nest.placements}
    assert "CHIM-1" in placed and "CHIM-1,chimney,apron" in cut_list(derived)


def test_a_seam_beside_a_chimney_s_side_flange_is_told():
    """Panels laid from a start of one's own, so that a seam stands 60 left of it; where the best start is worked out it is clear."""
    def looks(job):
        return [found.says() for name, found in derive(job).findings if name == "chimney" and "beside the chimney" in found.text]
    rule, place = DEMO.panel_rule("loft.1"), opening(DEMO, "chimney").form.from_seam
    start = (derive(DEMO).panels["loft.1"].start + place - 60.0) % rule.coverage
    assert looks(DEMO) == []
    assert looks(DEMO.with_panels("loft.1", rule.but(start=start))) == ["a seam 60 mm beside the chimney"]


def pipes(*names):
    """The demo with a pipe of each name beside its own openings."""
    more = tuple(PipeOpening(id=name, kind="pipe", x=-8000.0 + 400.0 * n, y=3000.0, diameter=60.0) for n, name in enumerate(names))
    return DEMO.but(roof=DEMO.roof.but(openings=(*DEMO.roof.openings, *more)))


def test_short_names_are_each_there_once():
    """Two of the same initials, of the same first letters, named like a run or a corner, and pieces of their own past the ninth: two
    patterns of one name would be one file, and one of them lost."""
    names = ("vent port", "flue 1", "flue 12", "chimneys", "E1", "R2V1", "vent plate")
    job = pipes(*names)
    for _ in range(12):
        job, _ = with_own(job)
    derived = derive(job)
    assert [short_name(job, name) for name in ("vent pipe", "chimney", "fan curb")] == ["VP", "CHIM", "FC"], "the first keep theirs"
    assert [short_name(job, name) for name in ("vent port", "vent plate", "flue 1", "flue 12", "chimneys")] == ["VPb", "VPc", "F1", "F12", "CHIMb"]
    assert short_name(job, "E1") == "E1b" and short_name(job, "piece 1") == "P1" and short_name(job, "piece 12") == "P12"
    ids = [pattern.id for pattern in derived.patterns]
    assert len(ids) == len(set(ids)) and {"E1b-1", "VPb-1", "CHIMb-1"} <= set(ids)


def corner(derived, *kinds):
    return next(found for found in derived.openings if found.kind == " · ".join(kinds))


def test_the_roof_s_corners_get_their_pieces():
    derived = derive(DEMO)
    cap = corner(derived, "ridge", "valley", "valley")
    assert cap.detail == "dormer-ridge" and cap.form.main == pytest.approx(35.0) and len(cap.pieces) == 2
    assert cap.form.ways == pytest.approx((180.0, 0.0, -90.0)) and cap.pieces[0].proof.max_gap < 1e-6
    eaves = corner(derived, "eave", "eave", "valley")
    assert eaves.detail == "none" and not eaves.pieces
    job = with_choice(DEMO, eaves.id, "made", "gutter-corner")
    made = derive(job).opening(eaves.id)
    assert (made.form.corner, made.form.turn) == ("inner", pytest.approx(90.0, abs=0.01)) and len(made.pieces) == 2
    assert {p.pattern.id for p in made.pieces} <= {pattern.id for pattern in derive(job).patterns}
    assert load_again(job) == job
    assert not derive(with_choice(DEMO, cap.id, "made", "none")).opening(cap.id).pieces


@pytest.mark.parametrize("bearing", [0.0, 25.0, 90.0])
def test_a_hipped_roof_gets_a_cap_where_three_edges_meet(bearing):
    """At both ends of the ridge, however the house stands; its pitches are those of the planes, left and right kept."""
    plan = STARTS["hip"]
    house = plan.blocks[0].but(bearing=bearing, pitch=30.0, pitch_right=40.0, pitch_ends=50.0)
    derived = derive(DEMO.but(roof=plan.but(blocks=(house,)), runs=(), taped=(), edges=(), faces=(), openings=()))
    caps = [found for found in derived.openings if found.detail == "three-way-cap"]
    assert len(caps) == 2 and all(cap.pieces[0].proof.max_gap < 1e-6 for cap in caps)
    assert sorted((round(cap.form.left), round(cap.form.right)) for cap in caps) == [(30, 40), (40, 30)]
    assert all(cap.form.end == pytest.approx(50) and cap.form.ways == pytest.approx((180.0, 0.0, -90.0)) for cap in caps)


def test_where_eaves_meet_at_a_hip_the_gutter_goes_round_an_outer_corner():
    derived = derive(DEMO.but(roof=STARTS["hip"], runs=(), taped=(), edges=(), faces=(), openings=()))
    outer = [found for found in derived.openings if found.kind == "eave · eave · hip"]
    assert len(outer) == 4
    job = with_choice(derived.job, outer[0].id, "made", "gutter-corner")
    form = derive(job).opening(outer[0].id).form
    assert form.corner == "outer" and form.turn == pytest.approx(90.0, abs=0.01)


def test_templates_are_printed_and_not_cut():
    job = with_choice(DEMO, "chimney", "school", "folded")
    folded = derive(job).opening("chimney")
    paper = {piece.pattern.id for piece in folded.pieces if piece.paper}
    assert len(paper) == 2 and not paper & {pattern.id for pattern in derive(job).patterns}


def test_a_pipe_by_a_valley_is_told_how_far_to_move():
    valley = next(edge for edge in derive(DEMO).roof.edges if edge.id == "V1")
    (ax, ay, _), (bx, by, _) = valley.a, valley.b
    size = math.hypot(bx - ax, by - ay)
    middle = (ax + bx) / 2, (ay + by) / 2
    at = [middle[0] - (by - ay) / size * 200, middle[1] + (bx - ax) / size * 200]  # 200 mm square off its middle
    said = opening(DEMO.but(roof=with_part(DEMO.roof, "vent pipe", x=at[0], y=at[1])), "vent pipe").findings
    near = next(finding for finding in said if "valley V1" in finding.text)
    assert near.says().startswith("200 mm") and "move the pipe 56 mm" in near.reason()  # 61 bore + 95 plate + 100 − 200
    assert not [f for f in opening(DEMO, "vent pipe").findings if "valley" in f.text]


@pytest.mark.parametrize(("of", "school"), [("vent pipe", ""), ("vent pipe", "split"), ("fan curb", ""), ("chimney", ""),
                                            ("chimney", "folded")])
def test_a_word_in_the_place_of_any_measure_is_said_at_the_opening_and_stops_nothing_else(of, school):
    whole = derive(DEMO)
    form = type(whole.opening(of).form)
    measures = [name for name, field in form.model_fields.items() if isinstance(field.default, float)]
    assert len(measures) > 5
    for name in measures:
        own = ((name, "wide"), *((("school", school),) if school else ()))
        derived = derive(DEMO.but(openings=(OpeningNote(of=of, own=own),)))
        found = derived.opening(of)
        assert not found.pieces and any(one.level == "stop" and "wide" in one.says() for one in found.findings), name
        assert len(derived.runs) == len(whole.runs) and lay_faces(derived.job, derived.roof)


@pytest.mark.parametrize("made", FREE)
@pytest.mark.parametrize("given", ["wide", 2.5])
def test_a_word_or_a_broken_number_in_the_place_of_a_count_is_said_at_the_piece(made, given):
    counts = [name for name, field in FORMS[made].model_fields.items() if field.annotation is int]
    for name in counts:
        note = OpeningNote(of="piece 1", own=(("made", made), (name, given)))
        found = opening(ALONE.but(openings=(note,)), "piece 1")
        assert not found.pieces and any(one.level == "stop" and str(given) in one.says() for one in found.findings), name


@pytest.mark.parametrize(("off", "told"), [(6, True), (90, True), (200, False)])
@pytest.mark.parametrize("hand", [1, -1])
def test_a_seam_beside_a_chimney_over_the_ridge_is_told_whichever_face_it_stands_on(off, hand, told):
    """By hand: laid so that the seams of both faces are 800 mm apart and go on over the ridge in line; the chimney is 400 mm wide and
    placed ``off`` mm beside one of them."""
    house = STARTS["gable"].blocks[0]
    edge = house.length / 2 + house.rake_overhang
    rule = PanelRule(coverage=800.0, start=edge % 400.0, height=25.0, fill="zed")
    seam = hand * (edge % 400.0 + 800.0 * 8 - edge)
    stack = BoxOpening(id="stack", kind="chimney", x=house.x + seam + hand * (off + 200.0), y=house.y, across=400.0, along=400.0)
    found = opening(Job(name="x", roof=RoofPlan(blocks=(house,), openings=(stack,)), panels=rule), "stack")
    said = [one for one in found.findings if "beside the chimney" in one.says()]
    assert found.form.meets.kind == "ridge" and bool(said) is told
    assert not told or said[0].lengths[0] == pytest.approx(off, abs=1.0)
