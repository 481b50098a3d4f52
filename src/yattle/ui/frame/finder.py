"""One search field for actions, pieces and runs."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from PyQt6.QtCore import QEvent, QObject, QPoint, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QLineEdit, QListWidget, QListWidgetItem, QWidget


class FinderEntry(NamedTuple):
    """What it is called, what stands beside it, what it ``do``es; ``also``: further words that find it."""

    name: str
    beside: str
    do: Callable[[], object]
    also: str = ""


class Finder(QLineEdit):
    """Type a few letters, arrows choose, Return does it, Escape leaves."""

    def __init__(self, window: QWidget, entries: Callable[[], list[FinderEntry]]) -> None:
        super().__init__()
        self.entries = entries
        self.setPlaceholderText("find a piece, run or action   Ctrl+K")
        self.setAccessibleName("find a piece, run or action")
        self.setFixedWidth(290)
        self.setClearButtonEnabled(True)
        self.list = QListWidget(window)
        self.list.setAccessibleName("found")
        self.list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.list.hide()
        self.list.itemClicked.connect(self._do)
        self.textEdited.connect(self._search)
        self.returnPressed.connect(lambda: self._do(self.list.currentItem()))
        self.installEventFilter(self)
        self._found: list[FinderEntry] = []

    def _search(self, typed: str) -> None:
        words = typed.lower().split()
        found = [entry for entry in self.entries()
                 if words and all(word in f"{entry.name} {entry.beside} {entry.also}".lower() for word in words)]
        # What is called just that goes first, then what begins with it.
        self._found = sorted(found, key=lambda e: (e.name.lower() != typed.lower().strip(),
                                                   not e.name.lower().startswith(typed.lower().strip())))[:9]
        self.list.clear()
        for name, beside, *_ in self._found:
            self.list.addItem(QListWidgetItem(f"{name}    {beside}" if beside else name))
        if typed.strip() and not self._found:
            self.list.addItem(QListWidgetItem("nothing of that name"))
        self.list.setCurrentRow(0)
        self._place()

    def _place(self) -> None:
        self.list.setVisible(self.list.count() > 0)
        window = self.list.parentWidget()
        if self.list.count() and window is not None:
            corner = self.mapTo(window, QPoint(0, self.height() + 4))
            self.list.setStyleSheet("QListWidget { background: palette(base); border: 1px solid palette(mid); "
                                    "border-radius: 6px; padding: 4px; }")
            self.list.setGeometry(corner.x() - 110, corner.y(), 400, 14 + 30 * self.list.count())
            self.list.raise_()

    def _do(self, item: QListWidgetItem | None) -> None:
        row = self.list.row(item) if item is not None else -1
        if 0 <= row < len(self._found):
            deed = self._found[row].do
            self.leave()
            deed()

    def leave(self) -> None:
        """Close what was found and empty the field."""
        self.clear()
        self.list.clear()
        self.list.hide()
        self.clearFocus()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress and event.key() in (
                Qt.Key.Key_Down, Qt.Key.Key_Up):
            count = max(self.list.count(), 1)
            self.list.setCurrentRow((self.list.currentRow() + (1 if event.key() == Qt.Key.Key_Down else -1)) % count)
            return True
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress and event.key() == Qt.Key.Key_Escape:
            self.leave()
            return True
        if event is not None and event.type() == QEvent.Type.FocusOut:
            self.list.hide()
        return super().eventFilter(watched, event)
