"""The stock to scale with the pieces on it, cut by cut."""

from __future__ import annotations

from typing import Any

from PyQt6.QtWidgets import QVBoxLayout

from yattle.coil import NestAnswer
from yattle.ui.benches.base import BenchPage
from yattle.ui.benches.coil.lanes import Lane
from yattle.ui.benches.coil.model import CoilModel
from yattle.ui.benches.coil.slate import fill
from yattle.ui.benches.coil.stock_view import StockView
from yattle.ui.store import Store
from yattle.ui.widgets.card import Card
from yattle.ui.widgets.playback import Playback

_PACE = 450  # ms a cut while it plays



class CoilBench(BenchPage):
    """The stock to scale with the pieces on it, cut by cut."""

    name, title = "coil", "Coil"

    def __init__(self, store: Store) -> None:
        super().__init__(store)
        self.model = CoilModel(store, self.refresh)
        self._drawn: tuple[NestAnswer, tuple[Any, ...], list[Lane], dict[str, list[float]]] | None = None
        self.view = StockView()
        self.view.pressed.connect(self._press)
        self.view.dropped.connect(self._drop)
        self.view.tell = self.model.where
        self.playback = Playback("cut", lambda _: self._show_stock(), _PACE)
        self.cut, self.said, self.play = self.playback.slider, self.playback.said, self.playback.play
        self.card = Card(self.view, self.playback)
        store.leaving.connect(self.model.plan.search.stop)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.card)
        fill(self.slate, self.model)

    def _press(self, key: str) -> None:
        self.model.hand.pressed_at = self.view.pressed_at
        self.model.pressed(key)

    def _drop(self, key: str, stock: str, x: float, y: float) -> None:
        self.model.hand.pressed_at = self.view.pressed_at
        self.model.hand.drop(key, stock, x, y)

    def _count_cuts(self) -> None:
        """The slider goes to the last cut of another plan."""
        count = len(self.model.answer.cuts) if self.model.answer else 0
        self.cut.blockSignals(True)
        self.cut.setRange(0, count)
        self.cut.setValue(count)
        self.cut.blockSignals(False)
        self.playback.show_controls(count > 0)

    def show_results(self) -> None:
        if self.model.is_new:
            self.refresh()

    def refresh(self) -> None:
        if self.model.look_again():
            self._count_cuts()
        super().refresh()
        job, answer = self.store.session.job, self.model.answer
        done = sum(pieces.copies for pieces in job.cut)
        if answer is None:
            self.card.say("Working it out …")
        elif not answer.used:
            self.card.say("Nothing to cut", "no pieces yet" if not self.store.session.derived.pieces else
                          f"all {done} pieces are cut" if done and not answer.unplaced else
                          "no stock of this metal fits: give the coil's width on the slate")
        else:
            left = f"{len(answer.placements)} pieces" + (f" still to cut, {done} are cut" if done else "")
            self.card.say(job.metal_name, f"{job.colour} · {left} · paint face up",
                          "every piece placed" if answer.ok else "")
        self._show_stock()

    def _show_stock(self) -> None:
        answer, job = self.model.answer, self.store.session.job
        if answer is None:
            return
        upto, piece = self.cut.value(), self.model.selected_piece()
        stock = job.stock
        folded = next((p for p in self.store.session.derived.patterns if p.id == piece), None)
        of = (stock, upto, folded, job.rules.cutting, self.store.unit)
        if self._drawn is None or self._drawn[0] is not answer or self._drawn[1] != of:
            self._drawn = answer, of, *self.model.lanes(answer, stock, upto, folded)
        now = f"cut:{upto}" if answer.cuts and upto < len(answer.cuts) else ""
        chosen = (piece, self.store.session.selection.fold or "", now)
        self.view.kept = self.model.hand.kept_blocks()
        self.view.show_stock(self._drawn[2], self._drawn[3], chosen, self.model.metal_colour)
        self.said.setText(self.model.cut_says(upto))
