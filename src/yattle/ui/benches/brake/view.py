"""The piece on the machine step by step, the order as a strip of small pictures."""

from __future__ import annotations

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QPushButton, QVBoxLayout

from yattle.brake import Refusal
from yattle.drawing import Drawing
from yattle.ui.benches.base import BenchPage
from yattle.ui.benches.brake.model import BrakeModel
from yattle.ui.benches.brake.slate import fill
from yattle.ui.benches.brake.strip import Offers, StepStrip
from yattle.ui.drawing.outline import MachineCanvas
from yattle.ui.drawing.paint import Ink
from yattle.ui.store import Store
from yattle.ui.widgets.card import Card, foot
from yattle.ui.widgets.slide import slider
from yattle.ui.widgets.words import Words

_FRAMES = 16  # milliseconds from picture to picture while it plays


class BrakeBench(BenchPage):
    """The piece on the machine step by step, the order as a strip of small pictures."""

    name, title = "brake", "Brake"

    def __init__(self, store: Store) -> None:
        super().__init__(store)
        self.model = BrakeModel(store, self.refresh)
        self._play_soon = False
        self.player = QTimer(self)
        self.player.setInterval(_FRAMES)
        self.player.timeout.connect(self._frame)
        self.machine = MachineCanvas("the piece on the brake", (30, 26, 30, 26))
        self.machine.moved.connect(self.model.machine.move_corner)
        self.machine.added.connect(self.model.machine.add_corner)
        self.machine.removed.connect(self.model.machine.remove_corner)
        self.swing = slider("swing of the leaf", lambda _: self._draw_machine())
        self.strip = StepStrip()
        self.strip.chosen.connect(self.model.go)
        self.strip.moved.connect(self.model.move)
        self._lay_out()
        fill(self.slate, self.model)

    def _lay_out(self) -> None:
        self.back, self.next, self.play = QPushButton("‹  step"), QPushButton("step  ›"), QPushButton("play")
        self.play.setCheckable(True)
        self.play.toggled.connect(self._play)
        self.best = QPushButton("best order")
        self.best.clicked.connect(self.model.take_best)
        for button, name, step in ((self.back, "step back", -1), (self.next, "next step", 1)):
            button.setAccessibleName(name)
            button.clicked.connect(lambda _, step=step: self.model.step(step))
        self.outline = QPushButton("outline")
        self.outline.setCheckable(True)
        self.outline.setToolTip("move the machine's corners: drag, arrows, Space next, Insert adds, Delete removes")
        self.outline.toggled.connect(lambda _: self.refresh())
        label = Words("leaf")
        label.setObjectName("dim")
        controls = foot(self.back, self.next, self.play, label, self.swing, self.outline, wide=self.swing)
        self.practise = QPushButton("practise")
        self.practise.setCheckable(True)
        self.practise.setToolTip("propose the next fold yourself and see what it does")
        self.practise.toggled.connect(self.model.practise)
        self.offers = Offers()
        self.offers.chosen.connect(self._propose)
        self.offers.taken_back.connect(self.model.take_back)
        self.machine_card, self.strip_card = Card(self.machine, controls), Card(self.strip, self.offers)
        for button in (self.best, self.practise):
            self.strip_card.bar.addWidget(button)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(8)
        column.addWidget(self.machine_card, 1)
        column.addWidget(self.strip_card)

    def _propose(self, fold: str, action: str) -> None:
        """Fold this next, and see it move."""
        if self.model.propose(fold, action):
            self.swing.setValue(0)
            self.refresh()
            self._play_soon = True
            self._play_now()

    def _play_now(self) -> None:
        """A proposal is shown moving as soon as it has been tried."""
        if self._play_soon and self.model.steps:
            self._play_soon = False
            self.play.setChecked(True)

    def _show_offers(self) -> None:
        taken = self.model.taken
        self.offers.setVisible(taken is not None)
        if taken is not None and self.model.job is not None:
            self.offers.show_strokes(self.model.offered, taken[0] == self.model.job and bool(taken[1]))

    def _play(self, on: bool) -> None:
        if on and self.model.steps:
            self.swing.setValue(0)
            self.player.start()
        else:
            self.player.stop()

    def _frame(self) -> None:
        """The leaf goes up; at the top the next stroke is laid in; at a strike it stops."""
        steps = self.model.steps
        if not steps or not self.isVisible():
            self.play.setChecked(False)
            return
        tried = steps[min(self.model.here, len(steps) - 1)]
        if tried.limit is not None and self.swing.value() >= self.model.strike_share(tried):
            self.play.setChecked(False)
        elif self.swing.value() < 100:
            self.swing.setValue(self.swing.value() + 3)
        elif self.model.here < len(steps) - 1:
            self.model.go(self.model.here + 1)
            self.swing.setValue(0)
        else:
            self.play.setChecked(False)

    def refresh(self) -> None:
        steps, girth = self.model.steps, self.model.girth
        self.model.follow_fold()
        super().refresh()
        self._show_offers()
        self.practise.setEnabled(self.model.job is not None)
        if self.model.taken is not None and not self.model.taken[1] and self.model.run is not None:
            self._begin_practice()
            return
        if not steps or girth is None or self.model.run is None:
            self._nothing()
            return
        self.model.here = min(self.model.here, len(steps) - 1)
        self.machine_card.say(f"{self.model.run.run.id} · step {self.model.here + 1} of {len(steps)}",
                              self.store.session.job.brake.name, "the least there is" if self.model.proven else "",
                              earned=self.model.proven)
        self.strip_card.say("Fold order", "drag a stroke to try it elsewhere · roll 1, spin 2")
        self.best.setVisible(self.model.can_take_best)
        self.strip.pictures = [(tried, self.model.drawing(n, 1.0, tools=False), self.model.caption(tried.step))
                               for n, tried in enumerate(steps)]
        self.strip.here, self.strip.metal = self.model.here, self.model.metal_colour
        self.strip.update()
        limit = steps[self.model.here].limit
        shaping = "drag a corner · arrows 1 mm · Space next · Insert adds · Delete removes"
        self.machine.corners = (shaping if self.outline.isChecked() else limit.says if limit else "nothing strikes", "")
        self._play_now()
        if limit is not None and not self.player.isActive():
            self.swing.setValue(min(100, round(self.model.strike_share(steps[self.model.here]))))
        self._draw_machine()

    def _begin_practice(self) -> None:
        run, flat = self.model.run, self.model.flat()
        self.machine_card.say(f"Practice · {run.run.id if run else ''}", "the sheet is flat: which fold first?")
        self.strip_card.say("Your order", "propose a fold")
        self._clear()
        if flat is not None:
            self.machine.corners = (self.store.session.job.brake.name, "")
            self.machine.show_drawing(flat, Ink(self.model.metal_colour, band=3))

    def _nothing(self) -> None:
        order = self.model.order
        says = "no piece to fold yet"
        if isinstance(order, Refusal):
            says = "; ".join(limit.says for limit in order.reasons)
        elif self.model.job is not None:
            says = "working out the order"
        self.machine_card.say("Cannot be folded" if order else "Brake", says)
        self.strip_card.say("Fold order", "")
        self._clear()

    def _clear(self) -> None:
        """Neither a machine nor strokes to be seen."""
        self.best.hide()
        self.strip.pictures = []
        self.strip.update()
        self.machine.corners = ("", "")
        self.machine.show_drawing(Drawing(()), Ink())

    def _draw_machine(self) -> None:
        steps = self.model.steps
        if steps and self.model.girth is not None:
            n = min(self.model.here, len(steps) - 1)
            shaping = self.outline.isChecked()
            drawing = self.model.drawing(n, 0.0 if shaping else self.swing.value() / 100, tools=True)
            if shaping:  # the whole machine, leaf down
                drawing = Drawing(drawing.shapes, drawing.notes)
            self.machine.show_drawing(drawing, Ink(self.model.metal_colour, band=3))
            self.machine.show_corners(self.model.machine.corners() if shaping else [])
