"""The survey's slate: the run, the block, face or opening selected, the water, the measures, the job."""

from __future__ import annotations

from typing import Any

from yattle.errors import InputError
from yattle.job import Job
from yattle.measure import UNITS, parse_angle, say_length, say_thickness
from yattle.metal import library
from yattle.roof.drain import Drainage
from yattle.roof.panels import PanelPlan
from yattle.session.beside import drained, laid_with
from yattle.ui.benches.survey_measures import SurveyMeasures
from yattle.ui.benches.survey_table import COLUMNS
from yattle.ui.frame.slate import Shown

_BLOCK = (("x", "centre east", "mm"), ("y", "centre north", "mm"), ("bearing", "bearing", "°"),
          ("length", "length", "mm"), ("span", "span", "mm"), ("eave_height", "eave height", "mm"),
          ("pitch", "pitch left", "pitch"), ("pitch_right", "pitch right", "pitch?"),
          ("pitch_ends", "pitch ends", "pitch?"), ("eave_overhang", "over eaves", "mm"),
          ("rake_overhang", "over gables", "mm"))
_OPENING = (("x", "from east", "mm"), ("y", "from north", "mm"), ("bearing", "turned", "°"), ("across", "across", "mm"),
            ("along", "along", "mm"), ("diameter", "diameter", "mm"), ("top", "top", "mm?"))
_HINTS = {"length": "wall to wall along the ridge", "span": "wall to wall across the ridge",
          "eave_height": "where roof plane and wall line meet", "bearing": "the ridge, anticlockwise from east",
          "eave_overhang": "in plan", "rake_overhang": "in plan", "pitch_right": "empty: as on the left",
          "pitch_ends": "empty: as on the left", "top": "how high it stands, for the details"}


