"""Panels round what stands in a face: taken out, split below and above, split at pipes, every millimetre explained."""

from __future__ import annotations

import json
import math
import random

import pytest
import shapely

from yattle.derive import derive
from yattle.derive.raised import built_up
from yattle.install.panel_answer import panels_answer
from yattle.job import Job
from yattle.job.model import OpeningNote
from yattle.roof import RoofPlan, build
from yattle.roof.panel_rule import LAPPED, PanelRule, face_frame
from yattle.roof.panels import lay

SHED = {"id": "store", "kind": "shed", "x": 0.0, "y": 0.0, "length": 6000.0, "span": 4000.0, "eave_height": 2500.0, "pitch": 20.0}
K = 1 / 0.9396926207859084  # slope length of a level mm


def plan(*openings) -> RoofPlan:
    return RoofPlan.model_validate_json(json.dumps({"blocks": [SHED], "openings": list(openings)}))


def box(x=0.0, y=0.0, across=600.0, along=500.0, kind="curb", name="c"):
    return {"id": name, "kind": kind, "x": x, "y": y, "across": across, "along": along, "top": 4500.0}


RULE = PanelRule(coverage=500.0, start=0.0, overhang=0.0, lap=150.0)


def areas(panels):
    return sum(shapely.Polygon(panel.outline).area for panel in panels)


def test_a_curb_over_a_whole_panel_leaves_one_below_and_one_above_by_hand():
    """6 m wide, panels of 500; a curb from 2,500 to 3,100 across and from 1,750 to 2,250 up in plan: the panel from 2,500 to
    3,000 ends at its lower edge and begins again at its upper one; that from 3,000 is notched and split above it."""
    roof = build(plan(box(x=-200.0)))  # 2,500 to 3,100 from the left
    laid = lay(roof, "store.1", RULE)
    whole = [p for p in laid.panels if p.left == 2500.0]
    assert [round(p.length, 1) for p in whole] == [round(1750 * K, 1), round(1750 * K, 1)]
    assert all(len(p.terms) == 1 for p in whole), "the flanges take them: no lap of panel on panel"
    beside = [p for p in laid.panels if p.left == 3000.0]
    assert [round(p.length, 1) for p in beside] == [round(2250 * K + 150, 1), round(1750 * K, 1)]
    assert (LAPPED, 150.0) in beside[0].terms and len(laid.panels) == 12 + 2
    assert areas(beside) == pytest.approx((4000 * 500 - 100 * 500) * K)


def test_a_curb_within_one_panel_parts_it_above():
    laid = lay(build(plan(box(x=-250.0, across=300.0))), "store.1", RULE)
    mine = [p for p in laid.panels if p.left == 2500.0]
    assert len(mine) == 2 and areas(mine) == pytest.approx((4000 * 500 - 300 * 500) * K) and mine[0].is_lapped


def test_a_pipe_between_two_pans_splits_its_panel_where_its_hole_stays_whole():
    """Only where that school was chosen; holes of 2 · (55 + 6 + 6) K along the slope, both pans 60 past them: the upper one begins
    half that below the pipe's middle, the lower one goes on under it by all of it. The pipe stands plumb and the flats lie over the
    plane: there its middle comes that much further up the slope."""
    job = Job(name="shed", roof=plan({"id": "vent", "kind": "pipe", "x": 250.0, "y": 500.0, "diameter": 110.0}), panels=RULE)
    assert len(derive(job).panels["store.1"].panels) == 12
    split = derive(job.but(openings=(OpeningNote(of="vent", own=(("school", "split"),)),))).panels["store.1"]
    mine = [p for p in split.panels if p.left == 3000.0]
    over, leans = 2 * (67 * K + 60), built_up(job, "store.1").flat * math.tan(math.radians(20.0))
    assert leans > 0.5
    assert [p.length for p in mine] == pytest.approx([2500 * K + leans + over / 2, 1500 * K - leans + over / 2])
    assert len(split.panels) == 13
    wider = derive(job.but(openings=(OpeningNote(of="vent", own=(("school", "split"), ("pan_lap", 400.0))),))).panels["store.1"]
    assert [p.length for p in wider.panels if p.left == 3000.0] == pytest.approx([2500 * K + leans + 200, 1500 * K - leans + 200])


