"""Several jobs planned as one, so that the short pieces of one fill the gaps of another."""

from __future__ import annotations

import csv
import io
from collections.abc import Mapping

from yattle.coil.answer import NestAnswer
from yattle.coil.job import NestJob, Part, Stock
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
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(("cut", "piece", "axis", "at_mm", "gives"))
    for cut in answer.cuts:
        writer.writerow((cut.n, cut.piece, cut.axis, round(cut.at, 2), " + ".join(cut.gives)))
    writer.writerow(())
    writer.writerow(("part", "copy", "stock", "x_mm", "y_mm", "along_mm", "across_mm", "turn", "piece"))
    for place in answer.placements:
        sizes = (round(size, 2) for size in (place.x, place.y, place.width, place.height))
        writer.writerow((place.part, place.copy, place.stock, *sizes, place.turn, place.piece or ""))
    return out.getvalue()
