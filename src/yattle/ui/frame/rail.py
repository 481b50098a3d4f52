"""The rail on the left: the benches in working order, and what is open on the one in front."""

from __future__ import annotations

from PyQt6.QtCore import QRect, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QKeyEvent, QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QAbstractButton, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from yattle.derive.openings import DerivedOpening
from yattle.measure import say_length
from yattle.ui.store import Store
from yattle.ui.theme import px, theme, type_of
from yattle.ui.widgets.words import Words, plain

_BESIDE = 24  # px that a row's text keeps from both sides together


class BenchButton(QAbstractButton):
    """A bench's name, what is on it, and how many things there are to look at."""

    def __init__(self, title: str, key: str) -> None:
        super().__init__()
        self.title, self.key, self.under, self.looks, self.slim = title, key, "", 0, False
        self.setCheckable(True)
        self.setAutoExclusive(True)
        self.setAccessibleName(f"{title} bench")
        self.setToolTip(key)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def sizeHint(self) -> QSize:
        return QSize(px(72 if self.slim else 140), px(40 if self.slim else 56))

    def tell(self, under: str, looks: int) -> None:
        self.under, self.looks = under, looks
        self.setAccessibleDescription(under + (f", {looks} to look at" if looks else ""))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        t, painter = theme(), QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        rect = QRectF(self.rect()).adjusted(6, 2, -6, -2)
        painter.setPen(Qt.PenStyle.NoPen)
        if self.isChecked() or self.underMouse():
            painter.setBrush(QColor(t.rail_here))
            painter.drawRoundedRect(rect, 6, 6)
        if self.isChecked():
            painter.setBrush(QColor("#c96a2c"))
            painter.drawRoundedRect(QRectF(rect.left(), rect.top() + 5, 4, rect.height() - 10), 2, 2)
        if self.hasFocus():
            painter.setPen(QColor(t.rail_dim))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(rect.adjusted(1, 1, -1, -1), 6, 6)
        painter.setPen(QColor(t.rail_ink))
        weight = QFont.Weight.DemiBold if self.isChecked() else QFont.Weight.Normal
        if self.slim:
            painter.setFont(type_of(11, weight))
            painter.drawText(rect.adjusted(8, 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, self.title)
        else:
            painter.setFont(type_of(14, weight))
            painter.drawText(rect.adjusted(14, 5, -6, 0), Qt.AlignmentFlag.AlignTop, self.title)
            painter.setPen(QColor(t.rail_dim))
            painter.setFont(type_of(10))
            painter.drawText(rect.adjusted(14, 0, -6, -6), Qt.AlignmentFlag.AlignBottom, self.under)
        if self.looks and self.slim:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(t.marker))
            painter.drawEllipse(QRectF(rect.right() - 9, rect.top() + 3, 7, 7))
        elif self.looks:
            pill = QRectF(rect.right() - px(34), rect.top() + 8, px(27), px(20))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(t.marker))
            painter.drawRoundedRect(pill, 10, 10)
            painter.setPen(QColor("#2a2410"))
            painter.setFont(type_of(10, QFont.Weight.Bold))
            painter.drawText(pill, Qt.AlignmentFlag.AlignCenter, str(self.looks))
        painter.end()


