"""Pieces of corners and ends at their places: held against the edges, planes and sections they close."""

from __future__ import annotations

import numpy as np
import pytest

from plans import gable, hip, plan
from yattle.built.checked import check_built, check_standing
from yattle.built.placed import WithoutPlace, places_of
from yattle.built.standing import stand_all
from yattle.derive import derive
from yattle.derive.corners import run_frame
from yattle.derive.lift import lift_of, mould_lines, trim_of
from yattle.derive.meetings import meetings
from yattle.derive.openings import with_end_caps
from yattle.job import Job, demo_path, load
from yattle.job.panel_systems import with_system

UP = np.array([0.0, 0.0, 1.0])


def chosen(job, meeting, made):
    note = job.opening_note(meeting.id)
    return job.but(openings=(note.but(own=(("made", made),)),))


def standing_of(job, name, clear=True):
    """The job worked out, and the pieces of one opening as they stand, ``clear`` of everything else."""
    found = derive(job)
    placed, _ = places_of(found)
    standing = stand_all(found.patterns, placed)
    own = {piece.pattern.id for piece in found.opening(name).pieces}
    if clear:
        assert not [one for one in check_standing(found, placed, standing).clashes if {one.a, one.b} & own]
    return found, [one for one in standing.values() if one.pattern in own]


@pytest.mark.parametrize("end", [0, 1])
def test_a_box_at_a_peak_has_its_tops_in_both_slopes(end):
    """With 20° and 45° the box of one gable is not that of the other turned: its sides follow the slopes they lie under."""
    job = Job(name="peak", roof=plan(gable("hall", pitch=20.0, pitch_right=45.0, rake_overhang=250.0)))
    peak = [one for one in meetings(derive(job).roof) if one.kinds.count("rake") == 2][end]
    found, (box,) = standing_of(chosen(job, peak, "box"), peak.id)
    outward = np.array(peak.at) - (np.array(peak.edges[0].a) + peak.edges[0].b) / 2
    outward /= np.linalg.norm(outward)
    assert max(float(square @ outward) for square in box.normals) == pytest.approx(1.0), "its bottom looks out of the gable"
    for face in peak.edges[0].facets:
        plane = found.roof.facet(face).plane
        square, at = np.array(plane.normal), np.array(plane.at((0.0, 0.0)))
        tops = [part for part, own in zip(box.parts, box.normals, strict=True) if float(own @ square) > 0.9999]
        assert tops and min(np.abs((part - at) @ square).max() for part in tops) < 0.1


@pytest.mark.parametrize("made", [hip("hall"), [gable("hall"), gable("wing", x=1000.0, y=-3500.0, bearing=90.0, length=6000.0, span=4000.0)]],
                         ids=["outer", "inner"])
def test_a_gutters_corner_hangs_with_its_back_along_both_eaves(made):
    job = Job(name="gutter", roof=plan(*(made if isinstance(made, list) else [made])))
    corners = [one for one in meetings(derive(job).roof) if "gutter-corner" in one.made]
    assert len(corners) >= 2
    for corner in corners:
        _, arms = standing_of(chosen(job, corner, "gutter-corner"), corner.id)
        assert len(arms) == 2
        for arm in arms:
            eaves = [(np.array(edge.a), (np.array(edge.b) - edge.a) / np.linalg.norm(np.array(edge.b) - edge.a))
                     for edge in corner.edges if edge.kind == "eave"]
            a, way = max(eaves, key=lambda eave: abs(float(arm.way @ eave[1])))
            every = np.concatenate(arm.parts)
            off = np.linalg.norm(np.cross(every - a, way), axis=1)
            on_line = every[off < 0.1]
            assert len(on_line) >= 2 and np.ptp(on_line @ way) > 200.0, "the upper edge of its back"
            assert every[:, 2].max() < a[2] + 0.1, "all of it hangs below the eave"


