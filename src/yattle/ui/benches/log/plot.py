"""Every measured fold: what the leaf was set to over what stayed, and the springback found."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QWidget

from yattle.job.learn import Offer, found_says, now_says
from yattle.ui.theme import theme, type_of


class SpringPlot(QWidget):
    """Each measured fold's own springback over its angle; the value in use, the value found and its spread."""

    def __init__(self) -> None:
        super().__init__()
        self.points: list[tuple[float, float]] = []
        self.offer: Offer | None = None
        self.setMinimumHeight(150)
        self.setAccessibleName("springback of each measured fold")

    def show_folds(self, points: list[tuple[float, float]], found: Offer | None) -> None:
        self.points, self.offer = points, found
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, t = QPainter(self), theme()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        frame = QRectF(self.rect()).adjusted(58, 10, -150, -26)
        painter.setFont(type_of(10.5))
        if not self.points:
            painter.setPen(QColor(t.dim))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter,
                             "Fold a piece on the folder (Ctrl+G), or type what you measured:\n"
                             "the springback shows here.")
            painter.end()
            return
        most = max(angle for angle, _ in self.points) * 1.08
        first = min(angle for angle, _ in self.points) * 0.8
        values = [ratio for _, ratio in self.points]
        if self.offer:
            values += [self._ratio(angle, found) for angle in (first, most) for found in (True, False)]
        low, high = min(values) - 0.004, max(values) + 0.004

        def at(angle: float, ratio: float) -> QPointF:
            return QPointF(frame.left() + frame.width() * angle / most,
                           frame.bottom() - frame.height() * (ratio - low) / (high - low))
        self._axes(painter, frame, low, high, most)
        if self.offer is not None:
            angles = [first + (most - first) * n / 40 for n in range(41)]
            self._band(painter, [(at(a, min(self._ratio(a, True) + self.offer.spread, high)),
                                  at(a, max(self._ratio(a, True) - self.offer.spread, low))) for a in angles])
            for found, colour, name in ((True, t.verdigris, f"found {found_says(self.offer, short=True)}"),
                                        (False, t.copper, f"in use {now_says(self.offer)}")):
                painter.setPen(QPen(QColor(colour), 2, Qt.PenStyle.SolidLine if found else Qt.PenStyle.DashLine))
                painter.drawPolyline(QPolygonF([at(a, self._ratio(a, found)) for a in angles]))
                painter.drawText(at(most, self._ratio(most, found)) + QPointF(6, 4), name)
        painter.setPen(QPen(QColor(t.ink), 1.4))
        painter.setBrush(QColor(t.card))
        for angle, ratio in self.points:
            painter.drawEllipse(at(angle, ratio), 4, 4)
        painter.end()

    def _ratio(self, angle: float, found: bool) -> float:
        """The leaf over the fold at an angle, as found or as in use: with an offset it falls with the angle."""
        assert self.offer is not None
        ratio, offset = (self.offer.found, self.offer.offset) if found else (self.offer.now, self.offer.offset_now)
        return ratio + offset / max(angle, 1.0)

    @staticmethod
    def _band(painter: QPainter, sides: list[tuple[QPointF, QPointF]]) -> None:
        """What one fold scatters by, round the line that was found."""
        band = QColor(theme().verdigris)
        band.setAlpha(40)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(band)
        painter.drawPolygon(QPolygonF([top for top, _ in sides] + [bottom for _, bottom in reversed(sides)]))

    def _axes(self, painter: QPainter, frame: QRectF, low: float, high: float, most: float) -> None:
        painter.setPen(QPen(QColor(theme().line), 1))
        painter.drawLine(frame.bottomLeft(), frame.bottomRight())
        painter.drawLine(frame.bottomLeft(), frame.topLeft())
        painter.setPen(QColor(theme().dim))
        for share in (0.0, 0.5, 1.0):
            y = frame.bottom() - frame.height() * share
            painter.drawText(QPointF(frame.left() - 50, y + 4), f"{low + (high - low) * share:.3f}")
        step = 30 if most > 60 else 10
        for angle in range(step, int(most) + 1, step):
            painter.drawText(QPointF(frame.left() + frame.width() * angle / most - 8, frame.bottom() + 17), f"{angle}°")
