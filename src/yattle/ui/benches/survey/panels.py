"""The panels of the face in hand, and where their seams come to the run in hand."""

from __future__ import annotations

from typing import Any

from yattle.derive.laying import rule_on
from yattle.job.panel_systems import ruled_by, with_own_system, with_system
from yattle.measure import say_length
from yattle.panels import PanelSystem, derive_profile, library
from yattle.roof.build_up import build_up
from yattle.roof.panels import PanelPlan
from yattle.roof.structure import Structure
from yattle.session.beside import laid_with
from yattle.ui.benches.survey.selected import SurveySelection
from yattle.ui.shown import Shown

_SPACING = 600.0  # mm: usual between battens


class PanelsHere:
    """Laid beside the window, asked for when they are wanted."""

    def __init__(self, survey: SurveySelection) -> None:
        self.survey, self.store = survey, survey.store

    @property
    def panel_rule(self) -> Any:
        facet = self.survey.facet
        return self.store.session.job.panel_rule(facet.id if facet is not None else "")

    @property
    def laid(self) -> PanelPlan | None:
        """The selected face laid with panels."""
        return self.laid_on(self.survey.facet.id) if self.survey.facet is not None else None

    def laid_on(self, name: str) -> PanelPlan | None:
        """A face laid with panels; ``None`` while it is still worked out."""
        roof = self.store.session.derived.roof
        rule = rule_on(self.store.session.job, roof.facet(name))
        found = self.survey.desk.get(("panels", roof.plan, name, rule), laid_with, roof.plan, name, rule,
                              instead=False)
        return found if isinstance(found, PanelPlan) else None

    def seams_say(self) -> str:
        """Where the panels' seams come to the selected edge, from its left end, for each face beside it."""
        found, roof = self.survey.roof_run, self.store.session.derived.roof
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

    def panels_say(self) -> str:
        laid = self.laid
        if laid is None:
            return "being laid"
        clear = min(laid.clearances, key=lambda c: c.clear, default=None)
        said = f"{len(laid.panels)}, first {self.survey.say(laid.first_width)}, last {self.survey.say(laid.last_width)}"
        if clear is None:
            return said
        word = "a seam runs through " if clear.clear < 0 else f"{say_length(clear.clear, self.store.unit, 0)} clear of "
        return f"{said}; {word}{clear.opening}"

    def start(self) -> Shown:
        rule, laid = self.panel_rule, self.laid
        if rule.start is not None:
            return Shown(self.survey.say(rule.start))
        return Shown("", f"best: {self.survey.say(laid.start)}" if laid is not None else "")

    def orders(self) -> str:
        laid = self.laid
        if laid is None:
            return "–"
        rows = laid.orders()
        shown = rows if len(rows) <= 6 else rows[:5]
        said = [f"{count} × {say_length(length, self.store.unit, 0)}" for length, count in shown]
        return "\n".join(said) + (f"\nand {len(rows) - 5} more lengths" if shown is not rows else "")

    def systems(self) -> list[tuple[str, str]]:
        """Those of the library and those kept in the job."""
        job = self.store.session.job
        names = dict.fromkeys([*(s.name for s in library()), *(s.name for s in job.systems)])
        return [("", "only a coverage"), *((name, name) for name in names)]

    def put_system(self, name: str, face: str) -> str | None:
        """A panel system for one face, or (no face) for all that have no rule of their own."""
        where = f"panels on {face}" if face else "panels"
        return self.store.attempt(lambda: self.store.session.edit(
            where, lambda job: with_system(job, name, face)))

    def system_says(self) -> str:
        """What is read off the profile of the system in hand."""
        facet, job = self.survey.facet, self.store.session.job
        system = job.panel_system(facet.id if facet is not None else "")
        if system is None:
            return "–"
        read = derive_profile(system)
        high, clear = self.survey.say(read.height), self.survey.say(read.clear)
        ribs = f", ribs every {self.survey.say(read.rib_pitch)}" if read.ribs else ""
        return f"{high} high, clear {clear}{ribs}; from {system.rules.least_pitch:.1f}° on"

    @property
    def _system(self) -> PanelSystem | None:
        facet = self.survey.facet
        return self.store.session.job.panel_system(facet.id if facet is not None else "")

    def makers(self) -> list[tuple[str, str]]:
        """Who makes the panels of the system in hand; nobody knows that of a mere coverage."""
        return [("shop", "in the shop, of coil"), ("bought", "bought")] if self._system is not None else [("", "–")]

    def made(self) -> str:
        return self._system.made if self._system is not None else ""

    def put_made(self, key: str) -> str | None:
        """Who makes the panels of the system in hand, on all faces that are laid with it."""
        system = self._system
        if system is None or not key:
            return None
        return self.store.attempt(lambda: self.store.session.edit(
            f"{system.name} {'made here' if key == 'shop' else 'bought'}",
            lambda job: with_own_system(job, system.but(made=key))))

    @property
    def structure(self) -> Structure:
        """What the selected face lies on."""
        facet = self.survey.facet
        return self.store.session.job.structure_of(facet.id if facet is not None else "")

    def put_structure_kind(self, kind: str) -> str | None:
        """A deck, or supports: as the house has them, until somebody measures."""
        spacing = self.structure.spacing or _SPACING
        return self._put_structure(kind=kind, spacing=spacing if kind == "supports" else 0.0)

    def put_structure(self, field: str, text: str) -> str | None:
        """A measure of what the face lies on."""
        found: list[float] = []
        wrong = self.store.attempt(lambda: found.append(self.survey.length_from(text, field)))
        return wrong or self._put_structure(**{field: found[0]})

    def _put_structure(self, **changes: object) -> str | None:
        facet = self.survey.facet
        assert facet is not None
        return self.store.attempt(lambda: self.store.session.edit(
            f"what {facet.id} lies on", lambda job: job.with_structure(self.structure.but(**changes), facet.id)))

    def heights_say(self) -> str:
        """Where the panels' flats and the tops of their seams lie over the deck or the supports."""
        facet, job = self.survey.facet, self.store.session.job
        system = job.panel_system(facet.id if facet is not None else "")
        if system is None:
            return "–"
        built = build_up(self.structure, system.thickness, derive_profile(system).height, system.core)
        parts = " + ".join(f"{layer.name} {self.survey.say(layer.thick)}" for layer in built.layers)
        return f"{parts} = {self.survey.say(built.layers[-1].top)}; flats {self.survey.say(built.flat)} over what bears"

    def put_panels(self, field: str, text: str) -> str | None:
        facet = self.survey.facet
        assert facet is not None

        def put() -> None:
            value: object = text
            if field != "side":
                value = self.survey.length_from(text, field) if text.strip() else None
            rule = self.panel_rule.but(**{field: value})
            if field == "coverage" and rule.system:  # typed by itself it is no longer that system's
                rule = ruled_by(rule, None)
            self.store.session.edit(f"panels on {facet.id}", lambda job: job.with_panels(facet.id, rule))
        return self.store.attempt(put)
