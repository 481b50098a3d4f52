"""Texts with real fractions: ``3 3/4`` is set as a whole and a fraction, other figures stay plain."""

from __future__ import annotations

import re

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFont, QFontMetricsF, QPainter

_FRACTION = re.compile(r"(\d+/\d+)")


def _parts(text: str, font: QFont) -> list[tuple[str, QFont]]:
    parts = []
    for n, piece in enumerate(_FRACTION.split(text)):
        if piece:
            own = font
            if n % 2:
                own = QFont(font)
                own.setFeature(QFont.Tag("frac"), 1)
                own.setPointSizeF(font.pointSizeF() * 1.12)  # a fraction's figures are small: keep them legible
            parts.append((piece if n % 2 else piece.replace(" ", "\u2009") if len(piece) == 1 else piece, own))
    return parts


_WIDTHS: dict[tuple[str, str], float] = {}  # measured once: a drawing asks for the same words again and again
_MOST = 20_000


def width_of(text: str, font: QFont) -> float:
    """Pixels that ``text`` takes."""
    key = text, font.key()
    if key not in _WIDTHS:
        if len(_WIDTHS) >= _MOST:
            _WIDTHS.clear()
        _WIDTHS[key] = sum(QFontMetricsF(own).horizontalAdvance(piece) for piece, own in _parts(text, font))
    return _WIDTHS[key]


def draw_words(painter: QPainter, rect: QRectF, text: str, font: QFont,
               align: Qt.AlignmentFlag = Qt.AlignmentFlag.AlignHCenter) -> None:
    """``text`` in the middle of ``rect``'s height, its fractions as fractions; the painter's pen is used."""
    metrics = QFontMetricsF(font)
    room = rect.width() - width_of(text, font)
    x = rect.left() + (room / 2 if align == Qt.AlignmentFlag.AlignHCenter else
                       room if align == Qt.AlignmentFlag.AlignRight else 0)
    base = rect.center().y() + (metrics.ascent() - metrics.descent()) / 2
    if "/" not in text:  # no fraction: one go
        painter.setFont(font)
        painter.drawText(QPointF(x, base), text)
        return
    for piece, own in _parts(text, font):
        painter.setFont(own)
        painter.drawText(QPointF(x, base), piece)
        x += QFontMetricsF(own).horizontalAdvance(piece)
