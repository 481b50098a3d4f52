"""Drawings, texts, rules and codes put on a canvas of reportlab; all measures in mm from the lower left, y up."""

from __future__ import annotations

from functools import cache
from importlib.resources import files
from itertools import groupby
from pathlib import Path
from typing import Any

from yattle.drawing.placing import Box, Segments, clear_place, covers, rank, segments_of
from yattle.drawing.shapes import Dim, Drawing, Label, Line, Point, Ring, Tag
from yattle.papers.lines import PAPER

MM = 72 / 25.4
POINTS = 8.5


@cache
def fonts() -> tuple[str, str]:
    """The plain and the bold font, ready for a canvas."""
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont

    for name in ("Regular", "SemiBold"):
        path = Path(str(files("yattle.fonts").joinpath(f"Barlow-{name}.ttf")))
        pdfmetrics.registerFont(TTFont(f"Barlow-{name}", str(path)))
    return "Barlow-Regular", "Barlow-SemiBold"


class Painter:
    """Puts things on a canvas."""

    def __init__(self, canvas: Any) -> None:
        self.canvas = canvas
        self.frame: Box | None = None  # points: where the texts of a drawing have to stay
        self.plain, self.bold = fonts()

    def text(self, x: float, y: float, said: str, points: float = POINTS, bold: bool = False,
             anchor: str = "left", grey: float = 0.0) -> None:
        """Write ``said`` with its foot at x, y mm from the page's lower left corner, ``points`` high; ``grey`` from 0
        (black) to 1."""
        self.canvas.setFillGray(grey)
        self.canvas.setFont(self.bold if bold else self.plain, points)
        draw = {"left": self.canvas.drawString, "right": self.canvas.drawRightString,
                "middle": self.canvas.drawCentredString}[anchor]
        draw(x * MM, y * MM, said)

    def rule(self, x: float, y: float, length: float, width: float = 0.15, grey: float = 0.4) -> None:
        """A line to the right of x, y, ``length`` and ``width`` in mm; ``grey`` from 0 (black) to 1."""
        self.canvas.setStrokeGray(grey)
        self.canvas.setLineWidth(width * MM)
        self.canvas.setDash([])
        self.canvas.line(x * MM, y * MM, (x + length) * MM, y * MM)

    def box(self, x: float, y: float, side: float) -> None:
        """An empty box to tick, its lower left corner at x, y; mm."""
        self.canvas.setStrokeGray(0)
        self.canvas.setLineWidth(0.2 * MM)
        self.canvas.rect(x * MM, y * MM, side * MM, side * MM)

    def squares(self, rows: list[list[int]], x: float, y: float, side: float) -> None:
        """A square code: ``rows`` of 1 (black) and 0, in a square with ``side``. Places in mm."""
        step, path = side / len(rows), self.canvas.beginPath()
        for n, row in enumerate(rows):
            at = 0
            for black, run in groupby(row):  # black squares in a row are one bar
                wide = len(list(run))
                if black:
                    path.rect((x + at * step) * MM, (y + side - (n + 1) * step) * MM, wide * step * MM, step * MM)
                at += wide
        self.canvas.setFillGray(0)
        self.canvas.drawPath(path, stroke=0, fill=1)

    def cross(self, x: float, y: float, arm: float = 3.0) -> None:
        """A cross to lay sheets on each other by. Its middle at x, y; mm."""
        self.canvas.setStrokeGray(0)
        self.canvas.setDash([])
        self.canvas.setLineWidth(0.15 * MM)
        self.canvas.line((x - arm) * MM, y * MM, (x + arm) * MM, y * MM)
        self.canvas.line(x * MM, (y - arm) * MM, x * MM, (y + arm) * MM)

    def tick(self, x: float, y: float, arm: float = 1.2) -> None:
        """Where a line that is measured ends: a short stroke across it at x, y; mm."""
        self.canvas.line(x * MM, (y - arm) * MM, x * MM, (y + arm) * MM)

    def fitting(self, said: str, wide: float, points: float, bold: bool = False) -> float:
        """The points, at most so many and at least 9, at which a text is no wider than ``wide`` mm."""
        size = float(self.canvas.stringWidth(said, self.bold if bold else self.plain, points))
        return max(9.0, min(points, points * wide * MM / max(size, 1e-9)))

    def cut(self, said: str, wide: float, points: float, bold: bool = False) -> str:
        """A text cut off, with dots, where it is wider than ``wide`` mm."""
        font = self.bold if bold else self.plain
        if self.canvas.stringWidth(said, font, points) <= wide * MM:
            return said
        while said and self.canvas.stringWidth(said + "…", font, points) > wide * MM:
            said = said[:-1]
        return said + "…"

    def draw(self, drawing: Drawing, x: float, y: float, width: float, height: float, room: float = 14.0,
             points: float = POINTS, scale: float | None = None, texts: bool = True) -> float:
        """``drawing`` fitted into a frame with ``room`` mm around it; the scale used (mm per mm) is returned."""
        x0, y0, x1, y1 = drawing.box
        fit = min((width - 2 * room) / max(x1 - x0, 1e-9), (height - 2 * room) / max(y1 - y0, 1e-9))
        factor = fit if scale is None else min(scale, fit)
        self.frame = x * MM, y * MM, (x + width) * MM, (y + height) * MM
        view = _SheetView(factor, x + width / 2 - (x0 + x1) / 2 * factor, y + height / 2 - (y0 + y1) / 2 * factor)
        self.canvas.saveState()
        if drawing.frame is not None:
            self._clip(view.at((x0, y0)), view.at((x1, y1)))
        for shape in drawing.shapes:
            if isinstance(shape, Line | Ring):
                self._path(shape, view)
            elif isinstance(shape, Label) and texts and _is_in(shape.at, drawing.frame):
                self._said(shape, view, points)
        self.canvas.restoreState()
        if texts:
            self._texts(drawing, view, points)
        return factor

    def _texts(self, drawing: Drawing, view: _SheetView, points: float) -> None:
        """Measures and letters where they belong, then what is said beside them where it is clear of both."""
        taken = [box for shape in drawing.shapes if isinstance(shape, Dim) for box in self._dim(shape, view, points)]
        told = [shape for shape in drawing.shapes
                if isinstance(shape, Tag) or (isinstance(shape, Label) and drawing.frame is None)]
        lines = segments_of([[view.at(p) for p in shape.points + shape.points[:isinstance(shape, Ring)]]
                             for shape in drawing.shapes if isinstance(shape, Line | Ring)])
        for shape in sorted(told, key=rank):
            self._said(shape, view, points, taken, lines)

    def _clip(self, low: Point, high: Point) -> None:
        path = self.canvas.beginPath()
        path.rect(low[0] - 1, low[1] - 1, high[0] - low[0] + 2, high[1] - low[1] + 2)
        self.canvas.clipPath(path, stroke=0, fill=0)

    def _path(self, shape: Line | Ring, view: _SheetView) -> None:
        pen = PAPER[shape.role]
        path = self.canvas.beginPath()
        for n, point in enumerate(shape.points):
            (path.lineTo if n else path.moveTo)(*view.at(point))
        if isinstance(shape, Ring):
            path.close()
        self.canvas.setLineWidth(pen.width * MM)
        self.canvas.setDash([d * MM for d in pen.dash])
        self.canvas.setStrokeGray(pen.grey)
        filled = pen.fill is not None and isinstance(shape, Ring)
        if filled:
            self.canvas.setFillGray(pen.fill)
        self.canvas.drawPath(path, stroke=int(pen.width > 0), fill=int(filled))

    def _said(self, shape: Label | Tag, view: _SheetView, points: float, taken: list[Box] | None = None,
              lines: Segments | None = None) -> None:
        """A text or a letter; with ``taken``, the places of those before it, it keeps clear of them, and a text also
        of ``lines``."""
        strong = isinstance(shape, Tag) or shape.strong
        wide = self.canvas.stringWidth(shape.text, self.bold if strong else self.plain, points)
        if isinstance(shape, Label) and shape.room is not None and (
                wide > shape.room[0] * view.factor * MM or 0.75 * points > shape.room[1] * view.factor * MM):
            return
        x, y = view.at(shape.at)
        by = points * (1.6 if isinstance(shape, Tag) else 1.3)
        x, y = x + shape.push[0] * by * 1.3, y + shape.push[1] * by - points * 0.35
        if taken is not None:
            half = wide / 2 + (3.5 if isinstance(shape, Tag) else 1.5)
            box = self._clear(shape, (x - half, y - points * 0.35, x + half, y + points), view, taken, lines)
            if box is None:
                return
            x, y = box[0] + half, box[1] + points * 0.35
        if isinstance(shape, Tag):
            self._pill(x, y, shape.text, points)
        self.canvas.setFillGray(0)
        self.canvas.setFont(self.bold if strong else self.plain, points)
        self.canvas.drawCentredString(x, y, shape.text)

    def _clear(self, shape: Label | Tag, wanted: Box, view: _SheetView, taken: list[Box],
               lines: Segments | None) -> Box | None:
        """Where there is room for a text near ``wanted``: it may go round what it belongs to, a letter stays on its
        side. A fine line leads to a number or letter that had to move by more than its height. ``None``: there is no
        room, and it is a text that can be left out."""
        said = isinstance(shape, Label)
        box = clear_place(wanted, (0.0, 0.0) if said else shape.push, taken, lines if said else None, self.frame)
        if (not shape.strong if said else shape.spare) and any(covers(box, other) for other in taken):  # type: ignore[union-attr]
            return None
        taken.append(box)
        moved = max(abs(box[0] - wanted[0]), abs(box[1] - wanted[1]))
        if moved > (wanted[3] - wanted[1]) * 0.75 and (isinstance(shape, Tag) or shape.strong):
            self._lead(view.at(shape.at), box)
        return box

    def _lead(self, a: Point, box: Box) -> None:
        """A fine line from ``a`` to the box of its text, which had to give way."""
        self.canvas.setDash([])
        self.canvas.setLineWidth(0.35)
        self.canvas.setStrokeGray(0.55)
        self.canvas.line(*a, min(max(a[0], box[0]), box[2]), min(max(a[1], box[1]), box[3]))

    def _pill(self, x: float, y: float, text: str, points: float) -> None:
        half = self.canvas.stringWidth(text, self.bold, points) / 2 + 3
        self.canvas.setDash([])
        self.canvas.setLineWidth(0.5)
        self.canvas.setStrokeGray(0.2)
        self.canvas.setFillGray(1)
        self.canvas.roundRect(x - half, y - points * 0.3, 2 * half, points * 1.25, points * 0.5, stroke=1, fill=1)

    def _dim(self, dim: Dim, view: _SheetView, points: float) -> tuple[Box, Box]:
        """A measure with its line; the boxes that the two take, in points."""
        off = points * 0.9
        a, b = ((x + dim.push[0] * off, y + dim.push[1] * off) for x, y in (view.at(dim.a), view.at(dim.b)))
        self.canvas.setDash([])
        self.canvas.setLineWidth(0.35)
        self.canvas.setStrokeGray(0.3)
        self.canvas.line(*a, *b)
        upright = abs(dim.push[0]) > abs(dim.push[1])
        size = max(abs(dim.push[0]), abs(dim.push[1]), 1.0)  # a line further off keeps its number as near as any
        x = (a[0] + b[0]) / 2 + dim.push[0] / size * points * 0.9
        y = (a[1] + b[1]) / 2 + dim.push[1] / size * points * 0.6
        self.canvas.setFillGray(0)
        self.canvas.setFont(self.plain, points)
        if upright:
            self.canvas.saveState()
            self.canvas.translate(x, y)
            self.canvas.rotate(90)
            self.canvas.drawCentredString(0, -points * 0.35, dim.text)
            self.canvas.restoreState()
        else:
            y -= points * 0.7 if dim.push[1] < 0 else 0
            self.canvas.drawCentredString(x, y, dim.text)
        half = self.canvas.stringWidth(dim.text, self.plain, points) / 2
        wide, high = (points / 2, half) if upright else (half, points)
        line = min(a[0], b[0]) - 1, min(a[1], b[1]) - 1, max(a[0], b[0]) + 1, max(a[1], b[1]) + 1
        return line, (x - wide, y - high * upright, x + wide, y + high)


def _is_in(at: Point, frame: Box | None) -> bool:
    return frame is not None and frame[0] <= at[0] <= frame[2] and frame[1] <= at[1] <= frame[3]


class _SheetView:
    """Millimetres of the thing to points on the sheet."""

    def __init__(self, factor: float, dx: float, dy: float) -> None:
        self.factor, self.dx, self.dy = factor, dx, dy

    def at(self, point: Point) -> Point:
        return ((point[0] * self.factor + self.dx) * MM, (point[1] * self.factor + self.dy) * MM)
