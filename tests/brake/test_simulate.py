"""The moving section: strikes known by hand, soundness at a finer look, and physics."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import LineString, Polygon, affinity

from samples import metal, section
from yattle.brake import LIBRARY, SHOP_BRAKE, FoldJob, FoldOrder, Refusal, best_order
from yattle.brake.hand import folds_by_hand
from yattle.brake.order import plain_order
from yattle.brake.simulate import Simulator
from yattle.brake.state import Bench
from yattle.section import Hem, girth_of

RAIL = LIBRARY[1]
ZED = section((20.0, 15.0, 20.0), (90.0, -90.0), hem_b=None)


def order_of(profile, brake=SHOP_BRAKE, length=1000.0):
    return best_order(FoldJob(profile=profile, length=length, brake=brake))


def test_a_narrow_zed_needs_the_thin_rail():
    """Between two opposite folds 15 mm apart the leaf's 15 mm nose and its slope leave no room; a thin rail does."""
    refused = order_of(ZED)
    assert isinstance(refused, Refusal)
    assert {reason.against for reason in refused.reasons} <= {"leaf", "bed"}
    assert isinstance(order_of(ZED, RAIL), FoldOrder)
    machines = [s for s in refused.suggest if s.kind == "machine"]
    assert ("brake", RAIL.name) in machines[0].at


def test_a_narrow_channel_strikes_the_clamp():
    refused = order_of(section((100.0, 20.0, 100.0), (90.0, 90.0), hem_b=None))
    assert isinstance(refused, Refusal) and {r.against for r in refused.reasons} == {"clamp"}
    assert isinstance(order_of(section((40.0, 30.0, 40.0), (90.0, 90.0), hem_b=None)), FoldOrder)


def test_a_spiral_runs_into_itself():
    """Three square folds the same way, the last leg longer than the box is high: it would cut through the first."""
    spiral = section((60.0, 60.0, 40.0, 90.0), (90.0, 90.0, 90.0), hem_b=None)
    roomy = SHOP_BRAKE.but(clamp=((0.0, 0.0), (-1.0, 1.0), (-2.0, 0.5)))
    refused = order_of(spiral, roomy)
    assert isinstance(refused, Refusal) and "self" in {reason.against for reason in refused.reasons}


def test_contact_is_no_strike_and_half_a_millimetre_is():
    bench = Bench(girth_of(section((50.0, 50.0), (90.0,), hem_b=None, rule={"rule": "sum"})), SHOP_BRAKE)
    wall = Simulator(Bench(bench.girth, SHOP_BRAKE.but(clamp=((-0.0, 50.0), (-40.0, 50.0), (-40.0, 90.0), (0.0, 90.0)))))
    assert wall.free(0, 0, "A"), "the flange ends where the wall begins"
    near = Simulator(Bench(bench.girth, SHOP_BRAKE.but(clamp=((20.0, 48.0), (-40.0, 48.0), (-40.0, 90.0), (20.0, 90.0)))))
    assert not near.free(0, 0, "A")
    assert near.strike(0, 0, "A").tool == "clamp" and near.strike(0, 0, "A").depth == pytest.approx(2.0, abs=0.3)


@st.composite
def foldable(draw):
    count = draw(st.integers(1, 6))
    turns = draw(st.lists(st.sampled_from([-90.0, 90.0, 45.0, -45.0, 120.0, -30.0]), min_size=count, max_size=count))
    legs = draw(st.lists(st.floats(12, 120), min_size=count + 1, max_size=count + 1))
    hem = draw(st.sampled_from([None, Hem(kind="closed", length=12.0, toward="back"),
                                Hem(kind="open", length=15.0, gap=2.0, toward="paint")]))
    return section(legs, turns, hem_b=hem)


def cuts_in(chain: np.ndarray, brake, angle: float) -> float:
    """By shapely alone: how much of the chain lies deeper than 0.5 mm in any tool, the leaf turned by ``angle``."""
    leaf = affinity.rotate(Polygon(brake.leaf), angle, origin=(0, 0))
    line = LineString(chain)
    return max(line.intersection(shape.buffer(-0.6, join_style="mitre")).length
               for shape in (Polygon(brake.clamp), Polygon(brake.bed), leaf))


@settings(max_examples=16, deadline=None)
@given(foldable(), st.sampled_from(LIBRARY))
def test_every_order_is_free_when_looked_at_again_every_degree(profile, brake):
    """Simulated anew with shapely from the answer alone, sharing only the section's marks."""
    order = plain_order(FoldJob(profile=profile, length=500.0, brake=brake))
    if isinstance(order, Refusal):
        assert order.reasons
        return
    girth = girth_of(profile)
    edges = [0.0, *(b.mark for b in girth.bends), girth.girth]
    ids = [b.id for b in girth.bends]
    made: dict[str, float] = {}
    for step in order.steps:
        if step.action == "fold":
            at = ids.index(step.fold) + 1
            for degree in range(0, int(abs(step.turn)) + 1):
                for toward in ("A", "B"):
                    chain = side_of(edges, ids, made, at, toward, 1 if step.face_up == "paint" else -1)
                    if toward == step.out:
                        turned = affinity.rotate(LineString(chain), degree, origin=(0, 0)).coords
                        assert cuts_in(np.array(turned), brake, degree) < 1e-6, (step, degree)
                    else:
                        assert cuts_in(chain * [-1, 1], brake, degree) < 1e-6, (step, degree)
        made[step.fold] = step.turn
    assert {b.id: b.turn for b in girth.bends if b.turn} == made


