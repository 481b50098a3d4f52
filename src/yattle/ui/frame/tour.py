"""The first look round: six stops, one a bench, that can be left at any time."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton

from yattle.ui.theme import theme

STOPS: tuple[tuple[str, str], ...] = (
    ("survey", "The roof comes first: press a face, drag its block or type its measures. Every edge becomes a run."),
    ("trim", "Each run has its section. Press a number on it and type: girth, marks, pieces and patterns follow."),
    ("brake", "The piece in the machine, stroke by stroke, in the order with the least handling. Press play."),
    ("coil", "All pieces on the coil, cut by cut. Ctrl+Return searches on for a plan that takes less."),
    ("fit", "What goes on when, from the eave up, with its screws, tape and checks. Go from stage to stage."),
    ("log", "What was measured and learnt. Ctrl+K finds any piece, run or action; F1 explains any field."),
)
"""Bench and what is said there."""


class TourBar(QFrame):
    """One sentence above the bench, with the way on and the way out; ``stop(bench)`` when a bench is to be shown."""

    stop = pyqtSignal(str)
    ended = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.at = 0
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 7, 8, 7)
        self.text = QLabel()
        self.text.setWordWrap(True)
        self.on, self.out = QPushButton("next"), QPushButton("leave the tour")
        self.on.clicked.connect(lambda: self.go(self.at + 1))
        self.out.clicked.connect(self.end)
        row.addWidget(self.text, 1)
        row.addWidget(self.on)
        row.addWidget(self.out)
        self.hide()

    def go(self, at: int) -> None:
        """To a stop; past the last one the tour ends."""
        if at >= len(STOPS):
            self.end()
            return
        self.at = at
        bench, said = STOPS[at]
        t = theme()
        self.setStyleSheet(f"TourBar {{ background: {t.copper_soft}; border: 1px solid {t.copper}; "
                           "border-radius: 6px; }")
        self.text.setText(f"<b>{at + 1} of {len(STOPS)}</b>&nbsp; {said}")
        self.on.setText("done" if at == len(STOPS) - 1 else "next")
        self.show()
        self.on.setFocus()
        self.stop.emit(bench)

    def end(self) -> None:
        self.hide()
        self.ended.emit()
