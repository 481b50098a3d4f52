"""Laying parts out on offcuts, sheets and coils: a first plan at once, better ones until the time or the work is up."""

from __future__ import annotations

import math
import time
from collections import Counter, deque
from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import lru_cache

from yattle.coil.answer import NO_BOUND, NestAnswer
from yattle.coil.block import Spacing
from yattle.coil.bound import bound_of, is_small, stronger
from yattle.coil.budget import Budget
from yattle.coil.check import faults
from yattle.coil.exact import in_time
from yattle.coil.first import MANY, FirstPlan, Laid, trims_of
from yattle.coil.job import NestJob, Part, ring_area
from yattle.coil.lots import lots_of
from yattle.coil.mixed import nest_mixed
from yattle.coil.money import objective_of
from yattle.coil.price import stock_cost
from yattle.coil.pricing import Block, Row, block_of
from yattle.coil.read import in_priority
from yattle.coil.rests import rests
from yattle.coil.rounds import Rounds
from yattle.coil.shapes import Nested, nest_shapes
from yattle.coil.sizes import orientations, usable_rect
from yattle.coil.slit import shorter
from yattle.coil.tight import is_tight, planned
from yattle.coil.tree import Leaf, Tree, changed, is_fine, leaves
from yattle.coil.types import ItemType, StockType, kinds_of, sources_of
from yattle.coil.warm import begin
from yattle.coil.write import Writer

_FOREVER = 1e9
_SHAPES = 20.0  # seconds for true shapes where none are given: the engine never ends by itself
_PROOF = 120.0  # seconds for the bound where none are given: it is counted, and over long before on any machine
_A_PIECE = 1.6e-4  # seconds kept for each piece of thousands, to write the plan down
_LAST = 0.35  # seconds kept for bound and writing
_A_LOOK = 3  # steps of work: who asks for fewer wants a plan at once, with the bound that takes no time
_EARLY, _SOON, _LOOK = 0.2, 1.0, 0.4  # of the time, seconds: until a small job's plans are all looked at; for that


def nest(job: NestJob, asked: Callable[[], bool] = lambda: False,
         found: Callable[[NestAnswer], None] | None = None, begun: float | None = None) -> NestAnswer:
    """Place every part of ``job`` it can; what it cannot is listed with its reason. ``found`` is told each better
    answer, ``asked`` whether to stop with the best so far; ``begun``: the moment from which its seconds count."""
    started = min(time.perf_counter(), begun if begun is not None else math.inf)
    if job.rules.cutting != "snips":
        begin()
    first = first_answer(job)
    if first.proved_best or not first.placements:
        first = _with_rests(job, first) if job.rules.cutting == "snips" else first
        return first.after(time.perf_counter() - started)
    if found is not None:
        found(first)
    limit = job.rules.seconds if job.rules.seconds is not None else _FOREVER
    kept = min(_LAST, 0.2 * limit)  # the bound takes no time where shapes are cut by hand
    kept = max(kept, 0.15 * limit) if job.rules.cutting == "shear" else kept
    kept += _A_PIECE * sum(part.qty for part in job.parts) if _is_large(job) else 0.0
    budget = Budget(started + limit - kept, job.rules.work, asked)
    if job.rules.cutting == "mixed":
        mixed = nest_mixed(job, budget.until if budget.left < _FOREVER / 2 else time.perf_counter() + _SHAPES,
                           lambda strips: nest(strips, asked) if strips.parts else _empty(strips), asked)
        tried = [] if faults(job, mixed.answer()) else [mixed]
        budget.stopped = budget.stopped or "seconds"
    elif job.rules.cutting == "snips":
        tried = _shapes(job, budget, first, found)
    else:
        tried = _tight(job, budget, first) if budget.left > 0 else []
        if budget.left > 0:
            tried += _shear(job, budget, min((first, *tried), key=_rank), found)
        else:
            budget.stopped = "seconds"
    best = min((first, *tried), key=_rank)
    if best.proved_best:
        return _finished(job, best, math.inf).after(time.perf_counter() - started)
    now = time.perf_counter()
    until = max(started + limit, now + _LAST) if limit < _FOREVER else now + _PROOF
    until = now + _LAST if budget.stopped == "asked" else until  # whoever asks does not wait for a proof
    until = 0.0 if job.rules.work is not None and job.rules.work < _A_LOOK else until
    best = _finished(job, best, started + limit - time.perf_counter())
    bound = stronger(best.bound, bound_of(job, best, until, asked))
    return best.with_bound(bound).after(time.perf_counter() - started, budget.stopped)


