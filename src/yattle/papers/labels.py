"""Labels to stick on: every piece with its number, hand, ends and place, offcuts with their size; each with a square
code that opens it in Yattle's search field."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

from yattle.coil import Stock
from yattle.coil.job import ring_area
from yattle.coil.sizes import largest_inside
from yattle.derive.derived import Derived
from yattle.derive.printed import next_revision
from yattle.measure import UNITS, say_length
from yattle.papers.codes import CODE
from yattle.papers.job_book import paper_size
from yattle.papers.sheet import Paper

_COLUMNS, _ROWS = 3, 9
_CORNERS = 12  # of an offcut, of which the largest rectangle inside is looked for


@dataclass(frozen=True)
class StickyLabel:
    """``code`` is what the square code says: ``yattle:`` and what is to be opened."""

    head: str
    lines: tuple[str, ...]
    code: str


def piece_labels(derived: Derived) -> tuple[StickyLabel, ...]:
    """One for every piece, like pieces each their own."""
    unit, found, letter = UNITS[derived.job.unit], [], next_revision(derived).letter
    for run in derived.runs:
        for piece in run.pieces:
            size = (f"{say_length(piece.pattern.length, unit, 0, mark=True)} × "
                    f"{say_length(piece.pattern.girth, unit, mark=True)}")
            label = StickyLabel(piece.id, (f"{piece.pattern.name} · rev {letter}", f"{piece.hand} · {size}",
                                           f"left {piece.ends[0].says(unit)} · right {piece.ends[1].says(unit)}",
                                           f"{run.run.id} {run.run.name or run.run.layer} · paint face up"),
                                f"{CODE}piece/{piece.id}")
            found += [label] * piece.pattern.qty
    for opening in derived.openings:
        for n, made in enumerate(piece for piece in opening.pieces if not piece.paper):
            pattern = made.pattern
            found += [StickyLabel(pattern.id,
                                  (f"{pattern.name} · rev {letter}", opening.title,
                                   f"goes on as number {n + 1} · paint face up"),
                                  f"{CODE}piece/{pattern.id}")] * pattern.qty
    return tuple(found)


def offcut_labels(derived: Derived) -> tuple[StickyLabel, ...]:
    """One for every offcut on the rack."""
    unit = UNITS[derived.job.unit]

    def one(piece: Stock) -> StickyLabel:
        x0, y0, x1, y1 = piece.box
        size = f"{say_length(x1 - x0, unit, 0, mark=True)} × {say_length(y1 - y0, unit, 0, mark=True)}"
        ring, lot = piece.outline or (), f"lot {piece.lot}" if piece.lot else "lot not known"
        a, b, c, d = largest_inside(ring) if 2 < len(ring) <= _CORNERS else piece.box
        shape = "" if is_rectangle(piece) else (
            f"{len(ring)} corners in that; whole inside it {say_length(c - a, unit, 0)} × {say_length(d - b, unit, 0)}")
        rolled = "rolled along the first size" if piece.direction == "along" else "rolling direction not known"
        return StickyLabel(piece.id, tuple(line for line in (piece.metal, size, shape, f"{lot} · {rolled}") if line),
                           f"{CODE}stock/{piece.id}")
    return tuple(one(piece) for piece in derived.job.stock if piece.kind == "offcut")


def is_rectangle(piece: Stock) -> bool:
    """Whether an offcut fills its box."""
    x0, y0, x1, y1 = piece.box
    return piece.outline is None or abs(abs(ring_area(piece.outline)) - (x1 - x0) * (y1 - y0)) < 1.0


def write_labels(derived: Derived, path: Path) -> None:
    """All labels, three across and nine down a sheet."""
    paper = Paper(path, f"{derived.job.name} · labels", paper_size(derived))
    wide, tall = (paper.width - 16) / _COLUMNS, (paper.height - 20) / _ROWS
    labels = (*piece_labels(derived), *offcut_labels(derived))
    for n, label in enumerate(labels):
        place = n % (_COLUMNS * _ROWS)
        if n and not place:
            paper.next_page()
        x, y = 8 + place % _COLUMNS * wide, paper.height - 10 - (place // _COLUMNS + 1) * tall
        paper.text(x + 3, y + tall - 8, label.head, 15, bold=True)
        for k, line in enumerate(label.lines):
            paper.text(x + 3, y + tall - 13.5 - 4 * k, _short(line, 33), 7.5, bold=k == 0)
        _square_code(paper, label.code, x + wide - 17, y + 3, 14)
    paper.save()


def _short(text: str, most: int) -> str:
    return text if len(text) <= most else text[:most - 1] + "…"


def _square_code(paper: Paper, text: str, x: float, y: float, side: float) -> None:
    paper.squares([list(row) for row in _code(text)], x, y, side)


@lru_cache(maxsize=512)
def _code(text: str) -> tuple[tuple[int, ...], ...]:
    import segno

    return tuple(tuple(row) for row in segno.make(text, error="m", micro=False, mask=2).matrix)
