"""Cuts, strips and the bound, in small pieces worked by hand."""

from __future__ import annotations

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yattle.coil import NestJob, NestRules, Part, Stock, faults, nest
from yattle.coil.block import Pool, Spacing, fill_block
from yattle.coil.bound import area_bound
from yattle.coil.cutter import Cutter
from yattle.coil.job import check_ring, ring_area
from yattle.coil.sizes import orientations, turned, usable_rect
from yattle.coil.slit import slit_strips
from yattle.errors import InputError


def rect_part(name, length, width, qty=1, **more):
    return Part(id=name, outline=((0.0, 0.0), (length, 0.0), (length, width), (0.0, width)), qty=qty, metal="m", **more)


def test_a_cut_parts_a_rectangle_in_two():
    cutter = Cutter()
    cutter.lay("coil", (0.0, 0.0, 100.0, 50.0))
    low, rest = cutter.across("coil", 40.0, keep=True)
    assert rest == "coil" and cutter.table[low] == (0, 0, 40, 50) and cutter.table["coil"] == (40, 0, 100, 50)
    lower, upper = cutter.along(low, 20.0)
    assert cutter.table[lower] == (0, 0, 40, 20) and cutter.table[upper] == (0, 20, 40, 50)
    assert [c.n for c in cutter.cuts] == [1, 2]


def test_a_cut_at_the_edge_is_no_cut():
    cutter = Cutter()
    cutter.lay("s", (0.0, 0.0, 100.0, 50.0))
    assert cutter.across("s", 0.0) == ("", "s") and cutter.across("s", 100.0) == ("s", "") and cutter.cuts == []
    assert cutter.table[cutter.trimmed("s", (10.0, 5.0, 90.0, 45.0))] == (10, 5, 90, 45) and len(cutter.cuts) == 4


def test_widths_are_chosen_so_that_the_block_is_covered():
    """1000 wide: 600 alone wastes 400; 600 and 400 waste nothing, though 500 is the wider second choice."""
    parts = {rect_part("a", 900.0, 600.0): 1, rect_part("b", 900.0, 400.0): 1, rect_part("c", 900.0, 350.0): 1}
    strips = fill_block(Pool(dict(parts)), 900.0, 1000.0, None, Spacing(0.0, 0.0))
    assert sorted(strip.width for strip in strips) == [400, 600]


def test_short_pieces_follow_in_the_strip():
    pool = Pool({rect_part("a", 600.0, 200.0): 1, rect_part("b", 300.0, 200.0): 1, rect_part("c", 90.0, 150.0): 1})
    strips = fill_block(pool, 1000.0, 200.0, None, Spacing(0.0, 0.0))
    assert [(spot.part.id, spot.x) for spot in strips[0].spots] == [("a", 0.0), ("b", 600.0), ("c", 900.0)]


def test_a_sliver_the_shear_cannot_take_off_is_never_left():
    pool = Pool({rect_part("a", 900.0, 497.0): 2})
    assert len(fill_block(pool, 900.0, 997.0, None, Spacing(0.0, 5.0))) == 1


def test_slit_first_finds_the_short_length():
    pool = Pool({rect_part("a", 1000.0, 400.0): 4, rect_part("b", 2000.0, 400.0): 1})
    length, strips = slit_strips(pool, 99999.0, 1200.0, Spacing(0.0, 0.0), 0.0)
    assert length == pytest.approx(2000.0) and len(strips) == 3


def test_the_bound_pours_into_the_cheapest_first():
    coil = Stock(id="c", kind="coil", width=1000.0, metal="m", cost_per_m=10.0)
    sheet = Stock(id="s", kind="sheet", width=1000.0, length=1000.0, qty=2, metal="m", cost=5.0)
    job = NestJob(stock=(coil, sheet), parts=(rect_part("a", 1000.0, 1000.0, 3),))
    bound, by_metal = area_bound(job, [job.parts[0]] * 3)
    assert bound == pytest.approx(2 * 5.0 + 10.0) and by_metal == {"m": pytest.approx(20.0)}
    trimmed = NestJob(stock=(coil,), parts=job.parts, rules=NestRules(edge_trim=100.0))
    assert area_bound(trimmed, [job.parts[0]])[0] == pytest.approx(12.5)


