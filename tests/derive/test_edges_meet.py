"""Where edges meet: section, cut, lap and order come from the planes beside the edge, by vector algebra."""

from __future__ import annotations

import math

import numpy as np
import pytest

from plans import flat, gable, hip, plan, shed, wild
from yattle.derive import derive
from yattle.derive.corners import run_frame
from yattle.derive.on_roof import on_roof
from yattle.derive.roof_runs import roof_runs
from yattle.derive.run import common_of, detail_of
from yattle.details.run_ends import part_ends, section_corners
from yattle.errors import InputError
from yattle.install.installation import installation
from yattle.job import Job
from yattle.roof.at_edge import comes_to, sides
from yattle.roof.panels import PanelRule

WING = {"x": 2000.0, "y": -5000.0, "bearing": 90.0, "length": 10000.0, "span": 6000.0}


def job_of(*blocks, **more):
    return Job(name="edges", roof=plan(*blocks), **more)


def runs_of(job, kind):
    return [found for found in roof_runs(job) if found.edge.kind == kind]


def ends_in_space(job, found, side):
    """Where each flat part of a run ends in the roof's own space, without hems: (part, on its two mould lines, 3)."""
    derived = derive(job)
    made = derived.run(found.run.id)
    detail = detail_of(found.run, made.family, made.standard, common_of(job))
    sheet, profile = detail.sheet(), made.detail.profile
    left, right, frame = run_frame(derived.roof, found.edge)
    parts = np.array(part_ends(detail, sheet, profile, side))
    corners = section_corners(profile, sheet.heading, sheet.datum, sheet.crossing)
    at = left if side == "left" else right
    places = [[at + np.array([parts[k][n], *corners[k + n]]) @ frame for n in (0, 1)] for k in range(len(parts))]
    first = 1 if profile.hem_a else 0
    return np.array(places[first:len(places) - (1 if profile.hem_b else 0)])


def lies(job, found):
    gap = on_roof(derive(job).roof, found, derive(job).run(found.run.id))
    return gap is not None and gap.max_gap < 1e-6


# -- pitch breaks ---------------------------------------------------------------------------------

MAIN = gable("main", pitch=40.0, span=9000.0)
DORMER = shed("dorm", y=-2200.0, length=3000.0, span=2600.0, eave=6300.0, pitch=12.0, rake_overhang=150.0,
              eave_overhang=150.0)
LOWER = shed("low", y=-3500.0, span=3000.0, length=6000.0, eave=2000.0, pitch=45.0, rake_overhang=0.0, eave_overhang=0.0)
UPPER = shed("up", y=-500.0, span=3000.0, length=6000.0, eave=5000.0, pitch=15.0, rake_overhang=0.0, eave_overhang=0.0)


def test_a_shed_dormer_s_head_lies_under_the_main_roof_s_panels():
    """The dormer's middle lies higher than much of the main face: which is upper is told at the edge."""
    job = job_of(MAIN, DORMER)
    (found,) = runs_of(job, "pitch-break")
    fit = installation(derive(job))
    over = {(lap.over, lap.under) for lap in fit.laps}
    assert ("panels main.2", found.run.id) in over and (found.run.id, "panels dorm.1") in over
    assert not fit.order.troubles and all(p.over for p in fit.water.passages)


@pytest.mark.parametrize("blocks", [(LOWER, UPPER), (UPPER, LOWER)], ids=["lower first", "upper first"])
def test_shallow_over_steep_folds_toward_the_back_in_any_order_of_entry(blocks):
    job = job_of(*blocks)
    (found,) = runs_of(job, "pitch-break")
    made = derive(job).run(found.run.id)
    assert found.run.pitch == pytest.approx(15) and found.run.lower_pitch == pytest.approx(45)
    assert made.detail.profile.turns == pytest.approx((-30,)) and made.pieces and lies(job, found)
    assert [derive(job).roof.facet(face).block for face in sides(derive(job).roof, found.edge)] == ["up", "low"]
    closures = derive(job).run(f"{found.run.id}.z1")
    under = {lap.under for lap in installation(derive(job)).laps if lap.over == closures.run.id}
    assert under == {"panels low.1"}


def test_steep_over_shallow_folds_toward_the_paint():
    job = job_of(MAIN, DORMER)
    (found,) = runs_of(job, "pitch-break")
    assert derive(job).run(found.run.id).detail.profile.turns == pytest.approx((28,)) and lies(job, found)


# -- rakes ------------------------------------------------------------------------------------------


