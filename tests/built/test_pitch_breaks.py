"""Roofs with a pitch break put together: how far panels and legs go there, and that nothing is in anything's way."""

from __future__ import annotations

import math

import numpy as np
import pytest

from plans import gable, plan, shed
from yattle.built.checked import check_built, check_standing
from yattle.built.placed import places_of
from yattle.built.said import said_of
from yattle.built.standing import stand_all
from yattle.derive import derive
from yattle.derive.raised import built_up
from yattle.derive.run import common_of, detail_of
from yattle.derive.too_close import as_advised
from yattle.details.develop import develop
from yattle.install.installation import installation
from yattle.job import Job
from yattle.job.panel_systems import with_system
from yattle.panels import library
from yattle.roof.at_edge import sides
from yattle.roof.model import RoofPlan
from yattle.roof.starts import STARTS

FITS = ("bears", "cover", "hook", "clash", "slot", "water", "open")
RISE = 2500 * math.tan(math.radians(15))
PORCH = plan(gable("main", eave=3000.0 + RISE, eave_overhang=0.0),
             shed("low", 0.0, -5250.0, 0.0, 14000.0, 2500.0, 3000.0, 15.0, eave_overhang=300.0, rake_overhang=300.0))
MANSARD = plan(shed("low", y=-3500.0, span=3000.0, length=6000.0, eave=2000.0, pitch=45.0, rake_overhang=0.0, eave_overhang=300.0),
               shed("up", y=-500.0, span=3000.0, length=6000.0, eave=5000.0, pitch=15.0, rake_overhang=0.0, eave_overhang=0.0))
ROOFS = {"porch": PORCH, "mansard": MANSARD}
DORMER = shed("dorm", y=-2200.0, length=3000.0, span=2600.0, eave=6300.0, pitch=12.0, rake_overhang=150.0, eave_overhang=150.0)


def derived_on(roof, system):
    job = Job(name="break", roof=ROOFS[roof])
    return derive(with_system(job, system) if system else job)


def troubles(derived):
    return [said["says"] for said in said_of(check_built(derived, places_of(derived)[0])) if said["row"] in FITS]


@pytest.mark.parametrize("roof", ROOFS)
@pytest.mark.parametrize("system", ["", *sorted(one.name for one in library())])
def test_roofs_with_a_pitch_break_go_together_with_every_system(roof, system):
    assert troubles(derived_on(roof, system)) == []


@pytest.mark.parametrize("start", sorted(STARTS))
def test_a_new_job_of_which_nobody_has_said_the_panels_is_not_said_to_be_wrong(start):
    assert troubles(derive(Job(name="new", roof=STARTS[start]))) == []


@pytest.mark.parametrize("hangs", [0.0, 150.0])
@pytest.mark.parametrize("system", ["", "rib 3/4 in, pitch 9 in", "shingle 600 x 300"])
def test_a_pitch_break_goes_on_over_the_heads_of_the_rakes_below_it(system, hangs):
    low = shed("dorm", y=-2170.0, length=3000.0, span=2860.0, eave=6280.0, pitch=15.0, rake_overhang=hangs, eave_overhang=150.0)
    job = Job(name="dormer", roof=plan(gable("main", pitch=35.0, span=9000.0, eave=4500.0), low))
    derived = derive(with_system(job, system) if system else job)
    order, broken = installation(derived).order, next(e for e in derived.roof.edges if e.kind == "pitch-break")
    below = [e.id for e in derived.roof.edges if e.kind == "rake" and e.facets[0] == sides(derived.roof, broken)[1]]
    assert len(below) == 2 and not order.troubles
    assert all(order.stage_of(broken.id) > order.stage_of(rake) for rake in below)
    assert troubles(derived) == []


@pytest.mark.parametrize("hangs", [0.0, 150.0])
@pytest.mark.parametrize("system", ["", "double seam 430 x 25", "double seam 18 x 2 in", "rib 18, pitch 76", "rib 45, pitch 333"])
def test_shed_dormers_go_together_whether_they_hang_out_beside_their_cheeks_or_not(hangs, system):
    job = Job(name="dormer", roof=plan(gable("main", pitch=40.0, span=9000.0), DORMER | {"rake_overhang": hangs}))
    assert troubles(derive(with_system(job, system) if system else job)) == []


def the_break(derived):
    return next(run for run in derived.runs if run.run.kind == "pitch-break" and not run.run.layer)


@pytest.mark.parametrize("system", ["double seam 430 x 25", "sandwich 1000, core 80"])
def test_a_steep_roof_s_panels_end_before_a_shallow_one_s_seams(system):
    """By hand: the shallow face's seams, so high over it, meet the steep deck h / sin 20° up its slope; the panels end 5 before
    that, and the lower leg, which begins there, is as much longer as it takes to the edge: h / tan 20° along the face, less
    what it stands back for its own height."""
    derived = derived_on("porch", system)
    run, edge = the_break(derived), derived.edge_runs[the_break(derived).run.id].edge
    upper, lower = sides(derived.roof, edge)
    high, fold = built_up(derived.job, lower).flat + run.run.over, math.radians(20)
    rule = derived.panels[upper].rule
    assert rule.at_break == pytest.approx(-high / math.sin(fold) - 5.0, abs=1e-6) and rule.under_break == 0.0
    panel = next(one for one in derived.panels[upper].panels if any("pitch break" in what for what, _ in one.terms))
    assert dict(panel.terms)["held back at the pitch break"] == rule.at_break
    assert run.run.beyond == pytest.approx((0.0, high / math.tan(fold)), abs=1e-6)
    assert run.detail.profile.strip_lengths[1] == pytest.approx(run.standard.break_below + run.run.beyond[1])


