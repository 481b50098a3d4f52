"""What the fit bench knows: the order of fitting, what the item in hand takes, what is ordered."""

from __future__ import annotations

from collections import Counter

from yattle.built.shown import BuiltShown, ShownTrouble
from yattle.built.tolerance import scatter_says
from yattle.derive.meetings import meetings
from yattle.details import Finding
from yattle.install import Need, Packed
from yattle.install.installation import NOTHING, Installation, InstalledRun
from yattle.install.schedule import UNIT_OF, many_says
from yattle.install.water import STANDS, RunJoint
from yattle.job.fixing_rules import FixingRules
from yattle.job.model import LapNote
from yattle.measure import Closest, Fine, Sum, Term, say_length
from yattle.roof import Roof
from yattle.roof.openings import outline
from yattle.roof.panels import PanelPlan
from yattle.roof.plane import Ring
from yattle.ui.benches.model import BenchModel
from yattle.ui.shown import Shown

_PLACES = 12  # of a run that are told one by one
PLACE = "place "
"""How the field of a finding begins that leads to a place on the roof."""


class InstallModel(BenchModel):
    """What the fit bench knows: the order of fitting, what the item in hand takes, what is ordered."""

    @property
    def installation(self) -> Installation:
        """How the job is fitted; while it is worked out, as it was a moment ago."""
        return self.store.session.latest.installation or NOTHING

    picked: tuple[str, object] = ("", None)
    """What has no run or opening of its own (panels, underlay), and the selection it was picked at."""

    @property
    def item(self) -> str:
        """The item that is selected."""
        selection = self.store.session.selection
        if self.picked[0] and self.picked[1] == selection:
            return self.picked[0]
        return selection.opening or selection.run or ""

    def pick(self, name: str) -> None:
        """Select panels or an underlay, until something else is selected."""
        self.picked = name, self.store.session.selection

    @property
    def panels(self) -> PanelPlan | None:
        """The panels that are selected, as their face is laid."""
        found = next((item for item in self.installation.items if item.id == self.item and item.kind == "panels"), None)
        return self.store.session.derived.panels.get(found.place) if found is not None else None

    def system_says(self) -> str:
        """The system the selected panels are of, and what they cover."""
        laid = self.panels
        if laid is None:
            return ""
        system = self.store.session.job.panel_system(laid.facet)
        return f"{system.name if system is not None else 'only a coverage'}, {self.say(laid.rule.coverage)} each"

    def lengths_say(self) -> str:
        """How many panels of which length."""
        rows = self.panels.orders() if self.panels is not None else []
        shown = rows if len(rows) <= 9 else rows[:8]
        said = [f"{count} × {say_length(length, self.store.unit, 0)}" for length, count in shown]
        return "\n".join(said) + (f"\nand {len(rows) - 8} more lengths" if shown is not rows else "")

    def panels_take(self) -> str:
        """What holds the whole face's panels."""
        needs = self.installation.panels.get(self.panels.facet, ()) if self.panels is not None else ()
        return "\n".join(f"{self._many(need.what, need.many)} {need.what}"
                         for need in needs) or "nothing that is counted: choose their system"

    @property
    def here(self) -> InstalledRun | None:
        return self.installation.runs.get(self.item)

    @property
    def rules(self) -> FixingRules:
        return self.store.session.job.fit

    def change(self, title: str, **changes: object) -> str | None:
        return self.store.attempt(lambda: self.set_rules(title, **changes))

    def set_rules(self, title: str, **changes: object) -> None:
        self.store.session.edit(title, lambda job: job.but(fit=job.fit.but(**changes)))

    def when(self) -> str:
        order = self.installation.order
        if not any(self.item in stage for stage in order.stages):
            return "–"
        known = {item.id: item for item in self.installation.items}
        beneath = [lap for lap in self.installation.laps if lap.over == self.item and lap.under in known]
        last = sorted(beneath, key=lambda lap: -order.stage_of(lap.under))[:2]  # what it waits for longest
        corners = {meeting.id for meeting in meetings(self.store.session.derived.roof)}
        of: dict[str, list[str]] = {}
        for lap in last:
            of.setdefault(lap.why, []).append(known[lap.under].name if lap.under in corners else lap.under)
        why = "; ".join(f"over {', '.join(under)}: {reason}" for reason, under in of.items())
        return f"stage {order.stage_of(self.item) + 1} of {len(order.stages)}" + (f", {why}" if why else "")

    def joints(self) -> list[RunJoint]:
        """The joints between the pieces of this run."""
        return [joint for joint in self.installation.water.joints if joint.run == self.item]

    def joints_say(self) -> str:
        found = Counter(joint.by for joint in self.joints())
        return "; ".join(f"{many} {STANDS[by]}" for by, many in sorted(found.items()))

    def takes(self, what: str) -> bool:
        return self._need(what) is not None

    def is_ordered(self, what: str) -> bool:
        return self._pack(what) is not None

    def _need(self, what: str) -> Need | None:
        needs = self.here.needs if self.here else self.installation.openings.get(self.item, ())
        return next((need for need in needs if need.what == what), None)

    def need_shown(self, what: str) -> Shown:
        need = self._need(what)
        if need is None:
            return Shown("")
        if what == "tape":
            rows = f"{need.rows} rows, " if need.rows > 1 else ""
            return Shown(self._many(what, need.many), f"{rows}not stretched")
        if what == "sealant":
            said = "the joint stands by it alone" if need.only else "an extra in the laps"
            return Shown(self._many(what, need.many), said)
        rows = f"{need.rows} rows, " if need.rows > 1 else ""
        seen = "covered later" if need.hidden else "seen"
        places = need.places
        note = f"{rows}{seen}"
        if len(places) > 2 and what != "rivets":
            step = places[len(places) // 2] - places[len(places) // 2 - 1]
            note = f"{rows}every {say_length(step, self.store.unit, 0)}, {seen}"
        return Shown(self._many(what, need.many), note, self._place_by_place(need), lambda v: f"{v:.0f}")

    def _place_by_place(self, need: Need) -> Sum | None:
        """What is counted in pieces, by its places along the run; those beyond a dozen together."""
        if not need.places or need.what in UNIT_OF:
            return None
        terms = [Term(f"at {self.say(place)}", float(need.rows)) for place in need.places[:_PLACES]]
        beyond = len(need.places[_PLACES:])
        if more := need.many - sum(term.amount for term in terms):
            terms.append(Term(f"at {beyond} more" if beyond else "besides", more))
        return Sum(need.what, tuple(terms))

    def moves(self) -> Shown:
        if self.here is None:
            return Shown("")
        move = self.here.movement
        fights = Fine(self.here.fights)
        held = f"fights by {fights.say(self.store.unit)} if held at both ends" if fights else "its play takes it"
        return Shown(Fine(move.whole).say(self.store.unit), held, move.sum, lambda v: Closest(v).say(self.store.unit))

    def clear(self) -> str:
        """How much room hooks, clips and holes need at a piece's free end."""
        move = self.here.movement if self.here else None
        if move is None:
            return ""
        longer, shorter = (Fine(mm).say(self.store.unit) for mm in (move.longer, move.shorter))
        return f"{longer} longer, {shorter} shorter at hooks, clips, holes"

    def far(self) -> str:
        if self.here is None:
            return ""
        end = self.here.far_end
        return f"± {Fine(end.spread).say(self.store.unit)} (95 of 100 runs); {end.worst} matter most"

    def others(self) -> list[tuple[str, str]]:
        made = [("", "as water and layers say")]
        return made + [(item.id, item.name) for item in self.installation.items if item.id != self.item]

    def say_lap(self, key: str) -> str | None:
        note = LapNote(over=self.item, under=key) if key else None
        return self.store.attempt(lambda: self.store.session.edit(f"{self.item} after {key}", lambda job: job.but(
            laps=(*job.laps, note) if note else tuple(lap for lap in job.laps if lap.over != self.item))))

    def _pack(self, what: str) -> Packed | None:
        return next((pack for pack in self.installation.packs if pack.what == what), None)

    def pack_shown(self, what: str) -> Shown:
        pack = self._pack(what)
        if pack is None:
            return Shown("")
        one = {"tape": "roll", "lap tape": "roll", "underlay": "roll", "sealant": "tube"}.get(what, "pack")
        units = one if pack.packs == 1 else f"{one}s"
        terms = tuple(Term(run_id, many) for run_id, many in self.installation.shares.get(what, ()))
        if what == "underlay":
            laps = 1 + self.rules.underlay_laps
            terms = tuple(Term(f"face {face}", area * laps) for face, area in self.installation.underlay.items())
        return Shown(self._many(what, pack.many), f"{pack.packs} {units} with spare", Sum(what, terms),
                     lambda many: self._many(what, many))

    def _many(self, what: str, many: float) -> str:
        """So much of a thing; what is sold by the roll in metres, not in mm."""
        return self._metres(many) if UNIT_OF.get(what) == "mm" else many_says(what, many, self.store.unit)

    def _metres(self, mm: float) -> str:
        return say_length(mm, self.store.unit) if self.store.unit.parts else f"{mm / 1000:.1f} m"

    @property
    def built(self) -> BuiltShown | None:
        """The roof put together; while it is, as it was a moment ago."""
        return self.store.session.latest.built

    def folds_say(self) -> str:
        """Whether every piece comes to its own section, folded up from its pattern."""
        misfits = self.store.session.results.misfits
        if misfits is None:
            return "folding …"
        return "every piece, from its pattern" if not misfits else f"{len(misfits)} pieces do not"

    def fits_say(self) -> str:
        """Whether pieces go together with what they lie on and with each other: of the job as it is, not as it was."""
        built = self.store.session.results.built
        if built is None or (built.fits and not built.whole):
            return self.built_say()
        if not built.fits:
            return built.says
        unsaid = "; over seams, once the panels are chosen" if self.store.session.derived.unsaid else ""
        return f"every piece, with what is round it{unsaid}"

    def built_say(self) -> str:
        """In a few words, for the corner of the roof's picture."""
        session = self.store.session
        if session.results.built is not None:
            return session.results.built.says.replace("places ", "")
        doing = "asking again" if session.latest.built is not None else "putting together"
        return f"{doing} … {session.share:.0%}" if session.share else f"{doing} …"

    def scatter_say(self) -> str:
        """How often what was asked still holds with the shop's scatter."""
        found = self.store.session.latest.scatter
        return "told with the roof as built" if found is None else scatter_says(found)

    def looks(self) -> list[tuple[str, Finding]]:
        """What does not go together first, then what fitting says."""
        return [*(trouble for _, trouble in self.troubles()), *self.installation.findings]

    def troubles(self) -> list[tuple[ShownTrouble, tuple[str, Finding]]]:
        """What the roof put together shows, each with the finding that is said of it; its field leads to the place."""
        found = self.built.troubles if self.built is not None else ()
        return [(one, (one.item, Finding("stop" if one.stops else "look", one.says,
                                         "see it on the roof, lit at its place", f"{PLACE}{n}")))
                for n, one in enumerate(found)]

    def unfit_places(self) -> list[tuple[float, float]]:
        """Where on the plan something does not fit, mm."""
        found = self.built.troubles if self.built is not None else ()
        return [(x, y) for one in found if one.stops for x, y, _ in (one.at, *one.also)]

    def place_of(self, finding: Finding) -> tuple[float, float, float] | None:
        """Where on the roof a finding is, mm; ``None`` where it names no place."""
        found = self.troubles()
        n = finding.field.removeprefix(PLACE)
        return found[int(n)][0].at if finding.field.startswith(PLACE) and int(n) < len(found) else None

    @staticmethod
    def areas(roof: Roof, names: set[str]) -> list[Ring]:
        """Faces whose panels, and openings whose pieces, are among ``names``."""
        faces = [facet.ring for facet in roof.facets if f"panels {facet.id}" in names]
        holes = [outline(placed.opening) for placed in roof.openings if placed.opening.id in names]
        return [tuple(ring) for ring in (*faces, *holes)]
