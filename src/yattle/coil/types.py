"""Parts that are alike, as the search counts them, and the stock they can come from."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from yattle.coil.job import NestJob, NestRules, Part, Stock
from yattle.coil.lots import Lots, may_come_from
from yattle.coil.sizes import Orientation, orientations, usable_rect

_EPS = 1e-7
_LONG, _TIMES = 6000.0, 3  # mm, or times the longest piece: blocks where nothing limits them


@dataclass(frozen=True)
class ItemType:
    """Parts of one size, metal and lot: ``orientations`` are the ways they may lie, ``qty`` how many there are
    in all."""

    orientations: tuple[Orientation, ...]
    parts: tuple[Part, ...]
    qty: int


@dataclass(frozen=True)
class StockType:
    """Stock the search cuts from. Lengths in mm, prices in units of the objective.

    ``across``: its usable width; ``edge``: what is trimmed off along its sides
    ``longest``: block of it
    ``price``: per mm of length taken off a coil; ``fixed``: of a whole sheet or offcut
    ``most``: pieces there are of it; ``length``: of coil in all
    ``kinds``: the item types it may be used for
    """

    stock: Stock
    across: float
    longest: float
    price: float
    fixed: float
    most: int
    length: float
    kinds: tuple[int, ...]
    edge: float = 0.0

    @property
    def endless(self) -> bool:
        """Whether lengths are taken off it one after another."""
        return self.stock.kind == "coil"

    def cost(self, length: float) -> float:
        """What ``length`` mm of it costs, in units of the objective; a sheet or offcut always the whole."""
        return self.price * length if self.endless else self.fixed


def kinds_of(parts: list[tuple[Part, int]]) -> list[ItemType]:
    """Parts that cannot be told apart by size, metal, turns or lot, with their number; largest first."""
    groups: dict[object, list[tuple[Part, int]]] = {}
    for part, count in parts:
        sizes = tuple((round(lie.along, 6), round(lie.across, 6)) for lie in orientations(part))
        groups.setdefault((sizes, part.metal, part.match, part.turns), []).append((part, count))
    found = [ItemType(orientations(group[0][0]), tuple(part for part, _ in group), sum(count for _, count in group))
             for group in groups.values()]
    return sorted(found, key=lambda kind: (-kind.orientations[0].along, -kind.orientations[0].across, kind.parts[0].id))


def sources_of(job: NestJob, kinds: list[ItemType], lots: Lots | None,
               trims: dict[str, tuple[float, float]],
               cost: Callable[[Stock, float], float]) -> list[StockType]:
    """Every stock piece that any of the kinds can come from (``lots``: those chosen for matches; ``None``: any);
    ``trims`` of each, along the edges and at the end; ``cost`` of so many mm of it."""
    found = []
    for stock in job.stock:
        allowed = tuple(n for n, kind in enumerate(kinds) if may_come_from(kind.parts[0], stock, lots, job.rules))
        source = _source(job.rules, stock, kinds, allowed, trims[stock.id], cost)
        if allowed and source is not None:
            found.append(source)
    return found


def _source(rules: NestRules, stock: Stock, kinds: list[ItemType], allowed: tuple[int, ...], trims: tuple[float, float],
            cost: Callable[[Stock, float], float]) -> StockType | None:
    edge, end = trims
    x0, y0, x1, y1 = usable_rect(stock)
    across, along = y1 - y0 - 2 * edge, x1 - x0 - end * (2 if stock.kind == "sheet" else 1)
    longest = min(along, longest_block(rules, stock) if stock.kind == "coil" else along)
    if math.isinf(longest):
        longest = max(_LONG, _TIMES * max((kinds[n].orientations[0].along for n in allowed), default=0.0))
    if across <= 0 or longest <= 0 or (rules.max_cut is not None and y1 - y0 > rules.max_cut + _EPS):
        return None
    if stock.kind != "coil" and rules.max_cut is not None and along > rules.max_cut + _EPS:
        return None
    price = cost(stock, 1.0) if stock.kind == "coil" else 0.0
    fixed = 0.0 if stock.kind == "coil" else cost(stock, x1 - x0)
    many = stock.qty if stock.kind != "coil" else 1_000_000
    return StockType(stock, across, longest, price, fixed, many, along, allowed, edge)


def longest_block(rules: NestRules, stock: Stock) -> float:
    """How long a piece may be that is cut off a coil, mm."""
    limits = [limit for limit in (rules.max_crosscut, rules.max_cut) if limit is not None]
    if rules.max_piece_kg is not None:
        from yattle.coil.weight import kg_per_m2

        height = usable_rect(stock)[3] - usable_rect(stock)[1]
        limits.append(rules.max_piece_kg / kg_per_m2(stock.metal) / height * 1e6)
    return min(limits, default=math.inf)
