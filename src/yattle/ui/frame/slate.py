"""The slate: what is selected, what there is to look at of it, and its numbers, typed in place, in groups that fold."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QScrollArea, QVBoxLayout, QWidget

from yattle.details import Finding
from yattle.help.fields import field_says
from yattle.ui.shown import Shown
from yattle.ui.store import Store
from yattle.ui.widgets.findings import FindingsView
from yattle.ui.widgets.group_head import GroupHead
from yattle.ui.widgets.rows import ChoiceRow, NumberRow, ReadRow, Row, SaidRow
from yattle.ui.widgets.words import Words

__all__ = ["Finding", "Shown", "Slate"]


class Slate(QWidget):
    """What to look at stands at its head, always in sight; under it rows from top to bottom, which scroll.
    :meth:`refresh` asks each for what it shows now. ``bench``: whose fields they are in the guide."""

    def __init__(self, store: Store, name: str, bench: str) -> None:
        super().__init__()
        self.store, self.name, self.bench = store, name, bench
        self.setAccessibleName(f"{name} slate")
        self.area = QScrollArea()
        self.area.setWidgetResizable(True)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.area.setFrameShape(QFrame.Shape.NoFrame)
        self.area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._head = QVBoxLayout()
        self._head.setContentsMargins(10, 6, 8, 0)
        self._head.setSpacing(3)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(2)
        whole.addLayout(self._head)
        whole.addWidget(self.area, 1)
        body = QWidget()
        self._column = QVBoxLayout(body)
        self._column.setContentsMargins(14, 6, 12, 8)
        self._column.setSpacing(3)
        self._column.addStretch(1)
        self.area.setWidget(body)
        self.rows: list[Row] = []
        self.lists: list[FindingsView] = []
        self._shown: list[tuple[QWidget, Callable[[], bool]]] = []
        self._when: Callable[[], bool] | None = None
        self._mark: QWidget | None = None
        self._group: GroupHead | None = None
        self.groups: list[GroupHead] = []
        self._groups_at: dict[QWidget, GroupHead | None] = {}
        self._refreshers: list[tuple[QWidget, Callable[[], None]]] = []

    def _add(self, widget: QWidget) -> None:
        at = self._column.count() - 1 if self._mark is None else self._column.indexOf(self._mark)
        self._column.insertWidget(at, widget)
        group, when = self._group, self._when
        if group is not None and widget is not group:
            inner = when
            when = (lambda: not group.folded) if inner is None else lambda: not group.folded and inner()
        if when is not None:
            self._shown.append((widget, when))

    def mark(self) -> QWidget:
        """A place where rows can be added later (see :meth:`before`)."""
        mark = QWidget()
        mark.setFixedHeight(0)
        self._add(mark)
        self._groups_at[mark] = self._group
        return mark

    @contextmanager
    def before(self, mark: QWidget) -> Iterator[None]:
        """What is added meanwhile stands before a mark."""
        last = self._group
        self._mark, self._group = mark, self._groups_at[mark]
        yield
        self._mark, self._group = None, last

    @contextmanager
    def when(self, holds: Callable[[], bool]) -> Iterator[None]:
        """What is added meanwhile is shown only while ``holds`` does, and what stands around it holds too."""
        outer = self._when
        self._when = holds if outer is None else lambda: outer() and holds()
        yield
        self._when = outer

    def of(self, get: Callable[[], str]) -> None:
        """The name of what is selected, at the head of all."""
        name = Words()
        name.setObjectName("of")
        name.setWordWrap(True)
        self._head.insertWidget(0, name)
        self._refreshers.append((name, lambda: name.setText(get())))

    def group(self, title: str) -> None:
        """The head of the rows that follow; pressed, they fold away, which is kept."""
        head = GroupHead(title, f"{self.name}: {title}", self.store.folded, self.refresh)
        self._group = head
        self.groups.append(head)
        self._add(head)

    def group_of(self, row: QWidget) -> str:
        """The title of the group that a row stands in; empty above the first."""
        found = ""
        for n in range(self._column.count()):
            item = self._column.itemAt(n)
            widget = item.widget() if item is not None else None
            if isinstance(widget, GroupHead):
                found = widget.title
            if widget is row:
                return found
        return ""

    def ensureWidgetVisible(self, widget: QWidget) -> None:
        """Bring a row into sight, its group opened."""
        self.area.ensureWidgetVisible(widget)

    def _row(self, row: Row) -> Row:
        if not row.hint:
            row.explain(field_says(self.bench, row.name))
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
        """What the program found, worst first, one line each at the slate's head; pressing one opens it and goes
        there."""
        view = FindingsView("what to look at", go)
        self.lists.append(view)
        self._head.addWidget(view)
        if self._when is not None:
            self._shown.append((view, self._when))
        self._refreshers.append((view, lambda: view.show_found(get(), self.store.unit)))

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
