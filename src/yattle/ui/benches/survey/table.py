"""The table of runs: every edge of the roof and every eave of its own, typed in place."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QAbstractTableModel, QEvent, QModelIndex, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QContextMenuEvent, QFocusEvent, QKeyEvent, QKeySequence
from PyQt6.QtWidgets import (
    QAbstractItemDelegate,
    QAbstractItemView,
    QHeaderView,
    QLineEdit,
    QMenu,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableView,
    QWidget,
)

from yattle.derive import DerivedRun
from yattle.session import Session
from yattle.ui.benches.survey.columns import COLUMNS
from yattle.ui.benches.survey.model import SurveyModel
from yattle.ui.drawing.menus import offer
from yattle.ui.typing import Bound
from yattle.ui.widgets.clipboard import copy_table, pasted_column
from yattle.ui.widgets.words import plain

_RIGHT = ("pitch", "length", "taped", "slope", "fold")


class RunTable(QAbstractTableModel):
    """The job's runs; what is typed goes to the bench, which says what is wrong with it."""

    def __init__(self, survey: SurveyModel, put: Callable[[str, str, str], bool], parent: QWidget) -> None:
        super().__init__(parent)
        self.survey, self._put = survey, put
        self._rows = 0

    def tell_all(self) -> None:
        """Everything may have changed; an open editor stays open as long as no row comes or goes."""
        rows = self.rowCount()
        if rows != self._rows:
            self._rows = rows
            self.layoutChanged.emit()
        elif rows:
            self.dataChanged.emit(self.index(0, 0), self.index(rows - 1, len(COLUMNS) - 1))

    @property
    def _runs(self) -> tuple[DerivedRun, ...]:
        return self.survey.store.session.derived.own_runs

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        return len(self._runs)

    def columnCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        return len(COLUMNS)

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> str | int | None:
        column = COLUMNS[index.column()]
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.EditRole):
            return column.show(self.survey, self._runs[index.row()])
        if role == Qt.ItemDataRole.TextAlignmentRole and column.title in _RIGHT:
            return int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        return None

    def headerData(self, section: int, orientation: Qt.Orientation,
                   role: int = Qt.ItemDataRole.DisplayRole) -> str | None:
        if role == Qt.ItemDataRole.DisplayRole and orientation == Qt.Orientation.Horizontal:
            return COLUMNS[section].title
        return None

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        flags = super().flags(index)
        return flags | Qt.ItemFlag.ItemIsEditable if COLUMNS[index.column()].field else flags

    def setData(self, index: QModelIndex, value: object, role: int = Qt.ItemDataRole.EditRole) -> bool:
        return self._put(self._runs[index.row()].run.id, COLUMNS[index.column()].field, str(value))


class _Cell(QStyledItemDelegate):
    """Types into a cell; a wrong text stays in it until it is right or Escape is pressed."""

    def __init__(self, take: Callable[[], str | None], begun: Callable[[QLineEdit, QModelIndex], None]) -> None:
        super().__init__()
        self._take, self._begun = take, begun

    def createEditor(self, parent: QWidget | None, option: QStyleOptionViewItem, index: QModelIndex) -> QWidget | None:
        editor = QLineEdit(parent)
        self._begun(editor, index)
        return editor

    def eventFilter(self, editor: QObject | None, event: QEvent | None) -> bool:
        assert event is not None
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress and event.key() in (
                Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Tab, Qt.Key.Key_Backtab):
            self._take()
            return True
        if isinstance(event, QFocusEvent) and event.type() == QEvent.Type.FocusOut:
            if event.reason() not in (Qt.FocusReason.ActiveWindowFocusReason, Qt.FocusReason.PopupFocusReason):
                self._take()
            return False
        return super().eventFilter(editor, event)


