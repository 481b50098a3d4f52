"""The parts of a drawing for a screen reader: a button for each that nobody sees, where the part is drawn, named as it
is, down where it is the one in hand; pressing it means the part."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from PyQt6.QtCore import QRect, Qt, QTimer
from PyQt6.QtGui import QPaintEvent
from PyQt6.QtWidgets import QAbstractButton, QWidget

MOST = 400  # parts: of a drawing with more only the first ones are told one by one
_SOON = 150  # ms after the last change: while a drawing moves nobody reads it


@dataclass(frozen=True)
class PartSaid:
    """A part as it is told: what its ``key`` is called, where on its widget it is drawn, px, and whether it is in
    hand."""

    key: str
    name: str
    rect: QRect
    here: bool


class PartButton(QAbstractButton):
    """One part. It takes no mouse and no Tab: hands press the drawing, arrows go through it."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setUpdatesEnabled(False)  # nothing is painted
        self.setCheckable(True)
        self.key = ""

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Nothing: the drawing shows it."""

    def nextCheckState(self) -> None:
        """It is down where its part is in hand, not because it was pressed."""

    def tell(self, part: PartSaid) -> None:
        """Be this part."""
        self.key = part.key
        if self.accessibleName() != part.name:
            self.setAccessibleName(part.name)
        if self.geometry() != part.rect:
            self.setGeometry(part.rect)
        if self.isChecked() != part.here:
            self.setChecked(part.here)


class DrawnParts:
    """The buttons of one drawing. ``press``: what a part's key is given to."""

    def __init__(self, widget: QWidget, press: Callable[[str], None]) -> None:
        self._widget, self._press = widget, press
        self.buttons: list[PartButton] = []
        self._parts: tuple[PartSaid, ...] = ()
        self._soon = QTimer(widget)
        self._soon.setSingleShot(True)
        self._soon.timeout.connect(self._tell)

    def show(self, parts: Iterable[PartSaid]) -> None:
        """What is drawn now, each key once."""
        found = tuple({part.key: part for part in parts if part.key}.values())[:MOST]
        if found != self._parts:
            self._parts = found
            self._soon.start(_SOON)

    def _tell(self) -> None:
        while len(self.buttons) < len(self._parts):
            button = PartButton(self._widget)
            button.clicked.connect(lambda _=False, button=button: self._press(button.key))
            self.buttons.append(button)
        for button, part in zip(self.buttons, self._parts, strict=False):
            button.tell(part)
            button.show()
        for button in self.buttons[len(self._parts):]:
            button.hide()
