"""A plan changed by hand: a piece moved onto metal that is left, blocks kept while the rest is planned anew, and what
is still to be done once some of it is cut."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from yattle.coil.answer import Cut, NestAnswer, Placement, Rect
from yattle.coil.check import faults
from yattle.coil.job import NestJob, Stock
from yattle.coil.names import names_by_id
from yattle.coil.read import held, laid_of, stock_of, table_after, written
from yattle.coil.sizes import Orientation, box_of, orientations
from yattle.coil.solve import nest
from yattle.coil.write import metal_in
from yattle.errors import InputError

_EPS = 1e-7


def moved(job: NestJob, answer: NestAnswer, part: str, copy: int, to: tuple[str, float, float]) -> NestAnswer:
    """The plan with one piece moved onto what is left at a place (stock piece, x, y); raises :class:`InputError` where
    nothing is left there or the piece does not fit. Places in mm."""
    name, x, y = to
    place = next(p for p in answer.placements if (p.part, p.copy) == (part, copy))
    taken = {p.piece for p in answer.placements}
    coils = {stock.id for stock in job.stock if stock.kind == "coil"}
    left = [(piece, rect) for piece, (stock, rect) in table_after(job, answer, len(answer.cuts)).items()
            if stock == name and piece not in taken and piece not in coils
            and rect[0] <= x <= rect[2] and rect[1] <= y <= rect[3]]
    if not left:
        raise InputError("piece", "another piece or the coil itself there", "metal that is left over, shown pale")
    piece, rect = left[0]
    of = next(p for p in job.parts if p.id == part)
    wide, tall = rect[2] - rect[0] + _EPS, rect[3] - rect[1] + _EPS
    lie = next((lie for lie in orientations(of) if lie.along <= wide and lie.across <= tall), None)
    if lie is None:
        raise InputError("piece", f"{place.width:.0f} × {place.height:.0f} mm on {wide:.0f} × {tall:.0f} mm that is "
                         "left", "a larger place or a smaller piece")
    cuts, last = _freed(piece, rect, lie, answer)
    new = replace(place, stock=name, turn=lie.turn, x=rect[0], y=rect[1], width=lie.along, height=lie.across,
                  piece=last)
    changed = replace(answer, cuts=answer.cuts + cuts,
                      placements=tuple(new if p == place else p for p in answer.placements))
    shaken = written(job, [one for one in laid_of(job, changed) if one.blocks], changed)
    wrong = faults(job, shaken.answer())
    if wrong:
        raise InputError("piece", wrong[0], "a place where it can be cut out")
    return shaken


def _freed(piece: str, rect: Rect, lie: Orientation, answer: NestAnswer) -> tuple[tuple[Cut, ...], str]:
    """The cuts that take a piece out of the corner of a rectangle, and what it is called then."""
    names = sum(1 for _ in answer.cuts) * 2 + 1
    made: list[Cut] = []
    for axis, size, room in (("across", lie.along, rect[2] - rect[0]), ("along", lie.across, rect[3] - rect[1])):
        if size < room - _EPS:
            gives = f"h{names + 2 * len(made)}", f"h{names + 2 * len(made) + 1}"
            at = (rect[0] if axis == "across" else rect[1]) + size
            made.append(Cut(len(answer.cuts) + len(made) + 1, piece, axis, at, gives))
            piece = gives[0]
    return tuple(made), piece


def planned_around(job: NestJob, answer: NestAnswer, locked: frozenset[str],
                   asked: Callable[[], bool] = lambda: False,
                   found: Callable[[NestAnswer], None] | None = None) -> NestAnswer:
    """Everything but the blocks that hold a ``locked`` piece (``part/copy``) planned anew."""
    kept, rest = held(job, answer, locked)
    if not rest.parts:
        return answer

    def whole(part: NestAnswer) -> NestAnswer:
        both = written(job, [*kept, *laid_of(rest, part)], part)
        return replace(both, bound=answer.bound)
    tell = None if found is None else lambda part: found(whole(part))
    return whole(nest(rest, asked, tell))


@dataclass(frozen=True)
class AfterCuts:
    """What there is after the first cuts of a plan.

    ``out``: the pieces that are cut out by then
    ``stock``: what is left of each stock piece, then the rests on the floor that may be worth keeping
    ``off``: how many mm are off each coil the plan uses
    """

    out: tuple[Placement, ...]
    stock: tuple[Stock, ...]
    off: dict[str, float]


def after_cuts(job: NestJob, answer: NestAnswer, made: int) -> AfterCuts:
    """What there is after the first ``made`` cuts."""
    table, least = table_after(job, answer, made), sorted(job.rules.min_offcut)
    out = tuple(place for place in answer.placements if _is_free(place, table))
    begun = {cut.piece for cut in answer.cuts[:made]}
    finished = {place.piece for place in out}
    floor = [rest for name, (stock, rect) in table.items()
             if name not in finished and name != stock and _holds(rect, least)
             for rest in _offcuts(job, name, stock, rect)]
    names = names_by_id(job.stock)
    left = (_left_of(stock, names[stock.id], begun, table) for stock in job.stock)
    used = {one.stock for one in answer.used}
    off = {piece.id: table[piece.id][1][0] if piece.id in table else piece.length or 0.0
           for piece in job.stock if piece.kind == "coil" and piece.id in used}
    return AfterCuts(out, (*(stock for stock in left if stock is not None), *floor), off)


def _holds(rect: Rect, least: list[float]) -> bool:
    short, long = sorted((rect[2] - rect[0], rect[3] - rect[1]))
    return short >= least[0] - _EPS and long >= least[1] - _EPS


def _is_free(place: Placement, table: dict[str, tuple[str, Rect]]) -> bool:
    return place.piece in table and place.piece != place.stock


def _offcuts(job: NestJob, name: str, stock: str, rect: Rect) -> list[Stock]:
    """What a rectangle on the floor is: metal as wide as it, or, cut from an irregular piece, what that had there."""
    of, found = stock_of(job, stock), list[Stock]()
    for n, ring in enumerate(metal_in(rect, of.outline), 1):
        x0, y0, _, _ = box_of(list(ring))
        found.append(Stock(id=f"{stock} {name}" + (f" {n}" if n > 1 else ""), kind="offcut", metal=of.metal, lot=of.lot,
                           cost=0.0, direction=of.direction, outline=tuple((x - x0, y - y0) for x, y in ring)))
    return found


def _left_of(stock: Stock, names: tuple[str, ...], begun: set[str],
             table: dict[str, tuple[str, Rect]]) -> Stock | None:
    """What is left of a stock piece as it lay at first: the rest of a coil, sheets and offcuts not begun."""
    if stock.kind == "coil":
        rest = table.get(stock.id)
        cut = rest[1][0] if rest is not None else 0.0
        return stock if stock.length is None or not cut else stock.but(length=max(stock.length - cut, 1.0))
    many = sum(1 for name in begun if name in names)
    return stock.but(qty=stock.qty - many) if stock.qty > many else None
