"""The fit bench: the roof from the eave up, stage by stage; what each run takes, how it moves, what to check."""

from __future__ import annotations

from collections import Counter
from functools import partial

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QListWidget, QListWidgetItem

from yattle.derive.roof_runs import RoofRun, base_id, roof_runs
from yattle.details import Finding
from yattle.drawing import PlanEdge, roof_drawing
from yattle.install import Need, Packed
from yattle.install.installation import NOTHING, Installation, InstalledRun
from yattle.install.water import STANDS, Joint
from yattle.job.fixing_rules import SAID, FixingRules
from yattle.job.model import LapNote
from yattle.measure import Sum, Term, parse_angle, say_length
from yattle.roof import Roof
from yattle.roof.openings import outline
from yattle.roof.plane import Ring
from yattle.ui.benches.base import BenchPage
from yattle.ui.benches.stage_plan import StagePlan
from yattle.ui.drawing.paint import Ink
from yattle.ui.frame.slate import Shown
from yattle.ui.store import Store
from yattle.ui.widgets.card import Card
from yattle.ui.widgets.playback import Playback

_PACE = 1500  # ms a stage while it plays


class InstallBench(BenchPage):
    name, title = "fit", "Fit"

    def __init__(self, store: Store) -> None:
        super().__init__(store)
        self.stage, self._filling = 0, False
        self.plan, self.list = StagePlan(), QListWidget()
        self.plan.pressed.connect(self._pressed)
        self.list.setAccessibleName("what goes on at this stage")
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.currentItemChanged.connect(self._picked)
        self.playback = Playback("stage", self._slid, _PACE)
        self.slide, self.said, self.play = self.playback.slider, self.playback.said, self.playback.play
        self.back, self.next = self.playback.back, self.playback.next
        self.card = Card(self.plan, self.playback)
        self.note = QLabel()
        self.note.setWordWrap(True)
        self.note.setObjectName("dim")
        self.items_card = Card(self.list, self.note)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        row.addWidget(self.card, 5)
        row.addWidget(self.items_card, 3)
        self._fill_slate()

    # -- what there is --------------------------------------------------------------------------------------

    @property
    def installation(self) -> Installation:
        """How the job is fitted; while it is worked out, as it was a moment ago."""
        return self.store.session.latest.installation or NOTHING

    @property
    def item(self) -> str:
        """The item that is selected."""
        selection = self.store.session.selection
        return selection.opening or selection.run or ""

    @property
    def here(self) -> InstalledRun | None:
        return self.installation.runs.get(self.item)

    def _slid(self, value: int) -> None:
        self.stage = value
        self._show_stage()

    def _picked(self, item: QListWidgetItem | None) -> None:
        if item is None or self._filling:
            return
        name = item.data(Qt.ItemDataRole.UserRole)
        if name in self.installation.runs:
            self.store.session.select(run=name)
        elif any(opening.id == name for opening in self.store.session.derived.openings):
            self.store.session.select(opening=name)

    def _pressed(self, key: str) -> None:
        name = key.removeprefix("opening:")
        stages = self.installation.order.stages
        found = next((n for n, stage in enumerate(stages) if name in stage), None)
        if found is None:
            return
        self.slide.setValue(found)
        self._picked(next((item for item in map(self.list.item, range(self.list.count()))
                           if item is not None and item.data(Qt.ItemDataRole.UserRole) == name), None))

    # -- the slate ---------------------------------------------------------------------------------------------

    def _fill_slate(self) -> None:
        s = self.slate
        with s.when(lambda: self.here is not None):
            s.group("This run")
            s.said("goes on", self._when)
            for what in ("screws", "clips", "wedges", "rivets", "tape", "sealant"):
                with s.when(partial(self._takes, what)):
                    s.read(what, partial(self._need_shown, what))
            with s.when(lambda: bool(self._joints())):
                s.said("joints", self._joints_say)
            s.read("moves", self._moves, "a piece held at one end, from the coldest night to the hottest day")
            s.said("clearance", self._clear)
            s.said("far end", self._far)
            s.choice("goes on after", self._others, lambda: "", self._say_lap, "said by hand; undo takes it back")
        s.group("To order, the whole job")
        for what in ("screws", "clips", "wedges", "rivets", "tape", "sealant", "underlay"):
            with s.when(partial(self._is_ordered, what)):
                s.read(f"{what} in all", partial(self._pack_shown, what))
        s.look_list(self._looks, self._go)
        s.group("House standard of fixing")
        for name in SAID:
            self._rule(name)
        s.choice("screws are of", lambda: [(k, k) for k in ("coated steel", "stainless", "aluminium", "copper")],
                 lambda: self.rules.screws, lambda key: self._change("screws", screws=key))
        s.choice("water comes from", lambda: [(k, k) for k in ("nothing", "copper", "bare steel")],
                 lambda: self.rules.drains_from, lambda key: self._change("water from", drains_from=key))

    @property
    def rules(self) -> FixingRules:
        return self.store.session.job.fit

    def _rule(self, name: str) -> None:
        said = SAID[name]

        def get() -> Shown:
            value = getattr(self.rules, name)
            return Shown(self.say(value) if said.unit == "mm" else f"{value:g}", said.unit if said.unit != "mm" else "")

        def put(text: str) -> str | None:
            def deed() -> None:
                value = self.length_from(text, said.title) if said.unit == "mm" else parse_angle(text, said.title)
                self._changed(said.title, **{name: int(value) if name.endswith("a_pack") else value})
            return self.store.attempt(deed)
        self.slate.number(said.title, get, put, said.source)

    def _change(self, title: str, **changes: object) -> str | None:
        return self.store.attempt(lambda: self._changed(title, **changes))

    def _changed(self, title: str, **changes: object) -> None:
        self.store.session.edit(title, lambda job: job.but(fit=job.fit.but(**changes)))

    def _when(self) -> str:
        order = self.installation.order
        if not any(self.item in stage for stage in order.stages):
            return "–"
        beneath = [lap for lap in self.installation.laps if lap.over == self.item][:2]
        why = "; ".join(f"over {lap.under}: {lap.why}" for lap in beneath)
        return f"stage {order.stage_of(self.item) + 1} of {len(order.stages)}" + (f", {why}" if why else "")

    def _joints(self) -> list[Joint]:
        """The joints between the pieces of this run."""
        return [joint for joint in self.installation.water.joints if joint.run == self.item]

    def _joints_say(self) -> str:
        found = Counter(joint.by for joint in self._joints())
        return "; ".join(f"{many} {STANDS[by]}" for by, many in sorted(found.items()))

    def _takes(self, what: str) -> bool:
        return self._need(what) is not None

    def _is_ordered(self, what: str) -> bool:
        return self._pack(what) is not None

    def _need(self, what: str) -> Need | None:
        return next((need for need in self.here.needs if need.what == what), None) if self.here else None

    def _need_shown(self, what: str) -> Shown:
        need = self._need(what)
        if need is None:
            return Shown("")
        if what == "tape":
            rows = f"{need.rows} rows, " if need.rows > 1 else ""
            return Shown(self._metres(need.many), f"{rows}not stretched")
        if what == "sealant":
            return Shown(f"{need.many:.0f} ml", "the joint stands by it alone" if need.only else "an extra in the laps")
        rows = f"{need.rows} rows, " if need.rows > 1 else ""
        seen = "covered later" if need.hidden else "seen"
        places = need.places
        note = f"{rows}{seen}"
        if len(places) > 2 and what != "rivets":
            step = places[len(places) // 2] - places[len(places) // 2 - 1]
            note = f"{rows}every {say_length(step, self.store.unit, 0)}, {seen}"
        terms = tuple(Term(f"at {self.say(place)}", float(need.rows)) for place in places[:12])
        return Shown(f"{need.many:.0f}", note, Sum(what, terms) if terms else None, lambda v: f"{v:.0f}")

    def _moves(self) -> Shown:
        if self.here is None:
            return Shown("")
        move = self.here.movement
        held = f"fights by {self.here.fights:.1f} if held at both ends" if self.here.fights else "its play takes it"
        return Shown(f"{move.whole:.1f} mm", held, move.sum, lambda v: f"{v:.2f}")

    def _clear(self) -> str:
        """How much room hooks, clips and holes need at a piece's free end."""
        move = self.here.movement if self.here else None
        return f"{move.longer:.1f} mm longer, {move.shorter:.1f} shorter at hooks, clips, holes" if move else ""

    def _far(self) -> str:
        if self.here is None:
            return ""
        end = self.here.far_end
        return f"± {end.spread:.1f} mm (95 of 100 runs); {end.worst} matter most"

    def _others(self) -> list[tuple[str, str]]:
        made = [("", "as water and layers say")]
        return made + [(item.id, item.name) for item in self.installation.items if item.id != self.item]

    def _say_lap(self, key: str) -> str | None:
        note = LapNote(over=self.item, under=key) if key else None
        return self.store.attempt(lambda: self.store.session.edit(f"{self.item} after {key}", lambda job: job.but(
            laps=(*job.laps, note) if note else tuple(lap for lap in job.laps if lap.over != self.item))))

    def _pack(self, what: str) -> Packed | None:
        return next((pack for pack in self.installation.packs if pack.what == what), None)

    def _pack_shown(self, what: str) -> Shown:
        pack = self._pack(what)
        if pack is None:
            return Shown("")
        one = {"tape": "roll", "underlay": "roll", "sealant": "tube"}.get(what, "pack")
        units = one if pack.packs == 1 else f"{one}s"
        unit = {"sealant": " ml", "underlay": " m²"}.get(what, "")
        many = self._metres(pack.many) if what == "tape" else f"{pack.many:.0f}{unit}"
        terms = tuple(Term(run_id, many) for run_id, many in self.installation.shares.get(what, ()))
        if what == "underlay":
            laps = 1 + self.rules.underlay_laps
            terms = tuple(Term(f"face {face}", area * laps) for face, area in self.installation.underlay.items())
        return Shown(many, f"{pack.packs} {units} with spare", Sum(what, terms),
                     self._metres if what == "tape" else lambda v: f"{v:.0f}")

    def _metres(self, mm: float) -> str:
        return say_length(mm, self.store.unit) if self.store.unit.parts else f"{mm / 1000:.1f} m"

    def _looks(self) -> list[tuple[str, Finding]]:
        return list(self.installation.findings)

    def _go(self, item: str, finding: Finding) -> None:
        if item:
            self._pressed(item)

    def show_results(self) -> None:
        self.refresh()

    # -- showing -------------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        stages = self.installation.order.stages
        self.slide.blockSignals(True)
        self.slide.setRange(0, max(len(stages) - 1, 0))
        self.slide.blockSignals(False)
        found = next((n for n, stage in enumerate(stages) if self.item in stage), None)
        if found is not None and self.item not in (stages[self.stage] if self.stage < len(stages) else ()):
            self.slide.setValue(found)
        self.stage = min(self.stage, max(len(stages) - 1, 0))
        self._show_stage()
        super().refresh()

    def _show_stage(self) -> None:
        fit, roof = self.installation, self.store.session.derived.roof
        stages = fit.order.stages
        job = self.store.session.job
        runs = roof_runs(job)
        self.plan.show_drawing(roof_drawing(roof, tuple(PlanEdge(r.run.id, r.edge) for r in runs), (), self.store.unit),
                               Ink(self.metal_colour, self.item, points=10.0, sparse=True))
        done = {name for stage in stages[:self.stage] for name in stage}
        now = set(stages[self.stage]) if stages else set()
        self.plan.done, self.plan.now = (self._areas(roof, names) for names in (done, now))
        self.plan.lines = self._edges(runs, done), self._edges(runs, now)
        sealed = [joint for joint in fit.water.sealed if joint.at is not None and joint.run in done | now]
        self.plan.sealed = [joint.at[:2] for joint in sealed if joint.at is not None]
        self.plan.update()
        against = len(fit.order.troubles) + sum(not passage.over for passage in fit.water.passages)
        rings = ", a ring: sealant alone" if sealed else ""
        self.plan.corners = (f"green is on, copper goes on now{rings}", "north is up")
        self.card.say("From the eave up", "", "" if against else "no lap against the water")
        self.said.setText(f"stage {self.stage + 1} of {len(stages)}" if stages else "nothing to fit yet")
        self.items_card.say(f"Stage {self.stage + 1}" if stages else "No roof yet", f"{len(now)} items")
        self._fill_list(fit, stages[self.stage] if stages else ())
        said = [*fit.cautions(self.stage), *(f"Check {check}." for check in fit.checks(self.stage))] if stages else [
            "Begin on the survey: a roof, then its trims; the order follows by itself."]
        self.note.setText("\n".join(said))

    def _fill_list(self, fit: Installation, names: tuple[str, ...]) -> None:
        self._filling = True
        self.list.clear()
        for name in names:
            row = QListWidgetItem(fit.item(name).name)
            row.setData(Qt.ItemDataRole.UserRole, name)
            row.setToolTip("\n".join(f"over {lap.under}: {lap.why}" for lap in fit.laps if lap.over == name))
            self.list.addItem(row)
            if name == self.item:
                self.list.setCurrentItem(row)
        self._filling = False

    @staticmethod
    def _areas(roof: Roof, names: set[str]) -> list[Ring]:
        """Faces whose panels, and openings whose pieces, are among ``names``."""
        faces = [facet.ring for facet in roof.facets if f"panels {facet.id}" in names]
        holes = [outline(placed.opening) for placed in roof.openings if placed.opening.id in names]
        return [tuple(ring) for ring in (*faces, *holes)]

    @staticmethod
    def _edges(runs: tuple[RoofRun, ...], names: set[str]) -> list[tuple[QPointF, QPointF]]:
        wanted = {base_id(name.removeprefix("wall ")) for name in names}
        return [(QPointF(*found.edge.a[:2]), QPointF(*found.edge.b[:2])) for found in runs if found.run.id in wanted]
