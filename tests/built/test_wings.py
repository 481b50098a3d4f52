"""Wings and lean-tos put together: ridges that meet, roofs that hang over others, and what is said where they are too close."""

from __future__ import annotations

import math

import numpy as np
import pytest
import shapely

from plans import gable, plan, shed
from yattle.built.checked import check_built
from yattle.built.dressed import stiff
from yattle.built.placed import places_of
from yattle.built.said import said_of
from yattle.built.standing import stand_all
from yattle.derive import derive
from yattle.derive.lift import lift_of
from yattle.derive.openings import held_at_valley
from yattle.derive.raised import built_up
from yattle.install.installation import installation
from yattle.job import Job
from yattle.job.panel_systems import with_system
from yattle.roof import build

FITS = ("bears", "cover", "hook", "clash", "slot", "water", "open")
HOUSE = {"length": 12000.0, "span": 8000.0, "eave": 3000.0, "eave_overhang": 300.0, "rake_overhang": 250.0}


def tan(pitch):
    return math.tan(math.radians(pitch))


def wing(main, other, below=None, eave=3000.0, system="double seam 18 x 2 in"):
    """A house with a wing of another pitch, its ridge so much below that of the house, or its eave at that height."""
    eave = eave if below is None else 3000.0 + 4000.0 * tan(main) - below - 3000.0 * tan(other)
    roof = plan(gable("main", **HOUSE, pitch=main),
                gable("wing", 2500.0, -5000.0, 90.0, **HOUSE | {"length": 10000.0, "span": 6000.0, "eave": eave}, pitch=other))
    job = with_system(Job(name="wing", roof=roof), system)
    return job.but(rules=job.rules.but(max_crosscut=9000.0))


def lean_to(main, pitch, eave, system):
    low = shed("lean-to", -1000.0, -5250.0, length=6000.0, span=2500.0, eave=eave, pitch=pitch, eave_overhang=250.0,
               top_overhang=0.0)
    return with_system(Job(name="lean-to", roof=plan(gable("main", **HOUSE, pitch=main), low)), system)


def troubles(job):
    derived = derive(job)
    return [said["says"] for said in said_of(check_built(derived, places_of(derived)[0])) if said["row"] in FITS]


def close(job):
    return {name: finding for name, finding in derive(job).findings if " want " in finding.text}


@pytest.mark.parametrize(("main", "other"), [(30.0, 38.0), (52.0, 60.0), (12.0, 18.0), (45.0, 45.0)])
@pytest.mark.parametrize("system", ["double seam 18 x 2 in", "snap seam 300 x 38", "rib 18, pitch 76"])
def test_level_ridges_of_unequal_pitches_go_together(main, other, system):
    job = wing(main, other, below=0.0, system=system)
    assert troubles(job) == [] and not close(job)


@pytest.mark.parametrize(("main", "other"), [(30.0, 38.0), (60.0, 45.0), (20.0, 50.0)])
def test_caps_of_level_ridges_are_packed_up_to_one_height(main, other):
    """By hand: a cap so many mm square over two slopes of one pitch lies h / cos p over the ridge; the flatter one is packed
    up by what makes both the same."""
    derived = derive(wing(main, other, below=0.0))
    ridges = [run for run in derived.own_runs if run.run.kind == "ridge"]
    ups = [float(lift_of(derived, run)[1]) for run in ridges]
    high = built_up(derived.job, "main.1").seams
    assert ups == pytest.approx([high / math.cos(math.radians(max(main, other)))] * len(ups))
    for run in ridges:
        pitch = run.run.pitch
        more = high * (math.cos(math.radians(pitch)) / math.cos(math.radians(max(main, other))) - 1.0)
        assert run.run.packed == pytest.approx(max(more, 0.0), abs=1e-6)
        for zeds in (one for one in derived.runs if one.run.id.startswith(f"{run.run.id}.z") and one.pieces):
            legs = zeds.detail.profile.legs
            assert max(legs) == pytest.approx(50.8 + run.run.packed, abs=1e-6)


def test_ridges_that_only_rounding_parts_are_level():
    exact = 3000.0 + 4000.0 * tan(30.0) - 3000.0 * tan(38.0)
    rounded = build(wing(30.0, 38.0, eave=round(exact, 1)).roof)
    apart = build(wing(30.0, 38.0, eave=round(exact, 1) - 0.1).roof)
    tops = [max(end[2] for edge in roof.edges if edge.kind == "ridge" for end in (edge.a, edge.b)) for roof in (rounded, apart)]
    assert tops == pytest.approx([3000.0 + 4000.0 * tan(30.0)] * 2, abs=1e-9)
    assert sorted(sorted(edge.kind for edge in map(rounded.edge, corner.edges)) for corner in rounded.corners).count(
        ["ridge", "ridge", "ridge", "valley", "valley"]) == 1
    assert not any(corner for corner in apart.corners if len(corner.edges) == 5)


