"""The fold order as a strip of small pictures, and the folds still to be proposed when practising."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QGridLayout, QPushButton, QWidget

from yattle.brake.state import HANDS
from yattle.brake.trial import TrialStep
from yattle.drawing import Drawing
from yattle.ui.drawing.paint import Ink, View, paint
from yattle.ui.drawing.parts import DrawnParts, PartSaid
from yattle.ui.theme import theme, type_of


class StepStrip(QWidget):
    """One small picture a stroke, between them what the hands do.

    Press one to go there; drag it, or Shift with an arrow, to try it earlier or later.
    """

    chosen = pyqtSignal(int)
    moved = pyqtSignal(int, int)

    def __init__(self) -> None:
        super().__init__()
        self.pictures: list[tuple[TrialStep, Drawing, str]] = []
        self.here, self.metal, self._grip = 0, "#4a6b80", -1
        self.setMinimumHeight(158)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("fold order, step by step")
        self.parts = DrawnParts(self, lambda key: self.chosen.emit(int(key)))

    def sizeHint(self) -> QSize:
        return QSize(500, 158)

    def place(self, n: int) -> QRectF:
        """Where picture ``n`` stands."""
        count = max(len(self.pictures), 1)
        width = min(190.0, self.width() / count)
        return QRectF(n * width, 0, width, self.height()).adjusted(3, 2, -3, -2)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for n, (tried, drawing, mark) in enumerate(self.pictures):
            self._picture(painter, self.place(n), tried, drawing, mark, n == self.here)
        painter.end()
        self.parts.show(PartSaid(str(n), f"{tried.step.n} {HANDS[tried.step.handling]}, {mark}", self.place(n).toRect(),
                                 n == self.here) for n, (tried, _, mark) in enumerate(self.pictures))

    def _picture(self, painter: QPainter, rect: QRectF, tried: TrialStep, drawing: Drawing, mark: str,
                 here: bool) -> None:
        t, step = theme(), tried.step
        edge, ground = (t.copper, t.copper_soft) if here else (t.line, t.field)
        if tried.limit is not None:
            edge, ground = t.oxide, t.oxide_soft
        painter.setPen(QPen(QColor(edge), 2 if here else 1))
        painter.setBrush(QColor(ground))
        painter.drawRoundedRect(rect, 6, 6)
        painter.setPen(QColor(t.ink))
        painter.setFont(type_of(10.5, QFont.Weight.DemiBold))
        painter.drawText(rect.adjusted(10, 6, -8, 0), Qt.AlignmentFlag.AlignTop, f"{step.n}  {HANDS[step.handling]}")
        _hands(painter, QPointF(rect.right() - 20, rect.top() + 16), step.handling)
        inside = rect.adjusted(12, 30, -12, -34)
        painter.save()
        painter.setClipRect(inside.adjusted(-6, -4, 6, 4))
        view = View.fit(drawing.box, inside)
        paint(painter, drawing, view, Ink(self.metal, texts=False, band=2.6))
        painter.restore()
        painter.setPen(QColor(t.ink))
        painter.setFont(type_of(10.5))
        painter.drawText(rect.adjusted(10, 0, -6, -8), Qt.AlignmentFlag.AlignBottom, mark)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self._grip = self._at(event.position())
        if self._grip >= 0:
            self.chosen.emit(self._grip)

    def _at(self, place: QPointF) -> int:
        return next((n for n in range(len(self.pictures)) if self.place(n).contains(place)), -1)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        target = self._at(event.position())
        if self._grip >= 0 and target >= 0 and target != self._grip:
            self.moved.emit(self._grip, target)
        self._grip = -1

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if step is None or not self.pictures:
            super().keyPressEvent(event)
            return
        target = max(0, min(len(self.pictures) - 1, self.here + step))
        if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self.moved.emit(self.here, target)
        else:
            self.chosen.emit(target)


def _hands(painter: QPainter, at: QPointF, handling: str) -> None:
    """What the hands do, drawn: an arc over for a roll, a ring round for a spin."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(QColor(theme().ink), 1.6))
    if "roll" in handling:
        painter.drawArc(QRectF(at.x() - 9, at.y() - 8, 18, 18), 20 * 16, 140 * 16)
        painter.drawLine(at + QPointF(8.5, -2), at + QPointF(9, -8))
        painter.drawLine(at + QPointF(8.5, -2), at + QPointF(3, -3))
    if "spin" in handling:
        painter.drawEllipse(QRectF(at.x() - 9, at.y() - 3, 18, 9))
        painter.drawLine(at + QPointF(9, 1), at + QPointF(5, -3))


_ABREAST = 4  # folds offered beside each other


class Offers(QWidget):
    """Practising: a button for every fold still to make, and one to take the last back."""

    chosen = pyqtSignal(str, str)
    taken_back = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self._row = QGridLayout(self)
        self._row.setContentsMargins(0, 0, 0, 0)
        self._row.setColumnStretch(_ABREAST, 1)
        self.hide()

    def show_strokes(self, strokes: list[tuple[str, str, str]], any_taken: bool) -> None:
        """``strokes``: fold, action, letter of each still to make."""
        while self._row.count():
            item = self._row.takeAt(0)
            old = item.widget() if item else None
            if old is not None:
                old.hide()
                old.deleteLater()
        for n, (fold, action, letter) in enumerate(strokes):
            button = QPushButton(f"flatten {letter}" if action == "flatten" else letter)
            button.clicked.connect(lambda _, fold=fold, action=action: self.chosen.emit(fold, action))
            self._row.addWidget(button, *divmod(n, _ABREAST))
        back = QPushButton("take back")
        back.setEnabled(any_taken)
        back.clicked.connect(lambda _: self.taken_back.emit())
        self._row.addWidget(back, 0, _ABREAST + 1)
