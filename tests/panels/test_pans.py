"""Panels made in the shop as pans: blanks with locks, hems, heads, holes and cuts, that lie in each other and are nested."""

from __future__ import annotations

import json
import math
import random
from dataclasses import replace

import numpy as np
import pytest
import shapely
from shapely.affinity import translate

from plans import gable, plan, wild
from yattle.built.laid import laid_panels
from yattle.derive import derive
from yattle.derive.face_pans import PANS, _without_refused
from yattle.derive.laying import rule_on
from yattle.derive.moved_sides import STEP, moved_sides
from yattle.derive.pan_clip import clear_of, kept_clear_on
from yattle.derive.pans import PAN_ENTRIES, _pans_on, floors_on, pans_on
from yattle.details import ENTRIES, standard_for
from yattle.details.standard import Own
from yattle.install.answers import order_answer
from yattle.install.panel_answer import panels_answer
from yattle.install.panel_findings import panel_findings
from yattle.job import Job
from yattle.job.model import EdgeNote, OpeningNote
from yattle.job.panel_systems import with_own_system, with_system
from yattle.panels import find
from yattle.roof import build
from yattle.roof.panel_edges import LEFT, RIGHT
from yattle.roof.panel_rule import LAPPED
from yattle.roof.panels import lay
from yattle.roof.starts import STARTS

SHED = {"id": "store", "kind": "shed", "x": 0.0, "y": 0.0, "length": 5000.0, "span": 3000.0, "eave_height": 2500.0, "pitch": 20.0,
        "top_overhang": 0.0}
COIL = {"id": "A", "kind": "coil", "metal": "prepainted steel 0.60", "width": 1250.0}


def shed(*openings, system="double seam 530 x 25", **more) -> Job:
    job = Job.model_validate_json(json.dumps({"format": "yattle-job/1", "name": "shed", "stock": [COIL],
                                              "roof": {"format": "yattle-roof/1", "blocks": [SHED], "openings": list(openings)}} | more))
    return with_system(job if more else job.but(rules=job.rules.but(max_crosscut=6000.0)), system)


def pans_of(job, face):
    derived = derive(job)
    return derived, next(one for one in derived.openings if one.id == f"{PANS} {face}")


def shapes(job, face):
    roof = build(job.roof)
    laid = lay(roof, face, rule_on(job, roof.facet(face)))
    return laid, pans_on(roof, laid, job.panel_system(face), standard_for(job.system, job.own), {})


def test_a_shed_s_pans_by_hand():
    """A face covered by 530: each whole pan a blank of 530 + 25 + 10 at its low edge + 25 + 2 · 10 at its high one, less its two
    folds there (the low edge's lock is cut off where the tray's corner stands); as long as its sum says, hem and head with it."""
    job = shed()
    derived, pans = pans_of(job, "store.1")
    laid = derived.panels["store.1"]
    assert not pans.findings and sum(piece.pattern.qty for piece in pans.pieces) == len(laid.panels)
    whole = max(pans.pieces, key=lambda piece: piece.pattern.qty)
    panel = next(p for p in laid.panels if p.n == pans.form.numbers[pans.pieces.index(whole)][0])
    lock = max(fold.deduction for fold in whole.pattern.folds if fold.kind == "fold")
    assert whole.pattern.girth == pytest.approx(610.0 - 2 * lock, abs=1e-6)
    hem = next(fold.deduction for fold in whole.pattern.folds if fold.kind == "hem" and fold.by == "brake")
    assert whole.pattern.length == pytest.approx(panel.length - hem, abs=1e-6)
    assert dict(panel.terms)["hem at the eave"] == job.panels.hem > 0
    assert all(piece.proof.holds for piece in pans.pieces)


