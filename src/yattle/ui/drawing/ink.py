"""What a drawing is painted with: where millimetres lie on the screen, what belongs to which key, the ink."""

from __future__ import annotations

import math
from dataclasses import dataclass, field

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPolygonF

from yattle.drawing.placing import Box
from yattle.drawing.shapes import Point


@dataclass(frozen=True)
class View:
    """Millimetres to pixels: ``scale`` px per mm, ``dx`` and ``dy`` where the origin lies."""

    scale: float
    dx: float
    dy: float

    @staticmethod
    def fit(box: tuple[float, float, float, float], frame: QRectF, most: float = 1e9) -> View:
        """The largest scale at which ``box`` fits into ``frame``, centred."""
        width, height = max(box[2] - box[0], 1e-6), max(box[3] - box[1], 1e-6)
        scale = min(frame.width() / width, frame.height() / height, most)
        middle = frame.center()
        return View(scale, middle.x() - (box[0] + box[2]) / 2 * scale, middle.y() + (box[1] + box[3]) / 2 * scale)

    def at(self, point: Point) -> QPointF:
        return QPointF(self.dx + point[0] * self.scale, self.dy - point[1] * self.scale)


@dataclass(frozen=True)
class Hit:
    """A place on the screen that belongs to ``key``."""

    rect: QRectF
    key: str
    text: str
    outline: QPolygonF | None = None

    def contains(self, place: QPointF) -> bool:
        """Whether ``place`` is on it: within its outline, or its rectangle where it has none."""
        return self.rect.contains(place) and (
            self.outline is None or self.outline.containsPoint(place, Qt.FillRule.OddEvenFill))

    def away(self, place: QPointF) -> float:
        """How far ``place`` is from its rectangle, px; 0 within."""
        x = max(self.rect.left() - place.x(), place.x() - self.rect.right(), 0.0)
        y = max(self.rect.top() - place.y(), place.y() - self.rect.bottom(), 0.0)
        return math.hypot(x, y)


@dataclass
class Ink:
    """How to paint: the metal's colour, what is selected (a fold or leg, and a piece), text size. ``clear``: places
    that texts keep clear of, px; ``placed``: where the texts stood that were painted last."""

    metal: str = "#4a6b80"
    selected: str = ""
    points: float = 11.0
    texts: bool = True
    band: float = 0.0
    also: str = ""
    sparse: bool = False  # texts that would lie on each other are left out, the selected one never
    clear: tuple[Box, ...] = ()
    placed: list[Box] = field(default_factory=list, compare=False)
