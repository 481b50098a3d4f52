"""The roof from the eave up, stage by stage."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt, QTimer
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QHBoxLayout, QListWidget, QListWidgetItem, QPushButton, QStackedWidget

from yattle.derive.roof_runs import RoofRun, base_id, roof_runs
from yattle.details import Finding
from yattle.drawing import PlanEdge, roof_drawing
from yattle.install.installation import Installation
from yattle.install.parting import panels_of
from yattle.ui.benches.base import BenchPage
from yattle.ui.benches.install.model import InstallModel
from yattle.ui.benches.install.slate import fill
from yattle.ui.benches.install.stage_plan import StagePlan
from yattle.ui.drawing.built_solid import BuiltSolid
from yattle.ui.drawing.paint import Ink
from yattle.ui.store import Store
from yattle.ui.widgets.card import Card, foot
from yattle.ui.widgets.playback import Playback
from yattle.ui.widgets.slide import slider
from yattle.ui.widgets.words import Words, plain

_NONE = "No roof yet"
_PACE = 1500  # ms a stage while it plays
_IDLE = 2000  # ms without a change until the roof is put together unasked
_CUTS = 1000  # places of the slider that cuts the roof open: some 20 mm each


class InstallBench(BenchPage):
    """The roof from the eave up, stage by stage."""

    name, title = "fit", "Fit"

    def __init__(self, store: Store) -> None:
        super().__init__(store)
        self.model = InstallModel(store, self.refresh)
        self.stage, self.view, self._filling = 0, "plan", False
        self._idle = QTimer(self)
        self._idle.setSingleShot(True)
        self._idle.setInterval(_IDLE)
        self._idle.timeout.connect(self._put_together)
        self.plan, self.list = StagePlan(), QListWidget()
        self.plan.pressed.connect(self._pressed)
        self.list.setAccessibleName("what goes on at this stage")
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.currentItemChanged.connect(self._picked)
        self.playback = Playback("stage", self._slid, _PACE)
        self.slide, self.said, self.play = self.playback.slider, self.playback.said, self.playback.play
        self.back, self.next = self.playback.back, self.playback.next
        self.solid = BuiltSolid("roof as built")
        self.apart = slider("drawn apart", self._drawn_apart)
        self.apart.setValue(0)
        self.open = slider("cut open", self._cut_open, _CUTS)
        self.open.setValue(0)
        self.pages = QStackedWidget()
        for page in (self.plan, self.solid):
            self.pages.addWidget(page)
        self.space = foot(Words("apart"), self.apart, Words("cut"), self.open)
        self.card = Card(self.pages, self.space, self.playback)
        self.views = {}
        for name, title, key in (("plan", "Plan", "Ctrl+5"), ("built", "As built", "Shift+F5")):
            button = QPushButton(title)
            button.setCheckable(True)
            button.setToolTip(key)
            button.clicked.connect(lambda _, name=name: self.show_view(name))
            self.views[name] = button
            self.card.bar.addWidget(button)
        self.note = Words()
        self.note.setWordWrap(True)
        self.note.setObjectName("dim")
        self.items_card = Card(self.list, self.note)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        row.addWidget(self.card, 5)
        row.addWidget(self.items_card, 3)
        fill(self.slate, self.model, self._go)
        self.store.share_changed.connect(self._say_built)

    def show_view(self, name: str) -> None:
        """The stages in ``plan``, or the roof as ``built``, in space."""
        self.view = name
        self.solid.light(None)
        self.plan.lit = None if name == "built" else self.plan.lit
        self._look_soon()
        self._show_stage()

    def _drawn_apart(self, value: int) -> None:
        self.solid.apart = value / 100
        self.solid.update()

    def _cut_open(self, value: int) -> None:
        self.solid.cut = 1.0 - 0.9 * value / _CUTS
        self.solid.update()

    def _slid(self, value: int) -> None:
        self.stage = value
        self._show_stage()

    def _picked(self, item: QListWidgetItem | None) -> None:
        if item is None or self._filling:
            return
        name = item.data(Qt.ItemDataRole.UserRole)
        before = self.model.item
        self.model.pick("")
        if name in self.model.installation.runs:
            self.store.session.select(run=name)
        elif any(opening.id == name for opening in self.store.session.derived.openings):
            self.store.session.select(opening=name)
        else:
            self.model.pick(name)
        if self.model.item != before:
            self.refresh()

    def _pressed(self, key: str) -> None:
        name = key.removeprefix("opening:")
        if key.startswith("face:"):
            name = panels_of(key.removeprefix("face:"), 0)
        stages = self.model.installation.order.stages
        found = next((n for n, stage in enumerate(stages) if name in stage), None)
        if found is None:
            return
        self.slide.setValue(found)
        self._picked(next((item for item in map(self.list.item, range(self.list.count()))
                           if item is not None and item.data(Qt.ItemDataRole.UserRole) == name), None))

    def _go(self, item: str, finding: Finding) -> None:
        if item:
            self._pressed(item)
        place = self.model.place_of(finding)
        if place is not None:
            self.show_view("built")
            self.solid.light(place)
            self.plan.lit = place[:2]  # to be seen there too

    def show_results(self) -> None:
        self.refresh()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._look_soon()

    def _look_soon(self) -> None:
        """Have the roof put together once nobody changes anything for a moment: it takes its second."""
        if self.view == "built" and self.isVisible():
            self.store.session.want_built()
            self._idle.start()
        else:
            self._idle.start()

    def _put_together(self) -> None:
        if self.isVisible():
            self.store.session.want_built()
        built = self.store.session.results.built
        if self.isVisible() and self.view == "built" and built is not None and built.whole:
            self.store.session.want_scatter()

    def refresh(self) -> None:
        self._look_soon()
        stages = self.model.installation.order.stages
        self.slide.blockSignals(True)
        self.slide.setRange(0, max(len(stages) - 1, 0))
        self.slide.blockSignals(False)
        found = next((n for n, stage in enumerate(stages) if self.model.item in stage), None)
        if found is not None and self.model.item not in (stages[self.stage] if self.stage < len(stages) else ()):
            self.slide.setValue(found)
        self.stage = min(self.stage, max(len(stages) - 1, 0))
        self._show_stage()
        super().refresh()

    def _show_stage(self) -> None:
        fit, roof = self.model.installation, self.store.session.derived.roof
        stages = fit.order.stages
        job = self.store.session.job
        runs = roof_runs(job)
        self.plan.show_drawing(roof_drawing(roof, tuple(PlanEdge(r.run.id, r.edge) for r in runs), (), self.store.unit),
                               Ink(self.model.metal_colour, self.model.item, points=10.0, sparse=True))
        done = {name for stage in stages[:self.stage] for name in stage}
        now = set(stages[self.stage]) if stages else set()
        self.plan.done, self.plan.now = (self.model.areas(roof, names) for names in (done, now))
        self.plan.lines = self._edges(runs, done), self._edges(runs, now)
        sealed = [joint for joint in fit.water.sealed if joint.at is not None and joint.run in done | now]
        self.plan.sealed = [joint.at[:2] for joint in sealed if joint.at is not None]
        self.plan.unfit = self.model.unfit_places()
        self.plan.update()
        against = len(fit.order.troubles) + sum(not passage.over for passage in fit.water.passages)
        rings = ", a ring: sealant alone" if sealed else ""
        crosses = ", a cross: does not fit" if self.plan.unfit else ""
        self.plan.corners = (f"green is on, copper goes on now{rings}{crosses}", "north is up")
        self._show_view()
        if self.view == "plan":
            self.card.say("From the eave up", "" if against else "laps right")
        else:  # in grey: not everything is checked yet
            self._say_built()
        self.said.setText(f"stage {self.stage + 1} of {len(stages)}" if stages else "")
        head = f"Stage {self.stage + 1}" if stages else self._none_yet
        self.items_card.say(head, f"{len(now)} items" if stages else "")
        self._fill_list(fit, stages[self.stage] if stages else ())
        said = [*fit.cautions(self.stage), *(f"Check {check}." for check in fit.checks(self.stage))] if stages else []
        if head == _NONE:
            said = ["Begin on the survey: a roof, then its trims; the order follows by itself."]
        self.note.setText("\n".join(said))

    def _say_built(self) -> None:
        if self.view == "built":
            self.card.say("From the eave up", self.model.built_say())

    @property
    def _none_yet(self) -> str:
        """What is said while there are no stages: none of an empty job; else they come."""
        return "being worked out …" if self.store.session.derived.runs else _NONE

    def _show_view(self) -> None:
        """The drawing that is chosen; the roof in space only where it is put together."""
        built = self.model.built if self.view == "built" else None
        for name, button in self.views.items():
            button.setChecked(name == self.view)
        self.pages.setCurrentIndex(int(self.view == "built"))
        self.space.setVisible(self.view == "built")
        if self.view == "built":
            self.solid.show_built(built, self.model.metal_colour, self.stage + 1, self.model.item)

    @staticmethod
    def _edges(runs: tuple[RoofRun, ...], names: set[str]) -> list[tuple[QPointF, QPointF]]:
        wanted = {base_id(name.removeprefix("wall ")) for name in names}
        return [(QPointF(*found.edge.a[:2]), QPointF(*found.edge.b[:2])) for found in runs if found.run.id in wanted]

    def _fill_list(self, fit: Installation, names: tuple[str, ...]) -> None:
        self._filling = True
        self.list.clear()
        for name in names:
            row = QListWidgetItem(fit.item(name).name)
            row.setData(Qt.ItemDataRole.UserRole, name)
            row.setToolTip(plain("\n".join(f"over {lap.under}: {lap.why}" for lap in fit.laps if lap.over == name)))
            self.list.addItem(row)
            if name == self.model.item:
                self.list.setCurrentItem(row)
        self._filling = False
