"""What stands up from the deck under the panels is told before anything is made."""

from __future__ import annotations

import math

import numpy as np
import pytest

from yattle.built.checked import check_built
from yattle.built.frames import built_up
from yattle.built.placed import places_of
from yattle.built.said import said_of
from yattle.built.standing import stand_all
from yattle.derive import derive
from yattle.derive.corners import run_frame
from yattle.job import Job, demo_path, load
from yattle.job.model import EdgeNote
from yattle.job.panel_systems import with_system
from yattle.roof.starts import STARTS

ROWS = ("bears", "cover", "hook", "clash", "slot", "water", "open")


def with_valleys(detail, system="double seam 530 x 32", **own):
    job = with_system(Job(name="x", roof=STARTS["gable with a wing"]), system)
    valleys = [found for found in derive(job).edge_runs.values() if found.edge.kind == "valley"]
    return derive(job.but(own=job.own.but(**own), edges=tuple(
        EdgeNote(key=one.edge.key, place=one.place, detail=detail) for one in valleys)))


def told(derived):
    return [f.says() for run in derived.runs for f in run.findings if "stand" in f.says() and "over the deck" in f.says()]


@pytest.mark.parametrize("detail", ["valley", "valley-double", "valley-closed"])
def test_of_valleys_with_hems_nothing_is_said(detail):
    assert told(with_valleys(detail)) == []


def test_a_valley_s_returns_stand_up_into_the_panels_on_a_deck_and_the_check_finds_it_too():
    """20 turned back by 120° stand 20 sin 60° = 17.3 up; panels of 0.6 on an underlay lie 1 to 2 mm over the deck."""
    derived = with_valleys("valley-returns")
    said = told(derived)
    assert len(said) == 2 and all(f"{20 * math.sin(math.radians(60)):.1f} mm over the deck" in one for one in said)
    valleys = [run.run.id for run in derived.runs if run.run.kind == "valley"]
    clashes = [one["says"] for one in said_of(check_built(derived, places_of(derived)[0])) if one["row"] == "clash"]
    assert all(any(one.startswith(f"{name}-") or f" {name}-" in one for one in clashes) for name in valleys)


def test_a_sandwich_s_core_is_no_room():
    """80 mm of core lie on the deck."""
    assert len(told(with_valleys("valley-returns", "sandwich 1000, core 80"))) == 2


def test_up_a_wall_behind_a_zed_the_last_pan_goes_by_itself():
    """Seams and a cover of 60: so much wider. Its zed stands on the wall, its cover 13 off it down to the seams' height, and nothing
    is in its way, at the counterflashing over it neither."""
    job = load(demo_path("sail-loft"))
    walls = [found for found in derive(job).edge_runs.values() if found.edge.kind == "sidewall"]
    derived = derive(job.but(edges=tuple(EdgeNote(key=one.edge.key, place=one.place, detail="wall-zed") for one in walls)))
    high = {one.run.id: job.panel_rule(one.edge.facets[0]).height for one in walls}
    for name, seams in high.items():
        assert any(f"goes up the wall behind it by {seams + 60.0:.0f} mm" in f.says() for f in derived.run(name).findings)
    placed, missing = places_of(derived)
    assert not missing and [one["says"] for one in said_of(check_built(derived, placed)) if one["row"] in ROWS] == []
    standing = stand_all(derived.patterns, placed)
    for one in walls:
        left, _, frame = run_frame(derived.roof, one.edge)
        flat = built_up(derived, one.edge.facets[0]).flat
        across = np.concatenate(standing[f"{one.run.id}-1"].parts) - left
        assert (across @ frame[1]).min() == pytest.approx(0.0, abs=0.1) and (across @ frame[1]).max() == pytest.approx(13.0, abs=0.1)
        lean = np.array(derived.roof.facet(one.edge.facets[0]).plane.normal) @ frame[2]
        assert (across @ frame[2]).min() == pytest.approx((flat + high[one.run.id]) / lean, abs=0.2)
