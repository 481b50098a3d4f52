"""The demo's openings with their pieces: measures from the roof, choices kept in the job, on the coil and on paper."""

from __future__ import annotations

import pytest

from yattle.job import demo_path, derive, load
from yattle.job.openings import short_id, with_choice
from yattle.papers.tables import cut_list
from yattle.roof.starts import with_part

DEMO = load(demo_path())


def opening(job, name):
    return derive(job).opening(name)


def test_forms_take_their_measures_from_the_roof():
    chimney, vent = opening(DEMO, "chimney"), opening(DEMO, "vent pipe")
    assert (chimney.form.across, chimney.form.pitch, chimney.form.turned) == (920.0, 35.0, 0.0)
    assert chimney.form.with_cricket == "two" and vent.form.diameter == 110.0
    assert vent.form.coverage == DEMO.panel_rule(vent.placed.facets[0]).coverage
    assert 0 <= vent.form.from_seam < vent.form.coverage
    assert max(piece.proof.max_gap for o in derive(DEMO).openings for piece in o.pieces) < 1e-3


def test_a_chimney_moved_onto_the_ridge_or_turned():
    over = opening(DEMO.but(roof=with_part(DEMO.roof, "chimney", y=0.0)), "chimney")
    assert over.form.meets.kind == "ridge" and {p.pattern.name for p in over.pieces} >= {"apron", "apron, far side"}
    turned = opening(DEMO.but(roof=with_part(DEMO.roof, "chimney", bearing=30.0)), "chimney")
    assert abs(turned.form.turned) == pytest.approx(30.0) and turned.pieces
    square = opening(DEMO.but(roof=with_part(DEMO.roof, "chimney", bearing=90.0)), "chimney")
    assert square.form.turned == 0.0 and (square.form.across, square.form.along) == (610.0, 920.0)


def test_what_cannot_be_flashed_is_a_finding():
    over = opening(DEMO.but(roof=with_part(DEMO.roof, "fan curb", bearing=30.0)), "fan curb")
    assert not over.pieces and "turned" in over.findings[0].says()
    wide = DEMO.but(roof=with_part(DEMO.roof, "vent pipe", diameter=700.0))
    assert "narrower than its pan" in opening(wide, "vent pipe").findings[0].says()
    assert any(run == "vent pipe" for run, _ in derive(wide).findings)


def test_choices_are_kept_and_taken_back():
    job = with_choice(DEMO, "vent pipe", "school", "boot")
    assert {p.pattern.name for p in opening(job, "vent pipe").pieces} == {"base plate", "boot"}
    assert load_again(job) == job
    assert with_choice(job, "vent pipe", "school", None) == DEMO
    low = opening(with_choice(DEMO, "chimney", "counter", "none"), "chimney")
    assert not [p for p in low.pieces if p.pattern.name.startswith("counter")]


def load_again(job):
    return type(job).model_validate_json(job.model_dump_json())


def test_its_pieces_are_cut_with_the_rest():
    derived = derive(DEMO)
    ids = {pattern.id for pattern in derived.patterns}
    assert "CHIM-1" in ids and len(ids) == len(derived.patterns)
    placed = {place.part for place in derived.nest.placements}
    assert "CHIM-1" in placed and "CHIM-1,chimney,apron" in cut_list(derived)


def test_short_ids():
    assert [short_id(name) for name in ("vent pipe", "flue", "chimney", "fan-curb")] == ["VP", "FLUE", "CHIM", "FC"]
