"""Hips whose eaves lie at different heights, sharp corners, ridges into walls, valleys under low ridges: by hand."""

from __future__ import annotations

import math

import numpy as np
import pytest
import shapely

from plans import gable, hip, plan, shed
from yattle.built.checked import check_built
from yattle.built.dressed import stiff
from yattle.built.laid import laid_panels
from yattle.built.placed import places_of
from yattle.built.said import said_of
from yattle.built.seams import neighbours
from yattle.built.standing import stand_all
from yattle.derive import derive
from yattle.derive.end_cuts import end_cuts
from yattle.derive.gaps import caulked, clear_gaps, sharp_ends
from yattle.derive.layers import closure_strip
from yattle.derive.pan_clip import clear_line, kept_clear_on
from yattle.install.installation import installation
from yattle.job import Job
from yattle.job.panel_systems import with_system
from yattle.roof import build
from yattle.roof.at_edge import is_step
from yattle.roof.panel_rule import face_frame

FITS = ("bears", "cover", "hook", "clash", "slot", "water", "open")


def derived_on(system, *blocks):
    job = with_system(Job(name="corner", roof=plan(*blocks)), system)
    return derive(job.but(rules=job.rules.but(max_crosscut=9000.0)))


def troubles(derived):
    return [said["says"] for said in said_of(check_built(derived, places_of(derived)[0])) if said["row"] in FITS]


def unequal(sides, ends, fascia):
    return hip("m", length=11000.0, span=7000.0, eave=4500.0, pitch=sides, pitch_ends=ends, eave_overhang=300.0, fascia=fascia)


@pytest.mark.parametrize("fascia", ["own", "level"])
@pytest.mark.parametrize(("sides", "ends"), [(6.0, 45.0), (12.0, 10.0), (12.0, 60.0), (20.0, 30.0), (30.0, 45.0), (45.0, 10.0)])
@pytest.mark.parametrize("system", ["double seam 530 x 25", "rib 18, pitch 76"])
def test_hips_of_unequal_pitch_go_together_with_their_own_eaves_and_with_level_ones(sides, ends, fascia, system):
    assert troubles(derived_on(system, unequal(sides, ends, fascia))) == []


@pytest.mark.parametrize(("sides", "ends"), [(20.0, 30.0), (30.0, 45.0), (12.0, 10.0), (15.0, 60.0)])
def test_what_is_between_the_two_eaves_of_a_hip_s_corner_is_a_step_whatever_its_length(sides, ends):
    """By hand: the hip goes out over the shallower side's eave where tan p · d is the same; from there the steeper face's edge falls
    to its own eave, o − o · tan p / tan q long in plan."""
    roof = build(plan(unequal(sides, ends, "own")))
    steps = [edge for edge in roof.edges if edge.kind == "rake"]
    low, high = sorted((sides, ends))
    plan_long = 300.0 * (1.0 - math.tan(math.radians(low)) / math.tan(math.radians(high)))
    assert len(steps) == 4 and all(is_step(roof, edge) for edge in steps)
    assert [math.dist(edge.a[:2], edge.b[:2]) for edge in steps] == pytest.approx([plan_long] * 4)
    derived = derive(Job(name="step", roof=roof.plan))
    said = [finding for run in derived.own_runs if run.run.kind == "rake" for finding in run.findings]
    assert all("step between two eave lines" in one.text and "fascia" in one.why for one in said) and len(said) == 4


def test_a_gable_s_rakes_are_no_steps():
    roof = build(plan(gable("m"), gable("w", y=-5000.0, bearing=90.0, length=10000.0, span=5000.0)))
    assert not any(is_step(roof, edge) for edge in roof.edges if edge.kind == "rake")


