"""The trim bench's slate: detail, legs, folds, ends, schools and what they cost, joints, where the length goes."""

from __future__ import annotations

from yattle.derive.compare import DETAIL, Variant, questions, variants
from yattle.derive.layers import schools_of
from yattle.derive.roof_runs import base_id
from yattle.details import ENTRIES, DetailPiece, Finding, families_for
from yattle.details.all_forms import ANSWERS
from yattle.details.ends import TITLES
from yattle.details.free import Mitre
from yattle.details.schools import SCHOOLS
from yattle.errors import InputError
from yattle.measure import Sum, Term, parse_angle, say_length
from yattle.ui.benches.trim_advice import TrimAdvice
from yattle.ui.frame.slate import Shown
from yattle.ui.store import Desk, Store

_FLAPS = {"wrap": ("wrap", "wrap-in", "box"),
          "tab": ("tab", "box", "cap", "dam", "kick-out", "wall-in", "lock-down", "lock-up"),
          "kick_out": ("kick-out", "wall-out", "wall-in")}  # which ends take which length
_ELSEWHERE = ("lap", "wrap", "tab", "kick_out", "nest_gap", "stock_length", "least_piece")  # not legs
_JOINTS = [("even", "like pieces"), ("full", "full stock and a rest")]
_WEATHER = [("left", "weather from the left"), ("right", "weather from the right")]


