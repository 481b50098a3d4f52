"""Runs that meet a like run at a corner are cut by the plane between them, and fit there in space."""

from __future__ import annotations

import numpy as np
import pytest
import shapely

from yattle.derive import derive
from yattle.derive.corners import crease_frame, outward, run_frame
from yattle.derive.roof_runs import roof_runs
from yattle.details.run_ends import plane_offsets, section_corners
from yattle.job import Job
from yattle.job.panel_systems import with_system
from yattle.roof.starts import STARTS, with_part
from yattle.section import folded_points


def job_with(plan):
    return Job(name="corners", roof=plan)


def left_and_right(roof, edge):
    """The faces of a crease by what really lies 5 mm beside it."""
    middle = (np.array(edge.a) + edge.b) / 2
    left = np.array([-(edge.b[1] - edge.a[1]), edge.b[0] - edge.a[0]]) / np.hypot(*np.subtract(edge.b, edge.a)[:2])
    found = []
    for at in (middle[:2] + 5 * left, middle[:2] - 5 * left):  # the roof that is seen, where one goes on under another
        here = [roof.facet(f) for f in edge.facets if roof.facet(f).shape.covers(shapely.Point(at))]
        found.append(max(here, key=lambda f: f.plane.z(at)).id)
    return found


def end_in_space(job, found, side):
    """The mould lines' ends of a run's cut end, in the roof's own space, shape (n, 3)."""
    derived = next(d for d in derive(job).runs if d.run.id == found.run.id)
    roof = derive(job).roof
    left, right, frame = run_frame(roof, found.edge)
    detail, profile = derived.detail, derived.detail.profile
    plane = getattr(found.run, f"{side}_plane")
    start = detail.heading - (profile.hem_a.turn if profile.hem_a else 0.0)
    corners = folded_points(profile, start)
    corners = corners - corners[1 + bool(profile.hem_a)]
    offsets = np.array(plane_offsets(profile, detail.heading, 1, plane))
    return (right if side == "right" else left) + np.column_stack((offsets, corners)) @ frame


@pytest.mark.parametrize(("start", "kind"), [("hip", "eave"), ("gable", "rake"), ("gable with a wing", "rake")])
def test_both_runs_end_in_one_line(start, kind):
    job = job_with(STARTS[start])
    cut = [(r, side) for r in roof_runs(job) if r.edge.kind == kind for side in ("left", "right")
           if getattr(r.run, f"{side}_plane") is not None]
    assert len(cut) == {"hip": 8, "gable": 4, "gable with a wing": 6}[start]
    ends = [end_in_space(job, found, side) for found, side in cut]
    for n, one in enumerate(ends):
        gaps = [np.abs(one - other).max() for m, other in enumerate(ends) if m != n]
        assert min(gaps) < 0.01, "another run's end fits this one, corner for corner"


def test_proven_with_their_cuts():
    derived = derive(job_with(STARTS["hip"]))
    assert all(p.proof.max_gap < 1e-6 for p in derived.pieces) and not derived.misfits
    assert all(p.hand != "middle" for d in derived.runs if d.run.kind == "eave" for p in (d.pieces[0], d.pieces[-1]))


@pytest.mark.parametrize("pitch", [20.0, 35.0, 42.0, 55.0])
def test_wings_lie_on_both_planes_whatever_the_pitches(pitch):
    """Valleys, hips and ridges of unequal pitches: each wing square to its plane's normal, in the roof's own space."""
    for plan in (with_part(STARTS["gable with a wing"], "wing", pitch=pitch), with_part(STARTS["hip"], "main", pitch_ends=pitch)):
        job = job_with(plan)
        derived = derive(job)
        for found in roof_runs(job):
            if found.edge.kind in ("valley", "hip", "ridge"):
                detail = next(d.detail for d in derived.runs if d.run.id == found.run.id)
                frame, turns = crease_frame(found.edge), detail.profile.turns
                for facet, heading in zip(left_and_right(derived.roof, found.edge), (detail.heading, detail.heading + sum(turns)), strict=True):
                    way = np.array([0.0, np.cos(np.radians(heading)), np.sin(np.radians(heading))]) @ frame
                    assert abs(way @ np.array(derived.roof.facet(facet).plane.normal)) < 1e-9


