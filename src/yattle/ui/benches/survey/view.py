"""The roof in plan, in space and cut, its panels, and every edge as a run."""

from __future__ import annotations

from PyQt6.QtCore import QModelIndex, QTimer
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from yattle.derive.roof_runs import base_id, roof_runs
from yattle.details import Finding
from yattle.drawing import Drawing, FreeEave, Label, Line, PlanEdge, cut_drawing, panel_drawing, roof_drawing
from yattle.roof import Roof, build
from yattle.roof.openings import outline
from yattle.roof.panels import face_frame
from yattle.roof.section import cut_through
from yattle.ui.benches.base import BenchPage
from yattle.ui.benches.survey.columns import COLUMNS
from yattle.ui.benches.survey.model import SurveyModel
from yattle.ui.benches.survey.slate import fill
from yattle.ui.benches.survey.table import RunTable, TableTyping, run_table
from yattle.ui.drawing.canvas import Canvas
from yattle.ui.drawing.grip_canvas import GripCanvas
from yattle.ui.drawing.paint import Ink
from yattle.ui.drawing.roof_solid import RoofSolid
from yattle.ui.store import Store
from yattle.ui.widgets.card import Card
from yattle.ui.widgets.rows import NumberRow
from yattle.ui.widgets.starts import StartPanel
from yattle.ui.widgets.words import Words

VIEWS = (("plan", "Plan"), ("space", "3D"), ("cut", "Section"), ("panels", "Panels"))

_TYPED = {False: "7:12, 30°, 58 % · 14.8 m, 6 200", True: "7:12, 30° · 48' 6 1/2\", 22'"}


