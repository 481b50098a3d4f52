"""One module of an own panel system, typed point by point or pulled into shape on the drawing."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QWidget

from yattle.errors import InputError
from yattle.job.panel_files import points_of, system_of_points
from yattle.measure import Unit, say_length
from yattle.panels import PanelSystem
from yattle.pattern.pattern import Point

_NAME = "own system"


class OwnModule(QWidget):
    """A name, the points of one module from its left side edge to its right one, and a button that keeps it. ``draw``
    is told what they make while they are typed, or why they make nothing; ``keep`` takes the system."""

    def __init__(self, unit: Unit, draw: Callable[[PanelSystem | None, str], None],
                 keep: Callable[[PanelSystem], object]) -> None:
        super().__init__()
        self.unit, self._draw, self._keep = unit, draw, keep
        self._shown: list[Point] = []  # the module that was drawn last
        self.name, self.points, self.button = QLineEdit(), QLineEdit(), QPushButton("keep it")
        self.name.setPlaceholderText("an own one: its name")
        self.points.setPlaceholderText("points, across, up: 0, 38; 0, 0; 475, 0; 475, 38" if unit.typed != "in" else
                                       "points, across, up: 0, 1 1/2; 0, 0; 18, 0; 18, 1 1/2")
        self.name.setAccessibleName("name of an own panel system")
        self.points.setAccessibleName("points of its module, across and up")
        self.name.setFixedWidth(190)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        for part in (self.name, self.points, self.button):
            row.addWidget(part, 1 if part is self.points else 0)
        self.points.textChanged.connect(lambda _: self._show())
        self.points.returnPressed.connect(self._take)
        self.button.clicked.connect(self._take)

    def _made(self, name: str = _NAME) -> PanelSystem:
        return system_of_points(name, points_of(self.points.text(), self.unit.typed))

    def _show(self) -> None:
        try:
            made = self._made()
            self._shown = list(made.profile)
            self._draw(made, "")
        except InputError as wrong:
            self._draw(None, str(wrong))

    def _take(self) -> None:
        try:
            made = self._made(self.name.text())
        except InputError as wrong:
            self._draw(None, str(wrong))
            return
        self._keep(made)

    def pull(self, which: int, x: float, y: float, done: bool) -> None:
        """A point of the module let go somewhere else, in whole steps of the tape; places in mm."""
        if done and which < len(self._shown):
            points = list(self._shown)
            points[which] = x, y
            self._write(points)

    def add(self, x: float, y: float) -> None:
        """Another point after the last one; places in mm."""
        if self._shown:
            self._write([*self._shown, (x, y)])

    def _write(self, points: list[Point]) -> None:
        step = self.unit.step if self.unit.parts else 1.0

        def say(size: float) -> str:
            size = round(size / step) * step
            plain = say_length(abs(size), self.unit, 0).replace("\u202f", "").replace("\xa0", "")
            return ("-" if size < 0 else "") + plain
        self.points.setText("; ".join(f"{say(x)}, {say(y)}" for x, y in points))