@pytest.mark.parametrize("right", [35.0, 36.0, 45.0, 20.0])
def test_rakes_of_unequal_pitches_meet_at_the_peak(right):
    job = job_of(gable("main", pitch=35.0, pitch_right=right))
    heads = [ends_in_space(job, found, "left" if found.run.left_plane else "right") for found in runs_of(job, "rake")]
    assert len(heads) == 4
    for n, one in enumerate(heads):
        assert min(np.abs(one - other).max() for m, other in enumerate(heads) if m != n) < 1e-6


def test_a_rake_s_head_is_cut_by_the_wall_or_over_the_top_edge():
    job = job_of(shed("lean", y=-5250.0, span=2500.0, top_overhang=0.0), gable("main"))
    wall = derive(job).roof
    for found in (f for f in runs_of(job, "rake") if wall.facet(f.edge.facets[0]).block == "lean"):
        side = "left" if found.run.left_plane else "right"
        assert np.abs(ends_in_space(job, found, side)[..., 1] + 4000.0).max() < 1e-6
    alone = job_of(shed("one"))
    for found in runs_of(alone, "rake"):
        side = "left" if found.run.left_plane else "right"
        assert np.abs(ends_in_space(alone, found, side)[..., 1] - (1200.0 + 300.0)).max() < 1e-6


def test_a_rake_that_does_not_run_along_the_fall_lies_on_its_face():
    """A prow: the face rises toward the rake, so its flange is folded by less than square, and its face hangs plumb."""
    face = {"id": "prow", "outline": [[0.0, 0.0], [5000.0, 0.0], [6500.0, 4000.0], [0.0, 4000.0]], "pitch": 30.0,
            "eave": 0, "eave_height": 3000.0}
    job = Job(name="prow", roof=plan(faces=[face]))
    slanting = max(runs_of(job, "rake"), key=lambda f: abs(f.run.lean))
    normal = np.array(derive(job).roof.facet("prow.1").plane.normal)
    *_, frame = run_frame(derive(job).roof, slanting.edge)
    flange, hanging = section_corners(derive(job).run(slanting.run.id).detail.profile, slanting.run.lean, 1)[[1, 3]]
    assert abs(np.array([0.0, *flange]) @ frame @ normal) < 1e-9 and abs(slanting.run.lean) > 8
    assert abs(hanging[0]) < 1e-9 and lies(job, slanting)


@pytest.mark.parametrize("north", [30.0, 40.0])
def test_the_rakes_of_a_prow_meet_at_its_peak(north):
    """Two faces whose rakes slant out to the ridge: flanges part on the ridge, what hangs on the plumb line under its end;
    of equal pitches corner for corner."""
    far = 4000.0 * math.tan(math.radians(30.0)) / math.tan(math.radians(north))
    faces = [{"id": "south", "outline": [[0.0, -4000.0], [5000.0, -4000.0], [6500.0, 0.0], [0.0, 0.0]], "pitch": 30.0, "eave_height": 3000.0},
             {"id": "north", "outline": [[0.0, 0.0], [6500.0, 0.0], [5000.0, far], [0.0, far]], "pitch": north, "eave": 2,
              "eave_height": 3000.0}]
    job = Job(name="prow", roof=plan(faces=faces))
    slanting = [f for f in runs_of(job, "rake") if abs(f.run.lean) > 3]
    one, other = (ends_in_space(job, f, "left" if f.run.left_plane else "right") for f in slanting)
    ridge = 3000.0 + 4000.0 * math.tan(math.radians(30.0))
    for end in (one, other):
        assert np.abs(end[0][:, 1:] - (0.0, ridge)).max() < 1e-6, "the flange's end lies on the ridge"
        assert np.abs(end[1][:, :2] - (6500.0, 0.0)).max() < 1e-6, "the face's end hangs plumb under its end"
    assert north != 30.0 or np.abs(one - other).max() < 1e-6


# -- walls --------------------------------------------------------------------------------------------

TOWER = gable("tower", x=1000.0, y=-2000.0, length=2000.0, span=1500.0, eave=8500.0)


