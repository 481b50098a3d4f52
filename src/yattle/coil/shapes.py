"""True shapes for snips: parts nested by their outlines, holes used, answers held against exact geometry.

A coil is a strip of its width whose length is made least (by the packing engine of the spyrrow package); of a sheet or
an offcut what comes to lie within its length is kept, the rest goes on to the next stock. Small parts go into holes of
large ones first.
"""

from __future__ import annotations

import time
from collections import defaultdict
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from typing import Any

from yattle import overlay
from yattle.coil.answer import Placement, Used
from yattle.coil.budget import Budget
from yattle.coil.compaction import closer
from yattle.coil.engine import DoesNotFit, PackingStrip, packed
from yattle.coil.first import in_order
from yattle.coil.holes import Row, fill_holes, for_holes
from yattle.coil.job import NestJob, Part, Stock
from yattle.coil.lots import lots_of, may_come_from
from yattle.coil.names import names_by_id
from yattle.coil.outlines import Laid, laid_in, laid_within
from yattle.coil.price import stock_cost, used_area
from yattle.coil.sizes import box_of, may_use, orientations, turned, usable_rect

MOST = 400  # pieces: beyond that the engine finds nothing better in the time than rectangles do
_LOOSE = 0.8  # of the strip's width: taller parts may be more than the engine can place
_GAPS = 2.0  # seconds at most for what goes into the gaps
_LOOK = 1.5  # seconds for a quick look at a coil
_CLOSE = 1.0  # seconds at most for pushing closer what has come into gaps
_EPS = 1e-6


@dataclass
class Nested:
    """What has been placed by true shapes."""

    placements: list[Placement]
    used: list[Used]


@dataclass(frozen=True)
class Until:
    """How long the engine has: up to a moment, or until somebody asks it to stop; ``told``: its plans as they come.
    The moment in seconds of :func:`time.perf_counter`."""

    moment: float
    asked: Callable[[], bool]
    told: Callable[[list[Laid]], None] | None = None


def nest_shapes(job: NestJob, budget: Budget, told: Callable[[Nested], None] | None = None) -> Nested | None:
    """All parts by their true shapes; ``None`` where there are too many for the engine. ``told`` is shown whole plans
    as they come."""
    left = [part for part in job.parts for _ in range(part.qty)]
    if not 0 < len(left) <= MOST:
        return None
    found, lots = Nested([], []), lots_of(job)
    named: dict[str, int] = defaultdict(int)
    names = names_by_id(job.stock)
    stocks = [stock for stock in _cheapest_first(job, left, budget) for _ in range(stock.qty)]
    for n, stock in enumerate(stocks):
        able = [part for part in left if _fits(part, stock, job) and may_come_from(part, stock, lots, job.rules)]
        if not able or budget.spent():
            continue
        share = budget.left if stock.kind == "coil" and stock.length is None else budget.left / (len(stocks) - n)
        name = names[stock.id][named[stock.id]]
        until = Until(time.perf_counter() + share, budget.asked)
        if told is not None and len(able) == len(left):
            until = replace(until, told=_whole(found, stock, name, able, job, told))
        rows = _on_stock(stock, name, able, job, until)
        if not rows:
            continue
        named[stock.id] += 1
        for part, _ in rows:
            left.remove(part)
        found = _with(found, stock, name, rows, job)
    return _as_numbered(found)


def _with(found: Nested, stock: Stock, name: str, rows: list[Row], job: NestJob) -> Nested:
    """What has been placed with one stock piece more."""
    far = max(place.x + place.width for _, place in rows)
    used = Used(name, far if stock.kind == "coil" else stock.box[2] - stock.box[0], used_area(stock, far),
                stock_cost(stock, far, job.rules))
    return Nested([*found.placements, *(place for _, place in rows)], [*found.used, used])


def _as_numbered(found: Nested) -> Nested:
    return Nested(list(_numbered(found.placements)), found.used)


def _whole(found: Nested, stock: Stock, name: str, able: list[Part], job: NestJob,
           told: Callable[[Nested], None]) -> Callable[[list[Laid]], None]:
    """Makes a plan of this stock piece one of all parts, if all of them are in it."""
    def tell(laid: list[Laid]) -> None:
        rows = _filled(stock, name, able, _placed(laid, stock, name, job), job)
        if len(rows) == len(able):
            told(_as_numbered(_with(found, stock, name, rows, job)))
    return tell


def _on_stock(stock: Stock, name: str, able: list[Part], job: NestJob, until: Until) -> list[Row]:
    """What comes to lie on one stock piece: the large ones by the engine, small ones in their holes, then whatever is
    left in the gaps between them."""
    gap = job.rules.gap
    if stock.outline is not None:
        return [(part, placed(part, turn, at, name))
                for part, turn, at in laid_within(stock.outline, able, gap, until.moment)]
    left = list(able)
    for part in for_holes(able, stock, gap):  # they go into holes when it is known where these come to lie
        left.remove(part)
    rows = _placed(_on(stock, left, job, until), stock, name, job)
    return _filled(stock, name, able, rows, job) if rows else []


