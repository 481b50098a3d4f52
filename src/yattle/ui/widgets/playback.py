"""Going through steps one by one: before, next, a slider, and by itself."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from yattle.ui.widgets.slide import slider
from yattle.ui.widgets.words import Words


class Playback(QWidget):
    """``what`` one step is called; ``moved`` is told where the slider stands; playing takes ``pace`` ms a step and
    begins anew at the end."""

    def __init__(self, what: str, moved: Callable[[int], object], pace: int) -> None:
        super().__init__()
        self.slider, self.said = slider(f"{what}s so far", moved, 0), Words()
        self.back, self.next, self.play = QPushButton(f"‹  {what}"), QPushButton(f"{what}  ›"), QPushButton("play")
        for button, name, by in ((self.back, f"{what} before", -1), (self.next, f"next {what}", 1)):
            button.setAccessibleName(name)
            button.clicked.connect(lambda _, by=by: self.step(by))
        self.play.setCheckable(True)
        self.play.setToolTip(f"go through it {what} by {what} (F2)")
        self.play.toggled.connect(self._play)
        self.timer = QTimer(self)
        self.timer.setInterval(pace)
        self.timer.timeout.connect(self._tick)
        bar = QHBoxLayout(self)
        bar.setContentsMargins(0, 0, 0, 0)
        for part in (self.back, self.next, self.play, self.slider, self.said):
            bar.addWidget(part, 1 if part in (self.slider, self.said) else 0)
        self.said.setWordWrap(True)

    def step(self, by: int) -> None:
        self.slider.setValue(self.slider.value() + by)

    def show_controls(self, some: bool) -> None:
        """Hide what moves where there is nothing to go through."""
        for control in (self.back, self.next, self.play, self.slider):
            control.setVisible(some)
        if not some:
            self.play.setChecked(False)

    def _play(self, on: bool) -> None:
        self.play.setText("stop" if on else "play")
        if not on:
            self.timer.stop()
            return
        if self.slider.value() == self.slider.maximum():
            self.slider.setValue(0)
        self.timer.start()

    def _tick(self) -> None:
        """The next step; it ends at the last one, or when nobody looks any more."""
        if not self.isVisible() or self.slider.value() >= self.slider.maximum():
            self.play.setChecked(False)
        else:
            self.step(1)