def test_pans_are_cut_from_the_coil_and_not_ordered_as_panels():
    job = shed()
    derived = derive(job)
    made = order_answer(derived)
    assert made["ok"] and made["panels"] == [] and made["metal"][0]["length"] > 5 * 3000
    placed = {p.part for p in derived.nest.placements}
    assert {f"store.1-{n}" for n in range(1, len(pans_of(job, "store.1")[1].pieces) + 1)} <= placed
    rows = panels_answer(derived)["faces"][0]["panels"]
    assert all(row["piece"] in placed for row in rows)
    bought = with_own_system(job, find("double seam 530 x 25").but(made="bought"))
    other = order_answer(derive(bought))
    assert sum(row["qty"] for row in other["panels"]) == len(rows) and other["metal"][0]["length"] < made["metal"][0]["length"]
    assert panels_answer(derive(bought))["faces"][0]["panels"][0]["piece"] is None


def test_pans_longer_than_what_is_cut_off_are_on_the_list_and_said():
    job = shed(rules={"max_crosscut": 3100.0})
    derived = derive(job)
    assert not [one for one in derived.openings if one.kind == PANS] and order_answer(derived)["ok"]
    told = [finding for _, finding in panel_findings(derived) if finding.field == "max_crosscut"]
    assert len(told) == 1 and told[0].lengths[1] == 3100.0 and told[0].lengths[0] > 3000.0
    assert [one for one in derive(shed(rules={"max_crosscut": 3100.0, "first": "slit"})).openings if one.kind == PANS]


@pytest.mark.parametrize("system", ["double seam 430 x 25", "single seam 475 x 38", "snap seam 300 x 38", "double seam 18 x 2 in"])
@pytest.mark.parametrize("start", ["gable", "hip", "gable with a wing"])
def test_locks_of_neighbouring_pans_lie_in_each_other_all_along(system, start):
    """Each seam of a face: the lock of the pan on its left and that of the pan on its right are the same rectangle where both
    have one, the hook stands at the low lock's free edge; nothing of the one stands beyond the other's leg."""
    job = with_system(Job(name="hall", roof=STARTS[start]), system)
    seen = 0
    for facet in build(job.roof).facets:
        laid, made = shapes(job, facet.id)
        origin = {p.n: np.array([p.left, min(y for _, y in p.outline), 0.0]) for p in laid.panels}
        locks = {n: [np.array(face.corners) + origin[n] for face in shape.surface().faces if face.name == "lock"]
                 for n, shape in made.items()}
        for one in laid.panels:
            for other in laid.panels:
                if abs(one.right - other.left) < 0.01 and one.n != other.n:
                    ours = [lock for lock in locks[one.n] if lock[:, 0].mean() > one.right]
                    theirs = [lock for lock in locks[other.n] if lock[:, 0].mean() < other.left + 40.0]
                    if ours and theirs:
                        (a,), (b,) = ours, theirs
                        assert np.allclose([a[:, 0].min(), a[:, 0].max()], [b[:, 0].min(), b[:, 0].max()], atol=1e-6)
                        assert np.allclose(a[:, 2], b[0, 2]) and np.allclose(b[:, 2], b[0, 2])
                        both = min(a[:, 1].max(), b[:, 1].max()) - max(a[:, 1].min(), b[:, 1].min())
                        assert both > 0.6 * min(np.ptp(a[:, 1]), np.ptp(b[:, 1]))
                        seen += 1
    assert seen > 20


@pytest.mark.parametrize("seed", range(12))
def test_floors_add_up_to_the_face_and_what_goes_on_beyond_it(seed):
    """Random sheds with curbs and pipes: floors less overhang, held-back heads and laps cover the face once; every pan folds up;
    the blanks' areas are the floors and what is folded up from them."""
    draw = random.Random(seed)
    things = [{"id": "c", "kind": "curb", "x": draw.uniform(-1500, 1500), "y": draw.uniform(-500, 500), "across": draw.uniform(300, 900),
               "along": draw.uniform(300, 600)},
              {"id": "vent", "kind": "pipe", "x": draw.uniform(-2000, 2000), "y": -1100.0, "diameter": draw.uniform(50, 160)}]
    things = draw.choice([things, things[:1], things[1:]])
    job = shed(*things, system=draw.choice(["double seam 430 x 25", "single seam 475 x 38"]))
    derived, pans = pans_of(job, "store.1")
    laid = derived.panels["store.1"]
    got = shapes(job, "store.1")[1]
    for panel in laid.panels:
        shape, terms = got[panel.n], dict(panel.terms)
        floor, face = shapely.Polygon(shape.floor), shapely.Polygon(panel.outline)
        more = terms.get("overhang", 0.0) + terms.get(LAPPED, 0.0)
        assert floor.bounds[3] - floor.bounds[1] == pytest.approx(terms["face"] + more, abs=0.01)
        assert floor.area >= face.area - 1.0
    assert all(piece.proof.holds for piece in pans.pieces)
    numbers = sorted(n for group in pans.form.numbers for n in group)
    assert numbers == [panel.n for panel in laid.panels]


