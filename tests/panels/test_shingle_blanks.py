"""Shingles made in the shop: their blank by hand, their locks brought together, as many as the courses take, nested."""

from __future__ import annotations

import json
import math

import pytest
from shapely import Polygon

from yattle.derive import derive
from yattle.install.answers import order_answer
from yattle.install.panel_answer import panels_answer
from yattle.job import Job, demo_path, load
from yattle.job.panel_systems import with_system
from yattle.panels import find
from yattle.roof import RoofPlan

K = 1 / math.cos(math.radians(30))
SHED = {"id": "store", "kind": "shed", "x": 0.0, "y": 0.0, "length": 6000.0, "span": 2000.0 / K, "eave_height": 2500.0, "pitch": 30.0}


def shed(made="shop"):
    plan = RoofPlan.model_validate_json(json.dumps({"blocks": [SHED]}))
    system = find("shingle 600 x 300").model_copy(update={"made": made})
    job = with_system(Job(name="store", roof=plan, systems=(system,)), "shingle 600 x 300")
    return job.but(panels=job.panels.but(overhang=0.0, start=0.0))


def shingle(derived):
    (opening,) = [one for one in derived.openings if one.id.startswith("pans ")]
    (piece,) = opening.pieces
    return opening, piece


def test_the_blank_is_what_it_covers_and_three_locks_each_way_by_hand():
    """600 + 10 from fold to fold, 9 turned at both sides: 628 across; 300 + 10 + 18 = 328 up, but for what folds give."""
    opening, piece = shingle(derive(shed()))
    left, low, right, high = Polygon(piece.pattern.outline).bounds
    assert opening.findings == ()
    assert sorted((right - left, high - low)) == pytest.approx([328.0, 628.0], abs=4 * 1.5)
    assert len(piece.pattern.folds) == 4 and piece.proof.max_gap < 0.01


def test_as_many_as_the_courses_take_and_none_is_bought():
    derived = derive(shed())
    _, piece = shingle(derived)
    assert piece.pattern.qty == 3 * 10 + 3 * 11 + 10
    assert order_answer(derived)["panels"] == []
    (face,) = panels_answer(derived)["faces"]
    assert face["shingle"] == piece.pattern.id
    assert sum(course["whole"] + course["cut"] for course in face["courses"]) == piece.pattern.qty


def test_bought_ones_stay_on_the_list():
    derived = derive(shed("bought"))
    assert not [one for one in derived.openings if one.id.startswith("pans ")]
    (row,) = order_answer(derived)["panels"]
    assert row["qty"] == 73 and row["length"] == 300.0
    (face,) = panels_answer(derived)["faces"]
    assert face["shingle"] is None


def test_locks_of_neighbours_lie_in_each_other():
    """The one above has its low edge turned under, the one below its high edge turned over: with the next course an
    exposure up, the hook's sheet lies wholly between the fold and the floor of the other; beside each other likewise."""
    _, piece = shingle(derive(shed()))
    floor, *hooks = [[(x, y) for x, y, _ in face.corners] for face in piece.surface.faces]
    whole = Polygon(floor)
    low = next(Polygon(ring) for ring in hooks if max(y for _, y in ring) < 20.0)
    top = next(Polygon(ring) for ring in hooks if min(y for _, y in ring) > 290.0)
    above = Polygon([(x, y + 300.0) for x, y in low.exterior.coords])
    assert whole.covers(low) and whole.covers(top)
    assert above.intersection(top).area > 0.95 * top.area * (10.0 - 2.0) / 10.0
    assert above.bounds[3] < top.bounds[3] and above.bounds[1] <= top.bounds[1]


def test_they_are_nested_on_the_jobs_coil():
    """73 blanks of some 628 by 328 from a coil of 1,000: all placed, none left over."""
    derived = derive(shed().but(stock=load(demo_path()).stock))
    _, piece = shingle(derived)
    placed = [one for one in derived.nest.placements if one.part == piece.pattern.id]
    assert len(placed) == piece.pattern.qty and not [one for one in derived.nest.unplaced if one.part == piece.pattern.id]


@pytest.mark.parametrize(("seam", "found"), [(10.0, None), (160.0, "locks narrower than a third")])
def test_locks_that_leave_nothing_of_a_shingle_are_refused_with_their_measure(seam, found):
    system = find("shingle 600 x 300").model_copy(update={"seam": seam})
    job = shed().but(systems=(system,))
    (opening,) = [one for one in derive(job).openings if one.id.startswith("pans ")]
    said = " ".join(finding.text for finding in opening.findings)
    assert (found in said and "160" in said) if found else said == ""


def test_no_zeds_stand_on_locks_that_lie_flat():
    """The half-ridge lies on the shingles with its tape: no closure is folded, no strip ordered, the tape counted."""
    derived = derive(shed())
    assert not [run.run.id for run in derived.runs if run.run.layer == "closure"]
    answer = order_answer(derived)
    assert not [row for row in answer["fillers"] if "strip" in str(row)]
    assert next(row["many"] for row in answer["sealing"] if row["what"] == "tape") >= 6000.0
