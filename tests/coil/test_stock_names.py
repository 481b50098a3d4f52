"""Names of stock pieces that cannot meet each other, rests of snips, floors of irregular pieces, tight coils."""

from __future__ import annotations

import random

import pytest
import shapely

from yattle.coil import NestJob, NestRules, Part, Stock, nest
from yattle.coil.by_hand import after_cuts
from yattle.coil.check import faults
from yattle.coil.job import ring_area
from yattle.coil.names import names_by_id, pieces_of
from yattle.coil.tight import endless, is_tight
from yattle.coil.together import names_of, together
from yattle.errors import InputError

L_SHAPE = ((0.0, 0.0), (2000.0, 0.0), (2000.0, 400.0), (700.0, 400.0), (700.0, 1000.0), (0.0, 1000.0))


def rect(wide, high):
    return (0.0, 0.0), (wide, 0.0), (wide, high), (0.0, high)


def part(name, wide, high, qty=1, **more):
    return Part(id=name, outline=rect(wide, high), qty=qty, metal="m", **more)


def sheet(name, wide, high, **more):
    return Stock(id=name, kind="sheet", width=high, length=wide, metal="m", **more)


@pytest.mark.parametrize("cutting", ["shear", "snips"])
def test_a_sheet_named_like_the_second_of_three_is_another_one(cutting):
    """"S" three times and "S 2", "off" and "off 1", and a coil that is called like a piece off the shear."""
    stock = (sheet("S", 1000.0, 500.0, qty=3), sheet("S 2", 300.0, 200.0), sheet("k1", 1000.0, 500.0),
             Stock(id="off", kind="offcut", outline=rect(400.0, 300.0), metal="m"),
             Stock(id="off 1", kind="offcut", outline=rect(150.0, 100.0), metal="m"))
    assert list(pieces_of(stock)) == ["S .1", "S .2", "S .3", "S 2", "k1", "off", "off 1"]
    assert names_by_id(stock)["S"] == ("S .1", "S .2", "S .3")
    job = NestJob(stock=stock, parts=(part("P", 900.0, 450.0, 4), part("Q", 140.0, 90.0, 3)),
                  rules=NestRules(cutting=cutting, seconds=1.0))
    answer = nest(job)
    assert not faults(job, answer.answer()) and not answer.unplaced
    assert len({(p.part, p.copy) for p in answer.placements}) == 7 == len(answer.placements)
    assert all(used.stock in pieces_of(stock) for used in answer.used)


def test_snips_keep_their_rests_by_true_outline():
    """A part of 300 × 200 off a sheet of 2 m²: all the rest is kept; off a coil, what stands beside it."""
    job = NestJob(stock=(sheet("A", 2000.0, 1000.0),), parts=(part("P", 300.0, 200.0),), rules=NestRules(cutting="snips", seconds=1.0))
    answer = nest(job)
    assert not faults(job, answer.answer())
    assert sum(abs(ring_area(o.outline)) for o in answer.offcuts) == pytest.approx(2e6 - 6e4, rel=0.01)
    coil = NestJob(stock=(Stock(id="c", kind="coil", width=1000.0, metal="m"),), parts=(part("P", 1500.0, 400.0),),
                   rules=NestRules(cutting="snips", seconds=1.0, gap=5.0))
    kept = nest(coil).offcuts
    assert sum(abs(ring_area(o.outline)) for o in kept) == pytest.approx(1500 * 595, rel=0.02)


def test_rests_of_snips_overlap_nothing_and_have_no_holes():
    for seed in range(6):
        draw = random.Random(seed)
        parts = tuple(Part(id=f"P{n}", outline=((0.0, 0.0), (draw.uniform(200, 700), 0.0), (draw.uniform(50, 300), draw.uniform(150, 500))),
                           qty=draw.randint(1, 3), metal="m", turns=(0.0, 90.0)) for n in range(4))
        job = NestJob(stock=(sheet("A", 2000.0, 1000.0, qty=2), Stock(id="off", kind="offcut", outline=L_SHAPE, metal="m")), parts=parts,
                      rules=NestRules(cutting="snips", seconds=0.6))
        answer = nest(job)
        assert not faults(job, answer.answer()), seed
        metal = sum(used.area for used in answer.used)
        placed = sum(p.area * p.qty for p in parts) / 1e6
        assert 0 < sum(abs(ring_area(o.outline)) for o in answer.offcuts) / 1e6 <= metal - placed + 1e-6


