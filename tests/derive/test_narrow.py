"""Strips of roof too narrow for the trims at both sides of them: how wide they are, by hand, and where nothing is said."""

from __future__ import annotations

import math

import pytest
import shapely

from plans import gable, hip, plan, wild
from yattle.derive import derive
from yattle.derive.narrow import narrow_strips
from yattle.derive.near_edges import LEGS, trimmed_edges
from yattle.job import Job, load
from yattle.job.store import demo_path
from yattle.roof.panels import face_frame


def trims(derived):
    return [(found.edge, derived.run(name)) for name, found in derived.edge_runs.items()]


def beside_a_hip(apart, pitch):
    """A wing on a hipped house whose valley runs along a hip, ``apart`` mm from it along the eave."""
    x = 6000.0 - 5000.0 / 2 - apart  # both overhangs are alike, so that eaves and walls are as far apart
    return derive(Job(name="narrow", roof=plan(
        hip("main", length=12000.0, span=9000.0, pitch=pitch, eave_overhang=300.0),
        gable("wing", x=x, y=-4000.0, bearing=90.0, length=8000.0, span=5000.0, eave=3000.0, pitch=pitch,
              eave_overhang=300.0))))


@pytest.mark.parametrize("pitch", [12.0, 35.0, 58.0])
@pytest.mark.parametrize("apart", [60.0, 150.0])
def test_a_valley_close_along_a_hip_is_told_with_how_wide_the_face_is_between(apart, pitch):
    """Both run at 45° in plan: across the slope they are as far apart as along the eave, by the face's stretch."""
    derived = beside_a_hip(apart, pitch)
    found = narrow_strips(derived.roof, trims(derived))
    wide = apart / math.sqrt(1.0 + math.cos(math.radians(pitch)) ** 2)
    assert len(found) == 1
    (said,) = found.values()
    have, need = said.lengths
    assert have == math.floor(wide) and need == 185
    (run,) = (run for run in derived.runs if said in run.findings)
    assert run.run.kind in ("hip", "valley")


@pytest.mark.parametrize("apart", [420.0, 900.0])
def test_with_room_between_them_nothing_is_said(apart):
    derived = beside_a_hip(apart, 35.0)
    assert narrow_strips(derived.roof, trims(derived)) == {}


@pytest.mark.parametrize("which", ["sail-loft", "net-shed"])
def test_nothing_is_said_of_the_demos(which):
    derived = derive(load(demo_path(which)))
    assert narrow_strips(derived.roof, trims(derived)) == {}


@pytest.mark.parametrize("seed", range(12))
def test_every_edge_has_its_face_on_the_left(seed):
    """Of faces that go round a corner too, whose middle may lie on the other side of the line."""
    derived = derive(Job(name="wild", roof=plan(*wild(seed))))
    of, looked = {edge.id: run for edge, run in trims(derived)}, 0
    for facet in derived.roof.facets:
        own = face_frame(facet)
        for one in trimmed_edges(derived.roof, facet, of, dict.fromkeys((*LEGS, "valley"), "")):
            way = (one.b - one.a) / math.dist(one.a, one.b)
            middle = (one.a + one.b) / 2
            assert own.shape.buffer(0.01).contains(shapely.Point(middle[0] - 0.5 * way[1], middle[1] + 0.5 * way[0]))
            looked += 1
    assert looked


@pytest.mark.parametrize(("sides", "ends", "told"), [(4.0, 58.0, True), (3.0, 35.0, True), (12.0, 35.0, False), (4.0, 12.0, False)])
def test_a_face_that_runs_out_to_a_sharp_point_is_told_with_how_far_the_trim_lies_over_the_eave(sides, ends, told):
    """By hand: for each mm of height the hip goes 1/tan of the sides' pitch along the eave of the end, and 1/sin of the
    ends' pitch up it."""
    derived = derive(Job(name="sharp", roof=plan(hip("main", length=12000.0, span=8000.0, pitch=sides, pitch_ends=ends, fascia="level"))))
    found = narrow_strips(derived.roof, trims(derived))
    angle = math.atan(math.tan(math.radians(sides)) / math.sin(math.radians(ends)))
    assert (angle < math.radians(10.0)) is told and len(found) == (4 if told else 0)
    for edge, said in found.items():
        assert edge.startswith("H") and f"a point of {math.degrees(angle):.0f}°" in said.text
        wing = derived.run(edge).detail.profile.legs
        assert any(said.lengths[0] == math.ceil(leg / math.sin(angle)) for leg in wing)
