"""Trims at walls: their upstand stands up against the wall, their counterflashing's leg goes into the kerf."""

from __future__ import annotations

import pytest
from test_checked import derived_of

from yattle.built.checked import check_standing
from yattle.built.mutants import turned
from yattle.built.placed import places_of
from yattle.built.said import said_of
from yattle.built.standing import stand_all


@pytest.mark.parametrize(("kind", "layer", "row"), [("headwall", "", "bears"), ("sidewall", "", "bears"),
                                                    ("headwall", "counterflashing", "hook"), ("sidewall", "counterflashing", "hook")])
def test_a_leg_turned_away_from_its_wall_is_found(kind, layer, row):
    """Of a headwall between two ends folded round its corners too: those reach into the wall's sides, not into its kerf."""
    found = derived_of("sail-loft")
    placed, _ = places_of(found)
    sound, tried = stand_all(found.patterns, placed), 0
    for run in (run for run in found.runs if run.run.kind == kind and run.run.layer == layer and run.pieces):
        pattern = run.pieces[0].pattern
        folds = [n for n in range(len(pattern.folds)) if turned(n, lambda turn: -turn)(pattern) is not None]
        wrong = turned(folds[-1], lambda turn: -turn)(pattern)  # the fold by the edge that is at the wall
        standing = {**sound, **stand_all((wrong,), placed)}
        rows = {one["row"] for one in said_of(check_standing(found, placed, standing, frozenset({wrong.id})))}
        assert row in rows or "clash" in rows, (run.run.id, rows)
        tried += row in rows
    assert tried


def test_every_trim_at_a_wall_of_a_sound_roof_touches_it():
    for name in ("sail-loft", "net-shed", "gable with a lean-to"):
        found = derived_of(name)
        placed, _ = places_of(found)
        contacts = check_standing(found, placed, stand_all(found.patterns, placed)).contacts
        walls = [one for one in contacts if one.on.startswith("wall of ")]
        assert all(one.ok for one in walls)
        trims = {run.run.id for run in found.runs if not run.run.layer and run.run.id in found.edge_runs
                 and found.edge_runs[run.run.id].edge.wall and run.pieces}
        assert trims <= {one.on.removeprefix("wall of ") for one in walls}
