"""What there is before a job is open: a new roof, the jobs of late, the demos, a look round."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from yattle.ui.widgets.words import Words, unkeyed

DEMOS = (("sail-loft", "The sail loft, in millimetres"), ("net-shed", "The net shed, in feet and inches"))


class StartPage(QWidget):
    """``do(id)`` does an action of the table, ``open_path`` opens a job, ``demo(name)`` one that is shipped; ``look``
    begins the look round. Tab or arrows go from one to the next, Return takes it."""

    def __init__(self, do: Callable[[str], object], open_path: Callable[[Path], object],
                 demo: Callable[[str], object], look: Callable[[], object]) -> None:
        super().__init__()
        self._open_path = open_path
        self.recent: list[QPushButton] = []
        self.new = _button("New roof", "a shape, then its measures", lambda: do("job.new"))
        self.open = _button("Open …", "a job from a file", lambda: do("job.open"))
        self.look = _button("A look round", "six stops on the demo, two minutes", look)
        self.demos = [_button(title, "to try things on, nothing is kept", lambda name=name: demo(name))  # type: ignore[misc]
                      for name, title in DEMOS]
        head = Words("Yattle")
        head.setObjectName("big")
        under = Words("from a few measures of a roof to folded pieces")
        under.setObjectName("dim")
        self._late = _column("Of late")
        row = QHBoxLayout()
        row.setSpacing(12)
        row.addWidget(_filled(_column("Begin"), [self.new, self.open, self.look]), 1)
        row.addWidget(self._late, 1)
        row.addWidget(_filled(_column("Demos"), self.demos), 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(40, 30, 40, 30)
        column.addStretch(1)
        column.addWidget(head)
        column.addWidget(under)
        column.addSpacing(14)
        column.addLayout(row)
        column.addStretch(3)

    def show_recent(self, paths: tuple[str, ...]) -> None:
        """The jobs that were open last and are still there, the newest first; it has the keyboard."""
        layout = self._late.layout()
        assert isinstance(layout, QVBoxLayout)
        for button in self.recent:
            layout.removeWidget(button)
            button.deleteLater()
        there = [Path(path) for path in paths if Path(path).exists()][:5]
        self.recent = [_button(path.stem, str(path.parent), lambda path=path: self._open_path(path)) for path in there]  # type: ignore[misc]
        for n, button in enumerate(self.recent, 1):
            layout.insertWidget(n, button)
        self._late.setVisible(bool(self.recent))
        (self.recent[0] if self.recent else self.new).setFocus()


def _button(title: str, beside: str, do: Callable[[], object]) -> QPushButton:
    button = QPushButton(unkeyed(f"{title}\n{_short(beside)}"))
    button.setObjectName("start")
    button.setAccessibleName(title)
    button.setAccessibleDescription(beside)
    button.setToolTip(beside)
    button.setAutoDefault(True)
    button.clicked.connect(lambda: do())
    return button


def _short(text: str, most: int = 38) -> str:
    """The end of a path that is too long for a button."""
    return text if len(text) <= most else f"…{text[-most + 1:]}"


def _column(title: str) -> QFrame:
    card = QFrame()
    card.setObjectName("card")
    column = QVBoxLayout(card)
    column.setContentsMargins(16, 12, 16, 16)
    column.setSpacing(8)
    head = Words(title)
    head.setObjectName("head")
    column.addWidget(head, 0, Qt.AlignmentFlag.AlignTop)
    column.addStretch(1)
    return card


def _filled(card: QFrame, buttons: list[QPushButton]) -> QFrame:
    layout = card.layout()
    assert isinstance(layout, QVBoxLayout)
    for n, button in enumerate(buttons, 1):
        layout.insertWidget(n, button)
    return card
