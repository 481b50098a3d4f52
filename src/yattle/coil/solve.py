"""Laying parts out on offcuts, sheets and coils.

Offcuts first, then what costs least per square metre. Every stock piece is worked along its
length block by block (crosscut first), or slit over the used length (slit first). The
answer is good, quick and always valid; how far it can be from the least is told by the
bound, which is the area of the pieces on the cheapest usable stock.
"""

from __future__ import annotations

import math
import time
from collections import defaultdict
from functools import lru_cache

from yattle.coil.answer import NestAnswer, Offcut, Placement, Unplaced, Used
from yattle.coil.block import Pool, Spacing, Strip, fill_block
from yattle.coil.bound import area_bound
from yattle.coil.cutter import Cutter
from yattle.coil.job import NestJob, NestRules, Part, Stock
from yattle.coil.sizes import Lie, lies, may_use, usable_rect
from yattle.coil.slit import slit_strips

_EPS = 1e-7


def nest(job: NestJob) -> NestAnswer:
    """Place every part of ``job`` it can; what it cannot is listed with its reason."""
    started = time.perf_counter()
    return _nest(job).after(time.perf_counter() - started)


@lru_cache(maxsize=64)
def _nest(job: NestJob) -> NestAnswer:
    table = _Table(job)
    for stock in _in_order(job):
        for _ in range(stock.qty):
            table.work(stock)
    return table.answer()


def _in_order(job: NestJob) -> list[Stock]:
    """Offcuts before all, small ones first; then by cost per usable square metre."""
    def price(stock: Stock) -> tuple[int, float, float]:
        x0, y0, x1, y1 = usable_rect(stock)
        area = (x1 - x0) * (y1 - y0)
        if stock.kind == "offcut":
            return 0, (stock.cost or 0.0) / max(area, _EPS), area
        return 1, stock_cost(stock, x1 - x0, job.rules) / max(area, _EPS) if area < math.inf else (
            stock_cost(stock, 1.0, job.rules) / max(y1 - y0, _EPS)), area

    return sorted(job.stock, key=price)


def stock_cost(stock: Stock, length: float, rules: NestRules) -> float:
    """What ``length`` mm of a coil, a whole sheet or an offcut costs under the objective."""
    if rules.objective == "area":
        return used_area(stock, length)
    if stock.kind == "coil":
        return length / 1000 * stock.cost_per_m if stock.cost_per_m is not None else used_area(stock, length)
    return stock.cost or 0.0


def used_area(stock: Stock, length: float) -> float:
    """Square metres taken off a coil, or of the whole sheet or offcut."""
    if stock.outline is not None:
        from yattle.coil.job import ring_area

        return abs(ring_area(stock.outline)) / 1e6
    return (length if stock.kind == "coil" else stock.length or 0.0) * (stock.width or 0.0) / 1e6


