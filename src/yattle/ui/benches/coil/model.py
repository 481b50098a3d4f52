"""What the coil bench knows: the plan shown, what it takes and costs, the coil and the shop's rules."""

from __future__ import annotations

import math
from collections.abc import Callable
from datetime import date

import numpy as np

from yattle.coil import NestAnswer, Stock
from yattle.coil.names import pieces_of
from yattle.coil.setups import settings
from yattle.coil.steps import cut_words
from yattle.derive.purchase import SPARE
from yattle.details import Finding
from yattle.drawing import crosscuts, stock_drawing
from yattle.job.ledger import with_counted
from yattle.measure import Area, SheetArea, Sum, Term, parse_angle, say_length
from yattle.pattern import Pattern
from yattle.session.beside import to_order
from yattle.ui.benches.coil.by_hand import ByHand
from yattle.ui.benches.coil.lanes import Lane
from yattle.ui.benches.coil.line import LineHand
from yattle.ui.benches.coil.plan import PlanShown
from yattle.ui.benches.host import Host
from yattle.ui.benches.model import BenchModel
from yattle.ui.shown import Shown

_LONG = 3000.0  # mm of coil on a line where no crosscut parts it


def counted(many: int, what: str) -> str:
    """So many of something, in words."""
    return f"{many} {what}{'' if many == 1 else 's'}"


