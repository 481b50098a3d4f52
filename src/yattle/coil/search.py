"""The program over blocks: blocks made to its prices, whole numbers of them, the best choice of all that are known."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from yattle.coil.block import Spacing
from yattle.coil.budget import Budget
from yattle.coil.master import Master, without_surplus
from yattle.coil.pricing import Block, best_blocks, fine
from yattle.coil.types import ItemType, StockType

Floats = NDArray[np.float64]
_ROUNDS = 100  # of making blocks
_AT_ONCE = 10  # new blocks of a source in one round
_FEW = 30  # blocks in a plan up to which all that were made are chosen from at once
_KINDS = 300  # up to so many are looked at all together
_NEAR = 1e-9


class BlockSearch:
    """Of one metal: ``kinds`` and what they come from. ``found`` tells every better plan as it comes."""

    def __init__(self, kinds: list[ItemType], sources: list[StockType], spacing: Spacing, budget: Budget,
                 found: Callable[[list[Block]], None] = lambda _: None,
                 besides: Callable[[Block], float] = lambda _: 0.0) -> None:
        self.kinds, self.sources, self.spacing = kinds, sources, spacing
        self.budget, self.found, self.besides = budget, found, besides
        self.demand = np.array([kind.qty for kind in kinds], dtype=float)
        self.master = self._master(self.demand)
        self.best: list[Block] = []

    def _master(self, demand: Floats, sources: list[StockType] | None = None) -> Master:
        dearest = max((source.cost(min(source.longest, 1e4)) for source in self.sources), default=1.0)
        penalty = np.full(len(self.kinds), 20 * max(dearest, 1.0))
        return Master(self.kinds, sources or self.sources, demand, self.spacing.gap, penalty, self.besides)

    def _after(self, blocks: list[Block]) -> list[StockType]:
        """What is left of each source when these blocks are cut."""
        left = []
        for n, source in enumerate(self.sources):
            mine = [block for block in blocks if block.source == n]
            length = source.length - sum(block.length + self.spacing.gap for block in mine)
            left.append(replace(source, length=length, longest=min(source.longest, length)) if source.endless else
                        replace(source, most=source.most - len(mine)))
        return left

    # -- the whole ------------------------------------------------------------------------------------------------

    def run(self, first: list[Block]) -> list[Block]:
        """The best blocks found; ``first`` a plan that is there already."""
        self.best = first
        for block in first:
            self.master.add(block)
        if len(self.kinds) <= _KINDS:
            self._as_a_whole()
        return self.best

    def _as_a_whole(self) -> None:
        """All pieces looked at together; too slow where there are very many kinds."""
        self._take(self.filled(self.demand.copy()))
        for block in self.best:
            self.master.add(block)
        self._make_blocks(self.master, share=0.45)
        if not self.budget.spent():
            self.budget.done += 1
            self._take(self._dived())
        self.chosen()

    def chosen(self) -> None:
        """The best choice of whole blocks among all that were ever made, while they are few enough to look through."""
        if len(self.best) <= _FEW and not self.budget.spent():
            self.budget.done += 1
            left = self.budget.left
            self._take(self._whole(self.master, max(0.3 * left, 0.1) if self.budget.steps is None else left))

    # -- down to whole blocks ----------------------------------------------------------------------------------

    def filled(self, left: Floats, kept: list[Block] | None = None) -> list[Block] | None:
        """Block after block, each as full as can be; long pieces count a little more, so that they go first. ``kept``:
        blocks that are cut besides. ``left``: pieces of each kind; their worth is their area in mm²."""
        worth = np.array([kind.orientations[0].along ** 1.1 * kind.orientations[0].across for kind in self.kinds])
        made: list[Block] = []
        while left.any():
            sources = self._after([*(kept or ()), *made])
            best = self._fullest(worth, left, sources)
            if best is None or self.budget.spent():
                return None
            many = min(int(left[kind] // qty) for kind, qty in best.counts)
            source = sources[best.source]
            room = (source.length + 1e-6) // (best.length + self.spacing.gap) if source.endless else source.most
            many = max(1, int(min(many, room)))
            made += [best] * many
            for kind, qty in best.counts:
                left[kind] -= qty * many
        return made

    def _fullest(self, worth: Floats, left: Floats, sources: list[StockType]) -> Block | None:
        """Of all sources the block that holds most for its cost, from what is left."""
        counts = {n: int(left[n]) for n in range(len(left))}
        best, most = None, 0.0
        looks = max(3, 90 // max(1, int((left > 0).sum())))  # block lengths looked at: more where there are few kinds
        for n, source in enumerate(sources):
            if source.most < 1 or source.longest <= 0:
                continue
            cheap = replace(source, price=source.price * 1e-9, fixed=source.fixed * 1e-9)  # anything is worth it
            for block in best_blocks(n, cheap, self.kinds, np.where(left > 0, worth, 0.0), self.spacing, looks, counts):
                block = self._within(block, left) or block
                share = sum(worth[kind] * qty for kind, qty in block.counts) / max(self.master.cost(block), 1e-9)
                if share > most and fine(block, source, self.spacing, self.sources[n].edge):
                    best, most = block, share
        return best

    def _within(self, block: Block, left: Floats) -> Block | None:
        """The block with no more pieces than there are; ``None`` where nothing is left of it."""
        if all(qty <= left[kind] for kind, qty in block.counts):
            return block
        made = without_surplus([block], left, self.spacing.gap, [source.endless for source in self.sources])
        return made[0] if made else None

    def _dived(self) -> list[Block] | None:
        """The program's blocks taken one after another, the surest first, the program solved again for what is left."""
        left = self.demand.copy()
        made: list[Block] = []
        while left.any():
            if self.budget.spent():
                return None
            counts = {n: int(left[n]) for n in range(len(left))}
            small = self._master(left, self._after(made))
            for block in self.master.blocks:
                if all(qty <= counts[kind] for kind, qty in block.counts):
                    small.add(block)
            self._make_blocks(small, 4, counts)
            taken, _, _ = small.prices()
            sure = [(x - int(x), n) for n, x in enumerate(taken) if x > 1e-6]
            chosen = [n for n, x in enumerate(taken) for _ in range(int(x + 1e-6))]
            chosen += [n for _, n in sorted(sure, reverse=True)[:max(1, len(sure) // 8)]]
            if not sure:
                return None
            before = len(made)
            for n in chosen:
                fits = self._within(small.blocks[n], left)
                if fits is None or not self.has_room([*made, fits]):  # several of one sheet were each in part
                    continue
                if n == chosen[0] or fits.counts == small.blocks[n].counts:
                    made.append(fits)
                    for kind, qty in fits.counts:
                        left[kind] -= qty
            if len(made) == before:
                return None
        return made

    def value(self, blocks: list[Block]) -> float:
        """What blocks cost, what is left uncut at its shortage penalty."""
        left = self.demand.copy()
        for block in blocks:
            for kind, qty in block.counts:
                left[kind] -= qty
        short = float(self.master.shortage_penalty @ np.maximum(left, 0))
        return sum(self.master.cost(block) for block in blocks) + short

    def _take(self, blocks: list[Block] | None) -> bool:
        if blocks is None or not self.has_room(blocks) or self.value(blocks) >= self.value(self.best) - _NEAR:
            return False
        self.best = blocks
        self.found(blocks)
        return True

    def has_room(self, blocks: list[Block]) -> bool:
        """Whether no source gives more than there is of it."""
        for n, source in enumerate(self.sources):
            mine = [block for block in blocks if block.source == n]
            taken = sum(block.length + self.spacing.gap for block in mine) - self.spacing.gap
            if source.endless and taken > source.length + 1e-6:
                return False
            if not source.endless and len(mine) > source.most:
                return False
        return True

    def _make_blocks(self, master: Master, rounds: int = _ROUNDS, counts: dict[int, int] | None = None,
                     share: float = 1.0) -> None:
        """Blocks for the prices of the program over those at hand, until none is worth more than it costs; at most that
        share of the time left."""
        counted = self.budget.steps is not None  # then steps are counted, not time
        least = -math.inf if counted else self.budget.left * (1 - share)
        for _ in range(rounds):
            if self.budget.spent() or self.budget.left < least:
                return
            self.budget.done += 1
            _, worth, limits = master.prices()
            new = False
            for n, source in enumerate(master.sources):
                if source.most < 1 or source.longest <= 0:
                    continue
                dear = _dearer(source, limits[n], self.spacing.gap)
                blocks = best_blocks(n, dear, self.kinds, worth, self.spacing, _AT_ONCE, counts)
                for block in blocks:
                    if fine(block, source, self.spacing, self.sources[n].edge):
                        new |= master.add(block)
                if self.budget.spent():
                    return
            if not new:
                return

    def _whole(self, master: Master, seconds: float) -> list[Block] | None:
        done = master.whole(min(seconds, max(self.budget.left, 0.05)))
        if done is None:
            return None
        counts, _ = done
        blocks = [block for block, many in zip(master.blocks, counts, strict=True) for _ in range(many)]
        return without_surplus(blocks, master.demand, self.spacing.gap, [source.endless for source in self.sources])


def _dearer(source: StockType, limit: float, gap: float) -> StockType:
    """A source that runs short costs as much more as its last mm or sheet would save."""
    if limit <= 1e-12:
        return source
    if source.endless:
        return replace(source, price=source.price + limit)
    return replace(source, fixed=source.fixed + limit)
