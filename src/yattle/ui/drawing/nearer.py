"""Nearer and farther: how a drawing on the screen is looked at, by wheel, pinch, drag and keys."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QKeyEvent

from yattle.drawing.placing import Box
from yattle.ui.drawing.ink import View

_MOST = 60.0  # times nearer than the whole drawing
_STEP, _NOTCH = 1.25, 120.0  # times nearer by a key or a notch of the wheel, and the notch's angle
_ALIKE = 0.3  # of a drawing's size: what changes by less is the same drawing still
_BY = 48.0  # px that a key moves a drawing
_KEYS = {Qt.Key.Key_Left: (1, 0), Qt.Key.Key_Right: (-1, 0), Qt.Key.Key_Up: (0, 1), Qt.Key.Key_Down: (0, -1)}


class Nearer:
    """The view that a person has chosen of a drawing; ``None`` as long as it is seen whole."""

    def __init__(self) -> None:
        self.view: View | None = None
        self._box: Box = (0.0, 0.0, 0.0, 0.0)

    def keep(self, box: Box) -> None:
        """A drawing of this box, mm, is shown from now on: another one is seen whole again."""
        if self.view is None:
            return
        (wide, high), (was_wide, was_high) = _size(box), _size(self._box)
        away = max(abs(box[0] + box[2] - self._box[0] - self._box[2]) / 2 / was_wide,
                   abs(box[1] + box[3] - self._box[1] - self._box[3]) / 2 / was_high)
        if max(abs(wide / was_wide - 1.0), abs(high / was_high - 1.0), away) > _ALIKE:
            self.view = None

    def by(self, times: float, at: QPointF, now: View, whole: View, box: Box) -> None:
        """So many times nearer, what is seen at a place stays there; never farther than the whole drawing."""
        scale = min(now.scale * times, whole.scale * _MOST)
        self._box = box
        if scale <= whole.scale * 1.001:
            self.view = None
            return
        share = scale / now.scale
        self.view = View(scale, at.x() + (now.dx - at.x()) * share, at.y() + (now.dy - at.y()) * share)

    def move(self, dx: float, dy: float) -> None:
        """Move a drawing that is seen nearer, px."""
        if self.view is not None:
            self.view = View(self.view.scale, self.view.dx + dx, self.view.dy + dy)

    def key(self, event: QKeyEvent, middle: QPointF, now: View, whole: View, box: Box) -> bool:
        """Ctrl with + and −: nearer and farther; Ctrl+0: whole; Shift with an arrow moves. Whether it was one."""
        key, mods = Qt.Key(event.key()), event.modifiers()
        if mods & Qt.KeyboardModifier.ControlModifier:
            if key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal, Qt.Key.Key_Minus):
                self.by(1 / _STEP if key == Qt.Key.Key_Minus else _STEP, middle, now, whole, box)
                return True
            if key == Qt.Key.Key_0:
                self.view = None
                return True
        if self.view is not None and mods & Qt.KeyboardModifier.ShiftModifier and key in _KEYS:
            dx, dy = _KEYS[key]
            self.move(dx * _BY, dy * _BY)
            return True
        return False


def times_of(angle: float) -> float:
    """How many times nearer a turn of the wheel goes, of eighths of a degree."""
    return float(_STEP ** (angle / _NOTCH))


def _size(box: Box) -> tuple[float, float]:
    return max(box[2] - box[0], 1e-6), max(box[3] - box[1], 1e-6)
