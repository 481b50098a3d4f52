"""The survey bench: the roof in plan, in space and cut, its panels, and every edge as a run."""

from __future__ import annotations

import math
from dataclasses import dataclass

from PyQt6.QtCore import QModelIndex, QTimer
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from yattle.derive import DerivedRun
from yattle.derive.roof_runs import base_id, roof_runs
from yattle.drawing import Drawing, FreeEave, Label, Line, PlanEdge, cut_drawing, panel_drawing, roof_drawing
from yattle.errors import InputError
from yattle.roof import Roof, RoofPlan, build
from yattle.roof.drain import Drop, drop
from yattle.roof.openings import outline
from yattle.roof.panels import face_frame
from yattle.roof.plane import Point, body
from yattle.roof.section import cut_through
from yattle.roof.starts import STARTS, add_block, add_face, add_opening, with_part, without
from yattle.ui.benches.survey_slate import SurveySlate, snapped
from yattle.ui.benches.survey_table import RunTable, TableTyping, run_table
from yattle.ui.drawing.canvas import Canvas
from yattle.ui.drawing.grip_canvas import GripCanvas, Handle
from yattle.ui.drawing.paint import Ink
from yattle.ui.drawing.roof_solid import RoofSolid
from yattle.ui.store import Store
from yattle.ui.widgets.card import Card
from yattle.ui.widgets.starts import StartPanel

VIEWS = (("plan", "Plan"), ("space", "3D"), ("cut", "Section"), ("panels", "Panels"))
_NEAR = 150.0  # mm: walls nearer than this snap to one line


@dataclass
class _Cut:
    """The line of the section in plan."""

    a: Point
    b: Point


