"""The survey bench: the runs in plan and as a table, each measure typed in place."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt
from PyQt6.QtWidgets import QAbstractItemView, QHeaderView, QLabel, QTableView, QVBoxLayout, QWidget

from yattle.details import Finding
from yattle.drawing import PlanEdge, plan_drawing
from yattle.job import DerivedRun, Job
from yattle.measure import UNITS
from yattle.metal import library
from yattle.ui.benches.base import BenchPage
from yattle.ui.drawing.canvas import Canvas
from yattle.ui.drawing.paint import Ink
from yattle.ui.frame.slate import Shown
from yattle.ui.store import Store
from yattle.ui.widgets.card import Card


@dataclass(frozen=True)
class Column:
    """A column of the runs' table; ``field`` is what typing into it changes, none if it is worked out."""

    title: str
    show: Callable[[SurveyBench, DerivedRun], str]
    field: str = ""


COLUMNS = (
    Column("run", lambda bench, d: d.run.id),
    Column("place", lambda bench, d: d.run.name, "name"),
    Column("pitch", lambda bench, d: bench.say_pitch(d.run.pitch), "pitch"),
    Column("length", lambda bench, d: bench.say(d.run.length), "length"),
    Column("taped", lambda bench, d: bench.say(d.run.taped) if d.run.taped else "", "taped"),
    Column("first fold", lambda bench, d: f"B {round(90 - d.run.pitch, 1):g}"),
    Column("detail", lambda bench, d: "eave drip"),
    Column("pieces", lambda bench, d: str(len(d.pieces)) if d.pieces else "cannot be made"),
    Column("state", lambda bench, d: bench.state(d)),
)


class RunTable(QAbstractTableModel):
    """The job's runs; what is typed goes to the bench, which says what is wrong with it."""

    def __init__(self, bench: SurveyBench) -> None:
        super().__init__()
        self.bench = bench
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
        return self.bench.store.session.derived.runs

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        return len(self._runs)

    def columnCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        return len(COLUMNS)

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole):
        column = COLUMNS[index.column()]
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.EditRole):
            return column.show(self.bench, self._runs[index.row()])
        if role == Qt.ItemDataRole.TextAlignmentRole and column.title in ("pitch", "length", "taped", "pieces"):
            return int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        return None

    def headerData(self, section: int, orientation: Qt.Orientation,
                   role: int = Qt.ItemDataRole.DisplayRole):
        if role == Qt.ItemDataRole.DisplayRole and orientation == Qt.Orientation.Horizontal:
            return COLUMNS[section].title
        return None

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        flags = super().flags(index)
        return flags | Qt.ItemFlag.ItemIsEditable if COLUMNS[index.column()].field else flags

    def setData(self, index: QModelIndex, value: object, role: int = Qt.ItemDataRole.EditRole) -> bool:
        return self.bench.put(self._runs[index.row()].run.id, COLUMNS[index.column()].field, str(value))


