"""A plan read back and changed: order by priority, a piece moved, blocks kept, the rest after a spoiled piece."""

from __future__ import annotations

from collections import Counter

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from yattle.coil import NestJob, NestRules, Part, Stock, faults, first_answer, nest
from yattle.coil.by_hand import AfterCuts, after_cuts, moved, planned_around
from yattle.coil.read import laid_of, table_after, written
from yattle.coil.together import cuts_csv, together
from yattle.errors import InputError

COIL = Stock(id="coil 1", kind="coil", width=1220.0, metal="m", cost_per_m=10.0)
SHEET = Stock(id="sheet", kind="sheet", width=1000.0, length=2000.0, qty=2, metal="m", cost=5.0)


def job(sizes, stock=(COIL,), **rules) -> NestJob:
    parts = tuple(Part(id=f"P{n}", outline=((0.0, 0.0), (a, 0.0), (a, b), (0.0, b)), qty=qty, metal="m", priority=n % 3)
                  for n, (a, b, qty) in enumerate(sizes))
    return NestJob(stock=stock, parts=parts, rules=NestRules(**{"work": 4, "seconds": None, "max_crosscut": 3000.0, **rules}))


SIZES = st.lists(st.tuples(st.floats(200, 2900), st.floats(60, 1200), st.integers(1, 3)), min_size=2, max_size=8)


@settings(max_examples=20, deadline=None)
@given(SIZES, st.sampled_from([0.0, 4.0]), st.sampled_from([0.0, 7.0]), st.sampled_from([(COIL,), (COIL, SHEET)]))
def test_what_is_read_back_and_written_again_is_as_good(sizes, gap, trim, stock):
    question = job(sizes, stock, gap=gap, edge_trim=trim, end_trim=trim)
    answer = first_answer(question)
    again = written(question, laid_of(question, answer), answer)
    assert faults(question, again.answer()) == []
    assert again.objective == pytest.approx(answer.objective) and len(again.placements) == len(answer.placements)


def test_what_the_roof_wants_first_is_cut_first():
    question = job([(2900.0, 1000.0, 2), (2500.0, 1000.0, 2), (2800.0, 1000.0, 2)])
    answer = nest(question)
    order = [question.parts[int(place.part[1:])].priority for place in sorted(answer.placements, key=lambda p: p.x)]
    assert order == sorted(order) and faults(question, answer.answer()) == []


def test_a_piece_is_moved_onto_what_is_left():
    question = job([(3000.0, 700.0, 1), (2000.0, 200.0, 1), (900.0, 450.0, 1)], min_offcut=(100.0, 100.0))
    answer = first_answer(question)
    small = next(p for p in answer.placements if p.part == "P1")
    table = table_after(question, answer, len(answer.cuts))
    free = [rect for name, (_, rect) in table.items() if name not in {p.piece for p in answer.placements} and name != "coil 1"]
    x0, y0, x1, y1 = max((r for r in free if r[2] - r[0] >= 2000 and r[3] - r[1] >= 200), key=lambda r: r[0], default=free[0])
    assert x1 - x0 >= 2000 and y1 - y0 >= 200
    other = moved(question, answer, "P1", small.copy, ("coil 1", x0 + 1, y0 + 1))
    assert faults(question, other.answer()) == []
    assert next(p for p in other.placements if p.part == "P1") != small
    with pytest.raises(InputError, match="another piece"):
        moved(question, answer, "P1", 1, ("coil 1", answer.placements[0].x + 5, answer.placements[0].y + 5))
    with pytest.raises(InputError, match="that is left"):
        moved(question, answer, "P0", 1, ("coil 1", x0 + 1, y0 + 1))