def test_a_pipe_s_hole_is_in_its_pan_and_in_both_where_it_is_split():
    vent = {"id": "vent", "kind": "pipe", "x": -310.0, "y": 0.0, "diameter": 110.0}
    job = shed(vent)
    derived, pans = pans_of(job, "store.1")
    holed = [piece for piece in pans.pieces if piece.pattern.holes]
    assert len(holed) == 1 and shapely.Polygon(holed[0].pattern.holes[0]).area == pytest.approx(
        math.pi * 61.0 * 61.0 / math.cos(math.radians(20.0)), rel=0.01)
    job = job.but(openings=(OpeningNote(of="vent", own=(("school", "split"),)),))
    derived, pans = pans_of(job, "store.1")
    assert not [piece for piece in pans.pieces if piece.pattern.holes], "they come with the pipe"
    pipe = derived.opening("vent")
    made = {piece.pattern.name: piece.pattern for piece in pipe.pieces}
    assert len(made["lower pan"].holes) == len(made["upper pan"].holes) == 1 and not pipe.findings
    laid = derived.panels["store.1"]
    lower = next(p for p in laid.panels if dict(p.terms).get(LAPPED) == pytest.approx(pipe.form.split.over))
    hems = [fold.deduction for fold in made["lower pan"].folds if fold.kind == "hem"]
    assert made["lower pan"].length == pytest.approx(lower.length - sum(hems), abs=0.01)
    assert sum(piece.pattern.qty for piece in pans.pieces) + 2 == len(laid.panels)
    assert all(piece.proof.holds for piece in pipe.pieces)


def test_sides_are_moved_outward_and_meet_where_they_slant():
    """A square of 100, its foot 10 down, its right side 5 in; a slanting head keeps its slant."""
    ring, kept = moved_sides([(0, 0), (100, 0), (100, 100), (0, 100)], [10, -5, 0, 0])
    assert np.allclose(ring, [(0, -10), (95, -10), (95, 100), (0, 100)]) and kept == [0, 1, 2, 3]
    assert np.allclose(moved_sides([(0, 0), (100, 0), (0, 100)], [10, 0, 0])[0], [(0, -10), (110, -10), (0, 100)])
    ring, kept = moved_sides([(95, 0), (100, 0), (100, 100), (0, 100)], [10, 0, 0, 0])  # a foot of 5, its slanting side comes past it
    assert np.allclose(ring, [(100, -5 * 100 / 95), (100, 100), (0, 100)]) and kept == [1, 2, 3]


def test_two_sides_in_one_line_moved_unlike_have_a_step_between_them():
    """A foot of which the right half stands 20 back: square across from one to the other."""
    ring, kept = moved_sides([(0, 0), (60, 0), (100, 0), (100, 100), (0, 100)], [0, -20, 0, 0, 0])
    assert np.allclose(ring, [(0, 0), (60, 0), (60, 20), (100, 20), (100, 100), (0, 100)])
    assert kept == [0, STEP, 1, 2, 3, 4]


