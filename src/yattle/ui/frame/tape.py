"""The girth tape: the piece's blank laid out as a tape measure, raw edge A at zero, across every bench."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QFont, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from yattle.drawing import fold_letter
from yattle.measure import MM_PER_INCH, Closest, say_length, tape_mark
from yattle.section import Bend, Girth
from yattle.ui.drawing.words import draw_words, width_of
from yattle.ui.store import Store
from yattle.ui.theme import theme, type_of
from yattle.ui.widgets.words import plain

_LABEL = 132
_TAPE_INK = "#2a2410"


class GirthTape(QWidget):
    """Press a notch to select its fold; press the label, or R, to read from the other edge."""

    def __init__(self, store: Store) -> None:
        super().__init__()
        self.store, self.from_b, self.right_end = store, False, False
        self.setFixedHeight(96)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("girth tape")
        self.notches: list[tuple[QRectF, str]] = []
        self._taken: list[QRectF] = []  # where letters and numbers stand already
        store.job_changed.connect(self.update)
        store.selection_changed.connect(self.update)

    def sizeHint(self) -> QSize:
        return QSize(900, 96)

    def turn_round(self) -> None:
        """Read from the other raw edge; of a piece that tapers at its right end first."""
        tapers = self._ends is not None
        self.from_b ^= not tapers or self.right_end
        self.right_end = tapers and not self.right_end
        self.update()

    @property
    def _girth(self) -> Girth | None:
        selection = self.store.session.selection
        if selection.opening or not selection.run:  # an opening's pieces are folded more ways than one
            return None
        ends = self._ends
        if ends is not None:
            return ends[1 if self.right_end else 0]
        return self.store.session.derived.run(selection.run).detail.girth

    @property
    def _ends(self) -> tuple[Girth, Girth] | None:
        """The tapes at both ends of a piece that tapers; ``None`` of others."""
        selection = self.store.session.selection
        if selection.opening or not selection.run:
            return None
        pieces = self.store.session.derived.run(selection.run).pieces
        return pieces[selection.piece].girths if selection.piece < len(pieces) else None

    def distance(self, bend: Bend) -> float:
        """A fold's mark from the edge the tape is read from, mm."""
        girth = self._girth
        assert girth is not None
        return girth.girth - bend.mark if self.from_b else bend.mark

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        t = theme()
        painter.fillRect(self.rect(), QColor(t.line))
        painter.fillRect(0, 0, _LABEL, self.height(), QColor(t.marker))
        painter.fillRect(0, 0, self.width(), 2, QColor("#c9971a"))
        girth = self._girth
        self._label(painter, girth)
        self.notches = []
        if girth is not None:
            self._tape(painter, girth)
        elif self.store.session.selection.opening:
            self._sizes(painter)
        painter.end()

    def _sizes(self, painter: QPainter) -> None:
        """What is cut for a piece of an opening: its folds run more than one way, so no one tape has them."""
        selection, unit = self.store.session.selection, self.store.unit
        pieces = self.store.session.derived.opening(str(selection.opening)).pieces
        if selection.piece >= len(pieces):
            return
        pattern = pieces[selection.piece].pattern
        painter.setPen(QColor(theme().ink))
        painter.setFont(type_of(15, QFont.Weight.DemiBold))
        size = f"{say_length(pattern.length, unit)} × {say_length(pattern.girth, unit, mark=True)}"
        painter.drawText(QRectF(_LABEL + 24, 18, self.width() - _LABEL - 40, 28), Qt.AlignmentFlag.AlignLeft,
                         f"{pattern.id}  {pattern.name}: cut {size}")
        painter.setFont(type_of(11))
        folds = sum(fold.kind != "roll" for fold in pattern.folds)
        rolled = ", rolled" if folds < len(pattern.folds) else ""
        painter.drawText(QRectF(_LABEL + 24, 50, self.width() - _LABEL - 40, 24), Qt.AlignmentFlag.AlignLeft,
                         f"{folds or 'no'} fold{'' if folds == 1 else 's'}{rolled}" + (
                             ", more ways than one: mark them from the pattern" if folds > 1 else ""))

    def _label(self, painter: QPainter, girth: Girth | None) -> None:
        piece = self.store.session.selection
        painter.setPen(QColor(_TAPE_INK))
        painter.setFont(type_of(11.5, QFont.Weight.Bold))
        painter.drawText(QRectF(14, 10, _LABEL - 18, 22), Qt.AlignmentFlag.AlignLeft, "girth tape")
        painter.setFont(type_of(10.5))
        said = "no piece yet" if girth is None else f"{piece.run} piece {piece.piece + 1}"
        said = "see its pattern" if piece.opening else said
        painter.drawText(QRectF(14, 34, _LABEL - 18, 20), Qt.AlignmentFlag.AlignLeft, said)
        if girth is not None:
            painter.setFont(type_of(10.5, QFont.Weight.DemiBold))
            painter.drawText(QRectF(14, 60, _LABEL - 18, 20), Qt.AlignmentFlag.AlignLeft,
                             f"{'read' if self._ends is None else 'right end' if self.right_end else 'left end'} "
                             f"from {'B' if self.from_b else 'A'}  (R)")

    def _place(self, mm: float, girth: float) -> float:
        return _LABEL + 40 + mm * (self.width() - _LABEL - 40 - 56) / girth

    def _tape(self, painter: QPainter, girth: Girth) -> None:
        t, end = theme(), self._place(girth.girth, girth.girth)
        painter.fillRect(QRectF(_LABEL, 2, end - _LABEL, self.height()), QColor(t.marker_soft))
        ink = QColor(t.ink)
        painter.setFont(type_of(13, QFont.Weight.Bold))
        painter.setPen(QColor(t.dim))
        edges = ("B", "A") if self.from_b else ("A", "B")
        painter.drawText(QRectF(_LABEL + 8, 38, 22, 24), Qt.AlignmentFlag.AlignCenter, edges[0])
        painter.drawText(QRectF(end + 6, 38, 22, 24), Qt.AlignmentFlag.AlignCenter, edges[1])
        self._ticks(painter, girth, ink)
        painter.setPen(QPen(ink, 1.2))
        painter.drawLine(QPointF(end, 2), QPointF(end, self.height()))
        made = sorted((bend for bend in girth.bends if bend.turn), key=self.distance)
        self._taken = [QRectF(self._place(self.distance(bend), girth.girth) - 1, 24, 2, self.height()) for bend in made]
        for bend in made:
            self._notch(painter, girth, bend)

    def _ticks(self, painter: QPainter, girth: Girth, ink: QColor) -> None:
        unit = self.store.unit
        step = MM_PER_INCH if unit.parts else 10.0
        numbered = 1 if unit.parts else 2
        fine = 8 if unit.parts else 10
        painter.setFont(type_of(9.5))
        count = int(girth.girth / step * fine) + 1
        for n in range(count):
            mm = n * step / fine
            x = self._place(mm, girth.girth)
            whole = n % fine == 0
            tall = 20 if whole else 13 if n % (fine // 2) == 0 else 7
            painter.setPen(QPen(ink, 1.0 if whole else 0.7))
            painter.drawLine(QPointF(x, self.height()), QPointF(x, self.height() - tall))
            if whole and (n // fine) % numbered == 0 and not self._near_mark(mm, girth):
                said = str(n // fine) if unit.parts else str(int(mm))
                painter.drawText(QRectF(x - 22, self.height() - 37, 44, 16), Qt.AlignmentFlag.AlignCenter, said)

    def _near_mark(self, mm: float, girth: Girth) -> bool:
        room = 26 / max((self.width() - _LABEL - 96) / girth.girth, 1e-9)
        return any(abs(self.distance(bend) - mm) < room for bend in girth.bends)

    def _notch(self, painter: QPainter, girth: Girth, bend: Bend) -> None:
        t, unit = theme(), self.store.unit
        chosen = self.store.session.selection.fold == bend.id
        colour = QColor(t.copper if chosen else t.ink)
        x = self._place(self.distance(bend), girth.girth)
        painter.setPen(QPen(colour, 2.4 if chosen else 1.6))
        painter.drawLine(QPointF(x, 24), QPointF(x, self.height()))
        font = type_of(11, QFont.Weight.DemiBold)
        said = fold_letter(bend.id, bend.turn, girth.profile, unit)
        width = width_of(said, font) + 18
        before = max((pill.right() + 2 for pill in self._taken if pill.top() < 20), default=0.0)
        pill = QRectF(max(x - width / 2, before), 6, width, 22)  # of folds close together beside the one before
        self._taken.append(pill)
        painter.setPen(QPen(colour, 1.2))
        painter.setBrush(QColor(t.copper if chosen else t.card))
        painter.drawRoundedRect(pill, 11, 11)
        painter.setPen(QColor(t.on_copper if chosen else t.ink))
        draw_words(painter, pill, said, font)
        self._number(painter, x, bend, colour)
        self.notches.append((pill.adjusted(-1, -6, 1, 60), bend.id))

    def _number(self, painter: QPainter, x: float, bend: Bend, colour: QColor) -> None:
        """The mark, rounded from the edge to what a tape shows, on the side toward the edge read from; where another
        stands there already beyond its line, or a line lower."""
        unit = self.store.unit
        rounded, _ = tape_mark(self.distance(bend), unit)
        font = type_of(13, QFont.Weight.Bold)
        said = say_length(rounded, unit)
        width = width_of(said, font) + 4
        places = [QRectF(left, top, width, 21) for top in (32.0, 51.0) for left in (x - width - 5, x + 5)]
        free = next((one for one in places if not any(one.intersects(other) for other in self._taken)), places[-1])
        self._taken.append(free)
        painter.setPen(colour)
        draw_words(painter, free, said, font, Qt.AlignmentFlag.AlignRight if free.left() < x else
                   Qt.AlignmentFlag.AlignLeft)

    def rounding_says(self) -> str:
        """What the rounding to the tape took, the largest of the marks."""
        girth = self._girth
        if girth is None or not girth.bends:
            return ""
        worst = max((tape_mark(self.distance(bend), self.store.unit)[1] for bend in girth.bends), key=abs)
        return f"marks rounded from the edge to {say_length(self.store.unit.tape_step, self.store.unit, mark=True)}, " \
               f"at most {Closest(abs(worst)).say(self.store.unit)} off"

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if event.position().x() < _LABEL:
            self.turn_round()
            return
        for rect, fold in self.notches:
            if rect.contains(event.position()):
                self.store.session.select(fold=fold)

    def event(self, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.ToolTip:
            self.setToolTip(plain(self.rounding_says()))
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        girth = self._girth
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if event.key() == Qt.Key.Key_R:
            self.turn_round()
        elif step is not None and girth is not None:
            self.step_fold(-step if self.from_b else step)
        else:
            super().keyPressEvent(event)

    def step_fold(self, step: int) -> None:
        """Select the next fold along the blank."""
        girth = self._girth
        ids = [bend.id for bend in girth.bends if bend.turn] if girth else []
        if ids:
            now = self.store.session.selection.fold
            place = ids.index(now) + step if now in ids else (0 if step > 0 else -1)
            self.store.session.select(fold=ids[place % len(ids)])
