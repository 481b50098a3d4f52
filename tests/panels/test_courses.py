"""Shingles course by course: counts by hand, the cut course at the head, what is turned down along a valley."""

from __future__ import annotations

import json
import math
from itertools import pairwise

import pytest

from yattle.derive import derive
from yattle.errors import InputError
from yattle.install.answers import order_answer
from yattle.install.panel_answer import panels_answer
from yattle.job import Job, demo_path, load
from yattle.job.panel_systems import with_system
from yattle.panels import find
from yattle.roof import RoofPlan
from yattle.roof.courses import courses_of

K = 1 / math.cos(math.radians(30))
SHED = {"id": "store", "kind": "shed", "x": 0.0, "y": 0.0, "length": 6000.0, "span": 2000.0 / K, "eave_height": 2500.0, "pitch": 30.0}


def shed(**more):
    plan = RoofPlan.model_validate_json(json.dumps({"blocks": [SHED]}))
    job = with_system(Job(name="store", roof=plan), "shingle 600 x 300")
    return job.but(panels=job.panels.but(overhang=0.0, start=0.0, **more))


def test_a_face_of_six_metres_by_two_by_hand():
    """2,000 up: six courses of 300 and one of 200, cut at its head. 6,000 / 600: ten whole ones in the first, third …; half a
    shingle on, nine whole and two halves in the second, fourth …; all eleven or ten of the last are cut."""
    (face,) = panels_answer(derive(shed()))["faces"]
    rows = face["courses"]
    assert [(round(row["low"]), round(row["high"])) for row in rows] == [(300 * n, min(300 * n + 300, 2000)) for n in range(7)]
    assert [(row["whole"], row["cut"]) for row in rows] == [(10, 0), (9, 2)] * 3 + [(0, 10)]
    assert [row["short"] for row in rows] == [False] * 6 + [True]
    bought = shed()
    bought = bought.but(systems=(find("shingle 600 x 300").model_copy(update={"made": "bought"}),))
    listed = [row for row in order_answer(derive(bought))["panels"] if row["face"] == face["face"]]
    assert listed == [{"face": face["face"], "length": 300.0, "qty": 3 * 10 + 3 * 11 + 10}]


def test_an_overhang_begins_the_first_course_below_the_eave():
    job = shed().but(panels=shed().panels.but(overhang=40.0))
    (face,) = panels_answer(derive(job))["faces"]
    assert face["courses"][0]["low"] == -40.0 and face["courses"][0]["high"] == 260.0 and len(face["courses"]) == 7


def test_along_a_valley_each_course_is_turned_down_wider_downslope_by_its_taper():
    """100 open at the head, 10 wider a metre: at both ends of a course half of it; courses join without a step."""
    job = with_system(load(demo_path()), "shingle 600 x 300")
    derived = derive(job)
    valley = next(run for run in derived.own_runs if run.run.kind == "valley")
    edge = derived.edge_runs[valley.run.id].edge
    face = edge.facets[0]
    courses = courses_of(derived.roof, face, derived.panels[face].rule, 300.0, 100.0, 10.0)
    mine = [(course, down) for course in courses for down in course.valleys if down.edge == edge.id]
    assert len(mine) > 5
    assert mine[-1][1].head == pytest.approx(50.0) and mine[0][1].foot == pytest.approx((100 + 10 * edge.length / 1000) / 2)
    for (_, below), (_, above) in pairwise(mine):
        assert below.head == pytest.approx(above.foot) and below.foot > below.head
    per_course = {round(down.foot - down.head, 3) for _, down in mine[1:-1]}
    assert len(per_course) == 1, "even tapers"


def test_only_shingles_have_an_exposure():
    with pytest.raises(InputError, match="only shingles lie in courses"):
        find("rib 45, pitch 333").but(exposure=300.0)
    assert not panels_answer(derive(with_system(shed(), "single seam 475 x 38")))["faces"][0]["courses"]
