"""Chimneys: every piece folds up again on a grid, the cricket against vector algebra, drops stay on top of the metal."""

from __future__ import annotations

import math
from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from samples import metal
from yattle.details.chimney import Chimney
from yattle.details.drops import Piece, leaks
from yattle.details.feet import Meets, RoofHere, corners_of
from yattle.details.forms import develop_form, moved
from yattle.details.panels_round import panels_round
from yattle.errors import InputError


def chimney(**more):
    return Chimney(metal=metal(), **{"across": 600.0, "along": 500.0, "pitch": 30.0, **more})


GRID = [{"pitch": p, **more} for p in (5.0, 20.0, 30.0, 45.0, 60.0) for more in (
    {}, {"counter": "stepped"}, {"turned": 45.0}, {"turned": -35.0}, {"meets": Meets(pitch=p)},
    {"meets": Meets(pitch=max(5.0, p - 12), away=80.0)})]
CRICKETS = [{"across": a, "pitch": p, "cricket": "two", "cricket_pitch": q} for a in (400.0, 1500.0)
            for p in (10.0, 30.0, 50.0) for q in (12.0, 20.0, 45.0)]


HAIR = {"across": 456.0, "along": 858.0, "pitch": 28.0, "turned": 60.0, "tab": 23.0, "cricket": "none",
        "counter": "stepped", "apron": 164.0, "flange": 141.0, "pan": 212.0, "lap": 117.0}
"""A relief cut passes a fold's end by 3 µm."""


@pytest.mark.parametrize("given", GRID + CRICKETS + [HAIR], ids=str)
def test_every_piece_folds_up_again(given):
    result = develop_form(chimney(**given))
    assert result.max_gap < 1e-3 and len(result.pieces) >= 8
    for piece in result.pieces:
        assert piece.pattern.area > 0 and piece.proof.checked >= 16


def test_the_flanges_lie_on_the_roof_and_the_upstands_on_the_walls():
    form = chimney(turned=20.0)
    for body, foot in zip(form.base, sorted(form.feet, key=lambda f: round(f.height, 3)), strict=True):
        for face in body.surface().faces:
            for x, y, z in face.corners:
                if face.name == "flange":
                    assert z == pytest.approx(math.tan(math.radians(30)) * y, abs=1e-9)
                if face.name == "upstand":
                    assert (np.array([x, y, z]) - foot.a) @ foot.out == pytest.approx(0, abs=1e-9)


def test_the_cricket_by_vector_algebra():
    """Half the width times tan(own) high; its valley is where its plane meets the roof's."""
    form = chimney(across=900.0, cricket_pitch=20.0)
    cricket = form.behind
    assert cricket.rise == pytest.approx(450 * math.tan(math.radians(20)))
    assert cricket.reach == pytest.approx(cricket.rise / math.tan(math.radians(30)))
    roof = np.array([0.0, -math.sin(math.radians(30)), math.cos(math.radians(30))])
    line = np.cross(cricket.normal(1), roof)
    step = cricket.end - cricket.corner(1)
    assert np.linalg.norm(np.cross(line / np.linalg.norm(line), step)) < 1e-9
    assert np.linalg.norm(step) == pytest.approx(cricket.valley)


def test_heights_in_their_order():
    """110 saw + 20 packing stand square to the roof; at 30° that is 150.1 plumb, the upstand ends 10 under it."""
    form = chimney()
    assert form.kerf_square.value == 130 and form.kerf_plumb == pytest.approx(130 / math.cos(math.radians(30)))
    assert form.height == pytest.approx(form.kerf_plumb - 10) and form.turn_in.value == 25
    assert "Kerf 130.0" in form.notes[0]


def test_left_and_right_are_mirror_images():
    result = {piece.pattern.name: piece.pattern for piece in develop_form(chimney()).pieces}
    left, right = result["left side"], result["right side"]
    assert left.area == pytest.approx(right.area) and left.outline != right.outline
    assert sorted(f.turn for f in left.folds) == pytest.approx(sorted(f.turn for f in right.folds))


SQUARE = {"kind": "valley", "turn": 90.0}


