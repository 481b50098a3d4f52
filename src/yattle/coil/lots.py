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
    """For each ``match`` text the lot its parts are cut from: that from which some are cut already. Of the others the
    group that wants most metal chooses first: of the lots from which all of it can be cut that with the most metal
    left, or of all where there is none."""
    groups: dict[str, list[Part]] = defaultdict(list)
    for part in job.parts:
        if part.match is not None:
            groups[part.match].append(part)
    room = _room(job)
    by_coil = job.rules.match_by == "coil"
    chosen: dict[str, Lot] = {one.match: (one.stock if by_coil else one.lot,) for one in job.begun}
    for match, parts in sorted(groups.items(), key=lambda group: (group[0] not in chosen, -_need(group[1]), group[0])):
        metals = {part.metal for part in parts}
        if match in chosen:
            _take(room, chosen[match], parts)
            continue
        left = {lot: sum(rows.get(metal, 0.0) for metal in metals) for lot, rows in room.items()}
        able = [lot for lot in left if left[lot] > 0 and all(_fits_any(part, lot, job) for part in parts)]
        able = able or [lot for lot in left if left[lot] > 0] or list(left)
        if not able:
            continue
        best = max(able, key=lambda lot: left[lot])
        chosen[match] = best
        _take(room, best, parts)
    return chosen


def _take(room: dict[Lot, dict[str, float]], lot: Lot, parts: list[Part]) -> None:
    """The metal of some parts off a lot's."""
    for part in parts:
        room[lot][part.metal] -= _WASTE * part.area * part.qty


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
