"""A piece is planned, cut, folded, fitted, or spoiled; a face stays on its lot; a sheet has a history."""

from __future__ import annotations

import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from samples import eaves_path
from yattle.coil import Stock, first_answer
from yattle.coil.job import Begun
from yattle.coil.lots import lots_of
from yattle.derive import derive
from yattle.errors import InputError
from yattle.job import Job, demo_path, load
from yattle.job.deeds import with_cuts_made
from yattle.job.states import PieceState, back, further, spoiled, state_of, states_of

DAY = "2026-11-29"
EAVES = load(eaves_path())


def all_parts(job):
    return derive(job.but(cut=())).nest_job.parts


def all_cut(job=EAVES):
    derived = derive(job)
    return with_cuts_made(job, derived.nest_job, derived.nest, DAY)


def test_from_planned_to_fitted_and_spoiled_again():
    job = EAVES
    part = all_parts(job)[0]
    assert state_of(job, part).state == "planned"
    with pytest.raises(InputError, match="at most 0: so many are cut and not yet folded"):
        further(job, part, "folded")
    job = all_cut(job)
    assert state_of(job, part).state == "cut"
    with pytest.raises(InputError, match="folded and not yet fitted"):
        further(job, part, "fitted")
    job = further(further(job, part, "folded", part.qty), part, "fitted", part.qty)
    assert state_of(job, part).state == "fitted" == state_of(job, part).says()
    assert state_of(back(job, part, "fitted"), part).fitted == part.qty - 1
    lost = spoiled(job, part, DAY, "fell off the roof")
    assert lost.log[-1].what == "spoiled" and (lost.log[-1].of, lost.log[-1].text) == (part.id, "fell off the roof")
    assert {p.id: p.qty for p in derive(lost).nest_job.parts} == {part.id: 1}, "it is planned again, and nothing else"
    with pytest.raises(InputError, match="spoiled"):
        spoiled(lost, part, DAY, copies=part.qty)


@given(st.lists(st.sampled_from(["fold", "fit", "unfold", "unfit", "spoil"]), max_size=30), st.integers(0, 10**6))
def test_counts_stay_in_turn_whatever_is_ticked(deeds, seed):
    job, draw = CUT, random.Random(seed)
    for deed in deeds:
        part = draw.choice(PARTS)
        before = state_of(job, part)
        try:
            job = {"fold": lambda job, part: further(job, part, "folded"), "fit": lambda job, part: further(job, part, "fitted"),
                   "unfold": lambda job, part: back(job, part, "folded"), "unfit": lambda job, part: back(job, part, "fitted"),
                   "spoil": lambda job, part: spoiled(job, part, DAY)}[deed](job, part)
        except InputError:
            assert state_of(job, part) == before
            continue
        now = state_of(job, part)
        assert 0 <= now.fitted <= now.folded <= now.cut <= now.wanted
        assert now != before and sum(abs(getattr(now, f) - getattr(before, f)) for f in ("cut", "folded", "fitted")) <= 3
    Job.model_validate_json(job.model_dump_json())
    assert sum(entry.what == "spoiled" for entry in job.log) == sum(part.qty for part in PARTS) - sum(
        state.cut for state in states_of(job, PARTS).values())


CUT, PARTS = all_cut(), all_parts(EAVES)


def test_what_a_job_file_says_of_pieces_is_checked():
    text = CUT.model_dump_json().replace('"folded":0', '"folded":99', 1)
    with pytest.raises(ValueError, match="at most 1: a piece is cut, then folded"):
        Job.model_validate_json(text)


def test_words_of_several_copies():
    assert PieceState("A", 3, 2, 1).says() == "2 of 3 cut, 1 folded" and PieceState("A", 3).says() == "planned"
    assert PieceState("A", 3, 3, 3, 1).says() == "3 of 3 cut, 3 folded, 1 fitted" and PieceState("A", 3, 3, 3, 1).state == "folded"


def test_a_sheet_has_a_history():
    """Every cut piece names the stock it came from, and the area of what came from one is no more than it had."""
    made = {done.stock for done in CUT.cut}
    assert made <= {piece.id for piece in EAVES.stock} and made
    assert {(done.stock, done.lot) for done in CUT.cut} <= {(piece.id, piece.lot) for piece in EAVES.stock}


def two_lots():
    job = load(demo_path())
    coil = next(piece for piece in job.stock if piece.kind == "coil")
    stock = tuple(coil.but(id=f"coil {lot}", lot=lot, length=length, cost=None) for lot, length in (("L1", 60_000.0), ("L2", 55_000.0)))
    return job.but(stock=stock, cut=(), ledger=(), rules=job.rules.but(work=1))


def faces_of(job):
    """Match text → lots its pieces were cut from."""
    found = {}
    parts = {part.id: part for part in all_parts(job)}
    for done in job.cut:
        if parts[done.piece].match:
            found.setdefault(parts[done.piece].match, set()).add(done.lot)
    return found


@pytest.mark.parametrize("seed", range(2))
def test_a_face_stays_on_the_lot_it_was_begun_on(seed):
    """Some cuts, a piece spoiled, another coil much longer than the rest comes in, planned and cut on: one lot a face."""
    job, draw = two_lots(), random.Random(seed)
    derived = derive(job)
    made = draw.randint(2, len(derived.nest.cuts) - 1)
    job = with_cuts_made(job, derived.nest_job, derived.nest, DAY, made)
    begun = faces_of(job)
    assert begun
    wide = Stock(id="new", kind="coil", width=1250.0, length=200_000.0, metal=job.metal_name, lot="L3")
    job = job.but(stock=(*job.stock, wide))
    asked = derive(job).nest_job
    assert {one.match: {one.lot} for one in asked.begun} == begun
    job = with_cuts_made(job, asked, derive(job).nest, DAY)
    lots = faces_of(job)
    assert all(len(found) == 1 for found in lots.values()) and all(lots[face] == begun[face] for face in begun)


def test_a_lot_that_is_used_up_is_said_and_no_other_is_taken():
    job = two_lots()
    asked = derive(job).nest_job
    face = next(part.match for part in asked.parts if part.match)
    gone = asked.but(begun=(Begun(match=face, lot="L9", stock="coil L9"),))
    assert lots_of(gone)[face] == ("L9",)
    answer = first_answer(gone)
    left = {one.part: one.reason for one in answer.unplaced}
    assert set(left) == {part.id for part in asked.parts if part.match == face} and set(left.values()) == {"lot"}