@pytest.mark.parametrize("below", [0.4, 20.0, 70.0])
@pytest.mark.parametrize(("main", "other"), [(30.0, 38.0), (45.0, 45.0)])
def test_a_ridge_just_below_another_is_said_with_a_height_that_would_do(main, other, below):
    job = wing(main, other, below=below)
    found = [finding for finding in close(job).values() if "below the ridge" in finding.text]
    assert found and all(finding.lengths[0] == pytest.approx(below, abs=0.01) for finding in found)
    assert all(finding.reason().startswith("set the eave height of wing to") for finding in found)
    made = wing(main, other, eave=found[0].lengths[2])
    assert not close(made) and troubles(made) == []


@pytest.mark.parametrize(("main", "other", "below"), [(30.0, 38.0, 160.0), (45.0, 45.0, 300.0), (25.0, 25.0, 220.0), (12.0, 18.0, 80.0)])
def test_a_ridge_well_below_another_goes_together_and_nothing_is_said(main, other, below):
    job = wing(main, other, below=below)
    assert troubles(job) == [] and not close(job)


@pytest.mark.parametrize(("main", "pitch", "system", "have"), [
    (60.0, 6.0, "rib 1 1/4 in, pitch 12 in", 3000.0 - 300.0 * tan(60.0) - 2200.0 - 2200.0 * tan(6.0)),
    (30.0, 8.0, "double seam 18 x 2 in", 60.0), (30.0, 12.0, "sandwich 1000, core 80", 90.0)])
def test_a_lean_to_too_high_under_an_eave_is_said_and_fits_where_the_advice_is_taken(main, pitch, system, have):
    """By hand: the eave's edge lies 300 out at 3000 − 300 · tan p, the lean-to's roof there 2200 in from its own eave's wall."""
    edge = 3000.0 - 300.0 * tan(main)
    job = lean_to(main, pitch, edge - have - 2200.0 * tan(pitch), system)
    [finding] = close(job).values()
    assert finding.lengths[0] == pytest.approx(have) and finding.lengths[1] > have
    assert troubles(job), "it really is too close"
    made = lean_to(main, pitch, finding.lengths[2], system)
    assert not close(made) and troubles(made) == []


def test_a_gable_that_hardly_comes_out_over_a_ridge_is_said():
    """52° against 60°: the ridge of the wing stands 76 over that of the house, its gable's sides are 229 wide."""
    found = [finding for finding in close(wing(52.0, 60.0)).values() if "gable" in finding.text]
    assert len(found) == 2 and all(one.lengths[:2] == pytest.approx((228.85, 300.0), abs=0.01) for one in found)
    made = wing(52.0, 60.0, eave=found[0].lengths[2])
    assert not close(made) and troubles(made) == []


@pytest.mark.parametrize(("main", "other", "system"), [
    (3.0, 45.0, "double seam 18 x 2 in"), (6.0, 38.0, "rib 45, pitch 333"), (3.0, 52.0, "rib 35, pitch 207"),
    (38.0, 45.0, "rib 1 1/4 in, pitch 12 in"), (12.0, 18.0, "double seam 18 x 2 in")])
def test_wings_whose_eaves_pass_under_others_go_together(main, other, system):
    assert troubles(wing(main, other, system=system)) == []


def test_thick_panels_end_before_the_wall_that_their_roof_falls_against():
    """A lean-to higher than the eave it stands at: the upper side of a core of 80 at 45° is 80 nearer to the wall."""
    job = lean_to(45.0, 30.0, 2200.0, "sandwich 1000, core 80")
    assert troubles(job) == []


@pytest.mark.parametrize("kind", [gable, shed])
def test_zeds_at_steep_ridges_have_room_for_their_feet(kind):
    """60° and seams of 50.8: the cap's edge comes so near to its ridge that the feet of both sides would meet there."""
    job = with_system(Job(name="steep", roof=plan(kind("m", pitch=60.0, span=5000.0, length=6000.0))), "double seam 18 x 2 in")
    assert troubles(job) == []
    feet = {run.detail.profile.legs[-1] for run in derive(job).runs if ".z" in run.run.id}
    assert all(10.0 <= foot < 30.0 and foot == int(foot) for foot in feet)


@pytest.mark.parametrize(("below", "told"), [(125.0, True), (180.0, True), (420.0, False), (0.0, False)])
def test_flanges_of_valleys_that_come_out_over_a_ridge_close_above_are_told(below, told):
    """By hand: 45° against 38°, the flange of 250 leaves its valley's head at the angle of valley and fall; up the slope of 38° it
    comes 250 / sin of that, so much of it high as the slope's sine."""
    job = wing(38.0, 45.0, below=below)
    valley = next(edge for edge in build(job.roof).edges if edge.kind == "valley")
    sine = abs(valley.b[0] - valley.a[0]) / valley.length
    assert told == (2.0 < below < 250.0 / sine * math.sin(math.radians(38.0)) - 5.0)
    said = [finding for _, finding in derive(job).findings if "over the ridge" in finding.text]
    assert bool(said) == told and all(one.lengths == pytest.approx((below,), abs=0.01) for one in said)


