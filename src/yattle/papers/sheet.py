"""A sheet that is filled at set places: 1:1 tiles, templates, labels. PDF by reportlab."""

from __future__ import annotations

from io import BytesIO
from pathlib import Path

from reportlab.pdfgen.canvas import Canvas

from yattle.files import put
from yattle.papers.page import CAUTION, SIZES
from yattle.papers.paint import MM, Painter


class Paper(Painter):
    """A PDF being written; all measures in mm from the lower left corner, y up."""

    def __init__(self, path: Path, title: str, size: str = "a4", landscape: bool = False) -> None:
        width, height = SIZES[size]
        self.width, self.height = (height, width) if landscape else (width, height)
        self.path, self._written = path, BytesIO()
        self.title, self.page = title, 1
        super().__init__(Canvas(self._written, pagesize=(self.width * MM, self.height * MM), invariant=1))
        self.canvas.setTitle(title)
        self.canvas.setCreator("Yattle")

    def head(self, left: str, right: str) -> None:
        """What stands above and beneath a page."""
        self.text(15, self.height - 17, left, self.fitting(left, self.width * 0.62, 16, True), bold=True)
        self.text(self.width - 15, self.height - 17, right, 10, anchor="right", grey=0.3)
        self.rule(15, self.height - 20, self.width - 30, 0.3, 0)
        self.text(15, 9, f"{self.title} · page {self.page}", 7.5, grey=0.35)
        self.text(self.width - 15, 9, CAUTION, 7.5, anchor="right", grey=0.35)

    def next_page(self) -> None:
        self.canvas.showPage()
        self.page += 1

    def save(self) -> None:
        """Write it whole; raises :class:`~yattle.errors.FileProblem`, and then what was there is there still."""
        self.canvas.showPage()
        self.canvas.save()
        put(self.path, self._written.getvalue())
