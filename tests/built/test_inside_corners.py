"""Roofs in the inside corner of two walls, and against the gable of a higher one: what comes together in the corner and at the peak."""

from __future__ import annotations

import math

import numpy as np
import pytest
import shapely

from plans import gable, plan, shed
from yattle.built.bears import Ground
from yattle.built.checked import check_built
from yattle.built.placed import places_of
from yattle.built.said import said_of
from yattle.built.standing import stand_all
from yattle.built.touching import _on_each_other
from yattle.derive import derive
from yattle.details import standard_for
from yattle.job import Job
from yattle.job.panel_systems import with_system

FITS = ("bears", "cover", "hook", "clash", "slot", "water", "open")
SYSTEMS = ("double seam 530 x 32", "rib 18, pitch 76", "rib 35, pitch 207", "sandwich 1000, core 80", "single seam 475 x 38",
           "snap seam 18 x 1 1/2 in, clips")


def troubles(derived):
    return [said["says"] for said in said_of(check_built(derived, places_of(derived)[0])) if said["row"] in FITS]


def in_a_corner(system, pitch, hand, turned=0.0):
    """A lean-to where a wing comes out of a house, on the one or the other side of it."""
    turn = math.radians(turned)

    def at(x, y):
        return {"x": x * math.cos(turn) - y * math.sin(turn), "y": x * math.sin(turn) + y * math.cos(turn)}
    roof = plan(
        gable("main", bearing=turned, eave=4500.0, pitch=30.0, eave_overhang=300.0),
        gable("wing", **at(0.0, -5000.0), bearing=turned + 90.0, length=10000.0, span=5000.0, eave=4500.0, pitch=30.0, eave_overhang=300.0),
        shed("low", **at(hand * 4000.0, -5100.0), bearing=turned, length=3000.0, span=2200.0, eave=2300.0, pitch=pitch, top_overhang=0.0))
    return derive(with_system(Job(name="corner", roof=roof), system))


@pytest.mark.parametrize("hand", [-1, 1])
@pytest.mark.parametrize("pitch", [3.0, 6.0, 18.0, 35.0])
@pytest.mark.parametrize("system", SYSTEMS)
def test_a_lean_to_in_an_inside_corner_goes_together(system, pitch, hand):
    assert troubles(in_a_corner(system, pitch, hand, 217.0)) == []


@pytest.mark.parametrize("hand", [-1, 1])
@pytest.mark.parametrize("pitch", [4.0, 12.0])
def test_zeds_under_the_headwall_end_beside_the_one_that_carries_the_sidewall_s_flange(pitch, hand):
    derived = in_a_corner("double seam 530 x 32", pitch, hand)
    head = next(e for e in derived.roof.edges if e.kind == "headwall" and e.facets == ("low.1",))
    side = next(e for e in derived.roof.edges if e.kind == "sidewall" and e.facets == ("low.1",))
    standing = stand_all(derived.patterns, list(places_of(derived)[0]))
    wide = standard_for(derived.job.system, derived.job.own).wall_flange
    zeds = [one for run in derived.runs if run.run.id.startswith(f"{head.id}.z") for piece in run.pieces
            for one in standing.values() if one.pattern == piece.id]
    near = min(abs(float(np.concatenate(one.parts)[:, 0].min() if hand > 0 else np.concatenate(one.parts)[:, 0].max()) - side.a[0])
               for one in zeds)
    assert any(run.run.id == f"{side.id}.k" for run in derived.runs)
    assert near > wide - 1.0


@pytest.mark.parametrize("hand", [-1, 1])
@pytest.mark.parametrize("pitch", [3.0, 12.0, 40.0])
def test_a_counterflashing_ends_plumb_before_the_kick_of_the_one_across_its_head(pitch, hand):
    derived = in_a_corner("rib 18, pitch 76", pitch, hand)
    side = next(e for e in derived.roof.edges if e.kind == "sidewall" and e.facets == ("low.1",))
    head = next(e for e in derived.roof.edges if e.kind == "headwall" and e.facets == ("low.1",))
    standing = stand_all(derived.patterns, list(places_of(derived)[0]))
    counter = [one for one in standing.values() for piece in derived.run(f"{side.id}.c").pieces if one.pattern == piece.id]
    kick = standard_for(derived.job.system, derived.job.own).counter_kick
    for part in [part for one in counter for part in one.parts]:
        assert head.a[1] - part[:, 1].max() >= kick - 0.5
    flat = max((part for one in counter for part in one.parts), key=lambda part: float(part[:, 1].max()))
    ends = [place for place in flat if head.a[1] - place[1] < kick + 0.5]
    assert len(ends) >= 2 and np.ptp([place[1] for place in ends]) < 0.5  # both corners of its end over each other


