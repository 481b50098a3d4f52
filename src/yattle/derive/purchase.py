"""What to buy: the job's pieces planned on fresh coil of each usual width, compared by metal and metres."""

from __future__ import annotations

from dataclasses import dataclass

from yattle.coil import NestJob, Stock, first_answer

SPARE = 0.01
"""What is ordered beyond the plan, a share of it: coils are measured by their maker."""
WIDTHS = (610.0, 1000.0, 1220.0, 1250.0)
"""Usual coil widths, mm."""


@dataclass(frozen=True)
class Proposal:
    """Fresh coil of ``width``: ``metres`` of it, the square metres that is, the share that becomes pieces; ``left``
    pieces that are too wide for it."""

    width: float
    metres: float
    area: float
    used_well: float
    left: int


def proposals(job: NestJob, widths: tuple[float, ...] = WIDTHS) -> tuple[Proposal, ...]:
    """One for each width and those the job has, what takes least metal first; widths no piece fits are left out.
    Widths in mm."""
    metals = {part.metal for part in job.parts}
    own = {stock.width for stock in job.stock if stock.kind == "coil" and stock.metal in metals and stock.width}
    found = []
    for width in sorted({*widths, *own}):
        stock = tuple(Stock(id=f"new {n}", kind="coil", width=width, metal=metal)
                      for n, metal in enumerate(sorted(metals), 1))
        answer = first_answer(job.but(stock=stock))
        if answer.used:
            found.append(Proposal(width, sum(u.length for u in answer.used) / 1000, answer.used_area, answer.share_used,
                                  sum(u.copies for u in answer.unplaced)))
    return tuple(sorted(found, key=lambda p: (p.left, p.area)))
