"""Simulated annealing: a plan's blocks cut anew again and again by the compiled search, at a temperature that falls,
until the time or the work is up."""

from __future__ import annotations

import time
from collections.abc import Callable

import numpy as np

from yattle.coil.block import Spacing
from yattle.coil.budget import Budget
from yattle.coil.compiled import (
    ALONG_FIRST,
    BEST,
    BLOCKS,
    COLUMNS,
    COST,
    EPS,
    KIND,
    LIE,
    STATE,
    TALL,
    WIDE,
    CuttingRules,
    Floats,
    Plan,
    X,
    Y,
    cost_of,
    improve,
    seed,
)
from yattle.coil.job import NestRules
from yattle.coil.money import a_square_mm, besides
from yattle.coil.pricing import Block, block_of
from yattle.coil.tree import Leaf, Split, Tree, leaves
from yattle.coil.types import ItemType, StockType

MOST = 256  # pieces in a block that can be taken apart
_HOTTEST, _COLDEST = 0.03, 0.0004  # of a block's cost in the mean: how much worse a plan may get, at first and at last
_TRIES = 10_000  # for each piece
_MOST_TRIES = 3_000_000
_STEADY = 500  # tries between two looks where only they count
_TURN = 0.04  # seconds of tries between two looks at the clock


def tries_for(pieces: int) -> int:
    return min(_MOST_TRIES, _TRIES * pieces)


