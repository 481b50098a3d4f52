"""The floor on the whole screen: one thing to do, large; the space bar, a pedal or one button says that it is done."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QFont, QKeyEvent
from PyQt6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QInputDialog,
    QLineEdit,
    QProgressBar,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from yattle.drawing import Drawing
from yattle.ui.drawing.canvas import Canvas
from yattle.ui.drawing.paint import Ink
from yattle.ui.floor.model import PLACES, FloorModel
from yattle.ui.store import Store
from yattle.ui.theme import theme, type_of
from yattle.ui.widgets.words import Words

_DONE = (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Right, Qt.Key.Key_PageDown)
_BACK = (Qt.Key.Key_Backspace, Qt.Key.Key_Left, Qt.Key.Key_PageUp)
"""A pedal sends one of these."""
_FINGER = 28.0  # px: what lies this near is meant by a gloved finger


class _CodeField(QLineEdit):
    """Return takes what is typed or scanned, and is no "done" for what lies behind the field."""

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        super().keyPressEvent(event)
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            event.accept()


class FloorView(QDialog):
    """Reads from two metres; works by space bar, pedal or one big button."""

    def __init__(self, parent: QWidget, store: Store) -> None:
        super().__init__(parent)
        self.setWindowTitle("On the floor")
        self.store = store
        self.about, self.big, self.small, self.after = Words(), Words(), Words(), Words()
        self.picture = Canvas("what is done now", (46, 44, 46, 44))
        self.picture.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.picture.finger = _FINGER
        self.bar = QProgressBar()
        self.bar.setTextVisible(False)
        self.done_button, self.back_button = QPushButton("done  (space)"), QPushButton("back")
        self.spoil_button, self.book_button = QPushButton("spoiled …"), QPushButton("book the cuts")
        self.leave = QPushButton("leave  (Esc)")
        self.places = {place: QPushButton(title) for place, title in PLACES.items()}
        self.code = _CodeField()
        self.code.setPlaceholderText("a label's code, or a piece's number")
        self.code.setAccessibleName("a label's code, or a piece's number")
        self.model = FloorModel(store, self.refresh)
        self._lay_out()
        self._listen()
        self.refresh()
        self.done_button.setFocus()

    def _lay_out(self) -> None:
        for words, points in ((self.about, 18), (self.big, 48), (self.small, 26), (self.after, 16)):
            words.setFont(type_of(points, QFont.Weight.Bold if points > 30 else QFont.Weight.Medium))
            words.setWordWrap(True)
        top = QHBoxLayout()
        for button in self.places.values():
            button.setCheckable(True)
            button.setAutoDefault(False)
            top.addWidget(button)
        top.addWidget(self.code, 1)
        for button in (self.book_button, self.spoil_button, self.leave):
            button.setAutoDefault(False)
            top.addWidget(button)
        foot = QHBoxLayout()
        self.back_button.setAutoDefault(False)
        self.done_button.setFont(type_of(26, QFont.Weight.Bold))
        self.done_button.setMinimumHeight(84)
        self.back_button.setMinimumHeight(84)
        foot.addWidget(self.back_button)
        foot.addWidget(self.done_button, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(28, 18, 28, 22)
        column.setSpacing(12)
        column.addLayout(top)
        for widget in (self.about, self.big, self.small):
            column.addWidget(widget)
        column.addWidget(self.picture, 1)
        column.addWidget(self.after)
        column.addWidget(self.bar)
        column.addLayout(foot)

    def _listen(self) -> None:
        for place, button in self.places.items():
            button.clicked.connect(lambda _, place=place: self.model.go(place))
        self.done_button.clicked.connect(lambda: self.model.next())
        self.back_button.clicked.connect(lambda: self.model.back())
        self.leave.clicked.connect(self.reject)
        self.book_button.clicked.connect(lambda: self._say_if(self.model.book()))
        self.spoil_button.clicked.connect(self.ask_why)
        self.code.returnPressed.connect(self._take_code)
        self.picture.pressed.connect(self.model.press)

    def _take_code(self) -> None:
        wrong = self.model.open_code(self.code.text())
        if wrong is None:
            self.code.clear()
            self.done_button.setFocus()
        self._say_if(wrong)

    def ask_why(self) -> None:
        """Which piece is spoiled, and why."""
        piece, sure = QInputDialog.getText(self, "Spoiled", "Which piece?", text=self.model.now())
        if sure and piece.strip():
            why, sure = QInputDialog.getText(self, "Spoiled", f"{piece.strip()}: what happened?")
            if sure:
                self._say_if(self.model.spoil(piece.strip(), why))

    def _say_if(self, wrong: str | None) -> None:
        if wrong:
            self.after.setText(wrong)

    def refresh(self) -> None:
        """Show what is to be done now."""
        screen = self.model.screen()
        self.about.setText(screen.about)
        self.big.setText(screen.big)
        self.small.setText(screen.small)
        self.small.setVisible(bool(screen.small))
        self.after.setText(f"then: {screen.after}" if screen.after else "")
        self.bar.setMaximum(max(screen.far[1], 1))
        self.bar.setValue(screen.far[0])
        self.picture.setVisible(screen.drawing is not None)
        ink = Ink(self.store.session.job.metal_used.colour, screen.now, points=13, band=4,
                  sparse=self.model.place == "roof")
        self.picture.show_drawing(screen.drawing or Drawing(()), ink)
        self.picture.elsewhere = screen.now if self.model.place == "brake" else ""  # the drawing is the stroke itself
        for place, button in self.places.items():
            button.setChecked(place == self.model.place)
        self.book_button.setVisible(self.model.place == "shear" and self.model.shear.made > 0)
        self.setStyleSheet(f"FloorView {{ background: {theme().ground}; }}")

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Space, Return, a pedal: done; Backspace, left: back; Escape leaves and books what was cut."""
        if event is None or self.code.hasFocus():
            super().keyPressEvent(event)
        elif event.key() in _DONE:
            self.model.next()
        elif event.key() in _BACK:
            self.model.back()
        else:
            super().keyPressEvent(event)

    def reject(self) -> None:
        """Leave; what was cut is booked, one step of undo."""
        made = self.model.shear.made
        wrong = self.model.book()
        if wrong is None and made:
            self.store.say(f"{made} cuts are booked; undo takes it back")
        elif wrong:
            self.store.complain(wrong)
        super().reject()