@pytest.mark.parametrize("given", [
    {}, {"pitch": 8.0}, {"pitch": 55.0}, {"across": 900.0}, {"turned": 45.0}, {"turned": 20.0},
    {"across": 900.0, "cricket": "one", "cricket_pitch": 25.0}, {"meets": Meets(pitch=30.0)},
    {"meets": Meets(pitch=30.0, away=250.0, **SQUARE)}, {"pitch": 15.0, "meets": Meets(pitch=40.0, away=60.0, **SQUARE)},
    {"meets": Meets(kind="valley", pitch=30.0, turn=-90.0, away=250.0)}, {"turned": 10.0}, {"turned": -25.0, "pitch": 45.0},
    {"meets": Meets(kind="valley", pitch=30.0, turn=75.0, away=150.0)},
    {"meets": Meets(kind="valley", pitch=30.0, turn=60.0, away=-200.0)},
    {"meets": Meets(kind="valley", pitch=40.0, turn=-70.0, away=250.0)}], ids=str)
def test_no_drop_gets_under_the_metal(given):
    assert chimney(**given).lost_drops() == ()


@pytest.mark.parametrize("given", [
    {}, {"cricket": "two"}, {"cricket": "one"}, {"across": 900.0, "cricket": "two", "cricket_pitch": 25.0}, {"pitch": 12.0},
    {"pitch": 45.0, "cricket": "two"}, {"counter": "turned"}], ids=str)
@pytest.mark.parametrize(("coverage", "from_seam"), [(0.0, 0.0), (400.0, 100.0), (250.0, 60.0)])
def test_drops_from_the_panels_above_stay_on_top_between_their_seams(given, coverage, from_seam):
    """Panels above and below with their seams standing; where those above end short of the back pan's flange drops are lost."""
    form = chimney(**given, coverage=coverage, from_seam=from_seam)
    assert form.lost_drops() == ()
    assert len(form._flashed.seams) == (0 if not coverage else len([n for n in range(1, 9) if 1.0 < n * coverage - from_seam < form.across]))
    short = replace(form._flashed, above=form._flashed.up + 30.0)
    pieces = [body.surface() for body in form.base]
    below, above, _ = panels_round(short, pieces, form._over)
    assert leaks([Piece(below, True), *(Piece(one, False) for one in pieces), Piece(above, False)], form._walls, form.roof.over)


@pytest.mark.parametrize("turned", [5.0, 10.0, 20.0, 28.0])
def test_a_side_that_nearly_falls_ends_a_lap_below_its_corner(turned):
    """Cut along the fall from the corner, without a tail."""
    form = chimney(turned=turned)
    low = min(y for _, y in corners_of(600.0, 500.0, turned))
    for body in form.base:
        for face in body.surface().faces:
            reach = (low - min(y for _, y, _ in face.corners)) / math.cos(math.radians(turned))
            assert reach < max(form.lap, form.apron) + 30


def test_both_roofs_falling_to_one_place_on_the_wall_are_refused():
    with pytest.raises(InputError, match="both roofs fall to one place") as wrong:
        develop_form(chimney(meets=Meets(kind="valley", pitch=30.0, turn=105.0, away=150.0)))
    assert wrong.value.field == "meets.turn"


@pytest.mark.parametrize(("given", "field", "says"), [
    ({"across": 700.0, "along": 700.0, "pitch": 15.0, "meets": Meets(kind="valley", pitch=50.0, turn=-60.0, away=-350.0)},
     "meets.turn", "runs on over the other"),
    ({"across": 400.0, "along": 700.0, "meets": Meets(kind="valley", pitch=8.0, turn=117.8, away=-407.9)},
     "meets.away", "under a flange"),
    ({"across": 900.0, "along": 400.0, "pitch": 15.0,
      "meets": Meets(kind="valley", pitch=50.0, turn=124.38095381269862, away=11.883969642394089)},
     "meets.turn", "each piece would have to lie over the next one")])
def test_where_a_valley_leaves_no_way_for_the_water_that_is_said(given, field, says):
    with pytest.raises(InputError, match=says) as wrong:
        develop_form(chimney(**given))
    assert wrong.value.field == field


