"""Papers of a roof that does not go together as built: marked on every page, with a page in front that says where."""

from __future__ import annotations

from io import BytesIO
from pathlib import Path

from pypdf import PageObject, PdfReader, PdfWriter
from reportlab.lib.utils import simpleSplit
from reportlab.pdfgen.canvas import Canvas

from yattle.built.said import alike
from yattle.files import put
from yattle.papers.page import NOTE, READ
from yattle.papers.paint import MM, fonts

_STRIP = 5.5  # mm of the strip at the head of a page
_SIDE = 14.0  # mm beside the list
_MOST = 40  # findings that are told one by one


def mark_unfit(path: Path, says: list[str]) -> None:
    """Mark every page of a paper and put what was found before them. ``says``: a sentence for each place."""
    reader, writer = PdfReader(str(path)), PdfWriter()
    first = reader.pages[0]
    size = float(first.mediabox.width), float(first.mediabox.height)
    for page in _pages(_listed(size, says)):
        writer.add_page(page)
    for page in reader.pages:
        wide, high = float(page.mediabox.width), float(page.mediabox.height)
        writer.add_page(page).merge_page(_pages(_strip((wide, high), len(says)))[0])
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


def _listed(size: tuple[float, float], says: list[str]) -> bytes:
    """What was found, place by place."""
    plain, strong = fonts()
    canvas, made = _canvas(size)
    at = 0.0
    each = [f"· {one}" + (f" ({len(places)} places like this)" if len(places) > 1 else "")
            for one, places in alike(says).items()]
    lines = [line for one in each[:_MOST] for line in [*simpleSplit(one, plain, READ, size[0] - 2 * _SIDE * MM), ""]]
    if len(each) > _MOST:
        lines.append(f"and {len(each) - _MOST} more: see built.json")
    for line in ["", *lines]:
        if at < 3 * _SIDE * MM:
            if at:
                canvas.showPage()
            _head(canvas, size, "DOES NOT FIT AS BUILT")
            canvas.setFont(strong, READ + 3)
            canvas.drawString(_SIDE * MM, size[1] - 22 * MM, "Before anything is cut: what does not go together")
            canvas.setFont(plain, READ)
            at = size[1] - 32 * MM
        canvas.drawString(_SIDE * MM, at, line)
        at -= READ * 1.28 if line else READ * 0.5
    canvas.save()
    return made.getvalue()
