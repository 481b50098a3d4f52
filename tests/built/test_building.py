"""What the roof stands on and what stands on it: boards, ribs of bought panels, valleys' ribs laid flat under their caps."""

from __future__ import annotations

import json
from dataclasses import replace

import numpy as np
import pytest
import shapely
from test_checked import derived_of, standing_of

from yattle.built.checked import check_built, check_standing
from yattle.built.dressed import stiff
from yattle.built.laid import laid_panels
from yattle.built.placed import places_of
from yattle.built.standing import stand, stand_all
from yattle.built.structure import boards, structure
from yattle.derive import derive
from yattle.derive.corners import run_frame
from yattle.job import Job, demo_path, load
from yattle.job.panel_systems import with_system
from yattle.panels import derive_profile, find
from yattle.roof import RoofPlan
from yattle.roof.starts import STARTS


def pitched(start, system, *pitches):
    plan = json.loads(STARTS[start].model_dump_json())
    for block, pitch in zip(plan["blocks"], pitches, strict=True):
        block["pitch"] = pitch
    return derive(with_system(Job(name="x", roof=RoofPlan.model_validate_json(json.dumps(plan))), system))


@pytest.mark.parametrize("name", ["sail-loft", "hip", "gable with a lean-to"])
def test_a_board_hangs_plumb_under_every_eave_and_rake(name):
    derived = derived_of(name)
    found = {one.id: one for one in boards(derived)}
    edges = [one.edge for run in derived.runs if run.pieces and (one := derived.edge_runs.get(run.run.id)) is not None
             and one.edge.kind in ("eave", "rake") and not one.edge.wall]
    assert len(found) == len(edges) and found.keys() <= {one.id for one in structure(derived)}
    for run in (run for run in derived.runs if f"board {run.run.id}" in found):
        edge = derived.edge_runs[run.run.id].edge
        left, right, frame = run_frame(derived.roof, edge)
        ring = found[f"board {run.run.id}"].ring
        assert np.abs((ring - left) @ np.cross(frame[0], [0.0, 0.0, 1.0])).max() < 1e-6, "in the plane of its edge"
        assert 0.0 <= (left[2] + (right - left)[2] - ring[:, 2]).max() <= abs((right - left)[2]) + 150.0 + 1e-6


def test_a_board_ends_over_the_roof_it_comes_down_to():
    """A wing's rake meets the main roof: no board goes through what lies there."""
    derived = derived_of("gable with a wing")
    for board in boards(derived):
        own = derived.edge_runs[board.id.removeprefix("board ")].edge.facets
        for facet in (one for one in derived.roof.facets if one.id not in own):
            inside = [place for place in board.ring if facet.shape.contains(shapely.Point(place[:2]))]
            assert all(place[2] - facet.plane.z((place[0], place[1])) > -1.0 or place[2] < facet.plane.z((place[0], place[1])) - 160.0
                       for place in inside)


def test_ribs_stand_within_a_bought_panel_where_its_profile_has_them():
    """One rib less within than a module has: the last one is the seam that is lapped."""
    system = next(s for s in (find("rib 45, pitch 333", ()), find("rib 18, pitch 76", ())) if len(derive_profile(s).ribs) > 1)
    derived = derive(with_system(Job(name="x", roof=STARTS["gable"]), system.name))
    figures = derive_profile(system)
    panels = [panel for panel in laid_panels(derived) if panel.n == 3]
    assert panels
    for panel in panels:
        across = np.array([1.0, 0.0, 0.0])
        at = sorted(round(float(seam[0] @ across), 1) for seam in panel.seams)
        steps = np.diff(at)
        assert len(at) == len(figures.ribs) + 1 and np.allclose(steps, figures.rib_pitch, atol=0.6)
        for seam in panel.seams:
            foot, top = seam[:2].mean(axis=0), seam[2:].mean(axis=0)
            assert np.linalg.norm(top - foot) == pytest.approx(figures.height, abs=0.1)


