"""Jobs that just fit their coils: the plan is made as if the coils were endless, and its blocks are shared out among
them, so that as few pieces as possible stay without a place."""

from __future__ import annotations

import random
from collections import Counter, defaultdict
from collections.abc import Callable

from yattle.coil.answer import NestAnswer
from yattle.coil.block import Spacing
from yattle.coil.check import faults
from yattle.coil.first import FirstPlan, Laid, trims_of
from yattle.coil.job import NestJob, Stock
from yattle.coil.read import laid_of, written
from yattle.coil.sizes import usable_rect
from yattle.coil.tree import Tree, leaves

_TRIES = 20  # orders in which blocks are shared out
Rows = list[tuple[float, Tree]]
Kind = tuple[object, ...]
"""What coils have in common that are like each other: metal, width, lot, price."""


def is_tight(job: NestJob, answer: NestAnswer) -> bool:
    """Whether pieces found no place though they are not too large, on coils of a length."""
    return (job.rules.cutting == "shear" and job.rules.first == "crosscut"
            and any(left.reason == "no stock left" for left in answer.unplaced)
            and any(stock.kind == "coil" and stock.length is not None for stock in job.stock))


def endless(job: NestJob) -> NestJob:
    """The job with one coil without end for all like coils of a length."""
    stock: list[Stock] = []
    seen: set[Kind] = set()
    for piece in job.stock:
        if piece.kind != "coil" or piece.length is None:
            stock.append(piece)
        elif _kind(piece) not in seen:
            seen.add(_kind(piece))
            stock.append(piece.but(length=None))
    return job.but(stock=tuple(stock))


def _kind(coil: Stock) -> Kind:
    return coil.metal, coil.width, coil.lot, coil.cost_per_m


def shared_out(job: NestJob, plan: NestAnswer) -> NestAnswer | None:
    """The blocks of a plan of the job's :func:`endless` twin on the job's own coils; what finds no room is planned
    again on what is left of them. ``None`` where the shear cannot cut it so."""
    twin = endless(job)
    fixed, blocks = [], dict[Kind, Rows]()
    for laid in laid_of(twin, plan):
        if laid.stock.kind == "coil" and laid.stock.length is None and laid.stock not in job.stock:
            blocks[_kind(laid.stock)] = [(length, tree) for _, length, tree in laid.blocks]
        else:
            fixed.append(laid)
    draw = random.Random(job.rules.seed)
    best: NestAnswer | None = None
    for n in range(_TRIES):
        rows = {kind: sorted(own, key=lambda row: -row[0] * (draw.uniform(0.8, 1.25) if n else 1.0))
                for kind, own in blocks.items()}
        answer = _tried(job, plan, fixed, rows)
        if answer is not None and (best is None or _left(answer) < _left(best)):
            best = answer
        if best is not None and not best.unplaced:
            break
    return None if best is None or faults(job, best.answer()) else best


def _left(answer: NestAnswer) -> tuple[int, float]:
    return sum(one.copies for one in answer.unplaced), round(answer.objective, 6)


def _tried(job: NestJob, plan: NestAnswer, fixed: list[Laid], rows: dict[Kind, Rows]) -> NestAnswer | None:
    """Blocks in that order each onto the coil where it leaves least, then what is left on the coils' rests."""
    gap, room = Spacing.of(job.rules).gap, dict[str, float]()
    laid: dict[str, Rows] = defaultdict(list)
    coils = [stock for stock in job.stock if stock.kind == "coil" and stock.length is not None]
    for stock in coils:
        x0, _, x1, _ = usable_rect(stock)
        room[stock.id] = x1 - x0 - trims_of(stock, job.rules)[1]
    for kind, own in rows.items():
        for length, tree in own:
            fits = [stock for stock in coils if _kind(stock) == kind and room[stock.id] >= length - 1e-6]
            if fits:
                onto = min(fits, key=lambda stock: room[stock.id])
                laid[onto.id].append((length, tree))
                room[onto.id] -= length + gap
    return _with_rest(job, plan, fixed, laid, room)


def _with_rest(job: NestJob, plan: NestAnswer, fixed: list[Laid], laid: dict[str, Rows],
               room: dict[str, float]) -> NestAnswer | None:
    known = {stock.id: stock for stock in job.stock}
    whole = [*fixed, *(Laid(known[name], tuple((0.0, length, tree) for length, tree in own), 0.0, 0.0)
                       for name, own in laid.items())]
    gap = Spacing.of(job.rules).gap
    placed = Counter(leaf.item.id for one in whole for _, _, tree in one.blocks for leaf, _, _ in leaves(tree, gap))
    parts = tuple(part.but(qty=part.qty - placed[part.id]) for part in job.parts if part.qty > placed[part.id])
    if parts:
        stock = tuple(known[name].but(length=left + trims_of(known[name], job.rules)[1])
                      for name, left in room.items() if left > 1.0)
        if stock:
            for one in FirstPlan(job.but(parts=parts, stock=stock)).laid:
                whole.append(Laid(known[one.stock.id], one.blocks, one.low, one.end))
    return written(job, whole, plan)


def planned(job: NestJob, first: NestAnswer, nest: Callable[[NestJob], NestAnswer]) -> NestAnswer | None:
    """A plan for a tight job with fewer pieces left over than ``first``; ``nest`` plans its endless twin."""
    answer = shared_out(job, nest(endless(job)))
    return answer if answer is not None and _left(answer) < _left(first) else None
