"""What is cut open: the layers of a roof's faces with their thickness, and the sheets on them."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence

import numpy as np
from PyQt6.QtCore import QPointF, QRect, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QPainter, QPen, QPolygonF

from yattle.built.cut_open import CutLayer
from yattle.built.shown import ShownLayer
from yattle.ui.theme import theme

_SHEET = 1.8  # px: a sheet at the least
_TONES = {"deck": "#c4aa84", "old roof": "#9a8f86", "supports": "#d8c49c", "underlay": "#4b5357", "core": "#e8dcae"}
_HATCHES = {"deck": Qt.BrushStyle.BDiagPattern, "supports": Qt.BrushStyle.FDiagPattern,
            "core": Qt.BrushStyle.DiagCrossPattern}
At = Callable[[np.ndarray], np.ndarray]


def paint_layers(painter: QPainter, layers: Iterable[CutLayer], at: At) -> None:
    """Each layer as thick as it is, hatched; ``at``: where places (n, 3), mm, come on the screen."""
    for one in layers:
        ring = QPolygonF([QPointF(x, y) for x, y in at(one.ring).tolist()])
        tone = _tone(one.layer)
        painter.setPen(QPen(tone.darker(150), 0.8))
        for brush in (QBrush(tone), QBrush(tone.darker(125), _HATCHES.get(one.layer.name, Qt.BrushStyle.NoBrush))):
            painter.setBrush(brush)
            painter.drawPolygon(ring)


def _tone(layer: ShownLayer) -> QColor:
    return QColor(_TONES.get(layer.name, _TONES["supports"]))


def paint_key(painter: QPainter, frame: QRect, layers: Sequence[CutLayer], sheet: float, at: At) -> None:
    """What the face nearest to the middle is made of where it is cut, from above, with its thicknesses, mm."""
    deck = _nearest(frame, layers, at)
    rows = [(f"{one.layer.name} {one.layer.high - one.layer.low:g}", _tone(one.layer))
            for one in sorted(layers, key=lambda one: -one.layer.high) if one.deck == deck]
    rows = [(f"sheet {sheet:g}", QColor(theme().ink)), *dict(rows).items()]
    left, line = 12.0, painter.fontMetrics().height() + 4.0
    top = frame.height() - 10.0 - line * len(rows)
    for n, (says, tone) in enumerate(rows):
        painter.fillRect(QRectF(left, top + n * line + 3.0, 16.0, line - 6.0), tone)
        painter.setPen(QColor(theme().ink))
        painter.drawText(QPointF(left + 24.0, top + (n + 1) * line - 6.0), says)


def _nearest(frame: QRect, layers: Sequence[CutLayer], at: At) -> str:
    """The deck whose cut comes nearest to the middle of the screen."""
    middle = np.array([frame.center().x(), frame.center().y()])
    shares = np.linspace(0.0, 1.0, 51)
    off = dict[str, float]()
    for one in layers:
        start, end = at(one.ring[:2])
        off.setdefault(one.deck, float(np.linalg.norm(start + np.outer(shares, end - start) - middle, axis=1).min()))
    return min(off, key=lambda deck: off[deck], default="")


def paint_sheets(painter: QPainter, cuts: Iterable[tuple[np.ndarray, np.ndarray]], thick: float, at: At) -> None:
    """Sheets where they are cut, as ``thick`` as they are, mm, or as can be seen."""
    unit = at(np.array([[0.0, 0.0, 0.0], [0.0, 0.0, 1.0]]))
    pen = QPen(QColor(theme().ink), max(_SHEET, thick * float(np.linalg.norm(unit[1] - unit[0]))))
    pen.setCapStyle(Qt.PenCapStyle.FlatCap)
    painter.setPen(pen)
    for line in cuts:
        p, q = at(np.vstack(line))
        painter.drawLine(QPointF(*p), QPointF(*q))
