"""An opening's pieces as they stand installed, the one selected folded and flat."""

from __future__ import annotations

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QSizePolicy, QWidget

from yattle.details.all_forms import OWN_TITLES, TITLES
from yattle.details.common import Finding
from yattle.drawing import Drawing, pattern_drawing
from yattle.measure import Closest
from yattle.pattern import marking_points
from yattle.pattern.by_hand import hand_steps
from yattle.ui.benches.base import BenchPage
from yattle.ui.benches.opening.installed import Installed
from yattle.ui.benches.opening.model import OpeningModel
from yattle.ui.benches.opening.slate import fill
from yattle.ui.drawing.canvas import Canvas
from yattle.ui.drawing.paint import Ink
from yattle.ui.drawing.solid import Solid
from yattle.ui.store import Store
from yattle.ui.widgets.card import Card, foot, steps, two_over_one
from yattle.ui.widgets.slide import slider
from yattle.ui.widgets.words import Words

_REST = 1200  # ms

class OpeningBench(BenchPage):
    """An opening's pieces as they stand installed, the one selected folded and flat."""

    name, title = "opening", "Opening"

    def __init__(self, store: Store) -> None:
        super().__init__(store)
        self.model = OpeningModel(store, self.refresh)
        self.set_view = Installed("pieces of the opening, installed, turnable")
        self.solid = Solid("folded piece, turnable")
        self.slider = slider("from flat to folded", lambda value: self.solid.set_share(value / 100))
        self.pattern = Canvas("flat pattern", (64, 44, 56, 24))
        self._rest = QTimer(self)  # slow questions are asked when nothing has been changed for a while
        self._rest.setSingleShot(True)
        self._rest.setInterval(_REST)
        self._rest.timeout.connect(self.model.rested)
        self.model.wait = self._wait
        store.job_changed.connect(self._rest.stop)
        self._lay_out()
        self._fill_choices = fill(self.slate, self.model, self._go)

    def _wait(self) -> None:
        if not self._rest.isActive():
            self._rest.start()

    def _lay_out(self) -> None:
        self.set_card = Card(self.set_view)
        self.solid_card = Card(self.solid, foot(QWidget(), self.slider, QWidget(), wide=self.slider))
        self.why = Words()
        self.why.setObjectName("why")
        self.why.setWordWrap(True)
        self.why.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.why.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Expanding)
        self.pattern_card = Card(self.pattern, self.why)
        self.steppers = steps(self.pattern_card, self.model.step_piece)
        two_over_one(self, self.set_card, self.solid_card, self.pattern_card)

    def refresh(self) -> None:
        self._fill_choices()
        super().refresh()
        found, piece = self.model.opening, self.model.piece
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
        shown = self.model.pictured or found
        if shown is not found:
            self.set_card.say(named, "cannot be made; drawn as it can be")
        self.set_view.show_set(shown, self.store.session.selection.piece if shown is found else -1,
                               self.model.metal_colour)
        self.solid.fold_by_hand(hand_steps(piece.pattern) if piece else ())
        self.solid.show_piece(piece.pattern if piece else None, self.model.metal_colour, 0.0)
        ink = Ink(self.model.metal_colour, self.store.session.selection.fold or "")
        if piece is None:
            self.pattern_card.say("why" if found.findings else "")
            self.why.setText("\n".join(self.model.told(finding) for finding in found.findings))
            return
        self._say_proof()
        many = f" · {piece.pattern.qty} like this" if piece.pattern.qty > 1 else ""
        self.pattern_card.say(f"{piece.pattern.name}", f"{piece.pattern.id}{many} · piece "
                              f"{self.store.session.selection.piece + 1} of {count} · paint face up")
        points = marking_points(piece.pattern) if self.model.marked else ()
        self.pattern.show_drawing(pattern_drawing(piece.pattern, None, self.store.unit, points=points), ink)

    def show_results(self) -> None:
        super().show_results()
        self._say_proof()

    def _say_proof(self) -> None:
        """How far the piece is off its form folded up, and whether it fits."""
        piece = self.model.piece
        if piece is not None:
            folds_up = f"folds up to {Closest(piece.proof.max_gap).say(self.store.unit)}"
            self.solid_card.say("folded", "", self.model.with_fit(folds_up, piece.pattern.id),
                                self.model.is_proven(piece.pattern.id, piece.proof))

    def measured(self, name: str) -> Drawing | None:
        return self.model.measured(name)

    def _go(self, finding: Finding) -> None:
        title = (OWN_TITLES if self.model.own else TITLES).get(self.model.form, {}).get(finding.field, "")
        if title:
            self.slate.row(title).setFocus()
        else:
            self.store.say("survey")
