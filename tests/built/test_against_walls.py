"""Trims at walls: their upstand stands up against the wall, their counterflashing's leg goes into the kerf."""

from __future__ import annotations

import numpy as np
import pytest
from test_checked import derived_of

from yattle.built.checked import check_built, check_standing
from yattle.built.laid import laid_panels
from yattle.built.mutants import turned
from yattle.built.placed import places_of
from yattle.built.said import said_of
from yattle.built.standing import stand_all
from yattle.derive import derive
from yattle.job import Job
from yattle.job.panel_systems import with_system
from yattle.roof.at_edge import comes_to
from yattle.roof.model import RoofPlan
from yattle.roof.starts import STARTS


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


@pytest.mark.parametrize(("pitch", "system"), [(60.0, "snap seam 16 x 1 3/4 in, nail strip"), (60.0, "double seam 18 x 2 in"),
                                               (52.0, "rib 45, pitch 333"), (70.0, "double seam 430 x 25")])
def test_seams_that_run_down_to_a_wall_lean_toward_it_and_end_before_it(pitch, system):
    """By hand: cut square, the top of a seam is nearer to the wall than its foot, by its height times the pitch's tangent up the slope."""
    blocks = STARTS["gable with a lean-to"].blocks
    roof = RoofPlan(blocks=(blocks[0].but(pitch=pitch), blocks[1].but(pitch=45.0)))
    derived = derive(with_system(Job(name="trap", roof=roof), system))
    (wall,) = (edge for edge in derived.roof.edges if edge.kind == "headwall")
    assert comes_to(derived.roof, wall, wall.facets[0]) == pytest.approx(1.0)
    panels = [panel for panel in laid_panels(derived, frozenset(wall.facets)) if panel.seams]
    assert len(panels) > 5
    for ring in (ring for panel in panels for ring in panel.seams):
        into = np.sign(blocks[0].y - wall.a[1])  # the roof's side of the wall, along y
        beside = (wall.a[0] - ring[:, 0]) * (wall.b[0] - ring[:, 0]) < 0
        assert ((ring[:, 1] - wall.a[1]) * into)[beside].min(initial=1.0) > 0.0
    found = said_of(check_built(derived, places_of(derived)[0]))
    assert [one["says"] for one in found if one["row"] == "clash" and "wall" in one["says"]] == []
