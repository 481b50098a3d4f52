"""Pieces of one opening or corner: what touches, by hand; what stands in openings; single folds turned the other way."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest
import shapely
from test_checked import derived_of

from plans import gable, plan
from yattle.built.bodies import bodies
from yattle.built.checked import check_built, check_standing
from yattle.built.clash import clashes
from yattle.built.forms import forms_of
from yattle.built.frames import face_axes
from yattle.built.laid import laid_panels
from yattle.built.mutants import turned_over
from yattle.built.placed import places_of
from yattle.built.said import said_of
from yattle.built.standing import Standing, stand_all
from yattle.built.touching import touches
from yattle.derive import derive
from yattle.derive.pan_clip import clear_of
from yattle.job import Job
from yattle.job.model import FaceNote, OpeningNote
from yattle.job.panel_systems import with_system
from yattle.panels import library
from yattle.pattern.triangles import triangles_of
from yattle.roof.model import BoxOpening, RoofPlan
from yattle.roof.starts import STARTS


def plate(name, *corners):
    return Standing(name, name, (np.array(corners, float),))


def level(name, left, low, right, high, up=0.0):
    return plate(name, (left, low, up), (right, low, up), (right, high, up), (left, high, up))


def test_what_two_plates_share_is_their_area_on_each_other():
    """By hand: 100 × 50 and the same moved 60 along and 20 across share 40 × 30; 2 mm apart they still lie on each other."""
    under, over = level("under", 0, 0, 100, 50), level("over", 60, 20, 160, 70, up=1.5)
    (touch,) = touches([under], [over]).values()
    assert touch.area == pytest.approx(40 * 30) and touch.long == pytest.approx(40)
    assert 60 <= touch.at[0] <= 100 and 20 <= touch.at[1] <= 50
    assert not touches([under], [level("high", 60, 20, 160, 70, up=2.5)])
    assert not touches([under], [level("beside", 100, 0, 200, 50)])


def test_a_sheet_that_ends_flush_at_a_side_does_not_go_through_it():
    """A panel cut round a chimney: its notch lies in the planes of three sides; 5 mm less of a notch goes 5 mm through one."""
    side = plate("side", (0, 0, -50), (0, 400, -50), (0, 400, 50), (0, 0, 50))
    flush = plate("flush", (-300, -200, 0), (200, -200, 0), (200, 600, 0), (0, 600, 0), (0, 0, 0), (-300, 0, 0))
    assert not list(clashes([side, flush]))
    into = plate("into", (-300, -200, 0), (200, -200, 0), (200, 600, 0), (-5, 600, 0), (-5, 100, 0), (-5, 0, 0), (-300, 0, 0))
    (clash,) = clashes([side, into])
    assert clash.depth == pytest.approx(5.0)
    round_it = plate("round", (-900, -200, 0), (200, -200, 0), (200, 600, 0), (0, 600, 0), (0, 0, 0), (-800, 0, 0), (-800, 600, 0), (-900, 600, 0))
    assert not list(clashes([side, round_it])), "its other leg lies beyond, on the other side of what stands there"


def test_what_stands_in_openings_is_as_large_as_the_survey_has_it_and_looks_outward():
    found = derived_of("sail-loft")
    sizes = {one.opening.id: one.opening for one in found.roof.openings}
    stood = list(bodies(found))
    assert {body.opening for body in stood} == set(sizes)
    for body in stood:
        corners = np.concatenate(body.sides)
        for side in body.sides:
            solid = Standing("side", "side", (side,))
            assert float((solid.middle - corners.mean(axis=0)) @ solid.normals[0]) > 0.0
        if not body.round:
            wide = sorted(float(np.linalg.norm(side[1] - side[0])) for side in body.sides)
            assert wide[::2] == pytest.approx(sorted((sizes[body.opening].across, sizes[body.opening].along)), abs=0.2 * wide[-1])


def test_no_panel_is_left_under_a_cricket():
    """What lies between a chimney's back and its cricket's edge is cut out of the panels above it, to the last corner."""
    found = derived_of("sail-loft")
    back = next(side for body in bodies(found) if body.opening == "chimney" for side in body.sides[2:3])
    own = face_axes(found, found.roof.facet("loft.1"))
    (left, *_), (right, *_), *_ = sorted(((back - own.at) @ own.turn).tolist())[::2]
    low = min(y for _, y, _ in ((back - own.at) @ own.turn).tolist())
    foot = low + abs(float(((back - own.at) @ own.turn)[0, 2])) * np.tan(np.radians(found.roof.facet("loft.1").plane.pitch))
    under = shapely.box(left + 150.0, foot + 1.0, right - 150.0, foot + 60.0)
    for panel in laid_panels(found, frozenset(("loft.1",))):
        flat = shapely.Polygon(((panel.ring - own.at) @ own.turn)[:, :2]).buffer(0.0)
        assert flat.intersection(under).area < 1.0, panel.id


@pytest.mark.parametrize(("roof", "kind"), [("sail-loft", "chimney"), ("sail-loft", "curb"), ("sail-loft", "pipe"),
                                            ("sail-loft", "dormer-ridge"), ("hip", "three-way-cap")])
def test_every_fold_of_a_piece_at_an_opening_or_a_corner_turned_the_other_way_is_found(roof, kind):
    found = derived_of(roof)
    placed, _ = places_of(found)
    sound, missed, tried = stand_all(found.patterns, placed), [], 0
    opening = next(one for one in found.openings if one.detail == kind and one.pieces)
    for piece in opening.pieces:
        for n in range(len(piece.pattern.folds))[::1 if kind != "pipe" else 5]:
            wrong = turned_over(n)(piece.pattern)
            if wrong is None:
                continue
            tried += 1
            standing = {**sound, **stand_all((wrong,), placed)}
            rows = {one["row"] for one in said_of(check_standing(found, placed, standing, frozenset({wrong.id})))}
            if not rows & {"bears", "cover", "clash", "hook", "water", "slot"}:
                missed.append((piece.surface.name, n))
    assert tried >= 2 and not missed


def test_what_stands_at_a_chimney_and_does_not_touch_it_is_told_in_words():
    found = derived_of("sail-loft")
    placed, _ = places_of(found)
    sound = stand_all(found.patterns, placed)
    apron = next(piece.pattern for piece in found.opening("chimney").pieces if piece.surface.name == "apron")
    front = next(body.sides[0] for body in bodies(found) if body.opening == "chimney")
    away = Standing("front", "front", (front,)).normals[0] * 400.0
    off = Standing(apron.id, apron.id, tuple(part + away for part in sound[apron.id].parts), sound[apron.id].flats)
    checked = check_standing(found, placed, {**sound, apron.id: off}, frozenset({apron.id}))
    said = [one["says"] for one in said_of(checked)]
    assert any(one.startswith(f"{apron.id} turns away from chimney") for one in said)
    assert any("mm wanted: a leg or a fold of one of them is wrong" in one for one in said) and not any("inf" in one for one in said)
    (formed,) = forms_of(found, placed, sound, frozenset({apron.id})).values()
    assert not formed.changed and all(seat.ok for seat in formed.seats()) and not list(formed.joints())


@pytest.mark.parametrize(("x", "y"), [(0.0, 0.0), (-1500.0, 100.0), (900.0, -150.0)])
def test_what_stands_over_a_ridge_lies_on_both_faces(x, y):
    """The flats of both meet plumb over the ridge, not square to one of them: every piece lies on each face that it has a flange on."""
    roof = plan(gable("hall"), openings=[{"id": "flue", "kind": "chimney", "x": x, "y": y, "across": 600.0, "along": 600.0, "top": 9500.0}])
    found = derive(with_system(Job(name="over", roof=roof), "double seam 430 x 25"))
    own = {piece.pattern.id for piece in found.opening("flue").pieces}
    seats = [one for one in check_built(found, places_of(found)[0]).contacts if one.piece.partition("/")[0] in own]
    assert {one.on for one in seats} == {"hall.1", "hall.2", "flue"} and all(one.gap < 0.1 for one in seats)
    assert len({one.piece for one in seats if one.on == "hall.1"} & {one.piece for one in seats if one.on == "hall.2"}) >= 2


def test_panels_are_laid_anew_when_what_decides_them_changes():
    """They are kept with the roof: of the same roof with longer panels, another cricket or other seams none of the old ones are told."""
    roof = plan(gable("hall"), openings=[{"id": "flue", "kind": "chimney", "x": 500.0, "y": -1800.0, "across": 900.0, "along": 600.0, "top": 9500.0}])
    first = with_system(Job(name="kept", roof=roof), "double seam 430 x 25")

    def told(job):
        return {panel.id: panel.ring.round(3).tolist() for panel in laid_panels(derive(job), frozenset(("hall.2",)))}
    before = told(first)
    assert told(first.but(name="the same")) == before
    longer_ = first.but(faces=(FaceNote(face="hall.2", panels=first.panel_rule("hall.2").but(overhang=90.0)),))
    assert told(longer_) != before and told(first) == before
    assert all(told(with_system(first, one.name)) != before for one in library()[:3] if one.name != "double seam 430 x 25")
    bare = first.but(openings=(OpeningNote(of="flue", own=(("cricket", "none"),)),))
    assert told(bare) != before and told(first) == before


def test_panels_beside_a_turned_diverter_are_whole_where_a_neck_of_no_width_was_left():
    """What is cut out of a panel can leave two parts that hang together by less than a thousandth of a mm: the larger
    one stays, and it can be cut into triangles."""
    foot = 3199.8550421
    kept = shapely.Polygon([(8907.6, foot + 1e-7), (9100, foot + 1e-7), (9100, 3400), (9000, 3328.8), (8907.9, 3259.8),
                            (8907.6, 3259.8)])
    corners = [(8500.0, foot), (9000.0, foot), (9000.0, 4480.0), (8500.0, 4480.0)]
    ring = [a for a, *_ in clear_of([(a, b, "") for a, b in pairwise([*corners, corners[0]])], [kept], "cut")]
    assert shapely.Polygon(ring).area == pytest.approx(500 * (4480 - foot) - 92.4 * (60 + 129) / 2, rel=1e-3)
    assert triangles_of(ring)


@pytest.mark.parametrize(("pitch", "away"), [(35.0, 0.0), (58.0, 100.0), (58.0, -134.0), (65.0, 60.0)])
def test_a_chimney_over_a_steep_ridge_stands_higher_than_all_that_stands_at_it(pitch, away):
    """By hand: at 58° the roof rises 700 mm from the chimney's lowest corner to the ridge between its corners; the laps of its sides over
    the ridge are too small there to be asked what they lie on."""
    house = STARTS["gable"].blocks[0].but(pitch=pitch)
    stack = BoxOpening(id="stack", kind="chimney", x=1000.0, y=away, across=400.0, along=900.0)
    derived = derive(with_system(Job(name="steep", roof=RoofPlan(blocks=(house,), openings=(stack,))), "rib 35, pitch 207"))
    (body,) = bodies(derived)
    top = max(float(part.ring[:, 2].max()) for part in body.parts())
    ridge = max(edge.a[2] for edge in derived.roof.edges if edge.kind == "ridge")
    assert top == pytest.approx(ridge + 400.0)
    found = check_built(derived, places_of(derived)[0])
    assert [one.piece for one in found.contacts if not one.ok] == [] and not found.clashes
