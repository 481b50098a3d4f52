"""Details at their borders: every family at random, and the measures at which something once gave way."""

from __future__ import annotations

import random
from itertools import product

import pytest
from at_random import STRAIGHT, a_detail, faults, folds_end_on_the_outline

from samples import metal
from yattle.details import FAMILIES, develop
from yattle.details.all_forms import FORMS
from yattle.details.closed import DormerRidge, ThreeWay
from yattle.details.curb import Curb
from yattle.details.ends import ends_of, parts_of
from yattle.details.forms import Form, develop_form
from yattle.details.pans import StandingPan, Tray
from yattle.details.pipe import Pipe
from yattle.errors import InputError
from yattle.pattern.proof import prove_against_faces

SUM = {"rule": "sum"}
ROUND = ("pipe", "bend", "cone", "square-to-round", "chimney")
SAID = ("does not fold up", "do not close")


def with_ends(draw, trim):
    """The trim with ends at random of those that it can have."""
    can, parts = ends_of(trim.sheet()), parts_of(trim.sheet())
    also = tuple(draw.sample(parts, 1)) if parts and draw.random() < 0.3 else ()
    return trim.but(left=draw.choice(can), right=draw.choice(can), left_also=also)


@pytest.mark.parametrize("family", [*FAMILIES, *FORMS])
def test_whatever_is_made_folds_up_and_lies_on_its_sheet(family):
    """Both hands, four rules, both ways of measuring, short runs, slanting and prepared ends."""
    made = 0
    for seed in range(3 if family in ROUND else 12):
        draw = random.Random(f"{family} {seed}")
        detail = a_detail(draw, (family,))
        try:
            if isinstance(detail, InputError):
                continue
            detail = detail if isinstance(detail, Form) else with_ends(draw, detail)
            found = develop_form(detail) if isinstance(detail, Form) else develop(detail)
        except InputError as wrong:
            assert "\n" not in str(wrong)
            continue
        answer = found.answer()
        if not answer["ok"]:
            assert answer["reasons"] and not any(said in reason for said in SAID for reason in answer["reasons"]), seed
            continue
        assert answer["fit"]["max_gap"] <= 0.05
        made += 1
        for piece in found.pieces:
            assert not list(faults(piece.pattern, not isinstance(detail, Form) or family in STRAIGHT)), seed
            assert folds_end_on_the_outline(piece.pattern) < 0.001
            if not isinstance(detail, Form):
                assert piece.pattern.length <= detail.stock_length + 1e-6
    assert made


def trim(name, **given):
    return FAMILIES[name].model(**{"metal": metal(), "length": 2400.0} | given)


@pytest.mark.parametrize("name", ["valley", "rake", "ridge-cap", "eave-drip"])
def test_a_hem_that_its_own_fold_takes_is_refused(name):
    """The fold of a closed hem in 0.6 takes 0.6: of one of 0.8 there is less left than that."""
    roof = {"valley": {"fold": 60.0}, "ridge-cap": {"fold": 60.0, "pitch": 30.0}, "eave-drip": {"pitch": 30.0}}.get(name, {})
    found = develop(trim(name, hem=0.8, **roof))
    assert not found.ok and any("its fold takes that" in finding.says() for finding in found.findings)
    assert develop(trim(name, hem=8.0, **roof)).ok


def test_a_piece_that_does_not_fold_up_is_no_answer(monkeypatch):
    """The gate itself: with a proof that finds a gap neither verb says it is made."""
    from yattle.details import common, forms
    from yattle.pattern import Proof

    monkeypatch.setattr(common, "prove_against_section", lambda *_: Proof(0.06, 1, "leg 1"))
    monkeypatch.setattr(forms, "prove_against_faces", lambda *_: Proof(0.06, 1, "pan"))
    for answer in (develop(trim("sidewall", length=1777.0)).answer(),
                   develop_form(StandingPan(metal=metal(), coverage=431.0, length=2222.0)).answer()):
        assert not answer["ok"] and "0.06 mm off" in answer["reasons"][0] and "pieces" not in answer
        assert answer["findings"][-1]["advice"]


def test_a_tapered_pan_with_its_head_turned_up():
    pan = StandingPan(metal=metal(SUM), coverage=500.0, coverage_top=510.0, length=3000.0, head="turned up")
    assert develop_form(pan).max_gap < 1e-6


def test_one_leg_with_a_dam_larger_than_itself():
    found = develop(trim("free", legs=(30.0,), turns=(), length=20.0, left="dam", tab=60.0))
    assert found.ok and found.max_gap < 1e-6 and len(found.pieces[0].pattern.folds) == 1


@pytest.mark.parametrize("pitch", [8.0, 10.9, 11.0, 12.5, 14.0, 15.0, 30.0, 70.0])
def test_a_three_way_cap_of_any_pitch(pitch):
    for end in (8.0, 12.0, pitch):
        found = develop_form(ThreeWay(metal=metal(), left=pitch, right=pitch, end=end))
        assert found.max_gap < 1e-3 and len(found.pieces) <= 3


@pytest.mark.parametrize("pitch", [45.0, 52.0, 53.0, 60.0, 75.0])
def test_a_steep_dormer_s_ridge_is_parted_by_seams(pitch):
    for main in (12.0, 45.0, 70.0):
        found = develop_form(DormerRidge(metal=metal(), left=pitch, right=pitch, main=main))
        assert found.max_gap < 1e-3 and 2 <= len(found.pieces) <= 3