@pytest.mark.parametrize("bearing", [0.0, 30.0])
def test_a_wall_that_the_roof_falls_against_has_its_pan_under_the_panels(bearing):
    job = job_of(gable("main"), {**TOWER, "bearing": bearing})
    walls = [f for f in roof_runs(job) if f.edge.wall]
    fit = installation(derive(job))
    over = {(lap.over, lap.under) for lap in fit.laps}
    assert len(walls) == 4 and sum(f.run.collects for f in walls) == (1 if bearing == 0 else 2)
    for found in walls:
        made = derive(job).run(found.run.id)
        assert lies(job, found) and made.detail.profile.turns == pytest.approx((found.edge.fold,))
        against = comes_to(derive(job).roof, found.edge, found.edge.facets[0]) > 1e-6
        assert (made.family.name == "back-pan") == against == (found.edge.fold > 90.01)
        assert ((f"panels {found.edge.facets[0]} above", found.run.id) in over) == against
        assert (found.run.id, f"panels {found.edge.facets[0]}") in over, "its foot or its flange over those below"
    assert not fit.order.troubles and all(passage.over for passage in fit.water.passages)


def test_the_corners_of_a_skew_tower_are_wrapped_once_each_and_its_foot_kicks_out():
    job = job_of(gable("main"), {**TOWER, "bearing": 30.0})
    ends = [(f.run.left, f.run.right) for f in runs_of(job, "skew-wall")]
    assert sorted(ends) == [("plain", "plain")] * 2 + [("wall-out", "wall-out")] * 2
    assert all(derive(job).run(f"{f.run.id}.c").run.left in ("wrap", "plain") for f in runs_of(job, "skew-wall"))
    away = [f for f in runs_of(job, "skew-wall") if not f.run.collects]
    assert all(any(run.run.id.startswith(f"{f.run.id}.z") for run in derive(job).runs) for f in away)
    at_eave = job_of(gable("main"), {**TOWER, "bearing": 30.0, "y": -4300.0})
    feet = [end for f in runs_of(at_eave, "skew-wall") for end in (f.run.left, f.run.right)]
    assert feet.count("kick-out") == 2


def test_the_main_roof_goes_on_under_a_higher_wing_s_overhang():
    """Wing eave 400 higher, both 35°: the sidewall runs from the main eave to where the planes meet at the wall."""
    job = job_of(gable("main"), gable("wing", **WING, eave=4600.0))
    rise = 400.0 / math.tan(math.radians(35.0))
    walls = runs_of(job, "sidewall")
    assert [f.edge.length for f in walls] == pytest.approx([(400.0 + rise) / math.cos(math.radians(35.0))] * 2)
    assert sorted(e for f in walls for e in (f.run.left, f.run.right)) == ["kick-out", "kick-out", "plain", "plain"]
    assert len(runs_of(job, "rake")) == 6, "no rake where the overhang hides the main roof"


def test_a_block_wall_to_wall_with_a_higher_one_has_no_overhang_there():
    job = job_of(gable("low", x=-9000.0, length=4000.0), gable("high", length=14000.0, eave=6000.0))
    walls = [f for f in roof_runs(job) if f.edge.wall]
    assert {f.edge.kind for f in walls} == {"sidewall"} and all(abs(f.edge.a[0] + 7000.0) < 1e-6 for f in walls)
    assert sum(f.edge.length for f in walls) == pytest.approx(2 * 4000.0 / math.cos(math.radians(35.0)))
    for found in walls:  # over the low roof's peak both are cut by one plumb plane
        ends = ends_in_space(job, found, "left" if found.run.left_plane else "right")
        assert np.abs(ends[..., 1]).max() < 1e-6


# -- feet and heads of creases -------------------------------------------------------------------------


@pytest.mark.parametrize("pitch", [20.0, 30.0, 35.0, 40.0])
@pytest.mark.parametrize("overhang", [0.0, 40.0])
def test_each_side_of_a_valley_ends_over_its_own_eave_line(pitch, overhang):
    """Of unequal pitches, with one overhang: the lower eave lies further down the valley, and that side goes on."""
    job = job_of(gable("main"), gable("wing", **WING, pitch=pitch), panels=PanelRule(overhang=overhang))
    roof = derive(job).roof
    for found in runs_of(job, "valley"):
        ends = ends_in_space(job, found, "left")
        for face, part in zip(sides(roof, found.edge), (ends[0], ends[-1]), strict=True):
            wing = roof.facet(face).block == "wing"
            flat_out = overhang * roof.facet(face).plane.normal[2]
            eave = 3000.0 + 400.0 + flat_out if wing else 4000.0 + 400.0 + flat_out
            assert np.abs(abs(part[:, 0] - 2000.0 if wing else part[:, 1]) - eave).max() < 1e-6
        assert derive(job).run(found.run.id).detail.max_gap < 1e-6
    assert not [f for f in runs_of(job, "rake") if f.edge.length < 400]


