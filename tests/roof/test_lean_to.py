"""Lean-tos stay at their wall; overhangs of a high side and of unequal pitches by hand."""

from __future__ import annotations

import json
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yattle.derive import derive
from yattle.job import Job
from yattle.roof import RoofPlan, build
from yattle.roof.lean_to import against, just_misses
from yattle.roof.plane import body
from yattle.roof.starts import STARTS, add_block, with_part
from yattle.values import read

WALLS = {"right": (0.0, -1.0), "left": (180.0, 1.0)}  # the lean-to's bearing beside the main block's, its side


def plan(*blocks):
    return read(RoofPlan, json.dumps({"blocks": blocks}))


def house(**more):
    return {"id": "main", "kind": "gable", "x": 100.0, "y": -50.0, "bearing": 20.0, "length": 12_000.0, "span": 8000.0,
            "eave_height": 4000.0, "pitch": 35.0, "eave_overhang": 300.0, "rake_overhang": 250.0} | more


def lean_to(side, off=0.0, slide=700.0, **more):
    """Against a wall of :func:`house`, ``off`` mm outside it."""
    turn, long, half = math.radians(20.0), {"right": 4000.0, "left": 4000.0, "start": 6000.0, "end": 6000.0}[side], 1250.0
    u, v = {"right": (slide, -long - half - off), "left": (slide, long + half + off), "start": (-long - half - off, slide),
            "end": (long + half + off, slide)}[side]
    bearing = {"right": 20.0, "left": 200.0, "start": 290.0, "end": 110.0}[side]
    return {"id": "lean", "kind": "shed", "x": 100.0 + u * math.cos(turn) - v * math.sin(turn),
            "y": -50.0 + u * math.sin(turn) + v * math.cos(turn), "bearing": bearing, "length": 3000.0, "span": 2500.0,
            "eave_height": 2200.0, "pitch": 8.0, "eave_overhang": 250.0, "rake_overhang": 200.0, "top_overhang": 0.0} | more


@pytest.mark.parametrize("side", ["right", "left", "start", "end"])
@given(st.fixed_dictionaries({}, optional={
    "x": st.floats(-3000, 3000), "y": st.floats(-3000, 3000), "bearing": st.floats(0, 359), "length": st.floats(6000, 20_000),
    "span": st.floats(5000, 14_000), "eave_height": st.floats(3500, 6000)}))
def test_a_lean_to_follows_its_wall(side, changes):
    before = plan(house(), lean_to(side))
    after = with_part(before, "main", **changes)
    main, lean = after.blocks
    found = against(lean, main)
    assert found is not None and found.outward == against(before.blocks[1], before.blocks[0]).outward
    assert abs(found.off) < 0.01
    kinds = {edge.kind for edge in build(after).edges if edge.wall == "main" or "lean" in str(edge.facets)}
    assert "headwall" in kinds and "half-ridge" not in kinds


def test_what_stands_free_stays_where_it_is():
    before = plan(house(), lean_to("right", off=900.0))
    assert with_part(before, "main", span=9000.0).blocks[1] == before.blocks[1]
    assert with_part(before, "lean", x=0.0).blocks[0] == before.blocks[0]


@pytest.mark.parametrize(("off", "said"), [(0.0, False), (3.0, False), (120.0, True), (-40.0, True), (599.0, True), (700.0, False)])
def test_one_that_just_misses_its_wall_is_told(off, said):
    roof = plan(house(), lean_to("right", off=off))
    found = just_misses(roof, "lean")
    assert (found is not None) == said and (found is None or found.off == pytest.approx(off, abs=1e-6))
    if off > 5:
        told = [finding for _, finding in derive(Job(name="x", roof=roof)).findings if "the wall of main" in finding.text]
        assert bool(told) == said and (not said or told[0].lengths[0] == pytest.approx(off))


def test_a_high_side_has_an_overhang_of_its_own():
    low, own, free = (plan({**lean_to("right", off=3000.0), "top_overhang": top}) for top in (0.0, 400.0, None))
    reach = []
    for roof in (low, own, free):
        shed = roof.blocks[0]
        turn = math.radians(shed.bearing)
        across = [(-(x - shed.x) * math.sin(turn) + (y - shed.y) * math.cos(turn)) for x, y in body(shed).roof]
        reach.append((min(across), max(across)))
    assert [pair[0] for pair in reach] == pytest.approx([-1500.0] * 3)
    assert [pair[1] for pair in reach] == pytest.approx([1250.0, 1650.0, 1500.0])


def test_a_lean_to_on_a_gable_s_end_grows_no_ears():
    """Wider than the wall it stands against, nothing of it lies behind the wall's line."""
    roof = build(plan(house(rake_overhang=100.0), lean_to("end", slide=0.0, length=9500.0)))
    turn = math.radians(20.0)
    for facet in roof.facets:
        if facet.block == "lean":
            beyond = min((x - 100.0) * math.cos(turn) + (y + 50.0) * math.sin(turn) for x, y, *_ in facet.shape.exterior.coords)
            assert beyond > 6000.0 - 1e-6


@pytest.mark.parametrize("kind", ["hip", "gable"])
def test_a_level_fascia_brings_every_eave_to_one_height(kind):
    more = {"pitch_right": 20.0} | ({"pitch_ends": 55.0} if kind == "hip" else {"rake_overhang": 100.0})
    for fascia in ("own", "level"):
        given = {k: v for k, v in house().items() if k != "rake_overhang"} | more | {"kind": kind, "fascia": fascia}
        roof = build(plan(given))
        heights = [edge.a[2] for edge in roof.edges if edge.kind == "eave"] + [e.b[2] for e in roof.edges if e.kind == "eave"]
        wanted = 4000.0 - 300.0 * math.tan(math.radians(35.0))
        if fascia == "level":
            assert heights == pytest.approx([wanted] * len(heights))
        else:
            assert max(heights) - min(heights) > 50
    hips = [edge for edge in roof.edges if edge.kind == "hip"]
    eaves = {tuple(round(v, 3) for v in end) for edge in roof.edges if edge.kind == "eave" for end in (edge.a, edge.b)}
    assert all(tuple(round(v, 3) for v in hip.a) in eaves for hip in hips), "hips come down to the eaves' corners"


def test_a_new_lean_to_touches_the_first_block():
    roof, name = add_block(STARTS["gable"], "shed")
    main, lean = roof.blocks
    assert lean.id == name and against(lean, main) is not None and lean.top_overhang == 0
    assert any(edge.kind == "headwall" for edge in build(roof).edges)
