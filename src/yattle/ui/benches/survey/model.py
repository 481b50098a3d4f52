"""What the survey knows: the roof's parts, the run, block, face or opening in hand, water, panels, the job."""

from __future__ import annotations

from collections.abc import Callable

from yattle.derive import DerivedRun
from yattle.errors import InputError
from yattle.install.rain import CODE, gutter_for
from yattle.job.counted import counted_in, said_in
from yattle.job.in_use import with_metal
from yattle.measure import Area, Flow, Rain, Whole, parse_angle, say_thickness
from yattle.metal import OwnMetal, library
from yattle.roof.drain import Drainage
from yattle.roof.starts import STARTS, add_block, add_face, add_opening, without
from yattle.session.beside import drained
from yattle.ui.benches.host import Host
from yattle.ui.benches.survey.columns import COLUMNS
from yattle.ui.benches.survey.measures import Measures
from yattle.ui.benches.survey.panels import PanelsHere
from yattle.ui.benches.survey.selected import SurveySelection
from yattle.ui.benches.survey.shape import ShapeHand


class SurveyModel(SurveySelection):
    """The survey with its measures, the panels of the face in hand and the roof's shape in the hand."""

    def __init__(self, store: Host, changed: Callable[[], None]) -> None:
        super().__init__(store, changed)
        self.panels, self.shape = PanelsHere(self), ShapeHand(self)
        self.measures = Measures(self, self.panels)

    def put_block(self, name: str) -> str | None:
        self.store.session.select(part=self.part_of_block(name))
        return None

    def put_fascia(self, fascia: str) -> str | None:
        """Whether eaves of different pitches have one overhang or one height."""
        return self.store.attempt(lambda: self.edit_part(self.item.id, f"{self.item.id} eaves", fascia=fascia))

    def put_eave_edge(self, key: str) -> str | None:
        return self.store.attempt(lambda: self.edit_part(self.item.id, f"{self.item.id} eave edge", eave=int(key)))

    def put_corners(self, text: str) -> str | None:
        def put() -> None:
            corners = []
            for n, corner in enumerate(text.split(";"), 1):
                parts = corner.split(",")
                if len(parts) != 2:
                    raise InputError(f"corner {n}", repr(corner.strip()), "east and north, such as 6000, 2500")
                corners.append(tuple(self.length_from(part, f"corner {n}") for part in parts))
            self.edit_part(self.item.id, f"{self.item.id} corners", outline=tuple(corners))
        return self.store.attempt(put)

    def field(self, name: str) -> str:
        column = next(c for c in COLUMNS if c.field == name)
        return column.show(self, self.run) if self.run else ""

    def edge_says(self) -> str:
        run = self.run.run if self.run else None
        if run is None or (run.kind == "eave" and not run.slope):
            return ""
        return ", ".join(([f"slope {run.slope:.2f}°"] if run.slope > 0.005 else [])
                         + ([f"fold {run.fold:.2f}°"] if run.fold is not None else []))

    def off(self) -> str:
        run = self.run.run if self.run else None
        if run is None or not run.taped:
            return ""
        off = Whole(run.taped - run.length).say(self.store.unit)
        return (off if off.startswith("-") else f"+{off}") + (", stand-in" if run.taped_by == "stand-in" else "")

    def put_here(self, field: str, text: str, simulated: bool = False) -> str | None:
        run_id = self.store.session.selection.run
        if run_id is None:
            return "there is no run yet: add one with Ctrl+Shift+N"
        return self.store.attempt(lambda: self.change(run_id, field, text, simulated))

    def change(self, run_id: str, field: str, text: str, simulated: bool = False) -> None:
        value: object = text.strip()
        if field == "pitch":
            value = self.pitch_from(text)
        elif field == "taped" and not text.strip():
            value = None
        elif field in ("length", "taped"):
            value = self.length_from(text, field)
        if field == "length" and self.run is not None and abs(self.run.run.length - float(value)) < 0.06:  # type: ignore[arg-type]
            return  # what was shown, read again
        changes = {field: value} | ({"taped_by": "stand-in" if simulated else "tape"} if field == "taped" else {})
        self.store.session.edit_run(f"{run_id} {field}", run_id, **changes)

    def water(self) -> str:
        edge, job = self.edge_id, self.store.session.job
        water = self._drainage()
        if not edge or water is None or not water.catchment.get(edge):
            return ""
        flow, own = water.flow(edge, job.rain), self.store.session.derived.roof.edge(edge)
        unit = self.store.unit
        wants = "" if own.kind != "eave" else f": {gutter_for(flow, own.length).says(unit)}"
        return (f"{Area(water.catchment[edge]).say(unit)} drain here, {Flow(flow).say(unit)} at "
                f"{Rain(job.rain).say(unit)}{wants}. Advice: {CODE}")

    def _drainage(self) -> Drainage | None:
        roof = self.store.session.derived.roof
        found = self.desk.get(("water", roof.plan), drained, roof.plan)
        return found if isinstance(found, Drainage) else None

    def opening_says(self) -> str:
        """The opening or corner in hand."""
        if self.item is not None:
            return f"{self.item.id}, {self.item.kind}"
        of = self.store.session.selection.opening
        return next((f"{found.title}: its pieces are on the trim bench"
                     for found in self.store.session.derived.openings if found.id == of), "–")

    def face_says(self) -> str:
        facet = self.facet
        if facet is None:
            return "–"
        area = facet.shape.area * facet.plane.stretch / 1e6
        return f"{facet.id}, {self.say_pitch(facet.plane.pitch)}, {Area(area).say(self.store.unit)}"

    def gauges(self) -> list[tuple[str, str]]:
        metal = self.store.session.job.metal_used
        gauges = sorted({*metal.thicknesses, self.store.session.job.thickness})
        return [(f"{t:g}", say_thickness(t, self.store.unit, mark=True)) for t in gauges]

    def metals(self) -> list[tuple[str, str]]:
        """Those of the library and the job's own."""
        return [(m.id, m.name) for m in library().metals] + [
            (own.name, f"{own.name} (own)") for own in self.store.session.job.metals]

    def put_thickness(self, text: str) -> str | None:
        """A gauge as it is typed, also one that is not usual."""
        return self.store.attempt(lambda: self.set_job("thickness", self.length_from(text, "thickness")))

    @property
    def own_metal(self) -> OwnMetal | None:
        """The job's metal, where it is one of its own."""
        job = self.store.session.job
        return next((own for own in job.metals if own.name == job.metal), None)

    def add_metal(self, text: str) -> str | None:
        """A metal of the shop's own, with the figures of the one in use until others are typed."""
        job, name, now = self.store.session.job, text.strip(), self.store.session.job.metal_used
        if not name:
            return None

        def deed() -> None:
            if name in {key for key, _ in self.metals()} | {m.name for m in library().metals}:
                raise InputError("own metal", f"{name!r}, which there is", "another name")
            own = OwnMetal(name=name, family=now.family, density=now.density, expansion=now.expansion,
                           thickness=job.thickness, inside_radius=now.inside_radius,
                           k=float(now.allowance.get("k", 0.33)), springback=now.springback, paint=now.paint,
                           colour=now.colour, source=f"as {now.name} until its maker's figures are typed")
            self.store.session.edit(f"own metal {name}", lambda job: with_metal(
                job.but(metals=(*job.metals, own)), name, job.thickness))
        return self.store.attempt(deed)

    def put_own_metal(self, field: str, text: str, title: str) -> str | None:
        """One figure of the own metal in use."""
        def deed() -> None:
            value = text.strip() if field == "source" else parse_angle(text, title)
            self.store.session.edit(f"{self.store.session.job.metal}: {title}", lambda job: job.but(metals=tuple(
                own.but(**{field: value}) if own.name == job.metal else own for own in job.metals)))
        return self.store.attempt(deed)

    def put_metal(self, key: str) -> str | None:
        """Another metal: its first gauge, its usual springback until the brake has shown its own."""
        own = next((one.metal for one in self.store.session.job.metals if one.name == key), None)
        metal = own or library().find(key)
        return self.store.attempt(lambda: self.store.session.edit(
            "metal", lambda job: with_metal(job, key, metal.thicknesses[0])))

    def put_unit(self, unit: str) -> str | None:
        """Say lengths in another unit; an empty job counts in it too."""
        return self.store.attempt(lambda: self.store.session.edit("units", lambda job: said_in(job, unit)))

    def put_system(self, system: str) -> str | None:
        """Count in mm or in feet and inches: the house standard and the fixings of those who do."""
        return self.store.attempt(lambda: self.store.session.edit(
            f"counts in {system}", lambda job: counted_in(job, "inch" if system == "inch" else "metric")))

    def put_job(self, name: str, value: object) -> str | None:
        return self.store.attempt(lambda: self.set_job(name, value))

    def set_job(self, name: str, value: object) -> None:
        self.store.session.edit(name.replace("_", " "), lambda job: with_metal(job, job.metal, float(str(value)))
                                if name == "thickness" else job.but(**{name: value}))

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
        self.changed()

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
            self.store.complain(f"{kind}: found no roof to stand on, expected a block first")
            return
        facet = self.facet
        plan, name = add_opening(self.store.session.job.roof, roof, kind, facet.id if facet else None)
        if self.store.attempt_aloud(lambda: self.store.session.edit(f"add {name}", lambda job: job.but(roof=plan))):
            self.store.session.when_shown(lambda: self.press(f"opening:{name}"))

    def remove_part(self) -> None:
        """Take the selected opening, or the selected face's block, off the roof."""
        item = self.item
        if item is None:
            self.store.complain("remove: found nothing selected, expected a face or an opening on the plan")
            return
        self.store.attempt_aloud(lambda: self.store.session.edit(
            f"remove {item.id}", lambda job: job.but(roof=without(job.roof, item.id))))

    def type_measure(self, key: str, text: str) -> str | None:
        """A measure typed on the drawing."""
        _, part, field = key.split(":")
        return self.store.attempt(lambda: self.edit_part(part, f"{part} {field}",
                                                         **{field: self.length_from(text, f"{field} of {part}")}))

    def state(self, derived: DerivedRun) -> str:
        if derived.findings:
            return f"look: {len(derived.findings)}"
        if not derived.made:
            return ""
        if not derived.pieces:
            return "cannot be made"
        return "folds up" if self.store.session.results.folds_up else "folding …"

