"""Rain over the fitted roof: every item lies over what its water comes to; joints with the fall, in hems, by sealant."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from yattle.derive.graph import derive
from yattle.install import Lap, needs_of
from yattle.install.installation import installation
from yattle.install.parting import parting_of
from yattle.install.water import stands_by, water_of
from yattle.job import demo_path, load
from yattle.job.fixing_rules import FixingRules
from yattle.roof import RoofPlan, build
from yattle.roof.drain import drop, foot_on
from yattle.roof.starts import STARTS

DEMO = load(demo_path())
FIT = installation(derive(DEMO))
BARE = DEMO.but(runs=(), taped=(), edges=(), faces=(), openings=())


def test_on_the_demo_no_water_comes_against_a_lap():
    water = FIT.water
    assert water.passages and all(passage.over for passage in water.passages)
    ways = {(passage.source, passage.to) for passage in water.passages}
    assert {("panels loft.1", "E1"), ("panels loft.2", "V1"), ("R1", "panels loft.2 above"), ("W1.c", "W1"),
            ("panels loft.1 above", "chimney"), ("chimney", "panels loft.1")} <= ways
    assert not [source for source, to in ways if source.startswith("E")], "off an eave it falls freely"


def test_a_valley_s_foot_lies_over_the_panels_below_and_under_those_beside_it():
    """The dormer's valleys end on the loft's roof: its lower panels first, then the valley, then the upper ones."""
    roof, stage = FIT.derived.roof, FIT.order.stage_of
    valleys = [edge for edge in roof.edges if edge.kind == "valley"]
    feet = {edge.id: foot_on(roof, edge) for edge in valleys}
    assert feet == {"V1": None, "V2": None, "V3": "loft.2", "V4": "loft.2"} and parting_of(roof.plan).top("loft.2") >= 1
    for name in ("V3", "V4"):
        assert stage("panels loft.2") < stage(name) < stage("panels loft.2 above")
    assert stage("V1") < stage("panels loft.2")


@pytest.mark.parametrize("lap", [Lap("panels loft.1", "E1", "the panels end over it"),
                                 Lap("R1", "panels loft.2 above", "it covers the panels"),
                                 Lap("chimney", "panels loft.1", "its lower flange lies over the panels below")])
def test_a_lap_left_out_or_turned_round_is_found_by_the_drops(lap):
    kept = tuple(one for one in FIT.laps if (one.over, one.under) != (lap.over, lap.under))
    assert len(kept) < len(FIT.laps)
    by_others = lap.over == "R1"  # its closures lie on the same panels
    for laps in ((*kept, Lap(lap.under, lap.over, "turned round")), *(() if by_others else (kept,))):
        water = water_of(FIT.derived, laps)
        assert (lap.over, lap.under) in {(p.source, p.to) for p in water.passages if not p.over}
        said = [finding for item, finding in water.findings() if item == lap.under]
        assert any(finding.says() == f"water from {lap.over} comes against it" for finding in said)
        assert all("sealant alone" in finding.reason() for finding in said)


def test_a_roof_that_falls_against_a_wall_is_told():
    """A shed whose fall runs askew against a higher block: its wall's flashing lies beneath the panels."""
    sizes = {"eave_overhang": 300.0, "rake_overhang": 200.0, "y": 0.0}
    roof = RoofPlan.model_validate({"blocks": (
        {"id": "house", "kind": "gable", "x": 0.0, "bearing": 0.0, "length": 9000.0, "span": 6000.0, "eave_height": 5000.0,
         "pitch": 35.0, **sizes},
        {"id": "shed", "kind": "shed", "x": 0.0, "bearing": 200.0, "length": 5000.0, "span": 3000.0, "eave_height": 2600.0,
         "pitch": 12.0, **sizes, "y": -4200.0})})
    fit = installation(derive(BARE.but(roof=roof)))
    walls = {run.run.id for run in fit.derived.runs if run.run.collects and not run.run.layer}
    assert walls and all(p.over for p in fit.water.passages), "its pan lies under the panels that drain into it"
    assert {p.to for p in fit.water.passages if p.source.startswith("panels shed")} >= walls


def test_joints_with_the_fall_in_hems_and_by_sealant_alone():
    plain = installation(derive(DEMO.but(schools=DEMO.schools.but(joint="plain"))))
    stands = {joint.by for joint in FIT.water.joints}
    assert stands == {"fall", "hem"}
    by_run = {joint.run: joint.by for joint in plain.water.joints}
    assert by_run["E1"] == by_run["R1"] == "sealant" and by_run["V1"] == by_run["G1"] == "fall"
    assert Counter(joint.run for joint in plain.water.sealed)["E1"] == len(plain.runs["E1"].run.pieces) - 1
    for name, fit in plain.runs.items():
        only = [need.only for need in fit.needs if need.what == "sealant"]
        assert only == [by_run.get(name) == "sealant"] * len(only)


