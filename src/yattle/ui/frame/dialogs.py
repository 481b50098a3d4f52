"""All keys, and what Yattle is."""

from __future__ import annotations

from PyQt6.QtWidgets import QDialog, QDialogButtonBox, QGridLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from yattle import __version__
from yattle.job.standards import Difference
from yattle.ui.widgets.words import Words

_BY_HAND = (("arrows on a drawing", "next fold, leg or piece"), ("Return on a drawing", "type its number"),
            ("Esc", "take back what is being typed"), ("R on the girth tape", "read from the other edge"),
            ("Tab", "next field"), ("wheel, Ctrl and + or −", "nearer and farther on a drawing"),
            ("Ctrl+0", "the whole drawing"), ("drag with the middle button, Shift+arrows", "move a drawing"),
            ("Alt or F10", "the menus"))


class KeysBox(QDialog):
    """Every action with its keys, by menu, from the one table of actions; then what hands do on a drawing."""

    def __init__(self, parent: QWidget, keys: dict[str, list[tuple[str, str]]]) -> None:
        super().__init__(parent)
        self.setWindowTitle("All keys")
        grid = QGridLayout()
        grid.setHorizontalSpacing(26)
        place = [0, 0]
        for menu, rows in (keys | {"By hand": list(_BY_HAND)}).items():
            side = 0 if place[0] <= place[1] else 1
            place[side] = _rows(grid, menu, rows, side * 2, place[side])
        holder = QWidget()
        holder.setLayout(grid)
        area = QScrollArea()  # on a small screen, or with large letters
        area.setWidgetResizable(True)
        area.setWidget(holder)
        area.setMinimumWidth(holder.sizeHint().width() + 40)
        column = QVBoxLayout(self)
        column.addWidget(area)
        screen = parent.screen()
        room = screen.availableGeometry().height() if screen is not None else 640
        self.resize(self.sizeHint().width(), min(holder.sizeHint().height() + 90, room - 60))
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)


def _rows(grid: QGridLayout, menu: str, rows: list[tuple[str, str]], column: int, row: int) -> int:
    if not rows:
        return row
    head = Words(menu)
    head.setObjectName("group")
    grid.addWidget(head, row, column, 1, 2)
    for n, (keys, title) in enumerate(rows, row + 1):
        key = Words(keys)
        key.setStyleSheet("font-weight: 600")
        grid.addWidget(key, n, column)
        grid.addWidget(Words(title), n, column + 1)
    return row + len(rows) + 1


class DifferencesBox(QDialog):
    """Where two house standards differ, entry by entry."""

    def __init__(self, parent: QWidget, mine: str, other: str, found: tuple[Difference, ...]) -> None:
        super().__init__(parent)
        self.setWindowTitle("House standards")
        grid = QGridLayout()
        grid.setHorizontalSpacing(26)
        rows = [("", mine, other), *((d.title, d.mine, d.other) for d in found)] if found else [
            ("", f"{mine} and {other} are alike", "")]
        for n, row in enumerate(rows):
            for column, text in enumerate(row):
                label = Words(text)
                label.setObjectName("group" if n == 0 else "")
                grid.addWidget(label, n, column)
        holder = QWidget()
        holder.setLayout(grid)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setWidget(holder)
        area.setMinimumSize(560, 360)
        column_box = QVBoxLayout(self)
        column_box.addWidget(area)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        column_box.addWidget(buttons)


class ChangesBox(QDialog):
    """What a change makes of a job, line by line, to be taken or left."""

    def __init__(self, parent: QWidget, title: str, why: str, lines: tuple[str, ...]) -> None:
        super().__init__(parent)
        self.setWindowTitle(title)
        self.setMinimumWidth(640)
        column = QVBoxLayout(self)
        head = Words(why)
        head.setWordWrap(True)
        column.addWidget(head)
        holder = QWidget()
        rows = QVBoxLayout(holder)
        for line in lines or ("nothing changes: no piece, no length, no count",):
            said = Words(line)
            said.setWordWrap(True)
            rows.addWidget(said)
        rows.addStretch(1)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setWidget(holder)
        area.setMinimumHeight(320)
        column.addWidget(area)
        buttons = QDialogButtonBox()
        self.take = buttons.addButton("Take it: one undo", QDialogButtonBox.ButtonRole.AcceptRole)
        self.leave = buttons.addButton("Leave the job as it is", QDialogButtonBox.ButtonRole.RejectRole)
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)


class AboutBox(QDialog):
    """Name, version, licence, and what the program does not promise."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("About Yattle")
        text = QLabel(
            f"<h2>Yattle {__version__}</h2>"
            "<p>From a roof edge to a folded piece and a cut coil,<br>for sheet metal roofers.</p>"
            "<p>Local codes, the panel maker's instructions and a licensed designer always outrank what is "
            "worked out here. Check the first piece of a batch before folding the rest.</p>"
            "<p>Free software under the GNU General Public License, version 3 or later.<br>"
            "Type: Barlow, SIL Open Font License 1.1.</p>")
        text.setWordWrap(True)
        text.setMinimumWidth(420)
        column = QVBoxLayout(self)
        column.addWidget(text)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)
