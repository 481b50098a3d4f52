"""A pipe between two real pans: the hole whole in both, the plate between them, one lock at every place of the seams."""

from __future__ import annotations

import math
import random

import numpy as np
import pytest
import shapely

from samples import metal
from yattle.details.forms import develop_form, moved
from yattle.details.pans import StandingPan
from yattle.details.pipe import Pipe
from yattle.errors import InputError
from yattle.pattern.pattern import SCREW


def pipe(**more):
    return Pipe(**{"metal": metal(), "diameter": 110.0, "pitch": 20.0, "school": "split", "coverage": 475.0, "from_seam": 237.5,
                   "seam_height": 38.0, "lock": 12.0} | more)


def on_roof(form, place):
    """A place in space as (across, up the slope, off the roof), mm."""
    lean = math.radians(form.pitch)
    x, y, z = place
    return y, -x * math.cos(lean) + z * math.sin(lean), x * math.sin(lean) + z * math.cos(lean)


def flat_faces(form, piece, name):
    """The faces of that name of one of its pieces, on the roof."""
    surface = next(surface for surface in form.surfaces() if surface.name == piece)
    return [np.array([on_roof(form, p) for p in face.corners]) for face in surface.faces if face.name == name]


def hole_of(form, piece, name):
    surface = next(surface for surface in form.surfaces() if surface.name == piece)
    (face,) = [face for face in surface.faces if face.name == name]
    (hole,) = face.holes
    return shapely.Polygon([on_roof(form, p)[:2] for p in hole])


@pytest.mark.parametrize("pitch", [0.0, 7.0, 20.0, 45.0])
@pytest.mark.parametrize("diameter", [60.0, 110.0, 200.0])
def test_the_hole_is_whole_in_both_pans_and_the_plate_lies_between(pitch, diameter):
    """By the closed form: an ellipse of the bore across and bore/cos up the slope, the upper one wider by the gap."""
    form = pipe(pitch=pitch, diameter=diameter)
    assert develop_form(form).max_gap < 0.05
    bore, k = diameter / 2 + 6.0, math.cos(math.radians(pitch))
    holes = {piece: hole_of(form, piece, name) for piece, name in (("lower pan", "pan"), ("upper pan", "pan"), ("base plate", "base"))}
    for piece, more in (("lower pan", 0.0), ("upper pan", 6.0), ("base plate", 0.0)):
        low_x, low_y, high_x, high_y = holes[piece].bounds
        assert (high_x - low_x) / 2 == pytest.approx(bore + more, abs=0.15)
        assert (high_y - low_y) / 2 == pytest.approx((bore + more) / k, abs=0.15)
        assert holes[piece].centroid.distance(shapely.Point(0, 0)) < 0.5
    floors = {piece: flat_faces(form, piece, "pan")[0] for piece in ("lower pan", "upper pan")}
    for ring in floors.values():
        assert np.abs(ring[:, 2]).max() < 1e-6, "on the roof's plane, as the plate"
        assert shapely.Polygon(ring[:, :2]).buffer(-24.9).contains(shapely.Point(0, 0).buffer(bore))
    over = floors["lower pan"][:, 1].max() - floors["upper pan"][:, 1].min()
    assert over == pytest.approx(form.split.over) and over == pytest.approx(2 * ((bore + 6.0) / k + 60.0))
    (plate,) = flat_faces(form, "base plate", "base")
    assert plate[:, 1].min() < floors["upper pan"][:, 1].min(), "the plate sheds below the upper pan's foot"
    assert plate[:, 1].max() > floors["lower pan"][:, 1].max(), "and goes on above the lower pan's head"


def test_at_every_place_of_the_seams_one_lock_is_closed_and_legs_are_no_more_than_three():
    """With the neighbours' pans beside them: along each seam the layers of legs and locks are counted place by place."""
    form = pipe()
    near = StandingPan(metal=metal(), coverage=475.0, length=4000.0, height=38.0, lock=12.0, hem=0.0, back=0.0)
    (beside,) = near.surfaces()
    for seam, neighbour in ((-237.5, "right"), (237.5, "left")):  # the neighbour's edge that stands at this seam
        others = [np.array(face.corners) for face in beside.faces if face.name in ("seam leg", "lock", "hook")]
        side = max if neighbour == "right" else min
        edge = side(ring[:, 0].mean() for ring in others)
        theirs = [ring for ring in others if abs(ring[:, 0].mean() - edge) < 30]
        assert {len(theirs)} == {3 if neighbour == "right" else 2}
        legs, locks = [], []
        for piece in ("lower pan", "upper pan"):
            legs += [ring for ring in flat_faces(form, piece, "seam leg") if abs(ring[:, 0].mean() - seam) < 1.0]
            locks += [ring for ring in flat_faces(form, piece, "lock") if abs(ring[:, 0].mean() - seam) < 13.0]
        for up in np.linspace(-690.0, 690.0, 93):
            here = [sum(ring[:, 1].min() <= up <= ring[:, 1].max() for ring in rings) for rings in (legs, locks)]
            assert here[1] <= 1 and 1 <= here[0] <= 2, (seam, up, here)
            if abs(up + form.split.over / 2) > 5.0:
                assert here[1] == 1, "the lock goes on from the lower to the upper pan"
        lower = next(ring for ring in flat_faces(form, "lower pan", "seam leg") if abs(ring[:, 0].mean() - seam) < 1.0)
        kept = lower[np.abs(lower[:, 1] - lower[:, 1].max()) < 0.1][:, 2].max()
        assert kept == pytest.approx(36.0), "its leg is kept, lower by what the lock's cut takes"


