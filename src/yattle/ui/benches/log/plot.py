"""Every measured fold: what the leaf was set to over what stayed, and the springback found."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from yattle.job.learn import Offer
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
        frame = QRectF(self.rect()).adjusted(58, 10, -120, -26)
        painter.setFont(type_of(10.5))
        if not self.points:
            painter.setPen(QColor(t.dim))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter,
                             "Fold a piece on the folder (Ctrl+G), or type what you measured:\n"
                             "the springback shows here.")
            painter.end()
            return
        values = [ratio for _, ratio in self.points] + ([self.offer.found, self.offer.now] if self.offer else [])
        low, high = min(values) - 0.004, max(values) + 0.004
        most = max(angle for angle, _ in self.points) * 1.08

        def at(angle: float, ratio: float) -> QPointF:
            return QPointF(frame.left() + frame.width() * angle / most,
                           frame.bottom() - frame.height() * (ratio - low) / (high - low))
        self._axes(painter, frame, low, high, most)
        if self.offer is not None:
            band = QColor(t.verdigris)
            band.setAlpha(40)
            top, bottom = at(0, min(self.offer.found + self.offer.spread, high)), at(
                most, max(self.offer.found - self.offer.spread, low))
            painter.fillRect(QRectF(top, bottom), band)
            for value, colour, name in ((self.offer.found, t.verdigris, f"found {self.offer.found:.4f}"),
                                        (self.offer.now, t.copper, f"in use {self.offer.now:.4f}")):
                painter.setPen(QPen(QColor(colour), 2, Qt.PenStyle.SolidLine if colour == t.verdigris
                                    else Qt.PenStyle.DashLine))
                painter.drawLine(at(0, value), at(most, value))
                painter.drawText(at(most, value) + QPointF(6, 4), name)
        painter.setPen(QPen(QColor(t.ink), 1.4))
        painter.setBrush(QColor(t.card))
        for angle, ratio in self.points:
            painter.drawEllipse(at(angle, ratio), 4, 4)
        painter.end()

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
