"""A pan in any form: it folds up, its locks lie in its neighbours', trays are closed, hands are mirrored."""

from __future__ import annotations

import random
from itertools import pairwise

import numpy as np
import pytest
import shapely

from samples import metal
from yattle.details.face_pans import FacePans
from yattle.details.forms import develop_form
from yattle.details.pan_shape import PanHead, PanShape, SeamSide
from yattle.details.pans import StandingPan
from yattle.errors import InputError
from yattle.pattern.pattern import SCREW

HEADS = ("plain", "turned up", "tray", "cross seam", "laid over")


def pan(**more):
    return StandingPan(**{"metal": metal(), "coverage": 430.0, "length": 2400.0, "height": 25.0, "lock": 10.0} | more)


def faces(form, name):
    (surface,) = form.surfaces()
    return [face for face in surface.faces if face.name == name]


@pytest.mark.parametrize(("head", "height", "turn_up", "lean", "hem"), [
    *((head, height, turn_up, lean, hem) for head in HEADS for height, turn_up, lean, hem in (
        (25.0, 40.0, 0.0, 30.0), (38.0, 38.0, 10.0, 0.0), (50.0, 30.0, -12.0, 25.0), (25.0, 80.0, 30.0, 30.0)))])
def test_every_head_folds_up_with_its_locks(head, height, turn_up, lean, hem):
    result = develop_form(pan(head=head, height=height, turn_up=turn_up, lean=lean if head == "tray" else 0.0, hem=hem))
    assert result.max_gap < 0.05 and not list(result.misfits)
    assert shapely.Polygon(result.pieces[0].pattern.outline).is_valid


@pytest.mark.parametrize("head", HEADS)
@pytest.mark.parametrize(("height", "lock"), [(25.0, 10.0), (38.0, 12.0)])
def test_neighbours_locks_lie_on_each_other_over_their_whole_length(head, height, lock):
    """The same pan one coverage to the right: its low edge's leg and lock lie where this one's high edge's are, the hook
    comes down over the low lock's free edge, and nothing else crosses."""
    form = pan(head=head, height=height, lock=lock)
    low, high = faces(form, "lock")
    (hook,) = faces(form, "hook")
    assert np.allclose(sorted((x + 430.0, y, z) for x, y, z in low.corners), sorted(high.corners))
    assert low.paint == pytest.approx((0, 0, -1)) and high.paint == pytest.approx((0, 0, 1)), "back on back"
    edge = max(x for x, _, _ in low.corners) + 430.0
    assert {round(x, 6) for x, _, _ in hook.corners} == {round(edge, 6)} and hook.paint[0] == pytest.approx(1.0)
    left, right = faces(form, "seam leg")
    assert np.allclose(sorted((x + 430.0, y, z) for x, y, z in left.corners), sorted(right.corners))
    assert left.paint[0] == pytest.approx(1.0) and right.paint[0] == pytest.approx(-1.0)


def test_the_blank_is_the_sum_of_its_parts_by_hand():
    """430 + low edge 25 + 10 + high edge 25 + 2 · 10 = 510, without allowances."""
    (piece,) = develop_form(pan(metal=metal({"rule": "sum"}), hem=0.0)).pieces
    assert piece.pattern.girth == pytest.approx(510.0) and pan().blank == 510.0
    turns = sorted(fold.turn for fold in piece.pattern.folds)
    assert turns == pytest.approx([-90.0, -90.0, 90.0, 90.0, 90.0]), "low edge up and in, high edge up, out and down"


def test_a_tray_s_leg_rises_to_it_and_has_no_lock_there():
    """A turn-up of 60 on legs of 25 with locks of 10: each leg is 35 high at the head, as far as its sheet goes, and 25 from
    38 before it, where its lock ends; one of 30 is as high as that."""
    for turn_up, high in ((60.0, 35.0), (30.0, 30.0)):
        form = pan(head="tray", turn_up=turn_up)
        for leg in faces(form, "seam leg"):
            assert max(z for _, y, z in leg.corners if y > 2399.9) == pytest.approx(high)
            assert max(y for _, y, z in leg.corners if 24.9 < z < 25.1) == pytest.approx(2400.0 - high - 3.0)
        assert max(y for lock in faces(form, "lock") for _, y, _ in lock.corners) == pytest.approx(2400.0 - high - 3.0)
        girths = [develop_form(pan(head=head, turn_up=turn_up)).pieces[0].pattern.girth for head in ("tray", "plain")]
        assert girths[0] - girths[1] < 4.0, "but for the allowances of folds that hands dress no blank is wider for it"
    assert len(faces(form, "pocket")) == 4


def test_a_pan_too_narrow_for_its_pockets_says_what_would_do():
    with pytest.raises(InputError, match="wider pan or a lower turn-up"):
        pan(coverage=110.0, head="tray", turn_up=90.0).surfaces()


@pytest.mark.parametrize("seed", range(30))
def test_random_pans_fold_up(seed):
    draw = random.Random(seed)
    height = draw.uniform(15, 60)
    form = pan(coverage=draw.uniform(220, 700), length=draw.uniform(700, 6000), height=height, lock=draw.uniform(5, 0.6 * height),
               hem=draw.choice([0.0, draw.uniform(12, 40)]), back=draw.uniform(40, 70), head=draw.choice(HEADS),
               turn_up=draw.uniform(25, 90), cut=0.0)
    assert develop_form(form).max_gap < 0.05


