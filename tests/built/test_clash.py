"""Clash, ends and cleats: sums by hand on plates, and single faults on whole roofs that these rows find."""

from __future__ import annotations

import numpy as np
import pytest
from test_checked import checked, derived_of, placed_of, standing_of, trouble

from yattle.built import hook
from yattle.built.checked import check_standing
from yattle.built.clash import clashes
from yattle.built.dressed import stiff
from yattle.built.ends import WantedEnd, reach
from yattle.built.hook import hooks
from yattle.built.placed import PlacedPiece
from yattle.built.standing import Standing, stand_all


def flat(name, x, y, z=0.0, wide=100.0, long=1000.0):
    ring = [(x, y, z), (x + long, y, z), (x + long, y + wide, z), (x, y + wide, z)]
    return Standing(name, name, (np.array(ring, dtype=float),))


def upright(name, y, low, high, long=1000.0):
    """In the plane of one y, from ``low`` to ``high``."""
    ring = [(0.0, y, low), (long, y, low), (long, y, high), (0.0, y, high)]
    return Standing(name, name, (np.array(ring, dtype=float),))


@pytest.mark.parametrize(("y", "low", "high", "depth"), [
    (50.0, -30.0, 20.0, 20.0), (50.0, -10.0, 40.0, 10.0), (95.0, -30.0, 20.0, 5.0), (50.0, 0.0, 40.0, 0.0), (50.0, -40.0, 0.0, 0.0),
    (100.0, -30.0, 30.0, 0.0), (50.0, -0.9, 40.0, 0.0), (50.0, 5.0, 40.0, 0.0), (120.0, -30.0, 30.0, 0.0)])
def test_an_upright_plate_through_a_flat_one_by_hand(y, low, high, depth):
    """Flat from y 0 to 100: the least of what both go on beyond each other, to either side. Standing on it, hanging under it, ending
    at its edge or a sheet's thickness through it is none."""
    found = list(clashes([flat("A", 0.0, 0.0), upright("B", y, low, high)]))
    assert len(found) == (depth > 1.0) and all(one.depth == pytest.approx(depth) and {one.a, one.b} == {"A", "B"} for one in found)
    if found:
        assert found[0].at == pytest.approx((500.0, y, 0.0))


def test_sheets_on_each_other_and_parts_of_one_piece_do_not_clash():
    both = [flat("A", 0.0, 0.0), flat("B", 100.0, 20.0, 0.6), Standing("C", "C", (flat("", 0, 0, 5.0).parts[0], upright("", 50, -9, 4.5).parts[0]))]
    assert [(one.a, one.b) for one in clashes(both)] == [("A", "C"), ("B", "C")]
    assert list(clashes(both, frozenset({"X"}))) == [] and len(list(clashes(both, frozenset({"B"})))) == 1


@pytest.mark.parametrize(("lip", "have"), [((0.0, 20.0), 12.0), ((0.0, 14.0), 6.0), ((0.0, 7.0), 0.0), ((10.0, 30.0), 10.0)])
def test_a_hem_and_a_kick_hold_a_lip_by_what_both_share_of_it(lip, have):
    """The kick 20 wide, its hem 12 back from its edge and 2 behind it: the lip between them is held by what the hem covers of it."""
    trim = Standing("R", "R", (flat("", 0.0, 0.0, 0.0, 20.0).parts[0], flat("", 0.0, 8.0, 2.0, 12.0).parts[0]))
    cleat = flat("K", 0.0, lip[0], 1.0, lip[1] - lip[0])
    for found in hooks({"R": trim, "K": cleat}, (), [("R", ("K",))]):  # asked of the trim, and of the cleat
        assert found.have == pytest.approx(have) and found.ok == (have >= 8.0) and found.how == "cleat"


def test_along_a_row_only_what_comes_near_is_asked_and_everyone_is_told(monkeypatch):
    """60 trims with 60 cleats beneath their joints, all told as each other's; the last of both stand 5 m away alone."""
    trims = {f"R{n}": Standing(f"R{n}", f"R{n}", (flat("", 1000.0 * n, 0.0, 0.0, 20.0).parts[0], flat("", 1000.0 * n, 8.0, 2.0, 12.0).parts[0]))
             for n in (*range(59), 70)}
    cleats = {f"K{n}": flat(f"K{n}", 1000.0 * n + 500.0, 0.0, 1.0, 20.0) for n in (*range(59), 80)}
    asked, held = [], hook._held
    monkeypatch.setattr(hook, "_held", lambda trim, cleat: asked.append((trim.name, cleat.name)) or held(trim, cleat))
    found = list(hooks(trims | cleats, (), [(name, tuple(cleats)) for name in trims]))
    assert sorted(one.a for one in found[:60]) == sorted(trims) and sorted(one.b for one in found[60:]) == sorted(cleats)
    assert len(found) == 120 and len(asked) == len(set(asked)) <= 59 * 2 + 2
    assert {(one.a, one.b) for one in found if not one.ok} == {("R70", "K0"), ("R0", "K80")}
    assert all(one.have == pytest.approx(12.0) for one in found if one.ok)


@pytest.mark.parametrize("hemmed", [0.0, 20.0])
def test_a_cleat_is_held_by_its_hem_and_not_by_its_raw_edge(hemmed):
    """Its hem 9 wide at the lip's edge, or at its other one."""
    trim = Standing("R", "R", (flat("", 0.0, 0.0, 0.0, 12.0).parts[0], flat("", 0.0, 0.0, 2.0, 12.0).parts[0]))
    cleat = Standing("K", "K", (flat("", 0.0, 0.0, 1.0, 30.0).parts[0], flat("", 0.0, hemmed, 1.0, 9.0).parts[0]))
    of_trim, of_cleat = hooks({"R": trim, "K": cleat}, (), [("R", ("K",))])
    assert of_trim.ok and of_cleat.have == pytest.approx(12.0) and of_cleat.ok == (hemmed == 0.0)