@pytest.mark.parametrize(("sides", "ends"), [(20.0, 30.0), (30.0, 45.0)])
def test_an_eave_that_ends_at_a_hip_has_its_flange_cut_over_it(sides, ends):
    roof = build(plan(unequal(sides, ends, "own")))
    for edge in (edge for edge in roof.edges if edge.kind == "eave" and edge.facets[0] in ("m.1", "m.2")):
        cuts = end_cuts(roof, edge, {})
        hips = [one for one in roof.edges_of(edge.facets[0]) if one.kind == "hip"]
        assert len(hips) == 2 and None not in (cuts.left[0], cuts.right[0])
        for flange, face in (cuts.left, cuts.right):
            assert face == pytest.approx((1.0, 0.0, 0.0)) or face == pytest.approx((-1.0, 0.0, 0.0))
            way = np.array(hips[0].b[:2]) - hips[0].a[:2]
            along = abs(float(way @ (np.array(edge.b[:2]) - edge.a[:2]))) / np.linalg.norm(way) / edge.length
            assert abs(flange[0]) == pytest.approx(math.sqrt(1.0 - along**2), abs=1e-9)  # upright over the hip


@pytest.mark.parametrize(("sides", "ends"), [(6.0, 30.0), (12.0, 45.0), (30.0, 30.0)])
def test_sharp_corners_that_zeds_do_not_reach_are_told(sides, ends):
    """By hand: a zed cut along the seams stands with its upright h in from the hip, h · cot of the seams' angle further along it."""
    derived = derived_on("double seam 530 x 25", unequal(sides, ends, "level"))
    found = derived.edge_runs["H1"]
    face = found.edge.facets[0]
    under = closure_strip(derived.job, found, "hip-cap")
    rule = derived.job.panel_rule(face)
    a, _ = sharp_ends(derived.roof, found.edge, face, rule, under)
    gaps = [gap for gap in clear_gaps(derived.roof, found.edge, face, rule, under) if gap[1] > 25.0]
    fall = derived.roof.facet(face).plane.fall
    way = np.array(found.edge.b[:2]) - found.edge.a[:2]
    cosine = abs(float(way @ np.array(fall))) / np.linalg.norm(way)
    told = [one for name, one in installation(derived).findings if name == "H1" and "sharp corners" in one.text]
    if sides == ends:
        assert a == 0.0 and not told
    else:
        assert cosine > 0.8 and 0.0 < a < gaps[0][0]
        assert bool(told) == (a > 150.0)


@pytest.mark.parametrize("pitch", [4.0, 8.0, 15.0])
def test_a_ridge_that_runs_into_a_wall_ends_its_zeds_before_the_walls_flashings(pitch):
    blocks = (gable("house", span=8000.0, length=12000.0, eave=5200.0, pitch=30.0),
              gable("low", y=-7000.0, bearing=90.0, length=6000.0, span=4000.0, eave=3000.0, pitch=pitch))
    derived = derived_on("double seam 430 x 25", *blocks)
    assert {edge.kind for edge in derived.roof.edges_of("low.1")} >= {"ridge", "sidewall"}
    assert troubles(derived) == []


def over_a_slope(pitch, main, overhang):
    """A wing whose overhang passes over the main roof's own, which goes on beneath it to its wall."""
    return (gable("main", length=12000.0, span=8000.0, eave=3000.0, pitch=main, eave_overhang=300.0, rake_overhang=250.0),
            gable("wing", 2500.0, -5000.0, 90.0, length=10000.0, span=6000.0, eave=3000.0, pitch=pitch, eave_overhang=overhang,
                  rake_overhang=250.0))


@pytest.mark.parametrize(("main", "pitch"), [(3.0, 45.0), (6.0, 38.0)])
@pytest.mark.parametrize("stands", [25.0, 60.0])
def test_seams_end_where_another_roof_hangs_lower_than_they_stand(main, pitch, stands):
    """By hand: at every place of what is cut away the roof over it is nearer than the seams want, plumb: their height square to the
    face, and a board."""
    derived = derived_on("double seam 18 x 2 in", *over_a_slope(pitch, main, 300.0))
    roof = derived.roof
    seen = 0
    for facet in roof.facets:
        laid = derived.panels[facet.id]
        frame = face_frame(facet)
        laid = type(laid)(**{**laid.__dict__, "rule": laid.rule.but(height=stands)})
        for place in kept_clear_on(roof, laid, 0.0).seams:
            x, y = frame.plan((place.centroid.x, place.centroid.y))
            over = [other.plane.z((x, y)) - facet.plane.z((x, y)) for other in roof.facets
                    if other.block != facet.block and other.shape.buffer(60.0).contains(shapely.Point(x, y))]
            assert any(-60.0 < high < stands * facet.plane.stretch + 20.0 * 1.5 for high in over)
            seen += 1
    assert seen


