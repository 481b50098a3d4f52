"""A drawing at its true size over as many sheets as it takes, with crosses to lay the sheets on each other and a line
to check the printer by."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

import shapely
from reportlab.platypus import Flowable
from shapely.geometry.base import BaseGeometry

from yattle.drawing import Drawing
from yattle.drawing.shapes import Label, Line, Ring, Tag
from yattle.measure import Unit
from yattle.papers.page import Book
from yattle.papers.paint import MM, Painter

CAPTION = 13.0  # mm beneath the window of a sheet at 1:1
_OVER = 10.0  # mm that neighbouring sheets show both
_ROUND = 5.0  # mm kept free around a drawing
_WIDE, _HIGH = 34.0, 6.0  # mm that a text takes at the most
_INSIDE = 7.0  # mm: a text whose middle is nearer to the window's edge stands whole on the next sheet


@dataclass(frozen=True)
class Tile:
    """One sheet: its row and column (from the lower left, 1 first), and the place on the drawing of the lower left
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


def tiles_of(drawing: Drawing, book: Book, near: BaseGeometry | None = None) -> list[Tile]:
    """The sheets of a book that a drawing takes; with ``near`` only those that show some of it."""
    wide, high = book.width, book.height - CAPTION
    x0, y0, x1, y1 = drawing.box
    box = x0 - _ROUND, y0 - _ROUND, x1 + _ROUND, y1 + _ROUND
    return [tile for tile in tiles(box, wide, high)
            if near is None or near.intersects(shapely.box(tile.x, tile.y, tile.x + wide, tile.y + high))]


def lines_of(drawing: Drawing) -> BaseGeometry:
    """All that is drawn as a line, as one geometry, mm."""
    return shapely.union_all([shapely.LineString(shape.points + shape.points[:isinstance(shape, Ring)])
                              for shape in drawing.shapes if isinstance(shape, Line | Ring)])


def scale_line(unit: Unit) -> tuple[float, str]:
    """How long the line is that the printer is checked by, mm, and what is said of it."""
    return (101.6, "the line is 4 in") if unit.parts else (100.0, "the line is 100 mm")


class OneToOne(Flowable):  # type: ignore[misc]
    """One sheet at 1:1, clipped to its window; ``texts``: with the drawing's letters and numbers. ``use`` says in one
    line how it is used."""

    def __init__(self, drawing: Drawing, tile: Tile, name: str, high: float, unit: Unit, use: str = "",
                 texts: bool = False) -> None:
        super().__init__()
        self.drawing, self.tile, self.name, self.high = drawing, tile, name, high
        self.unit, self.use, self.texts = unit, use, texts

    def wrap(self, width: float, height: float) -> tuple[float, float]:
        """As wide and as high as there is room, a hair less."""
        self.across = width / MM
        return width, min(height, self.high * MM) - 0.1

    def draw(self) -> None:
        """On the page, where the engine has put it."""
        paint, wide, high = Painter(self.canv), self.across, self.high - CAPTION
        paint.draw(self._seen(wide, high), 0, CAPTION, wide, high, room=0, points=11, scale=1.0, texts=self.texts)
        for x in (_OVER / 2, wide - _OVER / 2):
            for y in (CAPTION + _OVER / 2, CAPTION + high - _OVER / 2):
                paint.cross(x, y)
        long, says = scale_line(self.unit)
        said = f"{self.name} · row {self.tile.row}, column {self.tile.column} · 1:1, {says}"
        paint.text(0, 9.0, paint.cut(said, wide, 9), 9)
        paint.text(0, 5.2, paint.cut(self.use, wide, 9), 9)
        paint.rule(wide - long, 1.6, long, 0.3, 0)
        for x in (wide - long, wide):
            paint.tick(x, 1.6)

    def _seen(self, wide: float, high: float) -> Drawing:
        """What the window shows of the drawing."""
        x, y = self.tile.x, self.tile.y

        def whole(at: tuple[float, float]) -> bool:
            return (x + 2 * _INSIDE < at[0] < x + wide - 2 * _INSIDE and y + _INSIDE < at[1] < y + high - _INSIDE)
        lines = [shape for shape in self.drawing.shapes if isinstance(shape, Line | Ring)]
        texts = [shape for shape in self.drawing.shapes if isinstance(shape, Label | Tag) and whole(shape.at)]
        return replace(self.drawing, shapes=(*lines, *_apart(texts)), frame=(x, y, x + wide, y + high))


def _apart(texts: list[Label | Tag]) -> list[Label | Tag]:
    """Letters, and of what is said beside them what does not stand on another."""
    kept: list[Label | Tag] = []
    for text in sorted(texts, key=lambda one: isinstance(one, Label)):
        if all(abs(text.at[0] - at[0]) > _WIDE or abs(text.at[1] - at[1]) > _HIGH for at in (one.at for one in kept)):
            kept.append(text)
    return kept
