"""Turn-ups at inner corners of a pan's floor come out of one sheet with it: mitred where two meet, clear of the floor where one
lies over it, in both hands alike."""

from __future__ import annotations

import math
import random

import pytest
import shapely

from samples import metal
from yattle.details.face_pans import FacePans
from yattle.details.forms import develop_form
from yattle.details.pan_floor import turn_up_outlines
from yattle.details.pan_shape import PanHead, PanShape, SeamSide


def corner_floor(low, inner, high, wide=530.0):
    """A pan 4 m long out of whose right side a wall's corner is taken: from ``low`` to ``high`` up it, in to ``inner``."""
    return ((0.0, 0.0), (wide, 0.0), (wide, low), inner, (wide, high), (wide, 4000.0), (0.0, 4000.0))


def mirrored(places, wide=530.0):
    return tuple((wide - x, y) for x, y in reversed(places))


def pans(shape):
    return develop_form(FacePans(metal=metal(), shapes=(shape,), numbers=((1,),)))


def test_a_square_corner_by_hand():
    """Two turn-ups of 60 at 90°: each keeps half the wedge, so its top is 60 shorter than its foot goes, less the cut between
    them (1.5 to either side of the line, 2.1 along); a foot ends 3 beside the floor's other edge."""
    floor = ((0.0, 0.0), (500.0, 0.0), (500.0, 1000.0), (200.0, 1000.0), (200.0, 2000.0), (0.0, 2000.0))
    low, up = ((200.0, 1000.0), (500.0, 1000.0), 60.0), ((200.0, 2000.0), (200.0, 1000.0), 60.0)
    first, second = turn_up_outlines(floor, (low, up), ())
    assert first[0] == pytest.approx((3.0, 0.0)) and first[1] == pytest.approx((300.0, 0.0))
    top = [along for along, height in first if height == pytest.approx(60.0)]
    assert min(top) == pytest.approx(60.0 + 1.5 * math.sqrt(2), abs=0.001) and max(top) == pytest.approx(300.0)
    assert second[1] == pytest.approx((997.0, 0.0)) and max(a for a, h in second if h > 59.9) == pytest.approx(940.0 - 1.5 * math.sqrt(2), abs=0.001)


def test_without_an_inner_corner_a_turn_up_is_whole():
    floor = ((0.0, 0.0), (500.0, 0.0), (500.0, 900.0), (0.0, 1300.0))
    (whole,) = turn_up_outlines(floor, (((0.0, 1300.0), (500.0, 900.0), 60.0),), ())
    assert whole == ((0.0, 0.0), (math.hypot(500, 400), 0.0), (math.hypot(500, 400), 60.0), (0.0, 60.0))


@pytest.mark.parametrize("seed", range(24))
def test_any_corner_of_a_wall_folds_up_in_both_hands(seed):
    """Walls with one or both sides turned up, at any angle, with seams beside: patterns fold up, nothing lies over anything, and
    the other hand is the mirror image."""
    draw = random.Random(seed)
    low, wide = draw.uniform(150, 1500), 530.0
    floor = corner_floor(low, (draw.uniform(60, 480), low + draw.uniform(-200, 900)), low + draw.uniform(200, 1200))
    if not shapely.Polygon(floor).is_valid:
        pytest.skip("a wall that crosses itself")
    rise = draw.uniform(25, 110)
    ends = [(floor[3], floor[2]), (floor[4], floor[3])]
    chosen = ends if draw.random() < 0.6 else [draw.choice(ends)]
    areas = []
    for hand in (1, -1):
        ring = floor if hand > 0 else mirrored(floor)
        heads = tuple(PanHead(left=a, right=b, rise=rise) if hand > 0 else
                      PanHead(left=(wide - b[0], b[1]), right=(wide - a[0], a[1]), rise=rise) for a, b in chosen)
        right = wide if hand > 0 else 0.0
        seams = tuple(SeamSide(low=(right, a), high=(right, b), side=hand, height=25.0, lock=10.0, locks=2, back=(3.0, 3.0))
                      for a, b in ((0.0, floor[2][1]), (floor[4][1], 4000.0)))
        shape = PanShape(name="pan", floor=ring, heads=heads, seams=seams)
        result = pans(shape)
        assert result.max_gap < 0.05 and not list(result.misfits)
        for line, head in zip(shape.turn_ups, heads, strict=True):
            assert not line or (line[0][1] == line[1][1] == 0.0 and line[1][0] - line[0][0] >= 10.0
                                and max(up for _, up in line) <= head.rise + 1e-9)
        areas.append([shapely.Polygon(line).area if line else 0.0 for line in shape.turn_ups])
    assert areas[0] == pytest.approx(areas[1], rel=1e-6, abs=1e-6)


def test_the_wedge_is_shared_and_the_corner_is_said():
    """A floor that turns by 120° leaves a wedge of 60°: each turn-up's top goes back by 60 · tan 60°."""
    side, turned = math.radians(60.0), math.radians(120.0)
    inner = (200.0, 1000.0)
    up = inner[0] + 400.0 * math.cos(side), inner[1] + 400.0 * math.sin(side)
    floor = ((0.0, 0.0), (500.0, 0.0), (500.0, 1000.0), inner, up, (0.0, up[1]))
    shape = PanShape(name="pan 7", floor=floor, heads=(PanHead(left=inner, right=(500.0, 1000.0), rise=60.0),
                                                       PanHead(left=up, right=inner, rise=60.0)))
    first, second = shape.turn_ups
    back = min(along for along, height in first if height == pytest.approx(60.0))
    assert back == pytest.approx(60.0 * math.tan(turned / 2) + 1.5 / math.cos(turned / 2), abs=0.01)
    assert 400.0 - max(along for along, height in second if height == pytest.approx(60.0)) == pytest.approx(back, abs=0.01)
    form = FacePans(metal=metal(), shapes=(shape,), numbers=((7,),))
    assert any("pan 7" in note and "patch" in note for note in form.notes)
    plain = shape.but(floor=(*floor[:3], inner, (200.0, 2000.0), (0.0, 2000.0)), heads=(shape.heads[0],))
    assert not any("patch" in note for note in FacePans(metal=metal(), shapes=(plain,), numbers=((7,),)).notes)


def test_a_turn_up_without_a_foot_is_left_to_the_patch():
    floor = ((0.0, 0.0), (500.0, 0.0), (500.0, 1000.0), (488.0, 1000.0), (488.0, 3000.0), (0.0, 3000.0))
    heads = (PanHead(left=(488.0, 1000.0), right=(500.0, 1000.0), rise=60.0), PanHead(left=(488.0, 3000.0), right=(488.0, 1000.0), rise=60.0))
    shape = PanShape(name="pan", floor=floor, heads=heads)
    assert shape.turn_ups[0] == () and shape.cut_back
    assert sum(face.name == "turn-up" for face in shape.surface().faces) == 1 and pans(shape).max_gap < 0.05