def _tight(job: NestJob, budget: Budget, first: NestAnswer) -> list[NestAnswer]:
    """Where pieces find no place on coils of a length: the blocks of a plan on endless ones shared out among them."""
    if not is_tight(job, first):
        return []
    own = Budget(time.perf_counter() + (_FOREVER if budget.left > _FOREVER / 2 else 0.4 * budget.left), job.rules.work,
                 budget.asked)

    def best(twin: NestJob) -> NestAnswer:
        begun = first_answer(twin)
        return min((begun, *_shear(twin, own, begun, None)), key=_rank)
    found = planned(job, first, best)
    return [] if found is None else [found]


def _finished(job: NestJob, answer: NestAnswer, left: float) -> NestAnswer:
    """The plan as it goes to the shear, its blocks in the order in which their pieces are wanted, if ``left`` seconds
    are enough for that; or to the bench with what it leaves that is worth keeping."""
    if job.rules.cutting == "snips":
        return _with_rests(job, answer)
    hurried = _is_large(job) and left < _A_PIECE * sum(part.qty for part in job.parts)
    return answer if hurried else in_priority(job, answer)


def _with_rests(job: NestJob, answer: NestAnswer) -> NestAnswer:
    """A plan cut by hand with what it leaves that is worth keeping."""
    kept = rests(job, answer)
    return replace(answer, offcuts=kept, objective=objective_of(job.rules, answer.used, answer.cuts, kept))


def _empty(job: NestJob) -> NestAnswer:
    return Writer(job, []).answer(NO_BOUND)


def _shear(job: NestJob, budget: Budget, first: NestAnswer,
           found: Callable[[NestAnswer], None] | None) -> list[NestAnswer]:
    told = None if found is None else lambda plan: found(_written(job, plan, first))
    better = _Better(job, budget, told)
    if not is_small(job) or budget.steps is not None:
        return [_written(job, better.run(), first)]
    whole, span = budget.until, min(budget.left, _SHAPES)
    if not in_time(Budget(time.perf_counter() + _LOOK * span)):
        return [_written(job, better.run(), first)]
    budget.until = time.perf_counter() + min(_EARLY * span, _SOON)
    early = min((first, _written(job, better.run(), first)), key=_rank)
    if budget.asked():
        return [early]
    early = early.with_bound(bound_of(job, early, time.perf_counter() + _LOOK * span, budget.asked))
    budget.until, budget.stopped = whole, ""
    if early.proved_best:
        return [early]
    return [early, _written(job, better.run(), early)]


def _shapes(job: NestJob, budget: Budget, first: NestAnswer,
            found: Callable[[NestAnswer], None] | None) -> list[NestAnswer]:
    """By true shapes, if exact geometry agrees: each plan is held against it as it comes and the best is kept, whatever
    the engine comes to at last."""
    if budget.left > _FOREVER / 2:
        budget.until = time.perf_counter() + _SHAPES
    best = [first]

    def held(nested: Nested) -> NestAnswer | None:
        answer = Writer(job, []).take(nested).answer(first.bound)
        return None if faults(job, answer.answer()) else answer

    def told(nested: Nested) -> None:
        answer = held(nested)
        if answer is not None and _rank(answer) < _rank(best[0]):
            best[0] = answer
            if found is not None:
                found(answer)
    nested = nest_shapes(job, budget, told)
    budget.stopped = "asked" if budget.asked() else budget.stopped or "seconds"  # the engine works until its time is up
    answer = held(nested) if nested is not None else None
    return best if answer is None else [*best, answer]