def test_the_upper_pan_s_foot_is_set_down_by_a_fold_of_the_pattern():
    """A strip of 10 by 15°: 10 · sin 15° = 2.6 mm down."""
    form = pipe()
    (strip,) = flat_faces(form, "upper pan", "set")
    assert strip[:, 2].min() == pytest.approx(-10.0 * math.sin(math.radians(15.0)))
    made = {piece.pattern.name: piece.pattern for piece in develop_form(form).pieces}
    assert [round(fold.turn, 6) for fold in made["upper pan"].folds if abs(fold.turn) < 20.0] == [-15.0]
    assert not flat_faces(pipe(set_width=0.0), "upper pan", "set")


def test_screws_and_sealant_of_the_plate_are_marked_where_they_go():
    form = pipe()
    made = {piece.pattern.name: piece.pattern for piece in develop_form(form).pieces}
    screws = [mark for mark in made["base plate"].marks if mark.text == SCREW]
    plate, foot = shapely.Polygon(made["base plate"].outline), -form.split.over / 2
    assert len(screws) >= 8 and all(plate.exterior.distance(shapely.Point(mark.a)) == pytest.approx(12.0, abs=0.01) for mark in screws)
    ups = [on_roof(form, a)[1] for face in form.surfaces()[1].faces for a, _, text in face.marks if text == SCREW]
    assert min(ups) > foot + 12.0, "all of them under the upper pan"
    beads = [mark for mark in made["lower pan"].marks if mark.text == "sealant"]
    assert len(beads) == 3 and sum(math.dist(mark.a, mark.b) for mark in beads) > 900.0


@pytest.mark.parametrize(("from_seam", "left", "right"), [(237.5, 150.0, 150.0), (150.0, 82.0, 150.0), (110.0, 42.0, 150.0), (395.0, 150.0, 40.0)])
def test_the_plate_is_as_narrow_as_the_seams_ask(from_seam, left, right):
    """Seams 14 wide take 7 of the flat: at 150 from the left seam 150 − 61 − 7 = 82 are left beside the hole."""
    form = pipe(from_seam=from_seam, seam_width=14.0)
    (plate,) = flat_faces(form, "base plate", "base")
    assert -plate[:, 0].min() - 61.0 == pytest.approx(left, abs=0.1) and plate[:, 0].max() - 61.0 == pytest.approx(right, abs=0.1)


def test_a_lap_too_short_for_the_hole_is_told_with_what_would_do():
    with pytest.raises(InputError, match=r"pan_lap: found 120 mm, expected 193 mm or more"):
        pipe(pan_lap=120.0).surfaces()


def test_hands_are_mirror_images():
    """A pipe nearer to the left seam and one as near to the right one: floors, holes, plates and screws mirrored."""
    one, other = pipe(from_seam=180.0), pipe(from_seam=475.0 - 180.0)
    for piece, name in (("lower pan", "pan"), ("upper pan", "pan"), ("base plate", "base")):
        a, b = (shapely.Polygon(flat_faces(form, piece, name)[0][:, :2]) for form in (one, other))
        assert a.symmetric_difference(shapely.affinity.scale(b, -1.0, origin=(0, 0))).area < 1.0


@pytest.mark.parametrize("seed", range(25))
def test_random_pipes_between_pans_fold_up(seed):
    draw = random.Random(seed)
    diameter = draw.uniform(40, 250)
    coverage = diameter + draw.uniform(160, 500)
    form = pipe(diameter=diameter, pitch=draw.uniform(0, 60), coverage=coverage, seam_height=draw.uniform(20, 60), lock=draw.uniform(6, 14),
                from_seam=diameter / 2 + 6 + draw.uniform(60, coverage - diameter - 90), gap=draw.uniform(2, 8),
                set_width=draw.choice([0.0, 8.0, 14.0]))
    assert develop_form(form).max_gap < 0.05


@pytest.mark.parametrize("more", [{}, {"pitch": 5.0}, {"from_seam": 150.0}, {"pitch": 45.0}])
def test_no_drop_is_lost_at_a_pipe_between_pans_and_one_is_where_they_do_not_lap(more, monkeypatch):
    form = pipe(**more)
    assert form.lost_drops() == ()
    lean = math.radians(form.pitch)
    up = np.array([-math.cos(lean), 0.0, math.sin(lean)]) * (form.split.over + 20.0)
    apart = tuple(moved(surface, np.eye(3), up) if surface.name == "upper pan" else surface for surface in form.surfaces())
    monkeypatch.setattr(Pipe, "surfaces", lambda self: apart)
    assert form.lost_drops()


@pytest.mark.parametrize("school", ["base", "split"])
@pytest.mark.parametrize(("from_seam", "wide", "left"), [(0.0, 475.0 + 136.0, 136.0), (30.0, 475.0 + 106.0, 136.0), (445.0, 475.0 + 106.0, 445.0)])
def test_on_a_seam_it_is_made_for_a_special_pan_and_the_choices_are_told(school, from_seam, wide, left):
    """A hole of 61 with 75 beside it wants 136 to a seam: so much wider is the pan on that side; nothing stops."""
    form = pipe(school=school, from_seam=from_seam)
    result = develop_form(form)
    assert form.pan == pytest.approx((wide, left)) and result.max_gap < 0.05
    (told,) = form.looks()
    assert told.level == "look" and f"special pan of {wide:.0f}" in told.says()
    assert "move the pipe" in told.reason() and "start the pans" in told.reason() and f"{136 - min(from_seam, 475 - from_seam):.0f} mm" in told.reason()
    if school == "split":
        (floor,) = flat_faces(form, "upper pan", "pan")
        assert np.ptp(floor[:, 0]) == pytest.approx(wide) and -floor[:, 0].min() == pytest.approx(left)
