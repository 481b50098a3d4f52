"""Cones, cylinders and squares brought into rounds: against their closed forms, kept lengths, folded up again."""

from __future__ import annotations

import json
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from samples import STEEL, metal
from yattle.cli import main
from yattle.details.forms import develop_form, parts_for, true_to_girth
from yattle.details.rounds import Cone, SquareToRound
from yattle.errors import InputError


def pattern_of(form):
    result = develop_form(form)
    assert result.max_gap < 1e-4, "folded up again it is the surface it was made for"
    return result.pieces[0].pattern


def test_a_cylinder_is_a_rectangle_as_long_as_it_is_round():
    """200 across: 628.32 round, and the lap."""
    pattern = pattern_of(Cone(bottom=200, top=200, height=250, lap=20, metal=metal(), chord=0.5))
    assert sorted((pattern.length, pattern.girth)) == pytest.approx([250, 200 * math.pi + 20], abs=1e-4)
    assert {fold.kind for fold in pattern.folds} == {"roll"} and all(f.deduction == 0 for f in pattern.folds)
    assert sum(abs(f.turn) for f in pattern.folds[:-1]) == pytest.approx(360 * (1 - 1 / len(pattern.folds)), abs=1e-6)


def test_a_cylinder_cut_by_the_roof_ends_on_a_sine():
    """Developed, the cut stands at r·tan(pitch)·cos(s / r) from the middle, s along the girth (closed form)."""
    pattern = pattern_of(Cone(bottom=200, top=200, height=400, pitch=30, lap=0, metal=metal(), chord=0.5))
    parts = parts_for(100, 0.5)
    radius = true_to_girth(100, parts)
    lengths = sorted({round(math.dist(f.a, f.b), 6) for f in pattern.folds})
    wanted = sorted({round(400 + radius * math.cos(2 * math.pi * k / parts) * math.tan(math.radians(30)), 6)
                     for k in range(1, parts)})
    assert lengths == pytest.approx(wanted, abs=1e-4)


def test_a_cone_is_a_ring_s_sector():
    """Slant s = √(h² + (R − r)²); as a sector of radius s·R / (R − r), its angle 2π·(R − r) / s (closed form)."""
    pattern = pattern_of(Cone(bottom=300, top=100, height=200, lap=0, metal=metal(), chord=0.2))
    slant = math.hypot(200, 100)
    outer, angle = slant * 150 / 100, 2 * math.pi * 100 / slant
    assert pattern.area == pytest.approx(angle / 2 * (outer ** 2 - (outer - slant) ** 2), rel=4e-3)
    assert all(math.dist(f.a, f.b) == pytest.approx(slant, rel=2e-3) for f in pattern.folds)


def test_a_whole_cone_comes_to_a_point():
    pattern = pattern_of(Cone(bottom=200, top=0, height=150, lap=0, metal=metal(), chord=1.0))
    tip = [f.a for f in pattern.folds] + [f.b for f in pattern.folds]
    counts = {(round(x, 3), round(y, 3)) for x, y in tip}
    assert len(counts) == len(pattern.folds) + 1, "all rulings meet at one place"


@settings(max_examples=12)
@given(st.floats(80, 600), st.floats(60, 600), st.floats(100, 500), st.floats(-80, 80), st.floats(0, 25))
def test_leaning_cones_keep_their_rulings(bottom, top, height, aside, pitch):
    """Every ruling is as long flat as it is in space."""
    form = Cone(bottom=bottom, top=top, height=height, aside=aside, pitch=pitch, lap=10, metal=metal(), chord=4.0)
    try:
        piece = develop_form(form).pieces[0]
    except InputError as wrong:
        assert wrong.field in ("pitch", "cone", "cylinder")
        return
    faces = piece.surface.faces
    for fold, crease in zip(piece.pattern.folds, piece.surface.creases, strict=True):
        ring = faces[crease.parent].corners
        true = math.dist(ring[crease.at], ring[(crease.at + 1) % len(ring)])
        assert math.dist(fold.a, fold.b) == pytest.approx(true, abs=1e-5)
    assert piece.proof.max_gap < 1e-3


@pytest.mark.parametrize("aside", [0.0, 70.0])
def test_a_square_brought_into_a_round(aside):
    """Its foot keeps the rectangle's sides, its top the round's girth; area as in space."""
    piece = develop_form(SquareToRound(width=400, depth=300, diameter=200, height=250, aside=aside, lap=0, metal=metal(),
                                       chord=1.0)).pieces[0]
    assert piece.proof.max_gap < 1e-4
    space = 0.0
    for face in piece.surface.faces:
        a, b, c = np.array(face.corners)
        space += float(np.linalg.norm(np.cross(b - a, c - a))) / 2
    assert piece.pattern.area == pytest.approx(space, rel=1e-6)
    outline = np.array(piece.pattern.outline)
    sides = np.linalg.norm(outline - np.roll(outline, -1, axis=0), axis=1)
    for wanted in (400.0, 300.0, 400.0):
        assert np.abs(sides - wanted).min() < 1e-4
    parts = 4 * math.ceil(parts_for(100, 1.0) / 4)
    assert np.sort(sides)[:parts].sum() == pytest.approx(200 * math.pi, abs=1e-4)


@pytest.mark.parametrize(("change", "says"), [
    ({"pitch": 79.0, "height": 50.0}, "pitch: found 79°"), ({"bottom": -5.0}, "bottom"), ({"detail": "funnel"}, "detail"),
    ({"bottom": "wide"}, "bottom")])
def test_wrong_measures_are_said_in_one_line(change, says, capsys, tmp_path):
    document = {"format": "yattle-detail/1", "detail": "cone", "bottom": 200.0, "top": 200.0, "height": 300.0,
                "metal": STEEL, "chord": 2.0, **change}
    path = tmp_path / "cone.json"
    path.write_text(json.dumps(document))
    assert main(["develop", str(path)]) == 2
    said = capsys.readouterr().err.strip()
    assert says in said and "\n" not in said


def test_developed_without_the_window(capsys, tmp_path):
    path = tmp_path / "boot.json"
    path.write_text(json.dumps({"format": "yattle-detail/1", "detail": "cone", "id": "C7", "bottom": 240.0, "top": 120.0,
                                "height": 180.0, "pitch": 20.0, "metal": STEEL, "chord": 2.0}))
    assert main(["develop", str(path)]) == 0
    answer = json.loads(capsys.readouterr().out)
    assert answer["ok"] and answer["fit"]["max_gap"] < 0.05 and answer["pieces"][0]["id"] == "C7-1"
