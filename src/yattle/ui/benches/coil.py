"""The coil bench: stock to scale with the pieces on it, cut by cut, and how good that is."""

from __future__ import annotations

from datetime import date
from typing import Any

import numpy as np
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from yattle.coil import NestAnswer, NestJob, Stock
from yattle.coil.fence import settings
from yattle.details import Finding
from yattle.devices.coil_line import CutOff
from yattle.devices.line import check_address
from yattle.drawing import crosscuts, stock_drawing
from yattle.job.ledger import with_counted
from yattle.measure import Sum, Term, parse_angle, say_length
from yattle.pattern import Pattern
from yattle.session.beside import to_order
from yattle.ui.benches.base import BenchPage
from yattle.ui.benches.coil_hand import LINE, CoilByHand, KeptPlan
from yattle.ui.benches.nest_search import NestSearch
from yattle.ui.benches.stock_view import Lane, StockView
from yattle.ui.frame.slate import Shown
from yattle.ui.store import Desk, Store
from yattle.ui.widgets.card import Card
from yattle.ui.widgets.playback import Playback

_LEAST = (("cost", "metal, by its price"), ("money", "money, all counted"), ("area", "metal, by its area"),
          ("length", "metres of coil"))
_PACE = 450  # ms a cut while it plays
_LINE = 3000.0  # mm of coil on a line where no crosscut parts it


def counted(many: int, what: str) -> str:
    """So many of something, in words."""
    return f"{many} {what}{'' if many == 1 else 's'}"