def side_of(edges, ids, made, at, toward, lift):
    """The chain beside the fold, walked part by part."""
    points, heading = [np.zeros(2)], 0.0
    parts = range(at - 1, -1, -1) if toward == "A" else range(at, len(edges) - 1)
    for part in parts:
        angle = np.radians(heading)
        points.append(points[-1] + (edges[part + 1] - edges[part]) * np.array([np.cos(angle), np.sin(angle)]))
        beyond = part - 1 if toward == "A" else part
        if 0 <= beyond < len(ids):
            heading += lift * made.get(ids[beyond], 0.0)
    return np.array(points)


@settings(max_examples=10, deadline=None)
@given(foldable())
def test_seen_in_a_mirror_the_handling_is_the_same(profile):
    """Paint and back exchanged, or read from B: another name for the same work."""
    order = plain_order(FoldJob(profile=profile, length=500.0, brake=SHOP_BRAKE), why=False)
    hem = profile.hem_b
    other = hem.but(toward="back" if hem.toward == "paint" else "paint") if hem else None
    mirrored = profile.but(turns=tuple(-t for t in profile.turns), hem_b=other)
    for twin in (mirrored, profile.from_b()):
        again = plain_order(FoldJob(profile=twin, length=500.0, brake=SHOP_BRAKE), why=False)
        assert type(again) is type(order)
        if isinstance(order, FoldOrder):
            assert again.cost == order.cost


@settings(max_examples=8, deadline=None)
@given(foldable())
def test_every_suggestion_was_tried_and_works(profile):
    refused = order_of(profile)
    if isinstance(refused, FoldOrder):
        return
    for suggestion in refused.suggest:
        at = dict(suggestion.at)
        if suggestion.kind == "machine":
            brake = next(b for b in LIBRARY if b.name == at["brake"])
            assert order_of(profile, brake).cost == suggestion.cost
        if suggestion.kind == "leg":
            legs = tuple(at["length"] if n + 1 == at["leg"] else leg for n, leg in enumerate(profile.legs))
            assert order_of(profile.but(legs=legs)).cost == suggestion.cost
        if suggestion.kind == "tongs":
            for fold in at.get("folds", [at.get("fold")]):
                assert hand_room(profile, fold) >= 4.0
            turns = tuple(0.0 if f"f{n + 1}" in at.get("folds", [at.get("fold")]) else t for n, t in enumerate(profile.turns))
            assert order_of(profile.but(turns=turns)).cost == suggestion.cost


def hand_room(profile, fold):
    """The flat beside a fold on its longer side: what a jaw can hold at the most, mm."""
    marks = [0.0, *(b.mark for b in girth_of(profile).bends), girth_of(profile).girth]
    at = next(n for n, b in enumerate(girth_of(profile).bends, 1) if b.id == fold)
    return max(marks[at] - marks[at - 1], marks[at + 1] - marks[at])


def by_hand(legs, turns, fold, length=900.0, hem_b=None, change=None):
    profile = section(legs, turns, hem_b).but(metal=metal(**(change or {})))
    return folds_by_hand(FoldJob(profile=profile, length=length, brake=SHOP_BRAKE), [fold])


def test_hands_are_tried_on_the_piece_as_the_brake_leaves_it():
    """The same fold 30 mm from the raw edge: free; behind a leg of 20 that stands up; behind a hem that lies flat."""
    (plain,) = by_hand((300.0, 30.0), (90.0,), "f1")
    assert plain.tool.name == "hand tongs" and plain.deep == pytest.approx(30, abs=1)
    standing = by_hand((300.0, 30.0, 20.0), (90.0, -90.0), "f1")
    assert standing is None or standing[0].tool.name != "hand tongs", "the leg stands where the jaw would lie"
    (hemmed,) = by_hand((300.0, 30.0), (90.0,), "f1", hem_b=True)
    assert hemmed.tool.name == "hand tongs" and hemmed.deep < 31, "over the hem, measured on the folded piece"
    assert by_hand((300.0, 80.0), (90.0,), "f1")[0].tool.name == "two boards and a mallet"
    assert by_hand((300.0, 80.0, 30.0), (90.0, 90.0), "f1", length=4000.0) is None, "too long for boards, too deep for tongs"
    assert by_hand((300.0, 30.0), (90.0,), "f1", change={"thickness": 1.5, "inside_radius": 2.0}) is None


