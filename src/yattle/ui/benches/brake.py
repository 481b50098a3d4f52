"""The brake bench: the piece on the machine step by step, the order as a strip of small pictures."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from yattle.brake import (
    LIBRARY,
    FoldJob,
    FoldOrder,
    Refusal,
    Suggestion,
    Trial,
    natural_order,
    suggestions,
    try_order,
)
from yattle.brake.batch import batch
from yattle.brake.order import Step
from yattle.brake.state import HANDS, Limit
from yattle.brake.trial import TrialStep
from yattle.details import Finding
from yattle.devices import Folder, StandInFolder, fold_piece
from yattle.drawing import Drawing, fold_letter, step_drawing
from yattle.errors import YattleError
from yattle.measure import Sum, Term, parse_angle, say_length
from yattle.section import Girth
from yattle.ui.benches.base import BenchPage
from yattle.ui.drawing.outline import Corner, MachineCanvas
from yattle.ui.drawing.paint import Ink, View, paint
from yattle.ui.frame.slate import Shown
from yattle.ui.store import Store, Worker
from yattle.ui.theme import theme, type_of
from yattle.ui.widgets.card import Card
from yattle.ui.widgets.slide import slider

_FRAMES = 16  # milliseconds from picture to picture while it plays


class StepStrip(QWidget):
    """One small picture a stroke, between them what the hands do.

    Press one to go there; drag it, or Shift with an arrow, to try it earlier or later.
    """

    chosen = pyqtSignal(int)
    moved = pyqtSignal(int, int)

    def __init__(self) -> None:
        super().__init__()
        self.pictures: list[tuple[TrialStep, Drawing, str]] = []
        self.here, self.metal, self._grip = 0, "#4a6b80", -1
        self.setMinimumHeight(158)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("fold order, step by step")

    def sizeHint(self) -> QSize:
        return QSize(500, 158)

    def place(self, n: int) -> QRectF:
        """Where picture ``n`` stands."""
        count = max(len(self.pictures), 1)
        width = min(190.0, self.width() / count)
        return QRectF(n * width, 0, width, self.height()).adjusted(3, 2, -3, -2)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for n, (tried, drawing, mark) in enumerate(self.pictures):
            self._picture(painter, self.place(n), tried, drawing, mark, n == self.here)
        painter.end()

    def _picture(self, painter: QPainter, rect: QRectF, tried: TrialStep, drawing: Drawing, mark: str,
                 here: bool) -> None:
        t, step = theme(), tried.step
        edge, ground = (t.copper, t.copper_soft) if here else (t.line, t.field)
        if tried.limit is not None:
            edge, ground = t.oxide, t.oxide_soft
        painter.setPen(QPen(QColor(edge), 2 if here else 1))
        painter.setBrush(QColor(ground))
        painter.drawRoundedRect(rect, 6, 6)
        painter.setPen(QColor(t.ink))
        painter.setFont(type_of(10.5, QFont.Weight.DemiBold))
        painter.drawText(rect.adjusted(10, 6, -8, 0), Qt.AlignmentFlag.AlignTop, f"{step.n}  {HANDS[step.handling]}")
        _hands(painter, QPointF(rect.right() - 20, rect.top() + 16), step.handling)
        inside = rect.adjusted(12, 30, -12, -34)
        painter.save()
        painter.setClipRect(inside.adjusted(-6, -4, 6, 4))
        view = View.fit(drawing.box, inside)
        paint(painter, drawing, view, Ink(self.metal, texts=False, band=2.6))
        painter.restore()
        painter.setPen(QColor(t.ink))
        painter.setFont(type_of(10.5))
        painter.drawText(rect.adjusted(10, 0, -6, -8), Qt.AlignmentFlag.AlignBottom, mark)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self._grip = self._at(event.position())
        if self._grip >= 0:
            self.chosen.emit(self._grip)

    def _at(self, place: QPointF) -> int:
        return next((n for n in range(len(self.pictures)) if self.place(n).contains(place)), -1)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        target = self._at(event.position())
        if self._grip >= 0 and target >= 0 and target != self._grip:
            self.moved.emit(self._grip, target)
        self._grip = -1

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(event.key())
        if step is None or not self.pictures:
            super().keyPressEvent(event)
            return
        target = max(0, min(len(self.pictures) - 1, self.here + step))
        if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self.moved.emit(self.here, target)
        else:
            self.chosen.emit(target)


def _hands(painter: QPainter, at: QPointF, handling: str) -> None:
    """What the hands do, drawn: an arc over for a roll, a ring round for a spin."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(QColor(theme().ink), 1.6))
    if "roll" in handling:
        painter.drawArc(QRectF(at.x() - 9, at.y() - 8, 18, 18), 20 * 16, 140 * 16)
        painter.drawLine(at + QPointF(8.5, -2), at + QPointF(9, -8))
        painter.drawLine(at + QPointF(8.5, -2), at + QPointF(3, -3))
    if "spin" in handling:
        painter.drawEllipse(QRectF(at.x() - 9, at.y() - 3, 18, 9))
        painter.drawLine(at + QPointF(9, 1), at + QPointF(5, -3))