class SurveyBench(BenchPage):
    name, title = "survey", "Survey"

    def __init__(self, store: Store) -> None:
        super().__init__(store)
        self.plan = Canvas("runs in plan", (90, 46, 90, 46))
        self.plan.pressed.connect(lambda key: store.session.select(run=key))
        self.table = QTableView()
        self.table.setAccessibleName("table of runs")
        self.model = RunTable(self)
        self.table.setModel(self.model)
        self._prepare_table()
        self.wrong = QLabel()
        self.wrong.setObjectName("wrong")
        self.wrong.setWordWrap(True)
        self.wrong.hide()
        holder = QWidget()
        column = QVBoxLayout(holder)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.wrong)
        column.addWidget(self.table, 1)
        self.plan_card, self.table_card = Card(self.plan), Card(holder)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(8)
        column.addWidget(self.plan_card, 10)
        column.addWidget(self.table_card, 9)
        self._fill_slate()

    def _prepare_table(self) -> None:
        self.table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        trigger = QAbstractItemView.EditTrigger
        self.table.setEditTriggers(trigger.SelectedClicked | trigger.AnyKeyPressed | trigger.EditKeyPressed)
        self.table.setShowGrid(False)
        self.table.setTabKeyNavigation(False)
        for header in (self.table.verticalHeader(), self.table.horizontalHeader()):
            assert header is not None
        self.table.verticalHeader().hide()
        self.table.verticalHeader().setDefaultSectionSize(32)
        head = self.table.horizontalHeader()
        head.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        head.setSectionResizeMode(1, QHeaderView.ResizeMode.Stretch)
        head.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft)
        selection = self.table.selectionModel()
        assert selection is not None
        selection.currentRowChanged.connect(self._row_chosen)

    # -- the slate --------------------------------------------------------------------------------

    def _fill_slate(self) -> None:
        s, session = self.slate, self.store.session
        s.group("Run")
        s.words("name", lambda: Shown(self._field("name")), lambda text: self._put_here("name", text))
        s.number("pitch", lambda: Shown(self._field("pitch")), lambda text: self._put_here("pitch", text),
                 "7:12, 30°, 58 %")
        s.number("length", lambda: Shown(self._field("length")), lambda text: self._put_here("length", text),
                 "true length of the edge")
        s.number("taped", lambda: Shown(self._field("taped"), self._off()),
                 lambda text: self._put_here("taped", text), "what the tape said; empty if not taped")
        s.group("Job")
        s.words("name of job", lambda: Shown(session.job.name), lambda text: self._put_job("name", text.strip()))
        s.choice("metal", lambda: [(m.id, m.name) for m in library().metals], lambda: session.job.metal,
                 self._put_metal)
        s.choice("thickness", self._gauges, lambda: f"{session.job.thickness:g}",
                 lambda key: self._put_job("thickness", float(key)))
        s.choice("allowance", lambda: [("metal", "k-factor of the metal"), ("din6935", "DIN 6935"),
                                       ("sum", "plain sum of the legs")],
                 lambda: session.job.allowance, lambda key: self._put_job("allowance", key))
        s.choice("measured", lambda: [("outside", "outside of the folds"), ("inside", "inside of the folds")],
                 lambda: session.job.measured, lambda key: self._put_job("measured", key))
        s.choice("units", lambda: [(u.name, u.title) for u in UNITS.values()], lambda: session.job.unit,
                 lambda key: self._put_job("unit", key))
        s.number("tolerance", lambda: Shown(self.say(session.job.tape_tolerance)),
                 lambda text: self.store.attempt(lambda: self._set_job(
                     "tape_tolerance", self.length_from(text, "tolerance"))),
                 "how far the tape may differ from the run before it is shown")
        s.look_list(lambda: [f for f in session.derived.findings if f[1].field in ("taped", "length", "pitch")],
                    self._go)

    def _gauges(self) -> list[tuple[str, str]]:
        metal = library().find(self.store.session.job.metal)
        return [(f"{t:g}", f"{t:.2f} mm") for t in metal.thicknesses]

    def _field(self, name: str) -> str:
        column = next(c for c in COLUMNS if c.field == name)
        return column.show(self, self.run) if self.run else ""

    def _off(self) -> str:
        run = self.run.run if self.run else None
        return f"{run.taped - run.length:+g} mm" if run and run.taped else ""

    def _put_here(self, field: str, text: str) -> str | None:
        run_id = self.store.session.selection.run
        if run_id is None:
            return "there is no run yet: add one with Ctrl+Shift+N"
        return self.store.attempt(lambda: self._change(run_id, field, text))

    def _put_metal(self, key: str) -> str | None:
        """Another metal: its first gauge, and its springback until the brake has shown its own."""
        metal = library().find(key)

        def change(job: Job) -> Job:
            spring = job.brake.springback.but(ratio=metal.springback)
            return job.but(metal=key, thickness=metal.thicknesses[0], brake=job.brake.but(springback=spring))

        return self.store.attempt(lambda: self.store.session.edit("metal", change))

    def _put_job(self, name: str, value: object) -> str | None:
        return self.store.attempt(lambda: self._set_job(name, value))

    def _set_job(self, name: str, value: object) -> None:
        self.store.session.edit(name.replace("_", " "), lambda job: job.but(**{name: value}))

    def _go(self, run_id: str, finding: Finding) -> None:
        self.store.session.select(run=run_id)
        self.slate.row(finding.field).field.setFocus()

    # -- the table --------------------------------------------------------------------------------

    def put(self, run_id: str, field: str, text: str) -> bool:
        """Take what was typed into the table; a wrong text is said above it and changes nothing."""
        wrong = self.store.attempt(lambda: self._change(run_id, field, text))
        self.wrong.setText(f"{run_id} {wrong}" if wrong else "")
        self.wrong.setVisible(bool(wrong))
        return wrong is None

    def _change(self, run_id: str, field: str, text: str) -> None:
        value: object = text.strip()
        if field == "pitch":
            value = self.pitch_from(text)
        elif field == "taped" and not text.strip():
            value = None
        elif field in ("length", "taped"):
            value = self.length_from(text, field)
        self.store.session.edit_run(f"{run_id} {field}", run_id, **{field: value})

    def _row_chosen(self, now: QModelIndex, before: QModelIndex) -> None:
        runs = self.store.session.derived.runs
        if 0 <= now.row() < len(runs):
            self.store.session.select(run=runs[now.row()].run.id)

    def state(self, derived: DerivedRun) -> str:
        if not derived.pieces:
            return "cannot be made"
        if derived.findings:
            return f"{len(derived.findings)} to look at"
        return "proven" if self.store.session.derived.proven else "folding …"

    # -- showing ----------------------------------------------------------------------------------

    def refresh(self) -> None:
        super().refresh()
        session = self.store.session
        edges = tuple(PlanEdge(r.id, r.at, r.bearing, r.length, self.say_pitch(r.pitch)) for r in session.job.runs)
        self.plan.show_drawing(plan_drawing(edges, self.store.unit),
                               Ink(self.metal_colour, session.selection.run or ""))
        place = f"{session.job.place} · " if session.job.place else ""
        total = sum(run.length for run in session.job.runs)
        if edges:
            self.plan_card.say(session.job.name, f"{place}{len(edges)} eaves, {self.say(total)} in all")
            self.table_card.say("Runs", "type into a cell: 7:12, 30°, 58 % · 14.8 m, 48' 6 1/2\"")
        else:
            self.plan_card.say(session.job.name, "no runs yet: press Ctrl+Shift+N to enter the first eave")
            self.table_card.say("Runs", "Ctrl+Shift+N adds one")
        self._refresh_table()

    def _refresh_table(self) -> None:
        self.model.tell_all()
        ids = [run.id for run in self.store.session.job.runs]
        here = self.store.session.selection.run
        current = self.table.currentIndex()
        if here in ids and current.row() != ids.index(here):
            selection = self.table.selectionModel()
            assert selection is not None
            selection.blockSignals(True)
            self.table.setCurrentIndex(self.model.index(ids.index(here), max(current.column(), 0)))
            selection.blockSignals(False)
            self.table.viewport().update()


