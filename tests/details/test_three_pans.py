"""Three pans at a cross seam: both cuts lie on each other, no lock is left at the end, hands are mirrored, layers counted."""

from __future__ import annotations

import itertools
import math
import random

import numpy as np
import pytest
import shapely

from samples import metal
from yattle.details.drops import Piece, leaks
from yattle.details.forms import develop_form, tilted
from yattle.details.three_pans import ThreePans
from yattle.errors import InputError

CASES = list(itertools.product(("one over two", "two over one"), ("left", "right"), ("single", "double")))


def form(over="one over two", hand="right", **more):
    return ThreePans(**{"metal": metal(), "over": over, "hand": hand, "height": 25.0, "lock": 10.0} | more)


def rings(made, pan, name):
    surface = next(surface for surface in made.surfaces() if surface.name == pan)
    return [np.array(face.corners) for face in surface.faces if face.name == name]


def at_seam(made, name):
    """The faces of that name of the two pans beside each other that stand at their seam, left pan's first."""
    where = "upper" if made.over == "two over one" else "lower"
    return [[ring for ring in rings(made, f"{where} {side} pan", name) if abs(ring[:, 0].mean()) < made.lock + 1.0]
            for side in ("left", "right")]


@pytest.mark.parametrize(("over", "hand", "cross"), CASES)
def test_the_two_cuts_lie_on_each_other_and_no_lock_is_left_at_the_end(over, hand, cross):
    made = form(over, hand, cross=cross)
    assert develop_form(made).max_gap < 2e-3
    (left,), (right,) = at_seam(made, "seam leg")
    assert np.allclose(sorted(map(tuple, left)), sorted(map(tuple, right))), "the same line on both legs"
    end = min(abs(left[:, 1]))
    assert left[np.abs(np.abs(left[:, 1]) - end) < 0.01][:, 2].max() == pytest.approx(8.0)
    locks = [ring for pan in at_seam(made, "lock") for ring in pan]
    assert len(locks) == 2 and min(np.abs(ring[:, 1]).min() for ring in locks) == pytest.approx(end + 60.0)
    assert np.allclose(sorted(map(tuple, locks[0])), sorted(map(tuple, locks[1]))), "and the locks lie in each other"
    side = 1.0 if hand == "right" else -1.0
    assert all(side * ring[:, 0].max() >= -0.01 and side * ring[:, 0].min() >= -0.01 for ring in locks), "closed toward that hand"


@pytest.mark.parametrize(("over", "cross"), itertools.product(("one over two", "two over one"), ("single", "double")))
def test_hands_are_mirror_images(over, cross):
    one, other = (form(over, hand, cross=cross) for hand in ("left", "right"))
    faces = [sorted(tuple(sorted((round(sign * x, 4) + 0.0, round(y, 4), round(z, 4)) for x, y, z in face.corners))
                    for surface in made.surfaces() if not surface.paper for face in surface.faces) for made, sign in ((one, -1), (other, 1))]
    assert faces[0] == faces[1]


@pytest.mark.parametrize("school", ["relieved", "offset"])
def test_layers_are_those_of_the_faces_laid_over(school):
    """Counted again from the pans: floor, each leg and each part of the lock that covers a place of the leg laid down."""
    made = form(school=school)
    legs = [shapely.Polygon(ring[:, 1:]) for pan in at_seam(made, "seam leg") for ring in pan]
    locks = [(ring[:, 1].min(), ring[:, 1].max()) for name in ("lock", "hook") for pan in at_seam(made, name) for ring in pan]
    end = max(leg.bounds[2] for leg in legs)
    for along, out in itertools.product((1.0, 20.0, 45.0, 59.0, 65.0, 120.0), (0.5, 6.0, 12.0, 17.0, 22.5)):
        y = end - along
        counted = 1 + sum(leg.buffer(1e-6).contains(shapely.Point(y, out)) for leg in legs)
        counted += sum(low <= y <= high for low, high in locks) if out >= 15.0 else 0
        if school == "relieved" or along < made.length - 40.0:
            assert made.layers_at(along, out) == counted, (along, out)
    assert made.most_layers == ((3, 6) if school == "relieved" else (6, 6))