class TableTyping:
    """What is being typed into the table (see yattle.ui.typing): a cell of the run it was begun for. ``put`` takes
    run, field, text and whether a stand-in for an instrument said it; it answers with what is wrong."""

    def __init__(self, table: QTableView, session: Session, put: Callable[[str, str, str, bool], str | None]) -> None:
        self._table, self._session, self._put = table, session, put
        self._editor: QLineEdit | None = None
        self._run, self._field, self._refused = "", "", False
        self._cell = _Cell(self.take, self._begun)
        table.setItemDelegate(self._cell)

    def _begun(self, editor: QLineEdit, index: QModelIndex) -> None:
        self._editor, self._refused = editor, False
        self._run = self._session.derived.own_runs[index.row()].run.id
        self._field = COLUMNS[index.column()].field
        editor.setAccessibleName(f"{self._run} {self._field}")
        editor.destroyed.connect(lambda: self._ended(editor))

    def _ended(self, editor: QLineEdit) -> None:
        if self._editor is editor:
            self._editor = None

    def typed(self) -> str:
        editor = self._editor
        return f"{self._run} {self._field}" if editor is not None and (editor.isModified() or self._refused) else ""

    def take(self) -> str | None:
        editor = self._editor
        if editor is None:
            return None
        wrong = None
        if editor.isModified() or self._refused:
            wrong = self._put(self._run, self._field, editor.text(), False)
        self._refused = wrong is not None
        if wrong is None:
            self._editor = None
            self._cell.closeEditor.emit(editor, QAbstractItemDelegate.EndEditHint.NoHint)
        else:
            editor.setToolTip(plain(wrong))
            editor.setProperty("wrong", "true")
            style = editor.style()
            assert style is not None
            style.polish(editor)
        return wrong

    def show_it(self) -> None:
        if self._editor is not None:
            self._editor.setFocus()

    def bound(self, widget: QWidget) -> Bound | None:
        run, field = self._run, self._field
        if widget is not self._editor or self._editor is None:
            return None

        def put(text: str, simulated: bool) -> str | None:
            if simulated and field != "taped":
                return f"found {text} of a stand-in, which is no measure, expected it in what was taped"
            if self._editor is not None and (self._run, self._field) == (run, field):
                self._editor.setModified(False)  # the reading takes its place
                self._refused = False
                self.take()
            return self._put(run, field, text, simulated)
        return Bound(f"{run} {field}", put)


class RunView(QTableView):
    """The table of runs: Ctrl+C copies it, Ctrl+V lets a column of measures in from the cell in hand down."""

    pasted = pyqtSignal(int, int, list)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.matches(QKeySequence.StandardKey.Copy):
            copy_table(self)
            return
        if event is not None and event.matches(QKeySequence.StandardKey.Paste):
            self.paste()
            return
        super().keyPressEvent(event)

    def paste(self) -> None:
        """``pasted(row, column, texts)``: what is on the clipboard, line by line."""
        here = self.currentIndex()
        if here.isValid() and (texts := pasted_column()):
            self.pasted.emit(here.row(), here.column(), texts)

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        assert event is not None
        menu = QMenu(self)
        offer(menu, "Copy the table\tCtrl+C", lambda: copy_table(self))
        offer(menu, "Paste measures down from here\tCtrl+V", self.paste)
        menu.exec(event.globalPos())


def run_table(model: RunTable) -> RunView:
    """The table's view: rows are chosen whole, cells typed into at a press or a key."""
    table = RunView()
    table.setAccessibleName("table of runs")
    table.setModel(model)
    table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
    table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
    trigger = QAbstractItemView.EditTrigger
    table.setEditTriggers(trigger.SelectedClicked | trigger.AnyKeyPressed | trigger.EditKeyPressed)
    table.setShowGrid(False)
    table.setTabKeyNavigation(False)
    side, head = table.verticalHeader(), table.horizontalHeader()
    assert side is not None and head is not None
    side.hide()
    side.setDefaultSectionSize(30)
    for n, column in enumerate(COLUMNS):
        if column.width:
            table.setColumnWidth(n, column.width)
        else:
            head.setSectionResizeMode(n, QHeaderView.ResizeMode.Stretch)
    head.setMinimumSectionSize(40)
    head.setHighlightSections(False)
    head.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft)
    return table
