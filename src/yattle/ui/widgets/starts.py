"""Five roofs to begin with, each drawn in plan on a button."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QIcon, QPainter, QPixmap, QShowEvent
from PyQt6.QtWidgets import QGridLayout, QToolButton, QWidget

from yattle.drawing import Drawing, Line, PlanEdge, roof_drawing
from yattle.drawing.shapes import Ring
from yattle.roof import build
from yattle.roof.starts import STARTS
from yattle.ui.drawing.paint import Ink, View, paint
from yattle.ui.widgets.words import unkeyed

_SIZE = QSize(190, 140)


class StartPanel(QWidget):
    """``chosen(name)``: one of the shapes was pressed."""

    chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        grid = QGridLayout(self)
        grid.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.buttons: dict[str, QToolButton] = {}
        for n, name in enumerate(STARTS):
            button = QToolButton()
            button.setText(unkeyed(name))
            button.setIconSize(_SIZE)
            button.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextUnderIcon)
            button.setAccessibleName(f"begin with {name}")
            button.clicked.connect(lambda _, name=name: self.chosen.emit(name))
            self.buttons[name] = button
            grid.addWidget(button, n // 3, n % 3)

    def showEvent(self, event: QShowEvent | None) -> None:
        for name, button in self.buttons.items():
            button.setIcon(QIcon(_picture(name)))
        super().showEvent(event)


def _picture(name: str) -> QPixmap:
    """The shape in plan, faces and edges without letters, in the theme's own colours."""
    roof = build(STARTS[name])
    drawing = roof_drawing(roof, tuple(PlanEdge(edge.id, edge) for edge in roof.edges))
    lines = Drawing(tuple(s for s in drawing.shapes if isinstance(s, Line | Ring)))
    pixmap = QPixmap(_SIZE * 2)
    pixmap.setDevicePixelRatio(2)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    frame = QRectF(12, 10, _SIZE.width() - 24, _SIZE.height() - 20)
    paint(painter, lines, View.fit(lines.box, frame), Ink(texts=False))
    painter.end()
    return pixmap
