"""The page engine under the papers: what is said and drawn flows down its pages, heights known, breaks right.

reportlab's platypus lays out; here are the page itself (head, foot, margins, ``page n of m``), the styles of a
workshop's papers and drawings that know their height.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache
from html import escape
from io import BytesIO
from pathlib import Path
from typing import Any

from reportlab import rl_config
from reportlab.lib.enums import TA_RIGHT
from reportlab.lib.styles import ParagraphStyle
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import (
    BaseDocTemplate,
    CondPageBreak,
    Flowable,
    Frame,
    KeepTogether,
    PageBreak,
    PageTemplate,
    Paragraph,
    Spacer,
    Table,
    TableStyle,
)

from yattle.drawing.shapes import Drawing
from yattle.files import put
from yattle.papers.paint import MM, Painter, fonts

rl_config.useA85 = 0  # streams as they are: half the time, three quarters of the size
SIZES = {"a4": (210.0, 297.0), "letter": (215.9, 279.4)}
SIDE, TOP, FOOT = 14.0, 24.0, 15.0
"""Margins in mm; head and foot stand in those above and below."""
READ = 11.0  # points: what is read at arm's length
NOTE = 8.5
CAUTION = "Cut edges are sharp: wear gloves. Check the first piece before folding the rest."


@cache
def style(points: float = READ, bold: bool = False, right: bool = False, before: float = 0.0,
          grey: float = 0.0) -> ParagraphStyle:
    """A text of so many ``points``; ``before`` mm above it; ``grey`` from 0 (black) to 1."""
    plain, strong = fonts()
    return ParagraphStyle(f"{points} {bold} {right} {before} {grey}", fontName=strong if bold else plain,
                          fontSize=points, leading=points * 1.28, spaceBefore=before * MM, splitLongWords=1,
                          alignment=TA_RIGHT if right else 0, textColor=(grey, grey, grey))


def said(text: str, points: float = READ, bold: bool = False, right: bool = False, before: float = 0.0,
         grey: float = 0.0) -> Paragraph:
    """A text that breaks where its line ends; what it says stands as it is, ``<`` and ``&`` too. ``before``: mm above
    it."""
    return Paragraph(escape(text), style(points, bold, right, before, grey))


def heading(text: str, before: float = 4.0) -> Paragraph:
    """A heading that stays with what follows, ``before`` mm above it."""
    made = said(text, 13, bold=True, before=before)
    made.keepWithNext = True
    return made


class Figure(Flowable):  # type: ignore[misc]
    """A drawing as wide as there is room, at most ``high`` mm, with ``room`` mm round it for its texts.

    ``scale``: mm on paper for a mm, at most; ``points``: of its texts. The height follows from the drawing.
    """

    def __init__(self, drawing: Drawing, high: float, room: float = 12.0, points: float = 9.0,
                 scale: float | None = None, wide: float | None = None) -> None:
        super().__init__()
        self.drawing, self.high, self.room, self.points, self.scale, self.wide = (
            drawing, high, room, points, scale, wide)

    def wrap(self, width: float, height: float) -> tuple[float, float]:
        """Its width and height in points, where there are ``width`` and ``height`` points."""
        x0, y0, x1, y1 = self.drawing.box
        self.across = min(width / MM, self.wide or 1e9)
        high = min(self.high, height / MM) if height / MM > 2 * self.room + 10 else self.high
        factor = min((self.across - 2 * self.room) / max(x1 - x0, 1e-9), (high - 2 * self.room) / max(y1 - y0, 1e-9),
                     self.scale or 1e9)
        self.factor, self.tall = factor, (y1 - y0) * factor + 2 * self.room
        return self.across * MM, self.tall * MM

    def draw(self) -> None:
        """On the page, where the engine has put it."""
        Painter(self.canv).draw(self.drawing, 0.0, 0.0, self.across, self.tall, self.room, self.points, self.factor)


class Tick(Flowable):  # type: ignore[misc]
    """A box to tick and what it stands for, as long as it is."""

    def __init__(self, text: str, points: float = READ, indent: float = 0.0) -> None:
        super().__init__()
        self.indent, self.points, self.text = indent, points, said(text, points)

    def wrap(self, width: float, height: float) -> tuple[float, float]:
        """Its width and height in points, where there are ``width`` and ``height`` points."""
        _, tall = self.text.wrap(width - (self.indent + 6) * MM, height)
        self.tall = tall + 0.9 * MM
        return width, self.tall

    def draw(self) -> None:
        """On the page, where the engine has put it."""
        side = self.points * 0.8
        self.canv.setStrokeGray(0)
        self.canv.setLineWidth(0.6)
        self.canv.rect(self.indent * MM, self.tall - self.points * 1.12, side, side)
        self.text.drawOn(self.canv, (self.indent + 6) * MM, 0.9 * MM)


class _Title(Flowable):  # type: ignore[misc]
    """The title of a part that goes on in the middle of a page; at its top, where the page's own head says it, nothing.
    ``whole``: how high a page is between head and foot, mm."""

    def __init__(self, title: str, whole: float) -> None:
        super().__init__()
        self.said, self.whole = said(title, 14, bold=True), whole

    def wrap(self, width: float, height: float) -> tuple[float, float]:
        """Its width and height in points, with the room above it."""
        self.top = height > self.whole * MM - 1
        wide, high = self.said.wrap(width, height)
        return (width, 0.01) if self.top else (wide, high + 6 * MM)

    def draw(self) -> None:
        """On the page, where the engine has put it."""
        if not self.top:
            self.said.drawOn(self.canv, 0, 1.5 * MM)


class _Chapter(Flowable):  # type: ignore[misc]
    """What the head of the pages says from here on."""

    def __init__(self, left: str, right: str) -> None:
        super().__init__()
        self.left, self.right = left, right
        self.width = self.height = 0

    def draw(self) -> None:
        """Remembered for the page it stands on and those that follow."""
        self.canv.heads.append((self.canv.getPageNumber(), self.left, self.right))
        self.canv.bookmarkPage(f"chapter {len(self.canv.heads)}")
        self.canv.addOutlineEntry(self.left, f"chapter {len(self.canv.heads)}")


class _Pages(Canvas):  # type: ignore[misc]
    """A canvas that writes head and foot when all pages are there, since each says how many there are."""

    foot = ""

    def __init__(self, *given: Any, **named: Any) -> None:
        super().__init__(*given, **named)
        self._kept: list[dict[str, Any]] = []
        self.heads: list[tuple[int, str, str]] = []

    def showPage(self) -> None:
        """Kept until all are there."""
        self._kept.append(dict(self.__dict__))
        self._startPage()

    def save(self) -> None:
        """All pages with their heads and feet."""
        heads, kept = self.heads, self._kept
        for page in kept:
            self.__dict__.update(page)
            self._frame(heads, len(kept))
            super().showPage()
        super().save()

    def _frame(self, heads: list[tuple[int, str, str]], many: int) -> None:
        page = self.getPageNumber()
        left, right = next(((a, b) for at, a, b in reversed(heads) if at <= page), ("", ""))
        paint, (wide, tall) = Painter(self), (self._pagesize[0] / MM, self._pagesize[1] / MM)
        room = wide - 2 * SIDE
        size = paint.fitting(left, room * 0.66, 16, bold=True)
        paint.text(SIDE, tall - 16, paint.cut(left, room * 0.66, size, True), size, bold=True)
        paint.text(wide - SIDE, tall - 16, paint.cut(right, room * 0.33, 9.5), 9.5, anchor="right", grey=0.3)
        paint.rule(SIDE, tall - 19, room, 0.3, 0)
        paint.text(SIDE, 8, paint.cut(f"{self.foot} · page {page} of {many}", room * 0.46, 7.5), 7.5, grey=0.3)
        paint.text(wide - SIDE, 8, CAUTION, 7.5, anchor="right", grey=0.3)


class Book:
    """A paper being written: parts that follow each other down the pages.

    ``title`` names the file, ``foot`` is said at the foot of each page (job, date, revision), ``size`` is ``a4`` or
    ``letter``.
    """

    def __init__(self, title: str, foot: str, size: str = "a4") -> None:
        self.title, self.foot, self.size = title, foot, size
        self.parts: list[Flowable] = []

    @property
    def width(self) -> float:
        """Between the margins, mm."""
        return SIZES[self.size][0] - 2 * SIDE

    @property
    def height(self) -> float:
        """Between head and foot, mm."""
        return SIZES[self.size][1] - TOP - FOOT

    def chapter(self, left: str, right: str, new_page: bool = True) -> None:
        """A part with its own head; on a page of its own unless said otherwise."""
        if self.parts and new_page:
            self.parts.append(PageBreak())
        self.parts.append(_Chapter(left, right))

    def part(self, title: str, right: str, least: float) -> None:
        """A part with its own head that goes on where at least ``least`` mm are left on the page."""
        self.need(least)
        self.parts += [_Chapter(title, right), _Title(title, self.height)]

    def add(self, *parts: Flowable) -> None:
        """More, one beneath the other."""
        self.parts += parts

    def together(self, *parts: Flowable) -> None:
        """Parts that stay on one page."""
        self.parts.append(KeepTogether(list(parts)))

    def gap(self, mm: float = 3.0) -> None:
        """Room, ``mm`` high."""
        self.parts.append(Spacer(1, mm * MM))

    def need(self, mm: float) -> None:
        """A new page unless ``mm`` are left on this one."""
        self.parts.append(CondPageBreak(mm * MM))

    def bytes(self) -> bytes:
        """The PDF."""
        wide, tall = (side * MM for side in SIZES[self.size])
        frame = Frame(SIDE * MM, FOOT * MM, self.width * MM, self.height * MM, 0, 0, 0, 0)
        written = BytesIO()
        document = BaseDocTemplate(written, pagesize=(wide, tall), title=self.title, creator="Yattle", invariant=1,
                                   pageTemplates=[PageTemplate("page", [frame])])
        canvas = type("_Pages", (_Pages,), {"foot": self.foot})
        document.build(self.parts, canvasmaker=canvas)
        self.pages: int = document.page
        return written.getvalue()

    def save(self, path: Path) -> None:
        """Written whole; raises :class:`~yattle.errors.FileProblem`, and then what was there is there still."""
        put(path, self.bytes())


def table(rows: Sequence[Sequence[str | Flowable]], widths: Sequence[float], heads: int = 1, points: float = READ,
          right: Sequence[int] = (), ticks: bool = False, tight: bool = False) -> Table:
    """Rows with fine lines, ``widths`` in mm, the first ``heads`` rows on every page; columns ``right`` are set to the
    right; ``ticks``: the first column is a box to tick; ``tight``: rows close to each other."""
    def cell(text: str | Flowable, n: int, column: int) -> Flowable | str:
        if not isinstance(text, str) or (tight and n >= heads):  # few letters and no line breaks: set as they are
            return text
        return said(text, NOTE if n < heads else points, bold=n < heads, right=column in right)

    made = [[cell(text, n, column) for column, text in enumerate(row)] for n, row in enumerate(rows)]
    grid = Table(made, [wide * MM for wide in widths], repeatRows=heads, hAlign="LEFT")
    fine: list[tuple[Any, ...]] = [
        ("VALIGN", (0, 0), (-1, -1), "MIDDLE"), ("LINEBELOW", (0, heads - 1), (-1, -1), 0.3, (0.6, 0.6, 0.6)),
        ("LEFTPADDING", (0, 0), (-1, -1), 2), ("RIGHTPADDING", (0, 0), (-1, -1), 4),
        ("TOPPADDING", (0, 0), (-1, -1), 0.0 if tight else 0.8),
        ("BOTTOMPADDING", (0, 0), (-1, -1), 1.2 if tight else 1.6)]
    if tight:
        fine += [("FONT", (0, heads), (-1, -1), fonts()[0], points), ("LEADING", (0, heads), (-1, -1), points * 1.28)]
        fine += [("ALIGN", (column, heads), (column, -1), "RIGHT") for column in right]
    if ticks:
        fine.append(("BOX", (0, heads), (0, -1), 0.6, (0, 0, 0)))
        fine.append(("INNERGRID", (0, heads), (0, -1), 0.6, (0, 0, 0)))
    grid.setStyle(TableStyle(fine))
    return grid


def side_by_side(parts: Sequence[Flowable | list[Flowable]], widths: Sequence[float]) -> Table:
    """Parts beside each other, their tops level; ``widths`` in mm."""
    row = Table([list(parts)], [wide * MM for wide in widths], hAlign="LEFT")
    row.setStyle(TableStyle([("VALIGN", (0, 0), (-1, -1), "TOP"), ("LEFTPADDING", (0, 0), (-1, -1), 0),
                             ("RIGHTPADDING", (0, 0), (-1, -1), 0), ("TOPPADDING", (0, 0), (-1, -1), 0),
                             ("BOTTOMPADDING", (0, 0), (-1, -1), 0)]))
    return row
