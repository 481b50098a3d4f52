"""Measures against the roof: the adjusted roof fits, and the wrong measure is found out."""

from __future__ import annotations

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from plans import gable, plan

from yattle.roof import build
from yattle.roof.measured import Taped, adjust, worked_out
from yattle.roof.section import cut_through

TRUE = gable("main", span=8060.0, pitch=36.0)


def taken(truth, *, but=None, off=0.0):
    """All of a gable's measures as taped on the true roof, one of them wrong."""
    roof = build(plan(truth))
    kinds = [Taped(kind="edge", of=e.key, field=str(n), value=e.length) for key in dict.fromkeys(e.key for e in roof.edges)
             for n, e in enumerate(x for x in roof.edges if x.key == key)]
    kinds += [Taped(kind="diagonal", of=f.id, field=field, value=worked_out(roof, Taped(kind="diagonal", of=f.id, field=field, value=1)))
              for f in roof.facets for field in ("0-2", "1-3")]
    kinds += [Taped(kind="pitch", of=f.id, value=f.plane.pitch) for f in roof.facets]
    return tuple(t.but(value=t.value + off) if n == but else t for n, t in enumerate(kinds))


def test_right_measures_bring_the_true_roof():
    found = adjust(plan(gable("main")), taken(TRUE))
    (block,) = found.plan.blocks
    run = block.span / 2 + block.eave_overhang
    assert block.pitch == pytest.approx(36.0, abs=0.3) and run == pytest.approx(4430, abs=20), "the two tell only their sum"
    assert {m.named for m in found.misfits[:3]} == {"pitch of main", "span of main", "eave overhang of main"}


@settings(max_examples=12, deadline=None)
@given(st.integers(0, 10), st.sampled_from([-90.0, 70.0, 140.0]))
def test_the_wrong_measure_is_the_suspect(which, off):
    taped = taken(gable("main"), but=which, off=off)
    found = adjust(plan(gable("main")), taped)
    assert found.suspects[0].taped and found.suspects[0].measured == pytest.approx(taped[which].value)
    assert found.suspects[0].off > 4 and found.misfits[-1].off < 2


def test_a_wrong_entry_is_the_suspect_when_all_tapes_agree():
    found = adjust(plan(gable("main", length=14200.0)), taken(gable("main")))
    assert {m.named for m in found.suspects} == {"length of main", "rake overhang of main"}, "either may be it"
    block = found.plan.blocks[0]
    assert block.length + 2 * block.rake_overhang == pytest.approx(14600, abs=15)


def test_one_measure_against_one_cannot_tell():
    ridge = build(plan(gable("main"))).edge("R1")
    found = adjust(plan(gable("main")), (Taped(kind="edge", of=ridge.key, value=ridge.length + 60),))
    assert {m.named for m in found.suspects} >= {"taped ridge R1", "length of main"}


def test_a_fold_taped_turns_the_pitches():
    """A ridge's fold is the sum of both pitches: half a degree more of it is shared between them."""
    roof = plan(gable("loft", pitch=35.0))
    key = next(edge.key for edge in build(roof).edges if edge.kind == "ridge")
    taped = Taped(kind="fold", of=key, field="0", value=70.6)
    assert worked_out(build(roof), taped) == pytest.approx(70.0) and taped.is_angle
    adjusted = adjust(roof, (taped,))
    assert 35.0 < adjusted.plan.blocks[0].pitch < 35.3
    assert any(m.named.startswith("taped fold of ridge") for m in adjusted.misfits)


def test_nothing_taped_changes_nothing():
    assert adjust(plan(TRUE), ()).plan == plan(TRUE)
    gone = Taped(kind="edge", of="hip main.1 main.9", value=5000.0)
    assert worked_out(build(plan(TRUE)), gone) is None and adjust(plan(TRUE), (gone,)).plan == plan(TRUE)


@pytest.mark.parametrize(("taped", "says"), [
    (Taped(kind="pitch", of="main.1", value=30), 36.0), (Taped(kind="block", of="main", field="span", value=1), 8060.0),
    (Taped(kind="block", of="main", field="pitch_ends", value=1), None), (Taped(kind="pitch", of="x", value=1), None),
    (Taped(kind="diagonal", of="main.1", field="0-9", value=1), None)])
def test_what_the_roof_says_of_a_measure(taped, says):
    assert worked_out(build(plan(TRUE)), taped) == (None if says is None else pytest.approx(says))


def test_a_cut_through_the_roof():
    roof = build(plan(gable("main"), gable("dormer", -3000.0, -2300.0, 90.0, 3000.0, 1800.0, 5400.0, 40.0)))
    parts = cut_through(roof, (-3000.0, -6000.0), (-3000.0, 6000.0))
    faces = [p for p in parts if not p.wall]
    assert max(z for p in faces for _, z in p.points) == pytest.approx(4200 + 4000 * math.tan(math.radians(35)), abs=0.01)
    front = next(p for p in parts if p.wall and p.of == "dormer" and p.points[0][0] == pytest.approx(2200))
    assert front.points[0][1] == pytest.approx(4200 + 200 * math.tan(math.radians(35))), "it stands on the main roof"
    assert cut_through(roof, (90000.0, 0.0), (91000.0, 0.0)) == ()
