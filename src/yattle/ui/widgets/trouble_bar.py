"""One sentence above the bench: what went wrong, or what was done."""

from __future__ import annotations

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton

from yattle.ui.theme import theme
from yattle.ui.widgets.words import Words


class TroubleBar(QFrame):
    """One sentence above the bench: what went wrong, or what was done."""

    def __init__(self) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 7, 8, 7)
        self.text = Words()
        self.text.setWordWrap(True)
        self.text.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.away = QPushButton("put away")
        self.away.setAccessibleName("put the message away")
        self.away.clicked.connect(self.hide)
        row.addWidget(self.text, 1)
        row.addWidget(self.away)
        self.timer = QTimer(self)
        self.timer.setSingleShot(True)
        self.timer.timeout.connect(self.hide)
        self.hide()

    def say(self, sentence: str, bad: bool, stays: bool = False) -> None:
        """What is ``bad``, or is to ``stay``, is there until it is put away; the rest goes by itself."""
        t = theme()
        ground, line = (t.oxide_soft, t.oxide) if bad else (t.card, t.verdigris)
        self.setStyleSheet(f"TroubleBar {{ background: {ground}; border: 1px solid {line}; border-radius: 7px; }}")
        self.setAccessibleName(sentence)
        self.text.setText(sentence)
        self.show()
        self.timer.stop()
        if not bad and not stays:
            self.timer.start(8000)
