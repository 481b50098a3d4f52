"""The brake bench: the piece on the machine step by step, the order as a strip of small pictures."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from yattle.brake import FoldOrder, Refusal
from yattle.brake.order import Step
from yattle.brake.state import HANDS
from yattle.drawing import Drawing, fold_letter, step_drawing
from yattle.measure import Sum, Term, parse_angle, say_length
from yattle.section import Girth
from yattle.ui.benches.base import BenchPage
from yattle.ui.drawing.canvas import Canvas
from yattle.ui.drawing.paint import Ink, View, paint
from yattle.ui.frame.slate import Shown
from yattle.ui.store import Store
from yattle.ui.theme import theme, type_of
from yattle.ui.widgets.card import Card
from yattle.ui.widgets.slide import slider

_HONEST = "Clearance in the machine is not checked: try the order on a strip first."


class StepStrip(QWidget):
    """One small picture a stroke, between them what the hands do; press one to go there."""

    chosen = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self.pictures: list[tuple[Step, Drawing, str]] = []
        self.here, self.metal = 0, "#4a6b80"
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
        for n, (step, drawing, mark) in enumerate(self.pictures):
            self._picture(painter, self.place(n), step, drawing, mark, n == self.here)
        painter.end()

    def _picture(self, painter: QPainter, rect: QRectF, step: Step, drawing: Drawing, mark: str, here: bool) -> None:
        t = theme()
        painter.setPen(QPen(QColor(t.copper if here else t.line), 2 if here else 1))
        painter.setBrush(QColor(t.copper_soft if here else t.field))
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
        for n in range(len(self.pictures)):
            if self.place(n).contains(event.position()):
                self.chosen.emit(n)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(event.key())
        if step is None or not self.pictures:
            super().keyPressEvent(event)
        else:
            self.chosen.emit(max(0, min(len(self.pictures) - 1, self.here + step)))


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


class BrakeBench(BenchPage):
    name, title = "brake", "Brake"

    def __init__(self, store: Store) -> None:
        super().__init__(store)
        self.here = 0
        self._shown_for: object = None
        self.machine = Canvas("the piece on the brake", (30, 26, 30, 26))
        self.swing = slider("swing of the leaf", lambda _: self._draw_machine())
        self.strip = StepStrip()
        self.strip.chosen.connect(self.go)
        self._lay_out()
        self._fill_slate()

    def _lay_out(self) -> None:
        foot = QWidget()
        bar = QHBoxLayout(foot)
        bar.setContentsMargins(0, 0, 0, 0)
        self.back, self.next = QPushButton("‹  step"), QPushButton("step  ›")
        for button, name, step in ((self.back, "step back", -1), (self.next, "next step", 1)):
            button.setAccessibleName(name)
            button.clicked.connect(lambda _, step=step: self.step(step))
        label = QLabel("leaf")
        label.setObjectName("dim")
        for widget, stretch in ((self.back, 0), (self.next, 0), (label, 0), (self.swing, 1)):
            bar.addWidget(widget, stretch)
        self.machine_card, self.strip_card = Card(self.machine, foot), Card(self.strip)
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
        s.said("", lambda: _HONEST)
        s.group("The machine")
        s.said("brake", lambda: self.store.session.job.brake.name)
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
        order = self.order
        if isinstance(order, FoldOrder):
            proof = "least possible, proven" if order.proved_best else "best found"
            return f"{order.cost} ({proof}), {len(order.steps)} strokes"
        return "cannot be folded" if order else "no piece"

    # -- showing ----------------------------------------------------------------------------------

    @property
    def order(self) -> FoldOrder | Refusal | None:
        run = self.store.session.selection.run
        return self.store.session.derived.order(run) if run else None

    @property
    def _girth(self) -> Girth | None:
        return self.run.detail.girth if self.run else None

    @property
    def current(self) -> Step | None:
        order = self.order
        if not isinstance(order, FoldOrder) or not order.steps:
            return None
        return order.steps[min(self.here, len(order.steps) - 1)]

    def go(self, n: int) -> None:
        """Show step ``n`` (from 0) and select its fold everywhere."""
        self.here = n
        step = self.current
        if step is not None:
            self.store.session.select(fold=step.fold)
        self.refresh()

    def step(self, by: int) -> None:
        order = self.order
        if isinstance(order, FoldOrder):
            self.go((self.here + by) % len(order.steps))

    def refresh(self) -> None:
        order, girth = self.order, self._girth
        self._follow_fold(order)
        super().refresh()
        if not isinstance(order, FoldOrder) or girth is None or self.run is None:
            self._nothing(order)
            return
        self.machine_card.say(f"{self.run.run.id} · step {min(self.here, len(order.steps) - 1) + 1} of "
                              f"{len(order.steps)}", self.store.session.job.brake.name,
                              "least handling, proven" if order.proved_best else "")
        self.strip_card.say("Fold order", "handling: roll 1, spin 2")
        self.strip.pictures = [(step, self._drawing(order, n, 1.0, tools=False), self._caption(step))
                               for n, step in enumerate(order.steps)]
        self.strip.here, self.strip.metal = min(self.here, len(order.steps) - 1), self.metal_colour
        self.strip.update()
        self._draw_machine()

    def _follow_fold(self, order: FoldOrder | Refusal | None) -> None:
        """A fold selected elsewhere brings its first stroke to the front."""
        fold = self.store.session.selection.fold
        if isinstance(order, FoldOrder) and fold and (self.current is None or self.current.fold != fold):
            self.here = next((n for n, step in enumerate(order.steps) if step.fold == fold), self.here)

    def _caption(self, step: Step) -> str:
        girth = self._girth
        assert girth is not None
        letter = fold_letter(step.fold, step.turn, girth.profile, self.store.unit)
        return f"{letter} flatten" if step.action == "flatten" else (
            f"{letter} at {self.say(step.mark_from_out_edge)}")

    def _nothing(self, order: FoldOrder | Refusal | None) -> None:
        says = "no piece to fold yet"
        if isinstance(order, Refusal):
            says = "; ".join(limit.says for limit in order.reasons)
        self.machine_card.say("Cannot be folded" if order else "Brake", says)
        self.strip_card.say("Fold order", "")
        self.strip.pictures = []
        self.strip.update()
        self.machine.show_drawing(Drawing(()), Ink())

    def _drawing(self, order: FoldOrder, n: int, swing: float, tools: bool) -> Drawing:
        girth, step = self._girth, order.steps[n]
        assert girth is not None
        turns = {earlier.fold: earlier.turn for earlier in order.steps[:n]}
        return step_drawing(girth, self.store.session.job.brake, turns, step.fold, step.face_up, step.out,
                            abs(step.turn) * swing, tools)

    def _draw_machine(self) -> None:
        order = self.order
        if isinstance(order, FoldOrder) and self._girth is not None and order.steps:
            n = min(self.here, len(order.steps) - 1)
            self.machine.show_drawing(self._drawing(order, n, self.swing.value() / 100, tools=True),
                                      Ink(self.metal_colour, band=5))
