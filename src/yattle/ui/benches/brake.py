"""The brake bench: the piece on the machine step by step, the order as a strip of small pictures."""

from __future__ import annotations

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QLabel, QPushButton, QVBoxLayout

from yattle.brake import FoldJob, FoldOrder, Refusal, Trial, natural_order, plain_order, try_order
from yattle.brake.order import Step
from yattle.brake.trial import TrialStep
from yattle.drawing import Drawing, fold_letter, step_drawing
from yattle.section import Girth
from yattle.ui.benches.brake_slate import BrakeSlate
from yattle.ui.benches.strip import Offers, StepStrip
from yattle.ui.drawing.outline import MachineCanvas
from yattle.ui.drawing.paint import Ink
from yattle.ui.store import Store
from yattle.ui.widgets.card import Card, foot
from yattle.ui.widgets.slide import slider

_FRAMES = 16  # milliseconds from picture to picture while it plays


class BrakeBench(BrakeSlate):
    name, title = "brake", "Brake"

    def __init__(self, store: Store) -> None:
        super().__init__(store)
        self.here = 0
        self.mine: tuple[FoldJob, tuple[tuple[str, str], ...]] | None = None  # an order of one's own, and for what
        self.taken: tuple[FoldJob, tuple[tuple[str, str], ...]] | None = None  # practising: the strokes proposed so far
        self._play_soon = False
        self.player = QTimer(self)
        self.player.setInterval(_FRAMES)
        self.player.timeout.connect(self._frame)
        self.machine = MachineCanvas("the piece on the brake", (30, 26, 30, 26))
        self.machine.moved.connect(self._move_corner)
        self.machine.added.connect(self._add_corner)
        self.machine.removed.connect(self._remove_corner)
        self.swing = slider("swing of the leaf", lambda _: self._draw_machine())
        self.strip = StepStrip()
        self.strip.chosen.connect(self.go)
        self.strip.moved.connect(self.move)
        self._lay_out()
        self._fill_slate()

    def _lay_out(self) -> None:
        self.back, self.next, self.play = QPushButton("‹  step"), QPushButton("step  ›"), QPushButton("play")
        self.play.setCheckable(True)
        self.play.toggled.connect(self._play)
        self.best = QPushButton("best order")
        self.best.clicked.connect(self.take_best)
        for button, name, step in ((self.back, "step back", -1), (self.next, "next step", 1)):
            button.setAccessibleName(name)
            button.clicked.connect(lambda _, step=step: self.step(step))
        self.outline = QPushButton("outline")
        self.outline.setCheckable(True)
        self.outline.setToolTip("move the machine's corners: drag, arrows, Space next, Insert adds, Delete removes")
        self.outline.toggled.connect(lambda _: self.refresh())
        label = QLabel("leaf")
        label.setObjectName("dim")
        controls = foot(self.back, self.next, self.play, label, self.swing, self.outline, wide=self.swing)
        self.practise = QPushButton("practise")
        self.practise.setCheckable(True)
        self.practise.setToolTip("propose the next fold yourself and see what it does")
        self.practise.toggled.connect(self._practise)
        self.offers = Offers()
        self.offers.chosen.connect(self.propose)
        self.offers.taken_back.connect(self.take_back)
        self.machine_card, self.strip_card = Card(self.machine, controls), Card(self.strip, self.offers)
        for button in (self.best, self.practise):
            self.strip_card.bar.addWidget(button)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(8)
        column.addWidget(self.machine_card, 1)
        column.addWidget(self.strip_card)

    # -- showing ----------------------------------------------------------------------------------

    @property
    def order(self) -> FoldOrder | Refusal | None:
        """The order with the least handling or why there is none; ``None`` while it is worked out."""
        job = self._job
        found = self.desk.get(("order", job), plain_order, job) if job is not None else None
        return found if isinstance(found, FoldOrder | Refusal) else None

    @property
    def _girth(self) -> Girth | None:
        return self.run.detail.girth if self.run else None

    @property
    def _job(self) -> FoldJob | None:
        run = self.store.session.selection.run
        return self.store.session.derived.fold_job(run) if run else None

    @property
    def _own(self) -> Trial | None:
        """The person's own order as tried; where no order exists, the natural one, to show what strikes."""
        job = self._job
        if job is None:
            return None
        if self.taken is not None:
            return self._tried(job, self.taken[1] if self.taken[0] == job else ())
        if self.mine is not None and self.mine[0] == job:
            return self._tried(job, self.mine[1])
        return self._tried(job, natural_order(job)) if isinstance(self.order, Refusal) else None

    @property
    def _own_wanted(self) -> bool:
        """Whether an order of one's own is to be shown, tried already or not."""
        return self.taken is not None or (self.mine is not None and self.mine[0] == self._job)

    def _tried(self, job: FoldJob, strokes: tuple[tuple[str, str], ...]) -> Trial | None:
        found = self.desk.get(("try", job, strokes), try_order, job, strokes)
        return found if isinstance(found, Trial) else None

    @property
    def steps(self) -> tuple[TrialStep, ...]:
        """The strokes shown: one's own order, or the best."""
        own, order = self._own, self.order
        if own is not None or self._own_wanted:
            return own.steps if own is not None else ()
        return tuple(TrialStep(step, None, None) for step in order.steps) if isinstance(order, FoldOrder) else ()

    @property
    def current(self) -> Step | None:
        steps = self.steps
        return steps[min(self.here, len(steps) - 1)].step if steps else None

    def move(self, start: int, end: int) -> None:
        """Try stroke ``start`` at place ``end``."""
        job = self._job
        if job is None or start == end:
            return
        strokes = [(tried.step.fold, tried.step.action) for tried in self.steps]
        strokes.insert(end, strokes.pop(start))
        self.mine = (job, tuple(strokes))
        self.here = end
        step = self.current
        if step is not None:
            self.store.session.select(fold=step.fold)
        self.refresh()

    # -- practising -------------------------------------------------------------------------------

    def _practise(self, on: bool) -> None:
        job = self._job
        self.taken = (job, ()) if on and job is not None else None
        self.here = 0
        self.refresh()

    def propose(self, fold: str, action: str) -> None:
        """Fold this next, and see."""
        job = self._job
        if job is None or self.taken is None:
            return
        before = self.taken[1] if self.taken[0] == job else ()
        self.taken = (job, (*before, (fold, action)))
        self.here = len(before)
        self.store.session.select(fold=fold)
        self.swing.setValue(0)
        self.refresh()
        self._play_soon = True
        self._play_now()

    def _play_now(self) -> None:
        """A proposal is shown moving as soon as it has been tried."""
        if self._play_soon and self.steps:
            self._play_soon = False
            self.play.setChecked(True)

    def take_back(self) -> None:
        """Unfold the last proposal."""
        if self.taken is not None and self.taken[1]:
            self.taken = (self.taken[0], self.taken[1][:-1])
            self.here = max(0, len(self.taken[1]) - 1)
            self.refresh()

    def _show_offers(self) -> None:
        job, girth = self._job, self._girth
        self.offers.setVisible(self.taken is not None)
        if self.taken is None or job is None or girth is None:
            return
        taken = self.taken[1] if self.taken[0] == job else ()
        turns = {bend.id: bend.turn for bend in girth.bends}
        left = [(fold, action, fold_letter(fold, turns[fold], girth.profile, self.store.unit))
                for fold, action in natural_order(job) if (fold, action) not in taken]
        self.offers.show_strokes(left, bool(taken))

    def take_best(self) -> None:
        """Back to the order with the least handling."""
        self.mine = None
        self.refresh()

    # -- playing ----------------------------------------------------------------------------------

    def _play(self, on: bool) -> None:
        if on and self.steps:
            self.swing.setValue(0)
            self.player.start()
        else:
            self.player.stop()

    def _frame(self) -> None:
        """The leaf goes up; at the top the next stroke is laid in; at a strike it stops."""
        steps = self.steps
        if not steps or not self.isVisible():
            self.play.setChecked(False)
            return
        tried = steps[min(self.here, len(steps) - 1)]
        if tried.limit is not None and self.swing.value() >= self._strike_share(tried):
            self.play.setChecked(False)
        elif self.swing.value() < 100:
            self.swing.setValue(self.swing.value() + 3)
        elif self.here < len(steps) - 1:
            self.go(self.here + 1)
            self.swing.setValue(0)
        else:
            self.play.setChecked(False)

    @staticmethod
    def _strike_share(tried: TrialStep) -> float:
        return 100 * (tried.angle or 0.0) / max(abs(tried.step.turn), 1e-9)

    def go(self, n: int) -> None:
        """Show step ``n`` (from 0) and select its fold everywhere."""
        self.here = n
        step = self.current
        if step is not None:
            self.store.session.select(fold=step.fold)
        self.refresh()

    def step(self, by: int) -> None:
        if self.steps:
            self.go((self.here + by) % len(self.steps))

    def refresh(self) -> None:
        steps, girth = self.steps, self._girth
        self._follow_fold()
        super().refresh()
        self._show_offers()
        self.practise.setEnabled(self._job is not None)
        if self.taken is not None and not self.taken[1] and self.run is not None:
            self._begin_practice()
            return
        if not steps or girth is None or self.run is None:
            self._nothing()
            return
        self.here = min(self.here, len(steps) - 1)
        order = self.order
        proven = self._own is None and isinstance(order, FoldOrder) and order.proved_best
        self.machine_card.say(f"{self.run.run.id} · step {self.here + 1} of {len(steps)}",
                              self.store.session.job.brake.name, "least handling, proven" if proven else "")
        self.strip_card.say("Fold order", "drag a stroke to try it elsewhere · roll 1, spin 2")
        self.best.setVisible(self.mine is not None and self.taken is None and self.mine[0] == self._job
                             and isinstance(order, FoldOrder))
        self.strip.pictures = [(tried, self._drawing(n, 1.0, tools=False), self._caption(tried.step))
                               for n, tried in enumerate(steps)]
        self.strip.here, self.strip.metal = self.here, self.metal_colour
        self.strip.update()
        limit = steps[self.here].limit
        shaping = "drag a corner · arrows 1 mm · Space next · Insert adds · Delete removes"
        self.machine.corners = (shaping if self.outline.isChecked() else limit.says if limit else "nothing strikes", "")
        self._play_now()
        if limit is not None and not self.player.isActive():
            self.swing.setValue(min(100, round(self._strike_share(steps[self.here]))))
        self._draw_machine()

    def _follow_fold(self) -> None:
        """A fold selected elsewhere brings its first stroke to the front."""
        fold = self.store.session.selection.fold
        if fold and (self.current is None or self.current.fold != fold):
            self.here = next((n for n, tried in enumerate(self.steps) if tried.step.fold == fold), self.here)

    def _caption(self, step: Step) -> str:
        girth = self._girth
        assert girth is not None
        letter = fold_letter(step.fold, step.turn, girth.profile, self.store.unit)
        return f"{letter} flatten" if step.action == "flatten" else (
            f"{letter} at {self.say(step.mark_from_out_edge)}")

    def _begin_practice(self) -> None:
        self.machine_card.say("Practice", "the sheet is flat: which fold first?")
        self.strip_card.say("Your order", "propose a fold")
        self.best.hide()
        self.strip.pictures = []
        self.strip.update()
        self.machine.corners = ("", "")
        self.machine.show_drawing(Drawing(()), Ink())

    def _nothing(self) -> None:
        order = self.order
        says = "no piece to fold yet"
        if isinstance(order, Refusal):
            says = "; ".join(limit.says for limit in order.reasons)
        elif self._job is not None:
            says = "working out the order"
        self.machine_card.say("Cannot be folded" if order else "Brake", says)
        self.strip_card.say("Fold order", "")
        self.best.hide()
        self.strip.pictures = []
        self.strip.update()
        self.machine.corners = ("", "")
        self.machine.show_drawing(Drawing(()), Ink())

    def _drawing(self, n: int, swing: float, tools: bool) -> Drawing:
        girth, steps = self._girth, self.steps
        assert girth is not None
        turns = {tried.step.fold: tried.step.turn for tried in steps[:n]}
        step = steps[n].step
        return step_drawing(girth, self.store.session.job.brake, turns, step.fold, step.face_up, step.out,
                            abs(step.turn) * swing, tools, step.action)

    def _draw_machine(self) -> None:
        steps = self.steps
        if steps and self._girth is not None:
            n = min(self.here, len(steps) - 1)
            shaping = self.outline.isChecked()
            drawing = self._drawing(n, 0.0 if shaping else self.swing.value() / 100, tools=True)
            if shaping:  # the whole machine, leaf down
                drawing = Drawing(drawing.shapes, drawing.notes)
            self.machine.show_drawing(drawing, Ink(self.metal_colour, band=3))
            self.machine.show_corners(self._corners() if shaping else [])
