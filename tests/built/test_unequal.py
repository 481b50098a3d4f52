"""Roofs of unequal pitches put together: caps whose line does not lie plumb over that of the roof."""

from __future__ import annotations

import pytest

from plans import gable, hip, plan
from yattle.built.checked import check_built
from yattle.built.placed import places_of
from yattle.built.said import said_of
from yattle.derive import derive
from yattle.job import Job
from yattle.job.panel_systems import with_system

FITS = ("bears", "cover", "hook", "clash", "slot", "water", "open")


def troubles(roof, system):
    derived = derive(with_system(Job(name="unequal", roof=roof), system))
    return [said["says"] for said in said_of(check_built(derived, places_of(derived)[0])) if said["row"] in FITS]


@pytest.mark.parametrize("ends", [20.0, 45.0])
@pytest.mark.parametrize("system", ["double seam 430 x 25", "rib 18, pitch 76", "snap seam 300 x 38", "sandwich 1000, core 80"])
def test_hips_of_unequal_pitch_with_one_fascia_level(ends, system):
    roof = plan(hip("m", length=11000.0, eave=4500.0, pitch_ends=ends, eave_overhang=350.0, fascia="level"))
    assert troubles(roof, system) == []


@pytest.mark.parametrize("right", [20.0, 48.0])
@pytest.mark.parametrize("system", ["double seam 430 x 25", "rib 45, pitch 333", "single seam 475 x 38"])
def test_gables_of_unequal_pitch(right, system):
    assert troubles(plan(gable("m", length=9000.0, pitch=33.0, pitch_right=right)), system) == []
