"""Words on the screen as they were typed: a name with ``<`` or ``&`` in it is neither markup nor a shortcut."""

from __future__ import annotations

from html import escape

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QLabel


class Words(QLabel):
    """A label that shows its text as it is."""

    def __init__(self, text: str = "") -> None:
        super().__init__()
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(text)


class ShortWords(Words):
    """A label that takes the room there is: of what has none the last words are left out, never part of a number or a
    name, with dots in their stead; its tip says it whole."""

    def setText(self, text: str | None) -> None:
        super().setText(text or "")
        self.setToolTip(plain(text or ""))

    def minimumSizeHint(self) -> QSize:
        return QSize(0, super().minimumSizeHint().height())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setPen(self.palette().color(self.foregroundRole()))
        painter.setFont(self.font())
        painter.drawText(self.contentsRect(), self.alignment() | Qt.AlignmentFlag.AlignVCenter, self.shown)
        painter.end()

    @property
    def shown(self) -> str:
        """As many whole words as there is room for."""
        letters, room, words = self.fontMetrics(), self.contentsRect().width(), self.text().split(" ")
        if letters.horizontalAdvance(self.text()) <= room:
            return self.text()
        while words and letters.horizontalAdvance(" ".join([*words, "…"])) > room:
            words.pop()
        return " ".join([*words, "…"]) if words else ""


def plain(text: str) -> str:
    """``text`` for a tool tip or a question, which would take some of it for markup."""
    if "<" not in text and "&" not in text:
        return text
    return f"<qt>{escape(text)}</qt>".replace("\n", "<br>")


def unkeyed(text: str) -> str:
    """``text`` for a button or a menu, where a single ``&`` would make the next letter a shortcut."""
    return text.replace("&", "&&")