def test_an_offcut_is_used_in_its_largest_rectangle():
    ell = ((0.0, 0.0), (100.0, 0.0), (100.0, 30.0), (40.0, 30.0), (40.0, 90.0), (0.0, 90.0))
    assert usable_rect(Stock(id="o", kind="offcut", metal="m", outline=ell)) == (0, 0, 40, 90)


@given(st.floats(1, 500), st.floats(1, 500), st.sampled_from([0.0, 90.0, 180.0, 270.0]))
def test_quarter_turns_are_exact(length, width, turn):
    ring = ((0.0, 0.0), (length, 0.0), (length, width), (0.0, width))
    xs, ys = zip(*turned(ring, turn), strict=True)
    assert {max(xs) - min(xs), max(ys) - min(ys)} == {length, width}


def test_ways_to_lie():
    assert [(k.along, k.across) for k in orientations(rect_part("a", 30.0, 10.0, turns="any"))] == [(30, 10), (10, 30)]
    assert len(orientations(rect_part("b", 30.0, 10.0))) == 1
    slanted = orientations(rect_part("c", 30.0, 10.0, turns=(45.0,)))[0]
    assert slanted.along == pytest.approx(40 / 2**0.5)


def test_rings():
    assert ring_area(((0, 0), (0, 1), (1, 1), (1, 0))) == -1
    check_ring(((0.0, 0.0), (4.0, 0.0), (4.0, 3.0)), "outline")
    with pytest.raises(InputError, match="simple"):
        check_ring(((0.0, 0.0), (2.0, 0.0), (1.0, 0.0), (1.0, 2.0)), "outline")


def whole_sheet(at, axis="across"):
    """A part as large as its sheet, with a cut that somebody wrote beside it."""
    question = NestJob.model_validate({
        "stock": ({"id": "s", "kind": "sheet", "width": 500.0, "length": 1000.0, "metal": "m", "cost": 10.0},),
        "parts": ({"id": "P", "outline": ((0.0, 0.0), (1000.0, 0.0), (1000.0, 500.0), (0.0, 500.0)), "metal": "m"},)})
    document = json.loads(json.dumps(nest(question).answer()))
    assert faults(question, document) == [] and document["cuts"] == []
    document["cuts"] = [{"n": 1, "piece": "s", "axis": axis, "at": at, "gives": ["k1", "k2"]}]
    whole = "k1" if at > 0 else "k2"
    document["placements"][0]["piece"] = whole
    return question, document


@pytest.mark.parametrize(("at", "axis"), [(1000.0, "across"), (0.0, "across"), (500.0, "along"), (0.0, "along"),
                                          (1000.0 + 1e-7, "across"), (1200.0, "across"), (-1.0, "along")])
def test_a_cut_at_an_edge_parts_nothing_and_is_a_fault(at, axis):
    """Each cut parts one rectangle in two: at its near or far edge it gives a piece without metal."""
    question, document = whole_sheet(at, axis)
    assert any(line.startswith("cut 1: at") and "outside" in line for line in faults(question, document))


@pytest.mark.parametrize("first", ["crosscut", "slit"])
@pytest.mark.parametrize("gap", [0.0, 3.0])
@pytest.mark.parametrize(("edge", "end", "sliver"), [(0.0, 8.0, 25.0), (8.0, 0.0, 25.0), (8.0, 8.0, 25.0), (30.0, 30.0, 25.0)])
def test_a_trim_that_the_shear_cannot_take_off_is_as_wide_as_it_can(first, gap, edge, end, sliver):
    """Also after the blocks are put into another order: what the roof wants first is cut first."""
    stock = (Stock(id="c", kind="coil", width=1220.0, metal="m", cost_per_m=10.0),
             Stock(id="s", kind="sheet", width=1000.0, length=2000.0, qty=2, metal="m", cost=15.0))
    parts = tuple(rect_part(f"P{n}", 700.0 + 311.0 * n, 90.0 + 47.0 * n, 2, priority=9 - n) for n in range(6))
    question = NestJob(stock=stock, parts=parts, rules=NestRules(
        first=first, gap=gap, edge_trim=edge, end_trim=end, min_sliver=sliver, work=2, seconds=None, max_crosscut=3000.0))
    answer = nest(question)
    assert faults(question, json.loads(json.dumps(answer.answer()))) == [] and not answer.unplaced