def test_locked_pieces_stay_in_their_block():
    question = job([(3000.0, 700.0, 2), (2000.0, 500.0, 3), (900.0, 450.0, 4), (1500.0, 300.0, 3)], (COIL, SHEET))
    answer = first_answer(question)
    locked = frozenset({"P1/1", "P2/2"})
    after = planned_around(question, answer, locked)
    assert faults(question, after.answer()) == [] and Counter(p.part for p in after.placements) == Counter(
        p.part for p in answer.placements)

    def mates(plan, part):
        """What shares a block with a part: sizes in the rectangle that leaves the stock."""
        place = next(p for p in plan.placements if p.part == part)
        return {p.part for p in plan.placements if p.stock == place.stock and abs(p.x - place.x) < 3000}
    assert mates(answer, "P1") & mates(after, "P1")
    assert planned_around(question, answer, frozenset(f"{p.part}/{p.copy}" for p in answer.placements)) == answer


def test_after_a_spoiled_piece_what_is_cut_stays_cut():
    question = job([(3000.0, 700.0, 2), (2000.0, 500.0, 3), (900.0, 450.0, 4)], (COIL.but(length=30_000.0),))
    answer = nest(question)
    made = len(answer.cuts) // 2
    table = table_after(question, answer, made)
    free = [p for p in answer.placements if p.piece in table]
    after = after_cuts(question, answer, made)
    assert {(p.part, p.copy) for p in after.out} == {(p.part, p.copy) for p in free}
    parts = tuple(p.but(qty=p.qty - many) if many else p for p in question.parts for many in [
        sum(o.part == p.id for o in after.out[1:])] if p.qty > many)  # the first of them is spoiled
    left = question.but(parts=parts, stock=after.stock)
    assert sum(p.qty for p in left.parts) == 9 - len(free) + 1
    coil = next(stock for stock in left.stock if stock.kind == "coil")
    assert coil.length == pytest.approx(30_000.0 - table["coil 1"][1][0])
    again = nest(left)
    assert again.ok and faults(left, again.answer()) == []
    assert sum(s.box[2] * s.box[3] for s in left.stock if s.kind == "offcut") + sum(
        p.width * p.height for p in free) <= table["coil 1"][1][0] * 1220 + 1
    assert after_cuts(question, answer, 0) == AfterCuts((), question.stock, {"coil 1": 0.0})
    assert len(after_cuts(question, answer, len(answer.cuts)).out) == 9


def test_several_jobs_are_planned_as_one():
    one, other = job([(3000.0, 700.0, 2)]), job([(3000.0, 500.0, 2)], (COIL, SHEET.but(id="sheet")))
    whole = together({"loft": one, "shed": other})
    assert {part.id for part in whole.parts} == {"loft: P0", "shed: P0"} and len(whole.stock) == 2
    answer = nest(whole)
    assert faults(whole, answer.answer()) == [] and answer.objective < nest(one).objective + nest(other).objective
    rows = cuts_csv(answer).splitlines()
    assert rows[0] == "cut,piece,axis,at_mm,gives" and sum(row.startswith(("loft: P0", "shed: P0")) for row in rows) == 4
    assert [s.id for s in together({"a": one, "b": one.but(stock=(COIL.but(width=1000.0),))}).stock] == ["coil 1", "b: coil 1"]
    with pytest.raises(InputError):
        together({})


@given(st.lists(st.floats(0.02, 1.0), min_size=1, max_size=7), st.integers(1, 6))
def test_dual_feasible_functions_are_feasible(shares, k):
    """Whatever lies beside each other within the whole width comes to no more than the whole."""
    import numpy as np

    from yattle.coil.dual import _raised, _rounded

    x = np.array(shares) / max(1.0, sum(shares))
    for least in (0.1, 0.25, 0.4, 0.5):
        assert _raised(x, least).sum() <= 1 + 1e-6 and _rounded(_raised(x, least), k).sum() <= 1 + 1e-6
    assert _rounded(x, k).sum() <= 1 + 1e-6


def test_two_wide_pieces_never_lie_beside_each_other():
    """Ten of 620 in 1,220: area says 5.1 blocks, the dual function says ten."""
    answer = first_answer(job([(1000.0, 620.0, 10)]))
    assert answer.bound.proof == "dual" and answer.bound.value == pytest.approx(100.0) and answer.proved_best
