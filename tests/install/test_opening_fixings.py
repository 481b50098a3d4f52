"""What openings take: counted from their marks and joints, in fit, order list and site pack."""

from __future__ import annotations

import json
import math

import pytest

from yattle.derive import derive
from yattle.install.answers import fit_answer, order_answer
from yattle.install.installation import installation
from yattle.install.opening_fixings import opening_needs
from yattle.job import Job, demo_path, load
from yattle.job.model import OpeningNote

BLOCK = {"id": "store", "kind": "shed", "x": 0.0, "y": 0.0, "length": 6000.0, "span": 4000.0, "eave_height": 2500.0, "pitch": 20.0}
CURB = {"id": "hatch", "kind": "curb", "x": 300.0, "y": 0.0, "across": 600.0, "along": 600.0}
VENT = {"id": "vent", "kind": "pipe", "x": -1500.0, "y": 0.0, "diameter": 110.0}
CHIMNEY = {"id": "stack", "kind": "chimney", "x": 0.0, "y": 0.0, "across": 600.0, "along": 500.0, "top": 5500.0}


def shed(*openings, notes=()):
    return derive(Job.model_validate_json(json.dumps({"format": "yattle-job/1", "name": "shed", "roof": {
        "format": "yattle-roof/1", "blocks": [BLOCK], "openings": list(openings)}})).but(openings=notes))


def taken(derived, name):
    return {need.what: need.many for need in opening_needs(derived)[name]}


def test_a_curb_by_hand():
    """Its lower flange of 600 + 2 · (120 + 20 − 25) in rows of screws at 150 at the most: 830 are 6 gaps, 7 screws. One seam runs
    in: caps over it of 150 + 150 − 2 below, and of 148 or more behind the diverter, both their feet screwed every 100 at the most, 12.5
    from their ends: 273 and 123 or more between, 2 · 4 and 2 · 3.
    Rivets: two tabs on each of four upstands of 200 less 6: every 60, 4 of them each."""
    derived = shed(CURB)
    found = taken(derived, "hatch")
    assert len(derived.opening("hatch").form.seams) == 1
    assert found["screws"] == math.ceil((600 + 2 * 115) / 150) + 1 + 2 * 4 + 2 * 3 == 21
    tabs = 8 * math.ceil((200 - 3) / 60)
    assert found["rivets"] >= tabs and found["tape"] > 3 * 600


def test_a_chimney_s_kerf_takes_wedges_and_a_bead_as_long_as_it():
    derived = shed(CHIMNEY)
    found, k = taken(derived, "stack"), 1 / math.cos(math.radians(20.0))
    kerfs = [600.0, 600.0, 500.0 * k, 500.0 * k]
    assert found["wedges"] == sum(math.ceil(kerf / 300.0) + 1 for kerf in kerfs)
    assert found["sealant"] == pytest.approx(sum(kerfs) / 1000 * 25.0, rel=0.02)
    none = taken(shed(CHIMNEY, notes=(OpeningNote(of="stack", own=(("counter", "none"),)),)), "stack")
    assert "wedges" not in none and none["rivets"] > 0


def test_a_pipe_between_pans_has_its_plate_s_screws_and_bead():
    derived = shed(VENT, notes=(OpeningNote(of="vent", own=(("school", "split"),)),))
    found, form = taken(derived, "vent"), derived.opening("vent").form
    left, right, up, down = form._plate
    bead = (left + right - 40) + 2 * (min(up, form.split.over / 2) - 20 + down)
    assert found["sealant"] == pytest.approx(bead / 1000 * 25.0, rel=0.12), "as far as the lower pan goes"
    assert found["screws"] == len(form._plate_screws()) >= 7


def test_what_openings_take_is_in_the_order_and_at_their_stage():
    derived = shed(CURB, CHIMNEY | {"x": -1500.0, "y": 900.0}, VENT | {"y": -900.0})
    ours = {row["what"]: row["many"] for row in order_answer(derived)["fixings"]}
    for what in ("screws", "rivets"):
        mine = sum(need.many for needs in opening_needs(derived).values() for need in needs if need.what == what)
        on_runs = sum(need.many for run in installation(derived).runs.values() for need in run.needs if need.what == what)
        assert ours[what] == mine + on_runs and mine > 0
    items = {item["id"]: item for stage in fit_answer(derived)["stages"] for item in stage["items"]}
    assert {need["what"] for need in items["hatch"]["needs"]} >= {"screws", "tape", "rivets"}
    assert "openings" not in " ".join(fit_answer(derived)["left_out"])
    assert ("hatch", 21.0) in installation(derived).shares["screws"]


def test_counts_do_not_depend_on_the_side():
    one, other = shed(CURB | {"x": 500.0}), shed(CURB | {"x": -500.0})
    assert taken(one, "hatch")["screws"] == taken(other, "hatch")["screws"] and taken(one, "hatch")["tape"] == pytest.approx(
        taken(other, "hatch")["tape"])


def test_the_demo_s_openings_take_something_each():
    derived = derive(load(demo_path()))
    found = opening_needs(derived)
    assert set(found) >= {placed.opening.id for placed in derived.roof.openings}


def test_what_an_opening_adds_to_the_panels_is_told():
    """A curb over a seam parts the panels beside and above it; a pipe in a pan adds nothing until two pans are split round it: one
    panel more, and its lap of metal."""
    derived = shed(CURB, VENT)
    items = {item["id"]: item for stage in fit_answer(derived)["stages"] for item in stage["items"]}
    laid, bare = derived.panels["store.1"], shed(VENT).panels["store.1"]
    more = items["hatch"]["adds_panels"]
    assert more["pieces"] >= 1 and items["vent"]["adds_panels"] == {"pieces": 0, "length": pytest.approx(0.0)}
    if laid.start == bare.start:
        assert more["pieces"] == len(laid.panels) - len(bare.panels)
    split = shed(VENT, notes=(OpeningNote(of="vent", own=(("school", "split"),)),))
    items = {item["id"]: item for stage in fit_answer(split)["stages"] for item in stage["items"]}
    over = split.opening("vent").form.split.over
    assert items["vent"]["adds_panels"] == {"pieces": 1, "length": pytest.approx(over)}
