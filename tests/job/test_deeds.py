"""A shop played at random: whatever is planned, cut, spoiled, edited and taken back, metal and pieces add up."""

from __future__ import annotations

import copy
import random

import pytest

from samples import eaves_path
from yattle.coil import Stock
from yattle.coil.by_hand import after_cuts
from yattle.coil.job import ring_area
from yattle.derive import derive
from yattle.errors import InputError
from yattle.job import load
from yattle.job.deeds import cuts_of, shape_of, with_cuts_made
from yattle.job.states import further, spoiled, states_of

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


def free_pieces(asked, answer, made):
    """Which (part, copy) are cut after the first cuts."""
    return [(place.part, place.copy) for place in after_cuts(asked, answer, made).out]


class Shop:
    """A shop that is played: its job, all the metal that ever came in, and what was cut and lost of it."""

    def __init__(self, job):
        self.job, self.came_in, self.spoils, self.lost, self.waste, self.extra = job, metal(job), 0, 0.0, 0.0, 0
        self.areas = {}  # m² of a piece in the shape it was cut in

    def copy(self):
        return copy.copy(self)

    def wanted(self):
        return derive(self.job.but(cut=())).nest_job.parts

    def cut(self, made, lost=()):
        asked, plan = derive(self.job).nest_job, derive(self.job).nest
        area = {part.id: part.area / 1e6 for part in asked.parts}
        self.areas |= {(part.id, shape_of(part.outline, part.holes)): part.area / 1e6 for part in asked.parts}
        before = metal(self.job)
        out = plan.placements if made is None or not plan.cuts else after_cuts(asked, plan, made).out
        self.job = with_cuts_made(self.job, asked, plan, DAY, made, lost)
        self.spoils += len(lost)
        self.lost += sum(area[part] for part, _ in lost)
        self.waste += before - metal(self.job) - sum(area[place.part] for place in out)

    def holds(self):
        """What must be true after every deed."""
        job = self.job
        assert len({piece.id for piece in job.stock}) == len(job.stock)
        names = [entry.stock for entry in job.ledger if entry.what == "in"]
        assert len(set(names)) == len(names), "a used-up name is never given again"
        wanted = {part.id: part for part in self.wanted()}
        left = {part.id: part.qty for part in derive(job).nest_job.parts}
        for state in states_of(job, wanted.values()).values():
            assert 0 <= state.fitted <= state.folded <= state.cut <= state.wanted, "nothing is cut twice"
            assert left.get(state.piece, 0) + state.cut == state.wanted, "what is cut is not planned again"
        pieces = sum(self.areas[done.piece, done.shape] * done.copies for done in job.cut)
        assert self.came_in == pytest.approx(metal(job) + pieces + self.lost + self.waste, abs=0.01), (
            "metal in is pieces, rests, spoiled and waste")
        assert self.waste > -0.01, "metal does not come from nowhere"
        lots = {}
        for part in wanted.values():
            for done in cuts_of(job, part) if part.match else ():
                lots.setdefault(part.match, set()).add(done.lot)
        assert all(len(found) == 1 for found in lots.values()), "no face on two lots"
        assert sum(entry.what == "spoiled" for entry in job.log) == self.spoils


def play(seed, steps, job=JOB):
    """A shop played at random, everything held after every deed."""
    draw = random.Random(seed)
    start = job.but(stock=tuple(p if p.kind != "coil" or p.length else p.but(length=90_000.0) for p in job.stock))
    shops = [Shop(start)]
    for _ in range(steps):
        shop = shops[-1].copy()
        plan, parts = derive(shop.job).nest, shop.wanted()
        asked, part = derive(shop.job).nest_job, draw.choice(parts)
        deed = draw.choice(["cut", "cut", "spoil", "undo", "edit", "take", "fold", "fold", "fit", "lost", "lot"])
        if deed == "undo" and len(shops) > 1:
            shops.pop()
            continue
        if deed == "edit":
            shop.job = shop.job.but(weather=draw.choice(["left", "right"]), colour=draw.choice(["sand", "moss"]))
        elif deed in ("fold", "fit", "lost"):
            try:
                shop.job = (spoiled(shop.job, part, DAY, "slipped") if deed == "lost" else
                            further(shop.job, part, "folded" if deed == "fold" else "fitted"))
            except InputError:
                continue
            if deed == "lost":
                shop.spoils, shop.lost = shop.spoils + 1, shop.lost + part.area / 1e6
        elif deed == "lot":
            shop.extra += 1
            more = Stock(id=f"coil of {seed} {shop.extra}", kind="coil", width=draw.choice([1000.0, 1220.0, 1250.0]),
                         length=draw.uniform(5000, 40_000), metal=job.metal_name, lot=f"lot {draw.randint(1, 3)}")
            shop.job, shop.came_in = shop.job.but(stock=(*shop.job.stock, more)), shop.came_in + metal(job.but(stock=(more,)))
        elif plan.cuts and deed in ("cut", "spoil"):
            made = draw.randint(1, len(plan.cuts))
            free = free_pieces(asked, plan, made)
            shop.cut(made, (draw.choice(free),) if free and deed == "spoil" else ())
        elif plan.used:
            shop.cut(None)
        shop.holds()
        shops = [*shops[-40:], shop]
    return shops[-1]


@pytest.mark.parametrize("seed", range(8))
def test_a_shop_at_random(seed):
    assert play(seed, 16).job.ledger


def test_a_plan_of_other_stock_is_not_taken():
    derived = derive(JOB)
    with pytest.raises(InputError, match="changed since the plan was made"):
        with_cuts_made(JOB.but(stock=JOB.stock[:1]), derived.nest_job, derived.nest, DAY)
    coil = next(p for p in JOB.stock if p.kind == "coil")
    shorter = tuple(p.but(length=900.0) if p is coil else p for p in JOB.stock)
    with pytest.raises(InputError, match=f"stock: found {coil.id} changed"):
        with_cuts_made(JOB.but(stock=shorter), derived.nest_job, derived.nest, DAY)
    dearer = tuple(p.but(cost_per_m=99.0) if p is coil else p for p in JOB.stock)
    assert with_cuts_made(JOB.but(stock=dearer), derived.nest_job, derived.nest, DAY).cut, "a price changes no cut"


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
