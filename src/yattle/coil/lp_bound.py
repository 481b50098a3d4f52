"""The lower bound that no plan can be under, by a linear program over crosscut blocks.

Blocks are put into classes by their length, from ``least`` up to ``most`` mm. In a block of a class every piece longer
than half of ``most`` crosses the block's middle, so those lie side by side within the width; all other pieces are only
asked to have room in the area that is left. A block costs at least its ``least``. All of that holds for every way of
cutting, so the program's value, which prices such blocks against the pieces (column generation after P. Gilmore and
R. Gomory, its duals scaled after A. Farley while it is not at its end), is under every plan's.
"""

from __future__ import annotations

import time
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from yattle.coil.sizes import Orientation
from yattle.coil.types import ItemType, StockType

Floats = NDArray[np.float64]
_STEPS = (1.02, 1.01, 1.005, 1.0025)  # from one class's length to the next at most: the finer the nearer
_TIMES = 2.5  # as long at most with steps half as large
_GRID = 2000  # widths are rounded down to so many parts of the width, which lets a little more in
_MOST = 60000  # columns to begin with: beyond that the program takes too long
_COUNTED = 1500  # where rounds of the program are counted: over the number of kinds, so many of them
_SHORTAGE = 10.0  # times the dearest block: what a piece costs that no pattern at hand has room for
_EPS = 1e-9


@dataclass(frozen=True)
class _Class:
    """Blocks of one source with lengths in a narrow range: what they cost at least, their area at most; the pieces
    that cross the middle and those that need not, as (kind, lie)."""

    source: int
    least: float
    cost: float
    area: float
    across: float
    long: tuple[tuple[int, Orientation], ...]
    short: tuple[tuple[int, Orientation], ...]


def block_bound(kinds: list[ItemType], sources: list[StockType], demand: Floats, until: float,
                finer: bool = True) -> float:
    """The program's value for ``demand`` pieces of each kind; 0 where there is no time for a first look. ``until`` is
    a moment; ``finer``: with classes as fine as there is time for, else the same each time, by counted rounds whatever
    the clock says. In units of the objective (money or m²)."""
    if sum(_about(source, kinds) for source in sources) > _MOST:
        return 0.0
    best = 0.0
    for step in _STEPS:
        began = time.perf_counter()
        best = max(best, _with_classes(kinds, sources, demand, step, until if finer else None))
        now = time.perf_counter()
        if not finer or now + _TIMES * (now - began) > until:
            break
    return best * (1 - 1e-7)


