"""Pieces with equal sides joined into rectangles without waste, until these are as wide as the stock.

Where pieces were once cut out of whole metal, or sizes are round numbers, two that were neighbours have a side in
common. Joined along it they are one rectangle, which has one in common with the next, and so on. Sides that few others
share are joined first, since there chance is least likely; the choice among rectangles as wide as the stock is an
integer program (each piece once).
"""

from __future__ import annotations

import heapq
import time
from collections import Counter
from dataclasses import dataclass, replace

import numpy as np

from yattle.coil.pricing import Block, block_of
from yattle.coil.tree import Leaf, Split, Tree
from yattle.coil.types import ItemType, StockType

MOST = 260  # pieces: beyond that nearly every side is shared by chance
_RECTS = 14_000  # joined rectangles looked at
_PAIRS = 200_000  # pairs tried for them: many come to a rectangle that was there before
_SIDE = 1e-3  # mm: sides no more different are equal
_EPS = 1e-6


@dataclass(frozen=True, slots=True)
class _Rect:
    along: float
    across: float
    pieces: int  # a bit for each piece
    tree: Tree


class Joined:
    """All rectangles without waste that joining comes to, for one usable width."""

    def __init__(self, kinds: list[ItemType], source: StockType, gap: float, until: float) -> None:
        self.gap, self.until, self.most, self.width = gap, until, source.longest, source.across
        self.full: list[_Rect] = []
        self.sides: dict[tuple[bool, int], list[_Rect]] = {}
        self.seen: set[tuple[int, int, int]] = set()
        self.queue: list[tuple[float, int, _Rect]] = []
        self.of: list[int] = []
        self.tried = 0
        for k in source.kinds:
            for _ in range(kinds[k].qty):
                for lie in kinds[k].orientations:
                    self._offer(_Rect(lie.along, lie.across, 1 << len(self.of), Leaf(k, lie)))
                self.of.append(k)
        self._join()

    def _offer(self, rect: _Rect) -> None:
        key = (rect.pieces, _steps(rect.along), _steps(rect.across))
        if key not in self.seen and rect.along <= self.most + _EPS and rect.across <= self.width + _EPS:
            self._keep(key, rect)

    def _keep(self, key: tuple[int, int, int], rect: _Rect) -> None:
        self.seen.add(key)
        if abs(rect.across - self.width) <= _SIDE:
            self.full.append(rect)
            return
        common = min(len(self.sides.get((side, step), ()))
                     for side, step in ((True, key[2]), (False, key[1])))
        heapq.heappush(self.queue, (common * 10 + rect.pieces.bit_count(), len(self.seen), rect))

    def _join(self) -> None:
        while self.queue and len(self.seen) < _RECTS and self.tried < _PAIRS and time.perf_counter() < self.until:
            _, _, rect = heapq.heappop(self.queue)
            for side, step in ((True, _steps(rect.across)), (False, _steps(rect.along))):
                for near in (step - 1, step, step + 1):
                    for other in self.sides.get((side, near), ()):
                        if not rect.pieces & other.pieces:
                            self._pair(rect, other, side)
                self.sides.setdefault((side, step), []).append(rect)

    def _pair(self, one: _Rect, other: _Rect, after: bool) -> None:
        """Two with a side in common: one ``after`` the other along the coil, or beside it. Most come to a rectangle
        that was there before, or is too large: what it is made of is only put together where it is kept."""
        self.tried += 1
        if after:
            along, across = one.along + self.gap + other.along, max(one.across, other.across)
            apart = one.across - other.across
        else:
            along, across = max(one.along, other.along), one.across + self.gap + other.across
            apart = one.along - other.along
        if not -_SIDE <= apart <= _SIDE or along > self.most + _EPS or across > self.width + _EPS:
            return
        key = (one.pieces | other.pieces, _steps(along), _steps(across))
        if key not in self.seen:
            a, b = (one.along, other.along) if after else (one.across, other.across)
            tree = Split(after, a, one.tree, Split(after, b, other.tree))
            self._keep(key, _Rect(along, across, key[0], tree))


def _steps(size: float) -> int:
    return round(size / (2 * _SIDE))


def without_waste(kinds: list[ItemType], sources: list[StockType], gap: float, until: float) -> list[Block]:
    """Blocks of coil without waste: again and again from what is left, since the fewer pieces there are the surer are
    their common sides; the metal that is cheapest by its area first. ``until``: a moment. Lengths in mm, the moment
    in seconds of :func:`time.perf_counter`."""
    found: list[Block] = []
    coils = [n for n, source in enumerate(sources) if source.endless]
    for n in sorted(coils, key=lambda n: sources[n].price / sources[n].across):
        while sum(kind.qty for kind in kinds) <= MOST and time.perf_counter() < until:
            joined = Joined(kinds, sources[n], gap, (time.perf_counter() + until) / 2)
            more = _chosen(joined.full, len(joined.of), max(0.05, until - time.perf_counter()))
            found += [block_of(n, [(rect.along, rect.tree)], rect.along, gap) for rect in more]
            if not more:
                break
            taken = Counter(joined.of[bit] for rect in more for bit in range(len(joined.of)) if rect.pieces >> bit & 1)
            kinds = [replace(kind, qty=kind.qty - taken[k]) for k, kind in enumerate(kinds)]
    return found


def _chosen(full: list[_Rect], pieces: int, seconds: float) -> list[_Rect]:
    """The rectangles that together cover most, each piece in one at most."""
    if not full:
        return []
    from scipy.optimize import Bounds, LinearConstraint, milp
    from scipy.sparse import csc_matrix

    rows = [bit for rect in full for bit in range(pieces) if rect.pieces >> bit & 1]
    starts = np.concatenate(([0], np.cumsum([rect.pieces.bit_count() for rect in full])))
    matrix = csc_matrix((np.ones(len(rows)), rows, starts), shape=(pieces, len(full)))
    done = milp([-rect.along for rect in full], integrality=np.ones(len(full)), bounds=Bounds(0, 1),
                constraints=LinearConstraint(matrix, -np.inf, 1), options={"time_limit": seconds})
    return [] if done.x is None else [rect for rect, taken in zip(full, done.x, strict=True) if taken > 0.5]
