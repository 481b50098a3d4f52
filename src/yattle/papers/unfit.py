"""Papers of a roof that does not go together as built: marked on every page, with a page in front that says where."""

from __future__ import annotations

from dataclasses import replace
from io import BytesIO
from pathlib import Path

from pypdf import PageObject, PdfReader, PdfWriter
from reportlab.lib.utils import simpleSplit
from reportlab.pdfgen.canvas import Canvas

from yattle.built.said import alike
from yattle.drawing import Drawing, Label, Line
from yattle.drawing.shapes import Point, Shape
from yattle.files import put
from yattle.papers.page import NOTE, READ
from yattle.papers.paint import MM, Painter, fonts

_STRIP = 5.5  # mm of the strip at the head of a page
_SIDE = 14.0  # mm beside the list
_FOOT = 42.0  # mm of a page that stay empty under the list
_TALL, _PLAN = 150.0, 0.36  # mm: on lower pages there is no plan; its share of the page's height
_ARM = 0.008  # of the plan's size: half a cross
_MOST = 40  # findings that are told one by one


def mark_unfit(path: Path, found: list[tuple[str, Point]], plan: Drawing) -> None:
    """Mark every page of a paper and put what was found before them. ``found``: a sentence for each place and where it
    is on the ``plan`` of the roof, mm."""
    reader, writer = PdfReader(str(path)), PdfWriter()
    first = reader.pages[0]
    size = float(first.mediabox.width), float(first.mediabox.height)
    for page in _pages(_listed(size, found, plan)):
        writer.add_page(page)
    for page in reader.pages:
        wide, high = float(page.mediabox.width), float(page.mediabox.height)
        writer.add_page(page).merge_page(_pages(_strip((wide, high), len(found)))[0])
    made = BytesIO()
    writer.write(made)
    put(path, made.getvalue())


def _pages(pdf: bytes) -> list[PageObject]:
    return list(PdfReader(BytesIO(pdf)).pages)


def _canvas(size: tuple[float, float]) -> tuple[Canvas, BytesIO]:
    made = BytesIO()
    return Canvas(made, pagesize=size, invariant=1), made


def _head(canvas: Canvas, size: tuple[float, float], text: str) -> None:
    strong = fonts()[1]
    canvas.setFillGray(0.0)
    canvas.rect(0, size[1] - _STRIP * MM, size[0], _STRIP * MM, stroke=0, fill=1)
    canvas.setFillGray(1.0)
    canvas.setFont(strong, NOTE)
    canvas.drawCentredString(size[0] / 2, size[1] - (_STRIP - 1.6) * MM, text)
    canvas.setFillGray(0.0)


def _strip(size: tuple[float, float], many: int) -> bytes:
    canvas, made = _canvas(size)
    _head(canvas, size, f"DOES NOT FIT AS BUILT · {many} place{'s' if many > 1 else ''}, see the first page")
    canvas.save()
    return made.getvalue()


def _listed(size: tuple[float, float], found: list[tuple[str, Point]], plan: Drawing) -> bytes:
    """The roof with a number at each place, and what was found there."""
    plain, strong = fonts()
    canvas, made = _canvas(size)
    each = list(alike(says for says, _ in found).items())
    places = [[found[n][1] for n in numbers] for _, numbers in each[:_MOST]]
    wide, high, at = size[0] / MM - 2 * _SIDE, size[1] / MM, 0.0
    many = [f" ({len(numbers)} places like this)" if len(numbers) > 1 else "" for _, numbers in each]
    lines = [line for n, (says, _) in enumerate(each[:_MOST], 1)
             for line in [*simpleSplit(f"{n}  {says}{many[n - 1]}", plain, READ, wide * MM), ""]]
    if len(each) > _MOST:
        lines.append(f"and {len(each) - _MOST} more: see built.json")
    for line in ["", *lines]:
        if at < _FOOT * MM:
            begun = bool(at)
            if begun:
                canvas.showPage()
            _head(canvas, size, "DOES NOT FIT AS BUILT")
            canvas.setFont(strong, READ + 3)
            canvas.drawString(_SIDE * MM, size[1] - 22 * MM, "Before anything is cut: what does not go together")
            at = (high - 32) * MM
            if not begun and high > _TALL:
                tall = _PLAN * high
                Painter(canvas).draw(_numbered(plan, places), _SIDE, high - 27 - tall, wide, tall, room=8)
                at -= tall * MM
            canvas.setFillGray(0.0)
            canvas.setFont(plain, READ)
        canvas.drawString(_SIDE * MM, at, line)
        at -= READ * 1.28 if line else READ * 0.5
    canvas.save()
    return made.getvalue()


def _numbered(plan: Drawing, places: list[list[Point]]) -> Drawing:
    """The plan with a cross at every place, and at the first of those of which the same is said its number."""
    left, low, right, high = plan.box
    arm = max(right - left, high - low) * _ARM
    shapes, drawn = list[Shape](), list[Point]()
    for n, alike_there in enumerate(places, 1):
        for x, y in alike_there:
            if any(abs(x - one) + abs(y - other) < 3 * arm for one, other in drawn):
                continue  # a row of them is no band
            drawn.append((x, y))
            shapes += [Line(((x - arm, y - arm * hand), (x + arm, y + arm * hand)), "lit-edge") for hand in (1, -1)]
        x, y = alike_there[0]
        shapes.append(Label((x, y), str(n), ((x > (left + right) / 2) * 2.0 - 1.0, 0.0), strong=True))
    return replace(plan, shapes=(*plan.shapes, *shapes))
