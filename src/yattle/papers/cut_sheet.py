"""The cut sheet: block by block off the coil with the stop to set, what falls, and where it goes."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import groupby, pairwise
from pathlib import Path

from reportlab.platypus import Flowable

from yattle.coil import Stock
from yattle.coil.names import pieces_of
from yattle.coil.steps import ShearBlock, block_says, blocks_of_plan, step_lines
from yattle.derive.derived import Derived
from yattle.drawing import Drawing, stock_drawing, stretches
from yattle.measure import UNITS, Unit, say_length
from yattle.papers.job_book import book_of
from yattle.papers.page import Book, Figure, Tick, heading, said, side_by_side, table
from yattle.papers.paint import MM

_LINE = 3000.0  # mm of coil in a picture where no crosscut parts it
_PICTURE = 0.42  # of the page's width
_TALL = 30.0, 46.0  # mm: a block's picture, the taller the more is said beside it
_WORDS = 10.0  # letters of what is said for each mm of height
_HEAD = 20.0  # mm: the page's and the block's own heads


def write_cut_sheet(derived: Derived, path: Path) -> None:
    """Every block with its picture and its steps; of a plan by snips the shapes with their places."""
    book, unit = book_of(derived, "cut sheet"), UNITS[derived.job.unit]
    book.chapter("Cut sheet", f"{derived.job.metal_name} · {derived.job.colour}")
    _summary(book, derived, unit)
    if derived.nest.cuts:
        _blocks(book, derived, unit)
    else:
        _shapes(book, derived, unit)
    book.save(path)


def _summary(book: Book, derived: Derived, unit: Unit) -> None:
    kinds = {name: piece.kind for name, piece in pieces_of(derived.job.stock).items()}
    rows = [["", "stock", "length used", ""]]
    for used in derived.nest.used:
        rows.append(["", used.stock, say_length(used.length, unit, 0, mark=True), kinds[used.stock]])
    share = f"{derived.nest.share_used:.1%} of what is taken becomes pieces."
    book.add(table(rows, (6, 40, 34, 30), right=(2,), ticks=True),
             said(f"{share} Names are those on the labels. Rack: label it and keep it.", 10, before=1.5))


def _blocks(book: Book, derived: Derived, unit: Unit) -> None:
    stock = pieces_of(derived.job.stock)
    for name, mine in groupby(blocks_of_plan(derived.job.stock, derived.nest), key=lambda block: block.stock):
        base, blocks = stock[name], list(mine)
        lot = f" · lot {base.lot}" if base.lot else ""
        book.add(heading(f"{name}{lot}"))
        whole = stock_drawing(base, derived.nest, name, unit)
        parts = stretches(whole, [(block.at, block.at + block.length) for block in blocks], unit)
        for block, part in zip(blocks, parts, strict=True):
            book.together(*_block(book, base, block, whole if block.whole else part, unit))


def _block(book: Book, base: Stock, block: ShearBlock, drawing: Drawing, unit: Unit) -> list[Flowable]:
    wide = book.width * _PICTURE
    counter = "" if block.whole else f" · counter {say_length(block.at + block.length, unit, 0)}"
    head: list[Flowable] = [Tick(block_says(block, unit) + counter)]
    told = step_lines(block, unit)
    lines: list[Flowable] = [Tick(line.says, 10, indent=4.0 * line.deep) for line in told]
    if block.length < 0.05 * (base.width or 1e9):  # the end that is trimmed off
        return [*head, *lines]
    words = sum(len(line.says) + 12 * line.deep for line in told)
    picture = Figure(drawing, min(_TALL[1], max(_TALL[0], words / _WORDS)), room=6.5, points=7, wide=wide)
    beside = book.width - wide
    if sum(line.wrap(beside * MM, 0)[1] for line in lines) / MM > book.height - _HEAD:  # what stands beside a picture
        return [*head, picture, *lines]  # cannot go on over the page; what stands beneath it can
    return [*head, side_by_side([picture, lines], (wide, beside))]


def _shapes(book: Book, derived: Derived, unit: Unit) -> None:
    """Cut by hand: true shapes on each stretch, and for each part where its box lies and how it is turned."""
    stock = pieces_of(derived.job.stock)
    outlines = {pattern.id: pattern.outline for pattern in derived.patterns}
    for used in derived.nest.used:
        base = stock[used.stock]
        book.add(heading(f"{used.stock} · {say_length(used.length, unit, 0, mark=True)}"))
        stops = [*(_LINE * n for n in range(math.ceil(used.length / _LINE))), used.length]
        whole = stock_drawing(base, derived.nest, used.stock, unit, outlines=outlines)
        for part in stretches(whole, list(pairwise(stops)), unit) if base.kind == "coil" else [whole]:
            book.add(Figure(part, 70, room=8, points=8))
        book.add(_places(book, derived, used.stock, unit))


def _places(book: Book, derived: Derived, name: str, unit: Unit) -> Flowable:
    rows: list[Sequence[str]] = [["", "piece", "from the end", "from the edge", "long", "wide", "turned"]]
    for place in sorted((p for p in derived.nest.placements if p.stock == name), key=lambda p: (p.x, p.y)):
        turn = f"{place.turn:g}°" + (", turned over" if place.mirrored else "")
        sizes = (say_length(v, unit) for v in (place.x, place.y, place.width, place.height))
        rows.append(["", place.part, *sizes, turn])
    return table(rows, (6, 40, 28, 28, 24, 24, book.width - 150), points=10, right=(2, 3, 4, 5), ticks=True)