@pytest.mark.parametrize("pitch", [12.0, 45.0, 58.0, 65.0])
@pytest.mark.parametrize("system", ["double seam 18 x 2 in", "snap seam 16 x 1 3/4 in, nail strip", "rib 45, pitch 333"])
def test_an_annex_against_a_gable_goes_together_up_to_its_peak(system, pitch):
    """The zeds under both flashings meet there on the plumb line."""
    roof = plan(gable("main", bearing=90.0, length=11000.0, span=9000.0, eave=4500.0, pitch=pitch),
                gable("annex", y=7500.0, bearing=90.0, length=4000.0, span=4500.0, eave=4500.0, pitch=pitch))
    derived = derive(with_system(Job(name="annex", roof=roof), system))
    assert troubles(derived) == []
    standing = stand_all(derived.patterns, list(places_of(derived)[0]))
    for wall in (e for e in derived.roof.edges if e.kind == "sidewall"):
        run = next((one for one in derived.runs if one.run.id == f"{wall.id}.k"), None)
        foot = wall.a if wall.a[2] < wall.b[2] else wall.b
        for piece in run.pieces if run else ():
            assert (np.sign(foot[0]) * np.concatenate(standing[piece.id].parts)[:, 0]).min() > -1.0


@pytest.mark.parametrize("apart", [60.0, 110.0, 180.0])
@pytest.mark.parametrize("pitch", [28.0, 35.0])
def test_wings_so_close_that_their_overhangs_go_through_each_other_break_nothing_off(pitch, apart):
    """Their roofs meet in edges between parallel planes: what lies there is raised straight up."""
    x = 2000.0 + apart / 2
    wings = [gable(name, x=hand * x, y=-3900.0, bearing=90.0, length=7700.0, span=4000.0, eave=4500.0, pitch=pitch, eave_overhang=500.0)
             for name, hand in (("west", -1), ("east", 1))]
    derived = derive(Job(name="close", roof=plan(gable("main", length=10500.0, span=9400.0, eave=4500.0, pitch=pitch, eave_overhang=500.0),
                                                 *wings)))
    assert derived.runs and all(abs(reach) < 1e5 for run in derived.runs for reach in run.run.reaches)


def test_a_part_whose_border_lies_on_that_of_its_face_is_over_it():
    """Coordinates as they come of a roof turned by 217°: rounded off, both outlines share a side but for the last digit."""
    part = np.array([[-1335.749002857277, -819.6790754539028, 0.0], [872.588233960776, 844.4223933431548, 0.0],
                     [834.5731977310256, 894.8700503155573, 0.0], [-1373.7640390870274, -769.2314184815004, 0.0]])
    face = shapely.Polygon([(-1335.749002857277, -819.6790754539028), (872.5882339607762, 844.4223933431548),
                            (182.87504551587074, 1759.7027084722683), (-2025.4621913021824, 95.60123967521088)])
    assert Ground("face", np.zeros(3), np.array([0.0, 0.0, 1.0]), (0.0,), face).under(
        part, shapely.Polygon(part[:, :2]))


def test_two_parts_whose_borders_lie_on_each_other_touch_over_all_they_share():
    """The same two outlines lying on each other: the smaller one's area, but for what is rounded away."""
    one = np.array([[-1335.749002857277, -819.6790754539028, 0.0], [872.588233960776, 844.4223933431548, 0.0],
                    [834.5731977310256, 894.8700503155573, 0.0], [-1373.7640390870274, -769.2314184815004, 0.0]])
    other = np.array([[-1335.749002857277, -819.6790754539028, 0.5], [872.5882339607762, 844.4223933431548, 0.5],
                      [182.87504551587074, 1759.7027084722683, 0.5], [-2025.4621913021824, 95.60123967521088, 0.5]])
    touch = _on_each_other(one, other, np.array([0.0, 0.0, 1.0]))
    assert touch is not None and touch.area == pytest.approx(174666.3, abs=5.0)