def _with_classes(kinds: list[ItemType], sources: list[StockType], demand: Floats, step: float,
                  until: float | None) -> float:
    classes = [c for n, source in enumerate(sources) for c in _classes(n, source, kinds, step)]
    if not classes or sum(len(c.long) + len(c.short) for c in classes) > _MOST:
        return 0.0
    program = _Program(kinds, sources, classes, demand)
    best = 0.0
    rounds = max(4, min(40, _COUNTED // len(kinds))) if until is None else 10**9
    while rounds and (until is None or time.perf_counter() < until):
        rounds -= 1
        value, worth, rents, scarce = program.solve()
        new, share, more = program.price(worth, rents, scarce)
        best = max(best, (value - more) * share)
        if not new:
            break
    return best


def _about(source: StockType, kinds: list[ItemType]) -> int:
    """How many columns a source begins with, at least about."""
    lengths = {lie.along for kind in source.kinds for lie in kinds[kind].orientations}
    return len(source.kinds) * (len(lengths) if source.endless else 1) // 2


def _classes(n: int, source: StockType, kinds: list[ItemType], step: float) -> list[_Class]:
    orientations = [(kind, lie) for kind in source.kinds for lie in kinds[kind].orientations
            if lie.along <= source.longest + 1e-7 and lie.across <= source.across + 1e-7]
    if not orientations:
        return []
    if not source.endless:
        return [_class(n, source, orientations, source.longest, source.longest, source.fixed)]
    edges = sorted({lie.along for _, lie in orientations} | {source.longest})
    found, low = [], edges[0]
    for high in edges[1:]:
        steps = max(1, int(np.ceil(np.log(high / low) / np.log(step))))
        cuts = low * (high / low) ** (np.arange(steps + 1) / steps)
        found += [_class(n, source, orientations, float(a), float(b), source.price * float(a))
                  for a, b in pairwise(cuts)]
        low = high
    return [*found, _class(n, source, orientations, low, low, source.price * low)]


def _class(n: int, source: StockType, orientations: list[tuple[int, Orientation]], least: float, most: float,
           cost: float) -> _Class:
    fits = [(kind, lie) for kind, lie in orientations if lie.along <= most + 1e-7]
    half = most / 2 + 1e-6
    return _Class(n, least, cost, most * source.across, source.across,
                  tuple(p for p in fits if p[1].along > half), tuple(p for p in fits if p[1].along <= half))


class _Program:
    """Columns: patterns of long pieces for a class (with the area they leave), and short pieces put into a class."""

    def __init__(self, kinds: list[ItemType], sources: list[StockType], classes: list[_Class], demand: Floats) -> None:
        self.kinds, self.sources, self.classes, self.demand = kinds, sources, classes, demand
        self.columns: list[tuple[float, dict[int, float]]] = []
        self.rents = len(kinds)  # rows: kinds, then the classes' areas, then the sources' lengths or numbers
        self.scarce = self.rents + len(classes)
        penalty = _SHORTAGE * max(one.cost for one in classes) + _EPS
        self.columns += [(penalty, {kind: 1.0}) for kind in range(len(kinds))]  # so that there is one to begin with
        for c, one in enumerate(classes):
            self._pattern(c, one, [])
            for kind, lie in one.short:
                self.columns.append((0.0, {kind: 1.0, self.rents + c: -lie.along * lie.across / 1e6}))
            for kind, lie in one.long:
                self._pattern(c, one, [(kind, lie)])

    def _pattern(self, c: int, one: _Class, taken: list[tuple[int, Orientation]]) -> None:
        left = one.area - sum(lie.along * lie.across for _, lie in taken)
        rows: dict[int, float] = {self.rents + c: max(left, 0.0) / 1e6}
        for kind, _ in taken:
            rows[kind] = rows.get(kind, 0.0) + 1.0
        source = self.sources[one.source]
        rows[self.scarce + one.source] = -(one.least if source.endless else 1.0)
        self.columns.append((one.cost, rows))

    def solve(self) -> tuple[float, Floats, Floats, Floats]:
        """Value; what a piece of each kind is worth, a m² in each class, a mm or piece of each source."""
        from scipy.optimize import linprog
        from scipy.sparse import csc_matrix

        data, rows, starts = [], [], [0]
        for _, entries in self.columns:
            rows += list(entries)
            data += [-value for value in entries.values()]
            starts.append(len(rows))
        height = self.scarce + len(self.sources)
        limits = np.zeros(height)
        limits[:self.rents] = -self.demand
        only = sum(source.endless for source in self.sources) == 1  # then its end is no matter: what costs comes off it
        limits[self.scarce:] = [1e12 if s.endless and only else min(s.length if s.endless else float(s.most), 1e12)
                                for s in self.sources]
        matrix = csc_matrix((data, rows, starts), shape=(height, len(self.columns)))
        done = linprog([cost for cost, _ in self.columns], A_ub=matrix, b_ub=limits, method="highs")
        if done.x is None:
            return 0.0, np.zeros(self.rents), np.zeros(len(self.classes)), np.zeros(len(self.sources))
        duals = -done.ineqlin.marginals
        return float(done.fun), duals[:self.rents], duals[self.rents:self.scarce], duals[self.scarce:]

    def price(self, worth: Floats, rents: Floats, scarce: Floats) -> tuple[int, float, float]:
        """Add the patterns that are worth more than they cost; how many, by what share the duals have to be scaled so
        that none would be, and how much comes off before: of sheets and offcuts (which may cost nothing, so that no
        share would do) all there are may be that much dearer."""
        new, share, more = 0, 1.0, 0.0
        for c, one in enumerate(self.classes):
            gains = [(float(worth[kind]) - float(rents[c]) * lie.along * lie.across / 1e6, kind, lie)
                     for kind, lie in one.long]
            value, taken = _fullest([g for g in gains if g[0] > _EPS], one.across, self.demand)
            rate = float(scarce[one.source]) * (one.least if self.sources[one.source].endless else 1.0)
            wanted = value + float(rents[c]) * one.area / 1e6 - rate
            if wanted > one.cost * (1 + 1e-7) + 1e-9:
                if self.sources[one.source].endless:
                    share = min(share, one.cost / wanted)
                else:
                    more += self.sources[one.source].most * (wanted - one.cost)
                self._pattern(c, one, taken)
                new += 1
        return new, share, more


def _fullest(gains: list[tuple[float, int, Orientation]], across: float,
             demand: Floats) -> tuple[float, list[tuple[int, Orientation]]]:
    """The pieces side by side that gain most; their widths rounded down, so that no real choice is left out."""
    best = np.zeros(_GRID + 1)
    taken: list[tuple[int, NDArray[np.bool_]]] = []
    for n, (gain, kind, lie) in enumerate(gains):
        wide = max(1, int(lie.across / across * _GRID + 1e-9))
        for _ in range(min(int(demand[kind]), _GRID // wide)):
            other = np.concatenate((np.full(wide, -np.inf), best[:-wide] + gain))
            better = other > best + 1e-12
            if not better.any():
                break
            best = np.where(better, other, best)
            taken.append((n, better))
    at, chosen = _GRID, []
    for n, better in reversed(taken):
        if better[at]:
            _, kind, lie = gains[n]
            chosen.append((kind, lie))
            at -= max(1, int(lie.across / across * _GRID + 1e-9))
    return float(best[_GRID]), chosen
