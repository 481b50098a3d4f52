"""What every drawing on the screen takes: the wheel, and two fingers, bring it nearer."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QPointF, Qt
from PyQt6.QtGui import QNativeGestureEvent, QWheelEvent
from PyQt6.QtWidgets import QWidget

from yattle.ui.drawing.nearer import times_of


class LookedAt(QWidget):
    """A drawing; each kind says for itself what it is to be looked at from nearer."""

    def look(self, times: float, at: QPointF | None = None) -> None:
        """So many times nearer, about a place; 0: the whole drawing."""
        raise NotImplementedError

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        assert event is not None
        if event.angleDelta().y():
            self.look(times_of(event.angleDelta().y()), event.position())
            event.accept()

    def event(self, event: QEvent | None) -> bool:
        """Two fingers on a pad or a screen bring it nearer."""
        if isinstance(event, QNativeGestureEvent) and event.gestureType() == Qt.NativeGestureType.ZoomNativeGesture:
            self.look(1.0 + event.value(), event.position())
            return True
        return super().event(event)