@pytest.mark.parametrize("pitches", [(25.0, 60.0), (12.0, 38.0)])
def test_caps_end_at_valleys_beside_a_wall_and_ribs_lie_flat_beneath_them(pitches):
    """A wing higher than the main roof: the main ridge ends between two valleys where the wing's back wall begins."""
    derived = pitched("gable with a wing", "double seam 530 x 32", *pitches)
    found = check_built(derived, places_of(derived)[0])
    assert not [clash for clash in found.clashes if clash.a[0] + clash.b[0] in ("RV", "VR", "GV", "VG")]
    assert not found.leaks


def test_a_rib_keeps_its_height_where_nothing_lies_over_it():
    derived, standing = derived_of("gable with a wing"), standing_of("gable with a wing")
    hard = {one.name: one for one in stiff(derived, standing)}
    run = next(run for run in derived.runs if run.run.kind == "valley" and len(run.pieces) > 1)
    first, last = (run.pieces[n].id for n in (0, -1))
    assert len(hard[first].parts) == len(standing[first].parts)
    assert len(hard[last].parts) > len(standing[last].parts), "the rib's upper end is laid down as a part of its own"


def test_every_shingle_lies_in_its_course_and_locks_into_its_neighbours():
    """Floors go one lock's width over each other, to the right and up the face; every other course begins half a shingle further."""
    derived = derive(with_system(Job(name="x", roof=STARTS["gable"]), "shingle 600 x 300"))
    placed, missing = places_of(derived)
    assert not missing
    pattern = next(one for one in derived.patterns if one.id == "main.1-1")
    mine = [one for one in placed if one.pattern == pattern.id]
    assert [one.copy for one in mine] == list(range(1, pattern.qty + 1))
    corners = np.array([stand(pattern, one).parts[0].min(axis=0) for one in mine])
    rows = sorted({round(float(z), 3) for z in corners[:, 2]})
    rise = 300.0 * np.sin(np.radians(derived.roof.facets[0].plane.pitch))
    assert np.allclose(np.diff(rows), rise, atol=1e-6)
    first, second = (np.sort(corners[np.abs(corners[:, 2] - row) < 0.01, 0]) for row in rows[1:3])
    assert np.allclose(np.diff(first), 600.0) and np.allclose(np.diff(second), 600.0)
    assert (second[0] - first[0]) % 600.0 == pytest.approx(300.0)
    wide = float(np.ptp(stand(pattern, mine[0]).parts[0][:, 0]))
    assert wide == pytest.approx(610.0), "it covers 600 and one lock more"
    assert check_built(derived, placed).sound


@pytest.mark.parametrize(("system", "over"), [("double seam 18 x 2 in", set()), ("rib 18, pitch 76", {"vent pipe", "soil pipe"})])
def test_openings_lie_on_the_panels_and_between_their_ribs(system, over):
    """With seams of 2 in all stands clear; ribs each 76 mm are cut round a pipe's collar, and it is said that its plate lies over them."""
    derived = derive(with_system(load(demo_path("sail-loft")), system))
    placed, _ = places_of(derived)
    found = check_built(derived, placed)
    assert {one.piece.partition("-")[0] for one in found.contacts} >= {"CHIM", "VP", "FC"}
    assert all(one.ok for one in found.contacts) and not found.clashes
    assert {name for name, said in derived.findings if "lies over ribs" in said.text} == over
    raised = {one.name: one for one in (replace(piece, parts=tuple(part + np.array([0.0, 0.0, 3.0]) for part in piece.parts))
                                        for piece in stand_all(derived.patterns, placed).values() if piece.pattern in ("CHIM-1", "VP-1", "FC-2"))}
    loose = check_standing(derived, placed, stand_all(derived.patterns, placed) | raised, frozenset(raised))
    assert {one.piece for one in loose.contacts if not one.ok} == set(raised)
