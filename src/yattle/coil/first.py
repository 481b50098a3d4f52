"""The first plan, quick and always valid: offcuts first, then what costs least per square metre; every stock piece is
worked along its length block by block (crosscut first), or slit over the used length (slit first)."""

from __future__ import annotations

import math
import time
from collections import Counter
from dataclasses import dataclass

import numpy as np

from yattle.coil.block import Pool, Spacing, Strip, fill_block
from yattle.coil.job import NestJob, NestRules, Part, Stock
from yattle.coil.lots import lots_of, may_come_from
from yattle.coil.price import stock_cost
from yattle.coil.sizes import Orientation, orientations, usable_rect
from yattle.coil.slit import slit_strips
from yattle.coil.tree import Tree, of_strips
from yattle.coil.types import longest_block

_EPS = 1e-7


def in_order(job: NestJob) -> list[Stock]:
    """Offcuts before all, small ones first; then by cost per usable square metre."""
    def price(stock: Stock) -> tuple[int, float, float]:
        x0, y0, x1, y1 = usable_rect(stock)
        area = (x1 - x0) * (y1 - y0)
        if stock.kind == "offcut":
            return 0, (stock.cost or 0.0) / max(area, _EPS), area
        return 1, stock_cost(stock, x1 - x0, job.rules) / max(area, _EPS) if area < math.inf else (
            stock_cost(stock, 1.0, job.rules) / max(y1 - y0, _EPS)), area

    return sorted(job.stock, key=price)


def trims_of(stock: Stock, rules: NestRules) -> tuple[float, float]:
    """Along the edges and at the end; a trim the shear cannot take off is made as wide as it can. Both in mm."""
    if stock.kind == "offcut":
        return 0.0, 0.0
    sliver = Spacing.of(rules).sliver
    edge, end = (max(trim, sliver) if trim else 0.0 for trim in (rules.edge_trim, rules.end_trim))
    return edge, end


MANY = 1000
"""Pieces from which on a first plan repeats its blocks as often as they can be cut."""
_KINDS = 400  # with more kinds than these few are at hand: each block is then of like lengths, and quickly found
_AT_HAND = 32
_HURRIED = 24  # kinds at hand in a hurry
_SHARE = 0.12  # of the seconds given: from then on the first plan hurries


@dataclass(frozen=True)
class Laid:
    """What one stock piece is cut into: blocks with where each begins, how long it is and how it is cut up; the lower
    edge of what is used, and the trim at the end of the piece. Lengths in mm."""

    stock: Stock
    blocks: tuple[tuple[float, float, Tree], ...]
    low: float
    end: float


