"""Feet and inches at home: an empty job goes by its units, one with a roof only says its lengths otherwise; fixings have inch twins."""

from __future__ import annotations

import pytest

from yattle.job import Job
from yattle.job.counted import counted_in, said_in
from yattle.job.fixing_rules import FixingRules, fixing_rules_for
from yattle.roof.starts import STARTS

EMPTY, ROOFED = Job(name="x"), Job(name="x", roof=STARTS["gable"])


def test_an_empty_job_counts_in_its_units_and_one_with_a_roof_stays():
    inch = said_in(EMPTY, "in16")
    assert (inch.system, inch.unit, inch.fit.screw_pitch) == ("inch", "in16", 12 * 25.4)
    assert said_in(inch, "mm") == EMPTY
    said = said_in(ROOFED, "in16")
    assert (said.system, said.unit, said.fit) == ("metric", "in16", FixingRules()) and said.but(unit="mm") == ROOFED


def test_counting_otherwise_is_wanted_by_itself_and_undone_by_itself():
    inch = counted_in(ROOFED, "inch")
    assert (inch.system, inch.unit) == ("inch", "in16") and inch.roof == ROOFED.roof
    assert counted_in(inch, "metric") == ROOFED and counted_in(inch, "inch") is inch


@pytest.mark.parametrize("name", ["screw_pitch", "strap_pitch", "edge", "tape_roll", "strip_length", "rivet_pitch", "wide"])
def test_fixings_come_in_whole_parts_of_an_inch(name):
    inch = fixing_rules_for("inch")
    parts = getattr(inch, name) / 25.4 * 8
    assert parts == pytest.approx(round(parts)) and abs(getattr(inch, name) / getattr(FixingRules(), name) - 1) < 0.1


def test_what_the_shop_has_of_its_own_stays():
    own = FixingRules(screw_pitch=275.0)
    assert fixing_rules_for("inch", own).screw_pitch == 275.0 and fixing_rules_for("inch", own).wide == 8 * 25.4
