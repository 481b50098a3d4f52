"""Clips of the panels, counted by hand on roofs small enough for it."""

from __future__ import annotations

import json

import pytest

from yattle.derive import derive
from yattle.install.answers import fit_answer, order_answer
from yattle.install.panel_fixings import needs_of_panels, seam_lengths
from yattle.job import Job
from yattle.job.fixing_rules import FixingRules
from yattle.roof import RoofPlan, build
from yattle.roof.panels import PanelRule, lay

RULES = FixingRules()
SHED = {"id": "porch", "kind": "shed", "x": 0.0, "y": 0.0, "length": 3000.0, "span": 2000.0, "eave_height": 2500.0,
        "pitch": 10.0}


def plan_of(*openings, **more):
    return RoofPlan.model_validate_json(json.dumps({"blocks": [SHED | more], "openings": list(openings)}))


def laid(plan):
    roof = build(plan)
    return roof, lay(roof, roof.facets[0].id, PanelRule(coverage=500.0, start=500.0))


def test_a_lean_to_by_hand():
    """3,000 wide, seams every 500: five of 2,000 / cos 10°: 2,030.9 mm. Less 25 at both ends 1,980.9 mm: five gaps of
    396.2, six clips a seam, 30 in all, two screws each."""
    plan = laid(plan_of())
    assert seam_lengths(*plan) == pytest.approx((2030.853,) * 5, abs=0.01)
    assert {need.what: need.many for need in needs_of_panels(*plan, RULES)} == {"panel clips": 30, "clip screws": 60}
    close = FixingRules(panel_clip_pitch=200.0, screws_a_clip=1)
    assert {need.what: need.many for need in needs_of_panels(*plan, close)} == {"panel clips": 55, "clip screws": 55}


def test_no_clip_where_a_chimney_takes_the_panels():
    """A chimney 700 wide over the seam at 1,500 (the middle): what is left of that seam is the face less the chimney."""
    stack = {"id": "flue", "kind": "chimney", "x": 0.0, "y": 0.0, "across": 700.0, "along": 600.0, "top": 4000.0}
    lengths = seam_lengths(*laid(plan_of(stack)))
    whole, gone = 2000.0, 600.0
    assert sum(lengths) == pytest.approx((5 * whole - gone) / 0.984807753, rel=1e-4) and len(lengths) == 6


def test_the_count_is_the_same_in_a_mirror():
    one = laid(plan_of({"id": "flue", "kind": "chimney", "x": -400.0, "y": 0.0, "across": 500.0, "along": 600.0, "top": 4000.0}))
    two = laid(plan_of({"id": "flue", "kind": "chimney", "x": 400.0, "y": 0.0, "across": 500.0, "along": 600.0, "top": 4000.0}))
    assert sorted(seam_lengths(*one)) == pytest.approx(sorted(seam_lengths(*two)))


def test_the_order_list_and_the_fit_answer_hold_the_same_clips():
    job = Job(name="porch", roof=plan_of())
    answer, order = fit_answer(derive(job)), order_answer(derive(job))
    listed = [need for stage in answer["stages"] for item in stage["items"] if item["kind"] == "panels"
              for need in item["needs"]]
    clips = next(pack for pack in order["fixings"] if pack["what"] == "panel clips")
    assert clips["many"] == sum(need["many"] for need in listed if need["what"] == "panel clips") > 0
    assert clips["packs"] == 1 and not any("clips of the panels" in what for what in order["left_out"])