def test_a_jaw_needs_its_flat():
    """Between two legs that stand up 12 mm apart no jaw lies, however near the edge is."""
    channel = by_hand((40.0, 12.0, 40.0), (90.0, 90.0), "f1")
    assert channel is None or channel[0].deep <= 41
    assert by_hand((8.0, 3.0, 8.0, 300.0), (90.0, 90.0, -90.0), "f2") is None


def test_too_long_and_too_thick_are_told_what_would_do():
    steel = metal(name="prepainted steel 1.20", thickness=1.2, inside_radius=1.2)
    thick = best_order(FoldJob(profile=section((60.0, 60.0), (90.0,), None).but(metal=steel), length=2000.0, brake=SHOP_BRAKE))
    kinds = {s.kind: dict(s.at) for s in thick.suggest}
    assert kinds["thinner"]["thickness"] <= SHOP_BRAKE.max_thickness < 1.2 and "send it out" in thick.reasons[0].says
    long = best_order(FoldJob(profile=section((60.0, 60.0), (90.0,), None), length=7000.0, brake=SHOP_BRAKE))
    at = next(dict(s.at) for s in long.suggest if s.kind == "split")
    assert at["length"] <= SHOP_BRAKE.max_length and at["pieces"] * at["length"] - (at["pieces"] - 1) * 100 >= 7000
    assert at["pieces"] == 3


def test_a_leaf_that_does_not_go_far_enough_is_told():
    """133° with 3 % springback asks for 136.99° of a leaf that goes to 135°: it leaves 131.07°."""
    order = order_of(section((60.0, 60.0), (133.0,), None))
    (step,) = order.steps
    assert step.set_angle == pytest.approx(136.99) and step.stays == pytest.approx(135 / 1.03)
    assert order.answer()["notes"] == [f"f1: {step.short_says()}"] and "1.9° by tongs" in step.short_says()
    assert "stays" not in order.answer()["steps"][0] and not order_of(section((60.0, 60.0), (90.0,), None)).answer()["notes"]


@settings(max_examples=12, deadline=None)
@given(foldable())
def test_run_backward_the_order_unfolds_the_piece(profile):
    """Undone from the last stroke, every stroke is free again and the sheet ends flat."""
    order = plain_order(FoldJob(profile=profile, length=500.0, brake=SHOP_BRAKE), why=False)
    if isinstance(order, Refusal):
        return
    bench = Bench(girth_of(profile), SHOP_BRAKE)
    simulator, done = Simulator(bench), bench.everything
    for step in reversed(order.steps):
        bit = next(n for n, a in enumerate(bench.actions) if (a.fold, a.kind) == (step.fold, step.action))
        done &= ~(1 << bit)
        assert simulator.free(done, bit, step.out)
    assert done == 0 and not any(bench.turns(done))


def test_by_hand_where_the_machine_cannot():
    from yattle.brake.hand import BOARDS, TONGS

    refused = order_of(ZED)
    tongs = [s for s in refused.suggest if s.kind == "tongs"]
    assert tongs and "hand tongs" in tongs[0].says and "10 bites" in tongs[0].says
    two = section((30.0, 8.0, 15.0, 8.0), (-45.0, -45.0, -45.0), hem_b=None)
    both = [s for s in order_of(two).suggest if s.kind == "tongs"]
    assert both and all(len(dict(s.at)["folds"]) == 2 for s in both), "one is not enough, so two are left to the hands"
    assert not [s for s in order_of(two).answer()["suggest"] if s["kind"] == "tongs"], "the file knows one fold only"
    assert TONGS.bites(2450) == 25 and BOARDS.bites(2450) == 1


def test_gauge_and_hands_after_handling():
    """Two folds the same way: both with the short side out, one setting of the gauge for each."""
    order = order_of(section((30.0, 200.0, 30.0), (90.0, 90.0), hem_b=None))
    heavy = [s for s in order.steps if s.mark_from_out_edge > 130]
    assert order.cost == 0 or len(heavy) == 0
    assert order.proved_best


@pytest.mark.parametrize("brake", LIBRARY, ids=lambda b: b.name)
def test_machines_of_the_library_are_sound(brake):
    tools = [Polygon(ring) for ring in (brake.clamp, brake.bed, brake.leaf)]
    assert all(shape.is_valid and shape.area > 100 for shape in tools)
    assert all(a.intersection(b).area < 1e-6 for a in tools for b in tools if a is not b)
    assert isinstance(order_of(section((60.0, 60.0), (90.0,), hem_b=None), brake), FoldOrder)


def test_limits_on_length_come_with_a_machine_that_takes_it():
    refused = order_of(section(), LIBRARY[3], length=2000.0)
    assert [r.against for r in refused.reasons] == ["length"]
    assert any(s.kind == "machine" for s in refused.suggest)