@pytest.mark.parametrize(("end", "have"), [(1000.0, 0.0), (990.0, 10.0), (1010.0, -10.0)])
def test_how_far_a_plate_reaches_past_its_end_by_hand(end, have):
    found = reach(flat("A", 0.0, 0.0), WantedEnd("A", "there", ((np.array([end, 0, 0]), np.array([1.0, 0, 0]), 0.0),)))
    assert found.have == pytest.approx(have) and found.ok == (abs(have) <= 3.0)


def test_of_two_planes_the_end_of_each_wide_part_is_asked():
    """Two parts of one piece, cut at 1,000 and at 1,040: each at its own plane; the second one 10 longer is found."""
    def piece(far):
        return Standing("A", "A", (flat("", 0, 0, 0.0).parts[0], flat("", 0, 100, 0.0, long=far).parts[0], flat("", 0, 200, 0.0, 10, 900).parts[0]))
    way = np.array([1.0, 0.0, 0.0])
    end = WantedEnd("A", "there", ((np.array([1000.0, 0, 0]), way, 0.0), (np.array([1040.0, 0, 0]), way, 0.0)))
    assert reach(piece(1040.0), end).ok and not reach(piece(1050.0), end).ok and reach(piece(1050.0), end).have == pytest.approx(10.0)


def moved(name, pattern, by):
    """The same places, one of them moved."""
    return [PlacedPiece(one.pattern, one.copy, one.base, one.place + np.column_stack((np.zeros((3, 3)), by)), one.item, one.stage, one.on)
            if one.pattern == pattern else one for one in placed_of(name)]


@pytest.mark.parametrize("name", ["net-shed", "sail-loft"])
def test_a_cleat_10_off_and_a_zed_10_off_are_found(name):
    derived = derived_of(name)
    for run in [run for run in derived.runs if run.run.layer in ("cleat", "closure", "zed", "counterflashing", "eave-cleat")][::3]:
        for piece in run.pieces[:1]:
            placed = moved(name, piece.id, np.array([0.0, 0.0, -10.0]))
            standing = {**standing_of(name), **stand_all((piece.pattern,), placed)}
            found = check_standing(derived, placed, standing, frozenset({piece.id}))
            assert not found.sound or run.run.layer == "counterflashing", piece.id


@pytest.mark.parametrize("name", ["net-shed", "sail-loft", "hip"])
def test_a_piece_left_out_is_found_by_its_name_and_place(name):
    derived = derived_of(name)
    for pattern in derived.patterns[::max(23, len(derived.patterns) // 3)]:
        standing = {key: one for key, one in standing_of(name).items() if one.pattern != pattern.id}
        there = [one.pattern for one in placed_of(name)]
        found = check_standing(derived, list(placed_of(name)), standing, frozenset((pattern.id,)))
        gone = {one.piece.partition("/")[0] for one in found.absent}
        assert gone == ({pattern.id} if pattern.id in there else set()) and len(found.absent) == there.count(pattern.id)


def test_what_is_dressed_gives_way_and_nothing_else():
    """Tabs of ends and what is carried over a ridge are left out; legs and hems along the piece are not."""
    derived = derived_of("sail-loft")
    standing = standing_of("sail-loft")
    hard = {one.name: one for one in stiff(derived, standing)}
    for run in derived.runs:
        for piece in run.pieces:
            if piece.id in standing and run.run.kind == "rake" and not run.run.layer:
                tabs = len(standing[piece.id].parts) - len(hard[piece.id].parts)
                assert tabs == len([fold for fold in piece.pattern.folds if abs(fold.a[1] - fold.b[1]) > 1e-6]), piece.id
    valley = next(run for run in derived.runs if run.run.kind == "valley" and run.pieces)
    last = valley.pieces[-1].id
    far = [np.concatenate(one.parts)[:, 2].max() for one in (standing[last], hard[last])]
    assert far[0] >= far[1]


@pytest.mark.parametrize("name", ["net-shed", "gable with a wing"])
def test_rakes_meet_at_their_peak_at_the_height_they_lie_at(name):
    """Each goes to the plumb plane over the ridge with its flange on the seams: on the roof's own plane it would end short by the seams'
    height times the slope's sine."""
    derived = derived_of(name)
    seen = [one for one in checked(name).ends if one.piece.startswith("G") and abs(one.have) < 3.0]
    heads = [run for run in derived.runs if run.run.kind == "rake" and not run.run.layer and (run.run.left_plane or run.run.right_plane)]
    assert len(seen) >= 2 * len(heads) and (heads or name == "hip")
    for run in heads:
        assert max(abs(reach) for reach in run.run.reaches) > 5.0, "raised on its seams it is longer"


def test_sheets_of_a_roof_whose_seams_were_made_wider_clash():
    """Zeds cut 30 longer than their gaps go through the seams of pans made here."""
    derived, found = derived_of("net-shed"), checked("net-shed")
    assert trouble(found) == []
    run = next(run for run in derived.runs if run.run.layer == "closure")
    from yattle.built.mutants import longer
    wrong = longer(30.0)(run.pieces[0].pattern)
    after = checked("net-shed", wrong)
    assert any(one.a.startswith(run.pieces[0].id) or one.b.startswith(run.pieces[0].id) for one in after.clashes)
    assert any("past the gap" in says for says in trouble(after))