def test_a_tray_lies_on_the_flats_with_its_turn_up_at_the_wall():
    job = load(demo_path("sail-loft"))
    for corner in (one for one in meetings(derive(job).roof) if "tray" in one.made):
        found, (tray,) = standing_of(chosen(job, corner, "tray"), corner.id, clear=False)  # its legs stand where zeds do
        head = next(edge for edge in corner.edges if edge.kind == "headwall")
        every, wall = np.concatenate(tray.parts), np.array(head.a)
        along = (np.array(head.b) - head.a) / np.linalg.norm(np.array(head.b) - head.a)
        ups = [part for part, own in zip(tray.parts, tray.normals, strict=True) if abs(own[2]) < 0.01 and abs(float(own @ along)) < 0.01]
        assert ups and all(np.ptp(part @ np.cross(along, UP)) < 0.5 for part in ups)
        shares = (every - wall) @ along / np.linalg.norm(np.array(head.b) - head.a)
        assert shares.min() > -0.01 and shares.max() < 1.01, "below its own wall"
        assert found.panels


@pytest.mark.parametrize("run_id", ["R1", "E1", "G1"])
def test_caps_close_the_ends_of_the_run_they_are_made_for(run_id):
    """Each bottom lies in the plane of its end, looks away from the run, within the section's mould lines and its clearance."""
    job = with_system(Job(name="caps", roof=plan(gable("hall"))), "double seam 430 x 25")
    job, first = with_end_caps(job, run_id)
    found = derive(job)
    placed, missing = places_of(found)
    standing = stand_all(found.patterns, placed)
    run, edge = found.run(run_id), found.edge_runs[run_id].edge
    left, right, axes = run_frame(found.roof, edge)
    caps = [one for one in found.openings if one.form is not None and getattr(one.form, "detail", "") == "end-cap"]
    assert len(caps) == 2 and caps[0].id == first and not missing
    trim = trim_of(found, run)
    made = next(one for one in found.runs if one.run.id == run_id)
    lines = mould_lines(trim, made.pieces[0]) + lift_of(found, made)
    for cap, end, way in ((caps[0], left, -axes[0]), (caps[1], right, axes[0])):
        (one,) = (standing[piece.pattern.id] for piece in cap.pieces)
        bottoms = [part for part, square in zip(one.parts, one.normals, strict=True) if float(square @ way) > 0.9999]
        assert bottoms
        own = (np.concatenate(bottoms) - end) @ axes.T
        assert np.abs(own[:, 0]).max() < 0.1, "in the plane of its end"
        low, high = lines.min(axis=0) - 1.5, lines.max(axis=0) + 1.5
        assert (own[:, 1:] > low).all() and (own[:, 1:] < high).all()


def test_what_has_no_place_says_why():
    job = Job(name="pans", roof=plan(hip("hall")))
    corner = next(one for one in meetings(derive(job).roof) if "three-pans" in one.made)
    missing = places_of(derive(chosen(job, corner, "three-pans")))[1]
    assert missing and all(isinstance(one, WithoutPlace) and "chosen on the roof" in one.why for one in missing)


def test_a_dormer_s_ridge_parted_by_a_seam_lies_on_its_faces_with_both_pieces():
    """At 50° on both sides it is made in two; the lap of one along the ridge, 20 wide, is no seat of that piece."""
    wing = gable("wing", y=-4000.0, bearing=90.0, length=6000.0, span=3600.0, pitch=50.0, rake_overhang=0.0)
    derived = derive(with_system(Job(name="steep", roof=plan(gable("main", pitch=50.0, rake_overhang=0.0), wing)), "single seam 475 x 38"))
    cap = next(one for one in derived.openings if one.detail == "dormer-ridge")
    names = {piece.pattern.id for piece in cap.pieces}
    found = [one for one in check_built(derived, places_of(derived)[0]).contacts if one.piece in names]
    assert len(names) == 2 and found and all(one.ok for one in found)