class _Table:
    """The cutting table: what is still to place, what has been cut, what was used."""

    def __init__(self, job: NestJob) -> None:
        self.job, self.rules = job, job.rules
        self.left = Pool({part: part.qty for part in
                          sorted(job.parts, key=lambda p: (-lies(p)[0].along, -lies(p)[0].across, p.id))})
        self.lots = _lots(job)
        self.copies: dict[str, int] = defaultdict(int)
        self.cutter = Cutter()
        self.spacing = Spacing.of(job.rules)
        self.placements: list[Placement] = []
        self.used: list[Used] = []
        self.named: dict[str, int] = defaultdict(int)

    def pool_for(self, stock: Stock) -> Pool:
        return Pool({part: count for part, count in self.left.counts.items()
                     if may_use(part, stock) and (part.match is None or self.lots.get(part.match) == (stock.lot,))})

    def work(self, stock: Stock) -> None:
        pool = self.pool_for(stock)
        if not pool.counts:
            return
        if stock.kind == "coil" and self.rules.first == "slit":
            self._slit(stock, pool)
        else:
            self._crosscut(stock, pool)

    def _trims(self, stock: Stock) -> tuple[float, float]:
        """Along the edges and at the end; a trim the shear cannot take off is made as wide as it can."""
        if stock.kind == "offcut":
            return 0.0, 0.0
        return tuple(max(trim, self.spacing.sliver) if trim else 0.0
                     for trim in (self.rules.edge_trim, self.rules.end_trim))  # type: ignore[return-value]

    def _crosscut(self, stock: Stock, pool: Pool) -> None:
        edge, end = self._trims(stock)
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
        if blocks:
            self._write(stock, blocks, low, end)

    def _longest_block(self, stock: Stock) -> float:
        limits = [limit for limit in (self.rules.max_crosscut, self.rules.max_cut) if limit is not None]
        if self.rules.max_piece_kg is not None:
            from yattle.coil.weight import kg_per_m2

            height = usable_rect(stock)[3] - usable_rect(stock)[1]
            limits.append(self.rules.max_piece_kg / kg_per_m2(stock.metal) / height * 1e6)
        return min(limits, default=math.inf)

    def _next_block(self, pool: Pool, stock: Stock, room: float, width: float, edge: float,
                    tail: float) -> tuple[float, list[Strip]] | None:
        longest = min(room, self._longest_block(stock))
        if self.rules.max_cut is not None and width + 2 * edge > self.rules.max_cut + _EPS:
            return None
        best: tuple[float, float, list[Strip]] | None = None
        for part, lie in self._leaders(pool, longest, width, room, tail):
            before = dict(pool.counts)
            strips = fill_block(pool, lie.along, width, (part, lie), self.spacing, edge)
            pool.counts = before
            density = sum(strip.filled for strip in strips) / (lie.along * width)
            if strips and (best is None or density > best[0] + 1e-9):
                best = (density, lie.along, strips)
        if best is None:
            return None
        for strip in best[2]:
            for spot in strip.spots:
                pool.take(spot.part)
                self.left.take(spot.part)
        return best[1], best[2]

    def _leaders(self, pool: Pool, longest: float, width: float, room: float,
                 tail: float) -> list[tuple[Part, Lie]]:
        """The parts that may set the block's length: the longest that fits, in each way it may lie."""
        found = [(part, lie) for part, lie in pool.options(longest, width)
                 if math.isinf(room) or self.spacing.rest_is_fine(room - lie.along, tail)]
        found.sort(key=lambda option: (-option[1].along, -option[1].across))
        return found[:1] + [option for option in found[1:] if option[0] == found[0][0]]

    def _slit(self, stock: Stock, pool: Pool) -> None:
        edge, end = self._trims(stock)
        rect = usable_rect(stock)
        most = min(rect[2] - end, self.rules.max_cut or math.inf)
        if self.rules.max_cut is not None and rect[3] > self.rules.max_cut + _EPS:
            return
        length, strips = slit_strips(pool, most, rect[3] - 2 * edge, self.spacing, edge)
        for strip in strips:
            for spot in strip.spots:
                self.left.take(spot.part)
        if strips:
            self._write(stock, [(end, length, strips)], edge, end)

    def _write(self, stock: Stock, blocks: list[tuple[float, float, list[Strip]]], low: float, end: float) -> None:
        name = self._name(stock)
        rest = self.cutter.lay(name, stock.box)
        keep = stock.kind == "coil"
        if stock.kind == "offcut":
            rest = self.cutter.trimmed(rest, usable_rect(stock))
        elif end:
            rest = self.cutter.across(rest, end, keep)[1]
        for x, length, strips in blocks:
            rest = self.cutter.across(rest, x, keep)[1]
            piece, rest = self.cutter.across(rest, x + length, keep)
            self._cut_block(name, piece, x, low, strips)
        used = blocks[-1][0] + blocks[-1][1]
        self.used.append(Used(name, used if stock.kind == "coil" else stock.box[2] - stock.box[0],
                              used_area(stock, used), stock_cost(stock, used, self.rules)))

    def _name(self, stock: Stock) -> str:
        self.named[stock.id] += 1
        return stock.id if stock.qty == 1 else f"{stock.id} {self.named[stock.id]}"

    def _cut_block(self, stock: str, piece: str, x: float, low: float, strips: list[Strip]) -> None:
        for strip in strips:
            bottom, top = low + strip.y, low + strip.y + strip.width
            piece = self.cutter.along(piece, bottom)[1]
            lane, piece = self.cutter.along(piece, top)
            for spot in strip.spots:
                lane = self.cutter.across(lane, x + spot.x)[1]
                cut, lane = self.cutter.across(lane, x + spot.x + spot.lie.along)
                cut = self.cutter.along(cut, bottom + spot.lie.across)[0]
                self.copies[spot.part.id] += 1
                self.placements.append(Placement(
                    spot.part.id, self.copies[spot.part.id], stock, spot.lie.turn, False,
                    x + spot.x, bottom, spot.lie.along, spot.lie.across,
                    cut if self.rules.cutting == "shear" else None))

    def answer(self) -> NestAnswer:
        parts = {part.id: part for part in self.job.parts}
        placed = [parts[placement.part] for placement in self.placements]
        bound, by_metal = area_bound(self.job, placed)
        shear = self.rules.cutting == "shear"
        return NestAnswer(
            tuple(self.placements), tuple(self.used), tuple(self.cutter.cuts) if shear else (),
            tuple(self._offcuts()), tuple(self._unplaced()), self.rules.objective,
            sum(used.cost for used in self.used), bound, by_metal, sum(part.area for part in placed) / 1e6)

    def _offcuts(self) -> list[Offcut]:
        taken = {p.piece for p in self.placements} | {s.id for s in self.job.stock if s.kind == "coil"}
        least = sorted(self.rules.min_offcut)
        found = []
        for name, (x0, y0, x1, y1) in self.cutter.table.items():
            sides = sorted((x1 - x0, y1 - y0))
            if name not in taken and sides[0] >= least[0] - _EPS and sides[1] >= least[1] - _EPS:
                found.append(Offcut(self._root(name), ((x0, y0), (x1, y0), (x1, y1), (x0, y1))))
        return found if self.rules.cutting == "shear" else []

    def _root(self, name: str) -> str:
        parents = {give: cut.piece for cut in reversed(self.cutter.cuts) for give in cut.gives if give != cut.piece}
        while name in parents:
            name = parents[name]
        return name

    def _unplaced(self) -> list[Unplaced]:
        return [Unplaced(part.id, count, _reason(self.job, part, self.lots))
                for part, count in self.left.counts.items()]