def test_of_unlike_pitches_the_higher_eave_is_cut_along_the_face_that_it_comes_out_over():
    """The steep ends' eaves lie lower: the others end where the hip comes out over them, their flanges upright over it, what hangs
    square; the lower ones' flanges end before the hip beside them."""
    job = job_with(with_part(STARTS["hip"], "main", pitch_ends=50.0))
    roof, cut = derive(job).roof, [r for r in roof_runs(job) if r.run.kind == "eave" and (r.run.left_plane or r.run.right_plane)]
    high = max(r.edge.a[2] for r in cut)
    assert len(cut) == 4 and [r.edge.a[2] == high for r in cut].count(True) == 2
    for found in cut:
        frame = run_frame(roof, found.edge)[2]
        ways = [np.array(hip.b) - hip.a for hip in roof.edges_of(found.edge.facets[0]) if hip.kind == "hip"]
        for flange, hangs in ((found.run.left_plane, found.run.left_plane_b), (found.run.right_plane, found.run.right_plane_b)):
            normal = np.array(flange) @ frame
            assert abs(normal[2]) < 1e-9 and np.allclose(np.abs(hangs), (1.0, 0.0, 0.0))
            if found.edge.a[2] == high:
                assert min(abs(float(normal[:2] @ way[:2])) / np.linalg.norm(way[:2]) for way in ways) < 1e-9


@pytest.mark.parametrize(("main", "wing", "cut"), [(25.0, 12.0, "wing"), (12.0, 25.0, "main")])
def test_where_eaves_cross_the_higher_one_is_cut_along_the_lower_face(main, wing, cut):
    """Of a wing with another pitch one eave line lies higher: its hanging face is cut along the face that goes on beneath, as high as
    its seams stand."""
    job = with_system(job_with(with_part(with_part(STARTS["gable with a wing"], "main", pitch=main), "wing", pitch=wing)),
                      "double seam 430 x 25")
    roof, found = derive(job).roof, 0
    for run in (r for r in roof_runs(job) if r.edge.kind == "eave" and r.edge.facets[0].startswith(cut)):
        frame = run_frame(roof, run.edge)[2]
        for plane, reach in ((run.run.left_plane, run.run.reaches[0]), (run.run.right_plane, run.run.reaches[2])):
            if plane is not None:
                below = next(facet for facet in roof.facets if np.allclose(np.abs(frame @ np.array(facet.plane.normal)), np.abs(plane)))
                assert not below.id.startswith(cut) and abs(reach) > 20.0, "not at its corner: the seams lie under it"
                found += 1
    assert found == 2


def test_a_free_end_stays_as_it_was():
    runs = {r.edge.kind: r.run for r in roof_runs(job_with(STARTS["single slope"]))}
    assert runs["eave"].left_plane is None and runs["eave"].left == "wrap" and runs["half-ridge"].left_plane is None


@pytest.mark.parametrize(("start", "kind"), [("gable with a wing", "valley"), ("hip", "hip")])
def test_the_foot_ends_over_both_eaves(start, kind):
    """Every mould line of a valley's or hip's lower end stands upright over the eave of the face it lies on."""
    job = job_with(STARTS[start])
    roof, count = derive(job).roof, 0
    for found in (r for r in roof_runs(job) if r.edge.kind == kind):
        edge, run = found.edge, found.run
        derived = next(d for d in derive(job).runs if d.run.id == run.id)
        detail, sheet_datum = derived.detail, 2 if kind == "valley" else 1
        along = (np.array(edge.b) - edge.a) / edge.length
        across = np.array([along[1], -along[0], 0.0]) / np.hypot(along[0], along[1])
        frame = np.array([along, across, np.cross(across, along)])
        corners = section_corners(detail.profile, detail.heading, sheet_datum, kind == "valley")
        middle = sheet_datum + bool(detail.profile.hem_a)
        sides = [np.array(plane_offsets(detail.profile, detail.heading, sheet_datum, plane, kind == "valley")) - reach
                 for plane, reach in zip((run.left_plane, run.left_plane_b or run.left_plane), run.reaches, strict=False)]
        offsets = np.where(np.arange(len(corners)) > middle, sides[1], sides[0])
        places = np.array(edge.a) + np.column_stack((offsets, corners)) @ frame
        for k, place in enumerate(places):
            facet = left_and_right(roof, edge)[int(k > middle)]
            eave = next(e for e in roof.edges_of(facet) if e.kind == "eave" and min(
                np.linalg.norm(np.array(end) - edge.a) for end in (e.a, e.b)) < 2)
            if k != middle or kind == "hip":
                over = 40 * roof.facet(facet).plane.normal[2]  # as far as the panels go past it
                assert (place - eave.a) @ outward(roof, eave) == pytest.approx(over, abs=1e-6)
                count += 1
        assert derived.detail.max_gap < 1e-6 and derived.pieces[0].ends[0].kind == "cut"
    assert count >= 10