@pytest.mark.parametrize("seed", range(8))
def test_by_any_valley_the_drops_stay_on_top_or_it_is_refused(seed):
    """Made-up valleys: what is not refused is watertight."""
    made, here, kept = np.random.default_rng(seed), 0, 0
    while kept < 2 and here < 40:
        here += 1
        form = chimney(across=made.uniform(400, 900), along=made.uniform(400, 900), pitch=made.uniform(8, 50),
                       meets=Meets(kind="valley", pitch=made.uniform(8, 50), away=made.uniform(-600, 600),
                                   turn=made.choice([-1, 1]) * made.uniform(45, 135)))
        try:
            develop_form(form)
        except InputError:
            continue
        kept += 1
        pieces, wall, roof = installed(form)
        assert leaks(pieces, wall, roof, step=9.0) == []
    assert kept == 2


@given(own=st.floats(3, 70), other=st.floats(3, 70), turn=st.floats(-180, 180))
def test_a_valley_drains_when_water_of_both_roofs_comes_to_its_line(own, other, turn):
    """Against drops: one put down a step beside the line is nearer to it a step down its roof's fall."""
    roof = RoofHere.of(own, Meets(kind="valley", pitch=other, turn=turn, away=300.0))
    assume(abs(turn) > 1 and abs(own - other) > 0.01)
    (ax, ay, az), (bx, by, bz) = roof.planes
    apart = np.array([ax - bx, ay - by])
    nearer = []
    for n, (gx, gy, _) in enumerate(roof.planes):
        at = -apart * (az - bz) / (apart @ apart) + (apart if n == 0 else -apart)
        assert roof.on(*at) == n
        fall = -np.array([gx, gy])
        nearer.append(abs((at + 1e-6 * fall) @ apart + az - bz) < abs(at @ apart + az - bz))
    assume(abs(ax * apart[0] + ay * apart[1]) > 1e-6 and abs(bx * apart[0] + by * apart[1]) > 1e-6)
    assert roof.drains == all(nearer)


def installed(form):
    """The pieces as they lie, with what stands there, as the tracer wants them."""
    sheds = [any(form.feet[n].sheds for n in group) for group in form.groups]
    return ([Piece(body.surface(), shed) for body, shed in zip(form.base, sheds, strict=True)],
            [tuple(p) for p in corners_of(form.across, form.along, form.turned)], form.roof.over)


def test_a_piece_left_out_or_put_on_too_early_is_found_by_the_drops():
    pieces, wall, roof = installed(chimney())
    assert any("under the panels" in leak.says for leak in leaks([p for p in pieces if p.surface.name != "apron"], wall,
                                                                 roof, step=9.0))
    assert any("runs in under the" in leak.says for leak in leaks(pieces[::-1], wall, roof, step=9.0))


@pytest.mark.parametrize("away", [250.0, 400.0, 700.0])
@pytest.mark.parametrize("pitch", [20.0, 50.0])
def test_by_a_valley_pieces_go_through_it_in_one(pitch, away):
    """Where the line runs clear of the corners; else that is said."""
    form = chimney(pitch=pitch, meets=Meets(kind="valley", pitch=30.0, turn=90.0, away=away))
    try:
        result = develop_form(form)
    except InputError as wrong:
        assert wrong.field == "meets.away" and ("corner of the chimney" if away < 300 else "under a flange") in str(wrong)
        return
    assert result.max_gap < 1e-6
    assert sum("through the valley" in piece.pattern.name for piece in result.pieces) in (0, 2)


def test_folded_pans_have_no_cuts_and_jigs_on_paper():
    result = develop_form(chimney(school="folded", pitch=20.0))
    names = [piece.pattern.name for piece in result.pieces]
    assert names[:4] == ["lower pan", "right pan", "left pan", "upper pan"] and result.max_gap < 3e-3
    assert [piece.pattern.name for piece in result.pieces if piece.paper] == ["jig, lower pan", "jig, upper pan"]
    for piece in (result.pieces[0], result.pieces[3]):  # the sheet stays whole: no cut runs to where the folds of a pocket meet
        ends = [tuple(np.round(end, 3)) for fold in piece.pattern.folds if fold.kind == "hem" and fold.by == "tongs" for end in (fold.a, fold.b)]
        corners = [end for end in set(ends) if ends.count(end) >= 2]
        edge = shapely.Polygon(piece.pattern.outline).exterior
        inner = [corner for corner in corners if edge.distance(shapely.Point(corner)) > 1.0]
        assert len(inner) == 2 and all(edge.distance(shapely.Point(corner)) > 60.0 for corner in inner)
    lower_jig, upper_jig = (piece.pattern for piece in result.pieces[-2:])
    assert upper_jig.area != pytest.approx(lower_jig.area)


