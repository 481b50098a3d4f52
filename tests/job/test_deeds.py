"""A shop played at random: whatever is planned, cut, spoiled, edited and taken back, metal and pieces add up."""

from __future__ import annotations

import random

import pytest

from samples import eaves_path
from yattle.coil.by_hand import still_to_cut
from yattle.coil.job import ring_area
from yattle.derive import derive
from yattle.errors import InputError
from yattle.job import load
from yattle.job.deeds import cut_of, with_cuts_made

JOB, DAY = load(eaves_path()), "2026-11-28"


def metal(job):
    """m² of all stock; coils without an end are told apart by the ledger."""
    area = 0.0
    for piece in job.stock:
        if piece.kind == "coil":
            area += (piece.length or 0.0) * piece.width
        else:
            area += piece.qty * (abs(ring_area(piece.outline)) if piece.outline else piece.length * piece.width)
    return area / 1e6


def pieces_area(job):
    area = {p.id: p.area for p in derive(job.but(cut=())).nest_job.parts}
    return sum(area[done.piece] * done.copies for done in job.cut) / 1e6


def free_pieces(asked, answer, made):
    """Which (part, copy) are cut after the first cuts."""
    for place in answer.placements:
        try:
            still_to_cut(asked, answer, made, ((place.part, place.copy),))
        except InputError:
            continue
        yield place.part, place.copy


def holds(job, start, spoiled):
    """What must be true after every deed."""
    assert len({piece.id for piece in job.stock}) == len(job.stock)
    names = [entry.stock for entry in job.ledger if entry.what == "in"]
    assert len(set(names)) == len(names), "a used-up name is never given again"
    wanted = {p.id: p.qty for p in derive(job.but(cut=())).nest_job.parts}
    for done in job.cut:
        assert done.copies <= wanted[done.piece], "nothing is cut twice"
    left = {p.id: p.qty for p in derive(job).nest_job.parts}
    assert all(left.get(name, 0) + cut_of(job, part) == part.qty for part in derive(job.but(cut=())).nest_job.parts
               for name in [part.id])
    waste = metal(start) - metal(job) - pieces_area(job)
    assert waste > -0.01, "metal does not come from nowhere"
    for coil in (piece for piece in start.stock if piece.kind == "coil" and piece.length):
        out = sum(entry.amount for entry in job.ledger if entry.stock == coil.id and entry.what == "out")
        now = next((piece.length for piece in job.stock if piece.id == coil.id), 0.0)
        assert coil.length - out == pytest.approx(now, abs=1.5)
    assert sum(entry.what == "spoiled" for entry in job.log) == spoiled


@pytest.mark.parametrize("seed", range(8))
def test_a_shop_at_random(seed):
    draw = random.Random(seed)
    start = JOB.but(stock=tuple(p if p.kind != "coil" or p.length else p.but(length=90_000.0) for p in JOB.stock))
    jobs, spoils = [start], [0]
    for _ in range(14):
        job, spoiled = jobs[-1], spoils[-1]
        asked, plan = derive(job).nest_job, derive(job).nest
        deed = draw.choice(["cut", "cut", "spoil", "undo", "edit", "take"])
        if deed == "undo" and len(jobs) > 1:
            jobs.pop()
            spoils.pop()
            continue
        if deed == "edit":
            job = job.but(weather=draw.choice(["left", "right"]), colour=draw.choice(["sand", "moss"]))
        elif plan.cuts and deed in ("cut", "spoil"):
            made = draw.randint(1, len(plan.cuts))
            free = list(free_pieces(asked, plan, made))
            lost = (draw.choice(free),) if free and deed == "spoil" else ()
            job, spoiled = with_cuts_made(job, asked, plan, DAY, made, lost), spoiled + len(lost)
        elif plan.used:
            job = with_cuts_made(job, asked, plan, DAY)
        holds(job, start, spoiled)
        jobs.append(job)
        spoils.append(spoiled)


def test_a_plan_of_other_stock_is_not_taken():
    derived = derive(JOB)
    with pytest.raises(InputError, match="stock"):
        with_cuts_made(JOB.but(stock=JOB.stock[:1]), derived.nest_job, derived.nest, DAY)


def test_cut_by_hand_leaves_its_rests_on_the_rack():
    job = JOB.but(rules=JOB.rules.but(cutting="snips"))
    derived = derive(job)
    after = with_cuts_made(job, derived.nest_job, derived.nest, DAY)
    assert not derive(after).nest_job.parts and metal(after.but(stock=tuple(p for p in after.stock if p.kind != "coil"))) > 0
    assert {entry.what for entry in after.ledger} >= {"out"}


def test_a_piece_cut_in_another_shape_is_planned_again():
    derived = derive(JOB)
    after = with_cuts_made(JOB, derived.nest_job, derived.nest, DAY)
    wider = after.but(own=after.own.but(flange=100.0))
    assert len(derive(wider).nest_job.parts) == len(derived.nest_job.parts)