def test_trims_reach_the_panels_foot_and_say_so():
    """Panels 40 past the eave of a hip of 30°: 40·cos 30° in plan is that over cos 45° along the hip in plan."""
    for overhang in (0.0, 40.0, 65.0):
        job = job_of(hip("main"), panels=PanelRule(overhang=overhang))
        found = runs_of(job, "hip")[0]
        level = overhang * math.cos(math.radians(30.0)) * math.sqrt(2)
        assert found.run.past == pytest.approx(level / math.cos(math.radians(found.run.slope)))
        terms = [t for piece in derive(job).run(found.run.id).pieces for t in piece.ledger.terms if t.what == "panel overhang"]
        assert [t.amount for t in terms] == pytest.approx([found.run.past] if overhang else [])
    job = job_of(gable("main"), panels=PanelRule(overhang=55.0))
    for found in runs_of(job, "rake"):
        pieces = derive(job).run(found.run.id).pieces
        terms = {t.what: t.amount for t in pieces[-1 if found.run.low == "right" else 0].ledger.terms}
        assert terms["panel overhang"] == pytest.approx(55.0)
        assert sum(p.share for p in pieces) == pytest.approx(found.edge.length), "the edge stays what was surveyed"


@pytest.mark.parametrize("pitch", [25.0, 35.0])
def test_ridge_caps_are_cut_along_both_valleys(pitch):
    """A wing's ridge that dies into the main roof: every wing of its cap ends on a valley, none under the main roof."""
    job = job_of(gable("main"), gable("wing", **WING, pitch=pitch))
    found = next(f for f in runs_of(job, "ridge") if f.run.name == "wing")
    roof = derive(job).roof
    main = roof.facet(runs_of(job, "valley")[0].edge.facets[0]).plane
    side = "right" if found.edge.b[1] > found.edge.a[1] else "left"
    for part in ends_in_space(job, found, side):
        for place in part:
            assert main.z(place[:2]) == pytest.approx(place[2], abs=1e-5)


@pytest.mark.parametrize(("blocks", "count"), [
    ((gable("main"), gable("stem", x=2000.0, y=-6000.0, bearing=90.0, length=12000.0)), 1),
    ((gable("main"), gable("cross", x=2000.0, bearing=90.0, length=16000.0)), 1),
    ((gable("main", x=-4000.0, length=8000.0 + 8000.0), gable("leg", x=0.0, y=-6000.0, bearing=90.0, length=20000.0)), 1)],
    ids=["T", "cross", "off the middle"])
def test_ridges_that_meet_get_a_joint_piece_that_folds_up(blocks, count):
    job = job_of(*blocks)
    joints = [o for o in derive(job).openings if o.detail == "ridge-joint"]
    assert len(joints) == count and all(o.pieces and not o.findings for o in joints)
    assert all(piece.proof.holds for o in joints for piece in o.pieces)
    for found in runs_of(job, "ridge"):  # on the side of a valley each cap is cut along it
        assert derive(job).run(found.run.id).pieces and lies(job, found)


def test_level_eaves_of_unequal_pitch_are_mitred_and_steps_are_no_rakes():
    stepped, level = (job_of(hip("main", pitch_ends=34.0, fascia=fascia)) for fascia in ("own", "level"))
    for found in runs_of(stepped, "rake"):
        made = derive(stepped).run(found.run.id)
        look = next(f for f in made.findings if f.short)
        assert not made.pieces and made.left_out and "level" in look.reason() and look.level == "look"
    assert sum(o.detail == "box" for o in derive(stepped).openings) == 4
    assert not runs_of(level, "rake")
    roof = derive(level).roof
    for found in runs_of(level, "eave"):
        for side in ("left", "right"):
            flange, face = ends_in_space(level, found, side)[:2]
            hips = [e for e in roof.edges if e.kind == "hip"]
            lines = [(np.array(e.a), np.array(e.b)) for e in hips]
            off = [max(abs(np.cross((b - a)[:2], place[:2] - a[:2]) / np.linalg.norm((b - a)[:2])) for place in flange)
                   for a, b in lines]
            assert min(off) < 1e-6, "flanges part over the hip"
            assert face[0][:2] == pytest.approx(face[1][:2], abs=1e-6), "what hangs plumb parts plumb"


# -- laps and low pitches ----------------------------------------------------------------------------------


