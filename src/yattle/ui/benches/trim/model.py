"""What the trim bench knows: the run in hand, its detail and entries, its ends and corners, its numbers."""

from __future__ import annotations

from collections.abc import Callable

from yattle.derive.compare import DETAIL, Variant, questions, variants
from yattle.derive.layers import schools_of
from yattle.derive.on_roof import on_roof
from yattle.derive.roof_runs import base_id
from yattle.details import ENTRIES, FAMILIES, DetailPiece, Finding, families_for
from yattle.details.all_forms import ANSWERS
from yattle.details.ends import TITLES
from yattle.details.free import Mitre
from yattle.details.schools import SCHOOLS
from yattle.drawing import Drawing, pattern_drawing
from yattle.drawing.ends import marked_end
from yattle.errors import InputError
from yattle.measure import Area, Closest, Sum, Term, Unit, parse_angle, say_length
from yattle.pattern import marking_points
from yattle.pattern.piece_ends import piece_ends
from yattle.ui.benches.host import Host
from yattle.ui.benches.model import BenchModel
from yattle.ui.benches.trim.advice import AdviceHand
from yattle.ui.benches.trim.ends import Besides, OutletRow, RightEnd
from yattle.ui.benches.trim.own import OwnSection
from yattle.ui.shown import Shown


def cost_says(variant: Variant | None, unit: Unit) -> str:
    """A variant's cost and what is said of it."""
    if variant is None:
        return "being worked out"
    cost = variant.cost
    if cost is None:
        return f"{variant.title}: cannot be made here"
    sealed = f", {cost.sealed} joints by sealant" if cost.sealed else ", no joint by sealant alone"
    said = f"{variant.title}: {cost.pieces} pieces, {Area(cost.area).say(unit)}, {cost.folds} folds{sealed}"
    return said + (f". {variant.says[0].upper()}{variant.says[1:]}" if variant.says else "")

def _is_number(text: str) -> bool:
    try:
        float(text.strip("° "))
    except ValueError:
        return False
    return True


FLAT = ("whole", "marked out", "left end", "right end")
"""How the flat pattern is shown: as a whole, with its points numbered, one end large with the numbers to mark it by."""