def _lots(job: NestJob) -> dict[str, tuple[str | None]]:
    """For each ``match`` text the lot its parts are cut from: the one with the most metal of theirs."""
    chosen: dict[str, tuple[str | None]] = {}
    for match in sorted({part.match for part in job.parts if part.match is not None}):
        metals = {part.metal for part in job.parts if part.match == match}
        room: dict[tuple[str | None], float] = defaultdict(float)
        for stock in job.stock:
            if stock.metal in metals:
                x0, y0, x1, y1 = stock.box
                room[(stock.lot,)] += (x1 - x0) * (y1 - y0) * stock.qty
        if room:
            chosen[match] = max(room, key=lambda lot: room[lot])
    return chosen


def _reason(job: NestJob, part: Part, lots: dict[str, tuple[str | None]]) -> str:
    same = [stock for stock in job.stock if may_use(part, stock)]
    if not same:
        return "metal"
    boxes = [usable_rect(stock) for stock in same]
    edges = [0.0 if stock.kind == "offcut" else job.rules.edge_trim for stock in same]
    if all(lie.across > b[3] - b[1] - 2 * e + _EPS for lie in lies(part) for b, e in zip(boxes, edges, strict=True)):
        return "too wide"
    longest = min((m for m in (job.rules.max_crosscut,) if m is not None and job.rules.first == "crosscut"),
                  default=math.inf)
    if all(lie.along > min(b[2] - b[0], longest if s.kind == "coil" else math.inf) + _EPS
           for lie in lies(part) for b, s in zip(boxes, same, strict=True)):
        return "too long"
    if part.match is not None and all((stock.lot,) != lots.get(part.match) for stock in same):
        return "lot"
    return "no stock left"
