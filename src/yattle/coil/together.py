"""Several jobs planned as one, so that the short pieces of one fill the gaps of another."""

from __future__ import annotations

from collections.abc import Mapping

from yattle.coil.answer import NestAnswer
from yattle.coil.job import NestJob, Part, Stock
from yattle.csv_tables import as_csv
from yattle.errors import InputError


def together(jobs: Mapping[str, NestJob]) -> NestJob:
    """One job of all pieces, named ``job: piece``, with the rules of the first. Stock that is the same piece in two
    jobs (same id, same measures) counts once; another piece with that id is named after its job. Raises
    :class:`InputError` where there is none."""
    if not jobs:
        raise InputError("jobs", "none", "one or more")
    parts: list[Part] = []
    stock: list[Stock] = []
    for name, job in jobs.items():
        for part in job.parts:
            match = None if part.match is None else f"{name}: {part.match}"
            parts.append(part.but(id=f"{name}: {part.id}", match=match))
        for piece in job.stock:
            same = next((other for other in stock if other.id == piece.id), None)
            if same != piece:
                stock.append(piece if same is None else piece.but(id=f"{name}: {piece.id}"))
    return NestJob(stock=tuple(stock), parts=tuple(parts), rules=next(iter(jobs.values())).rules)


def cuts_csv(answer: NestAnswer) -> str:
    """Every cut in its order, then every piece with where it lies; mm."""
    cuts = ((cut.n, cut.piece, cut.axis, round(cut.at, 2), " + ".join(cut.gives)) for cut in answer.cuts)
    places = ((place.part, place.copy, place.stock,
               *(round(size, 2) for size in (place.x, place.y, place.width, place.height)), place.turn, place.piece)
              for place in answer.placements)
    return as_csv([("cut", "piece", "axis", "at_mm", "gives"), *cuts, (),
                   ("part", "copy", "stock", "x_mm", "y_mm", "along_mm", "across_mm", "turn", "piece"), *places])
