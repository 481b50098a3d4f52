"""End caps: what closes a section is that section, inside or over it, left and right mirrored, in one piece or in two."""

from __future__ import annotations

import itertools
import random

import numpy as np
import pytest
import shapely

from samples import made, metal
from yattle.derive import derive
from yattle.derive.meetings import meetings
from yattle.derive.openings import with_end_caps
from yattle.details import develop
from yattle.details.boxes import EndCap
from yattle.details.forms import develop_form
from yattle.errors import InputError
from yattle.job import Job, demo_path, load
from yattle.job.model import OpeningNote
from yattle.roof import build
from yattle.roof.starts import STARTS
from yattle.section import folded_points

GUTTER = ((0.0, 0.0), (20.0, 0.0), (20.0, -85.0), (-100.0, -85.0), (-100.0, 25.0))


def cap(**more):
    return EndCap(**{"metal": metal(), "section": GUTTER} | more)


@pytest.mark.parametrize(("fit", "clearance"), itertools.product(("over", "inside"), (0.0, 1.0, 3.0)))
def test_its_bottom_is_the_section_grown_or_shrunk_by_the_clearance(fit, clearance):
    """Every corner of the bottom as far from the section's lines as there is room."""
    form = cap(fit=fit, clearance=clearance)
    bottom = shapely.Polygon(form.closes)
    section = shapely.Polygon(GUTTER)
    assert bottom.exterior.hausdorff_distance(section.exterior) < 3 * clearance + 1e-6
    wanted = section.area + (1 if fit == "over" else -1) * clearance * section.length
    assert bottom.area == pytest.approx(wanted, abs=4 * clearance ** 2 * len(GUTTER))
    assert (bottom.contains(section) if fit == "over" else section.contains(bottom)) or clearance == 0.0
    result = develop_form(form)
    assert result.max_gap < 1e-6 and len(result.pieces) == 1


def test_left_and_right_are_mirror_images_and_the_mouth_is_open():
    left, right = (develop_form(cap(hand=hand)).pieces[0] for hand in ("left", "right"))
    assert left.pattern.name == "end cap, left" and right.pattern.name == "end cap, right"
    assert left.pattern.area == pytest.approx(right.pattern.area) and left.pattern.length == pytest.approx(right.pattern.length)
    faces = [sorted(sorted((round(sign * x, 4) + 0.0, round(y, 4), round(z, 4)) for x, y, z in face.corners) for face in piece.surface.faces
                    if not face.name.endswith("tab")) for piece, sign in ((left, -1), (right, 1))]
    assert faces[0] == faces[1]
    sides = [face for face in left.surface.faces if face.name.startswith("side")]
    assert len(sides) == len(GUTTER) - 2, "none at the line from raw edge to raw edge, nor at the lip beside its inner corner"
    closed = develop_form(cap(closing="closed")).pieces[0]
    assert sum(face.name.startswith("side") for face in closed.surface.faces) == len(GUTTER) - 1


def test_a_two_sloped_peak_is_the_section_and_its_mirror_image():
    form = cap(section=((0.0, 0.0), (0.0, 60.0), (100.0, 100.0)), slopes="two", clearance=0.0)
    points = {(round(x), round(y)) for x, y in form.closes}
    assert points == {(0, 0), (0, 60), (100, 100), (200, 60), (200, 0)}
    assert develop_form(form).max_gap < 1e-6


def test_in_two_parts_along_the_shortest_seam():
    """Over a section of 120 by 85 and more the shortest line within it from corner to corner."""
    form = cap(parts="two", clearance=0.0)
    result = develop_form(form)
    assert len(result.pieces) == 2 and result.max_gap < 1e-6
    ring, shape = form.closes, shapely.Polygon(form.closes).buffer(1e-6)
    seams = [np.hypot(*np.subtract(ring[i], ring[j])) for i in range(len(ring)) for j in range(i + 2, len(ring))
             if (i, j) != (0, len(ring) - 1) and shape.contains(shapely.LineString((ring[i], ring[j])))
             and 0.2 < shapely.Polygon(ring[i:j + 1]).area / shape.area < 0.8]
    bottoms = [shapely.Polygon([p[:2] for p in face.corners]) for piece in result.pieces for face in piece.surface.faces if face.name == "bottom"]
    whole, lap = shapely.Polygon(ring), bottoms[0].intersection(bottoms[1])
    assert bottoms[0].union(bottoms[1]).area == pytest.approx(whole.area, rel=1e-6)
    assert 15.0 * (min(seams) - 15.0 * 3) < lap.area < 15.0 * (min(seams) - 15.0) + 0.01, "a lap of 15 along it, its ends cut back"


