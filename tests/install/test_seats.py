"""Screws of caps and wall flashings: never within reach of a lock, in the ribs where there are ribs."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

import pytest

from samples import COVERAGE_ONLY
from yattle.derive import derive
from yattle.derive.roof_runs import roof_runs
from yattle.install import needs_of
from yattle.install.installation import installation
from yattle.install.panel_findings import panel_findings
from yattle.install.seats import at_ribs, beside_seams
from yattle.job import Job, load
from yattle.job.fixing_rules import FixingRules
from yattle.job.panel_systems import with_system
from yattle.panels import derive_profile, find
from yattle.roof.panels import face_frame, seams_of
from yattle.roof.starts import STARTS

GABLE = Job(name="hall", roof=STARTS["gable"] if "gable" in STARTS else next(iter(STARTS.values())))
CAPPED = ("ridge", "half-ridge", "hip", "headwall", "skew-wall")


def screws(derived):
    """(run, place) of every screw of a cap, mm from its left end."""
    fit = installation(derived)
    return [(run, place) for run in derived.runs if run.run.kind in CAPPED and not run.run.layer and not run.run.collects and run.pieces
            for need in fit.runs[run.run.id].needs if need.what == "screws" for place in need.places]


@pytest.mark.parametrize("job", [with_system(GABLE, "single seam 475 x 38"), with_system(GABLE, "double seam 18 x 2 in"),
                                 with_system(load(COVERAGE_ONLY), "snap seam 16 x 1 3/4 in, nail strip")], ids=["single", "double", "demo"])
def test_no_screw_is_within_reach_of_a_lock(job):
    """Against the seams of both faces, found again from the layout: half a seam and a washer's room."""
    derived = derive(job)
    found, edges = screws(derived), {one.run.id: one for one in roof_runs(job)}
    assert found
    for run, place in found:
        edge, zones = edges[run.run.id].edge, beside_seams(derived, run)
        assert not any(low + 0.01 < place < high - 0.01 for low, high in zones), (run.run.id, place)
        seams = [at for face in edge.facets for at in seams_of(derived.roof, face, job.panel_rule(face)).on(edge)]
        half = min(job.panel_rule(face).seam / 2 for face in edge.facets) + 15.0 - 0.01
        assert min(len([at for at in ats if abs(place - at) < half]) for ats in (seams, [edge.length - at for at in seams])) == 0
    rows = {}
    for run, place in found:
        rows.setdefault(run.run.id, []).append(place)
    assert all(b - a <= job.fit.screw_pitch + 0.01 for places in rows.values() for a, b in pairwise(places))


def test_on_ribs_every_screw_is_in_one_by_hand():
    """Ribs 333.3 apart: one in every rib; ribs 76.2 apart: every third, 228.6, for a screw every 300 at the most."""
    for name, step in (("rib 45, pitch 333", 1000.0 / 3), ("rib 18, pitch 76", None)):
        job = with_system(GABLE, name)
        derived, read = derive(job), derive_profile(find(name))
        step = step or int(300 / read.rib_pitch) * read.rib_pitch
        ridge = next(run for run in derived.runs if run.run.kind == "ridge")
        places = at_ribs(derived, ridge, 300.0)
        assert len(places) > 3 and all(b - a == pytest.approx(step, abs=0.01) for a, b in pairwise(places))
        need = next(n for n in installation(derived).runs[ridge.run.id].needs if n.what == "screws")
        assert need.places == places and need.many == len(places) * need.rows


def test_of_a_mere_coverage_seams_are_kept_clear_too():
    derived = derive(GABLE)
    ridge = next(run for run in derived.runs if run.run.kind == "ridge")
    assert beside_seams(derived, ridge) and not at_ribs(derived, ridge, 300.0)


@pytest.mark.parametrize("name", ["rib 45, pitch 333", "single seam 475 x 38"])
def test_a_pitch_break_is_held_in_the_deck_and_knows_no_ribs_and_no_seams(name):
    derived = derive(with_system(GABLE, name))
    ridge = next(run for run in derived.runs if run.run.kind == "ridge")
    assert beside_seams(derived, ridge) or at_ribs(derived, ridge, 300.0)
    as_break = replace(ridge, run=ridge.run.but(kind="pitch-break"))
    assert beside_seams(derived, as_break) == () and at_ribs(derived, as_break, 300.0) == ()


def test_whatever_carries_a_sidewall_holds_it():
    """A zed by its hook, a seam by clips: never by nothing at all."""
    assert {need.what for need in needs_of("sidewall on a seam", 3000.0, 300.0, (), FixingRules())} == {"clips", "tape", "wall anchors"}


@pytest.mark.parametrize("start", [None, 200.0, 0.0])
@pytest.mark.parametrize("name", ["rib 45, pitch 333", "rib 18, pitch 76"])
def test_a_rake_s_flange_reaches_a_rib_or_it_is_told_by_how_much(name, start):
    """Ribs found again from the profile and the side laps; the flange of 60 reaches those up to 50 in."""
    job = with_system(GABLE, name)
    job = job.but(panels=job.panels.but(start=start))
    derived, system = derive(job), find(name)
    told = {item: finding for item, finding in panel_findings(derived) if finding.field == "rake_flange"}
    seen = 0
    for run in derived.runs:
        if run.run.kind != "rake" or run.run.layer:
            continue
        (face,) = derived.edge_runs[run.run.id].edge.facets
        frame, laid = face_frame(derived.roof.facet(face)), derived.panels[face]
        at = frame.at(derived.edge_runs[run.run.id].edge.a[:2])[0]
        sides = [laid.seams[0] + n * laid.rule.coverage for n in range(-2, 40)]
        ribs = [side - system.over + rib.at for side in sides for rib in derive_profile(system).ribs]
        nearest = min(abs(rib - at) for rib in ribs if -0.5 < rib < frame.width + 0.5)
        seen += 1
        assert (run.run.id in told) == (nearest + 10.0 > run.standard.rake_flange), (run.run.id, nearest)
        if run.run.id in told:
            assert told[run.run.id].lengths == pytest.approx((60.0, nearest, nearest + 10.0), abs=0.01)
    assert seen == 4
    zed = derive(job.but(schools=job.schools.but(rake_under="zed")))
    assert not [1 for _, finding in panel_findings(zed) if finding.field == "rake_flange"]