class TrimSlate(TrimAdvice):
    """What the trim bench says and takes; ``beside`` is what the section is compared with: a question and an answer,
    parted by a colon, or nothing."""

    def __init__(self, store: Store) -> None:
        super().__init__(store)
        self.beside = ""
        self.desk = Desk(store, "trim")
        self.desk.ready.connect(self.refresh)
        self.desk.trouble.connect(store.trouble)

    def _pitch_row(self) -> None:
        self.slate.number("pitch", self._pitch,
                          lambda text: self.edit_run("pitch", pitch=lambda: self.pitch_from(text)),
                          "the roof's pitch: 7:12, 30°, 58 %; an eave's first fold is 90° less the pitch")

    def _fill_own(self) -> None:
        """Rows of a section of one's own; none here."""

    # -- schools and what they cost ---------------------------------------------------------------

    def _fill_schools(self) -> None:
        s = self.slate
        with s.when(lambda: bool(self._questions())):
            s.group("Schools")
            for name, school in SCHOOLS.items():
                with s.when(lambda name=name: name in self._questions()):  # type: ignore[misc]
                    s.choice(school.title, lambda school=school: [(k, c.title) for k, c in school.choices.items()],  # type: ignore[misc]
                             lambda name=name: self._school(name),  # type: ignore[misc]
                             lambda key, name=name: self._put_school(name, key))  # type: ignore[misc]
            s.choice("compare with", self._others, lambda: self.beside, self._put_beside,
                     "another way to do it, side by side with this one")
            with s.when(lambda: self.variant is not None):
                s.said("this one", lambda: _cost_says(self._variant_of(True)))
                s.said("instead", lambda: _cost_says(self.variant))

    def _questions(self) -> tuple[str, ...]:
        run = self.run
        return questions(self.store.session.job, run.run.id) if run is not None and not run.run.layer else ()

    def _school(self, name: str) -> str:
        job = self.store.session.job
        return str(getattr(schools_of(self.run.run, job.schools), name)) if self.run is not None else ""

    def _put_school(self, name: str, key: str) -> str | None:
        run = self.run
        if run is None:
            return None
        return self.edit_run(SCHOOLS[name].title, schools=lambda: run.run.schools.but(**{name: key}))

    def _others(self) -> list[tuple[str, str]]:
        """Every answer that is not in force."""
        found = [("", "nothing")]
        for question in self._questions():
            if question == DETAIL:
                found += [(f"{DETAIL}:{key}", title) for key, title in self._choices() if key != self._chosen()]
            else:
                found += [(f"{question}:{key}", choice.title) for key, choice in SCHOOLS[question].choices.items()
                          if key != self._school(question)]
        return found

    def _put_beside(self, key: str) -> str | None:
        self.beside = key
        self.refresh()
        return None

    @property
    def variant(self) -> Variant | None:
        """What the run is compared with; ``None`` when with nothing, or while it is worked out."""
        return self._variant_of(False) if self.beside in dict(self._others()) and self.beside else None

    def _variant_of(self, chosen: bool) -> Variant | None:
        question, _, key = self.beside.partition(":")
        job, run = self.store.session.job, self.run
        if run is None or not question:
            return None
        found = self.desk.get(("variants", job, run.run.id, question), variants, job, run.run.id, question,
                              quick=False)
        if not isinstance(found, tuple):
            return None
        return next((v for v in found if (v.chosen if chosen else v.key == key)), None)

    # -- the corners at its ends ------------------------------------------------------------------

    def _at_ends(self) -> list[tuple[str, str]]:
        """The roof's corners at the ends of the edge that this run is on, which can have a piece of their own."""
        run = base_id(self.run.run.id) if self.run is not None else ""
        found = [("", "open …")]
        return found + [(place.id, f"{place.title} · {ANSWERS.get(place.detail, place.detail)}")
                        for place in self.store.session.derived.openings if place.made and run in place.title.split()]

    def _open_corner(self, key: str) -> str | None:
        if key:
            self.store.session.select(opening=key)
        return None

    def _mitre_says(self, side: str) -> str:
        mitre = getattr(self.run.run, f"mitre_{side}") if self.run is not None else None
        return f"{mitre.angle:g}° {mitre.way}" if mitre is not None else ""

    def _put_mitre(self, side: str, text: str) -> str | None:
        def mitre() -> Mitre | None:
            if not text.strip():
                return None
            words = text.replace("°", " ").split()
            if len(words) != 2 or words[1] not in ("plan", "elevation"):
                raise InputError(f"{side} mitre", repr(text), "an angle and where it is seen, such as 90 plan")
            return Mitre(way=words[1], angle=parse_angle(words[0], f"{side} mitre"))  # type: ignore[arg-type]
        return self.edit_run(f"{side} mitre", **{f"mitre_{side}": mitre})

    def _fill_slate(self) -> None:
        with self.slate.when(lambda: self.run is not None):
            self._fill_run()

    def _fill_run(self) -> None:
        s = self.slate
        with s.when(lambda: len(self._choices()) > 1):
            s.choice("detail", self._choices, self._chosen, self._put_detail, "which detail this edge gets")
        self._fill_own()
        self._fill_schools()
        legs = [name for name, entry in ENTRIES.items() if not entry.angle and name not in _ELSEWHERE]
        with s.when(lambda: any(self._has(name) for name in legs)):
            s.group("Legs")
        for name in legs:
            self._entry(name)
        s.group("Folds")
        with s.when(lambda: self.run is None or self.run.run.kind != "free"):
            self._pitch_row()
        with s.when(lambda: self.run is not None and self.run.run.fold is not None):
            s.said("from the roof", self._from_the_roof)
        for name, entry in ENTRIES.items():
            if entry.angle:
                self._entry(name)
        s.read("girth", self._girth, "flat width of the section", big=True)
        with s.when(lambda: self.run is not None and not self.run.run.layer):
            self._fill_ends()
        with s.when(lambda: len(self._at_ends()) > 1):
            s.choice("corners", self._at_ends, lambda: "", self._open_corner, "the pieces where this edge meets others")
        s.group("Joints")
        s.choice("pieces", lambda: _JOINTS, lambda: self.store.session.job.joints,
                 lambda key: self._edit_job("joints", joints=key))
        with s.when(lambda: self.run is None or self.run.run.slope <= 0.5):
            s.choice("laps", lambda: _WEATHER, lambda: self.store.session.job.weather,
                     lambda key: self._edit_job("weather", weather=key),
                     "the open edge of a lap never faces the weather")
        self._entry("lap")
        s.group("Where the length goes")
        self.blank = s.read("blank", self._blank, "length of the flat piece")
        s.said("left end", lambda: self.piece.ends[0].says(self.store.unit) if self.piece else "")
        s.said("right end", lambda: self.piece.ends[1].says(self.store.unit) if self.piece else "")
        with s.when(lambda: self.run is not None and bool(self.run.detail.notes)):
            s.said("note", lambda: "\n".join((*self.run.detail.notes, *self.run.detail.cautions)) if self.run else "")
        s.group("Girth advice")
        s.said("advice", self._advice_says)
        s.look_list(self._advised, self._take_advice)
        s.look_list(self._findings, self._go)

    def _fill_ends(self) -> None:
        s = self.slate
        s.group("Ends")
        for side in ("left", "right"):
            s.choice(side, lambda: [(name, TITLES[name]) for name in self.run.detail.ends] if self.run else [],
                     lambda side=side: self._end(side),  # type: ignore[misc]
                     lambda key, side=side: self.edit_run(f"{side} end", **{side: lambda: key}),
                     "how the run begins and finishes; a cut by the roof's planes goes before it")
        for side in ("left", "right"):
            s.words(f"{side} mitre", lambda side=side: Shown(self._mitre_says(side)),  # type: ignore[misc]
                    lambda text, side=side: self._put_mitre(side, text),  # type: ignore[misc]
                    "cut at an angle, or how the run goes on: 90 plan, -90 plan, 35 elevation; empty: as the roof says")
        for entry, users in _FLAPS.items():
            with s.when(lambda users=users: bool({self._end("left"), self._end("right")} & set(users))):  # type: ignore[misc]
                self._entry(entry)

    def _end(self, side: str) -> str:
        end = getattr(self.run.run, side) if self.run else "plain"
        return end if self.run and end in self.run.detail.ends else "plain"

    def _has(self, entry: str) -> bool:
        """Whether the run's detail takes this entry of the standard."""
        family = self.run.family if self.run else None
        return entry in (family.entries.values() if family else ENTRIES)

    def _choices(self) -> list[tuple[str, str]]:
        if self.run is None or self.run.run.layer:
            return []
        return [(f.name, f.title) for f in families_for(self.run.run.kind)]

    def _chosen(self) -> str:
        family = self.run.family if self.run else None
        return family.name if family else ""

    def _put_detail(self, name: str) -> str | None:
        return self.edit_run("detail", detail=lambda: name)

    def _from_the_roof(self) -> str:
        run = self.run.run if self.run else None
        if run is None or run.fold is None:
            return ""
        return f"{run.kind.replace('-', ' ')}, fold {run.fold:.2f}°" + (
            f", slope {run.slope:.2f}°" if run.slope > 0.005 else "")

    def entry_of(self, field: str) -> str:
        """The standard's entry that a field of the detail takes."""
        family = self.run.family if self.run else None
        return family.entries.get(field, field) if family else field

    def _entry(self, name: str) -> None:
        entry = ENTRIES[name]
        with self.slate.when(lambda: self._has(name)):
            self.slate.number(entry.title, lambda: self._shown(name), lambda text: self._put(name, text),
                              f"{entry.reason}; empty takes the house standard")

    def _shown(self, name: str) -> Shown:
        run = self.run
        if run is None:
            return Shown("")
        value, own = getattr(run.standard, name), getattr(run.run.own, name)
        text = f"{value:g}°" if ENTRIES[name].angle else self.say(value)
        return Shown(text, "this run" if own is not None else "standard")

    def _put(self, name: str, text: str) -> str | None:
        entry, session = ENTRIES[name], self.store.session

        def deed() -> None:
            if session.selection.run is None:
                return
            value = None
            if text.strip():
                value = float(text.strip("° ")) if entry.angle and _is_number(text) else (
                    self.length_from(text, entry.title))
            session.set_own(session.selection.run, name, value)

        return self.store.attempt(deed)

    def _edit_job(self, title: str, **changes: str) -> str | None:
        return self.store.attempt(lambda: self.store.session.edit(title, lambda job: job.but(**changes)))

    def _pitch(self) -> Shown:
        return Shown(self.say_pitch(self.run.run.pitch), "survey") if self.run else Shown("")

    def _girth(self) -> Shown:
        detail = self.run.detail if self.run else None
        if detail is None or detail.girth is None or detail.profile is None:
            return Shown("–")
        legs = zip(detail.leg_names, detail.profile.strip_lengths, strict=True)
        terms = [Term(name, length) for name, length in legs]
        terms += [Term(f"fold {bend.id}", -bend.deduction) for bend in detail.girth.bends if bend.deduction]
        return Shown(self.say(detail.girth.girth), self._strips(detail.girth.girth), Sum("girth", tuple(terms)),
                     self._fine)

    def _fine(self, mm: float) -> str:
        return say_length(mm, self.store.unit, 2)

    def _strips(self, girth: float) -> str:
        coil = self.store.session.job.coil
        if coil is None or coil.width is None:
            return ""
        count = int(coil.width / girth)
        return f"{count} strips in {say_length(coil.width, self.store.unit, 0)}"

    def _blank(self) -> Shown:
        piece = self.piece
        if piece is None:
            return Shown("–")
        return Shown(self.say(piece.ledger.value), "", piece.ledger, self._fine)

    def _findings(self) -> list[tuple[str, Finding]]:
        here = self.store.session.selection.run
        return sorted(self.store.session.findings, key=lambda item: (item[1].level != "stop", item[0] != here))

    def _go(self, run_id: str, finding: Finding) -> None:
        openings = [found.id for found in self.store.session.derived.openings]
        if not (self.store.session.select(opening=run_id) if run_id in openings else
                self.store.session.select(run=run_id)):
            return
        titles = {name: entry.title for name, entry in ENTRIES.items()} | {"pitch": "pitch"}
        row = next((row for row in self.slate.rows if row.name == titles.get(self.entry_of(finding.field))), None)
        field = getattr(row, "field", None)
        if field is not None:
            field.setFocus()
        elif finding.field == "taped":
            self.store.said.emit("survey")

    @property
    def piece(self) -> DetailPiece | None:
        run, index = self.run, self.store.session.selection.piece
        return run.pieces[index] if run and index < len(run.pieces) else None


def _cost_says(variant: Variant | None) -> str:
    """A variant's cost and what is said of it."""
    if variant is None:
        return "being worked out"
    cost = variant.cost
    if cost is None:
        return f"{variant.title}: cannot be made here"
    sealed = f", {cost.sealed} joints by sealant" if cost.sealed else ", no joint by sealant alone"
    said = f"{variant.title}: {cost.pieces} pieces, {cost.area:.2f} m², {cost.folds} folds{sealed}"
    return said + (f". {variant.says[0].upper()}{variant.says[1:]}" if variant.says else "")


def _is_number(text: str) -> bool:
    try:
        float(text.strip("° "))
    except ValueError:
        return False
    return True
