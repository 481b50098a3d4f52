"""A drawing with handles to be dragged: on a block of the plan, the line of the cut, the corners of a section."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF

from yattle.drawing.placing import Box
from yattle.roof.plane import Point
from yattle.ui.drawing.canvas import Canvas
from yattle.ui.drawing.handles import Handle
from yattle.ui.drawing.paint import View
from yattle.ui.theme import theme

_GRIP = 11.0  # px
_CLEAR = 7.0  # px round a handle in which no text stands


class GripCanvas(Canvas):
    """``pulled(part, role, x, y, done)``: a handle is being dragged to x, y mm; ``done`` when it is let go.

    ``nudged(dx, dy)``: an arrow key with Alt, in steps. ``dropped(x, y)``: a place pressed with Shift.
    """

    pulled = pyqtSignal(str, str, float, float, bool)
    nudged = pyqtSignal(int, int)
    dropped = pyqtSignal(float, float)

    def __init__(self, name: str, margins: tuple[int, int, int, int] = (44, 30, 44, 44)) -> None:
        super().__init__(name, margins)
        self.handles: list[Handle] = []
        self.ghost: list[Point] = []  # what would be if what is dragged were let go, mm
        self._drag: Handle | None = None

    def show_handles(self, handles: list[Handle]) -> None:
        self.handles = handles
        self.update()

    def kept_clear(self) -> tuple[Box, ...]:
        """The handles: no text stands on one."""
        places = (self.held or self.nearer.view or self.whole).at
        return tuple((at.x() - _CLEAR, at.y() - _CLEAR, at.x() + _CLEAR, at.y() + _CLEAR)
                     for at in (places(handle.at) for handle in self.handles))

    def millimetres(self, place: QPointF) -> Point:
        """A place on the screen, mm in plan."""
        return (place.x() - self._view.dx) / self._view.scale, (self._view.dy - place.y()) / self._view.scale

    def place_of(self, handle: Handle) -> QPointF:
        return self._view.at(handle.at)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        t, painter = theme(), QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if len(self.ghost) > 1:
            painter.setPen(QPen(QColor(t.copper), 2.0, Qt.PenStyle.DashLine))
            painter.drawPolyline(QPolygonF([self._view.at(at) for at in self.ghost]))
        for handle in self.handles:
            here = self._drag is not None and (handle.part, handle.role) == (self._drag.part, self._drag.role)
            painter.setPen(QPen(QColor(t.copper), 2.0))
            painter.setBrush(QColor(t.copper if here or handle.role == "move" else t.card))
            at = self.place_of(handle)
            if handle.role == "turn":
                painter.drawEllipse(at, 5.0, 5.0)
            else:
                painter.drawRect(int(at.x()) - 5, int(at.y()) - 5, 10, 10)
        painter.end()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        near = min(self.handles, default=None, key=lambda h: (self.place_of(h) - event.position()).manhattanLength())
        left = event.button() == Qt.MouseButton.LeftButton
        if left and near is not None and (self.place_of(near) - event.position()).manhattanLength() < 1.6 * _GRIP:
            self._drag = near
            self.held = View(self._view.scale, self._view.dx, self._view.dy)  # the drawing stands still meanwhile
        elif left and event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self.dropped.emit(*self.millimetres(event.position()))
        else:
            super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._drag is not None:
            self.pulled.emit(self._drag.part, self._drag.role, *self.millimetres(event.position()), False)
        else:
            super().mouseMoveEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        super().mouseReleaseEvent(event)
        if self._drag is not None:
            drag, self._drag, self.held = self._drag, None, None
            self.pulled.emit(drag.part, drag.role, *self.millimetres(event.position()), True)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        step = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, 1),
                Qt.Key.Key_Down: (0, -1)}.get(Qt.Key(event.key()))
        if step is not None and event.modifiers() & Qt.KeyboardModifier.AltModifier:
            self.nudged.emit(*step)
        else:
            super().keyPressEvent(event)
