"""What the bench of an opening knows: its form and measures, its pieces, what choices cost, drops."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from yattle.derive import derive
from yattle.derive.compare import answers_of, opening_costs
from yattle.derive.openings import OWN, DerivedOpening, with_choice
from yattle.details.all_forms import ANSWERS, FORMS, OWN_TITLES, TITLES
from yattle.details.common import Finding
from yattle.details.feet import stretches
from yattle.details.forms import Form, FormPiece
from yattle.details.pipe import Pipe
from yattle.details.taped_at import taped_at
from yattle.drawing import Drawing, fold_letter
from yattle.drawing.installed import measured_drawing
from yattle.errors import InputError
from yattle.measure import Area, parse_angle
from yattle.pattern.by_hand import hand_steps
from yattle.ui.benches.host import Host
from yattle.ui.benches.model import BenchModel
from yattle.ui.shown import Shown

_ANGLES = ("cricket_pitch", "pitch", "degrees", "cut", "turn", "left", "right", "end", "main", "set_angle", "lean")

_INK, _STANDS = "#1b2325", "#b3a596"


class OpeningModel(BenchModel):
    """``settled`` is the form that has stood unchanged for a while; ``wait`` is called to be told when one has."""

    def __init__(self, store: Host, changed: Callable[[], None]) -> None:
        super().__init__(store, changed)
        self.desk = store.desk("opening", changed)
        self.settled: Form | None = None
        self.wait: Callable[[], None] = lambda: None
        self.marked = False  # the pattern's points are numbered
        self._made: dict[str, DerivedOpening] = {}  # each opening as it was made last

    def next_flat(self) -> None:
        """The flat pattern with its points numbered, or without."""
        self.marked = not self.marked
        self.changed()

    def rested(self) -> None:
        """Nothing has been changed for a while: slow questions are asked now."""
        self.settled = self.opening.form if self.opening is not None else None
        self.changed()

    @property
    def opening(self) -> DerivedOpening | None:
        session = self.store.session
        wanted = session.selection.opening
        return next((found for found in session.derived.openings if found.id == wanted), None)

    @property
    def pictured(self) -> DerivedOpening | None:
        """What is drawn of the opening in hand: it, or where it cannot be made how it was made last, else how its form
        is made as it usually is."""
        found = self.opening
        if found is None or found.pieces:
            if found is not None:
                self._made[found.id] = found
            return found
        if found.id not in self._made and found.detail != "none":
            job = self.store.session.job
            plain = job.but(openings=tuple(note for note in job.openings if note.of != found.id))
            usual = next((one for one in derive(plain).openings if one.id == found.id and one.pieces), None)
            if usual is not None:
                self._made[found.id] = usual
        return self._made.get(found.id, found) if found.detail != "none" else found

    @property
    def piece(self) -> FormPiece | None:
        found = self.opening
        index = self.store.session.selection.piece
        return found.pieces[index] if found is not None and index < len(found.pieces) else None

    def step_piece(self, step: int) -> None:
        found = self.opening
        if found is not None and found.pieces:
            self.store.session.select(piece=(self.store.session.selection.piece + step) % len(found.pieces))

    def told(self, finding: Finding) -> str:
        """Why a piece cannot be made and, on a line of its own, what would do."""
        head, _, wanted = finding.says(self.store.unit).partition(", expected ")
        field, _, said = head.rpartition(": found ")
        title = (OWN_TITLES if self.own else TITLES).get(self.form, {}).get(field, "")
        return f"{title} {said}".strip().capitalize() + (f"\nWhat would do: {wanted}" if wanted else "")

    @staticmethod
    def answers(form: str, field: str) -> tuple[str, ...]:
        return answers_of(FORMS[form], field)

    @property
    def own(self) -> bool:
        """Whether it is a piece of its own, not of the roof."""
        return self.opening is not None and self.opening.kind == OWN

    @property
    def form(self) -> str:
        found = self.opening
        return found.detail if found is not None else ""

    def places(self) -> list[tuple[str, str]]:
        """Every opening and corner of the roof."""
        return [(found.id, found.title if found.kind in found.title else f"{found.title} · {found.kind}")
                for found in self.store.session.derived.openings]

    def take_place(self, key: str) -> str | None:
        self.store.session.select(opening=key)
        return None

    def made(self) -> list[tuple[str, str]]:
        found = self.opening
        return [(key, ANSWERS.get(key, key)) for key in found.made] if found is not None else []

    def put_made(self, key: str) -> str | None:
        found = self.opening
        if found is None:
            return None
        session, of = self.store.session, found.id
        return self.store.attempt(lambda: session.edit(f"{found.title} made as", lambda job: with_choice(
            job, of, "made", None if key == found.made[0] and not self.own else key)))

    def value(self, field: str) -> Any:
        found = self.opening
        if found is None:
            return ""
        if found.form is None:
            return self.store.session.job.opening_note(found.id).values.get(field, "")
        return found.form.with_cricket if field == "cricket" else getattr(found.form, field)  # type: ignore[attr-defined]

    def shown(self, field: str) -> Shown:
        value = self.value(field)
        own = field in dict(self.store.session.job.opening_note(self.opening.id).own) if self.opening else False
        form = self.opening.form if self.opening is not None else None
        if value is None and isinstance(form, Pipe) and field == "pan_lap":
            return Shown(self.say(form.split.over), "as the hole asks")
        if value is None and self.opening is not None and self.opening.form is not None:
            return Shown(self.say_pitch(self.opening.form.pitch), "as the roof")  # type: ignore[attr-defined]
        if value == "":
            return Shown("–")
        whole = isinstance(value, int)
        said = f"{value:g}°" if field in _ANGLES else f"{value}" if whole else self.say(float(value))
        return Shown(said, "own" if own and not self.own else "")

    def put(self, field: str, value: float | str | None) -> str | None:
        found = self.opening
        if found is None:
            return None
        session = self.store.session

        def change() -> None:
            if value is not None:  # a wrong value is said here, before the job takes it
                form = found.form.but(**{field: value}) if found.form is not None else None
                form.surfaces() if form is not None and found.pieces else None
            session.edit(f"{found.id} {field}", lambda job: with_choice(job, found.id, field, value))
        return self.store.attempt(change)

    def put_number(self, field: str, title: str, text: str) -> str | None:
        if not text.strip():
            return self.put(field, None)
        try:
            whole = FORMS[self.form].model_fields[field].annotation is int
            value = (parse_angle(text, title) if field in _ANGLES else int(parse_angle(text, title)) if whole else
                     self.length_from(text, title))
        except InputError as wrong:
            return str(wrong)
        return self.put(field, value)

    def measured(self, title: str) -> Drawing | None:
        """The pieces in hand with the measure of a row on them; ``None`` where none of them shows it."""
        shown = self.pictured
        form = shown.form if shown is not None else None
        titles = (OWN_TITLES if self.own else TITLES).get(self.form, {})
        field = next((field for field, said in titles.items() if said == title), "")
        length = field and field not in _ANGLES
        found = taped_at(form, field) if form is not None and length else None
        if form is None or found is None or not found.moved:
            return None
        ends = (found.a, found.b) if found.a is not None and found.b is not None else None
        return measured_drawing(form.surfaces(), ends, found.moved, self.shown(field).text)

    def asked(self) -> list[str]:
        """The choices of the form in force that are answered by a word, of which the cost is worth telling."""
        return [field for field in ("school", "cricket", "counter") if field in TITLES.get(self.form, {})]

    def order(self) -> str:
        """The selected piece's folds in the order that hands make them."""
        piece = self.piece
        if piece is None or not piece.pattern.folds:
            return "–"
        steps = hand_steps(piece.pattern)
        said = []
        for step in steps[:12]:
            names = [fold_letter(fold.id, fold.turn, None, self.store.unit) for fold in step.folds]
            said.append(step.says(names) or names[0])
        return ", ".join(said) + (f" … {len(steps)} in all" if len(steps) > 12 else "") if steps else "rolled by hand"

    def piece_names(self) -> list[tuple[str, str]]:
        found = self.opening
        return [(str(n), piece.pattern.name) for n, piece in enumerate(found.pieces)] if found is not None else []

    def take_piece(self, key: str) -> str | None:
        self.store.session.select(piece=int(key))
        return None

    def from_roof(self) -> str:
        found = self.opening
        if found is None or found.form is None or self.own:
            return "–"
        form: Any = found.form
        said = [f"{name} {self.say_pitch(getattr(form, name))}" for name in ("pitch", "left", "right", "end", "main")
                if name in type(form).model_fields]
        if found.detail == "gutter-corner":
            said.append(f"{form.corner} corner, the eave turns by {form.turn:.1f}°")
        if hasattr(form, "across"):
            said.append(f"{self.say(form.across)} across by {self.say(form.along)}")
        if getattr(form, "turned", 0.0):
            said.append(f"turned {form.turned:.0f}°")
        if getattr(form, "meets", None) is not None:
            beneath = any(any(foot.kinks) for foot in stretches(form.roof, form.across, form.along, form.turned))
            said.append(f"a {form.meets.kind} {'beneath' if beneath else 'beside'} it")
        if hasattr(form, "diameter"):
            said.append(f"diameter {self.say(form.diameter)}, {self.say(form.clear)} clear of the seam")
        return ", ".join(said) or "–"

    def say_of(self, what: str) -> str:
        found = self.opening
        said = "\n".join(getattr(found.form, what)) if found is not None and found.form is not None else ""
        return said or "–"

    def looks(self) -> list[tuple[str, Finding]]:
        found = self.opening
        return [("", finding) for finding in found.findings] if found is not None else []

    def at_rest(self, form: Form) -> bool:
        """Whether this form has stood unchanged for a while; else it is looked at again when it has."""
        if self.settled == form:
            return True
        self.wait()
        return False

    def costs(self) -> str:
        """Pieces, metal and folds of every answer; worked out beside the window."""
        form = self.opening.form if self.opening is not None else None
        if form is None:
            return "–"
        if not self.at_rest(form):
            return "…"
        lines = []
        for field in self.asked():
            found = self.desk.get((f"cost of {field}", form), opening_costs, form, field, quick=False)
            for answer, cost in found if isinstance(found, tuple) else ():
                said = (f"{cost.pieces} pieces, {Area(cost.area).say(self.store.unit)}, {cost.folds} folds" if cost
                        else "cannot be made here")
                lines.append(f"{ANSWERS.get(answer, answer)}: {said}")
        return "\n".join(lines) or "…"

    def drops(self) -> str:
        """Whether rain stays on top of the pieces as they lie; traced beside the window."""
        form = self.opening.form if self.opening is not None and self.opening.pieces else None
        if form is None:
            return "–"
        if not self.at_rest(form):
            return "…"
        found = self.desk.get(("drops", form), form.lost_drops, quick=False)
        if found is None and self.desk.busy:
            return "…"
        if not isinstance(found, tuple):
            return "not followed for this way of making it"
        return "\n".join(f"{leak.piece}: {leak.says}" for leak in found) or "all stay on the metal"

