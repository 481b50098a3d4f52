"""The strips that let air in under eaves: behind the board, mitred at hips, never in a lower roof."""

from __future__ import annotations

import numpy as np
import pytest

from plans import plan, wild
from samples import made
from yattle.built.checked import check_built, check_standing
from yattle.built.mutants import longer, turned, wider_leg
from yattle.built.placed import places_of
from yattle.built.said import said_of
from yattle.built.standing import stand_all
from yattle.derive import derive
from yattle.details import develop
from yattle.details.schools import Schools
from yattle.install.installation import installation
from yattle.install.venting import air_of
from yattle.job import Job, demo_path, load
from yattle.job.panel_systems import with_system
from yattle.roof.starts import STARTS

FIRST = ("bears", "cover", "hook", "clash", "slot", "water", "open")


def vented(job):
    return derive(job.but(schools=job.schools.but(eave_vent="vented")))


def strips(derived):
    return [run for run in derived.runs if run.run.layer == "vent-strip"]


def said(derived):
    """What is said of strips by the rows that prove a roof."""
    placed, missing = places_of(derived)
    assert not [one for one in missing if ".v" in one.pattern]
    return [one["says"] for one in said_of(check_built(derived, placed)) if one["row"] in FIRST and ".v" in one["says"]]


def test_its_section_is_a_channel_its_open_side_up_the_paint_seen_from_below():
    """40 down the board's back, 30 level to the house, 25 up: both folds go the same way, away from the paint."""
    piece = develop(made("eave-vent", length=1000.0)).pieces[0]
    assert piece.profile.legs == (40.0, 30.0, 25.0) and piece.profile.turns == (-90.0, -90.0)
    assert piece.proof.holds


def test_on_a_gable_it_lies_on_the_back_of_the_board_and_ends_at_the_barge_boards():
    """Eaves 10,500 long between rakes: 24 mm of a barge board at either end; its face 150 below the eave, 24 to 54 mm
    behind it."""
    derived = vented(with_system(Job(name="x", roof=STARTS["gable"]), "double seam 530 x 32"))
    placed, missing = places_of(derived)
    assert not missing
    standing = stand_all(derived.patterns, placed)
    for run in strips(derived):
        edge = derived.edge_runs[run.run.id.partition(".")[0]].edge
        assert run.run.length == pytest.approx(edge.length - 48.0)
        corners = np.concatenate([part for name, one in standing.items() if name.startswith(f"{run.run.id}-") for part in one.parts])
        along = np.array(edge.b) - edge.a
        along = along / np.linalg.norm(along)
        reach = (corners - edge.a) @ along
        assert reach.min() == pytest.approx(24.0, abs=0.5) and reach.max() == pytest.approx(edge.length - 24.0, abs=0.5)
        middle = np.array(derived.roof.facet(edge.facets[0]).shape.centroid.coords[0])
        inward = np.array([-along[1], along[0]])
        inward *= np.sign((middle - np.array(edge.a[:2])) @ inward)
        behind = (corners[:, :2] - np.array(edge.a[:2])) @ inward
        assert behind.min() == pytest.approx(24.0, abs=0.6) and behind.max() == pytest.approx(54.0, abs=0.6)
        assert corners[:, 2].min() == pytest.approx(edge.a[2] - 150.0, abs=0.6)
        assert corners[:, 2].max() == pytest.approx(edge.a[2] - 110.0, abs=0.6)
    assert said(derived) == []


def test_round_a_hipped_roof_strips_meet_at_the_corners():
    derived = vented(with_system(Job(name="x", roof=STARTS["hip"]), "double seam 530 x 32"))
    assert len(strips(derived)) == 4 and all(run.run.left_plane and run.run.right_plane for run in strips(derived))
    assert said(derived) == []


def test_where_a_lower_roof_comes_up_under_the_eave_there_is_none():
    """The porch of the net shed goes in under its east eave: a strip on either side of it, the air told of both."""
    derived = vented(load(demo_path("net-shed")))
    parts = [run for run in strips(derived) if run.run.id.startswith("E2.")]
    assert [run.run.id for run in parts] == ["E2.v", "E2.v1"]
    assert sum(run.run.length for run in parts) < derived.edge_runs["E2"].edge.length - 2000.0
    row = next(row for row in air_of(derived) if row.run == "E2")
    assert row.have == pytest.approx(sum(run.run.length for run in parts) / 16.0 * np.pi * 16.0 / 100.0, rel=0.02)
    assert said(derived) == []


@pytest.mark.parametrize("seed", range(0, 60, 5))
def test_on_roofs_of_any_blocks_no_strip_goes_through_anything(seed):
    job = with_system(Job(name="x", roof=plan(*wild(seed))), "double seam 430 x 25")
    assert said(vented(job)) == []


def test_a_wrong_strip_is_seen():
    derived = vented(load(demo_path("sail-loft")))
    placed = list(places_of(derived)[0])
    sound = stand_all(derived.patterns, placed)
    for change in (longer(10.0), longer(-10.0), turned(0, lambda turn: -turn), wider_leg(0, 5.0)):
        wrong = [change(one) for one in derived.patterns if one.id == "E10.v-1"]
        seen = check_standing(derived, placed, sound | stand_all(wrong, placed), frozenset({"E10.v-1"}))
        assert any("E10.v-1" in one["says"] for one in said_of(seen)), change


def test_an_eave_that_hangs_over_too_little_is_told():
    """24 mm of board, 30 of strip and 60 of soffit: 114; an overhang of 100 is less."""
    def told(overhang):
        block = STARTS["gable"].blocks[0].but(eave_overhang=overhang)
        job = with_system(Job(name="x", roof=STARTS["gable"].but(blocks=(block,)), schools=Schools(eave_vent="vented")), "double seam 530 x 32")
        return [f.says() for item, f in installation(derive(job)).findings if "hangs over" in f.says()]
    assert told(120.0) == []
    assert len(told(100.0)) == 2 and "100.0 mm" in told(100.0)[0] and "114.0 mm" in told(100.0)[0]
