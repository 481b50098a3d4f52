"""The trim bench for an opening: its pieces as they stand installed, the one selected folded and flat, its choices."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QLabel, QSizePolicy, QWidget

from yattle.derive.compare import answers_of, opening_costs
from yattle.derive.openings import OWN, DerivedOpening, with_choice
from yattle.details.all_forms import ANSWERS, FORMS, OWN_TITLES, SAYS, TITLES
from yattle.details.chimney import Chimney
from yattle.details.common import Finding
from yattle.details.curb import Curb
from yattle.details.feet import corners_of, stretches
from yattle.details.forms import Form, FormPiece
from yattle.details.pipe import Pipe
from yattle.drawing import fold_letter, pattern_drawing
from yattle.errors import InputError
from yattle.measure import parse_angle
from yattle.pattern.by_hand import hand_order
from yattle.ui.benches.base import BenchPage
from yattle.ui.drawing.canvas import Canvas
from yattle.ui.drawing.paint import Ink
from yattle.ui.drawing.solid import Solid
from yattle.ui.drawing.space import Space, Surface
from yattle.ui.frame.slate import Shown
from yattle.ui.store import Desk, Store
from yattle.ui.theme import theme
from yattle.ui.widgets.card import Card, foot, steps, two_over_one
from yattle.ui.widgets.slide import slider

_ANGLES = ("cricket_pitch", "pitch", "degrees", "cut", "turn", "left", "right", "end", "main")
_REST = 1200  # ms
_INK, _STANDS = "#1b2325", "#b3a596"


class Installed(Space):
    """All pieces of an opening in their place, the selected one in copper."""

    def __init__(self, name: str) -> None:
        super().__init__(name)
        self.azimuth, self.tilt = -32.0, 34.0
        self.pieces: tuple[FormPiece, ...] = ()
        self.chosen, self.metal = 0, "#4a6b80"
        self.form: Form | None = None

    def show_set(self, found: DerivedOpening, chosen: int, metal: str) -> None:
        now = (found.pieces, chosen, metal, found.form)
        if now != (self.pieces, self.chosen, self.metal, self.form):
            self.pieces, self.chosen, self.metal, self.form = now
            self._soon.start(20)

    def surfaces(self) -> list[Surface]:
        found, lift = _standing(self.form), 0.0
        for n, piece in enumerate(self.pieces):
            if piece.paper:
                continue
            colour = theme().copper if n == self.chosen else self.metal
            curved = any(crease.roll for crease in piece.surface.creases)
            for face in piece.flat.faces:
                points = np.array(face.corners) + face.normal * lift
                lines = [] if curved else [(points[k], points[(k + 1) % len(points)], 0.8, _INK)
                                           for k in range(len(points))]
                found.append(Surface(points, colour, theme().bare, lines, [np.array(h) for h in face.holes]))
            lift += 0.6  # later pieces lie on those before them
        return found


def _standing(form: Form | None) -> list[Surface]:
    """What the pieces go round: masonry, a curb, a pipe; plainly."""
    if isinstance(form, Chimney):
        feet = [form.roof.at(*corner) for corner in corners_of(form.across - 6, form.along - 6, form.turned)]
        top = max(foot[2] for foot in feet) + form.kerf_plumb + (form.behind.rise if form.behind else 0.0) + 150
    elif isinstance(form, Curb):
        feet = [np.array([*corner, 0.0]) for corner in corners_of(form.across - 6, form.along - 6, 0.0)]
        top = form.height + 60
    elif isinstance(form, Pipe):
        turn = np.linspace(0, 2 * np.pi, 33)[:-1]
        feet = [np.array([form.diameter / 2 * np.cos(t), form.diameter / 2 * np.sin(t), -form.bore]) for t in turn]
        top = form.top + 160
    else:
        return []
    heads = [np.array([x, y, top]) for x, y, _ in feet]
    walls = [np.array([feet[n - 1], feet[n], heads[n], heads[n - 1]]) for n in range(len(feet))]
    return [Surface(points, _STANDS, _STANDS, []) for points in (*walls, np.array(heads))]


class OpeningBench(BenchPage):
    name, title = "opening", "Opening"

    def __init__(self, store: Store) -> None:
        super().__init__(store)
        self.set_view = Installed("pieces of the opening, installed, turnable")
        self.solid = Solid("folded piece, turnable")
        self.slider = slider("from flat to folded", lambda value: self.solid.set_share(value / 100))
        self.pattern = Canvas("flat pattern", (64, 44, 56, 24))
        self.desk = Desk(store, "opening")
        self.desk.ready.connect(self.refresh)
        self.desk.trouble.connect(store.trouble)
        self._rest = QTimer(self)  # slow questions are asked when nothing has been changed for a while
        self._rest.setSingleShot(True)
        self._rest.setInterval(_REST)
        self._rest.timeout.connect(self._rested)
        self._settled: Form | None = None
        self._filled: set[tuple[str, bool]] = set()
        store.job_changed.connect(self._rest.stop)
        self._lay_out()
        self._fill_slate()

    def _lay_out(self) -> None:
        self.set_card = Card(self.set_view)
        self.solid_card = Card(self.solid, foot(QWidget(), self.slider, QWidget(), wide=self.slider))
        self.why = QLabel()
        self.why.setObjectName("why")
        self.why.setWordWrap(True)
        self.why.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.why.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Expanding)
        self.pattern_card = Card(self.pattern, self.why)
        self.steppers = steps(self.pattern_card, self.step_piece)
        two_over_one(self, self.set_card, self.solid_card, self.pattern_card)

    # -- what is selected -----------------------------------------------------------------------------

    @property
    def opening(self) -> DerivedOpening | None:
        session = self.store.session
        wanted = session.selection.opening
        return next((found for found in session.derived.openings if found.id == wanted), None)

    @property
    def piece(self) -> FormPiece | None:
        found = self.opening
        index = self.store.session.selection.piece
        return found.pieces[index] if found is not None and index < len(found.pieces) else None

    def step_piece(self, step: int) -> None:
        found = self.opening
        if found is not None and found.pieces:
            self.store.session.select(piece=(self.store.session.selection.piece + step) % len(found.pieces))

    # -- drawings -------------------------------------------------------------------------------------

    def refresh(self) -> None:
        self._fill_choices()
        super().refresh()
        found, piece = self.opening, self.piece
        if found is None:
            return
        count = len(found.pieces)
        named = found.title if found.made or found.kind in found.title else f"{found.title} · {found.kind}"
        nothing = "nothing of its own: choose under “made as”" if found.detail == "none" else "cannot be made"
        said = f"{count} pieces in the order they go on" if count > 1 else "1 piece"
        self.set_card.say(named, said if count else nothing)
        for widget in (self.solid_card, self.pattern, *self.steppers):
            widget.setVisible(piece is not None)
        self.why.setVisible(piece is None)
        self.set_view.show_set(found, self.store.session.selection.piece, self.metal_colour)
        self.solid.show_piece(piece.pattern if piece else None, self.metal_colour, 0.0)
        ink = Ink(self.metal_colour, self.store.session.selection.fold or "")
        if piece is None:
            self.pattern_card.say("why" if found.findings else "")
            self.why.setText("\n".join(self._told(finding) for finding in found.findings))
            return
        self.solid_card.say("folded", f"proof {piece.proof.max_gap:.2f} mm")
        many = f" · {piece.pattern.qty} like this" if piece.pattern.qty > 1 else ""
        self.pattern_card.say(f"{piece.pattern.name}", f"{piece.pattern.id}{many} · piece "
                              f"{self.store.session.selection.piece + 1} of {count} · paint face up")
        self.pattern.show_drawing(pattern_drawing(piece.pattern, None, self.store.unit), ink)

    def _told(self, finding: Finding) -> str:
        """Why a piece cannot be made and, on a line of its own, what would do."""
        head, _, wanted = finding.says(self.store.unit).partition(", expected ")
        field, _, said = head.rpartition(": found ")
        title = (OWN_TITLES if self._own else TITLES).get(self._form, {}).get(field, "")
        return f"{title} {said}".strip().capitalize() + (f"\nWhat would do: {wanted}" if wanted else "")

    # -- the slate ------------------------------------------------------------------------------------

    def _fill_slate(self) -> None:
        s = self.slate
        s.group("Opening")
        s.choice("place", self._places, lambda: self.store.session.selection.opening or "", self._take_place)
        with s.when(lambda: bool(self.opening and self.opening.made)):
            s.choice("made as", self._made, lambda: self._form, self._put_made)
        s.choice("piece", self._piece_names, lambda: str(self.store.session.selection.piece), self._take_piece)
        with s.when(lambda: not self._own):
            s.said("from the roof", self._from_roof)
        self._choices = s.mark()
        s.group("How it goes on")
        s.said("fold order", self._order)
        with s.when(lambda: self._form in ("chimney", "curb")):
            s.said("drops", self._drops)
        s.said("notes", lambda: self._say("notes"))
        s.said("take care", lambda: self._say("cautions"))
        s.look_list(self._looks, lambda _, finding: self._go(finding))

    def _fill_choices(self) -> None:
        """The rows of the form in hand, made when it is shown first: there are many forms."""
        form, own, s = self._form, self._own, self.slate
        if not form or (form, own) in self._filled or form not in (OWN_TITLES if own else TITLES):
            return
        self._filled.add((form, own))
        with s.before(self._choices), s.when(lambda: self._form == form and self._own == own):
            s.group("Measures" if own else "Choices")
            for field, title in (OWN_TITLES if own else TITLES)[form].items():
                self._row(form, field, title)
            if not own:
                with s.when(lambda: bool(self._asked())):
                    s.said("costs", self._costs)

    def _row(self, form: str, field: str, title: str) -> None:
        answers = self._answers(form, field)
        if answers:
            self.slate.choice(title, lambda: [(key, ANSWERS.get(key, key)) for key in answers],
                              lambda: str(self._value(field)), lambda key: self._put(field, key),
                              "; ".join(f"{ANSWERS.get(key, key)}: {SAYS[key]}" for key in answers if key in SAYS))
        else:
            self.slate.number(title, lambda: self._shown(field), lambda text: self._put_number(field, title, text))

    @staticmethod
    def _answers(form: str, field: str) -> tuple[str, ...]:
        return answers_of(FORMS[form], field)

    @property
    def _own(self) -> bool:
        """Whether it is a piece of its own, not of the roof."""
        return self.opening is not None and self.opening.kind == OWN

    @property
    def _form(self) -> str:
        found = self.opening
        return found.detail if found is not None else ""

    def _places(self) -> list[tuple[str, str]]:
        """Every opening and corner of the roof."""
        return [(found.id, found.title if found.kind in found.title else f"{found.title} · {found.kind}")
                for found in self.store.session.derived.openings]

    def _take_place(self, key: str) -> str | None:
        self.store.session.select(opening=key)
        return None

    def _made(self) -> list[tuple[str, str]]:
        found = self.opening
        return [(key, ANSWERS.get(key, key)) for key in found.made] if found is not None else []

    def _put_made(self, key: str) -> str | None:
        found = self.opening
        if found is None:
            return None
        session, of = self.store.session, found.id
        return self.store.attempt(lambda: session.edit(f"{found.title} made as", lambda job: with_choice(
            job, of, "made", None if key == found.made[0] and not self._own else key)))

    def _value(self, field: str) -> Any:
        found = self.opening
        if found is None:
            return ""
        if found.form is None:
            return self.store.session.job.opening_note(found.id).values.get(field, "")
        return found.form.with_cricket if field == "cricket" else getattr(found.form, field)  # type: ignore[attr-defined]

    def _shown(self, field: str) -> Shown:
        value = self._value(field)
        own = field in dict(self.store.session.job.opening_note(self.opening.id).own) if self.opening else False
        if value is None and self.opening is not None and self.opening.form is not None:
            return Shown(self.say_pitch(self.opening.form.pitch), "as the roof")  # type: ignore[attr-defined]
        if value == "":
            return Shown("–")
        whole = isinstance(value, int)
        said = f"{value:g}°" if field in _ANGLES else f"{value}" if whole else self.say(float(value))
        return Shown(said, "own" if own and not self._own else "")

    def _put(self, field: str, value: float | str | None) -> str | None:
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

    def _put_number(self, field: str, title: str, text: str) -> str | None:
        if not text.strip():
            return self._put(field, None)
        try:
            whole = FORMS[self._form].model_fields[field].annotation is int
            value = (parse_angle(text, title) if field in _ANGLES else int(parse_angle(text, title)) if whole else
                     self.length_from(text, title))
        except InputError as wrong:
            return str(wrong)
        return self._put(field, value)

    def _asked(self) -> list[str]:
        """The choices of the form in force that are answered by a word, of which the cost is worth telling."""
        return [field for field in ("school", "cricket", "counter") if field in TITLES.get(self._form, {})]

    def _rested(self) -> None:
        self._settled = self.opening.form if self.opening is not None else None
        self.refresh()

    def _at_rest(self, form: Form) -> bool:
        """Whether this form has stood unchanged for a while; else it is looked at again when it has."""
        if self._settled == form:
            return True
        if not self._rest.isActive():
            self._rest.start()
        return False

    def _costs(self) -> str:
        """Pieces, metal and folds of every answer; worked out beside the window."""
        form = self.opening.form if self.opening is not None else None
        if form is None:
            return "–"
        if not self._at_rest(form):
            return "…"
        lines = []
        for field in self._asked():
            found = self.desk.get((f"cost of {field}", form), opening_costs, form, field, quick=False)
            for answer, cost in found if isinstance(found, tuple) else ():
                said = (f"{cost.pieces} pieces, {cost.area:.2f} m², {cost.folds} folds" if cost
                        else "cannot be made here")
                lines.append(f"{ANSWERS.get(answer, answer)}: {said}")
        return "\n".join(lines) or "…"

    def _drops(self) -> str:
        """Whether rain stays on top of the pieces as they lie; traced beside the window."""
        form = self.opening.form if self.opening is not None and self.opening.pieces else None
        if form is None:
            return "–"
        if not self._at_rest(form):
            return "…"
        found = self.desk.get(("drops", form), form.lost_drops, quick=False)
        if found is None and self.desk.busy:
            return "…"
        if not isinstance(found, tuple):
            return "not followed for folded pans"
        return "\n".join(f"{leak.piece}: {leak.says}" for leak in found) or "all stay on the metal"

    def _order(self) -> str:
        """The selected piece's folds in the order that hands make them."""
        piece = self.piece
        if piece is None or not piece.pattern.folds:
            return "–"
        order = hand_order(piece.pattern)
        said = ", ".join(fold_letter(fold.id, fold.turn, None, self.store.unit) for fold in order[:12])
        return said + (f" … {len(order)} in all" if len(order) > 12 else "") if order else "rolled by hand"

    def _piece_names(self) -> list[tuple[str, str]]:
        found = self.opening
        return [(str(n), piece.pattern.name) for n, piece in enumerate(found.pieces)] if found is not None else []

    def _take_piece(self, key: str) -> str | None:
        self.store.session.select(piece=int(key))
        return None

    def _from_roof(self) -> str:
        found = self.opening
        if found is None or found.form is None or self._own:
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

    def _say(self, what: str) -> str:
        found = self.opening
        said = "\n".join(getattr(found.form, what)) if found is not None and found.form is not None else ""
        return said or "–"

    def _looks(self) -> list[tuple[str, Finding]]:
        found = self.opening
        return [("", finding) for finding in found.findings] if found is not None else []

    def _go(self, finding: Finding) -> None:
        title = (OWN_TITLES if self._own else TITLES).get(self._form, {}).get(finding.field, "")
        if title:
            self.slate.row(title).setFocus()
        else:
            self.store.said.emit("survey")