def test_what_closes_nothing_is_told():
    with pytest.raises(InputError, match="section"):
        cap(section=((0.0, 0.0), (50.0, 0.0), (100.0, 0.0))).surfaces()


@pytest.mark.parametrize("name", ["box-gutter", "round-gutter", "ridge-cap", "rake", "coping"])
@pytest.mark.parametrize("hand", ["left", "right"])
def test_caps_of_the_trims_own_sections_fold_up(name, hand):
    from yattle.details import FAMILIES
    if name not in FAMILIES:
        name = next(one for one, family in FAMILIES.items() if "ridge" in family.kinds)
    trim = develop(made(name))
    corners = folded_points(trim.profile, trim.heading - (trim.profile.hem_a.turn if trim.profile.hem_a else 0.0))
    own = corners[1 if trim.profile.hem_a else 0:len(corners) - (1 if trim.profile.hem_b else 0)]
    assert develop_form(cap(section=tuple(map(tuple, own.tolist())), hand=hand, tab=8.0)).max_gap < 0.01


def test_the_caps_of_a_run_follow_its_section():
    job, first = with_end_caps(load(demo_path("net-shed")), "R1")
    derived = derive(job)
    left = derived.opening(first)
    assert left.title == f"{first}, closes R1" and not left.findings and left.pieces[0].pattern.name == "end cap, left"
    wider = derive(job.but(own=job.own.but(ridge_wing=220.0))).opening(first)
    assert wider.pieces[0].pattern.length > left.pieces[0].pattern.length + 50.0
    gone = derive(job.but(openings=tuple(note.but(own=(("closes", "Q9"), ("hand", "left"), ("made", "end-cap"))) for note in job.openings)))
    assert gone.opening(first).findings[0].says().startswith("closes: found Q9")


@pytest.mark.parametrize("seed", range(20))
def test_random_convex_sections_are_closed(seed):
    draw = random.Random(seed)
    turns = sorted(draw.uniform(0, 6.28) for _ in range(draw.randint(4, 9)))
    ring = [(draw.uniform(80, 90) * np.cos(t), draw.uniform(80, 90) * np.sin(t)) for t in turns]
    ring = [(float(x), float(y)) for x, y in shapely.get_coordinates(shapely.MultiPoint(ring).convex_hull)[:-1]]
    result = develop_form(cap(section=tuple(ring), fit=draw.choice(["over", "inside"]), tab=draw.choice([0.0, 6.0]), closing="closed"))
    assert result.max_gap < 0.01


def test_boxes_at_corners_are_measured_from_what_meets_there():
    """A gable of 35° with 300 of eave and 250 of rake overhang: at every eave corner a box 300 wide and 250 deep, as high as the
    rake's face of 120 and 300 · tan 35° more inward; two left and two right ones, mirror images; at the peaks both slopes."""
    job = Job(name="hall", roof=STARTS["gable"])
    places = [place for place in meetings(build(job.roof)) if "box" in place.made]
    job = job.but(openings=tuple(OpeningNote(of=place.id, own=(("made", "box"),)) for place in places))
    derived = derive(job)
    made = [derived.opening(place.id) for place in places]
    assert not any(one.findings for one in made) and all(one.result.max_gap < 1e-6 for one in made)
    corners = [one for one in made if one.kind == "eave · rake"]
    assert sorted(one.form.hand for one in corners) == ["left", "left", "right", "right"]
    for one in corners:
        high = [y for x, y in one.form.closes if y > 1.0]
        assert sorted(high) == pytest.approx([120.0, 120.0 + 300 * np.tan(np.radians(35))]) and one.form.depth == 250.0
        inner = max(one.form.closes, key=lambda p: p[1])[0]
        assert inner == pytest.approx(300.0 if one.form.hand == "right" else 0.0)
    peaks = [one for one in made if one.kind.count("rake") == 2]
    assert len(peaks) == 2
    for one in peaks:
        drop = 150 * np.tan(np.radians(35))
        wanted = [(-150.0, -drop - 120), (150.0, -drop - 120), (150.0, -drop), (0.0, 0.0), (-150.0, -drop)]
        assert np.allclose(sorted(one.form.closes), sorted(wanted))
