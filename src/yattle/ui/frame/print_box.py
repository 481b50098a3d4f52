"""Look before print: any paper of the job as it will be, then printed, or saved as PDF."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QSizeF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtPdfWidgets import QPdfView
from PyQt6.QtPrintSupport import QPrintDialog, QPrinter
from PyQt6.QtWidgets import QComboBox, QDialog, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from yattle.ui.widgets.words import Words

_DOTS = 200  # an inch, of a page sent to a printer as a picture
Papers = Sequence[tuple[str, str]]


class PrintBox(QDialog):
    """Which paper, on which sheet, and the paper itself.

    ``make`` is asked for a paper by its key and gives its bytes to :meth:`show_paper` when they are there; ``sized``
    is told the sheet that is chosen; ``save`` writes what is shown.
    """

    def __init__(self, parent: QWidget, papers: Papers, first: str, sheet: str, make: Callable[[str], object],
                 sized: Callable[[str], object], save: Callable[[str], object]) -> None:
        super().__init__(parent)
        self.setWindowTitle("Look before print")
        self.resize(1000, 700)
        self._make, self._written = make, QByteArray()
        self._buffer = QBuffer(self)
        self.document = QPdfDocument(self)
        self.view = QPdfView(self)
        self.view.setPageMode(QPdfView.PageMode.MultiPage)
        self.view.setZoomMode(QPdfView.ZoomMode.FitToWidth)
        self.view.setDocument(self.document)
        self.view.setAccessibleName("the paper as it will be printed")
        self.paper = self._choice("paper", papers, first, lambda _: self.look())
        self.sheet = self._choice("sheet", (("", "as usual"), ("a4", "A4"), ("letter", "Letter")), sheet,
                                  lambda key: self._sized(sized, key))
        self.says = Words("")
        self.print_button, self.save_button = QPushButton("Print …"), QPushButton("Save PDF …")
        self.print_button.clicked.connect(self.print_paper)
        self.save_button.clicked.connect(lambda: save(self.paper.currentData()))
        self._lay_out()
        self.look()

    def _choice(self, name: str, rows: Papers, now: str, then: Callable[[str], object]) -> QComboBox:
        box = QComboBox(self)
        box.setAccessibleName(name)
        for key, title in rows:
            box.addItem(title, key)
        box.setCurrentIndex(max(box.findData(now), 0))
        box.currentIndexChanged.connect(lambda _: then(box.currentData()))
        return box

    def _lay_out(self) -> None:
        row = QHBoxLayout()
        for title, box in (("&Paper", self.paper), ("&Sheet", self.sheet)):
            label = QLabel(title)
            label.setBuddy(box)
            row.addWidget(label)
            row.addWidget(box)
        row.addWidget(self.says, 1)
        close = QPushButton("Close")
        close.clicked.connect(self.reject)
        for button in (self.print_button, self.save_button, close):
            button.setAutoDefault(button is self.print_button)
            row.addWidget(button)
        column = QVBoxLayout(self)
        column.addLayout(row)
        column.addWidget(self.view, 1)

    def _sized(self, told: Callable[[str], object], key: str) -> None:
        told(key)
        self.look()

    def look(self) -> None:
        """Have the paper that is chosen made."""
        self.says.setText("being made …")
        for button in (self.print_button, self.save_button):
            button.setEnabled(False)
        self._make(self.paper.currentData())

    def show_paper(self, key: str, written: bytes) -> None:
        """What was made, if it is still the paper that is looked at."""
        if key != self.paper.currentData():
            return
        self.document.close()
        self._buffer.close()
        self._written = QByteArray(written)
        self._buffer.setData(self._written)
        self._buffer.open(QIODevice.OpenModeFlag.ReadOnly)
        self.document.load(self._buffer)
        many = self.document.pageCount()
        self.says.setText(f"{many} page{'' if many == 1 else 's'}")
        for button in (self.print_button, self.save_button):
            button.setEnabled(many > 0)

    def complain(self, why: str) -> None:
        """Why there is no paper."""
        self.says.setText(why)

    def print_paper(self) -> None:
        """The desktop's own dialog, then every page that it asks for."""
        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        dialog = QPrintDialog(printer, self)
        if dialog.exec() == QDialog.DialogCode.Accepted:
            self.send(printer)

    def send(self, printer: QPrinter) -> None:
        """The pages onto a printer, each at its true size."""
        many = self.document.pageCount()
        first, last = printer.fromPage() or 1, printer.toPage() or many
        printer.setFullPage(True)
        painter = QPainter(printer)
        for n in range(first - 1, min(last, many)):
            if n > first - 1:
                printer.newPage()
            size: QSizeF = self.document.pagePointSize(n)
            image = self.document.render(n, (size * _DOTS / 72).toSize())
            share = printer.resolution() / 72
            painter.drawImage(0, 0, image.scaled((size * share).toSize(), Qt.AspectRatioMode.KeepAspectRatio,
                                                 Qt.TransformationMode.SmoothTransformation))
        painter.end()
        self.says.setText(f"sent to {printer.printerName() or 'the printer'}")