@pytest.mark.parametrize(("pitch", "lap"), [(35.0, 150.0), (8.0, None), (1.5, 300.0)])
def test_laps_in_the_water_follow_the_slope(pitch, lap):
    job = job_of(gable("main", pitch=pitch), gable("wing", **WING, pitch=pitch))
    found = runs_of(job, "valley")[0]
    wanted = lap or 15.0 / math.sin(math.radians(found.run.slope))
    made = derive(job).run(found.run.id)
    laps = [note.amount for piece in made.pieces for note in piece.ends if note.kind == "under"]
    assert laps and laps == pytest.approx([wanted] * len(laps))
    assert any("do not keep it out" in f.says() for f in made.findings) == (pitch == 1.5)
    eave = derive(job).run(runs_of(job, "eave")[0].run.id)
    assert {n.amount for p in eave.pieces for n in p.ends if n.kind == "under"} == {80.0}


def test_a_flat_roof_s_only_edges_are_its_eaves():
    assert {f.edge.kind for f in roof_runs(job_of(flat("deck")))} == {"eave"}


# -- any roof ----------------------------------------------------------------------------------------------

@pytest.mark.parametrize("first", range(0, 40, 10))
def test_every_section_lies_on_its_planes_and_every_end_on_its_cut(first):
    """Random roofs: legs along the faces they are made for, ends of creases upright over what borders their faces."""
    for seed in range(first, first + 10):
        job = job_of(*wild(seed))
        derived = derive(job)
        for found in roof_runs(job):
            made = derived.run(found.run.id)
            gap = on_roof(derived.roof, found, made)
            assert gap is None or gap.max_gap < 1e-3, (seed, found.edge.key)
            assert not [f for f in made.findings if f.level == "stop"], (seed, found.edge.key)
            if found.edge.kind in ("valley", "hip") and made.pieces and not made.run.mitre_left:
                for side, plane in (("left", found.run.left_plane), ("right", found.run.right_plane)):
                    if plane is not None:
                        own, beyond, *_ = (found.run.reaches if side == "left" else found.run.reaches[2:])
                        ends = ends_in_space(job, found, side)
                        frame = run_frame(derived.roof, found.edge)[2]
                        at = np.array(found.edge.a if side == "left" else found.edge.b)
                        out = -frame[0] if side == "left" else frame[0]
                        normals = [np.array(n or plane) @ frame for n in (plane, getattr(found.run, f"{side}_plane_b"))]
                        for part, normal, reach in ((ends[0], normals[0], own), (ends[-1], normals[1], beyond)):
                            assert np.abs((part - at - reach * out) @ normal).max() < 0.05



@pytest.mark.parametrize("first", range(0, 60, 15))
def test_the_order_of_fitting_is_the_water_s(first):
    """Also where a chimney, a back pan or a valley's foot lies downstream of another on one face: panels in three goes."""
    wrong = set()
    for seed in range(first, first + 15):
        fit = installation(derive(job_of(*wild(seed))))
        if fit.order.troubles or not all(passage.over for passage in fit.water.passages):
            wrong.add(seed)
    assert wrong == set()


def test_panels_between_two_valleys_feet_of_one_face_go_on_by_themselves():
    """A chimney below a dormer's valley: its upper flange lies under panels that lie under the valley's foot."""
    roof = plan(gable("main", span=10000.0), gable("dormer", x=0.0, y=-1500.0, bearing=90.0, length=3000.0, span=1800.0,
                                                   eave=6200.0, eave_overhang=150.0, rake_overhang=150.0),
                openings=[{"id": "flue", "kind": "chimney", "x": -1000.0, "y": -4000.0, "across": 600.0, "along": 500.0, "top": 7000.0}])
    fit = installation(derive(Job(name="rows", roof=roof)))
    over = {(lap.over, lap.under) for lap in fit.laps}
    left = next(f.run.id for f in roof_runs(Job(name="rows", roof=roof)) if f.edge.kind == "valley" and f.edge.a[0] < 0)
    assert {("panels main.2 above 2", left), (left, "panels main.2 above"), ("panels main.2 above", "flue"),
            ("flue", "panels main.2")} <= over
    assert not fit.order.troubles and all(passage.over for passage in fit.water.passages)


@pytest.mark.parametrize(("x", "bearing"), [(999_000.0, 0.0), (-999_000.0, 180.0), (996_000.0, 90.0)])
def test_a_roof_that_reaches_out_of_the_bounds_is_told_in_one_sentence(x, bearing):
    """Its blocks are each within their bounds, the edges that they give are not."""
    job = Job(name="far", roof=plan(gable("main", x=x, length=12000.0, bearing=bearing)))
    try:
        derive(job)
    except InputError as wrong:
        assert str(wrong).startswith("roof.") and "found" in str(wrong) and "\n" not in str(wrong)
    else:
        assert bearing == 90.0
