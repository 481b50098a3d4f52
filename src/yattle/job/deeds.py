"""What was really cut: a plan's cuts made, all of them or the first ones, as one deed of the job.

Pieces that are cut are kept by their id and the shape they had, and are not planned again; metal goes off the stock,
what is left on the floor and worth keeping goes onto the rack, each with an entry in the ledger; a spoiled piece gets
one in the logbook and is planned again.
"""

from __future__ import annotations

import hashlib
from collections import Counter
from collections.abc import Mapping
from functools import lru_cache
from itertools import count
from types import MappingProxyType

from yattle.bounds import Ring
from yattle.coil import NestAnswer, NestJob, Stock
from yattle.coil.answer import Placement
from yattle.coil.by_hand import after_cuts
from yattle.coil.job import Part
from yattle.coil.names import pieces_of
from yattle.coil.rests import is_kept, rests
from yattle.errors import InputError
from yattle.job.model import CutPieces, Job, LedgerEntry, LogEntry
from yattle.pattern import Pattern

_SCRAP = 20.0  # mm of a coil, of which no piece is made
_ROUNDED = 2  # decimals of a mm: shapes that are as alike are one


@lru_cache(maxsize=20_000)
def shape_of(outline: Ring, holes: tuple[Ring, ...] = ()) -> str:
    """A short name of a piece's shape: the same for shapes that agree to 0.01 mm."""
    said = [[(round(x, _ROUNDED), round(y, _ROUNDED)) for x, y in ring] for ring in (outline, *holes)]
    return hashlib.blake2b(repr(said).encode(), digest_size=8).hexdigest()


def cut_of(job: Job, part: Part | Pattern) -> int:
    """How many copies of a part are cut already, in the shape it has now."""
    return min(sum(done.copies for done in cuts_of(job, part)), part.qty)


def cuts_of(job: Job, part: Part | Pattern) -> tuple[CutPieces, ...]:
    """What is cut of a part in the shape it has now, by the stock it came from."""
    of_it = _cut_by_piece(job.cut).get(part.id, ())
    shape = shape_of(part.outline, part.holes) if of_it else ""
    return tuple(done for done in of_it if done.shape == shape)


@lru_cache(maxsize=16)
def _cut_by_piece(cut: tuple[CutPieces, ...]) -> Mapping[str, tuple[CutPieces, ...]]:
    found: dict[str, tuple[CutPieces, ...]] = {}
    for done in cut:
        found[done.piece] = (*found.get(done.piece, ()), done)
    return MappingProxyType(found)


def with_cuts_made(job: Job, asked: NestJob, answer: NestAnswer, when: str, made: int | None = None,
                   spoiled: tuple[tuple[str, int], ...] = ()) -> Job:
    """The job once the first ``made`` cuts of a plan for ``asked`` are made, ``None``: all of them, some pieces (part,
    copy) ``spoiled``. Raises :class:`InputError` for a plan of other stock, and for a spoiled piece that is not cut
    yet."""
    other = _edited(asked, job)
    if other:
        raise InputError("stock", f"{', '.join(other)} changed since the plan was made",
                         "the plan as it is worked out now")
    if answer.cuts:
        made = len(answer.cuts) if made is None else made
        after = after_cuts(asked, answer, made)
        left, taken, out = after.stock, after.off, after.out
    else:
        left, taken = _by_hand(asked, answer), {used.stock: used.length for used in answer.used}
        out = answer.placements
    for part, copy in set(spoiled) - {(place.part, place.copy) for place in out}:
        raise InputError("spoiled", f"{part} (copy {copy}) not cut yet after cut {made}",
                         "a piece that is free by then")
    stock, entries = _stock_after(job, asked, left, taken, when)
    log = tuple(LogEntry(when=when, what="spoiled", of=part, text="to be cut again") for part, _ in spoiled)
    good = tuple(place for place in out if (place.part, place.copy) not in spoiled)
    return job.but(cut=_cut_now(job, asked, good), stock=stock, ledger=(*job.ledger, *entries), log=(*job.log, *log))


