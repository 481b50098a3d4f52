"""The search for the cheapest cuts: blocks made to the prices of the program over them, whole numbers of them, then
again and again a few blocks taken apart and cut anew, until the time or the work is up."""

from __future__ import annotations

import random
import time
from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from yattle.coil.block import Spacing
from yattle.coil.kinds import Kind, Source
from yattle.coil.master import Master, without_surplus
from yattle.coil.pricing import Block, best_blocks, fine

Floats = NDArray[np.float64]
_ROUNDS = 100  # of making blocks
_PROGRAMMED = 0.15
_IDLE = 150  # tries in a row that bring nothing, after which a run ends by itself
_AT_ONCE = 10  # new blocks of a source in one round
_FEW = 30  # blocks in a plan up to which all that were made are chosen from at once
_KINDS = 300  # up to so many are looked at all together
_POOL = 3000  # blocks kept to choose from
_NEAR = 1e-9


@dataclass
class Clock:
    """When to end: at a moment, after so much work (rounds and tries), or when asked to."""

    until: float
    work: int | None = None
    asked: Callable[[], bool] = lambda: False
    done: int = 0
    stopped: str = ""

    def up(self) -> bool:
        if not self.stopped:
            if self.work is not None and self.done >= self.work:
                self.stopped = "work"
            elif time.perf_counter() >= self.until:
                self.stopped = "seconds"
            elif self.asked():
                self.stopped = "asked"
        return bool(self.stopped)

    @property
    def left(self) -> float:
        return self.until - time.perf_counter()


