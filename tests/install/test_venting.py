"""Vented ridges and eaves: holes by hand, in the patterns, and what they let through beside what the roof asks."""

from __future__ import annotations

import json
import math
from itertools import pairwise

import pytest

from samples import made
from yattle.derive import derive
from yattle.details import develop
from yattle.details.schools import Schools
from yattle.details.vents import free_area, rows_in
from yattle.install.answers import fit_answer
from yattle.install.installation import installation
from yattle.install.venting import air_of
from yattle.job import Job
from yattle.job.panel_systems import with_system
from yattle.pattern.pattern import signed_area
from yattle.roof import RoofPlan

GABLE = {"id": "barn", "kind": "gable", "x": 0.0, "y": 0.0, "length": 10_000.0, "span": 8000.0, "eave_height": 3000.0, "pitch": 30.0}
BARN = with_system(Job(name="barn", roof=RoofPlan.model_validate_json(json.dumps({"blocks": [GABLE]}))), "single seam 475 x 38")
AIRY = BARN.but(schools=Schools(ridge="vented", eave_vent="vented"))


def test_rows_and_area_by_hand():
    """A leg of 38: 5 mm of rim on both sides leave 28: an 8 mm hole and one more 16 further. 62.5 of each a metre."""
    assert [rows_in(width, 8.0, 16.0) for width in (17.9, 18.0, 33.9, 34.0, 58.0)] == [0, 1, 1, 2, 3]
    assert free_area(38.0, 8.0, 16.0) == pytest.approx(2 * 62.5 * math.pi * 16 / 100)


def test_a_strip_s_holes_are_round_whole_and_even():
    piece = develop(made("eave-vent", length=1000.0)).pieces[0]
    assert piece.proof.holds and piece.proof.max_gap < 1e-6
    rows = {}
    for hole in piece.pattern.holes:
        xs, ys = [p[0] for p in hole], [p[1] for p in hole]
        assert -signed_area(hole) == pytest.approx(math.pi * 16)
        rows.setdefault(round((max(ys) + min(ys)) / 2, 3), []).append((max(xs) + min(xs)) / 2)
    assert len(rows) == 1, "a face of 30 less its folds takes one row"
    (places,) = rows.values()
    places = sorted(places)
    assert places[0] == pytest.approx(1000 - places[-1]) and all(b - a == pytest.approx(16) for a, b in pairwise(places))
    assert piece.pattern.area == pytest.approx(develop(made("eave-vent", length=1000.0, hole=8.0, hole_pitch=990.0)).pieces[0].pattern.area
                                              - (len(places) - 1) * math.pi * 16)


def test_what_a_ridge_lets_through_beside_what_the_roof_asks():
    """Plan 80 m²: a 300th is 2,667 cm², half at the ridge, a quarter at each eave."""
    derived = derive(AIRY)
    rows = {row.run: row for row in air_of(derived)}
    assert set(rows) == {"R1", "E1", "E2"}
    assert rows["R1"].asked == pytest.approx(80e6 / 300 / 2 / 100) and rows["E1"].asked == pytest.approx(40e6 / 300 / 2 / 100)
    closures = [run for run in derived.runs if run.run.layer == "closure"]
    assert all(run.detail.profile.legs[1] == 58.0 for run in closures)
    holes = sum(len(piece.pattern.holes) * piece.pattern.qty for run in closures for piece in run.pieces)
    assert rows["R1"].asked < rows["R1"].have == pytest.approx(holes * math.pi * 16 / 100)
    assert rows["R1"].a_metre == pytest.approx(rows["R1"].have / 10)
    answer = {row["run"]: row for row in fit_answer(derived)["air"]}
    assert answer["R1"]["free_cm2"] == pytest.approx(rows["R1"].have)
    needs = {need.what for need in installation(derived).runs["E1.v"].needs}
    assert "screws" in needs and installation(derived).order.stage_of("E1.v") < installation(derived).order.stage_of("E1")


def test_too_little_and_nothing_at_the_eaves_are_told():
    small = AIRY.but(own=AIRY.own.but(vent_hole=4.0, vent_pitch=40.0))
    said = {item: f.says() for item, f in installation(derive(small)).findings if "cm² of air" in f.says()}
    assert "R1" in said and "half of 1/300 of the roof's plan is 1333" in said["R1"]
    only = BARN.but(schools=Schools(ridge="vented"))
    assert any("closed at every eave" in f.says() for _, f in installation(derive(only)).findings)
    assert not air_of(derive(BARN)) and not any("air" in f.says() for _, f in installation(derive(BARN)).findings)
    assert not any(piece.pattern.holes for run in derive(BARN).runs for piece in run.pieces)