class CoilBench(CoilByHand, BenchPage):
    name, title = "coil", "Coil"

    def __init__(self, store: Store) -> None:
        super().__init__(store)
        self.locked: frozenset[str] = frozenset()
        self.kept_plan: KeptPlan | None = None
        self.rest: tuple[NestJob, NestAnswer] | None = None  # what is left after a spoiled piece, while that is shown
        self._shown: NestAnswer | None = None
        self._drawn: tuple[NestAnswer, tuple[Any, ...], list[Lane], dict[str, list[float]]] | None = None
        self.cut_off: tuple[CutOff, ...] = ()
        self.address = "stand-in"
        self.view = StockView()
        self.view.pressed.connect(self._pressed)
        self.view.dropped.connect(self.drop)
        self.view.tell = self._where
        self.playback = Playback("cut", lambda _: self._show_stock(), _PACE)
        self.cut, self.said, self.play = self.playback.slider, self.playback.said, self.playback.play
        self.card = Card(self.view, self.playback)
        self.desk = Desk(store, "coil")
        self.desk.ready.connect(self.refresh)
        self.desk.trouble.connect(store.trouble)
        self._before = 0.0
        store.job_changed.connect(self._edited)
        self.finder = NestSearch(store)
        self.finder.told.connect(self._told)
        self.finder.done.connect(self._searched)
        self.finder.rest.connect(self._take_rest)
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
        s.read("at the least", self._bound, "what no plan can be under")
        s.widget_row(self._search_row(), self._show_search)
        s.said("cuts", self._cuts_say)
        s.read("plan costs", self.price_shown, "metal, cutting time, less what kept offcuts are worth")
        s.said("waste beside", self.waste_says)
        s.said("compared", self.compared)
        s.group("The coil")
        self._coil_field("width", "width")
        self._coil_field("length", "length left")
        s.number("price a metre", self._price, self._put_price)
        s.said("promised", self.promised)
        s.said("coil line", self.cut_off_says)
        self.stop = QPushButton("stop the coil line")
        self.stop.setToolTip("before the next cut")
        self.stop.clicked.connect(self.stop_line)
        s.widget_row(self.stop, lambda: self.stop.setVisible(self.store.board.busy(LINE)))
        s.words("line's address", lambda: Shown(self.address), self._put_address,
                "stand-in, tcp:HOST:PORT or serial:PORT")
        s.group("The shop")
        s.choice("find the least", lambda: list(_LEAST), lambda: self.store.session.job.rules.objective,
                 lambda key: self._set_rules("the least of", objective=key),
                 "what the search makes least: money counts metal, cuts with handling, and what kept offcuts are worth")
        self._shop("an_hour", "an hour", "what an hour at the shear costs")
        self._shop("minutes_a_cut", "minutes a cut", "with handling")
        self._shop("offcuts_worth", "offcuts worth", "share of the metal's price that a kept offcut counts for, 0 to 1")
        s.group("The shear")
        self._rule("max_crosscut", "longest piece", "longest piece cut off the coil")
        self._rule("end_trim", "end trim", "scrap off the coil's fresh end")
        self._rule("min_sliver", "least sliver", "narrowest strip the shear can take off")
        s.choice("cutting", lambda: [("shear", "shear, edge to edge"), ("snips", "snips, true shapes"),
                                      ("mixed", "strips sheared, rest by snips")],
                 lambda: self.store.session.job.rules.cutting, lambda key: self._set_rules("cutting", cutting=key),
                 "with snips pieces lie closer: search on for the best")
        s.choice("first", lambda: [("crosscut", "cut across, then slit"), ("slit", "slit, then cut across")],
                 lambda: self.store.session.job.rules.first, lambda key: self._set_rules("first cut", first=key))
        s.choice("one face from", lambda: [("lot", "one lot"), ("coil", "one coil")],
                 lambda: self.store.session.job.rules.match_by, lambda key: self._set_rules("one face from",
                 match_by=key), "pieces of one roof face come from one lot of paint, or off one coil")
        s.group("To order")
        s.said("fresh coil", self._order)
        s.look_list(self._unplaced, lambda part, _: self._pressed(part))

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
            self._before = self.answer.objective
            self.finder.start(self.answer, self.locked)
        self._show_search()

    def again(self, job: NestJob) -> None:
        """Plan what is left after a spoiled piece, beside the window, and show that plan."""
        self.progress.setText("planning what is left …")
        self.finder.plan_rest(job)

    def _show_search(self) -> None:
        self.look_on.setText("stop" if self.finder.busy else "search on")
        self.look_on.setEnabled(self.answer is not None and bool(self.answer.placements))
        if not self.finder.busy and (self.answer is None or not self.answer.seconds):
            self.progress.setText("")

    def _shop(self, name: str, title: str, hint: str) -> None:
        def put(text: str) -> str | None:
            return self.store.attempt(lambda: self.store.session.edit(title, lambda job: job.but(
                shop=job.shop.but(**{name: parse_angle(text, title)}))))
        self.slate.number(title, lambda: Shown(f"{getattr(self.store.session.job.shop, name):g}"), put, hint)

    def _put_address(self, text: str) -> str | None:
        def deed() -> None:
            self.address = check_address(text)
        return self.store.attempt(deed)

    def _where(self, key: str) -> str:
        """Where on the roof a piece goes, for the hand that points at it."""
        for run in self.store.session.derived.runs:
            for n, piece in enumerate(run.pieces):
                if piece.id == key:
                    name = run.run.name or run.run.layer or run.detail.name
                    kept = ", its block is kept" if any(k.startswith(f"{key}/") for k in self.locked) else ""
                    return f"{key}: {name}, {n + 1} of {len(run.pieces)} from the left, {piece.hand} hand{kept}"
        found = next((o for o in self.store.session.derived.openings for p in o.pieces if p.pattern.id == key), None)
        return f"{key}: {found.title}" if found else key

    def _take_rest(self, job: NestJob, answer: NestAnswer) -> None:
        """Show how what is left after a spoiled piece is cut."""
        self.rest = job, answer
        self.progress.setText("the plan of what is left")
        self.refresh()

    def _told(self, answer: NestAnswer) -> None:
        over = f", {answer.over_bound:.1%} over the least" if answer.bound.value else ""
        self.progress.setText(f"{answer.objective:.1f}{over}")

    def _searched(self, answer: NestAnswer) -> None:
        saved = self._before - answer.objective
        self.progress.setText("the least there is, proven" if answer.proved_best else
                              f"{saved:.1f} less than before" if saved > 0.05 else "nothing better found")

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
        cost = self.answer.metal_cost * (1 - self.answer.share_used)
        return Shown(f"{waste:.2f} m²", f"costs {cost:.0f}, {counted(len(self.answer.offcuts), 'offcut')} kept",
                     Sum("waste, m²", terms), lambda v: f"{v:.3f}")

    def _bound(self) -> Shown:
        if not self.answer or not self.answer.bound.value:
            return Shown("–")
        bound = self.answer.bound
        per_metal = tuple(Term(metal, value) for metal, value in bound.by_metal.items())
        said = f"plan {self.answer.objective:.1f}, {self.answer.over_bound:.1%} over"
        return Shown(f"{bound.value:.1f}", "the plan is the least there is" if self.answer.proved_best else said,
                     Sum("no plan is under", per_metal), lambda value: f"{value:.2f}")

    def _order(self) -> str:
        """The job on fresh coil of each usual width; worked out beside the window."""
        derived = self.store.session.derived
        if not derived.patterns:
            return "–"
        job = derived.job
        found = self.desk.get(("order", job), to_order, job, quick=False)
        if not isinstance(found, tuple):
            return "…"
        lines = []
        for one in found:
            wide = say_length(one.width, self.store.unit, 0)
            left = f", {one.left} too wide" if one.left else ""
            lines.append(f"{wide} wide: {self._metres(one.metres * 1000)}, {one.area:.1f} m²{left}")
        return "\n".join(lines) or "no width fits"

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
            value = None if enough else self.length_from(text, title)
            if name == "length" and value and self._coil is not None:  # counted: that goes into the ledger
                coil_id, today = self._coil.id, date.today().isoformat()
                self.store.session.edit(f"coil {title}", lambda job: with_counted(job, coil_id, value, today))
            else:
                self._change_coil(title, **{name: value})

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

    @property
    def answer(self) -> NestAnswer | None:
        """The plan shown: of what is left, the job's own, or while that is worked out the one of a moment ago; none
        that is cut from stock which the job does not have."""
        found = self.rest[1] if self.rest is not None else self.store.session.latest.plan
        known = {stock.id for stock in (self.rest[0] if self.rest else self.store.session.job).stock}
        fits = found is None or all({used.stock, used.stock.rpartition(" ")[0]} & known for used in found.used)
        return found if fits else None

    def _look_again(self) -> None:
        """Another plan is there: kept blocks that are not in it any more are let go, its cuts are counted anew."""
        answer = self.answer
        if answer is self._shown:
            return
        self._shown = answer
        there = {f"{p.part}/{p.copy}" for p in answer.placements} if answer else set()
        self.locked = frozenset(self.locked & there)
        if not self.store.board.busy(LINE):
            self.cut_off = ()
        count = len(answer.cuts) if answer else 0
        self.cut.blockSignals(True)
        self.cut.setRange(0, count)
        self.cut.setValue(count)
        self.cut.blockSignals(False)
        self.playback.show_controls(count > 0)

    def _edited(self) -> None:
        self.rest = None  # the whole plan again

    def show_results(self) -> None:
        if self.answer is not self._shown:
            self.refresh()

    def refresh(self) -> None:
        self._look_again()
        super().refresh()
        job, answer = self.store.session.job, self.answer
        if self.rest is not None and answer is not None:
            self.card.say("What is left", f"{len(answer.placements)} pieces on what lies there and the coil; any edit "
                          "shows the whole plan again", "every piece placed" if answer.ok else "")
        elif answer is None:
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
        upto, piece = self.cut.value(), self.selected_piece()
        stock = (self.rest[0] if self.rest else job).stock
        folded = next((p for p in self.store.session.derived.patterns if p.id == piece), None)
        of = (stock, upto, folded, job.rules.cutting, self.store.unit)
        if self._drawn is None or self._drawn[0] is not answer or self._drawn[1] != of:
            self._drawn = answer, of, *self._lanes(answer, stock, upto, folded)
        now = f"cut:{upto}" if answer.cuts and upto < len(answer.cuts) else ""
        chosen = (piece, self.store.session.selection.fold or "", now)
        self.view.kept = self.kept_blocks()
        self.view.show_stock(self._drawn[2], self._drawn[3], chosen, self.metal_colour)
        self.said.setText(self._cut_says(upto))

    def _lanes(self, answer: NestAnswer, stock: tuple[Stock, ...], upto: int,
               folded: Pattern | None) -> tuple[list[Lane], dict[str, list[float]]]:
        """The stock that is used, drawn, the longest first; and where each can be parted between two lines."""
        by_id = {piece.id: piece for piece in stock}
        lanes, breaks = [], {}
        snips = self.store.session.job.rules.cutting != "shear"
        outlines = {p.id: p.outline for p in self.store.session.derived.patterns} if snips else None
        for used in answer.used:
            piece = by_id.get(used.stock) or by_id.get(used.stock.rpartition(" ")[0])
            if piece is None:
                continue
            x0, y0, x1, y1 = piece.box
            drawing = stock_drawing(piece, answer, used.stock, self.store.unit, upto, folded=folded, outlines=outlines)
            lanes.append(Lane(used.stock, drawing, x0, min(x1, used.length) if piece.kind == "coil" else x1, y1 - y0))
            breaks[used.stock] = crosscuts(answer, used.stock) if answer.cuts else list(
                np.arange(_LINE, used.length, _LINE))
        lanes.sort(key=lambda lane: lane.start - lane.end)
        return lanes, breaks

    def selected_piece(self) -> str:
        selection = self.store.session.selection
        if selection.opening:
            pieces = self.store.session.derived.opening(selection.opening).pieces
            return pieces[selection.piece].pattern.id if selection.piece < len(pieces) else ""
        run, index = self.run, self.store.session.selection.piece
        return run.pieces[index].id if run and index < len(run.pieces) else ""

    def _cuts_say(self) -> str:
        """How many cuts, and how often the slitter's fence is set to another width for them."""
        if self.answer is None:
            return "working it out …"
        if not self.answer.cuts:
            return "none"
        by_id = {stock.id: stock for stock in (self.rest[0] if self.rest else self.store.session.job).stock}
        boxes = {used.stock: (by_id.get(used.stock) or by_id[used.stock.rpartition(" ")[0]]).box
                 for used in self.answer.used}
        often = settings(self.answer.cuts, boxes)
        return f"{len(self.answer.cuts)}, the fence set {'once' if often == 1 else f'{often} times'}"

    def _cut_says(self, upto: int) -> str:
        if self.answer is None or not self.answer.cuts:
            return "cut by hand along the outlines" if self.answer and self.answer.placements else ""
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