def test_a_joint_that_looks_up_the_fall_is_told():
    """The valley's run with its ends taken for each other: every joint lies against the water."""
    run = FIT.derived.run("V1")
    turned = replace(run, run=run.run.but(turned=not run.run.turned))
    assert stands_by(run, 1) == "fall" and stands_by(turned, 1) == "against"
    runs = tuple(turned if one.run.id == "V1" else one for one in FIT.derived.runs)
    found = list(water_of(replace(FIT.derived, runs=runs), FIT.laps).findings())
    assert [item for item, finding in found if "against the fall" in finding.says()] == ["V1"] * (len(run.pieces) - 1)


def test_joints_have_their_place_on_the_edge():
    for joint in FIT.water.joints:
        if joint.at is None:
            continue
        edge = next(found for found in FIT.derived.roof.edges if found.id == joint.run.partition(".")[0])
        (ax, ay, az), (bx, by, bz), (x, y, z) = edge.a, edge.b, joint.at
        run = FIT.derived.run(joint.run)
        if run.run.low is not None:  # counted from the left end: so is the end that lies lower
            from_left = run.pieces[joint.n].start / run.run.length
            assert z == pytest.approx(az + (from_left if run.run.low == "left" else 1 - from_left) * (bz - az), abs=1e-6)
        share = ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / ((bx - ax) ** 2 + (by - ay) ** 2)
        assert 0 < share < 1
        assert (x, y, z) == pytest.approx((ax + share * (bx - ax), ay + share * (by - ay), az + share * (bz - az)), abs=1e-6)


@settings(max_examples=20, deadline=None)
@given(st.sampled_from(["gable", "hip", "gable with a wing", "gable with a lean-to", "single slope"]),
       st.sampled_from([0.0, 30.0, 90.0, 215.0]))
def test_usual_roofs_shed_their_water_over_every_lap(start, bearing):
    roof = STARTS[start]
    turned = roof.but(blocks=tuple(one.but(bearing=one.bearing + bearing) for one in roof.blocks)) if len(roof.blocks) == 1 \
        else roof
    fit = installation(derive(BARE.but(roof=turned)))
    assert not fit.order.troubles and [p for p in fit.water.passages if not p.over] == []


@settings(max_examples=30, deadline=None)
@given(st.floats(-8000, 8000), st.floats(-8000, 8000))
def test_a_drop_s_faces_follow_each_other(x, y):
    """Each face is left where the drop came to an edge, and it runs downhill on it."""
    roof = build(DEMO.roof)
    found = drop(roof, (x, y))
    assert len(found.faces) in (len(found.edges), len(found.edges) + 1)
    for face, start, end in found.faces:
        plane = roof.facet(face).plane
        assert plane.z(end) <= plane.z(start) + 1e-6
        assert any(abs(place[0] - end[0]) + abs(place[1] - end[1]) < 1e-6 for place in found.places) or start == end


def test_a_wide_lap_takes_a_second_row_by_hand():
    """6 m of ridge with wings of 230: over 200, so two rows a side: 84 screws where 42 did, twice the tape."""
    narrow, wide = ({need.what: need for need in needs_of("ridge", 6000.0, 460.0, (), FixingRules(), lap=lap)} for lap in (200.0, 230.0))
    assert (narrow["screws"].many, wide["screws"].many) == (42, 84) and (narrow["screws"].rows, wide["screws"].rows) == (2, 4)
    assert wide["tape"].many == 2 * narrow["tape"].many == 24_000
    eave = {need.what: need for need in needs_of("eave", 6000.0, 460.0, (), FixingRules(), lap=900.0)}
    assert eave["screws"].rows == 1, "an eave lies beneath the panels"


def test_rain_that_begins_above_an_opening_comes_to_it():
    """A narrow pipe in the middle of a wide face: of all drops only those let go above it come to it."""
    plan = {"blocks": ({"id": "main", "kind": "gable", "x": 0.0, "y": 0.0, "bearing": 0.0, "length": 20000.0,
                        "span": 8000.0, "eave_height": 4000.0, "pitch": 30.0, "eave_overhang": 300.0,
                        "rake_overhang": 200.0},)}
    for x in (-7777.0, 333.0, 5151.0):
        roof = RoofPlan.model_validate({**plan, "openings": ({"id": "vent", "kind": "pipe", "x": x, "y": -2000.0,
                                                              "diameter": 110.0},)})
        water = installation(derive(BARE.but(roof=roof))).water
        ways = {(passage.source, passage.to): passage for passage in water.passages}
        above, below = ways["panels main.2 above", "vent"], ways["vent", "panels main.2"]
        assert above.over and below.over
        assert above.at[0] == pytest.approx(x, abs=1.0) and above.at[1] > -2000.0, "it was let go higher up the slope"
    assert not any("vent" in (passage.source, passage.to) for passage in installation(
        derive(BARE.but(roof=RoofPlan.model_validate(plan)))).water.passages)