class FirstPlan:
    """A plan made in one go: what is still to place, and what has been laid out."""

    def __init__(self, job: NestJob) -> None:
        self.job, self.rules = job, job.rules
        by_size = sorted(job.parts, key=lambda p: (-orientations(p)[0].along, -orientations(p)[0].across, p.id))
        self.left = Pool({part: part.qty for part in by_size})
        self.lots = lots_of(job)
        self.spacing = Spacing.of(job.rules)
        self.laid: list[Laid] = []
        self.many = sum(part.qty for part in job.parts) > MANY
        self.until = math.inf if job.rules.seconds is None else time.perf_counter() + _SHARE * job.rules.seconds
        for stock in in_order(job):
            for _ in range(stock.qty):
                self.work(stock)

    def pool_for(self, stock: Stock) -> Pool:
        pool = Pool({part: count for part, count in self.left.counts.items()
                     if may_come_from(part, stock, self.lots, self.rules)})
        if len(self.job.parts) > _KINDS:
            pool.window = _AT_HAND
        return pool

    def work(self, stock: Stock) -> None:
        pool = self.pool_for(stock)
        if not pool.counts:
            return
        if stock.kind == "coil" and self.rules.first == "slit":
            self._slit(stock, pool)
        else:
            self._crosscut(stock, pool)

    def _crosscut(self, stock: Stock, pool: Pool) -> None:
        edge, end = trims_of(stock, self.rules)
        rect = usable_rect(stock)
        x, stop = rect[0] + end, rect[2] - (end if stock.kind == "sheet" else 0.0)
        low, width = rect[1] + edge, rect[3] - rect[1] - 2 * edge
        blocks: list[tuple[float, float, list[Strip]]] = []
        while pool.counts:
            block = self._next_block(pool, stock, stop - x, width, edge, rect[2] - stop)
            if block is None:
                break
            blocks.append((x, block[0], block[1]))
            x += block[0] + self.spacing.gap
            for _ in range(self._again(pool, block[1]) if self.many and math.isinf(stop) else 0):
                self._take(pool, block[1])
                blocks.append((x, block[0], block[1]))
                x += block[0] + self.spacing.gap
        if blocks:
            self._lay(stock, blocks, low, end)

    def _next_block(self, pool: Pool, stock: Stock, room: float, width: float, edge: float,
                    tail: float) -> tuple[float, list[Strip]] | None:
        longest = min(room, longest_block(self.rules, stock))
        if self.rules.max_cut is not None and width + 2 * edge > self.rules.max_cut + _EPS:
            return None
        best: tuple[float, float, list[Strip]] | None = None
        if time.perf_counter() > self.until:
            pool.window = _HURRIED
        pool.fresh()
        for part, lie in self._leaders(pool, longest, width, room, tail):
            strips = fill_block(pool.copy(), lie.along, width, (part, lie), self.spacing, edge,
                                time.perf_counter() > self.until)
            density = sum(strip.filled for strip in strips) / (lie.along * width)
            if strips and (best is None or density > best[0] + 1e-9):
                best = (density, lie.along, strips)
        if best is None:
            return None
        self._take(pool, best[2])
        return best[1], best[2]

    def _take(self, pool: Pool, strips: list[Strip]) -> None:
        for strip in strips:
            for spot in strip.spots:
                pool.take(spot.part)
                self.left.take(spot.part)

    def _again(self, pool: Pool, strips: list[Strip]) -> int:
        """How often a block can be cut again from what is left: it would come out the same."""
        held = Counter(spot.part for strip in strips for spot in strip.spots)
        return min(pool.counts.get(part, 0) // many for part, many in held.items())

    def _leaders(self, pool: Pool, longest: float, width: float, room: float,
                 tail: float) -> list[tuple[Part, Orientation]]:
        """The parts that may set the block's length: the longest that fits, in each way it may lie."""
        rows, sizes = pool.rows, pool.sizes
        fits = (sizes.along <= longest + _EPS) & (sizes.across <= width + _EPS)
        if not math.isinf(room):
            fits &= self.spacing.rests_are_fine(room - sizes.along, tail)
        found = np.flatnonzero(fits)
        if not found.size:
            return []
        best = found[np.lexsort((-sizes.across[found], -sizes.along[found]))]
        return [rows[n] for n in best.tolist() if sizes.of[n] == sizes.of[best[0]]]

    def _slit(self, stock: Stock, pool: Pool) -> None:
        edge, end = trims_of(stock, self.rules)
        rect = usable_rect(stock)
        most = min(rect[2] - end, self.rules.max_cut or math.inf)
        if self.rules.max_cut is not None and rect[3] > self.rules.max_cut + _EPS:
            return
        length, strips = slit_strips(pool, most, rect[3] - 2 * edge, self.spacing, edge)
        for strip in strips:
            for spot in strip.spots:
                self.left.take(spot.part)
        if strips:
            self._lay(stock, [(end, length, strips)], edge, end)

    def _lay(self, stock: Stock, blocks: list[tuple[float, float, list[Strip]]], low: float, end: float) -> None:
        self.laid.append(Laid(stock, tuple((x, length, of_strips(strips)) for x, length, strips in blocks), low, end))