class Rail(QWidget):
    """``chosen(bench)`` when a bench is pressed; the runs below select the run of the whole window."""

    chosen = pyqtSignal(str)

    def __init__(self, store: Store, benches: list[tuple[str, str]]) -> None:
        super().__init__()
        self.store, self._filling = store, False
        self.setFixedWidth(px(158))
        self.setAutoFillBackground(False)
        column = QVBoxLayout(self)
        column.setContentsMargins(4, 8, 4, 8)
        column.setSpacing(4)
        self.buttons: dict[str, BenchButton] = {}
        for n, (name, title) in enumerate(benches, 1):
            button = BenchButton(title, f"Ctrl+{n}")
            button.clicked.connect(lambda _, name=name: self.chosen.emit(name))
            self.buttons[name] = button
            column.addWidget(button)
        self.caption = Words("RUNS")
        self.caption.setContentsMargins(12, 14, 0, 0)
        column.addWidget(self.caption)
        self._listed: list[tuple[str, str, float]] = []
        self.runs = RunList()
        self.runs.setObjectName("rail")
        self.runs.setAccessibleName("runs")
        self.runs.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.runs.setWordWrap(True)  # names are read whole
        self.runs.setTextElideMode(Qt.TextElideMode.ElideNone)
        self.runs.currentItemChanged.connect(self._picked)
        column.addWidget(self.runs, 1)
        store.job_changed.connect(self.refresh)
        store.selection_changed.connect(self.refresh)

    def narrow(self, slim: bool) -> None:
        """Only the benches' names, or all of it."""
        self.setFixedWidth(px(80 if slim else 158))
        self.caption.setVisible(not slim)
        self.runs.setVisible(not slim)
        for button in self.buttons.values():
            button.slim = slim
            button.updateGeometry()
        column = self.layout()
        if isinstance(column, QVBoxLayout):
            column.setAlignment(Qt.AlignmentFlag.AlignTop if slim else Qt.AlignmentFlag(0))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(theme().rail))
        painter.end()

    def refresh(self) -> None:
        self._filling = True
        self.caption.setStyleSheet(f"color: {theme().rail_dim}; font-size: 9.5pt; font-weight: 600;")
        session = self.store.session
        wanted = [(found.run.id, found.run.name, found.run.length) for found in session.derived.runs]
        wanted += [(f"opening:{found.id}", found.title, len(found.pieces)) for found in self._places()]
        if wanted != self._listed:
            self._listed = wanted
            self._list_runs()
        chosen = f"opening:{session.selection.opening}" if session.selection.opening else session.selection.run
        if session.selection.part and self.buttons["survey"].isChecked():  # a face is in front there, no run
            chosen = None
        here = next((n for n, (run_id, *_) in enumerate(wanted) if run_id == chosen), -1)
        if self.runs.currentRow() != here:
            self.runs.setCurrentRow(here)
        self._filling = False
        self._tell_benches()

    def _list_runs(self) -> None:
        self.runs.clear()
        for run in (found.run for found in self.store.session.derived.runs):
            item = QListWidgetItem(f"    {run.layer}" if run.layer else f"{run.id}  {run.name}")
            item.setData(Qt.ItemDataRole.UserRole, run.id)
            long = say_length(run.length, self.store.unit, 0, mark=True)
            item.setToolTip(plain(f"{run.id} {run.layer or run.name}, {long}"))
            self.runs.addItem(item)
        for found in self._places():
            item = QListWidgetItem(f"◇  {found.title}")
            item.setData(Qt.ItemDataRole.UserRole, f"opening:{found.id}")
            item.setToolTip(plain(f"{found.kind}: {len(found.pieces)} pieces"))
            self.runs.addItem(item)
        self.runs.give_room()

    def _places(self) -> list[DerivedOpening]:
        """Openings, corners with a piece of their own, and the one that is open."""
        session = self.store.session
        return [found for found in session.derived.openings
                if found.detail != "none" or found.id == session.selection.opening]

    def _tell_benches(self) -> None:
        derived = self.store.session.derived
        looks = {"survey": 0, "trim": 0}
        for _, finding in self.store.session.findings:
            looks["survey" if finding.field in ("taped", "length", "pitch") else "trim"] += 1
        count = len(derived.own_runs)
        self.buttons["survey"].tell(f"{count} run{'' if count == 1 else 's'}", looks["survey"])
        pieces = derived.piece_count
        self.buttons["trim"].tell(f"{pieces} piece{'' if pieces == 1 else 's'}", looks["trim"])
        sections = len({(run.detail.name, run.detail.girth.girth) for run in derived.runs if run.detail.girth})
        self.buttons["brake"].tell(f"{sections} order{'' if sections == 1 else 's'}", 0)
        entries = len(self.store.session.job.log)
        self.buttons["log"].tell(f"{entries} entr{'y' if entries == 1 else 'ies'}", 0)

    def tell_fit(self, stages: int, looks: int) -> None:
        self.buttons["fit"].tell(f"{stages} stage{'' if stages == 1 else 's'}", looks)

    def tell_coil(self, under: str, looks: int) -> None:
        self.buttons["coil"].tell(under, looks)

    def _picked(self, item: QListWidgetItem | None) -> None:
        if item is not None and not self._filling:
            kind, _, name = item.data(Qt.ItemDataRole.UserRole).rpartition(":")
            self.store.session.select(**{kind or "run": name})
            QTimer.singleShot(0, self.refresh)  # back to where it was, if that was refused


class RunList(QListWidget):
    """A list that leaves letters to the window's shortcuts; each row is as high as its name takes lines."""

    def give_room(self) -> None:
        """Make every row as high as its text is, broken at the width there is."""
        metrics, wide = self.fontMetrics(), self.viewport().width()  # type: ignore[union-attr]
        for item in map(self.item, range(self.count())):
            assert item is not None
            text = metrics.boundingRect(QRect(0, 0, wide - px(_BESIDE), 500), Qt.TextFlag.TextWordWrap, item.text())
            item.setSizeHint(QSize(wide, text.height() + px(8)))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.give_room()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.text().isalpha():
            event.ignore()
            return
        super().keyPressEvent(event)