@pytest.mark.parametrize("seed", range(20))
def test_outlines_add_up_to_the_face_less_what_stands_in_it_and_mirror(seed):
    """Random chimneys and curbs, two schools of starting: no mm² twice or lost, each length the sum of its terms, its panels
    those of the mirrored roof laid from the other side."""
    draw = random.Random(seed)
    openings = [box(draw.uniform(-2500, 2500), draw.uniform(-1300, 1300), draw.uniform(250, 1600), draw.uniform(250, 900),
                    draw.choice(["curb", "chimney"]), f"o{n}") for n in range(draw.randint(1, 3))]
    rule = RULE.but(start=draw.uniform(50, 450), coverage=draw.choice([400.0, 500.0, 610.0]))
    roof = build(plan(*openings))
    laid = lay(roof, "store.1", rule)
    frame = face_frame(roof.facet("store.1"))
    boxes = [shapely.Polygon([frame.at(c[:2]) for c in placed.corners]) for placed in roof.openings]
    left = frame.shape.difference(shapely.union_all(boxes))
    assert areas(laid.panels) == pytest.approx(left.area, abs=1000.0)  # slivers under 100 mm² are none
    for n, panel in enumerate(laid.panels, 1):
        assert panel.n == n and panel.length == pytest.approx(sum(mm for _, mm in panel.terms))
        shape = shapely.Polygon(panel.outline)
        assert shape.intersection(shapely.union_all(boxes)).area < 1.0
        tall = shape.bounds[3] - shape.bounds[1]
        assert panel.terms[0] == ("face", pytest.approx(tall))
    mirrored = build(plan(*({**one, "x": -one["x"]} for one in openings)))
    other = lay(mirrored, "store.1", rule.but(side="right"))
    assert sorted(round(p.length, 3) for p in laid.panels) == pytest.approx(sorted(round(p.length, 3) for p in other.panels), abs=0.01)


def test_the_panels_answer_has_them_one_by_one():
    job = Job(name="shed", roof=plan(box(x=-200.0)), panels=RULE)
    (face,) = panels_answer(derive(job))["faces"]
    assert len(face["panels"]) == 14 and sum(len(p["outline"]) > 4 for p in face["panels"]) >= 1


@pytest.mark.parametrize(("x", "said"), [(-250.0, False), (-350.0, True), (-150.0, True)])
def test_a_pipe_s_plate_that_reaches_a_seam_is_told_by_how_much(x, said):
    """A pan of 500 from 2,500 on; a hole of 110 with 6 beside it has 189 on both sides in its middle, 100 less beside it: a
    plate of 150 fits the one and is 61 too wide for the other."""
    job = Job(name="shed", roof=plan({"id": "vent", "kind": "pipe", "x": x, "y": 0.0, "diameter": 110.0}), panels=RULE)
    (place,) = [place for place in derive(job).openings if place.id == "vent"]
    told = [f for f in place.findings if f.field == "skirt"]
    assert bool(told) == said
    if said:
        assert told[0].lengths[2] == pytest.approx(150.0 - (place.form.clear - RULE.seam / 2)) and told[0].lengths[0] == 150.0


@pytest.mark.parametrize(("openings", "clear"), [
    # a pipe's plate is 2 · (55 + 6 + 150) wide: 500 of panel leave 39 on each side of it where it stands in the middle
    (({"id": "vent", "kind": "pipe", "x": -300.0, "y": 0.0, "diameter": 110.0},), 39.0),
    # two of them 100 apart: the two plates together are wider than a panel less what is beside them
    (({"id": "a", "kind": "pipe", "x": -330.0, "y": 0.0, "diameter": 60.0},
      {"id": "b", "kind": "pipe", "x": -300.0, "y": 900.0, "diameter": 60.0}), 48.0),
    # a curb of 600 has a seam in it anyhow; its flanges of 120 lie on the flat where the seams can be 140 off both sides
    ((box(x=-200.0),), 140.0)])
@pytest.mark.parametrize("side", ["left", "right"])
def test_the_start_keeps_seams_clear_of_plates_and_flanges(openings, clear, side):
    job = Job(name="shed", roof=plan(*openings), panels=RULE.but(start=None, side=side, sliver=0.0))
    derived = derive(job)
    frame = face_frame(derived.roof.facet("store.1"))
    seams = derived.panels["store.1"].seams
    least = 1e9
    for placed in derived.roof.openings:
        across = [frame.at(c[:2])[0] for c in placed.corners] if placed.opening.kind == "curb" else [
            frame.at((placed.opening.x, placed.opening.y))[0] + d * (placed.opening.diameter / 2 + 156.0) for d in (-1, 1)]
        inner = placed.opening.kind == "curb"
        for seam in seams:
            if inner:
                least = min(least, abs(seam - min(across)), abs(seam - max(across)))
            else:
                least = min(least, max(min(across) - seam, seam - max(across)))
    assert least >= clear - 0.6
    assert "plates" not in job.model_dump_json() or '"plates":[]' in job.model_dump_json()


def test_a_choice_for_the_plate_moves_the_start_and_a_ready_boot_has_none():
    vent = {"id": "vent", "kind": "pipe", "x": -300.0, "y": 0.0, "diameter": 110.0}
    stack = {"id": "stack", "kind": "pipe", "x": 300.0, "y": 0.0, "diameter": 110.0}
    job = Job(name="shed", roof=plan(vent, stack), panels=RULE.but(start=None, sliver=0.0))
    starts = [derive(job.but(openings=(OpeningNote(of="vent", own=own),))).panels["store.1"].start
              for own in ((), (("skirt", 60.0),), (("school", "flexible"),))]
    assert len(set(starts)) == 3
