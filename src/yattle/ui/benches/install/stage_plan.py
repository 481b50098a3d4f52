"""The roof in plan as it is fitted, stage by stage."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF

from yattle.drawing import Drawing, Tag
from yattle.roof.plane import Point, Ring
from yattle.ui.drawing.canvas import Canvas
from yattle.ui.drawing.paint import paint
from yattle.ui.theme import theme

_RING = 5.0  # px: of a joint that stands by sealant alone
_CROSS = 5.0  # px: of a place that does not fit


class StagePlan(Canvas):
    """The roof in plan: what is on already in verdigris, this stage in copper, rings where sealant alone holds, crosses
    where something does not fit, a large one where it is lit."""

    def __init__(self) -> None:
        super().__init__("roof in plan, by stages", (64, 34, 64, 40))
        self.done: list[Ring] = []
        self.now: list[Ring] = []
        self.lines: tuple[list[tuple[QPointF, QPointF]], list[tuple[QPointF, QPointF]]] = ([], [])
        self.sealed: list[tuple[float, float]] = []  # joints that stand by sealant alone
        self.unfit: list[Point] = []
        self.lit: Point | None = None

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        painter, t = QPainter(self), theme()
        tags = Drawing(tuple(shape for shape in self.drawing.shapes if isinstance(shape, Tag)))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for faces, lines, colour, wide in ((self.done, self.lines[0], t.verdigris, 3.0),
                                           (self.now, self.lines[1], t.copper, 5.0)):
            soft = QColor(colour)
            soft.setAlpha(46)
            painter.setBrush(soft)
            painter.setPen(Qt.PenStyle.NoPen)
            for face in faces:
                painter.drawPolygon(QPolygonF([self._view.at(p) for p in face]))
            painter.setPen(QPen(QColor(colour), wide, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
            for a, b in lines:
                painter.drawLine(self._view.at((a.x(), a.y())), self._view.at((b.x(), b.y())))
        painter.setBrush(QColor(t.card))
        painter.setPen(QPen(QColor(t.oxide), 2.0))
        for at in self.sealed:
            painter.drawEllipse(self._view.at(at), _RING, _RING)
        paint(painter, tags, self._view, self.ink)  # letters stay on top
        drawn: list[QPointF] = []
        for place in (self._view.at(one) for one in self.unfit):
            if all((place - other).manhattanLength() > 3 * _CROSS for other in drawn):  # a row of them is no band
                drawn.append(place)
                self._cross(painter, place, _CROSS, t.card, t.oxide)
        if self.lit is not None:
            self._cross(painter, self._view.at(self.lit), 2 * _CROSS, t.card, t.oxide)
        painter.end()

    @staticmethod
    def _cross(painter: QPainter, at: QPointF, size: float, under: str, colour: str) -> None:
        for pen in (QPen(QColor(under), 5.5), QPen(QColor(colour), 2.5)):
            pen.setCapStyle(Qt.PenCapStyle.RoundCap)
            painter.setPen(pen)
            for hand in (1.0, -1.0):
                painter.drawLine(at + QPointF(-size, -size * hand), at + QPointF(size, size * hand))