class CoilModel(BenchModel):
    """What the coil bench knows: the plan shown, what it takes and costs, the coil and the shop's rules."""

    def __init__(self, store: Host, changed: Callable[[], None]) -> None:
        super().__init__(store, changed)
        self.plan = PlanShown(store, changed)
        self.hand, self.line = ByHand(self.plan), LineHand(store, changed)
        self._shown: NestAnswer | None = None
        self.desk = store.desk("coil", changed)

    @property
    def answer(self) -> NestAnswer | None:
        """The plan shown."""
        return self.plan.answer

    def search(self) -> None:
        """Begin to look for a better plan, or stop with the best so far."""
        search, answer = self.plan.search, self.answer
        if search.busy:
            search.stop()
        elif answer is not None and answer.placements:
            search.start(answer, self.hand.locked)

    def look_again(self) -> bool:
        """Whether another plan is shown than before: kept blocks that are not in it any more are let go."""
        answer = self.answer
        if answer is self._shown:
            return False
        self._shown = answer
        there = {f"{p.part}/{p.copy}" for p in answer.placements} if answer else set()
        self.hand.locked = frozenset(self.hand.locked & there)
        if not self.line.busy:
            self.line.cut_off = ()
        return True

    @property
    def is_new(self) -> bool:
        """Whether the plan has changed since it was looked at."""
        return self.answer is not self._shown

    def where(self, key: str) -> str:
        """Where on the roof a piece goes, for the hand that points at it."""
        for run in self.store.session.derived.runs:
            for n, piece in enumerate(run.pieces):
                if piece.id == key:
                    name = run.run.name or run.run.layer or run.detail.name
                    kept = ", its block is kept" if any(k.startswith(f"{key}/") for k in self.hand.locked) else ""
                    return f"{key}: {name}, {n + 1} of {len(run.pieces)} from the left, {piece.hand} hand{kept}"
        found = next((o for o in self.store.session.derived.openings for p in o.pieces if p.pattern.id == key), None)
        return f"{key}: {found.title}" if found else key

    def used(self) -> Shown:
        if not self.answer:
            return Shown("…")
        used = self.plan.off_coils()
        return Shown(self.plan.used_says(), "", Sum("used", tuple(Term(*row) for row in used)), self.plan.metres)

    def share(self) -> Shown:
        if not self.answer:
            return Shown("…")
        placed, taken = self.answer.placed_area, self.answer.used_area
        rows = (Term("taken", taken), Term("waste", placed - taken))
        return Shown(f"{self.answer.share_used:.1%}", "", Sum("in pieces", rows), self._area)

    def waste(self) -> Shown:
        if not self.answer:
            return Shown("…")
        waste = self.answer.used_area - self.answer.placed_area
        terms = (Term("taken", self.answer.used_area), Term("in pieces", -self.answer.placed_area))
        cost = self.answer.metal_cost * (1 - self.answer.share_used)
        return Shown(self._area(waste), f"costs {cost:.0f}, {counted(len(self.answer.offcuts), 'offcut')} kept",
                     Sum("waste", terms), self._area)

    def _area(self, area: float) -> str:
        return SheetArea(area).say(self.store.unit)

    def bound(self) -> Shown:
        if not self.answer or not self.answer.bound.value:
            return Shown("–")
        bound = self.answer.bound
        per_metal = tuple(Term(metal, value) for metal, value in bound.by_metal.items())
        said = f"plan {self.answer.objective:.1f}, {self.answer.over_bound:.1%} over"
        return Shown(f"{bound.value:.1f}", "the plan is the least there is" if self.answer.proved_best else said,
                     Sum("no plan is under", per_metal), lambda value: f"{value:.2f}")

    def order(self) -> str:
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
            wide = say_length(one.width, self.store.unit, 0, mark=bool(self.store.unit.parts))
            left = f", {one.left} too wide" if one.left else ""
            with_spare = math.ceil(one.metres * (1 + SPARE) * 10 - 1e-9) * 100  # rounded up: what is cut must fit
            area = Area(one.area).say(self.store.unit)
            lines.append(f"{wide} wide: {self.plan.metres(with_spare)} with {SPARE:.0%} spare, {area}{left}")
        return "\n".join(lines) or "no width fits"

    @property
    def _coil(self) -> Stock | None:
        return self.store.session.job.coil

    def of_coil(self, name: str) -> str:
        value = getattr(self._coil, name) if self._coil else None
        if self._coil is None:
            return ""
        return say_length(value, self.store.unit, 0) if value is not None else "enough"

    def put_coil(self, title: str, name: str, text: str) -> str | None:
        def deed() -> None:
            enough = name == "length" and text.strip() in ("", "enough")
            value = None if enough else self.length_from(text, title)
            if name == "length" and value and self._coil is not None:  # counted: that goes into the ledger
                coil_id, today = self._coil.id, date.today().isoformat()
                self.store.session.edit(f"coil {title}", lambda job: with_counted(job, coil_id, value, today))
            else:
                self._change_coil(title, **{name: value})

        return self.store.attempt(deed)

    def coil_price(self) -> Shown:
        """What a metre costs; in inch jobs a foot."""
        price = self._coil.cost_per_m if self._coil else None
        return Shown(f"{round(price * self._sold_by, 4):g}" if price is not None else "", "your currency")

    def put_price(self, text: str) -> str | None:
        """Take what a metre costs; in inch jobs a foot."""
        title = "price a foot" if self.store.unit.parts else "price a metre"
        return self.store.attempt(lambda: self._change_coil(
            "price", cost_per_m=parse_angle(text, title) / self._sold_by if text.strip() else None))

    @property
    def _sold_by(self) -> float:
        """The length that a price is of, m."""
        return 0.3048 if self.store.unit.parts else 1.0

    def _change_coil(self, title: str, **changes: object) -> None:
        """Change the coil of the job's metal; where there is none yet, the first number typed makes one."""
        coil, job = self._coil, self.store.session.job
        taken = {stock.id for stock in job.stock}
        free = next(name for n in range(1, len(taken) + 2) if (name := f"coil {n}") not in taken)
        fresh = coil or Stock(id=free, kind="coil", width=1250.0, metal=job.metal_name)
        new = fresh.but(**changes)
        self.store.session.edit(f"coil {title}", lambda job: job.but(
            stock=tuple(new if s == coil else s for s in job.stock) if coil else (*job.stock, new)))

    def set_rules(self, title: str, **changes: object) -> str | None:
        return self.store.attempt(lambda: self.change_rules(title, **changes))

    def change_rules(self, title: str, **changes: object) -> None:
        self.store.session.edit(title, lambda job: job.but(rules=job.rules.but(**changes)))

    def unplaced(self) -> list[tuple[str, Finding]]:
        if not self.answer:
            return []
        words = {"metal": "no stock of this metal", "no stock left": "the stock is used up"}
        return [(u.part, Finding("stop", "is not placed: " + words.get(u.reason, u.reason),
                                 "add or change stock")) for u in self.answer.unplaced]

    def lanes(self, answer: NestAnswer, stock: tuple[Stock, ...], upto: int,
               folded: Pattern | None) -> tuple[list[Lane], dict[str, list[float]]]:
        """The stock that is used, drawn, the longest first; and where each can be parted between two lines."""
        by_id = pieces_of(stock)
        lanes, breaks = [], {}
        snips = self.store.session.job.rules.cutting != "shear"
        outlines = {p.id: p.outline for p in self.store.session.derived.patterns} if snips else None
        for used in answer.used:
            piece = by_id.get(used.stock)
            if piece is None:
                continue
            x0, y0, x1, y1 = piece.box
            drawing = stock_drawing(piece, answer, used.stock, self.store.unit, upto, folded=folded, outlines=outlines)
            lanes.append(Lane(used.stock, drawing, x0, min(x1, used.length) if piece.kind == "coil" else x1, y1 - y0))
            breaks[used.stock] = crosscuts(answer, used.stock) if answer.cuts else list(
                np.arange(_LONG, used.length, _LONG))
        lanes.sort(key=lambda lane: lane.start - lane.end)
        return lanes, breaks

    def selected_piece(self) -> str:
        selection = self.store.session.selection
        if selection.opening:
            pieces = self.store.session.derived.opening(selection.opening).pieces
            return pieces[selection.piece].pattern.id if selection.piece < len(pieces) else ""
        run, index = self.run, self.store.session.selection.piece
        return run.pieces[index].id if run and index < len(run.pieces) else ""

    def cuts_say(self) -> str:
        """How many cuts, and how often the slitter's fence is set to another width for them."""
        if self.answer is None:
            return "working it out …"
        if not self.answer.cuts:
            return "none"
        by_name = pieces_of(self.store.session.job.stock)
        boxes = {used.stock: by_name[used.stock].box for used in self.answer.used}
        often = settings(self.answer.cuts, boxes)
        return f"{len(self.answer.cuts)}, the fence set {'once' if often == 1 else f'{often} times'}"

    def cut_says(self, upto: int) -> str:
        if self.answer is None or not self.answer.cuts:
            return "cut by hand along the outlines" if self.answer and self.answer.placements else ""
        if upto == 0:
            return "before the first cut"
        said = cut_words(self.store.session.job.stock, self.answer, self.store.unit).get(upto, "")
        return f"cut {upto} of {len(self.answer.cuts)}: {said}"

    def pressed(self, key: str) -> None:
        for opening in self.store.session.derived.openings:
            for n, form_piece in enumerate(opening.pieces):
                if form_piece.pattern.id == key:
                    self.store.session.select(opening=opening.id, piece=n)
        for run in self.store.session.derived.runs:
            for n, piece in enumerate(run.pieces):
                if piece.id == key:
                    self.store.session.select(run=run.run.id, piece=n)