@pytest.mark.parametrize(("main", "other", "system"), [
    (18.0, 35.0, "sandwich 1000, core 80"), (42.0, 58.0, "rib 3/4 in, pitch 9 in"), (8.0, 18.0, "snap seam 16 x 1 3/4 in, nail strip"),
    (35.0, 35.0, "double seam 18 x 2 in")])
def test_the_joint_over_two_valleys_goes_up_under_the_panels_that_begin_there(main, other, system):
    """Panels are cut along both valleys; the nearer these run to the fall, the higher up their lines cross above the ridge's end:
    at held / sin of the angle between. The joint goes 60 on under them, where 120 left its upper edge open."""
    job = wing(main, other, below=0.22 * 4000.0 * tan(main), system=system)
    derived = derive(job)
    joint = next(one for one in derived.openings if one.detail == "dormer-ridge")
    valley = next(edge for edge in derived.roof.edges if edge.kind == "valley")
    fall = abs(valley.a[2] - valley.b[2]) / valley.length / math.sin(math.radians(main))
    face = next(name for name in valley.facets if derived.roof.facet(name).block == "main")
    begins = held_at_valley(job, derived.roof, face) / math.sqrt(1 - fall * fall)
    assert joint.form.up == pytest.approx(begins + 60, abs=1) and joint.form.beyond >= begins + 59
    ends = np.concatenate([np.array(f.corners) for piece in joint.pieces for f in piece.surface.faces])
    assert max(np.linalg.norm(ends, axis=1)) >= joint.form.up - 1
    assert troubles(job) == []


@pytest.mark.parametrize(("main", "other", "hangs"), [(45.0, 28.0, 350.0), (35.0, 30.0, 350.0)])
def test_a_rake_that_goes_on_as_a_wing_s_eave_goes_round_no_corner(main, other, hangs):
    """An L whose wing's wall is the gable's: the rake and the eave lie in one line, with the valley's foot between them."""
    size = {"length": 12000.0, "span": 8000.0, "eave": 3000.0, "eave_overhang": hangs, "rake_overhang": hangs}
    flush = gable("wing", 3000.0, -5000.0, 90.0, **size | {"length": 10000.0, "span": 6000.0}, pitch=other)
    job = with_system(Job(name="L", roof=plan(gable("main", **size, pitch=main), flush)), "double seam 530 x 32")
    derived = derive(job)
    edges = {name: found.edge for name, found in derived.edge_runs.items()}
    told = {(lap.over, lap.under) for lap in installation(derived).laps}
    lines = [(a, b) for a, one in edges.items() for b, other_one in edges.items() if (one.kind, other_one.kind) == ("rake", "eave")
             and min(math.dist(p, q) for p in (one.a, one.b) for q in (other_one.a, other_one.b)) < 2
             and abs(np.cross(np.subtract(one.b, one.a)[:2], np.subtract(other_one.b, other_one.a)[:2])) < 1.0]
    assert lines, "there is such a place"
    assert told.isdisjoint(lines)
    assert not [says for says in troubles(job) if "go round the corner" in says]


@pytest.mark.parametrize("system", ["rib 45, pitch 333", "snap seam 300 x 38", "shingle 600 x 300"])
@pytest.mark.parametrize("main", [12.0, 18.0, 50.0, 58.0])
def test_the_ribs_of_shallow_valleys_lie_flat_under_the_whole_of_their_joint(main, system):
    """The joint lies over the valleys' heads; past what the ridge's cap covers their ribs stood up through it."""
    job = wing(main, 4.0, eave=3000.0, system=system)
    derived = derive(job)
    standing = stand_all(derived.patterns, list(places_of(derived)[0]))
    hard = {one.name: one for one in stiff(derived, standing)}
    joint = next(one for one in derived.openings if one.detail == "dormer-ridge")
    over = shapely.union_all([shapely.Polygon(part[:, :2]).buffer(0) for piece in joint.pieces
                              for part in standing[piece.pattern.id].parts])
    looked = 0
    for valley in (edge for edge in derived.roof.edges if edge.kind == "valley"):
        planes = [derived.roof.facet(face).plane for face in valley.facets]
        for piece in derived.run(valley.id).pieces:
            parts = hard[piece.id].parts
            for place in (*np.concatenate(parts), *(part.mean(axis=0) for part in parts)):  # they lie flat between corners too
                if shapely.contains_xy(over.buffer(-1.0), *place[:2]):
                    looked += 1
                    assert min(place[2] - plane.z((place[0], place[1])) for plane in planes) < 2.0
    assert looked and troubles(job) == []
