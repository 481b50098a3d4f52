"""Houses in the shape of an L: a wing whose wall is the gable's, or stands a little in from it."""

from __future__ import annotations

import numpy as np
import pytest
from test_wings import troubles

from plans import gable, plan
from yattle.built.placed import places_of
from yattle.built.standing import stand_all
from yattle.derive import derive
from yattle.derive.moved_sides import moved_sides
from yattle.derive.run import common_of, detail_of
from yattle.details.develop import develop
from yattle.details.run_ends import _less
from yattle.drawing.pattern import pattern_drawing
from yattle.drawing.shapes import Tag
from yattle.job import Job
from yattle.job.panel_systems import with_system
from yattle.pattern.ends import CornerOff
from yattle.roof import build


def ell(pitch, rake, eave, lower, in_by, system, span=6000.0):
    """A house of 10 by 8 m with a wing at its right gable, its wall ``in_by`` mm in from that, its eave ``lower`` mm below
    that of the house; ``rake`` and ``eave``: how far both hang over."""
    over = {"eave_overhang": eave, "rake_overhang": rake, "pitch": pitch}
    house = gable("house", length=10000.0, span=8000.0, eave=4500.0, **over)
    wing = gable("wing", 5000.0 - span / 2 - in_by, -4000.0, 90.0, length=8000.0, span=span, eave=4500.0 - lower, **over)
    job = with_system(Job(name="L", roof=plan(house, wing)), system)
    return job.but(rules=job.rules.but(max_crosscut=9000.0))


FOOT_UNDER_THE_RAKE = [(58.0, 200.0, 200.0, 0.0, 0.0, "shingle 600 x 300"), (58.0, 200.0, 350.0, 0.0, 0.0, "rib 18, pitch 76")]
BESIDE_THE_RAKE = [(50.0, 350.0, 500.0, 500.0, 0.0, "rib 35, pitch 207"), (58.0, 200.0, 200.0, 300.0, 0.0, "rib 45, pitch 333"),
                   (35.0, 200.0, 350.0, 300.0, 0.0, "rib 18, pitch 76")]
NO_RAKE = [(18.0, 0.0, 350.0, 300.0, 0.0, "rib 35, pitch 207"), (42.0, 0.0, 500.0, 300.0, 0.0, "double seam 530 x 32"),
           (8.0, 0.0, 350.0, 300.0, 0.0, "rib 18, pitch 76")]
FLAT = [(4.0, 200.0, 350.0, 0.0, 0.0, "rib 3/4 in, pitch 9 in"), (4.0, 350.0, 500.0, 0.0, 0.0, "rib 18, pitch 76"),
        (4.0, 200.0, 350.0, 0.0, 0.0, "rib 35, pitch 207")]
A_LITTLE_IN = [(50.0, 500.0, 500.0, 0.0, 136.0, "double seam 430 x 25"), (22.0, 200.0, 200.0, 0.0, 477.0, "double seam 530 x 25")]


@pytest.mark.parametrize("case", FOOT_UNDER_THE_RAKE + BESIDE_THE_RAKE + NO_RAKE + FLAT + A_LITTLE_IN)
def test_a_wing_at_the_gable_goes_together(case):
    assert troubles(ell(*case)) == []


@pytest.mark.parametrize("case", BESIDE_THE_RAKE)
def test_a_valley_s_pan_ends_at_the_rake_beside_its_foot(case):
    """Its side would come out under the rake's trim, past the edge of the roof; what lies on the other face goes on."""
    derived = derive(ell(*case))
    (pan,) = (run for run in derived.runs if run.run.kind == "valley" and run.run.corner_cuts)
    stands = stand_all(derived.patterns, list(places_of(derived)[0]))
    past = 5000.0 + case[1]  # the rake's line
    square = np.array(derived.roof.facet("house.2").plane.normal)
    for piece in (one for one in stands.values() if one.pattern in {made.id for made in pan.pieces}):
        sides = [part for part, size, normal in zip(piece.parts, piece.sizes, piece.normals, strict=True)
                 if abs(float(normal @ square)) > 0.99999 and size > 0.1 * max(piece.sizes)]
        assert max(float(part[:, 0].max()) for part in sides) < past + 0.01
    assert all(piece.proof.holds for piece in pan.pieces)


