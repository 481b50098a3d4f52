"""Pipes, curbs, pans, caps, boxes and bends: folded up again on grids, against their closed forms, refused in one line."""

from __future__ import annotations

import math

import numpy as np
import pytest

from samples import metal
from yattle.details.all_forms import FORMS
from yattle.details.bends import SegmentBend
from yattle.details.boxes import Box, EndCap
from yattle.details.closed import DormerRidge, PaperJig, PeakCap, RidgeJoint, ThreeWay
from yattle.details.curb import Curb
from yattle.details.forms import develop_form
from yattle.details.gutter import GutterCorner
from yattle.details.pans import StandingPan, Tray
from yattle.details.pipe import Pipe
from yattle.details.three_pans import ThreePans
from yattle.errors import InputError

SPLIT = {"coverage": 450.0, "from_seam": 200.0}
SQUARE, HOUSE = ((0.0, 0.0), (120.0, 0.0), (120.0, 90.0), (0.0, 90.0)), (
    (0.0, 0.0), (120.0, 0.0), (120.0, 60.0), (60.0, 100.0), (0.0, 60.0))
NOTCHED = ((0.0, 0.0), (120.0, 0.0), (120.0, 60.0), (60.0, 30.0), (0.0, 60.0))


def joint(pitch, ways):
    """Ridges toward ``ways`` (degrees, anticlockwise) of one pitch; where two follow at 90° a valley lies between, at
    270° a hip, at 180° nothing."""
    lines, planes = [], []
    aside = math.degrees(math.atan(math.tan(math.radians(pitch)) / math.sqrt(2)))
    for way, after in zip(ways, (*ways[1:], ways[0] + 360.0), strict=True):
        lines.append((way, 0.0))
        planes.append((way + 90.0, float(pitch)))
        if after - way != 180:
            lines.append(((way + after) / 2, -aside))
            planes.append((after - 90.0, float(pitch)))
    return {"lines": tuple(lines), "planes": tuple(planes)}


GRID = [
    *((RidgeJoint, joint(p, ways)) for p in (12, 35, 55) for ways in ((0.0, 90.0), (0.0, 90.0, 180.0), (0.0, 90.0, 180.0, 270.0))),
    *((Pipe, {"diameter": 110.0, "pitch": p, "school": s, "chord": 0.5, **SPLIT}) for p in (0.0, 10.0, 30.0, 60.0)
      for s in ("base", "boot", "split", "flexible")),
    *((Curb, {"across": 800.0, "along": 1000.0, "pitch": p, "panel": k}) for p in (0.0, 5.0, 30.0, 60.0)
      for k in ("standing-seam", "ribbed")),
    *((StandingPan, {"coverage": 500.0, "length": 3000.0, **more}) for more in (
        {}, {"coverage_top": 300.0, "head": "turned up"}, {"cut": 40.0, "seam": "double", "allowance": 50.0},
        {"cut": -30.0, "hem": 0.0})),
    *((Tray, {"width": 500.0, "pitch": p, "rises": r}) for p in (0.0, 10.0, 30.0) for r in (True, False)),
    *((ThreePans, {"over": o, "hand": h}) for o in ("one over two", "two over one") for h in ("left", "right")),
    (ThreePans, {"school": "offset"}),
    *((ThreeWay, {"left": a, "right": b, "end": c}) for a, b, c in ((5, 5, 60), (30, 30, 30), (20, 45, 30), (60, 60, 60))),
    *((DormerRidge, {"left": a, "right": b, "main": c}) for a, b, c in ((30, 30, 40), (30, 45, 50), (45, 45, 30))),
    *((PeakCap, {"left": a, "right": b}) for a, b in ((5, 5), (30, 30), (20, 50), (60, 60))),
    (Box, {"outline": SQUARE}), (Box, {"outline": HOUSE, "hem": 8.0}), (Box, {"outline": NOTCHED}),
    (Box, {"outline": HOUSE, "open_sides": (1,)}), (EndCap, {}), (EndCap, {"hand": "right", "parts": "two"}), (PaperJig, {"degrees": 40.0}),
    *((GutterCorner, {"turn": t, "corner": c}) for t in (20.0, 90.0, 120.0) for c in ("outer", "inner")),
    (Box, {"pitch": 30.0}), (Box, {"pitch": 30.0, "hand": "left"}), (ThreeWay, {"ways": (165.0, 10.0, -90.0)}), (PeakCap, {"ways": (160.0, -20.0, -90.0)}),
    (SegmentBend, {"diameter": 100.0, "chord": 0.5}), (SegmentBend, {"diameter": 200.0, "segments": 2, "degrees": 45.0, "chord": 1.0}),
]