@lru_cache(maxsize=64)
def plain_answer(job: NestJob) -> NestAnswer:
    """The first plan as it is laid, its cuts in no order and nothing proven of it: what it takes is what the first
    answer takes, in half the time."""
    return Writer(job, _first_plan(job).laid).answer(NO_BOUND)


@lru_cache(maxsize=64)
def first_answer(job: NestJob) -> NestAnswer:
    """The first plan, within a fraction of a second."""
    answer = plain_answer(job)
    if not _is_large(job):  # of thousands of pieces only the last plan is put in order
        answer = in_priority(job, answer)
    return answer.with_bound(bound_of(job, answer, 0.0))


def _is_large(job: NestJob) -> bool:
    return sum(part.qty for part in job.parts) > MANY


@lru_cache(maxsize=8)
def _first_plan(job: NestJob) -> FirstPlan:
    return FirstPlan(job)


def _written(job: NestJob, laid: list[Laid], first: NestAnswer) -> NestAnswer:
    return Writer(job, laid).answer(first.bound)


def _rank(answer: NestAnswer) -> tuple[int, float, int, float]:
    """Fewest left over, then cheapest, then fewest cuts, then the larger kept offcut."""
    return (sum(u.copies for u in answer.unplaced), round(answer.objective, 6), len(answer.cuts),
            -max((abs(ring_area(offcut.outline)) for offcut in answer.offcuts), default=0.0))