def test_a_line_is_left_where_nothing_is_held():
    held = [shapely.box(-1.0, 100.0, 1.0, 200.0), shapely.box(-1.0, 500.0, 1.0, 900.0)]
    assert list(clear_line((0.0, 0.0), (0.0, 600.0), held)) == [((0.0, 0.0), (0.0, 100.0)), ((0.0, 200.0), (0.0, 500.0))]
    assert list(clear_line((0.0, 110.0), (0.0, 190.0), held)) == []


@pytest.mark.parametrize("hangs", [0.0, 120.0, 300.0, 450.0])
@pytest.mark.parametrize("system", ["snap seam 300 x 38", "double seam 530 x 25", "shingle 600 x 300"])
def test_panels_wholly_under_the_end_of_a_shed_dormer_are_parted_at_its_pitch_break(hangs, system):
    dormer = shed("dorm", y=-2200.0, length=3000.0, span=2600.0, eave=6300.0, pitch=12.0, rake_overhang=hangs, eave_overhang=150.0)
    blocks = (gable("main", pitch=40.0, span=9000.0), dormer)
    derived = derived_on(system, *blocks)
    assert troubles(derived) == []
    [edge] = [edge for edge in derived.roof.edges if edge.kind == "pitch-break"]
    ends = sorted(end[0] for end in (edge.a, edge.b))
    for panel in laid_panels(derived, frozenset({"main.2"})):
        xs, ys = panel.ring[:, 0], panel.ring[:, 1]
        if xs.min() > ends[0] - 15.0 and xs.max() < ends[1] + 15.0:
            assert ys.max() < edge.a[1] or ys.min() > edge.a[1] - 20.0  # below it or above it


@pytest.mark.parametrize("seed", [(45.0, 30.0), (30.0, 30.0), (42.0, 25.0)])
def test_no_panel_laps_further_under_another_than_that_one_is_long(seed):
    main, pitch = seed
    derived = derived_on("rib 35, pitch 207", *over_a_slope(pitch + 20.0, main / 10.0, 300.0))
    for laid in derived.panels.values():
        for panel in laid.panels:
            lap = dict(panel.terms).get("lap under the panel above", 0.0)
            top = max(y for _, y in panel.outline)
            above = [max(y for _, y in other.outline) - top for other in laid.panels if other.left < panel.right - 1.0
                     and other.right > panel.left + 1.0 and abs(min(y for _, y in other.outline) - top) < 1.0]
            assert not lap or (above and lap <= max(above) + 1e-6)


def test_seams_of_lapped_pans_are_asked_only_where_both_are_folded():
    """Pans of a long face in two rows: the lower left one and the upper right one share no seam but under the lap."""
    derived = derived_on("double seam 430 x 25", gable("m", length=6000.0, span=26000.0, pitch=25.0, eave=3000.0))
    job = derived.job.but(panels=derived.job.panels.but(longest=6000.0), systems=tuple(
        system.but(rules=system.rules.but(longest=6000.0)) for system in derived.job.systems))
    derived = derive(job)
    names = {(a, b) for a, b, *_ in neighbours(derived)}
    assert names and troubles(derived) == []


def test_gaps_too_narrow_for_a_zed_and_ends_beside_another_caps_zeds_are_not_open():
    """4° against 50°: the hip's zeds stand 142 in, those of the ridge begin there, and a gap of 22 beside a seam is caulked."""
    house = hip("house", length=10573.78562417972, span=9983.019533024799, eave=4500.0, pitch=4.0, pitch_ends=50.0, eave_overhang=200.0)
    derived = derived_on("single seam 475 x 38", house)
    assert troubles(derived) == []
    found = derived.edge_runs["R1"]
    under = closure_strip(derived.job, found, "ridge-cap")
    for face in found.edge.facets:
        rule = derived.job.panel_rule(face)
        narrow = caulked(derived.roof, found.edge, face, rule, under)
        gaps = list(clear_gaps(derived.roof, found.edge, face, rule, under))
        assert [(pytest.approx(start), pytest.approx(start + wide)) for start, wide in gaps if 0.0 < wide <= 25.0] == narrow
        assert narrow, "square to the seams: they lie where the gaps are"


