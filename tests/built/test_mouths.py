"""Slots that stand upright under a trim's edge: by hand on plates, and zeds left out, too low, too short."""

from __future__ import annotations

import numpy as np
import pytest
from test_checked import derived_of

from yattle.built.checked import check_standing
from yattle.built.mouths import Mouth, looked_in
from yattle.built.mutants import longer
from yattle.built.placed import places_of
from yattle.built.said import said_of
from yattle.built.standing import Standing, stand_all

# A mouth 40 high along x, its trim's edge at y = 0, what lies under it goes in toward +y.
LINE = np.array([[x, 0.0, 0.0] for x in range(0, 1000, 100)], float)
MOUTH = Mouth("R1", "a", LINE, np.array([0.0, 1.0, 0.0]), np.array([0.0, 0.0, 1.0]), 40.0, 150.0)


def web(left, right, low=0.0, high=40.0, at=30.0):
    """An upright part across the mouth, behind the trim's edge."""
    return np.array([(left, at, low), (right, at, low), (right, at, high), (left, at, high)], float)


@pytest.mark.parametrize(("parts", "where", "high"), [
    ([web(-50, 950)], [], 0.0), ([], list(range(0, 1000, 100)), 39.0),
    ([web(-50, 950, high=30.0)], list(range(0, 1000, 100)), 9.0), ([web(-50, 950, high=35.5)], [], 0.0),
    ([web(-50, 950, low=12.0)], list(range(0, 1000, 100)), 12.0),
    ([web(-50, 380), web(430, 950)], [400], 39.0), ([web(-50, 398), web(402, 950)], [], 0.0),
    ([web(-50, 950, at=200.0)], list(range(0, 1000, 100)), 39.0), ([web(-50, 950, at=-20.0)], list(range(0, 1000, 100)), 39.0)])
def test_what_one_sees_in_at(parts, where, high):
    """A web that is high and long enough shuts it; one 10 too low or too high, or 50 apart, does not; 4 mm are a clearance; what
    stands behind the trim or before its edge shuts nothing."""
    found = list(looked_in(MOUTH, LINE, parts))
    assert [round(float(place[0])) for place, _ in found] == where
    assert all(wide == pytest.approx(high, abs=3.0) for _, wide in found)


@pytest.mark.parametrize("fault", ["left out", "too low", "too short"])
@pytest.mark.parametrize("roof", ["sail-loft", "net-shed"])
def test_a_zed_that_does_not_shut_its_gap_is_said_with_its_place(roof, fault):
    found = derived_of(roof)
    placed, _ = places_of(found)
    sound = stand_all(found.patterns, placed)
    name = next(name for name in sound if name.startswith("R1.z1-1/"))
    zed = sound[name]
    if fault == "left out":
        standing, touched = {each: one for each, one in sound.items() if each != name}, None
    elif fault == "too low":
        low = Standing(name, zed.pattern, tuple(part - np.array([0.0, 0.0, 9.0]) for part in zed.parts), zed.flats)
        standing, touched = {**sound, name: low}, frozenset({zed.pattern})
    else:
        pattern = next(one for one in found.patterns if one.id == zed.pattern)
        short = stand_all((longer(-150.0)(pattern),), [one for one in placed if one.pattern == zed.pattern])
        standing, touched = {**sound, name: short[name]}, frozenset({zed.pattern})
    said = [one for one in said_of(check_standing(found, placed, standing, touched)) if one["row"] == "slot"]
    assert [one["says"].startswith("R1 stands open") and "its zed" in one["says"] for one in said] == [True]
    assert np.linalg.norm(np.array(said[0]["at"]) - zed.middle) < 500.0
    assert not [one for one in said_of(check_standing(found, placed, sound, touched)) if one["row"] == "slot"]


@pytest.mark.parametrize("name", ["S1.k", "S2.k", "S1.c", "S3.c", "S4.c"])
@pytest.mark.parametrize("by", [10.0, -10.0])
def test_a_strip_along_a_wall_ends_at_the_plane_that_cuts_its_trim(name, by):
    found = derived_of("sail-loft")
    run = next(run for run in found.runs if run.run.id == name)
    placed, _ = places_of(found)
    wrong = longer(by)(run.pieces[0].pattern)
    standing = {**stand_all(found.patterns, placed), **stand_all((wrong,), placed)}
    said = [one["says"] for one in said_of(check_standing(found, placed, standing, frozenset({wrong.id}))) if one["row"] == "cover"]
    assert any("the end of" in one and "mm" in one for one in said)