@pytest.mark.parametrize("pitch", [5.0, 20.0, 40.0])
def test_upstands_turned_into_the_kerf_by_themselves(pitch):
    """No counterflashing: each upstand as high as the kerf, saw 110 + packing 20 square to the roof, with 30 − 5 turned in."""
    form = chimney(counter="turned", pitch=pitch)
    result = develop_form(form)
    assert result.max_gap < 1e-6 and not [piece for piece in result.pieces if piece.pattern.name.startswith("counter")]
    assert form.height == pytest.approx(130.0 / math.cos(math.radians(pitch)))
    for piece in result.pieces:
        turned = [face for face in piece.surface.faces if face.name == "turned in"]
        assert len(turned) == 1
        (wall,) = [face for face in piece.surface.faces if face.name == "upstand"]
        deep = max(abs(float((np.array(p) - np.array(wall.corners[0])) @ wall.normal)) for p in turned[0].corners)
        assert deep == pytest.approx(25.0)
        assert turned[0].paint[2] > 0.5, "its paint up"
    assert "no counterflashing" in form.notes[0]


def test_no_kerf_is_spoken_of_where_others_close_the_wall():
    form = chimney(counter="none")
    assert not any("erf" in note for note in form.notes[:1]) or "no kerf" in form.notes[0]
    assert "no kerf" in form.notes[0] and {p.pattern.name for p in develop_form(form).pieces} == {
        "apron", "right side", "left side", "back pan"}


@pytest.mark.parametrize("saw", [65.0, 75.0, 110.0, 180.0])
def test_a_counterflashing_never_hangs_below_the_roof(saw):
    form = chimney(saw=saw, packing=0.0, pitch=30.0, counter_face=150.0)
    for piece in develop_form(form).pieces:
        if piece.pattern.name.startswith("counter"):
            (face,) = [face for face in piece.surface.faces if face.name == "face"]
            assert min(z - form.roof.over(x, y) for x, y, z in face.corners) > -1e-6
    told = [finding.field for finding in form.looks()]
    assert ("counter_face" in told) == (form.height < 150.0) and ("saw" in told) == (form.height < 100.0)


def test_the_apron_s_hem_is_turned_under_to_be_hooked():
    (apron,) = [p for p in develop_form(chimney()).pieces if p.pattern.name == "apron"]
    hems = [fold for fold in apron.pattern.folds if fold.kind == "hem"]
    assert len(hems) == 1 and hems[0].turn == -180.0
    wide = max(p[0] for f in apron.surface.faces if f.name == "flange" for p in f.corners)
    hem = next(face for face in apron.surface.faces if face.name == "hem")
    assert max(p[0] for p in hem.corners) == pytest.approx(wide, abs=1.0)
    (bare,) = [p for p in develop_form(chimney(apron_hem=0.0)).pieces if p.pattern.name == "apron"]
    assert apron.pattern.girth - bare.pattern.girth == pytest.approx(15.0, abs=2.0)


@pytest.mark.parametrize(("across", "parts"), [(2400.0, 1), (3200.0, 2), (5900.0, 3)])
def test_long_aprons_come_in_parts_that_lap(across, parts):
    """No part longer than the stock of 3 m, each 80 over the next; together as long as the whole, and as the wall asks."""
    form = chimney(across=across, cricket="none")
    result = develop_form(form)
    assert result.max_gap < 1e-6
    aprons = [p for p in result.pieces if p.pattern.name.startswith("apron")]
    assert len(aprons) == parts and all(p.pattern.length <= 3000.0 + 1e-6 for p in aprons)
    spans = sorted((min(q[0] for f in p.surface.faces for q in f.corners), max(q[0] for f in p.surface.faces for q in f.corners))
                   for p in aprons)
    whole = develop_form(form.but(stock_length=12_000.0))
    (one,) = [p for p in whole.pieces if p.pattern.name == "apron"]
    assert spans[-1][1] - spans[0][0] == pytest.approx(one.pattern.length, abs=1e-6)
    assert all(before[1] - after[0] == pytest.approx(80.0) for before, after in pairwise(spans))


