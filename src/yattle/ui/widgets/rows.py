"""Rows of the slate: a name and a number that is typed, chosen, or read with its sum.

A row has no memory of its own: it asks ``get`` when it is refreshed and hands what was
typed to ``put``, which answers with what is wrong, or ``None``.
"""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent, QWheelEvent
from PyQt6.QtWidgets import (
    QComboBox,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from yattle.session import Session
from yattle.ui.shown import Shown
from yattle.ui.theme import px
from yattle.ui.typing import Bound
from yattle.ui.widgets.marks import mark
from yattle.ui.widgets.words import Words, plain, unkeyed

_PLAIN = "as it says; an empty field goes back to what the program takes by itself"


class SumBox(QFrame):
    """The terms of a sum, unfolded in place."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("sum")
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(10, 6, 10, 6)
        self._grid.setVerticalSpacing(1)
        self._lines: list[tuple[QLabel, QLabel]] = []
        self.hide()

    def show_sum(self, shown: Shown) -> None:
        assert shown.sum is not None
        rows = [(term.what, _signed(shown.say(term.amount), n)) for n, term in enumerate(shown.sum.terms)]
        rows.append((shown.sum.what, "= " + shown.say(shown.sum.value)))
        if len(rows) != len(self._lines):
            self._make_lines(len(rows))
        for line, (what, amount) in zip(self._lines, rows, strict=True):
            line[0].setText(what)
            line[1].setText(amount)

    def _make_lines(self, count: int) -> None:
        for line in self._lines:
            for label in line:
                label.hide()
                label.deleteLater()
        self._lines = [(Words(), Words()) for _ in range(count)]
        for n, (what, amount) in enumerate(self._lines):
            self._grid.addWidget(what, n, 0, Qt.AlignmentFlag.AlignLeft)
            self._grid.addWidget(amount, n, 1, Qt.AlignmentFlag.AlignRight)
        for label in self._lines[-1]:
            label.setStyleSheet("font-weight: 600")


def _signed(said: str, n: int) -> str:
    return f"− {said[1:]}" if said.startswith("-") else said if n == 0 else f"+ {said}"


class Row(QWidget):
    """Name, control, note on one line; the error and the sum unfold under it."""

    def __init__(self, name: str, get: Callable[[], Shown], hint: str = "") -> None:
        super().__init__()
        self.name, self.get = name, get
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        self.line = QHBoxLayout()
        self.line.setSpacing(8)
        column.addLayout(self.line)
        self.caption = Words(name)
        self.caption.setFixedWidth(px(96))
        self.caption.setWordWrap(True)
        self.explain(hint)
        self.line.addWidget(self.caption)
        self.note = Words()
        self.note.setObjectName("dim")
        self.note.setMinimumWidth(10)
        self.note.setWordWrap(True)
        self.wrong = Words()
        self.wrong.setObjectName("wrong")
        self.wrong.setWordWrap(True)
        self.wrong.hide()
        column.addWidget(self.wrong)
        self._column = column
        self._sum: SumBox | None = None

    @property
    def sum(self) -> SumBox:
        """Where the sum unfolds; made when it is wanted first, since most rows have none."""
        if self._sum is None:
            self._sum = SumBox()
            self._column.addWidget(self._sum)
        return self._sum

    def explain(self, hint: str) -> None:
        """Say what the field is, in one sentence without its stop."""
        self.hint = hint
        self.caption.setToolTip(plain(hint))

    @property
    def explained(self) -> str:
        """What the field is, in one or two sentences: its name, what it means, what stands in it and why."""
        note = self.note.text()
        beside = f" Now: {note}." if note else ""
        return f"{self.name}: {self.hint or _PLAIN}.{beside}"

    def refresh(self) -> None:
        shown = self.get()
        self.note.setText(shown.note)
        if self._sum is not None and self._sum.isVisible() and shown.sum is not None:
            self._sum.show_sum(shown)


class NumberRow(Row):
    """A number that is typed. ``read``, where a measure is wanted, takes the text of an instrument's reading and
    whether a stand-in for one gave it."""

    def __init__(self, name: str, get: Callable[[], Shown], put: Callable[[str], str | None], hint: str = "",
                 wide: bool = False, read: Callable[[str, bool], str | None] | None = None) -> None:
        super().__init__(name, get, hint)
        self.put, self.read = put, read
        self.refused = False
        self.session: Session | None = None
        self.field = QLineEdit()
        self.field.setObjectName("" if wide else "number")
        self.field.setAccessibleName(name)
        self.field.setToolTip(plain(hint))
        if not wide:
            self.field.setAlignment(Qt.AlignmentFlag.AlignRight)
            self.field.setFixedWidth(px(96))
        self.caption.setBuddy(self.field)
        self.field.returnPressed.connect(self.commit)
        self.field.editingFinished.connect(self.commit)
        self.field.installEventFilter(self)
        self.line.addWidget(self.field)
        self.line.addWidget(self.note, 1)

    def refresh(self) -> None:
        super().refresh()
        if not (self.field.isModified() or self.refused):
            self._set(self.get().text)

    def _set(self, text: str) -> None:
        if self.field.text() != text:
            self.field.setText(text)
            self.field.setCursorPosition(0)  # of a long text the beginning is seen
        self.field.setModified(False)
        self._mark(None)

    def commit(self) -> None:
        """Hand over what was typed; a wrong text stays where it is with its sentence under it."""
        if self.field.isModified():
            self._hand_over(self.put)

    def _hand_over(self, put: Callable[[str], str | None]) -> str | None:
        typed = self.field.text()
        self.field.setModified(False)
        self.refused = False
        wrong = put(typed)
        if wrong is not None:
            self.field.setText(typed)
            self._mark(wrong)
        elif self.session is None or not self.session.working:  # else what was typed stands there until it is shown
            self._set(self.get().text)
            if self.field.hasFocus():
                self.field.selectAll()
        return wrong

    # -- what is being typed (see yattle.ui.typing) -------------------------------------------------

    def typed(self) -> str:
        return self.name if self.field.isModified() or self.refused else ""

    def take(self) -> str | None:
        return self._hand_over(self.put)

    def show_it(self) -> None:
        area = self.parentWidget()
        while area is not None and not isinstance(area, QScrollArea):
            area = area.parentWidget()
        if area is not None:
            area.ensureWidgetVisible(self)
        self.field.setFocus()

    def bound(self, widget: QWidget) -> Bound | None:
        """This field for what is selected now: a reading goes there, whatever is selected when it comes."""
        if widget is not self.field or self.session is None:
            return None
        session, selection = self.session, self.session.selection

        def put(text: str, simulated: bool) -> str | None:
            if simulated and self.read is None:
                return (f"{self.name}: found {text} of a stand-in, which is no measure, expected the field of "
                        "something that is taped")
            wrong: list[str | None] = []
            take = self.put if self.read is None else lambda said: self.read(said, simulated)
            if selection == session.selection:
                self.field.setText(text)
                return self._hand_over(take)
            session.for_selection(selection, lambda: wrong.append(take(text)))
            return wrong[0]
        of = selection.part.partition(":")[2] or selection.opening or selection.run or "job"
        return Bound(f"{of} {self.name}", put)

    def _mark(self, wrong: str | None) -> None:
        self.refused = wrong is not None
        self.wrong.setText(wrong or "")
        self.wrong.setVisible(wrong is not None)
        mark(self.field, "wrong", bool(wrong))

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress and event.key() == Qt.Key.Key_Escape:
            self._set(self.get().text)
            return True
        return super().eventFilter(watched, event)


class ReadRow(Row):
    """A number that is worked out; press it and its sum unfolds."""

    def __init__(self, name: str, get: Callable[[], Shown], hint: str = "", big: bool = False) -> None:
        super().__init__(name, get, hint)
        self.button = QPushButton()
        self.button.setObjectName("girth" if big else "number")
        self.button.setMinimumWidth(104 if big else 92)  # feet and sixteenths of a long coil need more
        self.button.clicked.connect(self.toggle)
        self.line.addWidget(self.button)
        self.line.addWidget(self.note, 1)

    def refresh(self) -> None:
        shown = self.get()
        self.button.setText(unkeyed(shown.text))
        self.button.setEnabled(shown.sum is not None)
        self.button.setAccessibleName(f"{self.name} {shown.text}")
        self.button.setToolTip("press: where it comes from" if shown.sum else "")
        if shown.sum is None and self._sum is not None:
            self._sum.hide()
        super().refresh()

    def toggle(self) -> None:
        shown = self.get()
        if shown.sum is not None:
            self.sum.show_sum(shown)
            self.sum.setVisible(not self.sum.isVisible())


class ChoiceBox(QComboBox):
    """A drop-down that the wheel scrolls past: it changes only when it is open, by a press or by keys."""

    def __init__(self) -> None:
        super().__init__()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        assert event is not None
        event.ignore()


class ChoiceRow(Row):
    """One of a few, each in plain words."""

    def __init__(self, name: str, options: Callable[[], list[tuple[str, str]]], get: Callable[[], str],
                 put: Callable[[str], str | None], hint: str = "") -> None:
        super().__init__(name, lambda: Shown(get()), hint)
        self.options, self.put, self._filling = options, put, False
        self.box = ChoiceBox()
        self.box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.box.setMinimumContentsLength(8)
        self.box.setAccessibleName(name)
        self.caption.setBuddy(self.box)
        self.box.currentIndexChanged.connect(self._chosen)
        self.line.addWidget(self.box, 1)

    def refresh(self) -> None:
        self._filling = True
        options = self.options()
        if [(self.box.itemData(n), self.box.itemText(n)) for n in range(self.box.count())] != options:
            self.box.clear()
            for key, said in options:
                self.box.addItem(said, key)
        self.box.setCurrentIndex(max(0, self.box.findData(self.get().text)))
        self._filling = False

    def _chosen(self, index: int) -> None:
        if not self._filling and index >= 0:
            wrong = self.put(self.box.itemData(index))
            self.wrong.setText(wrong or "")
            self.wrong.setVisible(wrong is not None)


class SaidRow(Row):
    """Words that are only read."""

    def __init__(self, name: str, get: Callable[[], str]) -> None:
        super().__init__(name, lambda: Shown(get()))
        self.said = Words()
        self.said.setWordWrap(True)
        self.line.addWidget(self.said, 1)

    def refresh(self) -> None:
        self.said.setText(self.get().text)
