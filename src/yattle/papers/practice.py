"""Paper practice: a pattern to be cut out of paper and folded, at 1:1 over as many sheets as it takes or on one,
with the order of its folds, and templates to lay on the finished piece."""

from __future__ import annotations

import math
from dataclasses import dataclass
from pathlib import Path

from reportlab.platypus import Flowable

from yattle.drawing import Drawing, pattern_drawing
from yattle.drawing.section import section_drawing
from yattle.measure import UNITS
from yattle.papers.one_to_one import OneToOne, tiles_of
from yattle.papers.page import Book, Figure, side_by_side
from yattle.papers.paint import MM, Painter
from yattle.papers.piece_cards import whole_card
from yattle.pattern import Pattern
from yattle.pattern.by_hand import hand_order
from yattle.section import Profile

_MOST = 60  # sheets: beyond that nobody glues them
_ARM = 70.0  # mm, sides of an angle template


@dataclass(frozen=True)
class Practice:
    """What is put on paper: a pattern, its section if it has one, and the order of its folds (ids)."""

    pattern: Pattern
    title: str
    unit: str = "mm"
    size: str = "a4"
    profile: Profile | None = None
    order: tuple[str, ...] | None = None

    @property
    def folds(self) -> tuple[str, ...]:
        """The ids of the folds in the order they are made."""
        return self.order if self.order is not None else tuple(fold.id for fold in hand_order(self.pattern))


def write_practice(practice: Practice, path: Path, tiled: bool = True) -> int:
    """The practice sheets as PDF; returns how many sheets there are. ``tiled``: the pattern at 1:1 as well, unless that
    takes more than 60 sheets; then the middle of a long piece is left out."""
    book = Book(practice.title, practice.title, practice.size)
    unit = UNITS[practice.unit]
    book.chapter(practice.title, "paper practice")
    book.add(*whole_card(practice.pattern, practice.profile, practice.folds, unit, book.width))
    if tiled:
        drawing = _whole(practice, book)
        for tile in tiles_of(drawing, book):
            book.chapter(practice.title, f"1:1, row {tile.row}, column {tile.column}")
            book.add(OneToOne(drawing, tile, practice.pattern.id, book.height, unit))
    book.chapter(practice.title, "templates, 1:1")
    _templates(book, practice)
    book.save(path)
    return book.pages


def _whole(practice: Practice, book: Book) -> Drawing:
    drawing = pattern_drawing(practice.pattern, practice.profile, labels=False)
    if len(tiles_of(drawing, book)) <= _MOST:
        return drawing
    return pattern_drawing(practice.pattern, practice.profile, keep=1.5 * book.height, labels=False)


# -- templates ---------------------------------------------------------------------------------------------------


def _templates(book: Book, practice: Practice) -> None:
    """The section at 1:1 if it goes on the sheet, and an angle for each different fold."""
    if practice.profile is not None:
        drawing = section_drawing(practice.profile, 0.0, UNITS[practice.unit], ())
        x0, y0, x1, y1 = drawing.box
        if x1 - x0 < book.width - 30 and y1 - y0 < 150:
            book.add(Figure(drawing, y1 - y0 + 24, room=12, scale=1.0))
    wedges = [_Wedge(degrees) for degrees in angles(practice.pattern)]
    for n in range(0, len(wedges), 2):
        book.together(side_by_side([*wedges[n:n + 2], *[[]] * (2 - len(wedges[n:n + 2]))], [book.width / 2] * 2))


def angles(pattern: Pattern) -> list[float]:
    """The angles between the sheet's sides at its folds, each once, the sharpest last, no flat or closed ones.
    Degrees."""
    found = {round(180 - abs(fold.turn), 1) for fold in pattern.folds if fold.kind == "fold"}
    return sorted((angle for angle in found if 10 <= angle <= 175), reverse=True)


class _Wedge(Flowable):  # type: ignore[misc]
    """An angle to be cut out; its tip is where it opens to the right."""

    def __init__(self, degrees: float) -> None:
        super().__init__()
        self.degrees = degrees

    def wrap(self, width: float, height: float) -> tuple[float, float]:
        """Its width and height in points."""
        return _ARM * 1.1 * MM, (_ARM * 0.75 + 6) * MM

    def draw(self) -> None:
        """On the page, where the engine has put it."""
        turn, far = math.radians(self.degrees), _ARM * 0.75
        shift = max(0.0, -far * math.cos(turn))
        path = self.canv.beginPath()
        for n, (u, v) in enumerate([(0.0, 0.0), (far, 0.0), (far * math.cos(turn), far * math.sin(turn))]):
            (path.lineTo if n else path.moveTo)((shift + u) * MM, v * MM)
        path.close()
        self.canv.setLineWidth(0.25 * MM)
        self.canv.setStrokeGray(0)
        self.canv.setDash([])
        self.canv.drawPath(path, stroke=1, fill=0)
        Painter(self.canv).text(shift + 4, 3, f"{self.degrees:.1f}°", 11, bold=True)