@pytest.mark.parametrize("wide", [4500.0, 6500.0, 8000.0])
@pytest.mark.parametrize("pitch", [6.0, 28.0, 50.0])
@pytest.mark.parametrize("system", ["double seam 18 x 2 in", "double seam 530 x 25", "rib 3/4 in, pitch 9 in", "sandwich 1000, core 80",
                                    "shingle 600 x 300", "snap seam 300 x 38"])
def test_a_hipped_roof_in_the_shape_of_an_l_goes_together(system, pitch, wide):
    """Its wing's ridge goes on as a hip of the house, or as its ridge where both are as wide."""
    blocks = (hip("m", eave=4500.0, pitch=pitch),
              hip("w", x=(12000.0 - wide) / 2, y=-2000.0, bearing=90.0, length=12000.0, span=wide, eave=4500.0, pitch=pitch))
    derived = derived_on(system, *blocks)
    assert troubles(derived) == []
    assert installation(derived).order.troubles == ()


def test_a_hip_that_goes_up_from_a_ridge_s_end_lies_over_it_and_over_the_cap_of_their_joint():
    derived = derived_on("rib 3/4 in, pitch 9 in", hip("m", eave=4500.0),
                         hip("w", x=3750.0, y=-2000.0, bearing=90.0, length=12000.0, span=4500.0, eave=4500.0))
    joint = next(one for one in derived.openings if one.id.startswith("ridge") and "valley" in one.id)
    rising = next(e for e in derived.roof.edges if e.kind == "hip" and joint.id.count(e.key))
    level = next(e for e in derived.roof.edges if e.kind == "ridge" and joint.id.count(e.key))
    assert joint.pieces
    order = installation(derived).order
    assert order.stage_of(level.id) < order.stage_of(joint.id) < order.stage_of(rising.id)


def test_the_face_beside_a_ridge_that_goes_on_as_a_hip_is_there_up_to_both():
    """Its pans are cut where the nearer of the two is, not by the line of the other one."""
    derived = derived_on("double seam 18 x 2 in", hip("m", length=9000.0, eave=4500.0, pitch=22.0),
                         hip("w", x=2250.0, y=-2000.0, bearing=90.0, length=12000.0, span=4500.0, eave=4500.0, pitch=22.0))
    face = max(derived.roof.facets, key=lambda one: one.shape.area)
    assert any(e.kind == "ridge" for e in derived.roof.edges_of(face.id)) and len(face.ring) == 5
    pieces = {piece.pattern.id for one in derived.openings if one.id == f"pans {face.id}" for piece in one.pieces}
    pans = [one for one in stiff(derived, stand_all(derived.patterns, list(places_of(derived)[0]))) if one.pattern in pieces]
    laid = shapely.union_all([shapely.Polygon(part[:, :2]).buffer(1.0) for one in pans for part in one.parts
                              if len(part) > 3 and shapely.Polygon(part[:, :2]).is_valid])
    bare = face.shape.buffer(-60.0).difference(laid.buffer(20.0))
    assert bare.area < 3000.0  # a corner under the caps


@pytest.mark.parametrize("block", [gable, hip])
@pytest.mark.parametrize(("long", "wide", "turned"), [(12819.9, 8000.0, 217.0), (14000.0, 8000.0, 30.0), (7990.0, 8000.0, 90.0),
                                                       (14000.0, 5000.0, 127.0)])
@pytest.mark.parametrize("system", ["double seam 18 x 2 in", "rib 3/4 in, pitch 9 in"])
def test_crossings_of_one_height_go_together_turned_by_any_angle(system, long, wide, turned, block):
    """Of a house hardly as long as the wing across it is wide the faces go on round the crossing: its ridges end there."""
    if block is hip and long < 8000.0:
        pytest.skip("no ridge of its own is left")
    derived = derived_on(system, block("m", bearing=turned, length=long, eave=4500.0, pitch=22.0),
                         block("c", bearing=turned + 90.0, length=15000.0, span=wide, eave=4500.0, pitch=22.0))
    middle = [e for e in derived.roof.edges if e.kind == "ridge" and any(math.hypot(*end[:2]) < 1.0 for end in (e.a, e.b))]
    assert len(middle) == (4 if wide == 8000.0 else 0)
    assert troubles(derived) == []
