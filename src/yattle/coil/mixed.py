"""Shear and snips together: long strips are sheared; what is irregular is cut by hand out of what they leave and out of
offcuts, and only then from fresh metal."""

from __future__ import annotations

import time
from collections import Counter
from collections.abc import Callable
from dataclasses import replace

from yattle.bounds import Ring
from yattle.coil.answer import NestAnswer, Placement, Used
from yattle.coil.budget import Budget
from yattle.coil.job import NestJob, Part, Stock
from yattle.coil.money import objective_of
from yattle.coil.names import names_by_id, pieces_of
from yattle.coil.outlines import laid_within
from yattle.coil.price import stock_cost, used_area
from yattle.coil.read import table_after
from yattle.coil.shapes import nest_shapes, placed
from yattle.coil.sizes import may_use, orientations

_FILLED = 0.97  # of its rectangle: from there on a part is as well sheared
_LONG = 1200.0  # mm: longer ones are sheared anyway
_SHEAR = 0.5  # of the time


def irregular(part: Part) -> bool:
    """Whether a part is rather cut by hand than sheared."""
    lie = orientations(part)[0]
    return part.area < _FILLED * lie.along * lie.across and max(lie.along, lie.across) <= _LONG


def nest_mixed(job: NestJob, until: float, shear: Callable[[NestJob], NestAnswer],
               asked: Callable[[], bool]) -> NestAnswer:
    """The whole: ``shear`` plans the strips; then the rest. The moment in seconds of :func:`time.perf_counter`."""
    strips = tuple(part for part in job.parts if not irregular(part))
    rest = [part for part in job.parts if irregular(part) for _ in range(part.qty)]
    now = time.perf_counter()
    rules = job.rules.but(cutting="shear", seconds=max(0.2, (until - now) * (_SHEAR if rest else 1.0)))
    answer = shear(job.but(parts=strips, rules=rules))
    if not rest:
        return answer
    answer = _into_what_is_left(job, answer, rest, (time.perf_counter() + until) / 2)
    return _from_fresh(job, answer, rest, Budget(until, None, asked))


def _into_what_is_left(job: NestJob, answer: NestAnswer, rest: list[Part], until: float) -> NestAnswer:
    """Parts of ``rest`` (they are taken out of it) on offcuts not used and on what the shear leaves."""
    known = pieces_of(job.stock)
    places: list[tuple[Stock, str, Ring]] = []
    begun = {used.stock for used in answer.used}
    for stock in job.stock:
        if stock.kind == "offcut" and stock.id not in begun and stock.outline is not None:
            places.append((stock, stock.id, stock.outline))
    taken = {place.piece for place in answer.placements}
    for name, (of, (x0, y0, x1, y1)) in table_after(job, answer, len(answer.cuts)).items():
        stock = known[of]
        if name not in taken and not (stock.kind == "coil" and name == of):
            places.append((stock, of, ((x0, y0), (x1, y0), (x1, y1), (x0, y1))))
    found: list[Placement] = []
    for stock, name, ring in places:
        laid = laid_within(ring, [part for part in rest if may_use(part, stock)], job.rules.gap, until)
        found += [placed(part, turn, at, name) for part, turn, at in laid]
        for part, _, _ in laid:
            rest.remove(part)
    new = [_used(stock, name, 0.0, job) for stock, name, _ in places
           if name not in begun and any(p.stock == name for p in found)]
    return _with(answer, found, (*answer.used, *new), job)


def _from_fresh(job: NestJob, answer: NestAnswer, rest: list[Part], budget: Budget) -> NestAnswer:
    """What is still left of ``rest`` by true shapes from coils beyond what the shear takes, and from sheets."""
    if not rest:
        return answer
    counts = Counter(part.id for part in rest)
    cut = {used.stock: used.length for used in answer.used}
    known, names = pieces_of(job.stock), names_by_id(job.stock)
    begun = Counter(known[used.stock].id for used in answer.used)
    stock: list[Stock] = []
    anew: dict[str, list[str]] = {}  # the sheets not begun, by what they are called here
    for piece in job.stock:
        if piece.kind == "coil":
            left = None if piece.length is None else piece.length - cut.get(piece.id, 0.0)
            stock += [piece.but(length=left)] if left is None or left > 1 else []
        elif piece.kind == "sheet" and piece.qty > begun[piece.id]:
            fresh = f"{piece.id}+"
            while fresh in names or fresh in anew:
                fresh += "+"
            anew[fresh] = [name for name in names[piece.id] if name not in cut]
            stock.append(piece.but(id=fresh, qty=piece.qty - begun[piece.id]))
    parts = tuple(part.but(qty=counts[part.id]) for part in job.parts if counts[part.id])
    nested = nest_shapes(job.but(parts=parts, stock=tuple(stock), rules=job.rules.but(cutting="snips")), budget)
    if nested is None:
        return answer
    called = {name: anew[fresh.id][n] for fresh in stock if fresh.id in anew
              for n, name in enumerate(names_by_id(tuple(stock))[fresh.id])}
    found = [_moved(place, cut, called) for place in nested.placements]
    used = dict.fromkeys(answer.used)
    for more in nested.used:
        name = called.get(more.stock, more.stock)
        stock_of = known[name]
        before = next((u for u in used if u.stock == name), None)
        if before is not None:
            del used[before]
        used[_used(stock_of, name, more.length + (before.length if before else 0.0), job)] = None
    return _with(answer, found, tuple(used), job)


def _moved(place: Placement, cut: dict[str, float], called: dict[str, str]) -> Placement:
    """A place on what is left of a coil, or on a fresh sheet, as one on the whole coil or on the job's own sheet."""
    return replace(place, stock=called.get(place.stock, place.stock), x=place.x + cut.get(place.stock, 0.0))


def _used(stock: Stock, name: str, length: float, job: NestJob) -> Used:
    x0, _, x1, _ = stock.box
    long = length if stock.kind == "coil" else x1 - x0
    return Used(name, long, used_area(stock, long), stock_cost(stock, long, job.rules))


def _with(answer: NestAnswer, more: list[Placement], used: tuple[Used, ...], job: NestJob) -> NestAnswer:
    """The answer with more placed, copies numbered, what is not placed and what it costs told anew."""
    from yattle.coil.write import Writer

    parts = {part.id: part for part in job.parts}
    copies: Counter[str] = Counter()
    placements = []
    for place in (*answer.placements, *more):
        copies[place.part] += 1
        placements.append(replace(place, copy=copies[place.part]))
    kept = tuple(offcut for offcut in answer.offcuts if not any(
        p.stock == offcut.stock and _inside(p, offcut.outline) for p in more))
    return replace(answer, placements=tuple(placements), used=used, offcuts=kept,
                   unplaced=Writer(job, []).unplaced(copies),
                   objective=objective_of(job.rules, used, answer.cuts, kept),
                   placed_area=sum(parts[p.part].area for p in placements) / 1e6)


def _inside(place: Placement, outline: Ring) -> bool:
    xs, ys = zip(*outline, strict=True)
    return bool(place.x < max(xs) and place.x + place.width > min(xs)
                and place.y < max(ys) and place.y + place.height > min(ys))