@pytest.mark.parametrize(("model", "given"), GRID, ids=lambda v: v.__name__ if isinstance(v, type) else str(v)[:60])
def test_every_piece_folds_up_again(model, given):
    result = develop_form(model(metal=metal(), **given))
    assert result.pieces and result.max_gap < 2e-3
    assert result.answer()["ok"] and all(piece.pattern.area > 0 for piece in result.pieces)


def test_every_form_is_on_the_grid_or_has_tests_of_its_own():
    assert set(FORMS) - {model.model_fields["detail"].default for model, _ in GRID} == {
        "chimney", "cone", "square-to-round", "kneeler"}


def pieces(model, **given):
    return {piece.pattern.name: piece.pattern for piece in develop_form(model(metal=metal(), **given)).pieces}


def test_the_pipe_s_hole_is_an_ellipse():
    """A circle seen along the pipe: as wide as the bore, longer by 1 / cos(pitch) on the slope."""
    hole = np.array(pieces(Pipe, diameter=110.0, pitch=40.0)["base plate"].holes[0])
    size = sorted(np.ptp(hole, axis=0))
    assert size == pytest.approx([122, 122 / math.cos(math.radians(40))], rel=3e-3)


def test_the_storm_collar_is_a_ring_s_sector():
    pattern = pieces(Pipe, diameter=110.0, pitch=30.0, chord=0.05)["storm collar"]
    outer, inner = 61 + 35, 55
    slant = math.hypot(40, outer - inner)
    assert pattern.area == pytest.approx(math.pi * (outer + inner) * slant + 20 * slant, rel=3e-3)


def test_a_pan_s_blank_by_hand():
    """500 + 2·25 + 3·10 = 580, less what its five folds give back."""
    pattern = pieces(StandingPan, coverage=500.0, length=3000.0, hem=0.0)["pan"]
    off = sum(fold.deduction for fold in pattern.folds)
    assert len(pattern.folds) == 5 and pattern.girth == pytest.approx(580 - off)


def test_a_pocket_takes_what_is_left_of_360():
    """Level: 90° of sheet, the jig at 45°; a roof rising to the wall by 20° leaves 70°, the jig at 35°."""
    assert Tray(metal=metal(), width=500.0, pitch=0.0).jig == 45
    rising = Tray(metal=metal(), width=500.0, pitch=20.0)
    assert (rising.pocket, rising.jig) == (70.0, 35.0)
    pattern = pieces(Tray, width=500.0, pitch=20.0)["tray"]
    assert not pattern.holes and sum(abs(f.turn) == 180 for f in pattern.folds) == 4, "doubled twice at each corner"


def test_bends_add_up():
    """Four pieces for 90°: two ends cut at 15°, two middles cut so at both ends; the ruling outside is
    2 · (throat + diameter) · tan 15° long."""
    made = pieces(SegmentBend, diameter=100.0, throat=50.0, chord=0.2)
    assert (made["bend, end"].qty, made["bend, middle"].qty) == (2, 2)
    longest = max(math.dist(f.a, f.b) for f in made["bend, middle"].folds)
    assert longest == pytest.approx(2 * 150 * math.tan(math.radians(15)), rel=2e-3)


def test_a_box_s_blank_by_hand():
    pattern = pieces(Box, outline=SQUARE, depth=60.0, tab=0.0)["box"]
    off = pattern.folds[0].deduction
    assert sorted((pattern.length, pattern.girth)) == pytest.approx([90 + 120 - 2 * off, 120 + 120 - 2 * off])