@pytest.mark.parametrize(("over", "hand"), itertools.product(("one over two", "two over one"), ("left", "right")))
def test_the_template_is_the_cut_of_the_very_pan_it_belongs_to(over, hand):
    """Laid on the leg in the flat pattern, its fold's half deduction down: its slanting side runs along the outline."""
    made = form(over, hand, keep=10.0, taper=70.0)
    result = develop_form(made)
    template = result.pieces[-1]
    assert template.paper and template.pattern.name == f"relief template, {hand}"
    (xs,) = [sorted(face.corners) for face in template.surface.faces]
    slant = sorted(((0.0, 10.0), (70.0, 23.0)))
    assert {(round(abs(x)), round(y)) for x, y, _ in xs} >= {(round(x), round(y)) for x, y in slant}
    for piece in result.pieces[:3]:
        if " left " in piece.pattern.name or " right " in piece.pattern.name:
            ring = np.array(piece.pattern.outline)
            steps = np.abs(np.roll(ring, -1, axis=0) - ring)
            found = [step for step in steps if np.allclose(sorted(step), (13.0, 70.0), atol=0.01)]
            assert len(found) == 1, "one cut, as the template's"


@pytest.mark.parametrize("cross", ["single", "double"])
def test_the_upper_pan_s_foot_goes_into_the_lower_one_s_head(cross):
    """The head's fold at 0, its flap of 25 (or twice that) down over the pan; the foot's fold at the first turn's edge, its flap of 3 less
    up under it."""
    made, turns = form(cross=cross), 1 if cross == "single" else 2
    for pan in ("lower left pan", "lower right pan"):
        (head,) = rings(made, pan, "cross seam")
        assert head[:, 1].max() == pytest.approx(0.0) and np.ptp(head[:, 1]) == pytest.approx(25.0 * turns)
    (foot,) = rings(made, "upper pan", "eave hem")
    assert foot[:, 1].min() == pytest.approx(-25.0) and np.ptp(foot[:, 1]) == pytest.approx(25.0 * turns - 3.0)
    assert f"turned over by {25 * turns}" in " ".join(made.notes)


def test_the_offset_school_keeps_seams_apart_and_says_what_it_costs():
    made = form(school="offset", offset=120.0)
    result = develop_form(made)
    assert len(result.pieces) == 3 and not [piece for piece in result.pieces if piece.paper]
    upper = rings(made, "upper pan", "seam leg")
    assert sorted(float(ring[:, 0].mean()) for ring in upper) == pytest.approx([-380.0, 120.0])
    assert "one set-up more, no metal" in made.notes[0] and not made.looks()
    assert form(school="offset", offset=30.0).looks()[0].lengths == (30.0, 50.0)


@pytest.mark.parametrize(("given", "field"), [({"taper": 10.0}, "taper"), ({"keep": 24.0}, "keep"), ({"length": 90.0}, "length")])
def test_what_cannot_be_cut_is_told(given, field):
    with pytest.raises(InputError) as wrong:
        form(**given).surfaces()
    assert wrong.value.field == field


@pytest.mark.parametrize("seed", range(20))
def test_random_ones_fold_up(seed):
    draw = random.Random(seed)
    height = draw.uniform(18, 60)
    made = form(draw.choice(["one over two", "two over one"]), draw.choice(["left", "right"]), cross=draw.choice(["single", "double"]),
                height=height, lock=draw.uniform(5, 0.5 * height), taper=height * draw.uniform(1.0, 3.0), keep=draw.uniform(3, 0.6 * height),
                coverage=draw.uniform(250, 650), head=draw.uniform(15, 35))
    assert develop_form(made).max_gap < 0.05


@pytest.mark.parametrize("school", ["relieved", "offset"])
@pytest.mark.parametrize(("over", "hand", "cross"), CASES)
def test_drops_stay_on_top_of_the_pans_and_get_under_where_the_upper_go_on_first(over, hand, cross, school):
    made = form(over, hand, cross=cross, school=school)
    assert made.lost_drops() == ()
    pieces = [Piece(tilted(surface, 15.0), True) for surface in made.surfaces() if not surface.paper]
    fall = math.tan(math.radians(15.0))
    wrong = leaks(pieces[::-1], [], lambda x, y: y * fall - 50.0)
    assert wrong and all("in under the lower" in leak.says for leak in wrong)
