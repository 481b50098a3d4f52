"""Words on the screen as they were typed: a name with ``<`` or ``&`` in it is neither markup nor a shortcut."""

from __future__ import annotations

from html import escape

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel


class Words(QLabel):
    """A label that shows its text as it is."""

    def __init__(self, text: str = "") -> None:
        super().__init__()
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(text)


def plain(text: str) -> str:
    """``text`` for a tool tip or a question, which would take some of it for markup."""
    if "<" not in text and "&" not in text:
        return text
    return f"<qt>{escape(text)}</qt>".replace("\n", "<br>")


def unkeyed(text: str) -> str:
    """``text`` for a button or a menu, where a single ``&`` would make the next letter a shortcut."""
    return text.replace("&", "&&")
