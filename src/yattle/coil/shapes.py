"""True shapes for snips: parts nested by their outlines, holes used, answers held against exact geometry.

A coil is a strip of its width whose length is made least (by the packing engine of the spyrrow package); of a sheet or
an offcut what comes to lie within its length is kept, the rest goes on to the next stock. Small parts go into holes of
large ones first.
"""

from __future__ import annotations

import time
from collections import defaultdict
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import Any

from yattle.coil.answer import Placement, Used
from yattle.coil.first import in_order
from yattle.coil.holes import Row, fill_holes, for_holes
from yattle.coil.job import NestJob, Part, Ring, Stock
from yattle.coil.lots import lots_of, may_come_from
from yattle.coil.outlines import ROUGH, coarse, laid_in, laid_within
from yattle.coil.price import stock_cost, used_area
from yattle.coil.search import Clock
from yattle.coil.sizes import box_of, lies, may_use, turned, usable_rect

MOST = 400  # pieces: beyond that the engine finds nothing better in the time than rectangles do
_LOOSE = 0.8  # of the strip's width: taller parts may be more than the engine can place
_SMALL = 12  # pieces: with so few the engine may end before its time is up
_TWICE, _SOON = 30, 10.0  # more pieces and less time: two searches side by side find more than one on both processors
_GAPS = 2.0  # seconds at most for what goes into the gaps
_LOOK = 1.5  # seconds for a quick look at a coil
_EPS = 1e-6
_SAFE = 0.004  # mm more than the gap asked for, since the engine reckons in single precision


@dataclass
class Nested:
    """What has been placed by true shapes."""

    placements: list[Placement]
    used: list[Used]


def nest_shapes(job: NestJob, clock: Clock) -> Nested | None:
    """All parts by their true shapes; ``None`` where there are too many for the engine."""
    left = [part for part in job.parts for _ in range(part.qty)]
    if not 0 < len(left) <= MOST:
        return None
    found, lots = Nested([], []), lots_of(job)
    named: dict[str, int] = defaultdict(int)
    stocks = [stock for stock in _cheapest_first(job, left, clock) for _ in range(stock.qty)]
    for n, stock in enumerate(stocks):
        able = [part for part in left if _fits(part, stock, job) and may_come_from(part, stock, lots, job.rules)]
        if not able or clock.up():
            continue
        share = clock.left if stock.kind == "coil" and stock.length is None else clock.left / (len(stocks) - n)
        name = stock.id if stock.qty == 1 else f"{stock.id} {named[stock.id] + 1}"
        rows = _on_stock(stock, name, able, job, share)
        if not rows:
            continue
        named[stock.id] += 1
        for part, _ in rows:
            left.remove(part)
        far = max(place.x + place.width for _, place in rows)
        found.placements += [place for _, place in rows]
        found.used.append(Used(name, far if stock.kind == "coil" else stock.box[2] - stock.box[0],
                               used_area(stock, far), stock_cost(stock, far, job.rules)))
    return Nested(list(_numbered(found.placements)), found.used)


def _on_stock(stock: Stock, name: str, able: list[Part], job: NestJob, seconds: float) -> list[Row]:
    """What comes to lie on one stock piece: the large ones by the engine, small ones in their holes, then whatever is
    left in the gaps between them."""
    until, gap = time.perf_counter() + seconds, job.rules.gap
    if stock.outline is not None:
        return [(part, placed(part, turn, at, name)) for part, turn, at in laid_within(stock.outline, able, gap, until)]
    left = list(able)
    kept = for_holes(able, stock, gap)  # they go into holes when it is known where these come to lie
    for part in kept:
        left.remove(part)
    rows = [(part, placed(part, turn, at, name)) for part, turn, at in _on(stock, left, job, seconds)]
    left = list(able)
    for part, _ in rows:
        left.remove(part)
    rows += fill_holes(rows, left, stock, gap)
    return rows + _into_gaps(rows, left, stock, name, job) if rows else []


def _into_gaps(rows: list[Row], left: list[Part], stock: Stock, name: str, job: NestJob) -> list[Row]:
    """Parts of ``left`` in what is free between those on the stock; on a coil also beyond them."""
    import shapely

    if not left:
        return []
    x0, y0, x1, y1 = _room(stock, job)
    far = max(place.x + place.width for _, place in rows)
    more = sum(min(lie.along for lie in lies(part)) + job.rules.gap for part in left)
    taken = shapely.union_all([_shape(part, place).buffer(job.rules.gap, join_style="mitre") for part, place in rows])
    whole = shapely.box(x0, y0, min(x1, far + more + job.rules.gap), y1).buffer(_EPS, join_style="mitre")
    laid = laid_in(whole.difference(taken), left, job.rules.gap, time.perf_counter() + _GAPS)
    return [(part, placed(part, turn, at, name)) for part, turn, at in laid]


def _shape(part: Part, place: Placement) -> Any:
    """A part as it lies, with its holes."""
    import shapely

    x0, y0, _, _ = box_of(turned(part.outline, place.turn))
    outer, *holes = ([(x - x0 + place.x, y - y0 + place.y) for x, y in turned(ring, place.turn)]
                     for ring in (part.outline, *part.holes))
    return shapely.Polygon(outer, holes)