def test_two_planes_leave_the_nearer_of_each():
    """An end that goes from 0 to 100 mm out, and a corner cut from 60 to 20: they cross in the middle of what differs."""
    left, off = _less((0.0, 100.0), (60.0, 20.0))
    assert left == (0.0, 20.0) and (off.side, off.share, off.at) == ("b", pytest.approx(3 / 7), pytest.approx(300 / 7))
    assert _less((100.0, 0.0), (20.0, 60.0))[1].side == "a"
    assert _less((0.0, 10.0), (60.0, 20.0)) == ((0.0, 10.0), None)
    assert _less((50.0, 40.0), (20.0, 10.0)) == ((20.0, 10.0), CornerOff("all"))


def test_a_second_plane_that_takes_nothing_leaves_what_the_first_one_took():
    """A rake cuts the corner off a valley's pan; another edge near its foot that lies further out changes nothing."""
    derived = derive(ell(*BESIDE_THE_RAKE[0]))
    run = next(one for one in derived.runs if one.run.kind == "valley" and one.run.corner_cuts)
    (cut,) = run.run.corner_cuts
    detail = detail_of(run.run, run.family, run.standard, common_of(derived.job))
    far, near = cut.but(reach=cut.reach + 2000.0), cut.but(reach=cut.reach + 20.0)
    once = [piece.pattern.outline for piece in develop(detail).pieces]
    for more in ((cut, far), (far, cut), (cut, near), (near, cut)):
        assert [piece.pattern.outline for piece in develop(detail.but(corner_cuts=more)).pieces] == once
    assert [piece.pattern.outline for piece in develop(detail.but(corner_cuts=())).pieces] != once


@pytest.mark.parametrize("system", ["double seam 430 x 25", "rib 18, pitch 76"])
def test_an_eave_that_goes_on_from_a_level_valley_in_line(system):
    """Two houses side by side, one longer: the valley between them is level, and goes on as the eave of the longer one."""
    over = {"pitch": 30.0, "span": 6000.0, "eave": 3000.0, "eave_overhang": 300.0, "rake_overhang": 200.0}
    roof = plan(gable("long", length=12000.0, **over), gable("short", -2000.0, 6000.0, length=8000.0, **over))
    derived = derive(with_system(Job(name="M", roof=roof), system))
    assert {"valley", "eave"} <= {edge.kind for edge in derived.roof.edges} and derived.pieces


@pytest.mark.parametrize("seed", range(40))
def test_moved_sides_never_cross(seed):
    """A star of any shape whose sides are moved in and out: what is left goes round once."""
    import shapely

    from yattle.errors import InputError
    rng = np.random.default_rng(seed)
    turns = np.sort(rng.uniform(0.0, 2.0 * np.pi, 8))
    ring = [(float(r * np.cos(t)), float(r * np.sin(t))) for t, r in zip(turns, rng.uniform(100.0, 900.0, 8), strict=True)]
    if not shapely.is_ccw(shapely.LinearRing(ring)) or not shapely.Polygon(ring).is_valid:
        return
    try:
        moved, sides = moved_sides(ring, rng.uniform(-150.0, 60.0, 8).tolist())
    except InputError:
        return
    assert shapely.Polygon(moved).is_valid and shapely.is_ccw(shapely.LinearRing(moved)) and len(sides) == len(moved)


def test_a_panel_that_a_valley_and_a_wall_part_ends_at_the_neck_between_them():
    """Its lower part, before the wall, hangs together with the upper one by less than the valley's flange takes."""
    roof = build(ell(4.0, 200.0, 350.0, 0.0, 0.0, "rib 3/4 in, pitch 9 in").roof)
    assert {edge.kind for edge in roof.edges_of("wing.2")} >= {"headwall", "valley"}
    ring = [(0.0, 0.0), (914.0, 0.0), (914.0, 4246.0), (0.0, 4246.0), (0.0, 1103.0), (900.0, 200.0), (0.0, 200.0)]
    moved, _ = moved_sides(ring, [0.0, 0.0, 0.0, 0.0, -70.0, 0.0, 0.0])
    assert np.array(moved)[:, 1].min() > 200.0 and np.array(moved)[:, 0].max() <= 914.0 + 1e-6


