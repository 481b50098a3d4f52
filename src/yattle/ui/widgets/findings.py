"""What the program found to look at: worst first, one line each; the one that is pressed opens, with its reason.

A model and one view, whatever their number: a job can have thousands.
"""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QAbstractListModel, QEvent, QModelIndex, QRect, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QFont, QFontMetrics, QKeyEvent, QPainter, QPen, QResizeEvent
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QListView,
    QSizePolicy,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QWidget,
)

from yattle.details import Finding
from yattle.measure import UNITS, Unit
from yattle.ui.theme import px, theme, type_of

Told = tuple[str, Finding]
_HIGHEST = 236  # px of the list on the slate; it scrolls beyond
_IN, _OVER, _GAP = 9, 4, 4  # px inside a card, at its sides and above, and between two
_SIGN = 16  # px for the sign before a line
_POINTS = 11.0
_BATCH = 60  # rows laid out in one turn
_WRAP = int(Qt.TextFlag.TextWordWrap)


class Findings(QAbstractListModel):
    """(run id or nothing, finding) in the order they are shown, said in the job's unit."""

    def __init__(self) -> None:
        super().__init__()
        self.found: list[Told] = []
        self.unit: Unit = UNITS["mm"]

    def show_found(self, found: list[Told], unit: Unit) -> bool:
        """Show these; whether anything is different."""
        if (found, unit) == (self.found, self.unit):
            return False
        self.beginResetModel()
        self.found, self.unit = found, unit
        self.endResetModel()
        return True

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self.found)

    def head(self, row: int) -> str:
        """What is said first, in bold."""
        finding = self.found[row][1]
        kind = "Cannot be made: " if finding.level == "stop" else "Look: "
        return kind + self.line(row)

    def line(self, row: int) -> str:
        """The same without its kind, which a sign before it says."""
        run_id, finding = self.found[row]
        return (f"{run_id} " if run_id else "") + finding.says(self.unit)

    def reason(self, row: int) -> str:
        """Why, and what would do."""
        return self.found[row][1].reason(self.unit)

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        if not index.isValid():
            return None
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.AccessibleTextRole):
            return self.head(index.row())
        if role in (Qt.ItemDataRole.ToolTipRole, Qt.ItemDataRole.AccessibleDescriptionRole):
            return self.reason(index.row()) or None
        return None


class _FindingCard(QStyledItemDelegate):
    """Paints a finding as a card, marker yellow to look at, oxide where something cannot be made."""

    def __init__(self, model: Findings, width: Callable[[], int]) -> None:
        super().__init__()
        self._model, self._width = model, width
        self.opened = -1  # the row that is shown whole
        self._heights: dict[tuple[str, str, int], tuple[int, int]] = {}

    def heights(self, row: int) -> tuple[int, int]:
        """How high head and reason are at the view's width, px; one line of what is not opened."""
        if row != self.opened:
            return QFontMetrics(_bold()).height(), 0
        key = self._model.head(row), self._model.reason(row), self._width() - 2 * _IN
        if key not in self._heights:
            if len(self._heights) > 10_000:
                self._heights.clear()
            room = QRect(0, 0, max(key[2], 40), 10_000)
            self._heights[key] = (QFontMetrics(_bold()).boundingRect(room, _WRAP, key[0]).height(),
                                  QFontMetrics(type_of(_POINTS)).boundingRect(room, _WRAP, key[1]).height()
                                  if key[1] else 0)
        return self._heights[key]

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return QSize(self._width(), sum(self.heights(index.row())) + 2 * _OVER + _GAP)

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        assert painter is not None
        t, stop = theme(), self._model.found[index.row()][1].level == "stop"
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        card = QRectF(option.rect).adjusted(1, 1, -1, -_GAP)
        here = bool(option.state & QStyle.StateFlag.State_HasFocus)
        over = bool(option.state & QStyle.StateFlag.State_MouseOver)
        line = t.copper if here or over else t.oxide if stop else t.marker_line
        painter.setPen(QPen(QColor(line), 2.0 if here else 1.0))
        painter.setBrush(QColor(t.oxide_soft if stop else t.marker_soft))
        painter.drawRoundedRect(card, 5, 5)
        painter.setPen(QColor(t.ink))
        head, reason = self.heights(index.row())
        room = option.rect.adjusted(_IN, _OVER, -_IN, 0)
        painter.setFont(_bold())
        if index.row() != self.opened:
            sign = "✕" if stop else "!"
            painter.drawText(QRect(room.left(), room.top(), _SIGN, head), 0, sign)
            line = QFontMetrics(_bold()).elidedText(self._model.line(index.row()), Qt.TextElideMode.ElideRight,
                                                    room.width() - _SIGN)
            painter.drawText(QRect(room.left() + _SIGN, room.top(), room.width() - _SIGN, head), 0, line)
            painter.restore()
            return
        painter.drawText(QRect(room.left(), room.top(), room.width(), head), _WRAP, self._model.head(index.row()))
        if reason:
            painter.setFont(type_of(_POINTS))
            painter.drawText(QRect(room.left(), room.top() + head, room.width(), reason), _WRAP,
                             self._model.reason(index.row()))
        painter.restore()