def test_heads_are_hands_of_each_other():
    """Mirrored left to right but for the locks: a tray's two pockets have the same area and fold to the same side."""
    (piece,) = develop_form(pan(head="tray")).pieces
    hems = [fold.turn for fold in piece.pattern.folds if fold.kind == "hem" and fold.by == "tongs"]
    assert hems == [-180.0, -180.0, 180.0, 180.0], "behind the turn-up, and there back on itself, at both corners"


@pytest.mark.parametrize("high", [300.0, 500.0])
@pytest.mark.parametrize("first", [60.0, 215.0, 350.0])
@pytest.mark.parametrize("trays", [(True, True), (True, False), (False, True), (False, False)])
def test_a_pan_whose_head_steps_folds_up_its_turn_up_cut_free_of_the_sheet_beside_it(high, first, trays):
    """Two heads, the right one ``high`` further up: where the floor goes on beside the lower turn-up, 3 mm are left between."""
    floor = ((0.0, 0.0), (430.0, 0.0), (430.0, 2000.0 + high), (first, 2000.0 + high), (first, 2000.0), (0.0, 2000.0))
    heads = (PanHead(left=(first, 2000.0 + high), right=(430.0, 2000.0 + high), rise=40.0, tray=trays[0]),
             PanHead(left=(0.0, 2000.0), right=(first, 2000.0), rise=40.0, tray=trays[1] and first > 60.0))
    seams = tuple(SeamSide(low=(x, 0.0), high=(x, top), side=side, height=25.0, lock=10.0, locks=locks, back=(40.0, 3.0))
                  for x, top, side, locks in ((0.0, 2000.0, -1, 1), (430.0, 2000.0 + high, 1, 2)))
    shape = PanShape(name="pan", floor=floor, heads=heads, seams=seams, hems=(((0.0, 0.0), (430.0, 0.0), 25.0),))
    result = develop_form(FacePans(metal=metal(), shapes=(shape,), numbers=((1,),)))
    assert result.max_gap < 0.05 and not list(result.misfits)
    (lower,) = [face for face in shape.surface().faces if face.name == "turn-up" and min(y for _, y, _ in face.corners) < 2001.0]
    assert max(x for x, _, _ in lower.corners) == pytest.approx(first - 3.0)


@pytest.mark.parametrize(("coverage", "pitch", "screws"), [(430.0, 150.0, 4), (530.0, 150.0, 4), (530.0, 100.0, 6), (200.0, 150.0, 2)])
def test_a_screwed_foot_has_no_hem_and_its_row_of_screws_clear_of_the_legs(coverage, pitch, screws):
    """430 less 40 at each leg is 350: three spaces of 117, four screws; 25 from the edge."""
    form = pan(foot="screwed", coverage=coverage, screw_pitch=pitch)
    (piece,) = develop_form(form).pieces
    marks = [mark for mark in piece.pattern.marks if mark.text == SCREW]
    assert len(marks) == screws and not [fold for fold in piece.pattern.folds if fold.kind == "hem"]
    ups = sorted(y for _, y, _ in (mark[0] for face in piece.surface.faces for mark in face.marks if mark[2] == SCREW))
    acrosses = sorted(x for x, *_ in (mark[0] for face in piece.surface.faces for mark in face.marks if mark[2] == SCREW))
    assert ups == pytest.approx([25.0] * screws) and max(b - a for a, b in pairwise(acrosses)) <= pitch + 1e-9
    assert acrosses[0] == pytest.approx(-coverage / 2 + 40.0) and acrosses[-1] == pytest.approx(coverage / 2 - 40.0)
    assert f"{screws} screws through tape" in form.notes[1] and develop_form(form).max_gap < 0.05


def test_every_foot_says_how_it_is_held_and_a_narrow_one_is_not_screwed():
    assert len({pan(foot=foot).notes[1] for foot in ("hooked", "hemmed", "screwed", "cross seam")}) == 4
    assert develop_form(pan(foot="hemmed")).pieces[0].pattern.outline == develop_form(pan(foot="hooked")).pieces[0].pattern.outline
    with pytest.raises(InputError, match="160"):
        develop_form(pan(foot="screwed", coverage=150.0))


@pytest.mark.parametrize("wide", [40.0, 120.0, 296.0])
@pytest.mark.parametrize("side", [-1, 1])
def test_a_seam_that_runs_into_a_sharp_tip_stops_where_the_floor_is_3_wide(wide, side):
    """A triangle 1,500 high: 3 · 1,500 / its width from the tip the floor is 3 wide; there the leg ends, and the pan folds up."""
    corners = ((0.0, 0.0), (wide, 0.0), (wide, 1500.0)) if side > 0 else ((0.0, 0.0), (wide, 0.0), (0.0, 1500.0))
    x = wide if side > 0 else 0.0
    shape = PanShape(name="pan", floor=corners, seams=(
        SeamSide(low=(x, 0.0), high=(x, 1500.0), side=side, height=25.0, lock=10.0, locks=2, back=(10.0, 3.0)),))
    assert develop_form(FacePans(metal=metal(), shapes=(shape,), numbers=((1,),))).max_gap < 0.05
    (leg,) = [face for face in shape.surface().faces if face.name == "seam leg"]
    assert max(y for _, y, _ in leg.corners) == pytest.approx(1500.0 - 3.0 * 1500.0 / wide)
