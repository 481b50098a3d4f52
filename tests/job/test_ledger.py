"""Coils and rack as a ledger: promised, taken, put back, counted, through CSV and back."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from samples import eaves_path
from yattle.coil import Stock, faults, nest
from yattle.derive.graph import derive
from yattle.errors import InputError
from yattle.job import load
from yattle.job.deeds import with_cuts_made
from yattle.job.ledger import plan_price, promises, stock_csv, stock_from_csv, with_counted

JOB = load(eaves_path())
DAY = "2026-11-28"


def test_a_plan_taken_off_the_stock_leaves_the_ledger_even():
    derived = derive(JOB)
    answer = derived.nest
    after = with_cuts_made(JOB, derived.nest_job, answer, DAY)
    for promise in promises(JOB.stock, answer):
        before = next(piece for piece in JOB.stock if piece.id == promise.stock)
        now = next((piece for piece in after.stock if piece.id == promise.stock), None)
        if before.kind == "coil" and before.length is not None:
            assert now.length == pytest.approx(before.length - promise.takes) and promise.left == now.length
        if before.kind == "offcut":
            assert now is None
    new = [piece for piece in after.stock if piece.id not in {old.id for old in JOB.stock}]
    assert len(new) == len(answer.offcuts) and all(piece.kind == "offcut" and piece.box[:2] == (0, 0) for piece in new)
    assert [entry.what for entry in after.ledger].count("out") == len(promises(JOB.stock, answer))
    assert [entry.stock for entry in after.ledger if entry.what == "in"] == [piece.id for piece in new]
    assert len({piece.id for piece in after.stock}) == len(after.stock)


def test_the_next_job_uses_the_rack_first():
    derived = derive(JOB)
    after = with_cuts_made(JOB, derived.nest_job, derived.nest, DAY)
    assert not derive(after).nest_job.parts and not derive(after).nest.used, "what is cut is not planned again"
    question = derive(after.but(cut=())).nest_job
    question = question.but(rules=question.rules.but(work=4))
    again = nest(question)
    assert faults(question, again.answer()) == []
    assert any(used.stock.startswith("off ") for used in again.used)


def test_counted_by_hand():
    coil = JOB.coil
    after = with_counted(JOB, coil.id, 12_000.0, DAY)
    assert after.coil.length == 12_000 and after.ledger[-1].what == "count" and after.ledger[-1].amount == 12_000
    with pytest.raises(InputError, match="counted"):
        with_counted(JOB, coil.id, -1.0, DAY)
    with pytest.raises(InputError, match="stock: found 'x'"):
        with_counted(JOB, "x", 1.0, DAY)


STOCK = st.one_of(
    st.builds(Stock, id=st.text("abc 12", min_size=1, max_size=6).map(str.strip).filter(bool), kind=st.just("coil"), metal=st.just("m 0.6"),
              width=st.floats(300, 1500), length=st.none() | st.floats(1000, 90000), lot=st.none() | st.just("L1"),
              cost_per_m=st.none() | st.floats(1, 30)),
    st.builds(Stock, id=st.just("sheet"), kind=st.just("sheet"), metal=st.just("m 0.6"), width=st.floats(300, 1500),
              length=st.floats(500, 4000), qty=st.integers(1, 9), cost=st.none() | st.just(0.0) | st.floats(0.01, 90)),
    st.just(Stock(id="off 3", kind="offcut", metal="m 0.6", outline=((0.0, 0.0), (700.5, 0.0), (650.0, 210.25), (0.0, 210.25)),
                  direction="unknown")))


@given(st.lists(STOCK, max_size=4, unique_by=lambda piece: piece.id))
def test_through_csv_and_back(stock):
    back = stock_from_csv(stock_csv(tuple(stock)))
    assert [piece.id for piece in back] == [piece.id for piece in stock]
    for a, b in zip(stock, back, strict=True):
        assert (a.kind, a.lot, a.qty, a.direction, a.outline) == (b.kind, b.lot, b.qty, b.direction, b.outline)
        assert b.width == pytest.approx(a.width) if a.width else b.width is None


@pytest.mark.parametrize(("text", "says"), [
    ("id,kind\nc,coil\n", "head line"), ("id,kind,metal,colour\n", "colour"), ("id,kind,metal,width_mm\nc,coil,m,wide\n", "'wide'"),
    ("id,kind,metal\nc,coil,m\n", "width of the coil"), ("id,kind,metal,width_mm\nc,coil,m,9\nc,coil,m,9\n", "twice"),
    ("id,kind,metal,outline_mm\no,offcut,m,1 2; x\n", "x y; x y")])
def test_wrong_lists_are_said_in_one_line(text, says):
    with pytest.raises(InputError) as wrong:
        stock_from_csv(text)
    assert says in str(wrong.value) and "\n" not in str(wrong.value)


def test_what_a_plan_costs_the_shop():
    answer = derive(JOB).nest
    price = plan_price(JOB, answer)
    assert [term.what for term in price.terms] == ["metal", f"{len(answer.cuts)} cuts", f"{len(answer.offcuts)} offcuts kept"]
    assert price.terms[1].amount == pytest.approx(len(answer.cuts) * 0.5 / 60 * 45) and price.terms[2].amount <= 0
    dearer = plan_price(JOB.but(shop=JOB.shop.but(an_hour=90.0)), answer)
    assert dearer.value > price.value
