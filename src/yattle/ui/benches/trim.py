"""The trim bench: the section in its place, the folded piece, its flat pattern, and their numbers."""

from __future__ import annotations

from PyQt6.QtCore import QCoreApplication, QTimer
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout

from yattle.details import ENTRIES, DetailPiece, Finding, families_for
from yattle.drawing import Drawing, pattern_drawing, section_drawing
from yattle.job import Job
from yattle.job.advice import Advice, girth_advice
from yattle.measure import Sum, Term, say_length
from yattle.pattern.proof import root_strip
from yattle.section.fold import headings
from yattle.ui.benches.base import BenchPage
from yattle.ui.drawing.canvas import Canvas
from yattle.ui.drawing.paint import Ink
from yattle.ui.drawing.solid import Solid
from yattle.ui.frame.slate import Shown
from yattle.ui.store import Store, Worker
from yattle.ui.widgets.card import Card, foot
from yattle.ui.widgets.slide import slider

_ENDS = [("wrap", "corner wrap by tongs"), ("plain", "square")]
_ELSEWHERE = ("lap", "wrap", "nest_gap", "stock_length", "least_piece")  # not legs
_JOINTS = [("even", "like pieces"), ("full", "full stock and a rest")]
_WEATHER = [("left", "weather from the left"), ("right", "weather from the right")]


