"""Keys and presses held back while a large job is worked out: they are done on what is shown then, as if the window had
been slow; meanwhile it paints and tells how far it is."""

from __future__ import annotations

from PyQt6 import sip
from PyQt6.QtCore import QCoreApplication, QEvent, QObject, QTimer
from PyQt6.QtGui import QAction, QKeyEvent, QKeySequence
from PyQt6.QtWidgets import QApplication, QWidget

_HELD = (QEvent.Type.KeyPress, QEvent.Type.KeyRelease, QEvent.Type.ShortcutOverride, QEvent.Type.MouseButtonPress,
         QEvent.Type.MouseButtonRelease, QEvent.Type.MouseButtonDblClick, QEvent.Type.Wheel, QEvent.Type.Close)
_MOST = 2000


class Holding(QObject):
    """``hold(True)`` begins, ``hold(False)`` lets go of what was held, in its order."""

    def __init__(self, window: QWidget) -> None:
        super().__init__(window)
        self._window, self._on = window, False
        self._events: list[tuple[QObject, QEvent]] = []

    def hold(self, on: bool) -> None:
        app = QCoreApplication.instance()
        if on == self._on or app is None:
            return
        self._on = on
        if on:
            app.installEventFilter(self)
        else:
            app.removeEventFilter(self)
            QTimer.singleShot(0, self._let_go)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if watched is None or event is None or event.type() not in _HELD or not event.spontaneous():
            return False
        if QApplication.activeModalWidget() is not None:
            return False  # a question that has to be answered first
        if event.type() == QEvent.Type.ShortcutOverride:
            event.accept()  # no shortcut now: its key press comes by itself, and is held
            return True
        copy = event.clone()
        if copy is not None and len(self._events) < _MOST:
            self._events.append((watched, copy))
        return True

    def _let_go(self) -> None:
        while self._events and not self._on:
            watched, event = self._events.pop(0)
            action = self._action(event)
            if action is not None:
                action.trigger()
            elif not sip.isdeleted(watched):
                QCoreApplication.sendEvent(watched, event)

    def _action(self, event: QEvent) -> QAction | None:
        """The action that a held key stands for."""
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return None
        keys = QKeySequence(event.keyCombination())
        return next((action for action in self._window.findChildren(QAction)
                     if action.isEnabled() and action.shortcut() == keys), None)
