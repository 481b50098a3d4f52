"""Coils, sheets and the offcut rack as a ledger: what a plan promises, takes off and puts back, what was counted; CSV.

The job's ``stock`` is what is there now, its ``ledger`` how that came about. Lengths mm.
"""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass

from yattle.coil import NestAnswer, Stock
from yattle.coil.job import ring_area
from yattle.coil.names import pieces_of
from yattle.csv_tables import as_csv, rows_of
from yattle.errors import InputError
from yattle.job.model import Job, LedgerEntry
from yattle.measure import Sum, Term
from yattle.values import check

COLUMNS = ("id", "kind", "metal", "width_mm", "length_mm", "qty", "lot", "price_per_m", "price", "direction",
           "outline_mm")


@dataclass(frozen=True)
class Promise:
    """What a plan takes of one stock piece: mm of a coil or pieces; ``left`` afterwards, ``None``: enough."""

    stock: str
    takes: float
    left: float | None


def promises(stock: tuple[Stock, ...], answer: NestAnswer) -> tuple[Promise, ...]:
    """What the plan has reserved, coil by coil and sheet by sheet."""
    taken: dict[str, float] = defaultdict(float)
    known, pieces = {piece.id: piece for piece in stock}, pieces_of(stock)
    for used in answer.used:
        piece = pieces[used.stock]
        taken[piece.id] += used.length if piece.kind == "coil" else 1
    return tuple(Promise(name, much, _left(known[name], much)) for name, much in taken.items())


def _left(stock: Stock, taken: float) -> float | None:
    if stock.kind != "coil":
        return stock.qty - taken
    return None if stock.length is None else stock.length - taken


def with_counted(job: Job, stock_id: str, amount: float, when: str) -> Job:
    """The job with a stock piece counted: mm left on a coil, or how many sheets; 0 takes it out. Raises
    :class:`InputError` where there is no such piece or the count is none."""
    found = next((piece for piece in job.stock if piece.id == stock_id), None)
    if found is None:
        raise InputError("stock", repr(stock_id), "one of " + ", ".join(piece.id for piece in job.stock))
    if amount < 0 or (found.kind == "offcut" and amount not in (0, 1)) or (found.kind == "sheet" and amount % 1):
        raise InputError("counted", f"{amount:g}", "mm left on a coil, a whole number of sheets, 0 or 1 offcut")
    delivered = _delivered(job, found)
    if delivered is not None and amount > delivered + 0.5:
        raise InputError("counted", f"{amount:g} on {stock_id}", f"at most {delivered:g}: no more was delivered; what "
                         "came since is another piece of stock")
    new = None if not amount else found.but(length=amount) if found.kind == "coil" else found.but(qty=int(amount))
    entry = LedgerEntry(when=when, what="count", stock=stock_id, amount=amount)
    stock = tuple(new if piece is found else piece for piece in job.stock)
    return job.but(stock=tuple(piece for piece in stock if piece is not None), ledger=(*job.ledger, entry))


def _delivered(job: Job, piece: Stock) -> float | None:
    """What there was at first of a coil or of sheets: what is left and what went; ``None`` where nobody can tell, as of
    coils without an end and after a count."""
    mine = [entry for entry in job.ledger if entry.stock == piece.id]
    left = piece.length if piece.kind == "coil" else float(piece.qty)
    if left is None or piece.kind == "offcut" or any(entry.what == "count" for entry in mine):
        return None
    return left + sum(entry.amount for entry in mine if entry.what == "out")


# -- CSV --------------------------------------------------------------------------------------------------


def stock_csv(stock: tuple[Stock, ...]) -> str:
    """One row a stock piece; an outline as ``x y; x y; …``."""
    return as_csv([COLUMNS, *(
        (piece.id, piece.kind, piece.metal, piece.width, piece.length, piece.qty, piece.lot, piece.cost_per_m,
         piece.cost, piece.direction, "; ".join(f"{x:g} {y:g}" for x, y in piece.outline or ())) for piece in stock)])


def stock_from_csv(text: str) -> tuple[Stock, ...]:
    """What :func:`stock_csv` wrote, or anybody else with those columns (``id``, ``kind`` and ``metal`` at least).
    Raises :class:`InputError` that names line and column."""
    rows = rows_of(text, "stock list")
    names = rows[0] if rows else []
    if not {"id", "kind", "metal"} <= set(names) <= set(COLUMNS):
        raise InputError("head line", ", ".join(names)[:200] or "nothing", "columns of " + ", ".join(COLUMNS))
    for n, row in enumerate(rows[1:], 2):
        if len(row) > len(names):
            raise InputError(f"line {n}", f"{len(row)} cells", f"at most {len(names)}, one for each column")
    found = [check(lambda row=row: _stock(dict(zip(names, row, strict=False))), f"line {n}")  # type: ignore[misc]
             for n, row in enumerate(rows[1:], 2) if any(row)]
    twice = [piece.id for n, piece in enumerate(found) if piece.id in {other.id for other in found[:n]}]
    if twice:
        raise InputError("id", f"{twice[0]!r} twice", "every id once")
    return tuple(found)


def _stock(row: dict[str, str]) -> Stock:
    names = {"width_mm": "width", "length_mm": "length", "price_per_m": "cost_per_m", "price": "cost"}
    given = {names.get(name, name): text.strip() for name, text in row.items() if name and text and text.strip()}
    outline = given.pop("outline_mm", "")
    values: dict[str, object] = {}
    for name, text in given.items():
        try:
            values[name] = float(text) if name in ("width", "length", "cost_per_m", "cost") else (
                int(text) if name == "qty" else text)
        except ValueError:
            raise InputError(name, repr(text[:40]), "a whole number" if name == "qty" else "a number") from None
    if outline:
        try:
            values["outline"] = tuple((float(a), float(b)) for a, b in (point.split() for point in outline.split(";")))
        except ValueError:
            raise InputError("outline_mm", repr(outline[:40]), "x y; x y; x y and so on") from None
    return Stock(**values)  # type: ignore[arg-type]


# -- what a plan comes to -----------------------------------------------------------------------------------


def money_of(stock: Stock, length: float) -> float | None:
    """What ``length`` mm of a coil, a whole sheet or an offcut has cost, in the shop's money, whatever a plan makes
    least; an offcut nobody priced costs nothing, ``None`` where a price is missing."""
    if stock.kind == "coil":
        return None if stock.cost_per_m is None else length / 1000 * stock.cost_per_m
    return stock.cost if stock.cost is not None else 0.0 if stock.kind == "offcut" else None


def plan_price(job: Job, answer: NestAnswer) -> Sum:
    """What a plan costs the shop: metal, the time of its cuts at the shop's rate, less what kept offcuts are worth;
    metal without a price is named."""
    pieces = pieces_of(job.stock)
    costs = {used.stock: money_of(pieces[used.stock], used.length) for used in answer.used}
    bare = sorted({pieces[name].id for name, cost in costs.items() if cost is None})
    rates = {used.stock: (costs[used.stock] or 0.0) / used.area for used in answer.used if used.area}
    kept = sum(abs(ring_area(offcut.outline)) / 1e6 * rates.get(offcut.stock, 0.0) for offcut in answer.offcuts)
    terms = [Term("metal", sum(cost for cost in costs.values() if cost is not None)),
             Term(f"{len(answer.cuts)} cuts", len(answer.cuts) * job.shop.a_cut),
             Term(f"{len(answer.offcuts)} offcuts kept", -kept * job.shop.offcuts_worth)]
    if bare:
        terms.insert(1, Term(f"not priced: {', '.join(bare)}", 0.0))
    return Sum("plan", tuple(terms))
