"""The machine's outlines on the drawing, their corners moved by hand."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen

from yattle.ui.drawing.canvas import Canvas
from yattle.ui.drawing.handles import ToolCorner
from yattle.ui.theme import theme, type_of

_GRIP = 9.0  # px


class MachineCanvas(Canvas):
    """A canvas that can show corners to be moved.

    ``moved(tool, index, x, y)``: a corner was dragged, or moved by 1 mm with an arrow key (10 with
    Shift). ``added(tool, index)``: a corner is wanted after this one (Insert or +);
    ``removed(tool, index)``: this one is not (Delete).
    """

    moved = pyqtSignal(str, int, float, float)
    added = pyqtSignal(str, int)
    removed = pyqtSignal(str, int)

    def __init__(self, name: str, margin: tuple[int, int, int, int]) -> None:
        super().__init__(name, margin)
        self.outlines: list[ToolCorner] = []
        self.chosen = 0
        self._drag: QPointF | None = None

    def show_corners(self, corners: list[ToolCorner]) -> None:
        """Show corners to be moved; an empty list ends it."""
        self.outlines = corners
        self.chosen = min(self.chosen, max(0, len(corners) - 1))
        self.update()

    def place_of(self, corner: ToolCorner) -> QPointF:
        return self._view.at(corner.at)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        if not self.outlines:
            return
        t, painter = theme(), QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(type_of(10))
        for n, corner in enumerate(self.outlines):
            here = n == self.chosen
            place = self._drag if here and self._drag is not None else self.place_of(corner)
            painter.setPen(QPen(QColor(t.copper), 1.6))
            painter.setBrush(QColor(t.copper if here else t.card))
            painter.drawEllipse(place, 5.5, 5.5)
            if here:
                x, y = self.millimetres(place)
                painter.setPen(QColor(t.ink))
                painter.drawText(QRectF(place.x() + 9, place.y() - 22, 130, 18), Qt.AlignmentFlag.AlignLeft,
                                 f"{corner.tool} {x:g}, {y:g}")
        painter.end()

    def millimetres(self, place: QPointF) -> tuple[float, float]:
        """A place on the screen in whole mm of the machine."""
        return (float(round((place.x() - self._view.dx) / self._view.scale)),
                float(round((self._view.dy - place.y()) / self._view.scale)))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        for n, corner in enumerate(self.outlines):
            if (self.place_of(corner) - event.position()).manhattanLength() < 2 * _GRIP:
                self.chosen, self._drag = n, event.position()
                self.update()
                return
        super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._drag is not None:
            self._drag = event.position()
            self.update()
        else:
            super().mouseMoveEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._drag is not None:
            place, self._drag = self._drag, None
            corner = self.outlines[self.chosen]
            self.moved.emit(corner.tool, corner.index, *self.millimetres(place))
            self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        step = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, 1),
                Qt.Key.Key_Down: (0, -1)}.get(Qt.Key(event.key()))
        if not self.outlines:
            super().keyPressEvent(event)
            return
        corner = self.outlines[self.chosen]
        if step is not None:
            far = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
            self.moved.emit(corner.tool, corner.index, corner.at[0] + step[0] * far, corner.at[1] + step[1] * far)
        elif event.key() in (Qt.Key.Key_Insert, Qt.Key.Key_Plus):
            self.added.emit(corner.tool, corner.index)
        elif event.key() == Qt.Key.Key_Delete:
            self.removed.emit(corner.tool, corner.index)
        elif event.key() in (Qt.Key.Key_Space, Qt.Key.Key_N):
            self.chosen = (self.chosen + 1) % len(self.outlines)
            self.update()
        else:
            super().keyPressEvent(event)