def test_what_is_left_of_an_l_is_an_l():
    """A part off the foot of an L-shaped rest: on the floor is the metal that is there, not its rectangle."""
    job = NestJob(stock=(Stock(id="off", kind="offcut", outline=L_SHAPE, metal="m"), Stock(id="c", kind="coil", width=500.0, metal="m")),
                  parts=(part("P", 600.0, 350.0, 1), part("Q", 490.0, 380.0, 2)), rules=NestRules(cutting="shear", work=60))
    answer = nest(job)
    whole = shapely.Polygon(L_SHAPE).area
    for made in range(len(answer.cuts) + 1):
        after = after_cuts(job, answer, made)
        floor = [s for s in after.stock if s.kind == "offcut" and s.id.startswith("off")]
        area = sum(abs(ring_area(s.outline)) for s in floor)
        assert area <= whole + 1e-6 and (not after.out or area < whole)


@pytest.mark.parametrize("seed", range(2))
def test_what_fits_coils_of_a_length_is_placed(seed):
    """Two coils that the plan on an endless one would fit, block by block: nothing stays without a place."""
    draw = random.Random(seed)
    parts = tuple(part(f"P{n}", draw.choice([3000.0, 2400.0, draw.uniform(400, 3000)]), draw.uniform(60, 600), draw.randint(1, 12))
                  for n in range(draw.randint(6, 14)))
    rules = NestRules(cutting="shear", seconds=1.5)
    whole = nest(NestJob(stock=(Stock(id="c", kind="coil", width=1220.0, metal="m"),), parts=parts, rules=rules))
    half = sum(used.length for used in whole.used) / 2 + 1600.0
    coils = tuple(Stock(id=name, kind="coil", width=1220.0, length=half, metal="m") for name in "ab")
    job = NestJob(stock=coils, parts=parts, rules=rules)
    answer = nest(job)
    assert not answer.unplaced and not faults(job, answer.answer())
    assert [s.length for s in endless(job).stock] == [None] and not is_tight(job, answer)


@pytest.mark.parametrize(("kinds", "many"), [(4000, 1), (40, 100)])
def test_thousands_of_pieces_keep_to_their_seconds(kinds, many):
    """Whatever is given: a valid plan within its seconds, and one more."""
    draw = random.Random(1)
    parts = tuple(part(f"P{n}", draw.uniform(200, 3000), draw.uniform(60, 600), many) for n in range(kinds))
    job = NestJob(stock=(Stock(id="c", kind="coil", width=1220.0, metal="m"),), parts=parts, rules=NestRules(cutting="shear", seconds=3.0))
    answer = nest(job)
    assert answer.seconds < 6.5 and not answer.unplaced, "4 s on an idle machine; here other tests work beside it"
    assert len({(p.part, p.copy) for p in answer.placements}) == kinds * many


def test_jobs_together_keep_all_jobs_and_one_price():
    """Three jobs, two of one name; the same coil once; another price, or none beside others, is said."""
    coil = Stock(id="c", kind="coil", width=1000.0, metal="m", cost_per_m=12.0)
    job = NestJob(stock=(coil,), parts=(part("P", 500.0, 300.0, 2),))
    names = names_of(["shed", "loft", "shed"])
    whole = together(dict(zip(names, (job, job, job.but(stock=(coil.but(cost_per_m=None),))), strict=True)))
    assert [p.id for p in whole.parts] == ["shed 1: P", "loft: P", "shed 3: P"] and whole.stock == (coil,)
    with pytest.raises(InputError, match=r"at 12 and at 13\.5"):
        together({"a": job, "b": job.but(stock=(coil.but(cost_per_m=13.5),))})
    with pytest.raises(InputError, match="without a price"):
        together({"a": job, "b": job.but(stock=(coil.but(id="d", cost_per_m=None),))})