class SurveyBench(SurveySlate):
    name, title = "survey", "Survey"

    def __init__(self, store: Store) -> None:
        super().__init__(store)
        self.view = "plan"
        self.preview: RoofPlan | None = None  # the roof while something is dragged
        self.cut: _Cut | None = None
        self.drop: Drop | None = None
        self.hint = ""
        self.plan = GripCanvas("roof in plan")
        self.plan.pressed.connect(self.press)
        self.takes(self.plan, self._type_measure, lambda key: key.startswith("block:") and key.count(":") == 2)
        self.plan.pulled.connect(self._pull)
        self.plan.nudged.connect(self._nudge)
        self.plan.dropped.connect(self._follow_drop)
        self.solid = RoofSolid("roof in space, turnable")
        self.section = Canvas("roof cut along the line", (52, 34, 52, 40))
        self.section.pressed.connect(self.press)
        self.face = Canvas("panels on the face", (30, 40, 30, 60))
        self.face.pressed.connect(lambda key: self.press(key) if key.startswith("opening") else None)
        self.starts = StartPanel()
        self.starts.chosen.connect(self.begin_with)
        self.model = RunTable(self)
        self.table = run_table(self.model)
        self.typed_in_table = TableTyping(self.table, self.store.session, self._put)
        self.store.typing.add(self.typed_in_table)
        selection = self.table.selectionModel()
        assert selection is not None
        selection.currentRowChanged.connect(self._row_chosen)
        self._lay_out()
        self._fill_slate()

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
            button.clicked.connect(lambda _, name=name: self.show_view(name))
            self.buttons[name] = button
        self.plan_card = Card(self.pages)
        for button in self.buttons.values():
            self.plan_card.bar.addWidget(button)
        self.wrong = QLabel()
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

    # -- selecting --------------------------------------------------------------------------------

    def press(self, key: str) -> None:
        """A run's letter, a face, an opening or a measure was pressed."""
        session = self.store.session
        if key.startswith("opening:"):
            session.select(opening=key.partition(":")[2])
        elif key.startswith("face:") or (key.startswith("block:") and key.count(":") == 1):
            session.select(part=key)
        elif not key.startswith("block:"):
            session.select(run=key)

    def show_view(self, name: str) -> None:
        """``plan``, ``space``, ``cut`` or ``panels``; panels need a face, the largest where none is selected."""
        if not self.store.session.settle():
            return
        self.view = name
        roof = self.store.session.derived.roof
        if name == "panels" and self.facet is None and roof.facets:
            self.store.session.select(part=f"face:{max(roof.facets, key=lambda f: f.shape.area).id}")
        self.refresh()

    # -- the roof's parts -------------------------------------------------------------------------

    def begin_with(self, start: str) -> None:
        """Begin an empty job with one of the five shapes."""
        self.store.attempt_aloud(lambda: self.store.session.edit(
            f"begin with {start}", lambda job: job.but(roof=STARTS[start])))
        self.store.session.when_shown(lambda: self.press(f"face:{STARTS[start].blocks[0].id}.1"))

    def add_block(self, kind: str) -> None:
        """A new block against the first one; it is selected, to be dragged or typed where it belongs."""
        plan, name = add_block(self.store.session.job.roof, kind)
        if self.store.attempt_aloud(lambda: self.store.session.edit(
                f"add {name}", lambda job: job.but(roof=plan))):
            self.store.session.when_shown(lambda: self.press(self.part_of_block(name)))

    def add_face(self) -> None:
        """A face from a sketch, for what blocks cannot say: its corners are dragged or typed."""
        plan, name = add_face(self.store.session.job.roof)
        if self.store.attempt_aloud(lambda: self.store.session.edit(f"add {name}", lambda job: job.but(roof=plan))):
            self.store.session.when_shown(lambda: self.press(f"face:{name}.1"))

    def add_opening(self, kind: str) -> None:
        """A new opening in the middle of the selected face."""
        roof = self.store.session.derived.roof
        if not roof.facets:
            self.store.trouble.emit(f"{kind}: found no roof to stand on, expected a block first")
            return
        facet = self.facet
        plan, name = add_opening(self.store.session.job.roof, roof, kind, facet.id if facet else None)
        if self.store.attempt_aloud(lambda: self.store.session.edit(f"add {name}", lambda job: job.but(roof=plan))):
            self.store.session.when_shown(lambda: self.press(f"opening:{name}"))

    def remove_part(self) -> None:
        """Take the selected opening, or the selected face's block, off the roof."""
        item = self.item
        if item is None:
            self.store.trouble.emit("remove: found nothing selected, expected a face or an opening on the plan")
            return
        self.store.attempt_aloud(lambda: self.store.session.edit(
            f"remove {item.id}", lambda job: job.but(roof=without(job.roof, item.id))))

    def _type_measure(self, key: str, text: str) -> str | None:
        """A measure typed on the drawing."""
        _, part, field = key.split(":")
        return self.store.attempt(lambda: self.edit_part(part, f"{part} {field}",
                                                         **{field: self.length_from(text, f"{field} of {part}")}))

    # -- dragging ---------------------------------------------------------------------------------

    @property
    def step(self) -> float:
        """The grid that dragged measures snap to: 50 mm, or two inches."""
        return 50.8 if self.store.unit.name != "mm" else 50.0

    def _handles(self) -> list[Handle]:
        handles = []
        if self.view == "cut" and self.cut is not None:
            return [Handle("cut", "a", self.cut.a), Handle("cut", "b", self.cut.b)]
        item = self.item
        plan = self.preview or self.store.session.job.roof
        if self.part.startswith("opening:") and item is not None:
            shown = next(o for o in plan.openings if o.id == item.id)
            handles.append(Handle(f"opening:{item.id}", "move", (shown.x, shown.y)))
        elif item is not None and hasattr(item, "outline"):
            face = next(f for f in plan.faces if f.id == item.id)
            handles += [Handle(f"face:{item.id}", f"corner {n}", at) for n, at in enumerate(face.outline)]
        elif self.block_id:
            block = next(b for b in plan.blocks if b.id == self.block_id)
            handles += _block_handles(block)
        return handles

    def _pull(self, part: str, role: str, x: float, y: float, done: bool) -> None:
        """A handle is being dragged: the roof follows; let go, it is an edit."""
        if part == "cut" and self.cut is not None:
            self.cut = _Cut((x, y), self.cut.b) if role == "a" else _Cut(self.cut.a, (x, y))
            self.refresh()
            return
        name = part.partition(":")[2]
        plan = self.store.session.job.roof
        item = next(i for i in (*plan.blocks, *plan.openings, *plan.faces) if i.id == name)
        changes = self._pulled(item, role, x, y)
        try:
            pulled = with_part(plan, name, **changes)
            build(pulled)
        except InputError as wrong:
            self.plan.corners = (str(wrong), "")
            if done:
                self.preview = None
                self.refresh()
            return
        self.preview = None if done else pulled
        if done:
            self.store.attempt_aloud(lambda: self.edit_part(name, f"{name} {role}", **changes))
        self._draw_plan()

    def _pulled(self, item, role: str, x: float, y: float) -> dict[str, object]:  # type: ignore[no-untyped-def]
        if role.startswith("corner"):
            corners = list(item.outline)
            corners[int(role.split()[1])] = (snapped(x, self.step), snapped(y, self.step))
            return {"outline": tuple(corners)}
        angle = math.radians(getattr(item, "bearing", 0.0))
        along = math.cos(angle), math.sin(angle)
        u = (x - item.x) * along[0] + (y - item.y) * along[1]
        v = -(x - item.x) * along[1] + (y - item.y) * along[0]
        if role == "length":
            return {"length": max(self.step, snapped(2 * abs(u), self.step))}
        if role == "span":
            return {"span": max(self.step, snapped(2 * abs(v), self.step))}
        if role == "turn":
            return {"bearing": snapped(math.degrees(math.atan2(item.y - y, item.x - x)), 5.0) % 360.0}
        return dict(zip(("x", "y"), self._moved(item, x, y), strict=True))

    def _moved(self, item, x: float, y: float) -> Point:  # type: ignore[no-untyped-def]
        """Where a dragged block comes to: its walls on the lines of other walls where they are near, else the grid."""
        blocks = self.store.session.job.roof.blocks
        if item not in blocks:
            return snapped(x, 10.0), snapped(y, 10.0)
        mine = [(px - item.x, py - item.y) for px, py in body(item).walls]
        others = [p for b in blocks if b.id != item.id for p in (*body(b).walls, (b.x, b.y))]
        result = []
        for axis, value in ((0, x), (1, y)):
            offsets = {0.0, *(m[axis] for m in mine)}
            near = [o[axis] - off for o in others for off in offsets if abs(o[axis] - off - value) < _NEAR]
            result.append(min(near, key=lambda v: abs(v - value)) if near else snapped(value, self.step))
        return round(result[0], 1), round(result[1], 1)

    def _nudge(self, dx: int, dy: int) -> None:
        item = self.item
        if item is not None and hasattr(item, "x"):
            step = self.step if self.block_id else 10.0
            self.store.attempt_aloud(lambda: self.edit_part(
                item.id, f"move {item.id}", x=item.x + dx * step, y=item.y + dy * step))

    def _follow_drop(self, x: float, y: float) -> None:
        """Follow a drop of water from the place pressed."""
        self.drop = drop(self.store.session.derived.roof, (x, y))
        self._draw_plan()

    # -- the table --------------------------------------------------------------------------------

    def put(self, run_id: str, field: str, text: str) -> bool:
        """Take what was typed into the table; a wrong text is said above it and changes nothing."""
        return self._put(run_id, field, text) is None

    def _put(self, run_id: str, field: str, text: str, simulated: bool = False) -> str | None:
        wrong = self.store.attempt(lambda: self._change(run_id, field, text, simulated))
        self.wrong.setText(f"{run_id} {wrong}" if wrong else "")
        self.wrong.setVisible(bool(wrong))
        return wrong

    def _row_chosen(self, now: QModelIndex, before: QModelIndex) -> None:
        runs = self.store.session.derived.own_runs
        if 0 <= now.row() < len(runs):
            self.press(runs[now.row()].run.id)
            QTimer.singleShot(0, self._refresh_table)  # back to where it was, if that was refused

    def _table_anew(self) -> None:
        viewport = self.table.viewport()
        assert viewport is not None
        viewport.update()

    def state(self, derived: DerivedRun) -> str:
        if derived.findings:
            return f"look: {len(derived.findings)}"
        if not derived.made:
            return ""
        if not derived.pieces:
            return "cannot be made"
        return "folds up" if self.store.session.results.proven else "folding …"

    # -- showing ----------------------------------------------------------------------------------

    def refresh(self) -> None:
        self._forget_what_is_gone()
        super().refresh()
        session = self.store.session
        roof = session.derived.roof
        for name, button in self.buttons.items():
            button.setChecked(name == self.view)
            button.setVisible(bool(roof.facets))
        empty = not roof.facets and not session.job.runs
        shown = {"plan": 0, "cut": 0, "space": 1, "panels": 2}[self.view if roof.facets else "plan"]
        self.pages.setCurrentIndex(3 if empty else shown)
        self.section.setVisible(self.view == "cut")
        self._say(empty)
        if not empty:
            self._draw(roof)
        self._refresh_table()

    def show_results(self) -> None:
        super().show_results()
        self.model.tell_all()

    def _forget_what_is_gone(self) -> None:
        if self.drop is not None and self.preview is None:
            start = self.drop.places[0][:2] if self.drop.places else None
            self.drop = drop(self.store.session.derived.roof, start) if start else None
        bodies = self.store.session.derived.roof.bodies
        if self.cut is None and bodies:
            a, b, c, d = bodies[0].roof  # across the first block, a little beyond its eaves
            over = 0.12
            middle = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2), ((c[0] + d[0]) / 2, (c[1] + d[1]) / 2)
            ax, ay = (middle[1][0] - middle[0][0]) * over, (middle[1][1] - middle[0][1]) * over
            self.cut = _Cut((middle[0][0] - ax, middle[0][1] - ay), (middle[1][0] + ax, middle[1][1] + ay))

    def _say(self, empty: bool) -> None:
        session = self.store.session
        count = len(session.derived.own_runs)
        if empty:
            self.plan_card.say(session.job.name, "no roof yet: press a shape, or Ctrl+Shift+N for a single eave")
            self.table_card.say("Runs", "come with the roof; Ctrl+Shift+N adds one by itself")
            return
        self.hint = {"plan": "press a face for its block · Shift press: follow a drop",
                     "cut": "drag the ends of the line"}.get(self.view, "")
        self.plan_card.say(session.job.name, session.job.place)
        self.table_card.say("Runs", f"{count} edges · type into a cell: 7:12, 30°, 58 % · 14.8 m, 48' 6 1/2\"")

    def _draw(self, roof: Roof) -> None:
        if self.view in ("plan", "cut"):
            self._draw_plan()
        if self.view == "space":
            facet = self.facet
            self.solid.show_roof(roof, self.metal_colour, "" if self.part else self.edge_id, facet.id if facet else "")
        elif self.view == "cut" and self.cut is not None:
            self.section.show_drawing(cut_drawing(cut_through(roof, self.cut.a, self.cut.b), self.store.unit),
                                      Ink(self.metal_colour, self.part))
        elif self.view == "panels":
            self._draw_panels(roof)

    def _draw_plan(self) -> None:
        job = self.store.session.job
        roof = build(self.preview) if self.preview is not None else self.store.session.derived.roof
        if self.preview is not None:
            edges = tuple(PlanEdge(e.id, e) for e in roof.edges)
        else:
            edges = tuple(PlanEdge(r.run.id, r.edge) for r in roof_runs(job))
        eaves = tuple(FreeEave(r.id, r.at, r.bearing, r.length) for r in job.runs)
        pitches = {f.id: self.say_pitch(f.plane.pitch) for f in roof.facets}
        measured = self.block_id if self.view == "plan" else ""
        drawing = roof_drawing(roof, edges, eaves, self.store.unit, pitches, measured,
                               self.drop if self.preview is None else None, self.preview is None)
        if self.preview is not None:  # letters and pitches only when it stands still
            drawing = Drawing(tuple(s for s in drawing.shapes if not isinstance(s, Label) or s.strong))
        if self.view == "cut" and self.cut is not None:
            drawing = Drawing((*drawing.shapes, Line((self.cut.a, self.cut.b), "axis")), frame=drawing.box)
        run = "" if self.part else self.store.session.selection.run or ""
        self.plan.corners = (self._drop_says(), "north is up")
        self.plan.show_drawing(drawing, Ink(self.metal_colour, run or self.part, points=10.0, sparse=True))
        self.plan.show_handles(self._handles())

    def _drop_says(self) -> str:
        if self.drop is None:
            return self.hint
        names = {r.edge.id: r.run.id for r in roof_runs(self.store.session.job)}
        way = ", ".join(names.get(edge, edge) for edge in self.drop.edges)
        end = {"off": "and off the roof", "wall": "and stands against the wall", "flat": "stays on the flat roof"}
        return f"the drop comes to {way} {end[self.drop.end]}" if way else end[self.drop.end]

    def _draw_panels(self, roof: Roof) -> None:
        laid, facet = self.laid, self.facet
        if laid is None or facet is None:
            self.face.show_drawing(Drawing(()), Ink())
            return
        frame = face_frame(facet)
        openings = tuple((p.opening.id, tuple(frame.at(corner) for corner in outline(p.opening)))
                         for p in roof.openings if facet.id in p.facets)
        self.face.corners = (f"{facet.id} seen square on, eave below", "")
        self.face.show_drawing(panel_drawing(laid, frame.width, openings, self.store.unit), Ink(self.metal_colour))

    def _refresh_table(self) -> None:
        self.model.tell_all()
        ids = [found.run.id for found in self.store.session.derived.own_runs]
        here = "" if self.part else base_id(self.store.session.selection.run or "")
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
            self.table.setCurrentIndex(self.model.index(ids.index(here), max(current.column(), 0)))
            selection.blockSignals(False)
            self._table_anew()
        if here in ids:
            self.table.scrollTo(self.model.index(ids.index(here), 0))


def _block_handles(block) -> list[Handle]:  # type: ignore[no-untyped-def]
    """Middle, both ends of length and span, and one beyond the ridge's end to turn it."""
    angle = math.radians(block.bearing)
    along, left = (math.cos(angle), math.sin(angle)), (-math.sin(angle), math.cos(angle))

    def at(u: float, v: float) -> Point:
        return block.x + u * along[0] + v * left[0], block.y + u * along[1] + v * left[1]
    part = f"block:{block.id}"
    half, wide = block.length / 2, block.span / 2
    places = (("move", 0.0, 0.0), ("length", half, 0.0), ("length", -half, 0.0), ("span", 0.0, wide),
              ("span", 0.0, -wide), ("turn", -half - 900.0, 0.0))
    return [Handle(part, role, at(u, v)) for role, u, v in places]