class Offers(QWidget):
    """Practising: a button for every fold still to make, and one to take the last back."""

    chosen = pyqtSignal(str, str)
    taken_back = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(0, 0, 0, 0)
        self.hide()

    def show_strokes(self, strokes: list[tuple[str, str, str]], any_taken: bool) -> None:
        """``strokes``: fold, action, letter of each still to make."""
        while self._row.count():
            item = self._row.takeAt(0)
            old = item.widget() if item else None
            if old is not None:
                old.hide()
                old.deleteLater()
        for fold, action, letter in strokes:
            button = QPushButton(f"flatten {letter}" if action == "flatten" else letter)
            button.clicked.connect(lambda _, fold=fold, action=action: self.chosen.emit(fold, action))
            self._row.addWidget(button)
        self._row.addStretch(1)
        back = QPushButton("take back")
        back.setEnabled(any_taken)
        back.clicked.connect(lambda _: self.taken_back.emit())
        self._row.addWidget(back)


class BrakeBench(BenchPage):
    name, title = "brake", "Brake"

    def __init__(self, store: Store) -> None:
        super().__init__(store)
        self.here = 0
        self.mine: tuple[FoldJob, tuple[tuple[str, str], ...]] | None = None  # an order of one's own, and for what
        self.taken: tuple[FoldJob, tuple[tuple[str, str], ...]] | None = None  # practising: the strokes proposed so far
        self.measured, self.folded = "Ctrl+G folds a piece on it", 1
        self.helper = Worker(self)
        self._tried: tuple[FoldJob | None, tuple[Suggestion, ...]] = (None, ())
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
        foot = QWidget()
        bar = QHBoxLayout(foot)
        bar.setContentsMargins(0, 0, 0, 0)
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
        for widget, stretch in ((self.back, 0), (self.next, 0), (self.play, 0), (label, 0), (self.swing, 1),
                                (self.outline, 0)):
            bar.addWidget(widget, stretch)
        self.practise = QPushButton("practise")
        self.practise.setCheckable(True)
        self.practise.setToolTip("propose the next fold yourself and see what it does")
        self.practise.toggled.connect(self._practise)
        self.offers = Offers()
        self.offers.chosen.connect(self.propose)
        self.offers.taken_back.connect(self.take_back)
        self.machine_card, self.strip_card = Card(self.machine, foot), Card(self.strip, self.offers)
        for button in (self.best, self.practise):
            self.strip_card.bar.addWidget(button)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(8)
        column.addWidget(self.machine_card, 1)
        column.addWidget(self.strip_card)

    # -- the slate --------------------------------------------------------------------------------

    def _fill_slate(self) -> None:
        s = self.slate
        s.group("This step")
        s.read("mark", self._mark, big=True)
        s.read("leaf to", self._leaf)
        s.said("fold", lambda: self._says(self.current) if self.current else "–")
        s.group("The order")
        s.said("handling", self._cost)
        s.said("batch", self._batch)
        s.said("stand-in", lambda: self.measured)
        s.look_list(self._troubles, self._help)
        s.group("The machine")
        s.choice("brake", self._brakes, lambda: self.store.session.job.brake.name, self._put_brake)
        for name, title, hint in (
                ("min_flange", "least flange", "least flat outside the fold line"),
                ("min_hold", "least hold", "least flat under the jaw"),
                ("throat", "throat", "how far a piece may reach into the machine"),
                ("max_length", "length", "longest piece"),
                ("max_thickness", "thickness", "thickest metal")):
            self._limit(name, title, hint)
        s.number("greatest turn", lambda: Shown(f"{self.store.session.job.brake.max_turn:g}°"),
                 lambda text: self._put_number("max_turn", text), "as far as the leaf goes")
        s.number("springback", lambda: Shown(f"{self.store.session.job.brake.springback.ratio:g}", "leaf over fold"),
                 self._put_springback, "how far the leaf goes for each degree that stays")

    def _limit(self, name: str, title: str, hint: str) -> None:
        self.slate.number(title, lambda: Shown(self.say(getattr(self.store.session.job.brake, name))),
                          lambda text: self._put_length(name, title, text), hint)

    def _batch(self) -> str:
        """All pieces of the run: each finished before the next, or one setting for all."""
        steps, count = self.steps, len(self.run.pieces) if self.run else 0
        if not steps or count < 2:
            return "one piece"
        plan = batch(tuple(tried.step for tried in steps), count)
        (lifts, settings), (all_lifts, all_settings) = plan.one_by_one, plan.all_at_once
        return (f"{count} pieces one by one: {lifts} lifts, {settings} settings\n"
                f"all at once: {all_lifts} lifts, {all_settings} settings")

    def fold_on_stand_in(self) -> None:
        """Fold one piece on the stand-in folder by the order shown, and say what was measured."""
        steps = tuple(tried.step for tried in self.steps)
        if not steps or self._stopping():
            self.measured = "not folded: this order strikes" if steps else ""
        else:
            try:
                folder = Folder(StandInFolder(seed=self.folded))
                self.folded += 1
                self.measured = "\n".join(
                    f"{m.fold} {m.wanted:.0f}° came out {m.angle:.1f}°" for m in fold_piece(folder, steps))
            except YattleError as wrong:
                self.measured = str(wrong)
        self.refresh()

    def _brakes(self) -> list[tuple[str, str]]:
        names = [brake.name for brake in LIBRARY]
        own = self.store.session.job.brake.name
        return [(name, name) for name in (names if own in names else [own, *names])]

    def _put_brake(self, name: str) -> str | None:
        brake = next((brake for brake in LIBRARY if brake.name == name), None)
        if brake is None:
            return None
        return self.store.attempt(lambda: self.store.session.edit("brake", lambda job: job.but(brake=brake)))

    def _troubles(self) -> list[tuple[str, Finding]]:
        """What stops this order, worst first; where there is none at all, what was tried and helps."""
        found = [("", Finding("stop", limit.says)) for limit in self._stopping()[:3]]
        order = self.order
        if isinstance(order, Refusal):
            found += [("", Finding("look", suggestion.says)) for suggestion in self._suggested()]
        return found

    def _suggested(self) -> tuple[Suggestion, ...]:
        """What was tried beside the window and helps; asked for when first wanted."""
        job, order = self._job, self.order
        if job is None or not isinstance(order, Refusal):
            return ()
        if self._tried[0] != job:
            self._tried = (job, ())
            self.helper.ask(lambda: (job, tuple(suggestions(job, order.reasons))), self._take_suggestions)
        return self._tried[1]

    def _take_suggestions(self, result: object) -> None:
        if isinstance(result, tuple):
            self._tried = result
            self.refresh()

    def _stopping(self) -> list[Limit]:
        order = self.order
        if isinstance(order, Refusal):
            return list(order.reasons)
        return [tried.limit for tried in self.steps if tried.limit is not None]

    def _help(self, _: str, finding: Finding) -> None:
        """A suggestion that names a machine or a leg is taken at a press."""
        taken = next((s for s in self._suggested() if s.says == finding.text), None)
        if taken is None or self.run is None:
            return
        at = dict(taken.at)
        if taken.kind == "machine":
            self._put_brake(at["brake"])
        elif taken.kind == "leg":
            name, run_id = self.run.detail.leg_fields[at["leg"] - 1], self.run.run.id
            self.store.attempt_aloud(lambda: self.store.session.set_own(run_id, name, float(at["length"])))
        else:
            self.store.said.emit(taken.says)

    # -- the machine's outlines -------------------------------------------------------------------

    def _corners(self) -> list[Corner]:
        brake = self.store.session.job.brake
        return [Corner(tool, n, at) for tool in ("clamp", "bed", "leaf") for n, at in enumerate(getattr(brake, tool))]

    def _reshape(self, tool: str, ring: list[tuple[float, float]]) -> None:
        """A new outline for a tool; one that cannot be is said and nothing changes."""
        self.store.attempt_aloud(lambda: self._set(f"{tool} outline", **{tool: tuple(ring)}))
        self.refresh()

    def _move_corner(self, tool: str, index: int, x: float, y: float) -> None:
        ring = list(getattr(self.store.session.job.brake, tool))
        ring[index] = (x, y)
        self._reshape(tool, ring)

    def _add_corner(self, tool: str, index: int) -> None:
        ring = list(getattr(self.store.session.job.brake, tool))
        a, b = ring[index], ring[(index + 1) % len(ring)]
        ring.insert(index + 1, (round((a[0] + b[0]) / 2), round((a[1] + b[1]) / 2)))
        self._reshape(tool, [(float(x), float(y)) for x, y in ring])

    def _remove_corner(self, tool: str, index: int) -> None:
        ring = list(getattr(self.store.session.job.brake, tool))
        self._reshape(tool, ring[:index] + ring[index + 1:])

    def _put_length(self, name: str, title: str, text: str) -> str | None:
        return self.store.attempt(lambda: self._set(title, **{name: self.length_from(text, title)}))

    def _put_number(self, name: str, text: str) -> str | None:
        return self.store.attempt(lambda: self._set("greatest turn", **{name: parse_angle(text, "greatest turn")}))

    def _put_springback(self, text: str) -> str | None:
        spring = self.store.session.job.brake.springback
        return self.store.attempt(lambda: self._set(
            "springback", springback=spring.but(ratio=parse_angle(text, "springback"))))

    def _set(self, title: str, **changes: object) -> None:
        self.store.session.edit(f"brake {title}", lambda job: job.but(brake=job.brake.but(**changes)))

    def _mark(self) -> Shown:
        """The mark from the edge the person can reach, and the flats and arcs it is added up from."""
        step, girth = self.current, self._girth
        if step is None or girth is None:
            return Shown("–")
        terms, place = [], [bend.id for bend in girth.bends].index(step.fold)
        parts = list(zip(girth.profile.strip_names, girth.flats, strict=True))
        arcs = [bend.arc for bend in girth.bends]
        if step.out == "B":
            parts, arcs, place = parts[::-1], arcs[::-1], len(arcs) - 1 - place
        for n in range(place + 1):
            terms.append(Term(f"flat of {parts[n][0]}", parts[n][1]))
            terms.append(Term("its arc" if n < place else "half its arc", arcs[n] / (1 if n < place else 2)))
        total = Sum(f"from raw edge {step.out}", tuple(terms))
        return Shown(self.say(step.mark_from_out_edge), f"from {step.out}", total,
                     lambda mm: say_length(mm, self.store.unit, 2))

    def _leaf(self) -> Shown:
        step = self.current
        if step is None or step.set_angle is None:
            return Shown("flatten" if step else "–")
        turn = abs(step.turn)
        total = Sum("leaf to", (Term("turn", turn), Term("springback", step.set_angle - turn)))
        return Shown(f"{step.set_angle:.1f}°", "", total, lambda degrees: f"{degrees:.2f}°")

    def _says(self, step: Step) -> str:
        girth = self._girth
        assert girth is not None
        letter = fold_letter(step.fold, step.turn, girth.profile, self.store.unit)
        return f"{letter}, {step.face_up} face up, edge {step.out} out"

    def _cost(self) -> str:
        order, steps = self.order, self.steps
        if not steps:
            return "no piece"
        if isinstance(order, Refusal):
            return "no order can be folded on this machine"
        assert order is not None
        if self._own is None:
            proof = "least possible, proven" if order.proved_best else f"best found, none is under {order.bound}"
            return f"{order.cost} ({proof}), {len(steps)} strokes"
        cost = self._own.cost
        if self.taken is not None:
            return f"{cost} so far" if self._own.ok else "this strikes: take it back, or go on and see"
        return f"{cost}, the best order costs {order.cost}" if self._own.ok else "this order strikes"

    # -- showing ----------------------------------------------------------------------------------

    @property
    def order(self) -> FoldOrder | Refusal | None:
        run = self.store.session.selection.run
        return self.store.session.derived.order(run) if run else None

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
            return try_order(job, self.taken[1] if self.taken[0] == job else ())
        if self.mine is not None and self.mine[0] == job:
            return try_order(*self.mine)
        return try_order(job, natural_order(job)) if isinstance(self.order, Refusal) else None

    @property
    def steps(self) -> tuple[TrialStep, ...]:
        """The strokes shown: one's own order, or the best."""
        own, order = self._own, self.order
        if own is not None:
            return own.steps
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
        if self.taken is not None and not steps and self.run is not None:
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
            self.machine.show_drawing(drawing, Ink(self.metal_colour, band=5))
            self.machine.show_corners(self._corners() if shaping else [])
