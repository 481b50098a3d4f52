"""The coil bench: stock to scale with the pieces on it, cut by cut, and how good that is."""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from yattle.coil import NestAnswer, Stock
from yattle.details import Finding
from yattle.drawing import Drawing, crosscuts, stock_drawing
from yattle.measure import Sum, Term, parse_angle, say_length
from yattle.ui.benches.base import BenchPage
from yattle.ui.benches.nest_search import NestSearch
from yattle.ui.drawing.paint import Ink, View, paint
from yattle.ui.frame.slate import Shown
from yattle.ui.store import Store
from yattle.ui.theme import theme, type_of
from yattle.ui.widgets.card import Card, foot
from yattle.ui.widgets.slide import slider

_SIDE, _ABOVE = 44, 34  # px beside and above a row


@dataclass(frozen=True)
class Lane:
    """A stretch of one stock piece shown on one line: from ``start`` to ``end`` mm."""

    name: str
    drawing: Drawing
    start: float
    end: float
    width: float


class StockView(QWidget):
    """All stock used, to one scale; a long coil goes on in the next line at a crosscut."""

    pressed = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.lanes: list[Lane] = []
        self.breaks: dict[str, list[float]] = {}
        self.selected, self.fold, self.cut, self.metal = "", "", "", "#4a6b80"
        self.hits: list[tuple[QRectF, str]] = []
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("stock with the pieces on it")

    def sizeHint(self) -> QSize:
        return QSize(500, 400)

    def show_stock(self, lanes: list[Lane], breaks: dict[str, list[float]], selected: tuple[str, str, str],
                   metal: str) -> None:
        """``selected``: the piece, the fold and the cut to be shown in copper, each may be empty."""
        self.lanes, self.breaks, self.metal = lanes, breaks, metal
        self.selected, self.fold, self.cut = selected
        self.update()

    def _rows(self, longest: float) -> list[Lane]:
        """The lanes cut at crosscuts so that none is longer than ``longest`` mm (where that can be)."""
        rows = []
        for lane in self.lanes:
            start = lane.start
            stops = [stop for stop in self.breaks.get(lane.name, []) if lane.start < stop < lane.end] + [lane.end]
            for n, stop in enumerate(stops):
                last = n == len(stops) - 1
                if last or stops[n + 1] - start > longest:
                    rows.append(Lane(lane.name, lane.drawing, start, stop, lane.width))
                    start = stop
        return rows

    def _best_rows(self) -> tuple[list[tuple[Lane, float, float]], float]:
        """The rows with their places, and the scale at which everything is shown largest."""
        best: tuple[list[tuple[Lane, float, float]], float] = ([], 0.0)
        total = max((lane.end - lane.start for lane in self.lanes), default=1.0)
        for count in range(1, 9):
            rows = self._rows(total / count * 1.08)
            low, high = 0.0, (self.width() - 2 * _SIDE) / max(row.end - row.start for row in rows)
            for _ in range(18):
                scale = (low + high) / 2 if low else high
                placed, height = self._flow(rows, scale)
                if height <= self.height():
                    low = scale
                    if scale > best[1]:
                        best = (placed, scale)
                    if scale == high:
                        break
                else:
                    high, low = scale, low or scale / 64
        return best

    def _flow(self, rows: list[Lane], scale: float) -> tuple[list[tuple[Lane, float, float]], float]:
        """Rows set side by side while they fit, like words; their places and the height taken."""
        placed, x, y, tall = [], float(_SIDE), 4.0, 0.0
        for row in rows:
            wide, high = (row.end - row.start) * scale, row.width * scale + _ABOVE
            if placed and x + wide > self.width() - _SIDE / 2:
                x, y, tall = float(_SIDE), y + tall, 0.0
            placed.append((row, x, y))
            x, tall = x + wide + _SIDE + 10, max(tall, high)
        return placed, y + tall

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.hits = []
        if self.lanes:
            rows, scale = self._best_rows()
            for row, x, y in rows:
                self._row(painter, row, scale, x, y)
        painter.end()

    def _row(self, painter: QPainter, row: Lane, scale: float, x: float, y: float) -> None:
        t = theme()
        painter.setFont(type_of(10.5, QFont.Weight.DemiBold))
        painter.setPen(QColor(t.ink))
        painter.drawText(QPointF(x, y + 15), row.name + ("" if row.start == 0 else ", goes on"))
        view = View(scale, x - row.start * scale, y + 22 + row.width * scale)
        frame = QRectF(x, y + 20, (row.end - row.start) * scale, row.width * scale + 4)
        painter.save()
        painter.setClipRect(frame.adjusted(-_SIDE + 4 if row.start == 0 else 0, -2, 0.5, 2))
        ink = Ink(self.metal, self.selected, 8.5 if scale > 0.05 else 7.5, also=self.fold if self.fold else self.cut)
        for hit in paint(painter, row.drawing, view, ink):
            if frame.contains(hit.rect.center()) and hit.key:
                self.hits.append((hit.rect, hit.key))
        painter.restore()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        for rect, key in reversed(self.hits):
            if rect.contains(event.position()):
                self.pressed.emit(key)
                return

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        hit = next((key for rect, key in reversed(self.hits) if rect.contains(event.position())), "")
        self.setCursor(Qt.CursorShape.PointingHandCursor if hit else Qt.CursorShape.ArrowCursor)
        self.setToolTip(hit)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        keys = list(dict.fromkeys(key for _, key in self.hits))
        step = {Qt.Key.Key_Right: 1, Qt.Key.Key_Down: 1, Qt.Key.Key_Left: -1, Qt.Key.Key_Up: -1}.get(event.key())
        if step is None or not keys:
            super().keyPressEvent(event)
            return
        here = keys.index(self.selected) if self.selected in keys else -1
        self.pressed.emit(keys[(here + step) % len(keys)])