def test_a_corner_that_lies_in_a_neighbour_s_valley_is_cut_off():
    """A square of 400; beyond a line from (400, 100) to (300, 0) nothing of it is left, the new side is a valley's."""
    square = [((0, 0), (400, 0), "eave"), ((400, 0), (400, 400), RIGHT), ((400, 400), (0, 400), "ridge"), ((0, 400), (0, 0), LEFT)]
    held = shapely.Polygon([(290, -10), (410, 110), (500, 110), (500, -10)])
    edges = clear_of(square, [held], "valley")
    assert shapely.Polygon([a for a, *_ in edges]).area == pytest.approx(400 * 400 - 100 * 100 / 2)
    assert [side for *_, side in edges].count("valley") == 1 and {side for *_, side in edges} == {"eave", RIGHT, "ridge", LEFT, "valley"}
    assert clear_of(square, [shapely.Polygon([(395, -10), (410, 5), (410, -10)])], "valley") == square, "a scrap is worth no cut"


def test_equal_pans_are_one_pattern_named_by_their_numbers():
    _, pans = pans_of(shed(), "store.1")
    names = [piece.pattern.name for piece in pans.pieces]
    assert any(" to " in name for name in names) and len(set(names)) == len(names)
    assert [piece.pattern.id for piece in pans.pieces] == [f"store.1-{n}" for n in range(1, len(names) + 1)]


@pytest.mark.parametrize("allowance", [0.0, 10.0, 40.0])
def test_pans_are_left_longer_along_hips_by_the_allowance(allowance):
    """Square to the hip as much as the house standard says: on a pan whose head runs along it, its floor is larger by that times the
    hip's length over it."""
    job = with_system(Job(name="hall", roof=STARTS["hip"]), "single seam 475 x 38")
    job = job.but(own=job.own.but(cut_allowance=allowance))
    roof = build(job.roof)
    for facet in roof.facets:
        laid, made = shapes(job, facet.id)
        for panel in laid.panels:
            if len(panel.outline) == 4 and panel.cuts and len(panel.cuts) == 1 and panel.left > 1.0 and panel.width > 470.0:
                floor, face = (shapely.Polygon(ring) for ring in (made[panel.n].floor, panel.outline))
                turn = math.radians(panel.cuts[0].angle)
                eave = dict(panel.terms).get("overhang", 0.0) * panel.width
                slant = panel.width / math.cos(turn) * allowance
                assert floor.area - face.area - eave == pytest.approx(slant, rel=0.02, abs=3.0)


@pytest.mark.parametrize("seed", [3, 7, 8, 20, 235, 249])
def test_pans_turn_up_at_walls_on_any_side_of_them(seed):
    """Roofs through each other: walls at a pan's low end or slantwise beside it; its turn-up hangs on the very edge there."""
    job = with_system(Job(name="x", roof=plan(*wild(seed))), "double seam 530 x 25")
    derived = derive(job.but(rules=job.rules.but(max_crosscut=9000.0)))
    said = [f.says() for one in derived.openings if one.kind == "pans" for f in one.findings if f.level == "stop"]
    assert not [says for says in said if "do not meet" in says]
    pieces = [piece for one in derived.openings if one.kind == "pans" for piece in one.pieces]
    assert pieces and all(piece.proof.holds for piece in pieces)


@pytest.mark.parametrize(("seed", "system"), [(36, "double seam 530 x 25"), (50, "single seam 475 x 38"), (81, "double seam 18 x 2 in")])
def test_no_face_of_roofs_through_each_other_is_refused_its_pans(seed, system):
    """Corners of walls in the pans: two turn-ups at an inner corner, one over the pan's own sheet, a foot on half a straight side."""
    job = with_system(Job(name="x", roof=plan(*wild(seed))), system)
    derived = derive(job.but(rules=job.rules.but(max_crosscut=9000.0)))
    made = [one for one in derived.openings if one.kind == "pans"]
    assert made and not [f.says() for one in made for f in one.findings if f.level == "stop"]
    assert all(piece.proof.holds for one in made for piece in one.pieces)