def test_a_shallow_roof_s_panels_go_on_over_a_steep_one_s_and_those_end_beneath():
    """By hand: over the edge to where the lower seams' tops lie, (h − f cos 30°) / sin 30° on; the lower ones end h / tan 30° + 5 under it."""
    derived = derived_on("mansard", "rib 18, pitch 76")
    run, edge = the_break(derived), derived.edge_runs[the_break(derived).run.id].edge
    upper, lower = sides(derived.roof, edge)
    flat, high, fold = built_up(derived.job, upper).flat, built_up(derived.job, lower).flat + run.run.over, math.radians(30)
    assert derived.panels[upper].rule.at_break == pytest.approx((high - flat * math.cos(fold)) / math.sin(fold), abs=1e-6)
    assert derived.panels[lower].rule.under_break == pytest.approx(-high / math.tan(fold) - 5.0, abs=1e-6)
    assert run.run.beyond == pytest.approx((high / math.sin(fold), 0.0), abs=1e-6)


@pytest.mark.parametrize("roof", ROOFS)
def test_the_upper_face_taken_for_the_lower_one_is_found(roof):
    """The trim made as if its pitches were exchanged: it folds the other way."""
    derived = derived_on(roof, "double seam 430 x 25")
    placed, _ = places_of(derived)
    run = the_break(derived)
    trim = detail_of(run.run, run.family, run.standard, common_of(derived.job))
    wrong = {piece.id: piece.pattern for piece in develop(trim.but(upper=trim.lower, lower=trim.upper)).pieces}
    standing = {**stand_all(derived.patterns, placed), **stand_all(wrong.values(), placed)}
    found = check_standing(derived, placed, standing, frozenset(wrong))
    assert {said["row"] for said in said_of(found)} & {"bears", "clash", "cover"}


@pytest.mark.parametrize("roof", ROOFS)
def test_rakes_go_on_over_a_break_mitred(roof):
    """Where they meet their ends lie in one plane, which halves the angle between them."""
    derived = derived_on(roof, "double seam 430 x 25")
    standing = stand_all(derived.patterns, places_of(derived)[0])
    corner = np.array(derived.edge_runs[the_break(derived).run.id].edge.a)
    rakes = [run for run in derived.runs if run.run.kind == "rake" and not run.run.layer and min(
        math.dist(corner, end) for end in (derived.edge_runs[run.run.id].edge.a, derived.edge_runs[run.run.id].edge.b)) < 2.0]
    if roof == "porch":
        return  # the porch's rakes end under the main roof's, which hang out farther
    one, other = rakes
    ways = [np.subtract(*sorted((derived.edge_runs[run.run.id].edge.a, derived.edge_runs[run.run.id].edge.b),
                                key=lambda end: -math.dist(end, corner))) for run in (one, other)]
    square = np.subtract(*(way / np.linalg.norm(way) for way in ways))
    square /= np.linalg.norm(square)
    for run in rakes:
        ends = np.concatenate([part for piece in run.pieces for part in standing[piece.id].parts])
        off = (ends - corner) @ square
        assert min(abs(off.max()), abs(off.min())) < 1.0


def test_a_cheek_s_flashings_end_under_the_shed_dormer_s_roof():
    """Every corner of them at least 20 under the dormer's deck, those of the counterflashing too, which lies higher."""
    roof = plan(gable("main", pitch=40.0, span=9000.0), DORMER)
    derived = derive(with_system(Job(name="dormer", roof=roof), "snap seam 300 x 38"))
    standing = stand_all(derived.patterns, places_of(derived)[0])
    plane = derived.roof.facet("dorm.1").plane
    seen = 0
    for run in derived.runs:
        if run.run.kind == "sidewall" and run.run.layer in ("", "counterflashing"):
            for piece in run.pieces:
                corners = np.concatenate(standing[piece.id].parts)
                off = (corners - plane.at((0.0, 0.0))) @ np.array(plane.normal)
                assert off.max() < -20.0, piece.id
                seen += 1
    assert seen >= 4


@pytest.mark.parametrize(("pitch", "system"), [
    (25.0, "snap seam 300 x 38"), (52.0, "snap seam 16 x 1 3/4 in, nail strip"), (60.0, "double seam 530 x 32"), (60.0, "rib 1 1/4 in, pitch 12 in")])
def test_a_lean_to_whose_top_stands_just_over_the_house_s_roof_is_brought_down_to_a_break_and_goes_together(pitch, system):
    """Its top comes out 12 mm over the roof at the house's wall: by hand, its eave is as much lower. Of a strip of a panel beside it, under
    its rake, nothing is left at 25°, and it is laid by nobody."""
    blocks = STARTS["gable with a lean-to"].blocks
    assert blocks[1].span == 2500.0 and blocks[0].eave_height == 3000.0
    roof = RoofPlan(blocks=(blocks[0].but(pitch=pitch), blocks[1].but(pitch=18.0)))
    derived = derive(with_system(Job(name="low", roof=roof), system))
    advised = as_advised(derived)
    assert advised.blocks[1].eave_height == pytest.approx(3000.0 - 2500.0 * math.tan(math.radians(18.0)), abs=0.01)
    mended = derive(derived.job.but(roof=advised))
    assert [edge.kind for edge in mended.roof.edges if edge.id.startswith("B")] == ["pitch-break"]
    found = said_of(check_built(mended, places_of(mended)[0]))
    assert [one["says"] for one in found if one["row"] in FITS] == []