FOLDED = [(20.0, 475.0, 0.0), (10.0, 600.0, 0.0), (35.0, 475.0, 100.0), (20.0, 0.0, 0.0)]


@pytest.mark.parametrize(("pitch", "coverage", "from_seam"), FOLDED)
def test_seams_beside_a_folded_chimney_close_over_each_other(pitch, coverage, from_seam):
    """The hooks of the pans below and behind lie over the locks of those beside it, along the same stretch; beside the chimney
    legs stand as high as the upstands, past its corners they are as high as the seams; nothing is locked twice."""
    form = chimney(school="folded", pitch=pitch, coverage=coverage, from_seam=from_seam)
    result = develop_form(form)
    assert result.max_gap < 3e-3
    lean, half = math.radians(pitch), form.across / 2
    back = np.array([[1, 0, 0], [0, math.cos(lean), math.sin(lean)], [0, -math.sin(lean), math.cos(lean)]])

    def rings(piece, name):
        surface = next(surface for surface in form.surfaces() if surface.name == piece)
        return [np.array(face.corners) @ back.T for face in surface.faces if face.name == name]
    reach, leg = form.along / math.cos(lean) / 2, form.height * math.cos(lean)
    for hand, side in ((1, "right pan"), (-1, "left pan")):
        ours = [ring for ring in rings(side, "lock") if abs(ring[:, 0].mean() - hand * half) < 12.0]
        assert len(ours) == 2, "one below the chimney and one behind it"
        for piece, place in (("lower pan", min), ("upper pan", max)):
            (theirs,) = [ring for ring in rings(piece, "lock") if abs(ring[:, 0].mean() - hand * half) < 12.0]
            own = place(ours, key=lambda ring: ring[:, 1].mean())
            assert np.allclose([theirs[:, 0].min(), theirs[:, 0].max()], [own[:, 0].min(), own[:, 0].max()])
            assert np.allclose(theirs[:, 2], 38.0) and np.allclose(own[:, 2], 38.0)
            both = min(theirs[:, 1].max(), own[:, 1].max()) - max(theirs[:, 1].min(), own[:, 1].min())
            assert both > 0.7 * np.ptp(own[:, 1])
        (stand,) = [ring for ring in rings(side, "seam leg") if abs(ring[:, 0].mean() - hand * half) < 1.0]
        tall = stand[stand[:, 2] > leg - 0.01]
        assert tall[:, 1].min() < -reach - 25.0 and tall[:, 1].max() > reach + leg * math.tan(lean) + 25.0
        assert stand[np.abs(stand[:, 1] - stand[:, 1].min()) < 0.1][:, 2].max() == pytest.approx(38.0)
    wide = {side: float(np.ptp(rings(side, "pan")[0][:, 0])) for side in ("left pan", "right pan")}
    assert wide == pytest.approx({"left pan": 120.0, "right pan": 120.0} if not coverage else {
        "left pan": from_seam if from_seam > 60 else from_seam + coverage,
        "right pan": next(w for w in ((-from_seam - form.across) % coverage + n * coverage for n in (0, 1)) if w > 60)})


@pytest.mark.parametrize(("pitch", "coverage", "from_seam"), FOLDED)
def test_no_drop_is_lost_round_folded_pans_and_one_is_where_a_pan_stands_off(pitch, coverage, from_seam, monkeypatch):
    form = chimney(school="folded", pitch=pitch, coverage=coverage, from_seam=from_seam)
    assert form.lost_drops() == ()
    whole = form.surfaces()
    off = moved(whole[1], np.eye(3), np.array([40.0, 0.0, 0.0]))
    monkeypatch.setattr(Chimney, "surfaces", lambda self: (whole[0], off, *whole[2:]))
    assert form.lost_drops(), "the right pan 40 beside its seam"


@pytest.mark.parametrize(("from_seam", "side", "away", "says"), [
    (0.0, "right", 125.0, "a special pan of 125"), (100.0, "left", 100.0, "100 mm further right"), (300.0, "left", 175.0, "175 mm further")])
def test_where_no_seam_runs_along_a_folded_chimney_the_shift_is_told(from_seam, side, away, says):
    """Pans of 475 and a chimney of 600: its right side is 125 past a seam wherever one runs along its left side."""
    found = [f for f in chimney(school="folded", pitch=20.0, coverage=475.0, from_seam=from_seam).looks() if f.field == "from_seam"]
    assert len(found) == 1 and f"its {side} side" in found[0].text and found[0].lengths == (away,) and says in found[0].why
    assert not [f for f in chimney(school="folded", pitch=20.0, coverage=600.0).looks() if f.field == "from_seam"]


