"""What stands in a face, of any size at any place of any roof: panels cut round it where it stands, its pieces silent in the check,
and told where they come too close to an edge."""

from __future__ import annotations

import math
import random

import numpy as np
import pytest
import shapely

from plans import gable, plan
from yattle.built.bodies import bodies
from yattle.built.checked import check_built
from yattle.built.frames import face_axes
from yattle.built.laid import laid_panels
from yattle.built.placed import places_of
from yattle.built.said import said_of
from yattle.built.structure import BuildingPart
from yattle.derive import derive
from yattle.derive.cut_round import cut_round
from yattle.derive.near_edges import moved_off
from yattle.derive.raised import built_up
from yattle.details.chimney import PANELS_ABOVE
from yattle.job import Job
from yattle.job.panel_systems import with_system
from yattle.panels import library
from yattle.roof.openings import outline
from yattle.roof.panels import face_frame

FITS = ("bears", "cover", "hook", "clash", "slot", "water", "open")
SYSTEMS = sorted(system.name for system in library())
SHOP = "double seam 530 x 25"


def tan(pitch):
    return math.tan(math.radians(pitch))


def house(opening, system=SHOP, pitch=30.0, bearing=0.0):
    turn = math.radians(bearing)
    x, y = opening["x"], opening["y"]
    placed = opening | {"x": x * math.cos(turn) - y * math.sin(turn), "y": x * math.sin(turn) + y * math.cos(turn)}
    placed |= {"bearing": bearing} if opening["kind"] != "pipe" else {}
    blocks = gable("main", length=10000.0, span=8000.0, eave=4500.0, pitch=pitch, rake_overhang=200.0, bearing=bearing)
    job = with_system(Job(name="house", roof=plan(blocks, openings=[placed])), system)
    return job.but(rules=job.rules.but(max_crosscut=9000.0))


def chimney(x=300.0, y=-2000.0, across=500.0, along=610.0):
    return {"id": "flue", "kind": "chimney", "x": x, "y": y, "across": across, "along": along, "top": 9900.0}


def curb(pitch, x=300.0, y=-2000.0, across=610.0, along=500.0):
    return {"id": "fan", "kind": "curb", "x": x, "y": y, "across": across, "along": along,
            "top": 4800.0 + (4000.0 - abs(y) + along / 2) * tan(pitch)}


def troubles(derived):
    return [said["says"] for said in said_of(check_built(derived, places_of(derived)[0])) if said["row"] in FITS]


def any_opening(seed):
    rng = random.Random(f"stands {seed}")
    pitch, bearing, system = float(rng.choice([6, 12, 22, 35, 50])), rng.choice([0.0, 217.0]), rng.choice(SYSTEMS)
    at = {"x": rng.uniform(-3000, 3000), "y": rng.choice([-1, 1]) * rng.uniform(1300, 2900)}
    kind = rng.choice(["pipe", "curb", "chimney"])
    if kind == "pipe":
        return house({"id": "vent", "kind": "pipe", "diameter": rng.choice([60.0, 110.0, 160.0]), **at}, system, pitch, bearing)
    sizes = {"across": rng.choice([300.0, 470.0, 530.0, 780.0, 900.0, 1200.0]), "along": rng.choice([400.0, 610.0, 900.0])}
    return house(chimney(**at, **sizes) if kind == "chimney" else curb(pitch, **at, **sizes), system, pitch, bearing)


@pytest.mark.parametrize("seed", range(40))
def test_whatever_stands_in_a_face_is_silent_or_told_to_be_too_close_and_silent_once_moved(seed):
    derived = derive(any_opening(seed))
    assert not [said.says() for _, said in derived.findings if said.level == "stop"]
    moved = moved_off(derived)
    if moved is not None:
        assert any(" ends " in said.text for _, said in derived.findings)
        derived = derive(derived.job.but(roof=moved))
        assert moved_off(derived) is None
    assert troubles(derived) == []


@pytest.mark.parametrize("system", [SHOP, "snap seam 300 x 38", "sandwich 1000, core 80", "rib 35, pitch 207"])
@pytest.mark.parametrize("pitch", [12.0, 45.0])
def test_a_chimney_is_built_where_it_is_surveyed_and_panels_begin_behind_it(system, pitch):
    """It stands plumb, so at the flats where it stands on the plane: in plan. On the slope the panels below end at its foot there, h · tan p
    further up than on the plane, and those above begin 60 and what their seams lean behind its back."""
    derived = derive(house(chimney(), system, pitch))
    own, build = derived.roof.openings[0], built_up(derived.job, "main.1")
    face = own.facets[0]
    sides = [part for body in bodies(derived) for part in body.parts()]
    assert len(sides) == 4 and all(isinstance(side, BuildingPart) for side in sides)
    foot = np.array(outline(own.opening))
    for side in sides:
        assert min(np.abs(np.linalg.norm(foot - corner[:2], axis=1)).min() for corner in side.ring) < 1e-6
    frame, axes = face_frame(derived.roof.facet(face)), face_axes(derived, derived.roof.facet(face))
    low, high = (pick(frame.at(corner)[1] for corner in foot) for pick in (min, max))
    leans, behind = build.flat * tan(pitch), PANELS_ABOVE + (build.seams - build.flat) * tan(pitch)
    middle = frame.at((own.opening.x, own.opening.y))[0]
    heights = [up for panel in laid_panels(derived, frozenset([face])) for line in [shapely.LineString([(middle, -900), (middle, 9000)])]
               for up in [shapely.intersection(shapely.Polygon(((panel.ring - axes.at) @ axes.turn)[:, :2]), line).bounds] if up]
    assert max(top for *_, top in heights if top < high) == pytest.approx(low + leans, abs=0.01)
    assert min(bottom for _, bottom, *_ in heights if bottom > low + leans + 1) == pytest.approx(high + leans + behind, abs=0.01)