class Search:
    """Of one metal: ``kinds`` and what they come from. ``found`` tells every better plan as it comes."""

    def __init__(self, kinds: list[Kind], sources: list[Source], spacing: Spacing, edges: list[float],
                 clock: Clock, seed: int, found: Callable[[list[Block]], None] = lambda _: None) -> None:
        self.kinds, self.sources, self.spacing, self.edges = kinds, sources, spacing, edges
        self.clock, self.random, self.found = clock, random.Random(seed), found
        self.demand = np.array([kind.qty for kind in kinds], dtype=float)
        self.master = self._master(self.demand)
        self.best: list[Block] = []

    def _master(self, demand: Floats, sources: list[Source] | None = None) -> Master:
        dearest = max((source.cost(min(source.longest, 1e4)) for source in self.sources), default=1.0)
        dear = np.full(len(self.kinds), 20 * max(dearest, 1.0))
        return Master(self.kinds, sources or self.sources, demand, self.spacing.gap, dear)

    def _after(self, blocks: list[Block]) -> list[Source]:
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
        self._again()
        self._chosen()
        return self.best

    def _as_a_whole(self) -> None:
        """All pieces looked at together; too slow where there are very many kinds."""
        self._take(self._filled(self.demand.copy()))
        for block in self.best:
            self.master.add(block)
        self._make_blocks(self.master, share=0.45)
        if not self.clock.up():
            self.clock.done += 1
            self._take(self._dived())
        self._chosen()

    def _chosen(self) -> None:
        """The best choice of whole blocks among all that were ever made, while they are few enough to look through."""
        if len(self.best) <= _FEW and not self.clock.up():
            self.clock.done += 1
            self._take(self._whole(self.master, max(0.3 * self.clock.left, 0.1)))

    # -- down to whole blocks ----------------------------------------------------------------------------------

    def _filled(self, left: Floats, shake: float = 0.0, kept: list[Block] | None = None) -> list[Block] | None:
        """Block after block, each as full as can be; long pieces count a little more, so that they go first. ``shake``:
        by what share chance changes what pieces count; ``kept``: blocks that are cut besides."""
        worth = np.array([kind.lies[0].along ** 1.1 * kind.lies[0].across for kind in self.kinds])
        if shake:
            worth = worth * np.array([1 + shake * (self.random.random() - 0.5) for _ in self.kinds])
        made: list[Block] = []
        while left.any():
            sources = self._after([*(kept or ()), *made])
            best = self._fullest(worth, left, sources)
            if best is None or self.clock.up():
                return None
            many = min(int(left[kind] // qty) for kind, qty in best.counts)
            source = sources[best.source]
            room = (source.length + 1e-6) // (best.length + self.spacing.gap) if source.endless else source.most
            many = max(1, int(min(many, room)))
            made += [best] * many
            for kind, qty in best.counts:
                left[kind] -= qty * many
        return made

    def _fullest(self, worth: Floats, left: Floats, sources: list[Source]) -> Block | None:
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
                if share > most and fine(block, source, self.spacing, self.edges[n]):
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
            if self.clock.up():
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
            for n in chosen:
                fits = self._within(small.blocks[n], left)
                if fits is not None and (n == chosen[0] or fits.counts == small.blocks[n].counts):
                    made.append(fits)
                    for kind, qty in fits.counts:
                        left[kind] -= qty
        return made

    def value(self, blocks: list[Block]) -> float:
        """What blocks cost, what is left uncut counted dear."""
        left = self.demand.copy()
        for block in blocks:
            for kind, qty in block.counts:
                left[kind] -= qty
        return sum(self.master.cost(block) for block in blocks) + float(self.master.dear @ np.maximum(left, 0))

    def _take(self, blocks: list[Block] | None) -> bool:
        if blocks is None or not self._has_room(blocks) or self.value(blocks) >= self.value(self.best) - _NEAR:
            return False
        self.best = blocks
        self.found(blocks)
        return True

    def _has_room(self, blocks: list[Block]) -> bool:
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
        least = self.clock.left * (1 - share)
        for _ in range(rounds):
            if self.clock.up() or self.clock.left < least:
                return
            self.clock.done += 1
            _, worth, limits = master.prices()
            new = False
            for n, source in enumerate(master.sources):
                if source.most < 1 or source.longest <= 0:
                    continue
                dear = _dearer(source, limits[n], self.spacing.gap)
                blocks = best_blocks(n, dear, self.kinds, worth, self.spacing, _AT_ONCE, counts)
                for block in blocks:
                    if fine(block, source, self.spacing, self.edges[n]):
                        new |= master.add(block)
                if self.clock.up():
                    return
            if not new:
                return

    def _whole(self, master: Master, seconds: float) -> list[Block] | None:
        done = master.whole(min(seconds, max(self.clock.left, 0.05)))
        if done is None:
            return None
        counts, _ = done
        blocks = [block for block, many in zip(master.blocks, counts, strict=True) for _ in range(many)]
        return without_surplus(blocks, master.demand, self.spacing.gap, [source.endless for source in self.sources])

    # -- a few blocks cut anew ----------------------------------------------------------------------------------------

    def _again(self) -> None:
        idle = 0
        while idle < _IDLE and not self.clock.up() and len(self.best) > 1:
            self.clock.done += 1
            idle = 0 if self._try() else idle + 1

    def _try(self) -> bool:
        """Take some blocks apart, the wasteful ones rather, and cut what was in them anew: filled to chance weights,
        now and then by the program."""
        many = min(len(self.best), self.random.randint(2, 5))
        order = sorted(self.best, key=lambda b: self.random.random() ** (1 / (0.02 + self._waste(b))), reverse=True)
        out, kept = order[:many], order[many:]
        demand = self._missing()
        for block in out:
            for kind, qty in block.counts:
                demand[kind] += qty
        made = (self._programmed(demand, out, kept) if self.random.random() < _PROGRAMMED
                else self._filled(demand, 0.25, kept))
        for block in made or ():
            if len(self.master.blocks) < _POOL:
                self.master.add(block)
        if made is None or not self._has_room([*kept, *made]):
            return False
        before, after = self._rank(out), self._rank(made)
        if after >= before or self.value([*kept, *made]) > self.value(self.best) + _NEAR:
            return False
        better = after[0] < before[0] - _NEAR
        self.best = [*kept, *made]
        if better:
            self.found(self.best)
        return better

    def _rank(self, blocks: list[Block]) -> tuple[float, float]:
        """Cost; among equals it is better to have some blocks full and one nearly empty, which may go next."""
        return (round(sum(self.master.cost(block) for block in blocks), 6),
                -sum((1 - self._waste(block)) ** 2 * self.master.cost(block) for block in blocks))

    def _programmed(self, demand: Floats, out: list[Block], kept: list[Block]) -> list[Block] | None:
        counts = {n: int(demand[n]) for n in range(len(self.kinds)) if demand[n] > 0}
        small = self._master(demand, self._after(kept))
        for block in self.master.blocks + out:
            if all(qty <= counts.get(kind, 0) for kind, qty in block.counts):
                small.add(block)
        self._make_blocks(small, 8, counts)
        return None if self.clock.up() else self._whole(small, 1.5)

    def _missing(self) -> Floats:
        left = self.demand.copy()
        for block in self.best:
            for kind, qty in block.counts:
                left[kind] -= qty
        return np.asarray(np.maximum(left, 0))

    def _waste(self, block: Block) -> float:
        """The share of a block that no piece covers."""
        source = self.sources[block.source]
        return max(0.0, 1 - block.filled / (block.length * source.across))


def _dearer(source: Source, limit: float, gap: float) -> Source:
    """A source that runs short costs as much more as its last mm or sheet would save."""
    if limit <= 1e-12:
        return source
    if source.endless:
        return replace(source, price=source.price + limit)
    return replace(source, fixed=source.fixed + limit)
