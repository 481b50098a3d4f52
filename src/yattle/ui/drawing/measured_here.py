"""Where a measure is taken: the drawing that shows it, as a picture, with the measure in copper."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPixmap
from PyQt6.QtWidgets import QWidget

from yattle.drawing.shapes import MEASURED, Drawing
from yattle.ui.drawing.canvas import Canvas
from yattle.ui.drawing.paint import Ink, View, paint
from yattle.ui.theme import px, theme

_WIDE, _HIGH, _ROOM = 560, 250, 56  # of the picture, and round the drawing in it, px


def picture_of(front: QWidget, keys: Iterable[str], made: Drawing | None = None) -> QPixmap | None:
    """The drawing in front that shows one of these parts, or the one ``made`` to show what is measured; ``None`` where
    none does."""
    if made is not None:
        return _painted(front, Ink(), made, [MEASURED])
    wanted = [key for key in keys if key]
    for canvas in front.findChildren(Canvas):
        shown = {shape.key for shape in canvas.drawing.shapes if getattr(shape, "key", "")}
        found = [key for key in wanted if key in shown]
        if found and canvas.isVisible():
            return _painted(canvas, canvas.ink, canvas.drawing, found)
    return None


def _painted(front: QWidget, ink: Ink, drawing: Drawing, keys: list[str]) -> QPixmap:
    ratio = front.devicePixelRatioF()
    picture = QPixmap(round(px(_WIDE) * ratio), round(px(_HIGH) * ratio))
    picture.setDevicePixelRatio(ratio)
    picture.fill(QColor(theme().card))
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    room = px(_ROOM)
    frame = QRectF(0, 0, px(_WIDE), px(_HIGH)).adjusted(room, room * 0.7, -room, -room * 0.7)
    paint(painter, drawing, View.fit(drawing.box, frame), replace(
        ink, selected=keys[0], also=keys[-1], clear=(), placed=[]))
    painter.end()
    return picture