def test_more_than_360_degrees_come_in_two_pieces():
    assert set(pieces(ThreeWay)) == {"cap"} and set(pieces(DormerRidge)) == {"cap, first", "cap, second"}


@pytest.mark.parametrize(("model", "given", "says"), [
    (Pipe, {"diameter": 500.0, "pitch": 30.0, **SPLIT}, "diameter: found 500 mm in a pan of 450 mm"),
    (Pipe, {"diameter": 110.0, "pitch": 30.0, "coverage": 100.0, "from_seam": 30.0}, "diameter"),
    (Pipe, {"diameter": 110.0, "pitch": 30.0, "school": "split"}, "coverage"),
    (Curb, {"across": 800.0, "along": 900.0, "pitch": 20.0, "diverter": 300.0}, "diverter"),
    (Curb, {"across": 80.0, "along": 900.0, "pitch": 20.0}, "tab"),
    (StandingPan, {"coverage": 500.0, "length": 3000.0, "hem": 60.0}, "back"),
    (Tray, {"width": 60.0}, "width"), (ThreePans, {"taper": 10.0}, "taper"),
    (Box, {"outline": ((0.0, 0.0), (120.0, 0.0), (0.0, 60.0), (120.0, 60.0))}, "outline"),
    (Box, {"outline": SQUARE, "open_sides": (1, 2, 3, 4)}, "open_sides"),
    (SegmentBend, {"diameter": 100.0, "segments": 2, "degrees": 170.0}, "segments")])
def test_what_cannot_be_is_said(model, given, says):
    with pytest.raises(InputError) as wrong:
        develop_form(model(metal=metal(), **given))
    assert says in str(wrong.value) and "\n" not in str(wrong.value)


def test_looks_name_the_choices():
    said = Pipe(metal=metal(), diameter=110.0, pitch=30.0, coverage=450.0, from_seam=80.0).looks()[0]
    assert "from a seam" in said.says() and "move the pipe" in said.reason()
    assert Curb(metal=metal(), across=300.0, along=300.0, pitch=20.0, from_seam=60.0).looks()
    assert StandingPan(metal=metal(), coverage=100.0, length=2000.0).looks()


def test_a_gutter_s_arms_meet_in_one_mitre():
    """Both ends of the seam lie on the line that halves the corner; an inner corner's front is shorter than its back."""
    form = GutterCorner(metal=metal(), turn=90.0, corner="inner", lap=0.0)
    left, right = (piece.surface for piece in develop_form(form).pieces)
    ends = [{tuple(np.round(p, 6)) for face in surface.faces for p in face.corners if abs(p[0]) < 1e-6}
            for surface in (left, right)]
    assert ends[0] == ends[1] and len(ends[0]) == 5
    assert form.seam == pytest.approx(110 + 135 * math.sqrt(2) + 85)


@pytest.mark.parametrize("given", [
    {}, {"pitch": 45.0}, {"diverter": 0.0}, {"across": 1400.0, "pitch": 10.0}, {"pitch": 3.0},
    {"pitch": 45.0, "across": 600.0}], ids=str)
def test_no_drop_gets_under_a_curb_s_metal(given):
    assert Curb(metal=metal(), **{"across": 800.0, "along": 1000.0, "pitch": 20.0, **given}).lost_drops() == ()


def test_a_pipe_too_near_a_seam_tells_its_choices():
    said = Pipe(metal=metal(), diameter=110.0, pitch=30.0, coverage=500.0, from_seam=80.0).looks()[0].why
    assert said.startswith("move the pipe 56 mm to the right") and "556 and 444" in said
    narrow = Pipe(metal=metal(), diameter=110.0, pitch=30.0, coverage=250.0, from_seam=80.0).looks()[0].why
    assert narrow.startswith("a special pan of 272 mm")
    assert not Pipe(metal=metal(), diameter=110.0, pitch=30.0, coverage=500.0, from_seam=250.0).looks()
