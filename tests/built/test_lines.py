"""Legs that lie on faces held against the chalk lines that fitting snaps for them."""

from __future__ import annotations

import pytest
from test_checked import JOBS, derived_of

from yattle.built.checked import check_standing
from yattle.built.mutants import wider_leg
from yattle.built.placed import places_of
from yattle.built.said import said_of
from yattle.built.standing import stand_all
from yattle.install.chalk import chalk_lines


@pytest.mark.parametrize("name", JOBS)
def test_every_piece_of_a_sound_roof_comes_to_its_chalk_line(name):
    """The lines are told on paper from sections and heights, the places come from the written patterns: one is held against
    the other to half a millimetre, everywhere."""
    found = derived_of(name)
    placed, _ = places_of(found)
    ends = [one for one in check_standing(found, placed, stand_all(found.patterns, placed)).ends if "chalk line" in one.on]
    assert {one.piece.partition("-")[0] for one in ends} == {line.run for line in chalk_lines(found) if ".z" not in line.run}
    assert all(abs(one.have) < 0.5 for one in ends)


@pytest.mark.parametrize("kind", ["rake", "valley", "ridge"])
@pytest.mark.parametrize("by", [5.0, -5.0])
def test_a_leg_that_is_5_mm_off_is_seen_by_its_line(kind, by):
    found = derived_of("sail-loft")
    run = next(run for run in found.runs if run.run.kind == kind and not run.run.layer and run.run.id in found.edge_runs)
    placed, _ = places_of(found)
    sound, seen = stand_all(found.patterns, placed), []
    for leg in range(4):
        wrong = wider_leg(leg, by)(run.pieces[0].pattern)
        if wrong is not None:
            standing = {**sound, **stand_all((wrong,), placed)}
            said = said_of(check_standing(found, placed, standing, frozenset({wrong.id})))
            seen += [one["says"] for one in said if one["row"] == "cover" and "chalk line" in one["says"]]
    assert any(f"5 mm {'past' if by > 0 else 'short of'} its chalk line" in one for one in seen)
    assert all(f"{'narrower' if by > 0 else 'wider'}" in one for one in seen)