class CoilBench(BenchPage):
    name, title = "coil", "Coil"

    def __init__(self, store: Store) -> None:
        super().__init__(store)
        self.answer: NestAnswer | None = None
        self.view = StockView()
        self.view.pressed.connect(self._pressed)
        self.cut = slider("cuts made so far", lambda _: self._show_stock(), 0)
        self.said = QLabel()
        self.back, self.next = QPushButton("‹  cut"), QPushButton("cut  ›")
        for button, name, step in ((self.back, "cut before", -1), (self.next, "next cut", 1)):
            button.setAccessibleName(name)
            button.clicked.connect(lambda _, step=step: self.cut.setValue(self.cut.value() + step))
        self.card = Card(self.view, foot(self.back, self.next, self.cut, self.said, wide=self.cut))
        self.finder = NestSearch(store)
        self.finder.told.connect(self._told)
        self.finder.done.connect(self._searched)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.card)
        self._fill_slate()

    # -- the slate --------------------------------------------------------------------------------

    def _fill_slate(self) -> None:
        s = self.slate
        s.group("Off the coil")
        s.read("used", self._used, "length cut off the coils", big=True)
        s.read("used well", self._share, "pieces' area over the area taken")
        s.read("waste", self._waste, "what is taken and becomes no piece; offcuts kept are in it")
        s.read("at the least", self._bound, "what no plan can be under: the pieces' bare area on the cheapest stock")
        s.widget_row(self._search_row(), self._show_search)
        s.said("cuts", lambda: str(len(self.answer.cuts)) if self.answer else "working it out …")
        s.group("The coil")
        self._coil_field("width", "width")
        self._coil_field("length", "length left")
        s.number("price a metre", self._price, self._put_price)
        s.group("The shear")
        self._rule("max_crosscut", "longest piece", "longest piece cut off the coil")
        self._rule("end_trim", "end trim", "scrap off the coil's fresh end")
        self._rule("min_sliver", "least sliver", "narrowest strip the shear can take off")
        s.choice("first", lambda: [("crosscut", "cut across, then slit"), ("slit", "slit, then cut across")],
                 lambda: self.store.session.job.rules.first, lambda key: self._set_rules("first cut", first=key))
        s.look_list(self._unplaced, lambda run_id, finding: self.store.session.select(run=run_id))

    # -- the search for a better plan ---------------------------------------------------------------

    def _search_row(self) -> QWidget:
        """One button that begins and ends the search, and how it goes."""
        row = QWidget()
        across = QHBoxLayout(row)
        across.setContentsMargins(0, 2, 0, 6)
        self.look_on, self.progress = QPushButton("search on"), QLabel()
        self.look_on.setAccessibleName("search for a better plan, or stop")
        self.look_on.setToolTip("look for a plan that takes less; it can be stopped at any time")
        self.look_on.clicked.connect(self.search)
        self.progress.setObjectName("dim")
        self.progress.setWordWrap(True)
        across.addWidget(self.look_on)
        across.addWidget(self.progress, 1)
        return row

    def search(self) -> None:
        """Begin to look for a better plan, or stop with the best so far."""
        if self.finder.busy:
            self.finder.stop()
        elif self.answer is not None and self.answer.placements:
            self.progress.setText("searching …")
            self.finder.start()
        self._show_search()

    def _show_search(self) -> None:
        self.look_on.setText("stop" if self.finder.busy else "search on")
        self.look_on.setEnabled(self.answer is not None and bool(self.answer.placements))
        if not self.finder.busy and (self.answer is None or not self.answer.seconds):
            self.progress.setText("")

    def _told(self, answer: NestAnswer) -> None:
        over = f", {answer.over_bound:.1%} over the least" if answer.bound.value else ""
        self.progress.setText(f"{answer.objective:.1f}{over}")

    def _searched(self, answer: NestAnswer) -> None:
        before = self.answer.objective if self.answer is not None else answer.objective
        self.take(answer)
        saved = before - answer.objective
        self.progress.setText("the least there is, proven" if answer.proved_best else
                              f"{saved:.1f} less than before" if saved > 0.05 else "nothing better found")
        self.store.planned.emit()

    def _used(self) -> Shown:
        if not self.answer:
            return Shown("…")
        used = self._off_coils()
        return Shown(self.used_says(), "", Sum("used", tuple(Term(*row) for row in used)), self._metres)

    def _off_coils(self) -> list[tuple[str, float]]:
        coils = {s.id for s in self.store.session.job.stock if s.kind == "coil"}
        return [(u.stock, u.length) for u in (self.answer.used if self.answer else ()) if u.stock in coils]

    def used_says(self) -> str:
        """How much is cut off the coils, in words."""
        return self._metres(sum(length for _, length in self._off_coils()))

    def _metres(self, mm: float) -> str:
        return say_length(mm, self.store.unit) if self.store.unit.parts else f"{mm / 1000:.2f} m"

    def _share(self) -> Shown:
        if not self.answer:
            return Shown("…")
        placed, taken = self.answer.placed_area, self.answer.used_area
        rows = (Term("taken, m²", taken), Term("waste, m²", placed - taken))
        return Shown(f"{self.answer.share_used:.1%}", "", Sum("in pieces, m²", rows), lambda v: f"{v:.3f}")

    def _waste(self) -> Shown:
        if not self.answer:
            return Shown("…")
        waste = self.answer.used_area - self.answer.placed_area
        terms = (Term("taken, m²", self.answer.used_area), Term("in pieces, m²", -self.answer.placed_area))
        return Shown(f"{waste:.2f} m²", f"{len(self.answer.offcuts)} offcuts kept", Sum("waste, m²", terms),
                     lambda v: f"{v:.3f}")

    def _bound(self) -> Shown:
        if not self.answer or not self.answer.bound.value:
            return Shown("–")
        bound = self.answer.bound
        per_metal = tuple(Term(metal, value) for metal, value in bound.by_metal.items())
        return Shown(f"{bound.value:.1f}", f"plan {self.answer.objective:.1f}, {self.answer.over_bound:.1%} over",
                     Sum("no plan is under", per_metal), lambda value: f"{value:.2f}")

    @property
    def _coil(self) -> Stock | None:
        return self.store.session.job.coil

    def _coil_field(self, name: str, title: str) -> None:
        self.slate.number(title, lambda: Shown(self._of_coil(name)),
                          lambda text: self._put_coil(title, name, text))

    def _of_coil(self, name: str) -> str:
        value = getattr(self._coil, name) if self._coil else None
        if self._coil is None:
            return ""
        return say_length(value, self.store.unit, 0) if value is not None else "enough"

    def _put_coil(self, title: str, name: str, text: str) -> str | None:
        def deed() -> None:
            enough = name == "length" and text.strip() in ("", "enough")
            self._change_coil(title, **{name: None if enough else self.length_from(text, title)})

        return self.store.attempt(deed)

    def _price(self) -> Shown:
        price = self._coil.cost_per_m if self._coil else None
        return Shown(f"{price:g}" if price is not None else "", "your currency")

    def _put_price(self, text: str) -> str | None:
        return self.store.attempt(lambda: self._change_coil(
            "price", cost_per_m=parse_angle(text, "price a metre") if text.strip() else None))

    def _change_coil(self, title: str, **changes: object) -> None:
        """Change the coil of the job's metal; where there is none yet, the first number typed makes one."""
        coil, job = self._coil, self.store.session.job
        taken = {stock.id for stock in job.stock}
        free = next(name for n in range(1, len(taken) + 2) if (name := f"coil {n}") not in taken)
        fresh = coil or Stock(id=free, kind="coil", width=1250.0, metal=job.metal_name)
        new = fresh.but(**changes)
        self.store.session.edit(f"coil {title}", lambda job: job.but(
            stock=tuple(new if s == coil else s for s in job.stock) if coil else (*job.stock, new)))

    def _rule(self, name: str, title: str, hint: str) -> None:
        def get() -> Shown:
            value = getattr(self.store.session.job.rules, name)
            return Shown(self.say(value) if value is not None else "", "" if value is not None else "as the brake")

        def put(text: str) -> str | None:
            value = (lambda: None) if name == "max_crosscut" and not text.strip() else (
                lambda: self.length_from(text, title))
            return self.store.attempt(lambda: self._change_rules(title, **{name: value()}))

        self.slate.number(title, get, put, hint)

    def _set_rules(self, title: str, **changes: object) -> str | None:
        return self.store.attempt(lambda: self._change_rules(title, **changes))

    def _change_rules(self, title: str, **changes: object) -> None:
        self.store.session.edit(title, lambda job: job.but(rules=job.rules.but(**changes)))

    def _unplaced(self) -> list[tuple[str, Finding]]:
        if not self.answer:
            return []
        words = {"metal": "no stock of this metal", "no stock left": "the stock is used up"}
        return [(u.part, Finding("stop", "is not placed: " + words.get(u.reason, u.reason),
                                 "add or change stock")) for u in self.answer.unplaced]

    # -- showing ----------------------------------------------------------------------------------

    def take(self, answer: NestAnswer | None) -> None:
        """Show ``answer``, or that it is being worked out."""
        self.answer = answer
        count = len(answer.cuts) if answer else 0
        self.cut.blockSignals(True)
        self.cut.setRange(0, count)
        self.cut.setValue(count)
        self.cut.blockSignals(False)
        self.refresh()

    def refresh(self) -> None:
        super().refresh()
        job, answer = self.store.session.job, self.answer
        if answer is None:
            self.card.say("Working it out …")
        elif not answer.used:
            self.card.say("Nothing to cut", "no pieces yet" if not self.store.session.derived.pieces else
                          "no stock of this metal fits: give the coil's width on the slate")
        else:
            self.card.say(job.metal_name, f"{job.colour} · {len(answer.placements)} pieces · paint face up",
                          "every piece placed" if answer.ok else "")
        self._show_stock()

    def _show_stock(self) -> None:
        answer, job = self.answer, self.store.session.job
        if answer is None:
            return
        upto = self.cut.value()
        by_id = {stock.id: stock for stock in job.stock}
        lanes, breaks = [], {}
        piece = self._selected_piece()
        folded = next((p for p in self.store.session.derived.patterns if p.id == piece), None)
        for used in answer.used:
            stock = by_id.get(used.stock) or by_id.get(used.stock.rpartition(" ")[0])
            if stock is None:
                continue
            x0, y0, x1, y1 = stock.box
            drawing = stock_drawing(stock, answer, used.stock, self.store.unit, upto, folded=folded)
            lanes.append(Lane(used.stock, drawing, x0, min(x1, used.length) if stock.kind == "coil" else x1, y1 - y0))
            breaks[used.stock] = crosscuts(answer, used.stock)
        lanes.sort(key=lambda lane: lane.start - lane.end)
        now = f"cut:{upto}" if answer.cuts and upto < len(answer.cuts) else ""
        chosen = (piece, self.store.session.selection.fold or "", now)
        self.view.show_stock(lanes, breaks, chosen, self.metal_colour)
        self.said.setText(self._cut_says(upto))

    def _selected_piece(self) -> str:
        selection = self.store.session.selection
        if selection.opening:
            pieces = self.store.session.derived.opening(selection.opening).pieces
            return pieces[selection.piece].pattern.id if selection.piece < len(pieces) else ""
        run, index = self.run, self.store.session.selection.piece
        return run.pieces[index].id if run and index < len(run.pieces) else ""

    def _cut_says(self, upto: int) -> str:
        if self.answer is None or not self.answer.cuts:
            return ""
        if upto == 0:
            return "before the first cut"
        cut = self.answer.cuts[upto - 1]
        return f"cut {upto} of {len(self.answer.cuts)}: {cut.piece} {cut.axis} at {self.say(cut.at)}"

    def _pressed(self, key: str) -> None:
        for opening in self.store.session.derived.openings:
            for n, form_piece in enumerate(opening.pieces):
                if form_piece.pattern.id == key:
                    self.store.session.select(opening=opening.id, piece=n)
        for run in self.store.session.derived.runs:
            for n, piece in enumerate(run.pieces):
                if piece.id == key:
                    self.store.session.select(run=run.run.id, piece=n)