class SurveyBench(BenchPage):
    """The roof in plan, in space and cut, its panels, and every edge as a run."""

    name, title = "survey", "Survey"

    def __init__(self, store: Store) -> None:
        super().__init__(store)
        self.model = SurveyModel(store, self.refresh)
        self.plan = GripCanvas("roof in plan")
        self.plan.pressed.connect(self.model.press)
        self.takes(self.plan, self.model.type_measure, lambda key: key.startswith("block:") and key.count(":") == 2)
        self.plan.pulled.connect(self._pull)
        self.plan.nudged.connect(self.model.shape.nudge)
        self.plan.dropped.connect(self._follow_drop)
        self.solid = RoofSolid("roof in space, turnable")
        self.section = Canvas("roof cut along the line", (52, 34, 52, 40))
        self.section.pressed.connect(self.model.press)
        self.face = Canvas("panels on the face", (30, 40, 30, 60))
        self.face.pressed.connect(lambda key: self.model.press(key) if key.startswith("opening") else None)
        self.starts = StartPanel()
        self.starts.chosen.connect(self.model.begin_with)
        self.rows = RunTable(self.model, self.put, self)
        self.table = run_table(self.rows)
        self.table.pasted.connect(self._paste)
        self.typed_in_table = TableTyping(self.table, self.store.session, self._put)
        self.store.typing.add(self.typed_in_table)
        selection = self.table.selectionModel()
        assert selection is not None
        selection.currentRowChanged.connect(self._row_chosen)
        self._lay_out()
        fill(self.slate, self.model, self._go)

    def _go(self, run_id: str, finding: Finding) -> None:
        if finding.field == "adjust":
            self.model.measures.take_adjusted()
            return
        if not self.store.session.select(run=run_id):
            return
        row = self.slate.row(finding.field)
        if isinstance(row, NumberRow):
            row.field.setFocus()

    def _lay_out(self) -> None:
        self.pages = QStackedWidget()
        both = QWidget()
        side = QHBoxLayout(both)
        side.setContentsMargins(0, 0, 0, 0)
        side.addWidget(self.plan, 1)
        side.addWidget(self.section, 1)
        for page in (both, self.solid, self.face, self.starts):
            self.pages.addWidget(page)
        self.buttons = {}
        for name, title in VIEWS:
            button = QPushButton(title)
            button.setCheckable(True)
            button.setToolTip({"plan": "F5", "space": "F6", "cut": "F7", "panels": "F8"}[name])
            button.clicked.connect(lambda _, name=name: self.model.show_view(name))
            self.buttons[name] = button
        self.plan_card = Card(self.pages)
        for button in self.buttons.values():
            self.plan_card.bar.addWidget(button)
        self.wrong = Words()
        self.wrong.setObjectName("wrong")
        self.wrong.setWordWrap(True)
        self.wrong.hide()
        holder = QWidget()
        column = QVBoxLayout(holder)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.wrong)
        column.addWidget(self.table, 1)
        self.table_card = Card(holder)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(8)
        column.addWidget(self.plan_card, 20)
        column.addWidget(self.table_card, 8)

    def _pull(self, part: str, role: str, x: float, y: float, done: bool) -> None:
        """A handle is being dragged: the plan follows; why it cannot is said in its corner."""
        self.model.shape.pull(part, role, x, y, done)
        if part == "cut":
            self.refresh()
            return
        self._draw_plan()

    def _follow_drop(self, x: float, y: float) -> None:
        self.model.shape.follow(x, y)
        self._draw_plan()

    def put(self, run_id: str, field: str, text: str) -> bool:
        """Take what was typed into the table; a wrong text is said above it and changes nothing."""
        return self._put(run_id, field, text) is None

    def _put(self, run_id: str, field: str, text: str, simulated: bool = False) -> str | None:
        wrong = self.store.attempt(lambda: self.model.change(run_id, field, text, simulated))
        self.wrong.setText(f"{run_id} {wrong}" if wrong else "")
        self.wrong.setVisible(bool(wrong))
        return wrong

    def _paste(self, row: int, column: int, texts: list[str]) -> None:
        """A column of measures, from a run down, up to the first that is refused."""
        ids, field = [run.run.id for run in self.store.session.derived.own_runs][row:], COLUMNS[column].field
        for run_id, text in zip(ids, texts, strict=False):
            if self._put(run_id, field, text) is not None:
                return
        taken = min(len(ids), len(texts))
        over = f", {len(texts) - taken} more than there are runs" if len(texts) > taken else ""
        self.store.say(f"{taken} taken into {field}{over}")

    def _row_chosen(self, now: QModelIndex, before: QModelIndex) -> None:
        runs = self.store.session.derived.own_runs
        if 0 <= now.row() < len(runs):
            self.model.press(runs[now.row()].run.id)
            QTimer.singleShot(0, self._refresh_table)  # back to where it was, if that was refused

    def _table_anew(self) -> None:
        viewport = self.table.viewport()
        assert viewport is not None
        viewport.update()

    def drawn_as(self, name: str) -> tuple[str, ...]:
        block, run = self.model.block_id, self.store.session.selection.run
        return (f"block:{block}:{name}", *((run,) if name in ("length", "taped") else ()))

    def measured(self, name: str) -> Drawing | None:
        return self.model.measured(name)

    def refresh(self) -> None:
        self.model.shape.forget_what_is_gone()
        super().refresh()
        session = self.store.session
        roof = session.derived.roof
        for name, button in self.buttons.items():
            button.setChecked(name == self.model.view)
            button.setVisible(bool(roof.facets))
        empty = not roof.facets and not session.job.runs
        shown = {"plan": 0, "cut": 0, "space": 1, "panels": 2}[self.model.view if roof.facets else "plan"]
        self.pages.setCurrentIndex(3 if empty else shown)
        self.section.setVisible(self.model.view == "cut")
        self._say(empty)
        if not empty:
            self._draw(roof)
        self._refresh_table()

    def show_results(self) -> None:
        super().show_results()
        self.rows.tell_all()

    def _say(self, empty: bool) -> None:
        session = self.store.session
        count = len(session.derived.own_runs)
        if empty:
            self.plan_card.say(session.job.name, "no roof yet: press a shape, or Ctrl+Shift+N for a single eave")
            self.table_card.say("Runs", "come with the roof; Ctrl+Shift+N adds one by itself")
            return
        self.model.shape.hint = {"plan": "press a face for its block · Shift press: follow a drop",
                     "cut": "drag the ends of the line"}.get(self.model.view, "")
        self.plan_card.say(session.job.name, session.job.place)
        self.table_card.say("Runs", f"{count} edges · type into a cell: {_TYPED[self.store.unit.parts > 0]}")

    def _draw(self, roof: Roof) -> None:
        m = self.model
        if m.view in ("plan", "cut"):
            self._draw_plan()
        if m.view == "space":
            face = m.facet.id if m.facet is not None else ""
            self.solid.show_roof(roof, m.metal_colour, "" if m.part else m.edge_id, face)
        elif m.view == "cut" and m.shape.cut is not None:
            self.section.show_drawing(cut_drawing(cut_through(roof, m.shape.cut.a, m.shape.cut.b), self.store.unit),
                                      Ink(m.metal_colour, m.part))
        elif m.view == "panels":
            self._draw_panels(roof)

    def _draw_plan(self) -> None:
        m, job, shape = self.model, self.store.session.job, self.model.shape
        still = shape.preview is None
        roof = self.store.session.derived.roof if shape.preview is None else build(shape.preview)
        edges = tuple(PlanEdge(r.run.id, r.edge) for r in roof_runs(job)) if still else tuple(
            PlanEdge(e.id, e) for e in roof.edges)
        eaves = tuple(FreeEave(r.id, r.at, r.bearing, r.length) for r in job.runs)
        pitches = {f.id: m.say_pitch(f.plane.pitch) for f in roof.facets}
        drawing = roof_drawing(roof, edges, eaves, self.store.unit, pitches, m.block_id if m.view == "plan" else "",
                               shape.drop if still else None, still)
        if not still:  # letters and pitches only when it stands still
            drawing = Drawing(tuple(s for s in drawing.shapes if not isinstance(s, Label) or s.strong))
        if m.view == "cut" and shape.cut is not None:
            drawing = Drawing((*drawing.shapes, Line((shape.cut.a, shape.cut.b), "axis")), frame=drawing.box)
        run = "" if m.part else self.store.session.selection.run or ""
        self.plan.corners = (shape.wrong or shape.drop_says(), "north is up")
        self.plan.show_drawing(drawing, Ink(m.metal_colour, run or m.part, points=10.0, sparse=True))
        self.plan.show_handles(shape.handles())

    def _draw_panels(self, roof: Roof) -> None:
        laid, facet = self.model.panels.laid, self.model.facet
        if laid is None or facet is None:
            self.face.show_drawing(Drawing(()), Ink())
            return
        frame = face_frame(facet)
        openings = tuple((p.opening.id, tuple(frame.at(corner) for corner in outline(p.opening)))
                         for p in roof.openings if facet.id in p.facets)
        self.face.corners = (f"{facet.id} seen square on, eave below", "")
        drawing = panel_drawing(laid, frame.width, openings, self.store.unit)
        self.face.show_drawing(drawing, Ink(self.model.metal_colour))

    def _refresh_table(self) -> None:
        self.rows.tell_all()
        ids = [found.run.id for found in self.store.session.derived.own_runs]
        here = "" if self.model.part else base_id(self.store.session.selection.run or "")
        selection = self.table.selectionModel()
        assert selection is not None
        if here not in ids and selection.hasSelection():
            selection.blockSignals(True)
            selection.clear()
            selection.blockSignals(False)
            self._table_anew()
        current = self.table.currentIndex()
        if here in ids and current.row() != ids.index(here):
            selection.blockSignals(True)
            self.table.setCurrentIndex(self.rows.index(ids.index(here), max(current.column(), 0)))
            selection.blockSignals(False)
            self._table_anew()
        if here in ids:
            self.table.scrollTo(self.rows.index(ids.index(here), 0))
