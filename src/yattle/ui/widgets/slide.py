"""A slider tall enough for a gloved finger."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QSlider


def slider(name: str, moved: Callable[[int], object], most: int = 100) -> QSlider:
    """A level slider from 0 to ``most``, standing at ``most``; ``moved`` is told its value."""
    made = QSlider(Qt.Orientation.Horizontal)
    made.setAccessibleName(name)
    made.setRange(0, most)
    made.setValue(most)
    made.setPageStep(10)
    made.setMinimumHeight(28)
    made.valueChanged.connect(moved)
    return made
