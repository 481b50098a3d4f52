"""The ring round the drawing that has the keyboard: the same for all of them."""

from __future__ import annotations

from PyQt6 import sip
from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtWidgets import QApplication, QFrame, QWidget

from yattle.ui.benches.brake.strip import StepStrip
from yattle.ui.benches.coil.stock_view import StockView
from yattle.ui.drawing.canvas import Canvas
from yattle.ui.drawing.space import Space
from yattle.ui.frame.tape import GirthTape

DRAWINGS = (Canvas, Space, StepStrip, StockView, GirthTape)
"""What is drawn by hand; fields, lists and buttons have a ring by their style."""


class FocusRing(QFrame):
    """Lies over the drawing of a window that has the keyboard, lets every press through."""

    def __init__(self, window: QWidget) -> None:
        super().__init__(window)
        self.setObjectName("focus")
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._window = window
        self._round: QWidget | None = None  # the drawing that it lies round
        self.hide()
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        app.focusChanged.connect(self._moved)

    def _moved(self, _: QWidget | None, now: QWidget | None) -> None:
        if sip.isdeleted(self) or sip.isdeleted(self._window):
            return  # the program ends
        if self._round is not None and not sip.isdeleted(self._round):
            self._round.removeEventFilter(self)
        if not isinstance(now, DRAWINGS) or now.window() is not self._window:
            self.hide()
            return
        self._round = now
        now.installEventFilter(self)
        self._lie()
        self.show()

    def _lie(self) -> None:
        parent = self._round.parentWidget() if self._round is not None else None
        if parent is not None and self._round is not None:
            self.setParent(parent)
            self.setGeometry(self._round.geometry())
            self.show()
            self.raise_()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() in (QEvent.Type.Resize, QEvent.Type.Move) and self.isVisible():
            self._lie()
        return super().eventFilter(watched, event)