def placed(part: Part, turn: float, at: tuple[float, float], stock: str) -> Placement:
    """A part on a stock piece, its own origin ``at``."""
    return Placement(part.id, 0, stock, turn, False, *_corner(part, turn, at), *_size(part, turn))


def _numbered(placements: list[Placement]) -> Iterator[Placement]:
    from dataclasses import replace

    copies: dict[str, int] = defaultdict(int)
    for place in placements:
        copies[place.part] += 1
        yield replace(place, copy=copies[place.part])


def _cheapest_first(job: NestJob, parts: list[Part], clock: Clock) -> list[Stock]:
    """The stock in its usual order, but of several coils the one first on which a quick look takes least."""
    stock = in_order(job)
    coils = [piece for piece in stock if piece.kind == "coil" and piece.length is None]
    able = [piece for piece in coils if all(_fits(part, piece, job) for part in parts)]
    if len(able) < 2 or clock.left < 4:
        return stock

    def looked(coil: Stock) -> float:
        far = max((at[0] + box_of(turned(part.outline, turn))[2] for part, turn, at in _on(coil, parts, job, _LOOK)),
                  default=float("inf"))
        return stock_cost(coil, far, job.rules)
    best = min(able, key=looked)
    return [piece for piece in stock if piece not in coils] + [best] + [piece for piece in coils if piece is not best]


def _room(stock: Stock, job: NestJob) -> tuple[float, float, float, float]:
    """The rectangle of a stock piece that parts may lie in."""
    x0, y0, x1, y1 = usable_rect(stock)
    if stock.kind == "offcut":
        return x0, y0, x1, y1
    edge, end = job.rules.edge_trim, job.rules.end_trim
    return x0 + end, y0 + edge, x1 - (end if stock.kind == "sheet" else 0.0), y1 - edge


def _fits(part: Part, stock: Stock, job: NestJob) -> bool:
    x0, y0, x1, y1 = _room(stock, job)
    return may_use(part, stock) and any(
        lie.along <= x1 - x0 + _EPS and lie.across <= y1 - y0 + _EPS for lie in lies(part))


def _on(stock: Stock, parts: list[Part], job: NestJob,
        seconds: float) -> list[tuple[Part, float, tuple[float, float]]]:
    """Parts on one stock piece: (part, turn, where its own origin comes to lie)."""
    x0, y0, x1, y1 = _room(stock, job)
    found = []
    for part, turn, (x, y) in _strip(parts, y1 - y0, job, seconds):
        least, low, most, high = box_of(turned(part.outline, turn))
        if x + most > x1 - x0 + _EPS or low + y < -0.005 or high + y > y1 - y0 + 0.005 or least + x < -0.005:
            continue
        found.append((part, turn, (x0 + x + max(0.0, -(least + x)), y0 + y + min(max(0.0, -(low + y)), 0.005))))
    return found


def _strip(parts: list[Part], height: float, job: NestJob,
           seconds: float) -> list[tuple[Part, float, tuple[float, float]]]:
    """The engine's answer for a strip of ``height``."""
    import spyrrow

    count: dict[str, int] = defaultdict(int)
    of = {part.id: part for part in parts}
    for part in parts:
        count[part.id] += 1
    def shape(part: Part) -> Ring:
        tight = max(lie.across for lie in lies(part)) + 2 * ROUGH > height  # every hundredth counts
        return part.outline if tight else coarse(part.outline)
    items = [spyrrow.Item(name, list(shape(of[name])), many,
                          None if of[name].turns == "any" else [float(turn) for turn in of[name].turns])
             for name, many in count.items()]
    away = job.rules.gap + _SAFE  # the engine keeps as far from the strip's edges as parts are apart
    runs = 2 if len(parts) > _TWICE and seconds < _SOON else 1

    def run(n: int) -> Any:
        config = spyrrow.StripPackingConfig(
            early_termination=len(parts) <= _SMALL, min_items_separation=job.rules.gap + _SAFE, seed=job.rules.seed + n,
            num_workers=3 - runs, total_computation_time=max(1, round(seconds)))
        return spyrrow.StripPackingInstance("strip", height + 2 * away + _SAFE, items).solve(config)
    with ThreadPoolExecutor(runs) as pool:
        waiting = [pool.submit(run, n) for n in range(runs)]
    wrong = [run.exception() for run in waiting if run.exception() is not None]
    for trouble in wrong:
        if trouble is not None and type(trouble).__name__ != "PanicException":
            raise trouble
    if len(wrong) == runs:
        loose = [part for part in parts if min(lie.across for lie in lies(part)) < _LOOSE * height]
        return _strip(loose, height, job, seconds) if 0 < len(loose) < len(parts) else []  # it fits only just
    done = min((run.result() for run in waiting if run.exception() is None), key=lambda answer: answer.width)
    return [(of[place.id], float(place.rotation) % 360, (float(place.translation[0]) - away,
                                                         float(place.translation[1]) - away))
            for place in done.placed_items]


def _corner(part: Part, turn: float, at: tuple[float, float]) -> tuple[float, float]:
    x0, y0, _, _ = box_of(turned(part.outline, turn))
    return x0 + at[0], y0 + at[1]


def _size(part: Part, turn: float) -> tuple[float, float]:
    x0, y0, x1, y1 = box_of(turned(part.outline, turn))
    return x1 - x0, y1 - y0