@pytest.mark.parametrize("kind", ["chimney", "curb"])
def test_pans_are_cut_round_a_cricket_and_a_diverter_as_the_panels_are(kind):
    wide = chimney(across=1000.0) if kind == "chimney" else curb(30.0, across=1000.0)
    derived = derive(house(wide))
    face = derived.roof.openings[0].facets[0]
    behind = cut_round(derived.job, face)
    assert behind.area > 0.05e6, "it stands over so much, mm²"
    pans = next(one for one in derived.openings if one.id == f"pans {face}")
    left = {panel.n: panel.left for panel in derived.panels[face].panels}
    for shape, numbers, place in zip(pans.form.shapes, pans.form.numbers, pans.form.places, strict=True):
        for n in numbers:
            floor = shapely.Polygon([(x + left[n], y + place[1]) for x, y in shape.floor])
            assert shapely.intersection(floor, behind).area < 60.0
    assert troubles(derived) == []


def test_a_curb_within_one_panel_of_a_turned_house_leaves_a_hole_open_at_its_head():
    """A panel of 1,000 with a curb of 610 in its middle; turned, so that corners are off by rounding. The lower panel has two legs."""
    for bearing in (0.0, 30.0, 217.0, 330.0):
        derived = derive(house(curb(20.0), "sandwich 1000, core 80", 20.0, bearing))
        face = derived.roof.openings[0].facets[0]
        panels = [shapely.Polygon(panel.outline) for panel in derived.panels[face].panels]
        whole = face_frame(derived.roof.facet(face)).shape.area
        taken = 610.0 * (500.0 / math.cos(math.radians(20.0)) + 60.0)
        assert sum(panel.area for panel in panels) == pytest.approx(whole - taken, rel=1e-5)


def test_a_cricket_that_comes_past_the_ridge_is_told_by_hand():
    """A chimney 1,000 across whose back is 400 from the ridge in plan at 30°: its cricket, as steep as the roof, goes 500 back in plan
    and its flange on; so far past the ridge, and so far it is to be moved."""
    derived = derive(house(chimney(y=-705.0, across=1000.0, along=610.0)))
    said = next(said for name, said in derived.findings if name == "flue" and " past " in said.text)
    form = derived.opening("flue").form
    assert "cricket" in said.text and "R1" in said.text
    reach = form.behind.reach
    assert said.lengths[0] > (reach - 400.0) / math.cos(math.radians(30.0)) - 1
    moved = moved_off(derived)
    assert moved is not None and moved.openings[0].y < -705.0 and moved.openings[0].x == pytest.approx(300.0)
    assert moved_off(derive(derived.job.but(roof=moved))) is None
    assert troubles(derive(derived.job.but(roof=moved))) == []


@pytest.mark.parametrize("across", [300.0, 470.0, 500.0, 530.0, 900.0, 1060.0])
def test_no_seam_comes_to_the_side_of_what_stands_there_where_another_start_keeps_it_off(across):
    """Panels of 530: what is hardly narrower than one, or a whole multiple of them, has a seam run in rather than one at each side."""
    derived = derive(house(curb(30.0, across=across)))
    face = derived.roof.openings[0].facets[0]
    frame = face_frame(derived.roof.facet(face))
    sides = [pick(frame.at(corner)[0] for corner in outline(derived.roof.openings[0].opening)) for pick in (min, max)]
    off = min(abs(seam - side) for seam in derived.panels[face].seams for side in sides)
    assert off > 15.0, "a lock has room beside it, and the flange lies on the flat"


def test_what_closes_a_seam_goes_over_its_lock_which_lies_to_one_side():
    derived = derive(house(curb(30.0, across=900.0)))
    form = derived.opening("fan").form
    assert form.seams and form.seam_aside == pytest.approx(5.0) and form.seam_width >= 10.0
    cap = next(piece for piece in derived.opening("fan").pieces if piece.surface.name.startswith("seam cap"))
    xs = [x for face in cap.surface.faces if face.name == "top" for x, *_ in face.corners]
    seam = form.seams[0] - form.across / 2
    assert min(xs) < seam - 0.5 and max(xs) > seam + 10.5