def _bold() -> QFont:
    return type_of(_POINTS, QFont.Weight.DemiBold)


class FindingsView(QListView):
    """The list on a slate: as high as it needs up to a limit. ``go`` is told the run and the finding that was pressed,
    or chosen with arrow keys and Return."""

    def __init__(self, name: str, go: Callable[[str, Finding], object]) -> None:
        super().__init__()
        self.found = Findings()
        self._go = go
        self.setObjectName("findings")
        self.setAccessibleName(name)
        self.setModel(self.found)
        self._card = _FindingCard(self.found, lambda: self._room())
        self.setItemDelegate(self._card)
        self.setSelectionMode(QAbstractItemView.SelectionMode.NoSelection)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setLayoutMode(QListView.LayoutMode.Batched)
        self.setBatchSize(_BATCH)
        self.setResizeMode(QListView.ResizeMode.Adjust)
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        self.clicked.connect(self._pressed)

    def _room(self) -> int:
        bar = self.verticalScrollBar()
        assert bar is not None
        return self.width() - 2 * self.frameWidth() - (bar.sizeHint().width() if self._is_long() else 0)

    def _is_long(self) -> bool:
        return len(self.found.found) > 8

    def show_found(self, found: list[Told], unit: Unit) -> None:
        """Show these, worst first as they come."""
        if self.found.show_found(found, unit):
            self._card.opened = 0 if len(found) == 1 else -1
            self._fit()

    def _fit(self) -> None:
        high = 0
        for row in range(len(self.found.found)):
            high += sum(self._card.heights(row)) + 2 * _OVER + _GAP
            if high >= px(_HIGHEST):
                break
        self.setFixedHeight(min(high + 2 * self.frameWidth() + 2, px(_HIGHEST)) if high else 0)
        self.scheduleDelayedItemsLayout()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        if event is not None and event.size().width() != event.oldSize().width():
            self._fit()

    def changeEvent(self, event: QEvent | None) -> None:
        super().changeEvent(event)
        if event is not None and event.type() == QEvent.Type.StyleChange:
            self._fit()

    def _pressed(self, index: QModelIndex) -> None:
        """Open it and go there; pressed again, an open one closes."""
        if index.isValid() and index.row() < len(self.found.found):
            told = self.found.found[index.row()]
            self._card.opened = -1 if index.row() == self._card.opened and len(self.found.found) > 1 else index.row()
            self._fit()
            self._go(*told)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self._pressed(self.currentIndex())
            return
        super().keyPressEvent(event)

    def says(self) -> list[str]:
        """What each finding says first, in order."""
        return [self.found.head(row) for row in range(self.found.rowCount())]

    def place_of(self, words: str) -> tuple[QWidget | None, QRect]:
        """The widget and the place on it of the first finding that says ``words``, brought into sight."""
        row = next(n for n, said in enumerate(self.says()) if words in said)
        self.executeDelayedItemsLayout()
        self.scrollTo(self.found.index(row))
        return self.viewport(), self.visualRect(self.found.index(row))
