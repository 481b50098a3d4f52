"""A card: a headed frame with one thing in it."""

from __future__ import annotations

import re
from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from yattle.ui.widgets.marks import mark
from yattle.ui.widgets.words import ShortWords, Words


def foot(*parts: QWidget, wide: QWidget | None = None) -> QWidget:
    """Controls side by side under a drawing; ``wide`` takes the room that is left."""
    holder = QWidget()
    bar = QHBoxLayout(holder)
    bar.setContentsMargins(0, 0, 0, 0)
    for part in parts:
        bar.addWidget(part, 1 if part is wide else 0)
    return holder


class Card(QFrame):
    """``head`` in bold, ``under`` beside it in grey, ``right`` at the far end; then ``inside``."""

    def __init__(self, *inside: QWidget) -> None:
        super().__init__()
        self.setObjectName("card")
        column = QVBoxLayout(self)
        column.setContentsMargins(14, 9, 14, 9)
        column.setSpacing(4)
        self.bar = QHBoxLayout()
        self.bar.setSpacing(12)
        self.head, self.under, self.right = Words(), ShortWords(), Words()
        self.head.setObjectName("head")
        self.under.setObjectName("dim")
        self.right.setObjectName("proof")
        self.right.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        # In a narrow card the grey words give way, never the head.
        self.head.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Preferred)
        self.under.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.bar.addWidget(self.head)
        self.bar.addWidget(self.under, 1)
        self.bar.addWidget(self.right)
        column.addLayout(self.bar)
        for widget in inside:
            column.addWidget(widget, 1 if widget is inside[0] else 0)

    def say(self, head: str, under: str = "", right: str = "", earned: bool = False) -> None:
        """``earned``: what stands at the far end is proven, and green.

        Where there are no grey words the far end has all the room, and takes a second line in a narrow card.
        """
        alone = bool(right) and not under
        self.right.setWordWrap(alone)
        self.bar.setStretchFactor(self.under, 0 if alone else 1)
        self.bar.setStretchFactor(self.right, 1 if alone else 0)
        self.head.setText(head)
        self.under.setText(under)
        self.right.setText(_broken_between(right) if alone else right)
        mark(self.right, "earned", earned)


def _broken_between(said: str) -> str:
    """``said``, which comes into a second line after a comma or a dot between, never within a measure."""
    return re.sub("(?<![,·]) ", "\u00a0", said)


def steps(card: Card, step: Callable[[int], None]) -> tuple[QPushButton, QPushButton]:
    """Buttons on a card's bar to the piece before and the next one."""
    before, after = QPushButton("‹"), QPushButton("›")
    for button, name, by in ((before, "piece before", -1), (after, "next piece", 1)):
        button.setAccessibleName(name)
        button.setFixedSize(34, 28)
        button.clicked.connect(lambda _, by=by: step(by))
        card.bar.addWidget(button)
    return before, after


_UPPER = 11  # of 19 parts of a page's height
_LOWEST = 196  # px: a strip with its letters over and under it, and the card's title


def two_over_one(page: QWidget, left: QWidget, right: QWidget, below: QWidget) -> None:
    """A page of two cards and a wide one beneath, which is high enough in the smallest window too."""
    below.setMinimumHeight(_LOWEST)
    top = QHBoxLayout()
    top.setSpacing(8)
    top.addWidget(left, 5)
    top.addWidget(right, 4)
    column = QVBoxLayout(page)
    column.setContentsMargins(0, 0, 0, 0)
    column.setSpacing(8)
    column.addLayout(top, _UPPER)
    column.addWidget(below, 8)


def show_upper(page: QWidget, upper: tuple[QWidget, ...], shown: bool) -> None:
    """Show the two upper cards of such a page, or leave all the room to the one beneath."""
    for card in upper:
        card.setVisible(shown)
    column = page.layout()
    if isinstance(column, QVBoxLayout):
        column.setStretch(0, _UPPER if shown else 0)
