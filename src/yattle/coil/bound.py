"""What no answer can be under: the pieces' area on the cheapest usable stock.

Per metal, the pieces' areas are poured into the stock from the cheapest usable square
metre up. Sheets and offcuts may be used in part here, and trims are left out, so the true
least can only be higher.
"""

from __future__ import annotations

import math
import time
from collections import Counter, defaultdict
from collections.abc import Callable
from dataclasses import replace

import numpy as np

from yattle.coil.answer import LowerBound, NestAnswer
from yattle.coil.budget import Budget
from yattle.coil.dual import dual_length
from yattle.coil.exact import MOST, Known, least_of_all
from yattle.coil.first import trims_of
from yattle.coil.inner import inner_part
from yattle.coil.job import NestJob, Part, Stock
from yattle.coil.lp_bound import block_bound
from yattle.coil.price import stock_cost
from yattle.coil.read import stock_of
from yattle.coil.types import ItemType, StockType, kinds_of, sources_of

_PROGRAM = 0.3  # of the time: for the linear program, where all plans may be looked at after it
_MORE = 1e-6  # of a bound: what is stronger by less adds nothing
_STEPS = 0.1  # of the solver's own, for a proof that goes the same way each time: half a second or so


def bound_of(job: NestJob, answer: NestAnswer, until: float, asked: Callable[[], bool] = lambda: False) -> LowerBound:
    """The strongest bound that there is time for (``until``: a moment; 0: the quick one); ``asked``: whether to be
    content with what there is. In units of the objective (money or m²), moments in seconds of
    :func:`time.perf_counter`."""
    return _in_money(job, answer, _of_metal(job, answer, until, asked))


def stronger(one: LowerBound, other: LowerBound) -> LowerBound:
    """Metal by metal the stronger of two bounds of the same pieces."""
    if set(one.by_metal) != set(other.by_metal):
        return one if one.value >= other.value else other
    return _best(one, other.by_metal, other.proof, other.says)


def is_small(job: NestJob) -> bool:
    """Whether all plans may be looked at."""
    return job.rules.cutting == "shear" and 0 < sum(part.qty for part in job.parts) <= MOST


def _in_money(job: NestJob, answer: NestAnswer, metal: LowerBound) -> LowerBound:
    """A bound of the metal as one of the money: were all that becomes no piece kept as an offcut, its share would come
    off; off a coil every piece takes a cut of its own."""
    rules = job.rules
    if rules.objective != "money":
        return metal
    parts = {part.id: part for part in job.parts}
    value = {}
    for name, least in metal.by_metal.items():
        placed = [parts[place.part] for place in answer.placements if parts[place.part].metal == name]
        stock = [one for one in job.stock if one.metal == name]
        rate = min((_a_square_mm(one) for one in stock), default=0.0)
        cuts = len(placed) - sum(one.qty for one in stock if one.kind != "coil") if rules.cutting == "shear" else 0
        kept = rules.offcuts_worth * (least - rate * sum(part.area for part in placed))
        value[name] = least - max(kept, 0.0) + rules.cut_cost * max(cuts, 0)
    return LowerBound(sum(value.values()), value, metal.proof, f"{metal.says}; all waste kept, a cut for each piece")


def _a_square_mm(stock: Stock) -> float:
    """What stock costs by its whole width, a mm²."""
    if stock.kind == "coil":
        return stock.cost_per_m / 1000 / (stock.width or 1.0) if stock.cost_per_m is not None else 1e-6
    x0, y0, x1, y1 = stock.box
    return (stock.cost or 0.0) / ((x1 - x0) * (y1 - y0))


def _of_metal(job: NestJob, answer: NestAnswer, until: float, asked: Callable[[], bool]) -> LowerBound:
    parts = {part.id: part for part in job.parts}
    counts = Counter(place.part for place in answer.placements)
    value, by_metal = area_bound(job, [parts[name] for name in counts.elements()])
    area = LowerBound(value, by_metal, "area", "the pieces' bare area on the cheapest usable stock")
    placed = {metal: [(parts[name], many) for name, many in counts.items() if parts[name].metal == metal]
              for metal in by_metal}
    if job.rules.cutting != "shear":
        inner = {metal: _dual(job, metal, _inside(rows)) for metal, rows in placed.items()}
        return _best(area, inner, "dual", "dual-feasible functions of rectangles inside the shapes")
    dual = {metal: _dual(job, metal, placed[metal]) for metal in by_metal}
    better = _best(area, dual, "dual", "dual-feasible functions of the widths beside each other")
    if not until:
        return better
    return _with_time(job, answer, placed, better, Budget(until, _STEPS if _is_counted(job) else None, asked))


def _with_time(job: NestJob, answer: NestAnswer, placed: dict[str, list[tuple[Part, int]]], better: LowerBound,
               budget: Budget) -> LowerBound:
    """The stronger bounds that take time: the program over blocks, then every plan of a few pieces."""
    now = time.perf_counter()
    soon = now + _PROGRAM * (budget.until - now) if len(answer.placements) <= MOST else budget.until
    cut = {metal: _blocks(job, metal, parts, soon) for metal, parts in placed.items()}
    better = _best(better, cut, "lp", "a linear program over crosscut blocks: long pieces side by side, the others at "
                   "least within the area left")
    cost: dict[str, float] = defaultdict(float)
    for used in answer.used:
        cost[stock_of(job, used.stock).metal] += used.cost
    seen = {metal: _seen(job, placed[metal], cost[metal], least, budget) for metal, least in better.by_metal.items()}
    return _best(better, seen, "search", "every way to lay the pieces out in blocks looked at")