class TrimModel(BenchModel):
    """What the trim bench knows: the run in hand, its detail and entries, its ends and corners, its numbers."""

    def __init__(self, store: Host, changed: Callable[[], None]) -> None:
        super().__init__(store, changed)
        self.advice, self.own = AdviceHand(self), OwnSection(self)
        self.right_end, self.besides, self.outlets = RightEnd(self), Besides(self), OutletRow(self)
        self.flat = FLAT[0]  # how the flat pattern is shown
        self.beside = ""  # what the section is compared with: question and answer parted by a colon, or nothing
        self.desk = store.desk("trim", changed)

    def questions(self) -> tuple[str, ...]:
        run = self.run
        return questions(self.store.session.job, run.run.id) if run is not None and not run.run.layer else ()

    def school(self, name: str) -> str:
        job = self.store.session.job
        return str(getattr(schools_of(self.run.run, job.schools), name)) if self.run is not None else ""

    def put_school(self, name: str, key: str) -> str | None:
        run = self.run
        if run is None:
            return None
        return self.edit_run(SCHOOLS[name].title, schools=lambda: run.run.schools.but(**{name: key}))

    def others(self) -> list[tuple[str, str]]:
        """Every answer that is not in force."""
        found = [("", "nothing")]
        for question in self.questions():
            if question == DETAIL:
                found += [(f"{DETAIL}:{key}", title) for key, title in self.choices() if key != self.chosen()]
            else:
                found += [(f"{question}:{key}", choice.title) for key, choice in SCHOOLS[question].choices.items()
                          if key != self.school(question)]
        return found

    def put_beside(self, key: str) -> str | None:
        self.beside = key
        self.changed()
        return None

    @property
    def variant(self) -> Variant | None:
        """What the run is compared with; ``None`` when with nothing, or while it is worked out."""
        return self.variant_of(False) if self.beside in dict(self.others()) and self.beside else None

    def variant_of(self, chosen: bool) -> Variant | None:
        question, _, key = self.beside.partition(":")
        job, run = self.store.session.job, self.run
        if run is None or not question:
            return None
        found = self.desk.get(("variants", job, run.run.id, question), variants, job, run.run.id, question,
                              quick=False)
        if not isinstance(found, tuple):
            return None
        return next((v for v in found if (v.chosen if chosen else v.key == key)), None)

    def at_ends(self) -> list[tuple[str, str]]:
        """The roof's corners at the ends of the edge that this run is on, which can have a piece of their own."""
        run = base_id(self.run.run.id) if self.run is not None else ""
        found = [("", "open …")]
        return found + [(place.id, f"{place.title} · {ANSWERS.get(place.detail, place.detail)}")
                        for place in self.store.session.derived.openings if place.made and run in place.title.split()]

    def open_corner(self, key: str) -> str | None:
        if key:
            self.store.session.select(opening=key)
        return None

    def mitre_says(self, side: str) -> str:
        mitre = getattr(self.run.run, f"mitre_{side}") if self.run is not None else None
        return f"{mitre.angle:g}° {mitre.way}" if mitre is not None else ""

    def put_mitre(self, side: str, text: str) -> str | None:
        def mitre() -> Mitre | None:
            if not text.strip():
                return None
            words = text.replace("°", " ").split()
            if len(words) != 2 or words[1] not in ("plan", "elevation"):
                raise InputError(f"{side} mitre", repr(text), "an angle and where it is seen, such as 90 plan")
            return Mitre(way=words[1], angle=parse_angle(words[0], f"{side} mitre"))  # type: ignore[arg-type]
        return self.edit_run(f"{side} mitre", **{f"mitre_{side}": mitre})

    def ends(self) -> list[tuple[str, str]]:
        """The ends that the run can have, with what they are called."""
        return [(name, TITLES[name]) for name in self.run.detail.ends] if self.run else []

    def put_end(self, side: str, key: str) -> str | None:
        """Another end on one side; what is wrong with it."""
        return self.edit_run(f"{side} end", **{side: lambda: key})

    def mitre(self, side: str) -> Shown:
        """The mitre that was typed for one side."""
        return Shown(self.mitre_says(side))

    def end(self, side: str) -> str:
        end = getattr(self.run.run, side) if self.run else "plain"
        return end if self.run and end in self.run.detail.ends else "plain"

    def has(self, entry: str) -> bool:
        """Whether the run's detail takes this entry of the standard."""
        family = self.run.family if self.run else None
        return entry in (family.entries.values() if family else ENTRIES)

    def choices(self) -> list[tuple[str, str]]:
        if self.run is None or self.run.run.layer:
            return []
        return [(f.name, f.title) for f in families_for(self.run.run.kind, self.run.run.fold)]

    def chosen(self) -> str:
        family = self.run.family if self.run else None
        return family.name if family else ""

    def put_detail(self, name: str) -> str | None:
        by_itself = self.run is not None and self.run.run.kind == "free"  # called after what it is
        return self.edit_run("detail", detail=lambda: name, **(
            {"name": lambda: FAMILIES[name].title} if by_itself else {}))

    def lies_says(self) -> str:
        """Where the run lies and at which pitch; nothing of one that lies on no edge of the roof."""
        run = self.run.run if self.run is not None else None
        return "" if run is None or run.kind == "free" else f"{run.name}, {self.say_pitch(run.pitch)}, "

    def from_the_roof(self) -> str:
        run = self.run.run if self.run else None
        if run is None or run.fold is None:
            return ""
        return f"{run.kind.replace('-', ' ')}, fold {run.fold:.2f}°" + (
            f", slope {run.slope:.2f}°" if run.slope > 0.005 else "") + "".join(
            f"; its fold lies {self.say(more)} beyond the {face} face: the {face} leg is longer by that"
            for face, more in zip(("upper", "lower"), run.beyond, strict=True) if more) + (
            f"; packed up {self.say(run.packed)}, to the height of the caps it meets" if run.packed else "")

    def entry_of(self, field: str) -> str:
        """The standard's entry that a field of the detail takes."""
        family = self.run.family if self.run else None
        return family.entries.get(field, field) if family else field

    def drawn_as(self, title: str) -> tuple[str, ...]:
        """The legs and folds of the section drawn that follow from the row of this title."""
        if self.run is None:
            return ()
        titles = {name: entry.title for name, entry in ENTRIES.items()}
        detail = self.run.detail
        parts = {f"leg:{n}": field for n, field in enumerate(detail.leg_fields, 1)} | detail.turn_fields
        return tuple(key for key, field in parts.items()
                     if title in (titles.get(self.entry_of(field)), self.entry_of(field).replace("_", " ")))

    def shown(self, name: str) -> Shown:
        run = self.run
        if run is None:
            return Shown("")
        value, own = getattr(run.standard, name), getattr(run.run.own, name)
        text = f"{value:g}°" if ENTRIES[name].angle else self.say(value)
        return Shown(text, "this run" if own is not None else "standard")

    def put(self, name: str, text: str) -> str | None:
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

    def edit_job(self, title: str, **changes: str) -> str | None:
        return self.store.attempt(lambda: self.store.session.edit(title, lambda job: job.but(**changes)))

    def pitch(self) -> Shown:
        return Shown(self.say_pitch(self.run.run.pitch), "survey") if self.run else Shown("")

    def girth(self) -> Shown:
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

    def blank(self) -> Shown:
        piece = self.piece
        if piece is None:
            return Shown("–")
        return Shown(self.say(piece.ledger.value), "", piece.ledger, self._fine)

    def findings(self) -> list[tuple[str, Finding]]:
        here = self.store.session.selection.run
        return sorted(self.store.session.findings, key=lambda item: (item[1].level != "stop", item[0] != here))

    @property
    def piece(self) -> DetailPiece | None:
        run, index = self.run, self.store.session.selection.piece
        return run.pieces[index] if run and index < len(run.pieces) else None

    def proof_says(self) -> tuple[str, bool]:
        """How far the folded piece is off its section, its section off the roof, and whether it fits there: it is
        proven where it folds up and fits: then the second is true."""
        piece, run, found = self.piece, self.run, self.roof_run
        if piece is None or run is None:
            return "", False
        laps = [proof for a, b, proof in run.detail.laps if piece.id in (a.id, b.id)]
        said = f"folds up to {Closest(max(one.max_gap for one in (piece.proof, *laps))).say(self.store.unit)}"
        fit = on_roof(self.store.session.derived.roof, found, run) if found is not None and not run.run.layer else None
        said += f", on the roof {Closest(fit.max_gap).say(self.store.unit)}" if fit is not None else ""
        return self.with_fit(said, piece.id), self.is_proven(piece.id, piece.proof, fit, *laps)

    def pressed(self, key: str) -> None:
        if not key.startswith("leg:"):
            self.store.session.select(fold=key)

    def typed_on_drawing(self, key: str, text: str) -> str | None:
        run = self.run
        if run is None:
            return None
        if key.startswith("leg:"):
            return self.put(self.entry_of(run.detail.leg_fields[int(key[4:]) - 1]), text)
        field = self.entry_of(run.detail.turn_fields.get(key, ""))
        if field in ENTRIES:
            return self.put(field, text.lstrip("PBH "))
        if field == "pitch":
            return f"this fold follows from the pitch of {self.say_pitch(run.run.pitch)}: change the pitch"
        return "this fold follows from the roof" if field else "this fold is square by its nature"

    def faulty_strips(self) -> list[str]:
        """The parts of the section that cannot be made, by the names of their strips."""
        return [finding.strip for finding in self.run.findings if finding.level == "stop"] if self.run else []

    def flat_drawing(self, keep: float) -> Drawing:
        """The flat pattern of the piece in hand as it is to be shown, ``keep`` mm of each end where it is long."""
        run, piece = self.run, self.piece
        if run is None or piece is None or run.detail.profile is None or run.detail.girth is None:
            return Drawing(())
        ends, unit = piece_ends(piece.pattern) if self.flat.endswith("end") else None, self.store.unit
        if ends is not None:
            return marked_end(ends[self.flat == "right end"], run.detail.girth.bends, run.detail.girth.girth,
                              run.detail.profile, unit)
        points = marking_points(piece.pattern) if self.flat != FLAT[0] else ()
        return pattern_drawing(piece.pattern, run.detail.profile, unit, keep, points=points)

    @property
    def shows_end(self) -> bool:
        """Whether an end of the piece is shown large."""
        return self.flat.endswith("end") and self.piece is not None

    def next_flat(self) -> None:
        """Whole, marked out, left end, right end, in turn."""
        self.flat = FLAT[(FLAT.index(self.flat) + 1) % len(FLAT)]
        self.changed()

    def step_piece(self, step: int) -> None:
        run = self.run
        if run is not None and run.pieces:
            self.store.session.select(piece=(self.store.session.selection.piece + step) % len(run.pieces))