def test_corners_held_back_wholly_get_no_panel_and_no_pan_and_are_told():
    """A hip face whose first panel is a corner 20 or 70 wide, all held 100 back from the eave: no length below 0 is ordered; the
    other pans are made."""
    job = with_system(Job(name="x", roof=STARTS["hip"]), "double seam 530 x 25")
    for start in (20.0, 70.0):
        panels = job.panels.but(overhang=-100.0, start=start)
        derived = derive(job.but(rules=job.rules.but(max_crosscut=9000.0), panels=panels))
        assert all(panel.length > 0 for laid in derived.panels.values() for panel in laid.panels)
        pans = [one for one in derived.openings if one.kind == "pans"]
        assert all(one.result is not None for one in pans) and order_answer(derived)["panels"] == []
        told = [f for one in pans for f in one.findings]
        assert told and {f.level for f in told} == {"look"}  # at 20 a scrap of under 60 each way


def test_one_pan_that_cannot_be_made_takes_nothing_from_the_others_and_is_ordered_as_a_panel():
    """The chosen panel's floor crosses itself: it alone is refused, by its number, and stands on the order list."""
    derived, pans = pans_of(shed(), "store.1")
    form, laid = pans.form, derived.panels["store.1"]
    bad = form.shapes[0].but(floor=((0.0, 0.0), (500.0, 900.0), (500.0, 0.0), (0.0, 900.0)), seams=(), heads=(), hems=(), sets=())
    left = _without_refused(replace(pans, form=form.but(shapes=(bad, *form.shapes[1:])), result=None))
    assert len(left.pieces) == len(form.shapes) - 1 and left.findings[0].says().startswith(f"{bad.name}: ")
    assert left.findings[0].level == "stop"
    others = tuple(left if one is pans else one for one in derived.openings)
    rows = order_answer(replace(derived, openings=others))["panels"]
    wanted = [panel for panel in laid.panels if panel.n in form.numbers[0]]
    assert sum(row["qty"] for row in rows) == len(wanted) and {row["length"] for row in rows} == {math.ceil(p.length - 1e-6) for p in wanted}


@pytest.mark.parametrize("entry", sorted(set(ENTRIES) - set(PAN_ENTRIES)))
def test_an_entry_of_the_standard_that_pans_are_not_made_from_leaves_them_as_they_are(entry):
    """The very same pans, not made again: a girth tried elsewhere takes no time here."""
    job = shed()
    before = shapes(job, "store.1")[1]
    roof = build(job.roof)
    laid = lay(roof, "store.1", rule_on(job, roof.facet("store.1")))
    own = job.own.but(**{entry: ENTRIES[entry].default(job.system) + 1.0})
    after = pans_on(roof, laid, job.panel_system("store.1"), standard_for(job.system, own), {})
    assert before and all(after[n] is before[n] for n in before)


def test_what_is_worked_out_from_some_entries_cannot_ask_for_another():
    few = standard_for("metric", Own()).only(PAN_ENTRIES)
    assert few.seam_height == standard_for("metric", Own()).seam_height
    with pytest.raises(AttributeError, match="ridge_wing"):
        _ = few.ridge_wing


@pytest.mark.parametrize("pitches", [(12.0, 6.0), (18.0, 6.0), (25.0, 12.0)])
def test_seams_under_another_roof_s_overhang_end_before_it_past_their_own_eave_too(pitches):
    """A wing as high at its walls hangs out over the house's eave by so little that no seam finds room there; the house's panels
    go on 40 mm past that eave, and so did their seams."""
    house, wing = pitches
    blocks = (gable("main", length=12000.0, span=8000.0, eave=3000.0, pitch=house, eave_overhang=300.0, rake_overhang=250.0),
              gable("wing", 2500.0, -5000.0, 90.0, length=10000.0, span=6000.0, eave=3000.0, pitch=wing, eave_overhang=300.0,
                    rake_overhang=250.0))
    derived = derive(with_system(Job(name="tee", roof=plan(*blocks)), "snap seam 16 x 1 3/4 in, nail strip"))
    panels, under = list(laid_panels(derived, frozenset({"main.2"}))), 0
    for other in (facet for facet in derived.roof.facets if facet.block == "wing"):
        hangs = shapely.union(other.shape, translate(other.shape, *(40.0 * way for way in other.plane.fall)))
        under += sum(shapely.Polygon(panel.ring[:, :2]).intersects(hangs) for panel in panels)
        for foot, head, high, low in (seam for panel in panels for seam in panel.seams):
            for bottom, top in zip(np.linspace(foot, head, 400), np.linspace(low, high, 400), strict=True):
                if hangs.contains(shapely.Point(bottom[:2])):
                    assert not bottom[2] < other.plane.z(bottom[:2]) < top[2]
    assert under