class SurveySlate(SurveyMeasures):
    """What the survey says and takes."""

    def _put_block(self, name: str) -> str | None:
        self.store.session.select(part=self.part_of_block(name))
        return None

    # -- the slate --------------------------------------------------------------------------------

    def _fill_slate(self) -> None:
        s = self.slate
        with s.when(lambda: not self.part and self.run is not None):
            self._fill_run()
        with s.when(lambda: self.facet is not None):
            self._fill_face()
        with s.when(lambda: bool(self.block_id)):
            s.group("Block")
            s.choice("block", lambda: [(b.id, f"{b.id}, {b.kind}") for b in self.store.session.job.roof.blocks],
                     lambda: self.block_id, self._put_block)
            with s.when(lambda: self.part.startswith("block:")):
                s.said("hidden", lambda: "it lies wholly inside other blocks: move it, or make it higher")
        for field, title, unit in _BLOCK:
            with s.when(lambda field=field: bool(self.block_id) and hasattr(self.item, field)):  # type: ignore[misc]
                self._field_row(field, title, unit)
        with s.when(lambda: bool(self.block_id)):
            self._fill_block_measures()
        with s.when(lambda: hasattr(self.item, "outline")):
            self._fill_sketch()
        with s.when(lambda: self.part.startswith("opening:")):
            s.group("Opening")
            s.said("opening", self._opening_says)
        for field, title, unit in _OPENING:
            with s.when(lambda field=field: self.part.startswith("opening:") and hasattr(self.item, field)):  # type: ignore[misc]
                self._field_row(field, title, unit)
        self._fill_job()
        s.look_list(self._troubles, self._go)

    def _fill_run(self) -> None:
        s = self.slate
        s.group("Run")
        s.words("name", lambda: Shown(self._field("name")), lambda text: self._put_here("name", text))
        s.number("pitch", lambda: Shown(self._field("pitch")), lambda text: self._put_here("pitch", text),
                 "7:12, 30°, 58 %")
        s.number("length", lambda: Shown(self._field("length"), self._edge_says()),
                 lambda text: self._put_here("length", text), "true length of the edge")
        s.number("taped", lambda: Shown(self._field("taped"), self._off()),
                 lambda text: self._put_here("taped", text), "what the tape said; empty if not taped",
                 read=lambda text, simulated: self._put_here("taped", text, simulated))
        self._fill_run_measures()
        with s.when(lambda: bool(self._seams_say())):
            s.said("seams", self._seams_say)
        with s.when(lambda: bool(self._water())):
            s.said("water", self._water)

    def _fill_face(self) -> None:
        s = self.slate
        s.group("Face")
        s.said("face", self._face_says)
        self._fill_face_measures()
        s.group("Panels on this face")
        s.said("panels", self._panels_say)
        s.number("coverage", lambda: Shown(self.say(self.panel_rule.coverage)),
                 lambda text: self._put_panels("coverage", text), "width of one panel once installed")
        s.number("start", self._start, lambda text: self._put_panels("start", text),
                 "from the side to the first seam; empty: the best is worked out")
        s.choice("laid from", lambda: [("left", "the left"), ("right", "the right")], lambda: self.panel_rule.side,
                 lambda key: self._put_panels("side", key))
        s.number("overhang", lambda: Shown(self.say(self.panel_rule.overhang)),
                 lambda text: self._put_panels("overhang", text), "past the eave")
        s.said("to order", self._orders)

    def _fill_sketch(self) -> None:
        s = self.slate
        s.group("Sketched face")
        self._field_row("pitch", "face pitch", "pitch")
        self._field_row("eave_height", "face eave", "mm")
        s.choice("eave edge", lambda: [(str(n), f"from corner {n + 1}") for n in range(len(self.item.outline))],
                 lambda: str(getattr(self.item, "eave", 0)), self._put_eave_edge, "the edge that is level")
        s.words("corners", lambda: Shown("; ".join(f"{x:g}, {y:g}" for x, y in self.item.outline)), self._put_corners,
                "east, north of each corner in mm, corners parted by semicolons")

    def _put_eave_edge(self, key: str) -> str | None:
        return self.store.attempt(lambda: self.edit_part(self.item.id, f"{self.item.id} eave edge", eave=int(key)))

    def _put_corners(self, text: str) -> str | None:
        def put() -> None:
            corners = []
            for n, corner in enumerate(text.split(";"), 1):
                parts = corner.split(",")
                if len(parts) != 2:
                    raise InputError(f"corner {n}", repr(corner.strip()), "east and north, such as 6000, 2500")
                corners.append(tuple(self.length_from(part, f"corner {n}") for part in parts))
            self.edit_part(self.item.id, f"{self.item.id} corners", outline=tuple(corners))
        return self.store.attempt(put)

    def _fill_job(self) -> None:
        s, session = self.slate, self.store.session
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
        s.number("rain", lambda: Shown(f"{session.job.rain:g}", "mm an hour"),
                 lambda text: self.store.attempt(lambda: self._set_job("rain", parse_angle(text, "rain"))),
                 "your entry, from the local code or the weather service; what follows from it is advice")
        self._fill_instrument()

    # -- the run ----------------------------------------------------------------------------------

    def _field(self, name: str) -> str:
        column = next(c for c in COLUMNS if c.field == name)
        return column.show(self, self.run) if self.run else ""  # type: ignore[arg-type]

    def _edge_says(self) -> str:
        run = self.run.run if self.run else None
        if run is None or (run.kind == "eave" and not run.slope):
            return ""
        return ", ".join(([f"slope {run.slope:.2f}°"] if run.slope > 0.005 else [])
                         + ([f"fold {run.fold:.2f}°"] if run.fold is not None else []))

    def _off(self) -> str:
        run = self.run.run if self.run else None
        if run is None or not run.taped:
            return ""
        return f"{run.taped - run.length:+.0f} mm" + (", stand-in" if run.taped_by == "stand-in" else "")

    def _put_here(self, field: str, text: str, simulated: bool = False) -> str | None:
        run_id = self.store.session.selection.run
        if run_id is None:
            return "there is no run yet: add one with Ctrl+Shift+N"
        return self.store.attempt(lambda: self._change(run_id, field, text, simulated))

    def _change(self, run_id: str, field: str, text: str, simulated: bool = False) -> None:
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

    def _water(self) -> str:
        edge, job = self.edge_id, self.store.session.job
        water = self._drainage()
        if not edge or water is None or not water.catchment.get(edge):
            return ""
        return (f"{water.catchment[edge]:.1f} m² drain here, {water.flow(edge, job.rain):.2f} l/s at "
                f"{job.rain:g} mm/h. Advice: gutters and outlets by their maker and the local code")

    def _drainage(self) -> Drainage | None:
        roof = self.store.session.derived.roof
        found = self.desk.get(("water", roof.plan), drained, roof.plan)
        return found if isinstance(found, Drainage) else None

    # -- blocks, faces and openings ---------------------------------------------------------------

    def _field_row(self, field: str, title: str, unit: str) -> None:
        self.slate.number(title, lambda: Shown(self._part_field(field, unit)),
                          lambda text: self.put_part(field, unit, text, title), _HINTS.get(field, ""))

    def _opening_says(self) -> str:
        """The opening or corner in hand."""
        if self.item is not None:
            return f"{self.item.id}, {self.item.kind}"
        of = self.store.session.selection.opening
        return next((f"{found.title}: its pieces are on the trim bench"
                     for found in self.store.session.derived.openings if found.id == of), "–")

    def _face_says(self) -> str:
        facet = self.facet
        if facet is None:
            return "–"
        area = facet.shape.area * facet.plane.stretch / 1e6
        return f"{facet.id}, {self.say_pitch(facet.plane.pitch)}, {area:.1f} m²"

    # -- panels -----------------------------------------------------------------------------------

    @property
    def panel_rule(self) -> Any:
        facet = self.facet
        return self.store.session.job.panel_rule(facet.id if facet is not None else "")

    @property
    def laid(self) -> PanelPlan | None:  # type: ignore[override]
        """The selected face laid with panels."""
        return self.laid_on(self.facet.id) if self.facet is not None else None

    def laid_on(self, name: str) -> PanelPlan | None:
        """A face laid with panels; ``None`` while it is still worked out."""
        roof, rule = self.store.session.derived.roof, self.store.session.job.panel_rule(name)
        found = self.desk.get(("panels", roof.plan, name, rule), laid_with, roof.plan, name, rule,
                              instead=False)
        return found if isinstance(found, PanelPlan) else None

    def _seams_say(self) -> str:
        """Where the panels' seams come to the selected edge, from its left end, for each face beside it."""
        found, roof = self.roof_run, self.store.session.derived.roof
        if found is None:
            return ""
        said = []
        for name in found.edge.facets:
            laid = self.laid_on(name)
            places = laid.on_edges.get(found.edge.id, ()) if laid is not None else ()
            if places:
                shown = ", ".join(say_length(place, self.store.unit, 0) for place in places[:6])
                more = f" … {say_length(places[-1], self.store.unit, 0)}" if len(places) > 6 else ""
                said.append(f"{roof.facet(name).id}: {len(places)} at {shown}{more}")
        return "\n".join(said)

    def _panels_say(self) -> str:
        laid = self.laid
        if laid is None:
            return "being laid"
        clear = min(laid.clearances, key=lambda c: c.clear, default=None)
        said = f"{len(laid.panels)}, first {self.say(laid.first_width)}, last {self.say(laid.last_width)}"
        if clear is None:
            return said
        word = "a seam runs through " if clear.clear < 0 else f"{say_length(clear.clear, self.store.unit, 0)} clear of "
        return f"{said}; {word}{clear.opening}"

    def _start(self) -> Shown:
        rule, laid = self.panel_rule, self.laid
        if rule.start is not None:
            return Shown(self.say(rule.start))
        return Shown("", f"best: {self.say(laid.start)}" if laid is not None else "")

    def _orders(self) -> str:
        laid = self.laid
        if laid is None:
            return "–"
        rows = laid.orders()
        said = [f"{count} × {say_length(length, self.store.unit, 0)}" for length, count in rows[:5]]
        return "\n".join(said) + (f"\nand {len(rows) - 5} lengths more" if len(rows) > 5 else "")

    def _put_panels(self, field: str, text: str) -> str | None:
        facet = self.facet
        assert facet is not None

        def put() -> None:
            value: object = text
            if field != "side":
                value = self.length_from(text, field) if text.strip() else None
            rule = self.panel_rule.but(**{field: value})
            self.store.session.edit(f"panels on {facet.id}", lambda job: job.with_panels(facet.id, rule))
        return self.store.attempt(put)

    # -- the job ----------------------------------------------------------------------------------

    def _gauges(self) -> list[tuple[str, str]]:
        metal = library().find(self.store.session.job.metal)
        return [(f"{t:g}", say_thickness(t, self.store.unit, mark=True)) for t in metal.thicknesses]

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


def snapped(value: float, step: float) -> float:
    """``value`` on the grid of ``step`` mm."""
    return round(value / step) * step if step else value