class _Better:
    """The search over each metal of a job, and its blocks laid out again on stock."""

    def __init__(self, job: NestJob, budget: Budget, found: Callable[[list[Laid]], None] | None) -> None:
        self.job, self.budget, self.found = job, budget, found
        self.spacing = Spacing.of(job.rules)
        self.done: dict[str, list[Laid]] = {}
        for laid in _first_plan(job).laid:
            self.done.setdefault(laid.stock.metal, []).append(laid)

    def run(self) -> list[Laid]:
        metals = sorted({part.metal for part in self.job.parts})
        share = {metal: sum(p.area * p.qty for p in self.job.parts if p.metal == metal) for metal in metals}
        for n, metal in enumerate(metals):
            rest = sum(share[m] for m in metals[n:])
            whole = self.budget.until
            now = time.perf_counter()
            self.budget.until = now + (whole - now) * share[metal] / max(rest, 1e-9)
            self._metal(metal)
            self.budget.until = whole
            if self.budget.stopped == "seconds" and n + 1 < len(metals):
                self.budget.stopped = ""
        return self._all()

    def _all(self) -> list[Laid]:
        return [laid for metal in sorted(self.done) for laid in self.done[metal]]

    def _metal(self, metal: str) -> None:
        kinds = kinds_of([(part, part.qty) for part in self.job.parts if part.metal == metal])
        rules = self.job.rules
        trims = {stock.id: trims_of(stock, rules) for stock in self.job.stock}
        sources = sources_of(self.job, kinds, lots_of(self.job), trims,
                             lambda stock, length: stock_cost(stock, length, rules))
        able = {kind for source in sources for kind in source.kinds}
        if not able:
            return
        if rules.first == "slit":
            self._slit(metal, kinds, [source for source in sources if source.endless])
            return
        search = Rounds(kinds, sources, self.spacing, self.budget, rules,
                        lambda blocks: self._tell(metal, blocks, kinds, sources))
        blocks = search.run(self._first(self.done.get(metal, []), kinds, sources))
        self._take(metal, blocks, kinds, sources)

    def _slit(self, metal: str, kinds: list[ItemType], coils: list[StockType]) -> None:
        """What the first plan slits from one coil, from a shorter length of it, or of another that costs less."""
        mine = [laid for laid in self.done.get(metal, []) if laid.stock.kind == "coil"]
        if len(mine) != 1:
            return
        held = Counter(leaf.item for leaf, _, _ in leaves(mine[0].blocks[0][2], self.spacing.gap))
        wanted = [replace(kind, qty=sum(held[part] for part in kind.parts)) for kind in kinds]
        numbers = {n for n, kind in enumerate(wanted) if kind.qty}
        wanted = [kind for kind in wanted if kind.qty]
        rules, until = self.job.rules, self.budget.until
        least = stock_cost(mine[0].stock, sum(mine[0].blocks[0][:2]), rules)
        fit = [coil for coil in coils if numbers <= set(coil.kinds)]
        for n, coil in enumerate(fit):
            edge, end = trims_of(coil.stock, rules)
            most = min(coil.stock.box[2] - end, rules.max_cut or math.inf,
                       (least / max(stock_cost(coil.stock, 1.0, rules), 1e-12)) - end)
            self.budget.until = time.perf_counter() + (until - time.perf_counter()) / (len(fit) - n)
            found = shorter(wanted, coil, self.spacing, self.budget, most, rules.seed)
            self.budget.until = until
            if found is None or not is_fine(found[1], found[0], coil.across, self.spacing, edge):
                continue
            tree = _with_parts(found[1], {k: deque(p for p in kind.parts for _ in range(held[p]))
                                          for k, kind in enumerate(wanted)})
            others = [laid for laid in self.done[metal] if laid.stock.kind != "coil"]
            self.done[metal] = [*others, Laid(coil.stock, ((end, found[0], tree),), edge, end)]
            least = stock_cost(coil.stock, end + found[0], rules)

    def _first(self, laid: list[Laid], kinds: list[ItemType], sources: list[StockType]) -> list[Block]:
        """The first plan's blocks as the search counts them."""
        of = {part: n for n, kind in enumerate(kinds) for part in kind.parts}
        at = {source.stock.id: n for n, source in enumerate(sources)}
        found = []
        for one in laid:
            rows = [(long, changed(tree, lambda leaf: Leaf(of[leaf.item], leaf.lie))) for _, long, tree in one.blocks]
            source = at[one.stock.id]
            if sources[source].endless:
                found += [block_of(source, [row], 0.0, self.spacing.gap) for row in rows]
            else:
                found.append(block_of(source, rows, sources[source].longest, self.spacing.gap))
        return found

    def _take(self, metal: str, blocks: list[Block], kinds: list[ItemType], sources: list[StockType]) -> None:
        """Lay blocks out, the longest first, and keep them if the shear can cut all of it."""
        supply = {n: deque(part for part in kind.parts for _ in range(part.qty)) for n, kind in enumerate(kinds)}
        laid: list[Laid] = []
        for n, source in enumerate(sources):
            mine = sorted((b for b in blocks if b.source == n), key=lambda b: (-b.length, b.counts))
            if not mine:
                continue
            x0, y0, x1, _ = usable_rect(source.stock)
            edge, end = trims_of(source.stock, self.job.rules)
            if source.endless:
                rows = [row for block in mine for row in block.rows]
                placed = self._along(rows, x0 + end, supply)
                rest = x1 - placed[-1][0] - placed[-1][1]
                if not math.isinf(x1) and not self.spacing.rest_is_fine(rest):
                    return
                laid.append(Laid(source.stock, placed, y0 + edge, end))
            else:
                laid += [Laid(source.stock, self._along(block.rows, x0 + end, supply), y0 + edge, end)
                         for block in mine]
        self.done[metal] = laid

    def _tell(self, metal: str, blocks: list[Block], kinds: list[ItemType], sources: list[StockType]) -> None:
        if self.found is not None:
            self._take(metal, blocks, kinds, sources)
            self.found(self._all())

    def _along(self, rows: Sequence[Row], x: float,
               supply: dict[int, deque[Part]]) -> tuple[tuple[float, float, Tree], ...]:
        placed = []
        for long, tree in rows:
            placed.append((x, long, _with_parts(tree, supply)))
            x += long + self.spacing.gap
        return tuple(placed)


def _with_parts(tree: Tree, supply: dict[int, deque[Part]]) -> Tree:
    """The tree with the next part of each kind in place of the kind's number, as it lies itself: parts of one kind have
    the same sizes, but what is a quarter turn of one may be how another is drawn."""
    def own(leaf: Leaf) -> Leaf:
        part: Part = supply[leaf.item].popleft()
        return Leaf(part, min(orientations(part), key=lambda lie: abs(lie.along - leaf.lie.along)
                              + abs(lie.across - leaf.lie.across)))
    return changed(tree, own)
