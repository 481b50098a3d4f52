"""Several jobs planned as one, so that the short pieces of one fill the gaps of another."""

from __future__ import annotations

from collections.abc import Mapping

from yattle.coil.answer import NestAnswer
from yattle.coil.job import NestJob, NestRules, Part, Stock
from yattle.csv_tables import as_csv
from yattle.errors import InputError


def together(jobs: Mapping[str, NestJob]) -> NestJob:
    """One job of all pieces, named ``job: piece``, with the rules of the first. Stock that is the same piece in two
    jobs (same id, same measures) counts once; another piece with that id is named after its job. Raises
    :class:`InputError` where there is none, for one piece at two prices, and where some coils have a price and others
    have none: money and square metres do not add up."""
    if not jobs:
        raise InputError("jobs", "none", "one or more")
    parts: list[Part] = []
    stock: list[Stock] = []
    for name, job in jobs.items():
        for part in job.parts:
            match = None if part.match is None else f"{name}: {part.match}"
            parts.append(part.but(id=f"{name}: {part.id}", match=match))
        for piece in job.stock:
            _take_in(stock, piece, name)
    _one_currency(stock, next(iter(jobs.values())).rules)
    return NestJob(stock=tuple(stock), parts=tuple(parts), rules=next(iter(jobs.values())).rules)


def names_of(names: list[str]) -> list[str]:
    """The names of jobs, each once: those that come again have their place behind them.

    >>> names_of(["shed", "loft", "shed"])
    ['shed 1', 'loft', 'shed 3']
    """
    found: list[str] = []
    for n, name in enumerate(names, 1):
        said = name if names.count(name) == 1 else f"{name} {n}"
        while said in found or (said != name and said in names):
            said += "."
        found.append(said)
    return found


def _take_in(stock: list[Stock], piece: Stock, job: str) -> None:
    """A job's stock piece beside that of the others: the same one counts once."""
    bare = piece.but(cost=None, cost_per_m=None)
    for n, other in enumerate(stock):
        if other.but(cost=None, cost_per_m=None) == bare:
            for price in ("cost", "cost_per_m"):
                one, two = getattr(other, price), getattr(piece, price)
                if one is not None and two is not None and one != two:
                    raise InputError("stock", f"{piece.id} at {one:g} and at {two:g}", "one price for one piece")
                if one is None and two is not None:
                    stock[n] = other.but(**{price: two})
            return
    taken = {other.id for other in stock}
    stock.append(piece if piece.id not in taken else piece.but(id=f"{job}: {piece.id}"))


def _one_currency(stock: list[Stock], rules: NestRules) -> None:
    coils = [piece for piece in stock if piece.kind == "coil"]
    bare = [piece.id for piece in coils if piece.cost_per_m is None]
    if rules.objective in ("cost", "money") and bare and len(bare) < len(coils):
        raise InputError("stock", f"{bare[0]} without a price beside coils with one", "a price a metre for every coil")


def cuts_csv(answer: NestAnswer) -> str:
    """Every cut in its order, then every piece with where it lies; mm."""
    cuts = ((cut.n, cut.piece, cut.axis, round(cut.at, 2), " + ".join(cut.gives)) for cut in answer.cuts)
    places = ((place.part, place.copy, place.stock,
               *(round(size, 2) for size in (place.x, place.y, place.width, place.height)), place.turn, place.piece)
              for place in answer.placements)
    return as_csv([("cut", "piece", "axis", "at_mm", "gives"), *cuts, (),
                   ("part", "copy", "stock", "x_mm", "y_mm", "along_mm", "across_mm", "turn", "piece"), *places])
