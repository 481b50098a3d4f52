"""Paper practice: a pattern to be cut out of paper and folded, at 1:1 over as many sheets as it takes or on one,
with the order of its folds, and templates to lay on the finished piece."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from reportlab.platypus import Flowable

from yattle.drawing import Drawing, pattern_drawing
from yattle.drawing.section import section_drawing
from yattle.drawing.shapes import Line, Ring
from yattle.measure import UNITS
from yattle.papers.page import Book, Figure, side_by_side
from yattle.papers.paint import MM, Painter
from yattle.papers.piece_cards import whole_card
from yattle.pattern import Pattern
from yattle.pattern.by_hand import hand_order
from yattle.section import Profile

_CAPTION = 8.0  # mm beneath the window of a sheet at 1:1
_OVER = 10.0  # mm that neighbouring sheets show both
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
        for tile in tiles(drawing.box, book.width, book.height - _CAPTION):
            book.chapter(practice.title, f"1:1, row {tile.row}, column {tile.column}")
            book.add(_OneToOne(drawing, tile, practice.pattern.id, book.height))
    book.chapter(practice.title, "templates, 1:1")
    _templates(book, practice)
    book.save(path)
    return book.pages


def _whole(practice: Practice, book: Book) -> Drawing:
    drawing = pattern_drawing(practice.pattern, practice.profile, labels=False)
    if len(list(tiles(drawing.box, book.width, book.height - _CAPTION))) <= _MOST:
        return drawing
    return pattern_drawing(practice.pattern, practice.profile, keep=1.5 * book.height, labels=False)


# -- tiles at 1:1 -----------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class Tile:
    """One sheet: its row and column (from the lower left, 1 first), and the place on the pattern of the lower left
    corner of its window, mm."""

    row: int
    column: int
    x: float
    y: float


def tiles(box: tuple[float, float, float, float], width: float, height: float) -> Iterator[Tile]:
    """Sheets that cover ``box`` at 1:1 with windows of ``width`` and ``height``; each shows 10 mm of its neighbours."""
    x0, y0, x1, y1 = box
    step = width - _OVER, height - _OVER
    columns, rows = (max(1, math.ceil((span - _OVER) / size))
                     for span, size in zip((x1 - x0, y1 - y0), step, strict=True))
    for row in range(rows):
        for column in range(columns):
            yield Tile(row + 1, column + 1, x0 + column * step[0], y0 + row * step[1])


class _OneToOne(Flowable):  # type: ignore[misc]
    """One sheet at 1:1, clipped to its window, with crosses to lay its neighbours on and a line of 100 mm."""

    def __init__(self, drawing: Drawing, tile: Tile, name: str, high: float) -> None:
        super().__init__()
        self.drawing, self.tile, self.name, self.high = drawing, tile, name, high

    def wrap(self, width: float, height: float) -> tuple[float, float]:
        """As wide and as high as there is room, a hair less."""
        self.across = width / MM
        return width, min(height, self.high * MM) - 0.1

    def draw(self) -> None:
        """On the page, where the engine has put it."""
        paint, (x0, y0, x1, y1) = Painter(self.canv), self.drawing.box
        wide, high = self.across, self.high - _CAPTION
        self.canv.saveState()
        path = self.canv.beginPath()
        path.rect(0, _CAPTION * MM, wide * MM, high * MM)
        self.canv.clipPath(path, stroke=0, fill=0)
        shapes = tuple(shape for shape in self.drawing.shapes if isinstance(shape, Line | Ring))
        paint.draw(Drawing(shapes), x0 - self.tile.x, _CAPTION + y0 - self.tile.y, x1 - x0, y1 - y0, room=0,
                   texts=False, scale=1.0)
        self.canv.restoreState()
        for x in (_OVER / 2, wide - _OVER / 2):
            for y in (_CAPTION + _OVER / 2, _CAPTION + high - _OVER / 2):
                paint.cross(x, y)
        paint.text(0, 1.5, f"{self.name} · row {self.tile.row}, column {self.tile.column} · 1:1, the line is 100 mm", 9)
        paint.rule(wide - 100, 2.5, 100, 0.3, 0)


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