STRIPS = [(28.0, 200.0, 350.0, 30.0, 0.0, "snap seam 18 x 1 1/2 in, clips"), (8.0, 0.0, 200.0, 0.0, 0.0, "rib 45, pitch 333"),
          (22.0, 200.0, 500.0, 0.0, 0.0, "double seam 18 x 2 in"), (8.0, 200.0, 500.0, 0.0, 0.0, "snap seam 16 x 1 3/4 in, nail strip"),
          (18.0, 350.0, 500.0, 0.0, 0.0, "double seam 430 x 25"), (22.0, 0.0, 350.0, 0.0, 0.0, "snap seam 16 x 1 3/4 in, nail strip")]


@pytest.mark.parametrize("case", STRIPS)
def test_what_lies_along_the_gable_s_wall_ends_under_its_roof(case):
    """The wing's eave goes on beside the gable, under the rake that comes down to it there: flashing, counterflashing and
    zeds end where they find no room, pans are turned up at the wall only beside themselves."""
    assert troubles(ell(*case)) == []


def test_a_pan_in_a_notch_is_turned_up_beside_itself_only():
    import shapely

    from yattle.derive.pans import _beside_itself
    notched = shapely.Polygon([(0, 0), (400, 0), (400, 1000), (0, 1000), (0, 600), (200, 400), (0, 400)])
    low, high = _beside_itself(notched, (200.0, 400.0), (0.0, 400.0), 60.0)  # the slant is 60 over the wall 60 from its corner
    assert high == (0.0, 400.0) and low[1] == 400.0 and 128.0 < low[0] < 140.0
    assert _beside_itself(notched, (400.0, 1000.0), (0.0, 1000.0), 60.0) == ((400.0, 1000.0), (0.0, 1000.0))


def test_the_letters_of_a_slanting_piece_stand_on_its_sheet():
    """Where a side ends sooner its fold's letter goes to where the fold is, at the other end if need be."""
    derived = derive(ell(*BESIDE_THE_RAKE[0]))
    foot = next(piece for run in derived.runs if run.run.corner_cuts and run.run.kind == "valley" for piece in run.pieces)
    whole = {fold.id: sorted((fold.a[0], fold.b[0])) for fold in foot.pattern.folds}
    tags = [shape for shape in pattern_drawing(foot.pattern, foot.profile).shapes if isinstance(shape, Tag)]
    assert len(tags) == len(whole) and all(whole[tag.key][0] < tag.at[0] < whole[tag.key][1] for tag in tags)


@pytest.mark.parametrize("eave", [350.0, 500.0])
@pytest.mark.parametrize("system", ["double seam 530 x 25", "rib 18, pitch 76"])
def test_a_counterflashing_that_has_room_only_far_along_its_wall_is_a_shorter_strip_set_in_there(system, eave):
    """At 4° the rake over it leaves room on the last metre or less: a piece as long as the wall was cut back over the others."""
    over = {"eave_overhang": eave, "rake_overhang": 0.0, "pitch": 4.0, "eave": 4500.0}
    job = with_system(Job(name="L", roof=plan(gable("house", length=12000.0, span=9600.0, **over),
                                              gable("wing", 3300.0, -4000.0, 90.0, length=8000.0, span=5400.0, **over))), system)
    derived = derive(job)
    counter = [run for run in derived.runs if run.run.layer == "counterflashing" and run.run.kind == "headwall"]
    assert [run for run in derived.runs if run.findings and run.findings[0].level == "stop"] == []
    assert counter
    standing = stand_all(derived.patterns, list(places_of(derived)[0]))
    for run in counter:
        wall = derived.roof.edge(run.run.id.removesuffix(".c"))
        places = np.concatenate([part for one in standing.values() for piece in run.pieces if one.pattern == piece.id for part in one.parts])
        along = (places - wall.a) @ (np.array(wall.b) - wall.a) / wall.length
        assert run.run.length < 1500.0 and along.min() > -1.0 and along.max() < wall.length + 1.0
        assert along.max() - along.min() == pytest.approx(run.run.length, abs=1.0)
    assert troubles(job) == []