class TrimBench(BenchPage):
    name, title = "trim", "Trim"

    def __init__(self, store: Store) -> None:
        super().__init__(store)
        self.section = Canvas("section in its place", (70, 30, 70, 46))
        self.section.edit = self._typed_on_drawing
        self.section.pressed.connect(self._pressed)
        self.solid = Solid("folded piece, turnable")
        self.slider = slider("from flat to folded", lambda value: self.solid.set_share(value / 100))
        self.pattern = Canvas("flat pattern", (64, 44, 56, 24))
        self.pattern.pressed.connect(self._pressed)
        self.pattern.resized.connect(self._draw_pattern)
        self.adviser = Worker(self)
        self._advice: tuple[Advice, ...] = ()
        self._advised_for: Job | None = None
        self._stop_advice, self._progress = False, (0.0, 0.0, 0.0)
        app = QCoreApplication.instance()
        if app is not None:
            app.aboutToQuit.connect(self._leave_off)
        self._watch = QTimer(self)  # how far the search is
        self._watch.setInterval(300)
        self._watch.timeout.connect(lambda: self.slate.row("advice").refresh())
        self._lay_out()
        self._fill_slate()

    def _lay_out(self) -> None:
        fold_bar = foot(_dim("flat"), self.slider, _dim("folded"), wide=self.slider)
        self.section_card, self.solid_card = Card(self.section), Card(self.solid, fold_bar)
        self.pattern_card = Card(self.pattern)
        self.before, self.after = QPushButton("‹"), QPushButton("›")
        for button, name, step in ((self.before, "piece before", -1), (self.after, "next piece", 1)):
            button.setAccessibleName(name)
            button.setFixedSize(34, 28)
            button.clicked.connect(lambda _, step=step: self.step_piece(step))
            self.pattern_card.bar.addWidget(button)
        top = QHBoxLayout()
        top.setSpacing(8)
        top.addWidget(self.section_card, 5)
        top.addWidget(self.solid_card, 4)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(8)
        column.addLayout(top, 11)
        column.addWidget(self.pattern_card, 8)

    # -- the slate --------------------------------------------------------------------------------

    def _fill_slate(self) -> None:
        s = self.slate
        with s.when(lambda: len(self._choices()) > 1):
            s.choice("detail", self._choices, self._chosen, self._put_detail, "which detail this edge gets")
        s.group("Legs")
        for name, entry in ENTRIES.items():
            if not entry.angle and name not in _ELSEWHERE:
                self._entry(name)
        s.group("Folds")
        s.number("pitch", self._pitch, lambda text: self.edit_run("pitch", pitch=lambda: self.pitch_from(text)),
                 "the roof's pitch: 7:12, 30°, 58 %; the first fold is 90° less the pitch")
        with s.when(lambda: self.run is not None and self.run.run.fold is not None):
            s.said("from the roof", self._from_the_roof)
        for name, entry in ENTRIES.items():
            if entry.angle:
                self._entry(name)
        s.read("girth", self._girth, "flat width of the section", big=True)
        with s.when(lambda: self._has("wrap")):
            s.group("Ends")
            self._fill_ends()
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

    # -- girth advice -----------------------------------------------------------------------------

    def ask_advice(self) -> None:
        """Look beside the window for leg lengths that save coil; asked again while it looks, it stops."""
        if self.adviser.busy:
            self._stop_advice = True
            return
        job = self.store.session.job
        self._stop_advice, self._advised_for, self._advice, self._progress = False, job, (), (0, 0, 0.0)
        self._watch.start()

        def tell(*progress: float) -> None:
            self._progress = progress
        self.adviser.ask(lambda: girth_advice(job, lambda: not self._stop_advice, tell), self._hear_advice)
        self.refresh()

    def _leave_off(self) -> None:
        self._stop_advice = True

    def _hear_advice(self, result: object) -> None:
        self._watch.stop()
        self._advice = result if isinstance(result, tuple) else ()
        self.refresh()

    def _advice_says(self) -> str:
        done, of, saved = self._progress
        if self.adviser.busy:
            return f"looking: {done:.0f} of {of:.0f} tried, {say_metres(saved)} saved so far; Ctrl+Shift+G stops"
        if self._advised_for is None or self._advised_for != self.store.session.job:
            return "Ctrl+Shift+G looks for leg lengths that save coil"
        if not self._advice:
            return "no soft leg saves coil by giving a little"
        return f"together {say_metres(sum(a.saves for a in self._advice))} of coil"

    def _advised(self) -> list[tuple[str, Finding]]:
        if self._advised_for != self.store.session.job:
            return []
        rows = [("", Finding("look", f"{a.title} {self.say(a.before)} → {self.say(a.after)}",
                             f"saves {say_metres(a.saves)} of coil" + (" after those before it" if n else ""), str(n)))
                for n, a in enumerate(self._advice)]
        if len(rows) > 1:
            rows.insert(0, ("", Finding("look", "take all of these", "one press, one undo", "all")))
        return rows

    def _take_advice(self, _: str, finding: Finding) -> None:
        taken = self._advice if finding.field == "all" else (self._advice[int(finding.field)],)
        own = {advice.entry: advice.after for advice in taken}
        self.store.attempt_aloud(lambda: self.store.session.edit(
            "girth advice", lambda job: job.but(own=job.own.but(**own))))

    def _fill_ends(self) -> None:
        s = self.slate
        s.choice("left", lambda: _ENDS, lambda: self.run.run.left if self.run else "wrap",
                 lambda key: self.edit_run("left end", left=lambda: key))
        s.choice("right", lambda: _ENDS, lambda: self.run.run.right if self.run else "wrap",
                 lambda key: self.edit_run("right end", right=lambda: key))
        self._entry("wrap")

    # -- the detail -------------------------------------------------------------------------------

    def _has(self, entry: str) -> bool:
        """Whether the run's detail takes this entry of the standard."""
        family = self.run.family if self.run else None
        return entry in (family.entries.values() if family else ENTRIES)

    def _choices(self) -> list[tuple[str, str]]:
        return [(f.name, f.title) for f in families_for(self.run.run.kind)] if self.run else []

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
        return sorted(self.store.session.derived.findings, key=lambda item: (item[1].level != "stop", item[0] != here))

    def _go(self, run_id: str, finding: Finding) -> None:
        self.store.session.select(run=run_id)
        titles = {name: entry.title for name, entry in ENTRIES.items()} | {"pitch": "pitch"}
        row = next((row for row in self.slate.rows if row.name == titles.get(self.entry_of(finding.field))), None)
        field = getattr(row, "field", None)
        if field is not None:
            field.setFocus()
        elif finding.field == "taped":
            self.store.said.emit("survey")

    # -- drawings ---------------------------------------------------------------------------------

    @property
    def piece(self) -> DetailPiece | None:
        run, index = self.run, self.store.session.selection.piece
        return run.pieces[index] if run and index < len(run.pieces) else None

    def refresh(self) -> None:
        super().refresh()
        run, piece = self.run, self.piece
        self._draw_section()
        self._draw_pattern()
        if run is None:
            self.section_card.say("No run yet", "add one in the survey: Ctrl+Shift+N")
            self.solid_card.say("folded")
            self.solid.show_piece(None, self.metal_colour, 0)
            return
        count = len(run.pieces)
        self.section_card.say(f"{run.run.id} · {run.family.title if run.family else run.run.kind}",
                              f"{run.run.name}, {self.say_pitch(run.run.pitch)}, {self.say(run.run.length)} in "
                              f"{count} piece{'' if count == 1 else 's'}")
        self.solid_card.say("folded", "", f"proof {piece.proof.max_gap:.2f} mm" if piece else "")
        upright = 0.0
        if piece is not None and run.detail.profile is not None:
            profile = run.detail.profile
            start = run.detail.heading - (profile.hem_a.turn if profile.hem_a else 0.0)
            upright = -float(headings(profile, start)[root_strip(piece.pattern)])
        self.solid.show_piece(piece.pattern if piece else None, self.metal_colour, upright)
        if not self.blank.sum.isVisible() and piece is not None:
            self.blank.sum.show_sum(self._blank())
            self.blank.sum.show()

    def _ink(self) -> Ink:
        return Ink(self.metal_colour, self.store.session.selection.fold or "")

    def _draw_section(self) -> None:
        run, job, piece = self.run, self.store.session.job, self.piece
        self.section.corners = (f"paint face out · {job.colour} {job.thickness:.2f}", piece.hand if piece else "")
        if run is None or run.detail.profile is None:
            self.section.show_drawing(Drawing(()), self._ink())
            return
        around = tuple((s.name, s.outline) for s in run.detail.around)
        self.section.show_drawing(
            section_drawing(run.detail.profile, run.detail.heading, self.store.unit, around), self._ink())

    def _draw_pattern(self) -> None:
        run, piece = self.run, self.piece
        if run is None or piece is None or run.detail.profile is None:
            said = "cannot be made: see what to look at" if run and not run.pieces else ""
            self.pattern_card.say("flat pattern", said)
            self.pattern.show_drawing(Drawing(()), self._ink())
            return
        index, count = self.store.session.selection.piece, len(run.pieces)
        self.pattern_card.say(f"piece {index + 1} of {count}", f"{piece.id} · {piece.hand} · paint face up, "
                              "edge A upslope · middle left out")
        frame = self.pattern.frame
        height = max(frame.height(), 40)
        keep = max((frame.width() / height * piece.pattern.girth - 30) / 2, piece.pattern.girth * 0.6)
        drawing = pattern_drawing(piece.pattern, run.detail.profile, self.store.unit, keep)
        self.pattern.show_drawing(drawing, self._ink())

    # -- pressing and typing on the drawing -------------------------------------------------------

    def _pressed(self, key: str) -> None:
        if not key.startswith("leg:"):
            self.store.session.select(fold=key)

    def _typed_on_drawing(self, key: str, text: str) -> str | None:
        run = self.run
        if run is None:
            return None
        if key.startswith("leg:"):
            return self._put(self.entry_of(run.detail.leg_fields[int(key[4:]) - 1]), text)
        field = self.entry_of(run.detail.turn_fields.get(key, ""))
        if field in ENTRIES:
            return self._put(field, text.lstrip("PBH "))
        if field == "pitch":
            return f"this fold follows from the pitch of {self.say_pitch(run.run.pitch)}: change the pitch"
        return "this fold follows from the roof" if field else "this fold is square by its nature"

    def step_piece(self, step: int) -> None:
        run = self.run
        if run is not None and run.pieces:
            self.store.session.select(piece=(self.store.session.selection.piece + step) % len(run.pieces))


def say_metres(mm: float) -> str:
    """A length of coil."""
    return f"{mm / 1000:.2f} m"


def _dim(text: str) -> QLabel:
    label = QLabel(text)
    label.setObjectName("dim")
    return label


def _is_number(text: str) -> bool:
    try:
        float(text.strip("° "))
    except ValueError:
        return False
    return True
