"""The slate: the numbers of what is selected, typed in place, and under them what to look at."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QScrollArea, QVBoxLayout, QWidget

from yattle.details import Finding
from yattle.ui.shown import Shown
from yattle.ui.store import Store
from yattle.ui.widgets.findings import FindingsView
from yattle.ui.widgets.rows import ChoiceRow, NumberRow, ReadRow, Row, SaidRow
from yattle.ui.widgets.words import Words

__all__ = ["Finding", "Shown", "Slate"]


class Slate(QScrollArea):
    """Rows from top to bottom; :meth:`refresh` asks each for what it shows now."""

    def __init__(self, store: Store, name: str) -> None:
        super().__init__()
        self.store = store
        self.setAccessibleName(f"{name} slate")
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        body = QWidget()
        self._column = QVBoxLayout(body)
        self._column.setContentsMargins(14, 6, 12, 8)
        self._column.setSpacing(3)
        self._column.addStretch(1)
        self.setWidget(body)
        self.rows: list[Row] = []
        self.lists: list[FindingsView] = []
        self._shown: list[tuple[QWidget, Callable[[], bool]]] = []
        self._when: Callable[[], bool] | None = None
        self._mark: QWidget | None = None
        self._refreshers: list[tuple[QWidget, Callable[[], None]]] = []

    def _add(self, widget: QWidget) -> None:
        at = self._column.count() - 1 if self._mark is None else self._column.indexOf(self._mark)
        self._column.insertWidget(at, widget)
        if self._when is not None:
            self._shown.append((widget, self._when))

    def mark(self) -> QWidget:
        """A place where rows can be added later (see :meth:`before`)."""
        mark = QWidget()
        mark.setFixedHeight(0)
        self._add(mark)
        return mark

    @contextmanager
    def before(self, mark: QWidget) -> Iterator[None]:
        """What is added meanwhile stands before a mark."""
        self._mark = mark
        yield
        self._mark = None

    @contextmanager
    def when(self, holds: Callable[[], bool]) -> Iterator[None]:
        """What is added meanwhile is shown only while ``holds`` does, and what stands around it holds too."""
        outer = self._when
        self._when = holds if outer is None else lambda: outer() and holds()
        yield
        self._when = outer

    def group(self, title: str) -> None:
        label = Words(title)
        label.setObjectName("group")
        self._add(label)

    def _row(self, row: Row) -> Row:
        self.rows.append(row)
        if isinstance(row, NumberRow):
            row.session = self.store.session
            self.store.typing.add(row)
        self._refreshers.append((row, row.refresh))
        self._add(row)
        return row

    def number(self, name: str, get: Callable[[], Shown], put: Callable[[str], str | None], hint: str = "",
               read: Callable[[str, bool], str | None] | None = None) -> Row:
        return self._row(NumberRow(name, get, put, hint, read=read))

    def words(self, name: str, get: Callable[[], Shown], put: Callable[[str], str | None], hint: str = "") -> Row:
        return self._row(NumberRow(name, get, put, hint, wide=True))

    def read(self, name: str, get: Callable[[], Shown], hint: str = "", big: bool = False) -> Row:
        return self._row(ReadRow(name, get, hint, big))

    def said(self, name: str, get: Callable[[], str]) -> Row:
        return self._row(SaidRow(name, get))

    def choice(self, name: str, options: Callable[[], list[tuple[str, str]]], get: Callable[[], str],
               put: Callable[[str], str | None], hint: str = "") -> Row:
        return self._row(ChoiceRow(name, options, get, put, hint))

    def widget_row(self, widget: QWidget, refresh: Callable[[], None]) -> None:
        self._refreshers.append((widget, refresh))
        self._add(widget)

    def look_list(self, get: Callable[[], list[tuple[str, Finding]]], go: Callable[[str, Finding], object]) -> None:
        """What the program found, worst first; pressing one goes there."""
        view = FindingsView("what to look at", go)
        self.lists.append(view)
        self.widget_row(view, lambda: view.show_found(get(), self.store.unit))

    def refresh(self) -> None:
        hidden, known = set(), dict[int, bool]()
        for widget, holds in self._shown:
            if id(holds) not in known:  # rows added together share one condition
                known[id(holds)] = holds()
            if not known[id(holds)]:
                hidden.add(widget)
            if widget.isHidden() == known[id(holds)]:
                widget.setVisible(known[id(holds)])
        for row, refresh in self._refreshers:
            if row not in hidden:
                refresh()

    def row(self, name: str) -> Row:
        """The row of that name."""
        return next(row for row in self.rows if row.name == name)