def _seen(job: NestJob, parts: list[tuple[Part, int]], cost: float, least: float, budget: Budget) -> float:
    """The bound for a few pieces of one metal by looking at every plan; 0 where they are too many."""
    if least >= cost * (1 - 1e-4) or sum(many for _, many in parts) > MOST:
        return 0.0
    kinds = kinds_of(parts)
    sources = _sources(job, kinds)
    if _is_loose(job):  # one length of coil is cut up as it comes
        sources = [replace(source, longest=source.length) if source.endless else source for source in sources]
    known = Known(cost, least, [trims_of(source.stock, job.rules)[1] for source in sources])
    value = least_of_all(kinds, sources, job.rules.gap, known, budget)
    return value if value > least * (1 + _MORE) else 0.0


def _sources(job: NestJob, kinds: list[ItemType]) -> list[StockType]:
    """What the kinds can come from, with all of an offcut's own rectangle for parts, since they may lie anywhere in its
    outline and not only in the largest rectangle inside; none where the search leaves an offcut out that somebody else
    may cut."""
    trims = {stock.id: trims_of(stock, job.rules) for stock in job.stock}
    sources = sources_of(job, kinds, None, trims, lambda stock, length: stock_cost(stock, length, job.rules))
    offcuts = {stock.id for stock in job.stock if stock.kind == "offcut"}
    if offcuts - {source.stock.id for source in sources} and job.rules.max_cut is not None:
        return []
    return [_roomy(source) if source.stock.id in offcuts else source for source in sources]


def _roomy(offcut: StockType) -> StockType:
    x0, y0, x1, y1 = offcut.stock.box
    return replace(offcut, longest=x1 - x0, across=y1 - y0)


def _is_counted(job: NestJob) -> bool:
    """Whether the clock does not end it, so that it has to go the same way each time."""
    return job.rules.work is not None or job.rules.seconds is None


def _is_loose(job: NestJob) -> bool:
    """Whether what is cut off a coil may be of any length."""
    return job.rules.first == "slit" or job.rules.max_crosscut is None


def _best(known: LowerBound, other: dict[str, float], proof: str, says: str) -> LowerBound:
    """The stronger of two bounds, metal by metal; named after ``proof`` where that one adds anything."""
    best = {metal: float(max(other[metal], value)) for metal, value in known.by_metal.items()}
    if all(other[metal] <= value + 1e-12 for metal, value in known.by_metal.items()):
        return known
    return LowerBound(sum(best.values()), best, proof, says)


def _inside(parts: list[tuple[Part, int]]) -> list[tuple[Part, int]]:
    """Rectangles inside the parts, where there are any."""
    return [(inner, many) for part, many in parts if (inner := inner_part(part)) is not None]


def _dual(job: NestJob, metal: str, parts: list[tuple[Part, int]]) -> float:
    """The bound by dual-feasible functions; 0 unless all stock of the metal is coil of one usable width."""
    stock = [piece for piece in job.stock if piece.metal == metal]
    widths = {round((piece.width or 0.0) - 2 * trims_of(piece, job.rules)[0], 6) for piece in stock}
    if any(piece.kind != "coil" for piece in stock) or len(widths) != 1:
        return 0.0
    if not parts:
        return 0.0
    length = dual_length(kinds_of(parts), widths.pop())
    return float(min(stock_cost(piece, length, job.rules) for piece in stock))


def _blocks(job: NestJob, metal: str, parts: list[tuple[Part, int]], until: float) -> float:
    """The program's bound for one metal; 0 where blocks may be of any length, since it knows nothing then."""
    kinds = kinds_of(parts)
    if any(stock.kind == "coil" and stock.metal == metal for stock in job.stock) and _is_loose(job):
        return 0.0
    demand = np.array([float(kind.qty) for kind in kinds])
    return block_bound(kinds, _sources(job, kinds), demand, until, not _is_counted(job))


def area_bound(job: NestJob, placed: list[Part]) -> tuple[float, dict[str, float]]:
    """The bound in the objective's own unit, and by metal."""
    need: dict[str, float] = defaultdict(float)
    for part in placed:
        need[part.metal] += part.area
    by_metal = {metal: _pour(area, [s for s in job.stock if s.metal == metal], job) for metal, area in need.items()}
    return sum(by_metal.values()), by_metal


def _pour(area: float, stock: list[Stock], job: NestJob) -> float:
    total = 0.0
    for price, room in sorted(_price_and_room(s, job) for s in stock):
        if area <= 0:
            break
        take = min(area, room)
        total += take * price
        area -= take
    return total


def _price_and_room(stock: Stock, job: NestJob) -> tuple[float, float]:
    """Cost per usable mm² and how many mm² there are."""
    from yattle.coil.job import ring_area

    by_area, by_length = job.rules.objective == "area", job.rules.objective == "length"
    if stock.outline is not None:
        room = abs(ring_area(stock.outline))
        return (1e-6 if by_area else 0.0 if by_length else (stock.cost or 0.0) / room), room
    width = stock.width or 0.0
    usable = max(width - 2 * job.rules.edge_trim, 1e-9)
    length = stock.length if stock.length is not None else math.inf
    room = usable * length * stock.qty
    if by_length:
        return 1e-3 / usable, room
    if by_area or (stock.kind == "coil" and stock.cost_per_m is None):
        return 1e-6 * width / usable, room
    if stock.kind == "coil":
        return (stock.cost_per_m or 0.0) / 1000 / usable, room
    return (stock.cost or 0.0) / (usable * length), room