@pytest.mark.parametrize(("school", "diameter", "pitch"), product(("base", "boot"), (60.0, 110.0, 400.0), (0.0, 30.0, 50.0)))
def test_a_collar_s_tabs_are_as_wide_whatever_its_chord(school, diameter, pitch):
    counts = set()
    for chord in (0.02, 0.1, 0.5, 2.0):
        collar = develop_form(Pipe(metal=metal(), diameter=diameter, pitch=pitch, school=school, chord=chord,
                                   height=400.0)).pieces[1].pattern
        wide = [((f.a[0] - f.b[0]) ** 2 + (f.a[1] - f.b[1]) ** 2) ** 0.5 for f in collar.folds if f.by == "tongs"]
        assert 21 < min(wide) <= max(wide) < 29
        counts.add(len(wide))
    assert max(counts) - min(counts) <= 1


@pytest.mark.parametrize(("across", "from_seam", "seams"), [
    (1219.2, 0.0, 2), (1219.2, 406.4, 2), (1219.2, 200.0, 3), (406.4, 0.0, 0), (4064.0, 0.0, 9), (1219.3, 0.0, 3)])
def test_seams_between_a_curb_s_sides_on_exact_modules(across, from_seam, seams):
    curb = Curb(metal=metal(), across=across, along=900.0, pitch=20.0, coverage=406.4, from_seam=from_seam)
    assert len(curb.seams) == seams


@pytest.mark.parametrize(("pitch", "rises"), product((0.0, 5.0, 20.0, 45.0), (True, False)))
def test_a_tray_s_pockets_lie_behind_its_turn_up_on_both_hands(pitch, rises):
    """Turn-up, inner half behind it (toward its back), outer half on the inner one's paint."""
    tray = develop_form(Tray(metal=metal(), width=700.0, pitch=pitch, rises=rises, legs=55.0)).pieces[0]
    doubled = [fold for fold in tray.pattern.folds if abs(fold.turn) == 180]
    middle = tray.pattern.length / 2
    left, right = ([fold.turn for fold in doubled if (fold.a[0] + fold.b[0] < 2 * middle) == side] for side in (True, False))
    assert sorted(left) == sorted(right) == [-180.0, 180.0]
    assert tray.proof.max_gap < 0.01
    for fold in doubled:  # the proof knows the order of layers
        wrong = tuple(f.but(turn=-f.turn) if f is fold else f for f in tray.pattern.folds)
        assert not prove_against_faces(tray.pattern.but(folds=wrong), tray.flat.seats, tray.flat.faces).holds


def test_a_hem_under_the_eave_end_goes_under():
    pan = develop_form(StandingPan(metal=metal(), coverage=500.0, length=3000.0)).pieces[0]
    assert [fold.turn for fold in pan.pattern.folds if abs(fold.turn) == 180] == [-180.0]


def test_a_hem_longer_than_its_leg_is_refused_with_what_would_do():
    found = develop(trim("gutter-apron", pitch=30.0, drip=14.5, hem=15.0))
    assert not found.ok and found.findings[0].field == "hem"
    most = found.findings[0].lengths[2]
    assert develop(trim("gutter-apron", pitch=30.0, drip=14.5, hem=most)).ok
    assert not develop(trim("gutter-apron", pitch=30.0, drip=14.5, hem=most + 0.2)).ok


@pytest.mark.parametrize("length", [40.0, 138.0, 350.0, 400.0, 640.0, 700.0])
def test_ends_that_meet_are_said_and_with_what_is_wanted_they_do_not(length):
    """A coping 300 wide mitred inward at both ends: its back is 600 mm shorter than its front."""
    def coping(long):
        return develop(trim("free", legs=(50.0, 300.0, 50.0), turns=(-90.0, -90.0), length=long, datum=0, heading=90.0,
                            left_plane=(1.0, -1.0, 0.0), right_plane=(1.0, 1.0, 0.0)))
    found = coping(length)
    if found.ok:
        assert length > 600 and found.max_gap < 1e-6
        return
    said = found.findings[0]
    assert length < 620 and "the two ends meet" in said.text and said.short
    assert coping(said.lengths[1]).ok


def test_a_slant_longer_than_the_stock_is_said_to_be_so():
    """300 mm wide and cut 12 along for every 1 across: 3600 mm of a piece of 3000, however long the run is."""
    found = develop(trim("free", legs=(50.0, 300.0, 50.0), turns=(-90.0, -90.0), length=9000.0, datum=0, heading=90.0,
                         left_plane=(1.0, -12.0, 0.0), right_plane=None))
    said = found.findings[0]
    assert not found.ok and "the two ends meet" not in said.text
    assert said.field == "stock_length" and said.lengths[0] >= 3000.0


@pytest.mark.parametrize(("rule", "length"), product(({"rule": "k-factor", "k": 0.33}, {"rule": "din6935"}), (2990.0, 2999.5, 5901.0)))
def test_measured_inside_no_piece_is_longer_than_its_stock(rule, length):
    for turn in (-0.7, 0.0, 0.7):
        found = develop(trim("ridge-cap", metal=metal(rule, thickness=1.0, inside_radius=1.5), measured="inside", pitch=30.0,
                             fold=60.0, length=length, left_plane=(1.0, turn, 0.0), right_plane=(1.0, 0.0, turn)))
        assert not found.ok or max(piece.pattern.length for piece in found.pieces) <= 3000.0


def test_a_screw_s_mark_and_a_panel_s_line_stay_on_a_slanting_piece():
    found = develop(trim("valley", fold=50.0, length=700.0, low="left", slope=20.0, left_plane=(0.6, 0.8, 0.0),
                         left_plane_b=(0.6, -0.8, 0.0), right_plane=(0.6, 0.8, 0.0), right_plane_b=(0.6, -0.8, 0.0)))
    for piece in found.pieces:
        assert any(mark.text == "panel line" for mark in piece.pattern.marks)
        assert not list(faults(piece.pattern, True))
