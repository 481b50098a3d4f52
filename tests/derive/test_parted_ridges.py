"""A ridge with a chimney on it: its cap ends before it and begins anew behind it, and everything goes together."""

from __future__ import annotations

import math

import pytest

from plans import gable, plan
from yattle.built import put_together
from yattle.derive import derive
from yattle.derive.measures import taped_whole
from yattle.derive.meetings import meetings
from yattle.install.installation import installation
from yattle.job import Job
from yattle.job.model import EdgeNote
from yattle.job.panel_systems import with_system
from yattle.roof.measured import taken


def job_with(*chimneys, **more):
    openings = [{"id": f"flue {n}", "kind": "chimney", "across": 600.0, "along": 500.0, "top": 9500.0, **one}
                for n, one in enumerate(chimneys, 1)]
    return with_system(Job(name="chimneys", roof=plan(gable("hall", length=12000.0, rake_overhang=300.0, **more), openings=openings)),
                       "double seam 430 x 25")


def ridges(job):
    return [found for found in derive(job).edge_runs.values() if found.edge.kind == "ridge"]


def test_its_two_parts_end_before_the_chimney_and_keep_the_gables_ends():
    """By hand: 12,600 from rake to rake, the chimney's 600 and 10 to either side are taken out at x = 1,000."""
    left, right = sorted(ridges(job_with({"x": 1000.0, "y": 50.0})), key=lambda found: found.edge.a[0])
    assert (left.edge.a[0], left.edge.b[0]) == pytest.approx((-6300.0, 690.0))
    assert (right.edge.a[0], right.edge.b[0]) == pytest.approx((1310.0, 6300.0))
    assert left.edge.a[2] == pytest.approx(right.edge.b[2])
    assert {left.run.id, right.run.id} == {"R1", "R2"} and {left.place, right.place} == {0, 1}
    assert [(found.run.left, found.run.right) for found in (left, right)] == [("cap", "plain"), ("plain", "cap")]


@pytest.mark.parametrize(("chimneys", "lengths"), [
    (({"x": 1000.0, "y": 900.0},), [12600.0]),
    (({"x": -2000.0, "y": 0.0}, {"x": 2500.0, "y": 100.0}), [3990.0, 3880.0, 3490.0]),
    (({"x": -5950.0, "y": 0.0},), [11940.0]),
    (({"x": 0.0, "y": 0.0, "bearing": 30.0},), [6300.0 - 10.0 - 384.8] * 2)])
def test_as_many_parts_as_there_is_room_between_chimneys(chimneys, lengths):
    """One beside the ridge parts nothing; two part it in three; what is left short of a gable has no cap; of a turned one all of it
    is kept clear: 600 · cos 30° + 500 · sin 30° across."""
    assert sorted(found.run.length for found in ridges(job_with(*chimneys))) == pytest.approx(sorted(lengths), abs=0.1)


def test_each_part_has_notes_of_its_own():
    job = job_with({"x": 1000.0, "y": 50.0})
    key = ridges(job)[0].edge.key
    named = {found.place: found.run.name for found in ridges(job.but(edges=(EdgeNote(key=key, place=1, name="behind the flue"),)))}
    assert named[1] == "behind the flue" != named[0]


@pytest.mark.parametrize("chimneys", [({"x": 1000.0, "y": 50.0},), ({"x": -2000.0, "y": 0.0}, {"x": 2500.0, "y": 100.0})])
def test_the_roof_goes_together_and_its_fitting_names_both_parts(chimneys):
    found = derive(job_with(*chimneys))
    answer = put_together(found).answer
    assert answer["ok"], answer["reasons"][:3]
    parts = [one.run.id for one in ridges(found.job)]
    fit = installation(found)
    assert set(parts) <= {item.id for item in fit.items} and not fit.order.troubles
    for meeting in (one for one in meetings(found.roof) if "ridge" in one.kinds):
        near = min(ridges(found.job), key=lambda one: min(math.dist(one.edge.a, meeting.at), math.dist(one.edge.b, meeting.at)))
        assert {lap.under for lap in fit.laps if lap.over == meeting.id} & set(parts) == {near.run.id}


@pytest.mark.parametrize(("place", "value", "runs", "whole"), [
    (0, 12590.0, [None, None], 1), (0, 7000.0, [7000.0, None], 0), (1, 4990.0, [None, 4990.0], 0)])
def test_a_tape_over_the_whole_ridge_is_of_the_roof_and_one_of_a_part_of_its_run(place, value, runs, whole):
    """Over a chimney somebody tapes from gable to gable, or up to it: by which of the two the number is nearer to. Neither is lost."""
    job = job_with({"x": 1000.0, "y": 50.0})
    key = ridges(job)[0].edge.key
    taped = job.but(taped=(taken("edge", key, str(place), value),))
    assert [found.run.taped for found in sorted(ridges(taped), key=lambda found: found.place)] == runs
    assert len(taped_whole(taped)) == whole and len(taped.taped) == 1