def test_a_cricket_in_one_piece_wants_two_patches():
    names = [p.pattern.name for p in develop_form(chimney(across=900.0, cricket="one", cricket_pitch=25.0)).pieces]
    assert {"cricket", "patch, roof", "patch, upstand"} <= set(names)


@pytest.mark.parametrize(("given", "says"), [
    ({"pitch": 0.0}, "pitch: found 0°"), ({"saw": 20.0}, "saw: found a kerf"), ({"counter_face": 20.0}, "counter_face"),
    ({"kerf_room": 40.0}, "kerf_room"), ({"turned": 45.0, "cricket": "two"}, "cricket"),
    ({"turned": 45.0, "school": "folded"}, "school"), ({"pitch": 60.0, "school": "folded"}, "pitch"),
    ({"across": 900.0, "cricket": "one", "cricket_pitch": 50.0, "pitch": 50.0}, "cricket"),
    ({"pitch": 50.0, "cricket": "two", "cricket_pitch": 6.0}, "cricket_pitch")])
def test_what_cannot_be_is_said(given, says):
    with pytest.raises(InputError) as wrong:
        develop_form(chimney(**given))
    assert says in str(wrong.value)


def test_a_wide_one_without_a_cricket_is_looked_at():
    assert chimney(across=900.0).with_cricket == "two" and not chimney(across=900.0).looks()
    assert "without a cricket" in chimney(across=900.0, cricket="none").looks()[0].says()


@settings(max_examples=40, deadline=None)
@given(st.sampled_from([10.0, 25.0, -40.0, 45.0, 60.0]), st.floats(300, 1200), st.floats(300, 1000), st.floats(8, 50),
       st.floats(80, 200), st.floats(40, 120))
def test_chimneys_turned_anyhow_fold_up(turned, across, along, pitch, flange, lap):
    try:
        result = develop_form(chimney(turned=turned, across=across, along=along, pitch=pitch, flange=flange, lap=lap))
    except InputError:
        assume(False)
    assert not list(result.misfits) and all(math.dist(p, q) > 1e-6 for piece in result.pieces
                                            for p, q in pairwise(piece.pattern.outline))


@pytest.mark.parametrize("form", [
    *({"pitch": pitch, "along": along, "meets": Meets(kind="ridge", pitch=pitch, turn=180.0, away=away)}
      for pitch in (15.0, 35.0, 50.0, 60.0) for along, away in ((600.0, 0.0), (900.0, 100.0), (900.0, -150.0), (400.0, 60.0))),
    *({"meets": Meets(kind="valley", pitch=pitch, turn=turn, away=away)}
      for pitch, turn, away in ((30.0, -90.0, 250.0), (30.0, 75.0, 150.0), (30.0, 60.0, -200.0), (40.0, -70.0, 250.0))),
    {}, {"turned": 25.0, "pitch": 45.0}], ids=str)
def test_upstands_reach_the_saw_line_all_along_every_wall(form):
    """Where planes meet on a side one piece goes on under the other: over a ridge its top was cut straight across, 100 mm short of the saw
    line there. Every place of each wall is looked at, from over the foot to under the kerf."""
    made = chimney(**form)
    parts = [np.array(face.corners) for body in made.base for face in body.surface().faces if face.name in ("upstand", "tab")]
    for foot in made.feet:
        level = np.array([foot.along[0], foot.along[1], 0.0]) / math.hypot(foot.along[0], foot.along[1])
        on = [part - foot.a for part in parts if np.abs((part - foot.a) @ foot.out).max() < 1e-6]
        sheet = shapely.union_all([shapely.Polygon(np.stack((part @ level, part[:, 2]), axis=1)).buffer(0.5) for part in on])
        long, rise = float((foot.b - foot.a) @ level), float(foot.b[2] - foot.a[2])
        for at in np.linspace(8.0, long - 8.0, 31):
            z = rise * at / long
            assert sheet.covers(shapely.LineString([(at, z + 15.0), (at, z + made.height - 1.0)])), (foot.side, at)
