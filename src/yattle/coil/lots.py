"""Which pieces must match, and which lot or coil each group of them is cut from."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Mapping
from functools import lru_cache

from yattle.coil.job import NestJob, NestRules, Part, Stock
from yattle.coil.sizes import may_use, orientations, usable_rect

_EPS = 1e-7
_WASTE = 1.1  # times their own area that a group's pieces are reckoned to take

Lot = tuple[str | None]
Lots = Mapping[str, Lot]


def lot_of(stock: Stock, rules: NestRules) -> Lot:
    """What pieces that match must have in common: their lot, or the very coil, sheet or offcut."""
    return (stock.id,) if rules.match_by == "coil" else (stock.lot,)


def may_come_from(part: Part, stock: Stock, lots: Lots | None, rules: NestRules) -> bool:
    """Whether a part may be cut from stock: its metal and direction, and the lot chosen for its ``match`` (``lots``
    ``None``: any)."""
    return may_use(part, stock) and (
        lots is None or part.match is None or lots.get(part.match) == lot_of(stock, rules))


@lru_cache(maxsize=32)
def lots_of(job: NestJob) -> Lots:
    """For each ``match`` text the lot its parts are cut from. The group that wants most metal chooses first: of the
    lots from which all of it can be cut that with the most metal left, or of all where there is none."""
    groups: dict[str, list[Part]] = defaultdict(list)
    for part in job.parts:
        if part.match is not None:
            groups[part.match].append(part)
    room = _room(job)
    chosen: dict[str, Lot] = {}
    for match, parts in sorted(groups.items(), key=lambda group: (-_need(group[1]), group[0])):
        metals = {part.metal for part in parts}
        left = {lot: sum(rows.get(metal, 0.0) for metal in metals) for lot, rows in room.items()}
        able = [lot for lot in left if left[lot] > 0 and all(_fits_any(part, lot, job) for part in parts)]
        able = able or [lot for lot in left if left[lot] > 0] or list(left)
        if not able:
            continue
        best = max(able, key=lambda lot: left[lot])
        chosen[match] = best
        for metal in metals:
            room[best][metal] = room[best].get(metal, 0.0) - _WASTE * _need(
                [part for part in parts if part.metal == metal])
    return chosen


def _need(parts: list[Part]) -> float:
    return sum(part.area * part.qty for part in parts)


def _room(job: NestJob) -> dict[Lot, dict[str, float]]:
    """mm² of each metal in each lot."""
    room: dict[Lot, dict[str, float]] = defaultdict(lambda: defaultdict(float))
    for stock in job.stock:
        if job.rules.match_by == "coil" and stock.kind != "coil":
            continue
        x0, y0, x1, y1 = stock.box
        room[lot_of(stock, job.rules)][stock.metal] += min(x1 - x0, 1e9) * (y1 - y0) * stock.qty
    return room


def _fits_any(part: Part, lot: Lot, job: NestJob) -> bool:
    for stock in job.stock:
        if lot_of(stock, job.rules) != lot or not may_use(part, stock):
            continue
        x0, y0, x1, y1 = usable_rect(stock)
        longest = job.rules.max_crosscut or math.inf if stock.kind == "coil" else math.inf
        if any(way.along <= min(x1 - x0, longest) + _EPS and way.across <= y1 - y0 + _EPS
               for way in orientations(part)):
            return True
    return False