def test_panels_end_before_both_ribs_of_a_valley_that_has_two():
    """Half its opening beyond the inner fold of its wing, as of one with a single rib, whose rib is taken as wide as its leg: so
    by the channel's half and two legs of 30 at 35° less one rib further from the line; on the slope as much square to it."""
    blocks = (gable("main", length=12000.0, span=8000.0, eave=3000.0, pitch=30.0, eave_overhang=300.0, rake_overhang=250.0),
              gable("wing", 2500.0, -5000.0, 90.0, length=10000.0, span=6000.0, eave=3000.0, pitch=30.0, eave_overhang=300.0,
                    rake_overhang=250.0))
    job = with_system(Job(name="tee", roof=plan(*blocks)), "snap seam 300 x 38")
    valleys = [run for run in derive(job).edge_runs.values() if run.edge.kind == "valley"]
    notes = tuple(EdgeNote(key=run.edge.key, place=run.place, detail="valley-double") for run in valleys)
    standard, apart = standard_for(job.system, job.own), []
    for each in (job, job.but(edges=notes)):
        derived = derive(each)
        ends = np.concatenate([panel.ring for panel in laid_panels(derived, frozenset({"main.2"}))])
        a, b = (np.array(end) for end in (valleys[0].edge.a, valleys[0].edge.b))
        way = (b - a) / np.linalg.norm(b - a)
        beside = [(at - a) - ((at - a) @ way) * way for at in ends if 500.0 < (at - a) @ way < 2500.0]
        square = np.array(derived.roof.facet("main.2").plane.normal)
        apart.append(min(float(np.linalg.norm(off - (off @ square) * square)) for off in beside))
    more = standard.valley_channel + 2 * standard.valley_rib * math.cos(math.radians(standard.valley_apex / 2)) - standard.valley_rib
    assert more > 50.0 and apart[1] - apart[0] == pytest.approx(more, abs=1e-6)


@pytest.mark.parametrize("which", ["valleys", "breaks", "low", "round_it"])
def test_of_a_panel_that_lies_wholly_where_none_may_nothing_is_left_and_that_is_said(monkeypatch, which):
    """Whatever takes all of a floor, what comes after it is not asked of nothing."""
    job = with_system(Job(name="gable", roof=STARTS["gable"]), "snap seam 300 x 38")
    derived = derive(job)
    roof, laid, standard = derived.roof, derived.panels["main.1"], standard_for(job.system, job.own)
    first = shapely.Polygon(laid.panels[0].outline)
    left, low, right, high = first.bounds
    whole = shapely.box(left - 200.0, low - 900.0, right + 30.0, high + 900.0)
    line = shapely.LineString([((left + right) / 2, low - 900.0), ((left + right) / 2, high + 900.0)])
    clear = kept_clear_on(roof, laid, 0.0)
    taken = {"valleys": (line,), "round_it": whole}.get(which, (whole,))
    monkeypatch.setattr("yattle.derive.pans.kept_clear_on", lambda *_: replace(clear, **{which: taken}))
    _pans_on.cache_clear()
    refused = {}
    pans = pans_on(roof, laid, None, standard, {}, refused=refused)
    _pans_on.cache_clear()
    floors = floors_on(roof, laid, None, standard)
    assert set(pans) | set(refused) == {panel.n for panel in laid.panels} and set(floors) == set(pans)
    assert all(shape.floor for shape in pans.values()) and all(floors.values())
    if which in ("low", "round_it"):
        assert laid.panels[0].n in refused and "nothing is left" in str(refused[laid.panels[0].n])