def _filled(stock: Stock, name: str, able: list[Part], rows: list[Row], job: NestJob) -> list[Row]:
    """What has been placed, with the rest of ``able`` in holes and gaps; on a coil all pushed closer after that."""
    left = list(able)
    for part, _ in rows:
        left.remove(part)
    rows = rows + fill_holes(rows, left, stock, job.rules.gap)
    more = _into_gaps(rows, left, stock, name, job)
    if not more or stock.kind != "coil":
        return rows + more
    x0, y0, _, y1 = _room(stock, job)
    laid = [(part, place.turn, (x - x0, y - y0)) for part, place in rows + more for x, y in [_origin(part, place)]]
    laid = closer(laid, y1 - y0, job.rules.gap, time.perf_counter() + _CLOSE)
    return [(part, placed(part, turn, (x + x0, y + y0), name)) for part, turn, (x, y) in laid]


def _origin(part: Part, place: Placement) -> tuple[float, float]:
    """Where a part's own origin comes to lie."""
    x0, y0, _, _ = box_of(turned(part.outline, place.turn))
    return place.x - x0, place.y - y0


def _into_gaps(rows: list[Row], left: list[Part], stock: Stock, name: str, job: NestJob) -> list[Row]:
    """Parts of ``left`` in what is free between those on the stock; on a coil also beyond them."""
    import shapely

    if not left:
        return []
    x0, y0, x1, y1 = _room(stock, job)
    far = max(place.x + place.width for _, place in rows)
    more = sum(min(lie.along for lie in orientations(part)) + job.rules.gap for part in left)
    taken = overlay.union_all([_shape(part, place).buffer(job.rules.gap, join_style="mitre") for part, place in rows])
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
    """A part on a stock piece, turned by ``turn`` degrees, its own origin ``at``, mm."""
    return Placement(part.id, 0, stock, turn, False, *_corner(part, turn, at), *_size(part, turn))


def _numbered(placements: list[Placement]) -> Iterator[Placement]:
    from dataclasses import replace

    copies: dict[str, int] = defaultdict(int)
    for place in placements:
        copies[place.part] += 1
        yield replace(place, copy=copies[place.part])


def _cheapest_first(job: NestJob, parts: list[Part], budget: Budget) -> list[Stock]:
    """The stock in its usual order, but of several coils the one first on which a quick look takes least."""
    stock = in_order(job)
    coils = [piece for piece in stock if piece.kind == "coil" and piece.length is None]
    able = [piece for piece in coils if all(_fits(part, piece, job) for part in parts)]
    if len(able) < 2 or budget.left < 4:
        return stock

    def looked(coil: Stock) -> float:
        quick = Until(time.perf_counter() + _LOOK, budget.asked)
        far = max((at[0] + box_of(turned(part.outline, turn))[2] for part, turn, at in _on(coil, parts, job, quick)),
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
        lie.along <= x1 - x0 + _EPS and lie.across <= y1 - y0 + _EPS for lie in orientations(part))


def _placed(laid: list[Laid], stock: Stock, name: str, job: NestJob) -> list[Row]:
    """Of parts on a strip those that come to lie on the stock piece."""
    x0, y0, x1, y1 = _room(stock, job)
    rows = []
    for part, turn, (x, y) in laid:
        least, low, most, high = box_of(turned(part.outline, turn))
        if x + most > x1 - x0 + _EPS or low + y < -0.005 or high + y > y1 - y0 + 0.005 or least + x < -0.005:
            continue
        at = (x0 + x + max(0.0, -(least + x)), y0 + y + min(max(0.0, -(low + y)), 0.005))
        rows.append((part, placed(part, turn, at, name)))
    return rows


def _on(stock: Stock, parts: list[Part], job: NestJob, until: Until) -> list[Laid]:
    """The engine's answer for one stock piece, along it from where it may be used."""
    _, y0, _, y1 = _room(stock, job)
    height = y1 - y0
    try:
        return packed(PackingStrip(parts, height, job.rules.gap, job.rules.seed, until.moment, until.asked, until.told))
    except DoesNotFit:
        loose = [part for part in parts if min(lie.across for lie in orientations(part)) < _LOOSE * height]
        return _on(stock, loose, job, until) if 0 < len(loose) < len(parts) else []


def _corner(part: Part, turn: float, at: tuple[float, float]) -> tuple[float, float]:
    x0, y0, _, _ = box_of(turned(part.outline, turn))
    return float(x0 + at[0]), float(y0 + at[1])  # what is worked out in arrays comes back as plain numbers


def _size(part: Part, turn: float) -> tuple[float, float]:
    x0, y0, x1, y1 = box_of(turned(part.outline, turn))
    return x1 - x0, y1 - y0
