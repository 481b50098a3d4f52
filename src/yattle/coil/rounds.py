"""Several ways of looking for a better plan side by side, in rounds: the program over blocks and the compiled search,
then the compiled search twice from the best so far, then the best choice among all blocks that were ever good."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable

from yattle.coil.block import Spacing
from yattle.coil.budget import Budget
from yattle.coil.job import NestRules
from yattle.coil.joined import without_waste
from yattle.coil.money import besides
from yattle.coil.pricing import Block, fine
from yattle.coil.search import BlockSearch
from yattle.coil.types import ItemType, StockType
from yattle.coil.warm import begin, ready

_FIRST = 0.4  # of the time: the first round
_JOINED = 0.25  # of the time at most: joining equal sides
_WITHOUT_CLOCK = 20.0  # seconds for it where only the work is counted
_LAST = 0.12  # the choice at the end
_MORE = 3  # rounds between, each cooling down anew
_SHORT = 4.0  # seconds under which there is one of them only
_MANY = 60  # pieces: beyond that the program's steps find less than they cost
_TRIES_A_STEP = 400  # tries that count as one step of work
_PART = 0.5  # of a whole cooling down in the later rounds


class Rounds:
    """The search over one metal. ``found`` is told every better plan."""

    def __init__(self, kinds: list[ItemType], sources: list[StockType], spacing: Spacing, budget: Budget,
                 rules: NestRules, found: Callable[[list[Block]], None] = lambda _: None) -> None:
        self.kinds, self.sources, self.spacing = kinds, sources, spacing
        self.budget, self.rules, self.seed, self.found = budget, rules, rules.seed, found
        self.pieces = sum(kind.qty for kind in kinds)
        self.program = BlockSearch(kinds, sources, spacing, budget, self._take,
                                   lambda block: besides(block, sources[block.source], rules, spacing.gap))
        self.best: list[Block] = []
        self.value = float("inf")
        rate = min((source.cost(source.longest) / source.longest / source.across for source in sources), default=0.0)
        area = sum(kind.orientations[0].along * kind.orientations[0].across * kind.qty for kind in kinds)
        self.least = rate * area  # no plan can be under it

    def run(self, first: list[Block]) -> list[Block]:
        begun, until = time.perf_counter(), self.budget.until
        self._take(first)
        span = until - begun
        if self.budget.steps is None and span < _SHORT and not begin():  # no time for all: it finds most
            ready(until)
            self._together([(self.best, 1.0), (self.best, 0.6)], None)
            return self.best
        if self.budget.steps is not None and self.pieces > _MANY:  # counted: what finds most in a step
            self._together([(self.best, 1.0)], None)
            self.budget.stopped = self.budget.stopped or "work"
            return self.best
        self._take(self._joined(begun + min(_JOINED * span, 4.0)))
        timed = self.budget.steps is None  # where steps are counted time only ends it all
        self.budget.until = begun + _FIRST * span if timed else until
        if self._least:
            return self.best
        self._together([(self.best, 1.0)], lambda: self.program.run(self.best))
        rounds = _MORE if span > _SHORT else 1
        for n in range(1, rounds + 1):
            if self.budget.stopped in ("asked", "work") or len(self.best) < 2 or self._least:
                break
            self.budget.stopped = ""
            share = _FIRST + (1 - _FIRST - _LAST) * n / rounds
            self.budget.until = begun + share * span if timed else until
            self._together([(self.best, 0.3), (self.program.best, 1.0)], None, n)
        late = self.budget.stopped
        self.budget.stopped = "" if late == "seconds" else late
        self.budget.until = until
        self.program.chosen()
        self.budget.stopped = self.budget.stopped or late
        return self.best

    @property
    def _least(self) -> bool:
        return self.value <= self.least * (1 + 1e-7)

    def _joined(self, until: float) -> list[Block] | None:
        """What joining equal sides comes to, and the rest of the pieces cut as well as can be at once."""
        if self.budget.steps is not None:
            until = time.perf_counter() + _WITHOUT_CLOCK
        blocks = without_waste(self.kinds, self.sources, self.spacing.gap, until)
        left = self.program.demand.copy()
        for block in blocks:
            for kind, qty in block.counts:
                left[kind] -= qty
        rest = self.program.filled(left, blocks) if blocks else None
        return None if rest is None else blocks + rest

    def _take(self, blocks: list[Block] | None) -> None:
        """Keep a plan that is better than the best so far."""
        if blocks is None or not blocks:
            return
        value = self.program.value(blocks)
        if value < self.value - 1e-9 and self.program.has_room(blocks) and self._clean(blocks):
            self.best, self.value = blocks, value
            self.found(blocks)

    def _clean(self, blocks: list[Block]) -> bool:
        return not self.spacing.sliver or all(
            fine(block, self.sources[block.source], self.spacing, self.sources[block.source].edge) for block in blocks)

    def _together(self, begin: list[tuple[list[Block], float]], beside: Callable[[], object] | None,
                  n: int = 0) -> None:
        """The compiled search from each plan of ``begin`` (with how hot), each in a thread, ``beside`` in this one."""
        searches = [_Beside(self, blocks, temperature, self.seed + 100 * n + k)
                    for k, (blocks, temperature) in enumerate(begin)]
        if self.budget.steps is None:
            for search in searches:
                search.start()
        if beside is not None:
            beside()
        for search in searches:
            if self.budget.steps is None:
                while search.is_alive() and not self.budget.over:
                    search.join(0.02)
                search.join(0.1)
            else:
                search.run()
            if search.made is not None:
                for block in search.made:
                    self.program.master.add(block)
                self._take(search.made)
            if search.by_clock:
                self.budget.spent()


class _Beside(threading.Thread):
    """One compiled search, whose result is there when it is over."""

    def __init__(self, rounds: Rounds, blocks: list[Block], temperature: float, seed: int) -> None:
        super().__init__(daemon=True)
        self.rounds, self.blocks, self.temperature, self.start_at = rounds, blocks, temperature, seed
        self.until, self.begun = rounds.budget.until, time.perf_counter()
        self.made: list[Block] | None = None
        self.by_clock = True

    def run(self) -> None:
        whole = self.rounds.budget
        if not ready(self.until):
            return
        from yattle.coil.annealing import Annealing, tries_for

        tries = tries_for(self.rounds.pieces)
        if whole.steps is not None:
            tries = min(tries, int(_TRIES_A_STEP * max(whole.steps - whole.done, 1)))
        budget = Budget(self.until, int(tries * (1.0 if self.temperature == 1.0 else _PART)), timed=whole.steps is None)
        search = Annealing(self.rounds.kinds, self.rounds.sources, self.rounds.spacing, self.blocks, self.rounds.rules)
        search.run(budget, self.start_at, self.temperature, whole.asked)
        self.made, self.by_clock = search.best, budget.by_clock
