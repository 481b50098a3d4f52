"""What panels do between frost and sun, and faces that are out of square: sums on paper."""

from __future__ import annotations

import json
import math

import pytest

from yattle.derive import derive
from yattle.install.installation import installation
from yattle.install.panel_answer import panels_answer
from yattle.install.panel_findings import panel_findings
from yattle.install.panel_movement import movements
from yattle.job import Job
from yattle.job.model import OpeningNote
from yattle.job.panel_systems import with_system
from yattle.roof import RoofPlan
from yattle.roof.measured import taken

SHED = {"id": "store", "kind": "shed", "x": 0.0, "y": 0.0, "length": 6000.0, "span": 7000.0, "eave_height": 2500.0, "pitch": 20.0}
PIPE = {"id": "vent", "kind": "pipe", "x": 250.0, "y": 1500.0, "diameter": 110.0}  # the wall stands at y = 3,500: 5,000 up from the eave
K = 1 / math.cos(math.radians(20))


def job(system, *openings):
    plan = RoofPlan.model_validate_json(json.dumps({"blocks": [SHED], "openings": list(openings)}))
    return with_system(Job(name="store", roof=plan), system)


@pytest.mark.parametrize(("system", "fixed"), [("double seam 530 x 32", "head"), ("single seam 475 x 38", "eave")])
def test_hooked_panels_are_fixed_at_the_head_and_screwed_ones_at_the_eave(system, fixed):
    """Steel, 12e-6 a kelvin, laid at 15°: 55 K warmer, 35 K colder. At the pipe, 5,000 or 2,000 in plan from there."""
    derived = derive(job(system, PIPE))
    face = derived.roof.facets[0].id
    through = [one for one in movements(derived, face) if one.pipes]
    (one,), far = through, (2000.0 if fixed == "head" else 5000.0) * K
    (at,) = one.pipes
    assert one.fixed == fixed and at.far == pytest.approx(far, abs=1)
    assert at.movement.longer == pytest.approx(far * 12e-6 * 55, abs=0.01)
    assert one.movement.shorter == pytest.approx(one.panel.length * 12e-6 * 35, abs=0.01)
    (answer,) = panels_answer(derived)["faces"]
    row = next(row for row in answer["panels"] if row["at_pipes"])
    assert row["fixed_at"] == fixed and row["at_pipes"][0]["opening"] == "vent"
    assert row["at_pipes"][0]["shorter"] == pytest.approx(far * 12e-6 * 35, abs=0.01)


def test_what_slides_too_little_is_told_with_the_end_and_the_hole():
    found = job("double seam 530 x 32", PIPE)
    said = [f.says() + f.reason() for _, f in installation(derive(found.but(fit=found.fit.but(slide=5.0)))).findings if f.field == "movement"]
    assert len(said) == 1 and "fixed at the head only" in said[0] and f"the hole of vent {2000 * K * 12e-6 * 90:.1f} mm wider" in said[0]


def out_by(mm):
    """The shed's face, 6,000 wide, its head ``mm`` out to the right, as its two diagonals tell."""
    height = 7000 * K
    rising, falling = math.hypot(6000 + mm, height), math.hypot(6000 - mm, height)
    made = job("single seam 475 x 38")
    face = derive(made).roof.facets[0].id
    for field, value in (("0-2", rising), ("1-3", falling)):
        made = made.with_taped(taken("diagonal", face, field, round(value, 1)), "diagonal", face, field)
    return made


@pytest.mark.parametrize(("mm", "told"), [(30.0, False), (-30.0, False), (42.0, True), (-42.0, True)])
def test_out_of_square_is_covered_by_the_rake_s_flange_or_told(mm, told):
    """A flange of 60 bears on 25: it covers 35. 12 seams at 475 in 6 m: 13 panels, 42 are 3.2 each."""
    found = installation(derive(out_by(mm))).findings
    said = [f.says() + " · " + f.reason() for _, f in found if f.field == "diagonal"]
    assert bool(said) == told
    if told:
        assert "its flange covers 35.0 mm" in said[0] and "each seam 3.2 mm off square" in said[0]


@pytest.mark.parametrize(("length", "gap", "told"), [(3000.0, 6.0, False), (14000.0, 1.5, True), (14000.0, 14.0, False)])
def test_a_hole_with_less_room_than_its_panel_moves_is_told_with_what_would_do(length, gap, told):
    """Steel of 12e-6 over 70 to −20 °C: a pipe some 3 m from where its pan of 14 m is fixed moves by more than the 1.5 mm it has."""
    job = Job.model_validate_json(json.dumps({"format": "yattle-job/1", "name": "shed", "roof": {
        "format": "yattle-roof/1", "blocks": [{"id": "store", "kind": "shed", "x": 0.0, "y": 0.0, "length": 4000.0, "span": length,
                                               "eave_height": 2500.0, "pitch": 12.0}],
        "openings": [{"id": "vent", "kind": "pipe", "x": 250.0, "y": 0.3 * length, "diameter": 100.0}]}}))
    job = with_system(job, "double seam 530 x 25")
    job = job.but(openings=(OpeningNote(of="vent", own=(("gap", gap),)),))
    derived = derive(job)
    found = [finding for item, finding in panel_findings(derived) if finding.field == "gap"]
    moved = next(at.movement for one in movements(derived, "store.1") for at in one.pipes)
    most = max(moved.longer, moved.shorter)
    assert bool(found) == told == (most > gap + 0.05)
    if told:
        assert found[0].lengths[2] == gap and most <= found[0].lengths[3] < most + 0.5