def _edited(asked: NestJob, job: Job) -> list[str]:
    """Which pieces of stock are not there, or not as they were, when the plan was made; prices do not matter."""
    before, now = ({piece.id: piece.but(cost=None, cost_per_m=None) for piece in stock}
                   for stock in (asked.stock, job.stock))
    return sorted(name for name in before.keys() | now.keys() if before.get(name) != now.get(name))


def _by_hand(asked: NestJob, answer: NestAnswer) -> tuple[Stock, ...]:
    """The stock that is left once everything was cut out by hand."""
    pieces, gone, length = pieces_of(asked.stock), Counter[str](), dict[str, float]()
    for used in answer.used:
        piece = pieces[used.stock]
        gone[piece.id] += 1
        length[piece.id] = used.length
    left = []
    for piece in asked.stock:
        if piece.kind == "coil":
            short = piece.length is not None and piece.id in length
            left.append(piece.but(length=max((piece.length or 0.0) - length[piece.id], 1.0)) if short else piece)
        elif piece.qty > gone[piece.id]:
            left.append(piece.but(qty=piece.qty - gone[piece.id]))
    floor = []
    for n, offcut in enumerate(rests(asked, answer), 1):
        of, (x0, y0) = pieces[offcut.stock], (min(c[k] for c in offcut.outline) for k in (0, 1))
        floor.append(Stock(id=f"{offcut.stock} floor {n}", kind="offcut", metal=of.metal, lot=of.lot,
                           direction=of.direction, outline=tuple((x - x0, y - y0) for x, y in offcut.outline)))
    return (*left, *floor)


def _cut_now(job: Job, asked: NestJob, out: tuple[Placement, ...]) -> tuple[CutPieces, ...]:
    """What is cut in all: what was, and what came out of the plan, by the stock it came from."""
    names, parts = pieces_of(asked.stock), {part.id: part for part in asked.parts}
    cut = {(done.piece, done.shape, done.stock): done for done in job.cut}
    for (part, name), copies in Counter((place.part, place.stock) for place in out).items():
        of, shape = names[name], shape_of(parts[part].outline, parts[part].holes)
        was = cut.get((part, shape, of.id))
        cut[part, shape, of.id] = was.but(copies=was.copies + copies) if was else CutPieces(
            piece=part, shape=shape, copies=copies, stock=of.id, lot=of.lot)
    return tuple(cut.values())


def _stock_after(job: Job, asked: NestJob, left: tuple[Stock, ...], taken: dict[str, float],
                 when: str) -> tuple[tuple[Stock, ...], list[LedgerEntry]]:
    """The stock that is left, offcuts too small to keep left out, and what came and went."""
    known, entries, stock = {piece.id: piece for piece in left}, list[LedgerEntry](), list[Stock]()
    for piece in job.stock:
        now = known.pop(piece.id, None)
        gone = taken.get(piece.id, 0.0) if piece.kind == "coil" else float(piece.qty - (now.qty if now else 0))
        if gone:
            entries.append(LedgerEntry(when=when, what="out", stock=piece.id, amount=gone))
        if now is not None and not _is_used_up(now):
            stock.append(now)
    used = {piece.id for piece in job.stock} | {entry.stock for entry in job.ledger}
    names = (f"off {n}" for n in count(1) if f"off {n}" not in used)
    for piece in known.values():  # what lies on the floor
        if piece.kind == "offcut" and is_kept(piece.outline or (), asked.rules.min_offcut):
            name = next(names)
            stock.append(piece.but(id=name, cost=None, outline=tuple(
                (round(x, 3), round(y, 3)) for x, y in piece.outline or ())))
            entries.append(LedgerEntry(when=when, what="in", stock=name, amount=1, note=f"from {piece.id}"))
    return tuple(stock), entries


def _is_used_up(piece: Stock) -> bool:
    """Whether nothing of a coil is left that could be cut: it leaves the list."""
    return piece.kind == "coil" and piece.length is not None and piece.length <= _SCRAP
