"""The section in its place, the folded piece, its flat pattern."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QLabel, QStackedWidget

from yattle.derive.printed import changed
from yattle.details import ENTRIES, Finding
from yattle.drawing import Drawing, section_drawing
from yattle.drawing.section import faults_on
from yattle.job.states import states_say
from yattle.measure import say_thickness
from yattle.pattern.proof import root_strip
from yattle.section.fold import headings
from yattle.ui.benches.base import BenchPage
from yattle.ui.benches.trim.model import TrimModel
from yattle.ui.benches.trim.slate import fill
from yattle.ui.drawing.canvas import Canvas
from yattle.ui.drawing.grip_canvas import GripCanvas
from yattle.ui.drawing.paint import Ink
from yattle.ui.drawing.solid import Neighbour, Solid
from yattle.ui.store import Store
from yattle.ui.widgets.card import Card, foot, show_upper, steps, two_over_one
from yattle.ui.widgets.slide import slider
from yattle.ui.widgets.words import Words

_BESIDE = 60.0  # mm round a piece within which others are drawn with it


def _dim(text: str) -> QLabel:
    label = Words(text)
    label.setObjectName("dim")
    return label


class TrimBench(BenchPage):
    """The section in its place, the folded piece, its flat pattern."""

    name, title = "trim", "Trim"

    def __init__(self, store: Store) -> None:
        super().__init__(store)
        self.model = TrimModel(store, self.refresh)
        self.section = GripCanvas("section in its place", (70, 30, 70, 46))
        self.section.pulled.connect(self._drag_corner)
        self.section.dropped.connect(self.model.own.add_corner)
        self.takes(self.section, self.model.typed_on_drawing, lambda key: not key.startswith("corner"))
        self.section.pressed.connect(self.model.pressed)
        self.solid = Solid("folded piece, turnable")
        self.slider = slider("from flat to folded", lambda value: self.solid.set_share(value / 100))
        self.pattern = Canvas("flat pattern", (64, 44, 56, 24))
        self.pattern.pressed.connect(self.model.pressed)
        self.pattern.resized.connect(self._draw_pattern)
        self._soon = QTimer(self)  # the folded piece and its proof come a little after what is being typed
        self._soon.setSingleShot(True)
        self._soon.timeout.connect(self._show_folded)
        self._lay_out()
        self.blank = fill(self.slate, self.model, self._go)
        in_slate = self.model.advice.told

        def told() -> None:
            in_slate()
            self._tell_advice()
        self.model.advice.told = told

    def drawn_as(self, name: str) -> tuple[str, ...]:
        return self.model.drawn_as(name)

    def _go(self, run_id: str, finding: Finding) -> None:
        openings = [found.id for found in self.store.session.derived.openings]
        if not (self.store.session.select(opening=run_id) if run_id in openings else
                self.store.session.select(run=run_id)):
            return
        titles = {name: entry.title for name, entry in ENTRIES.items()} | {"pitch": "pitch"}
        row = next((row for row in self.slate.rows if row.name == titles.get(self.model.entry_of(finding.field))), None)
        field = getattr(row, "field", None)
        if field is not None:
            field.setFocus()
        elif finding.field == "taped":
            self.store.say("survey")

    def _lay_out(self) -> None:
        fold_bar = foot(_dim("flat"), self.slider, _dim("folded"), wide=self.slider)
        self.other = Canvas("section it is compared with", (70, 30, 70, 46))
        self.right = QStackedWidget()
        self.right.addWidget(self.solid)
        self.right.addWidget(self.other)
        self.section_card, self.solid_card = Card(self.section), Card(self.right, fold_bar)
        self.pattern_card = Card(self.pattern)
        self.before, self.after = steps(self.pattern_card, self.model.step_piece)
        two_over_one(self, self.section_card, self.solid_card, self.pattern_card)

    def refresh(self) -> None:
        super().refresh()
        run, piece = self.model.run, self.model.piece
        show_upper(self, (self.section_card, self.solid_card), not self.model.shows_end)
        self._draw_section()
        self._draw_pattern()
        self._draw_other()
        if run is None:
            self.section_card.say("No run yet", "add one in the survey: Ctrl+Shift+N")
            self.solid_card.say("folded")
            self.solid.show_piece(None, self.model.metal_colour, 0)
            return
        count = len(run.pieces)
        self.section_card.say(f"{run.run.id} · {run.family.title if run.family else run.run.kind}",
                              f"{self.model.lies_says()}{self.model.say(run.run.length)} in {count} "
                              f"piece{'' if count == 1 else 's'}")
        self._tell_advice()
        self._soon.start(30)
        if not self.blank.sum.isVisible() and piece is not None:
            self.blank.sum.show_sum(self.model.blank())
            self.blank.sum.show()

    def show_results(self) -> None:
        super().show_results()
        self._soon.start(30)  # whether the piece fits, and what lies round it

    def _drag_corner(self, part: str, role: str, x: float, y: float, done: bool) -> None:
        """The section follows the corner that is dragged."""
        self.model.own.drag_corner(part, role, x, y, done)
        self.section.ghost = self.model.own.ghost
        self.section.update()

    def _tell_advice(self) -> None:
        """How far the search for girth advice is, where the eye is."""
        if self.model.advice.advising:
            self.section_card.under.setText(self.model.advice.says())

    def _show_folded(self) -> None:
        """The piece in space, how far it is off its section, and its section off the roof."""
        run, piece = self.model.run, self.model.piece
        if run is None:
            return
        if self.model.variant is None:
            self.solid_card.say("folded", "", *self.model.proof_says())
        upright = 0.0
        if piece is not None and run.detail.profile is not None:
            profile = run.detail.profile
            start = run.detail.heading - (profile.hem_a.turn if profile.hem_a else 0.0)
            upright = -float(headings(profile, start)[root_strip(piece.pattern)])
        built = self.store.session.results.built
        around = built.beside(piece.pattern.id, _BESIDE) if built is not None and piece is not None else ()
        self.solid.show_piece(piece.pattern if piece else None, self.model.metal_colour, upright,
                              self._neighbours(), around)

    def _ink(self) -> Ink:
        return Ink(self.model.metal_colour, self.store.session.selection.fold or "")

    def _draw_section(self) -> None:
        run, job, piece = self.model.run, self.store.session.job, self.model.piece
        self.section.show_handles(self.model.own.corner_handles())
        thick = say_thickness(job.thickness, self.store.unit, mark=True)
        self.section.corners = (f"paint face out · {job.colour} {thick}", piece.hand if piece else "")
        if run is None or run.detail.profile is None:
            self.section.show_drawing(Drawing(()), self._ink())
            return
        around = tuple((s.name, s.outline) for s in run.detail.around)
        drawing = section_drawing(run.detail.profile, run.detail.heading, self.store.unit, around)
        wrong = faults_on(run.detail.profile, run.detail.heading, self.model.faulty_strips())
        self.section.show_drawing(replace(drawing, shapes=(*drawing.shapes, *wrong)), self._ink())

    def _neighbours(self) -> tuple[Neighbour, ...]:
        """The pieces before and after this one, where one laps over the other."""
        run, piece = self.model.run, self.model.piece
        if run is None or piece is None or run.run.gaps:
            return ()
        n, strip = run.pieces.index(piece), root_strip(piece.pattern)
        beside = [run.pieces[m] for m in (n - 1, n + 1) if 0 <= m < len(run.pieces)]
        return tuple(Neighbour(p.pattern, p.start - piece.start) for p in beside if root_strip(p.pattern) == strip)

    def _draw_other(self) -> None:
        """The section of the variant, in the place of the folded piece."""
        variant = self.model.variant
        self.right.setCurrentIndex(0 if variant is None else 1)
        self.slider.setEnabled(variant is None)
        if variant is None:
            return
        self.solid_card.say(f"instead: {variant.title}", "")
        detail = variant.run.detail if variant.run is not None else None
        if detail is None or detail.profile is None:
            self.other.show_drawing(Drawing(()), self._ink())
            return
        around = tuple((s.name, s.outline) for s in detail.around)
        self.other.show_drawing(section_drawing(detail.profile, detail.heading, self.store.unit, around), self._ink())

    def _draw_pattern(self) -> None:
        run, piece = self.model.run, self.model.piece
        if run is None or piece is None or run.detail.profile is None:
            said = "cannot be made: see what to look at" if run and not run.pieces else ""
            self.pattern_card.say("flat pattern", said)
            self.pattern.show_drawing(Drawing(()), self._ink())
            return
        index, count = self.store.session.selection.piece, len(run.pieces)
        since = changed(self.store.session.derived).get(piece.id, "")
        news = {"changed": "changed since the print · ", "new": "not printed yet · "}.get(since, "")
        many = f" · {piece.pattern.qty} like this" if piece.pattern.qty > 1 else ""
        top = "upslope" if run.run.slope <= 0.5 else "on top"  # of a sloping run an end is upslope: it is marked
        shown = "middle left out" if self.model.flat == "whole" else f"{self.model.flat} (F3)"
        state = states_say(self.store.session.job, piece.pattern)
        self.pattern_card.say(f"piece {index + 1} of {count}", f"{news}{piece.id}{many} · {piece.hand}{state} · paint "
                              f"face up, edge A {top} · {shown}")
        frame = self.pattern.frame
        height = max(frame.height(), 40)
        keep = max((frame.width() / height * piece.pattern.girth - 30) / 2, piece.pattern.girth * 0.6)
        self.pattern.show_drawing(self.model.flat_drawing(keep), self._ink())
