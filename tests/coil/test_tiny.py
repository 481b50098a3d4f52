"""Jobs so small that every way of cutting can be tried: the plan is the best of them, the bound is never over it."""

from __future__ import annotations

import json
import random
from functools import cache
from itertools import combinations

import pytest

from yattle.coil import NestJob, NestRules, Part, Stock, faults, nest

ACROSS, LONGEST = 1220.0, 3200.0
Size = tuple[float, float]


def halves(pieces: tuple[int, ...]):
    """Every way to part them in two, the first one always in the first half."""
    first, *rest = pieces
    for many in range(len(rest)):
        for chosen in combinations(rest, many):
            yield (first, *chosen), tuple(n for n in rest if n not in chosen)


class Everything:
    """The least length for pieces out of a width, by edge-to-edge cuts in any number of stages; pieces as (along, across) in
    each way they may lie."""

    def __init__(self, ways: list[list[Size]], gap: float = 0.0) -> None:
        self.ways, self.gap = ways, gap

    @cache  # noqa: B019 - lives as long as its test
    def length(self, pieces: tuple[int, ...], across: float) -> float:
        if len(pieces) == 1:
            return min((long for long, wide in self.ways[pieces[0]] if wide <= across + 1e-9), default=float("inf"))
        found = [float("inf")]
        for one, other in halves(pieces):
            found.append(self.length(one, across) + self.gap + self.length(other, across))
            for wide in self.widths(one):
                if wide + self.gap < across:
                    found.append(max(self.length(one, wide), self.length(other, across - wide - self.gap)))
        return min(found)

    def widths(self, pieces: tuple[int, ...]) -> set[float]:
        """Widths that a part of them side by side may come to."""
        sums = {0.0}
        for n in pieces:
            sums |= {round(before + wide + (self.gap if before else 0.0), 6) for before in sums for _, wide in self.ways[n]}
        return sums - {0.0}

    @cache  # noqa: B019
    def coil(self, pieces: tuple[int, ...]) -> float:
        """The least length of coil, in blocks that are no longer than the shear takes."""
        if not pieces:
            return -self.gap
        found = [float("inf")]
        for one, other in [*halves(pieces), (pieces, ())]:
            block = self.length(one, ACROSS)
            if block <= LONGEST + 1e-9:
                found.append(block + self.gap + self.coil(other))
        return min(found)


def asked(ways: list[list[Size]], **rules) -> NestJob:
    parts = tuple(Part(id=f"P{n}", outline=((0.0, 0.0), (long, 0.0), (long, wide), (0.0, wide)), metal="m",
                       turns=(0.0, 90.0) if len(sizes) > 1 else (0.0, 180.0)) for n, sizes in enumerate(ways) for long, wide in sizes[:1])
    coil = Stock(id="coil", kind="coil", width=ACROSS, metal="m", cost_per_m=10.0)
    return NestJob(stock=(coil,), parts=parts, rules=NestRules(**{"max_crosscut": LONGEST, "work": 20, "seconds": 20.0, **rules}))


def drawn(seed: int, turned: bool) -> list[list[Size]]:
    draw = random.Random(seed)
    sizes = [(draw.choice([400.0, 700.0, 900.0, 1100.0]) if turned else draw.choice([600.0, 1100.0, 1500.0, 2100.0, 3000.0]),
              draw.choice([210.0, 330.0, 405.0, 520.0, 610.0, 800.0])) for _ in range(draw.randint(3, 6))]
    return [[size, size[::-1]] if turned and size[0] != size[1] else [size] for size in sizes]


@pytest.mark.parametrize("gap", [0.0, 4.0])
@pytest.mark.parametrize("seed", range(5))
def test_the_plan_is_the_best_of_all_ways_to_cut(seed, gap):
    ways = drawn(seed, turned=False)
    least = Everything(ways, gap).coil(tuple(range(len(ways)))) / 100
    job = asked(ways, gap=gap)
    answer = nest(job)
    assert faults(job, json.loads(json.dumps(answer.answer()))) == []
    assert answer.objective == pytest.approx(least, abs=1e-6)
    assert answer.bound.value <= least + 1e-6


@pytest.mark.parametrize("seed", range(5))
def test_also_where_pieces_may_be_turned(seed):
    ways = drawn(100 + seed, turned=True)
    least = Everything(ways).coil(tuple(range(len(ways)))) / 100
    job = asked(ways)
    answer = nest(job)
    assert faults(job, json.loads(json.dumps(answer.answer()))) == []
    assert least - 1e-6 <= answer.objective <= least * 1.02 and answer.bound.value <= least + 1e-6


def test_all_ways_are_told_right_by_hand():
    """Two of 600 × 610 lie side by side, a third behind them: 1,200. With 4 mm between they do not: 610 + 4 + 610 is too wide."""
    pieces = [[(600.0, 610.0)]] * 3
    assert Everything(pieces).coil((0, 1, 2)) == pytest.approx(1200.0)
    assert Everything(pieces, 4.0).coil((0, 1, 2)) == pytest.approx(1808.0)
    lying = [[(900.0, 400.0), (400.0, 900.0)], [(300.0, 800.0), (800.0, 300.0)]]
    assert Everything(lying).coil((0, 1)) == pytest.approx(700.0)  # both across, one behind the other