class Annealing:
    """The compiled search over ``blocks``; what it found stands in :attr:`best`."""

    def __init__(self, kinds: list[ItemType], sources: list[StockType], spacing: Spacing, blocks: list[Block],
                 rules: NestRules = NestRules()) -> None:  # noqa: B008 - a value that never changes
        self.kinds, self.sources, self.gap, self.rules = kinds, sources, spacing.gap, rules
        self.given = [block for block in blocks if _many(block) <= MOST and len(block.rows) == 1]
        self.kept = [block for block in blocks if not (_many(block) <= MOST and len(block.rows) == 1)]
        self.shop = self._shop(spacing)
        self.plan, self._best = self._laid_out(), self._laid_out()

    def _shop(self, spacing: Spacing) -> CuttingRules:
        size = np.zeros((len(self.kinds), 2, 2))
        for k, kind in enumerate(self.kinds):
            for n, lie in enumerate(kind.orientations[:2]):
                size[k, n] = lie.along, lie.across
        allowed = np.zeros((len(self.sources), len(self.kinds)), np.bool_)
        for s, source in enumerate(self.sources):
            allowed[s, list(source.kinds)] = True
        taken = [sum(block.length + self.gap if source.endless else 1.0 for block in self.kept if block.source == s)
                 for s, source in enumerate(self.sources)]
        room = [min(source.length, 1e12) if source.endless else float(source.most) for source in self.sources]
        return CuttingRules(size, np.array([min(2, len(kind.orientations)) for kind in self.kinds]),
                            size[:, 0, 0] * size[:, 0, 1],
                            self._each("across"), self._each("longest"), self._each("price"), self._each("fixed"),
                            np.array([source.endless for source in self.sources]), np.array(room) - np.array(taken),
                            allowed,
                            spacing.gap, spacing.sliver, *self._money())

    def _money(self) -> tuple[float, Floats, float, float]:
        """What a cut costs, what a mm² of each source is worth when kept, and the least sides of what is kept."""
        short, long = sorted(self.rules.min_offcut)
        if self.rules.objective != "money":
            return 0.0, np.zeros(len(self.sources)), short, long
        worth = [a_square_mm(source) * self.rules.offcuts_worth for source in self.sources]
        return self.rules.cut_cost, np.array(worth), short, long

    def _each(self, name: str) -> Floats:
        return np.array([float(getattr(source, name)) for source in self.sources])

    def _laid_out(self) -> Plan:
        pieces = max(sum(_many(block) for block in self.given), 1)
        count, most = min(2 * len(self.given) + 64, pieces + 64), min(pieces, MOST)
        plan = Plan(np.zeros(count, np.int64), np.zeros(count), np.zeros(count, np.int64),
                    np.zeros((count, most, COLUMNS)), np.zeros(count), np.full(count, -1), np.zeros(count),
                    np.zeros(len(self.sources)), np.zeros(STATE))
        for b, block in enumerate(self.given):
            plan.source[b], plan.length[b], plan.filled[b], plan.origin[b] = block.source, block.length, block.filled, b
            found = [leaf for leaf, _, _ in leaves(block.rows[0][1], self.gap)]
            plan.many[b] = len(found)
            plan.rows[b, :len(found), KIND] = [leaf.item for leaf in found]
            plan.used[block.source] += block.length + self.gap if self.sources[block.source].endless else 1.0
            plan.extra[b] = besides(block, self.sources[block.source], self.rules, self.gap)
            plan.state[COST] += cost_of(self.shop, block.source, block.length) + plan.extra[b]
        plan.state[BLOCKS], plan.state[BEST] = len(self.given), plan.state[COST]
        return plan

    def run(self, budget: Budget, start: int, temperature: float = 1.0,
            stop: Callable[[], bool] = lambda: False) -> None:
        """Cool down over ``budget``, from ``temperature`` times the usual temperature; ``start`` seeds the chance;
        ``stop`` is asked between turns. The temperature is in units of the plans' cost."""
        steps = int(budget.steps or 0)
        if not self.given:
            budget.done = steps
            return
        seed(start)
        turn = 50 if budget.timed else _STEADY
        mean = self.plan.state[COST] / self.plan.state[BLOCKS]
        while budget.done < steps and (share := budget.share()) < 1 and not stop():
            turn = min(turn, steps - budget.done)
            began = time.perf_counter()
            improve(turn, mean * _HOTTEST * temperature * (_COLDEST / _HOTTEST / temperature) ** share, self.shop,
                    self.plan, self._best)
            budget.done += turn
            took = time.perf_counter() - began
            if not budget.timed:
                continue
            turn = max(20, min(20_000, int(turn * min(2.0, _TURN / max(took, 1e-6)))))

    @property
    def cost(self) -> float:
        """Of the cheapest plan seen, blocks kept aside left out, in units of the objective (money or m²)."""
        return float(self.plan.state[BEST])

    @property
    def best(self) -> list[Block]:
        """The cheapest plan seen."""
        plan, made = self._best, list(self.kept)
        for b in range(int(plan.state[BLOCKS])):
            if plan.origin[b] >= 0:
                made.append(self.given[plan.origin[b]])
                continue
            source = int(plan.source[b])
            tree = self._tree(plan.rows[b, :plan.many[b]], 1e9, self.sources[source].across)
            made.append(block_of(source, [(float(plan.length[b]), tree)], float(plan.length[b]), self.gap))
        return made

    def _tree(self, rows: Floats, long: float, across: float) -> Tree:
        """A block's rows as a tree of cuts (``long`` as it was begun or more): every piece is found by the corner of
        the rectangle it lies in."""
        at = {(round(float(row[X]), 4), round(float(row[Y]), 4)): row for row in rows}

        def rect(x: float, y: float, w: float, h: float) -> Tree:
            row = at.get((round(x, 4), round(y, 4))) if min(w, h) > EPS else None
            if row is None:
                return None
            wide, tall = float(row[WIDE]), float(row[TALL])
            leaf = Leaf(int(row[KIND]), self.kinds[int(row[KIND])].orientations[int(row[LIE])])
            right, top = (x + wide + self.gap, w - wide - self.gap), (y + tall + self.gap, h - tall - self.gap)
            if row[ALONG_FIRST]:
                return Split(False, tall, Split(True, wide, leaf, rect(right[0], y, right[1], tall)),
                             rect(x, top[0], w, top[1]))
            return Split(True, wide, Split(False, tall, leaf, rect(x, top[0], wide, top[1])),
                         rect(right[0], y, right[1], h))
        return rect(0.0, 0.0, long, across)


def _many(block: Block) -> int:
    return sum(qty for _, qty in block.counts)
