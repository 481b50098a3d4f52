"""What hands do on the coil bench: move a piece, keep blocks while the rest is planned anew, compare with a plan kept,
take the plan off the stock, plan again after a spoiled piece, follow the cut sheet on the coil line."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import date
from itertools import pairwise

from PyQt6.QtWidgets import QSlider

from yattle.coil import NestAnswer, NestJob
from yattle.coil.answer import Placement
from yattle.coil.by_hand import moved, still_to_cut
from yattle.coil.read import blocks_of
from yattle.devices.coil_line import CoilLine, CutOff, StandInCoilLine, follow
from yattle.devices.folder import DeviceProblem
from yattle.devices.line import open_line
from yattle.drawing import crosscuts
from yattle.files import why
from yattle.job.ledger import plan_price, promises, with_plan_taken
from yattle.measure import Sum
from yattle.tasks import Answer, Hand, On, Policy, Request, Target
from yattle.ui.benches.stock_view import StockView
from yattle.ui.frame.slate import Shown
from yattle.ui.store import Store

LINE = "the coil line"


def _cut_on(hand: Hand, address: str, stand_in: StandInCoilLine, lengths: list[float]) -> None:
    """Cut pieces of these lengths, telling each with whether a stand-in cut it; raises what the line raises."""
    try:
        with open_line(address, stand_in) as exchange:
            line = CoilLine(exchange)
            follow(line, lengths, told=lambda one: hand.tell((one, line.is_stand_in)), stopped=hand.stopped)
    except OSError as trouble:
        raise DeviceProblem(f"the coil line at {address} does not answer ({why(trouble)})") from None


@dataclass(frozen=True)
class KeptPlan:
    """A plan put aside to compare others with."""

    price: float
    used: float
    cuts: int
    offcuts: int


class CoilByHand:
    """Mixed into the coil bench."""

    store: Store
    answer: NestAnswer | None
    line_simulated = False
    locked: frozenset[str]
    kept_plan: KeptPlan | None
    cut_off: tuple[CutOff, ...]
    address: str
    cut: QSlider
    view: StockView
    rest: tuple[NestJob, NestAnswer] | None

    # -- moving and keeping ---------------------------------------------------------------------------------

    def place_of(self, key: str) -> Placement | None:
        """Where a piece lies: of several copies the one that was pressed."""
        found = [p for p in self.answer.placements if p.part == key] if self.answer else []
        at = self.view.pressed_at
        here = [p for p in found if at and p.stock == at[0] and p.x <= at[1] <= p.x + p.width
                and p.y <= at[2] <= p.y + p.height]
        return next(iter(here or found), None)

    def drop(self, key: str, stock: str, x: float, y: float) -> None:
        """Move a piece onto what is left at a place; what stands in the way is said."""
        answer, derived, place = self.answer, self.store.session.derived, self.place_of(key)
        if answer is None or not answer.cuts or place is None or self.rest is not None:
            return

        def deed() -> None:
            asked = derived.nest_job
            self.store.session.take_plan(asked, moved(asked, answer, key, place.copy, (stock, x, y)))
        if self.store.attempt_aloud(deed):
            self.store.said.emit(f"{key} is moved; keep its block (Ctrl+B) and search on for the rest")

    def mates(self, key: str) -> frozenset[str]:
        """``part/copy`` of every piece in the block of a piece."""
        answer, place = self.answer, self.place_of(key)
        if answer is None or place is None or place.piece is None:
            return frozenset()
        of = blocks_of(answer)
        return frozenset(f"{p.part}/{p.copy}" for p in answer.placements if of.get(p.piece or "") == of[place.piece])

    def kept_blocks(self) -> list[tuple[str, tuple[float, float, float, float]]]:
        """The kept blocks as rectangles on their stock."""
        answer = self.answer
        found: dict[tuple[str, str], tuple[float, float, float, float]] = {}
        of = blocks_of(answer) if answer and self.locked else {}
        for p in answer.placements if answer else ():
            if f"{p.part}/{p.copy}" in self.locked and p.piece in of:
                a, b, c, d = found.get(of[p.piece], (p.x, p.y, p.x, p.y))
                found[of[p.piece]] = min(a, p.x), min(b, p.y), max(c, p.x + p.width), max(d, p.y + p.height)
        return [(stock, box) for (stock, _), box in found.items()]

    def toggle_lock(self, key: str) -> None:
        """Keep the block of a piece as it is, or let it go again."""
        mates = self.mates(key)
        if not mates:
            self.store.trouble.emit("keep: found no piece of a sheared plan, expected one pressed on the drawing")
            return
        self.locked = self.locked - mates if mates <= self.locked else self.locked | mates
        self.refresh()  # type: ignore[attr-defined]

    # -- comparing --------------------------------------------------------------------------------------------

    def price(self) -> Sum | None:
        """What the plan costs the shop."""
        return plan_price(self.store.session.job, self.answer) if self.answer else None

    def price_shown(self) -> Shown:
        found = self.price()
        if found is None:
            return Shown("…")
        return Shown(f"{found.value:.1f}", "metal, cuts, less offcuts", found, lambda v: f"{v:.2f}")

    def keep_plan(self) -> None:
        """Put this plan aside to compare others with."""
        price = self.price()
        if self.answer is not None and price is not None:
            used = sum(length for _, length in self._off_coils())  # type: ignore[attr-defined]
            self.kept_plan = KeptPlan(price.value, used, len(self.answer.cuts), len(self.answer.offcuts))
            self.refresh()  # type: ignore[attr-defined]

    def compared(self) -> str:
        """This plan against the one put aside."""
        kept, price = self.kept_plan, self.price()
        if kept is None or price is None or self.answer is None:
            return "keep this plan (Ctrl+Shift+B), change something, see what it does"
        used = sum(length for _, length in self._off_coils()) - kept.used  # type: ignore[attr-defined]
        return (f"costs {price.value - kept.price:+.1f}, coil {used / 1000:+.2f} m, "
                f"cuts {len(self.answer.cuts) - kept.cuts:+d}, offcuts {len(self.answer.offcuts) - kept.offcuts:+d}")

    def dearest(self) -> list[tuple[str, float]]:
        """Runs by what the waste beside their pieces costs, the dearest first; reckoned once a plan."""
        if self._dearest is None or self._dearest[0] is not self.answer:
            self._dearest = self.answer, self._reckoned(self.answer)
        return self._dearest[1]

    _dearest: tuple[NestAnswer | None, list[tuple[str, float]]] | None = None

    def _reckoned(self, answer: NestAnswer | None) -> list[tuple[str, float]]:
        if answer is None or not answer.cuts or not answer.used_area:
            return []
        share = answer.metal_cost / answer.used_area
        of = {pattern.id: pattern.area / 1e6 for pattern in self.store.session.derived.patterns}
        blocks: dict[tuple[str, str], list[str]] = defaultdict(list)
        block_of = blocks_of(answer)
        for place in answer.placements:
            blocks[block_of[place.piece or ""]].append(place.part)
        sizes = self._block_areas()
        cost: dict[str, float] = defaultdict(float)
        for block, parts in blocks.items():
            filled = sum(of.get(part, 0.0) for part in parts)
            for part in parts:
                cost[part.rpartition("-")[0]] += (sizes.get(block, filled) - filled) * of.get(part, 0.0) / max(
                    filled, 1e-9) * share
        return sorted(cost.items(), key=lambda row: -row[1])

    def _block_areas(self) -> dict[tuple[str, str], float]:
        """m² of everything that is cut off a coil, by its name."""
        answer = self.answer
        found: dict[tuple[str, str], float] = {}
        known = {stock.id: stock for stock in self.store.session.job.stock}
        start: dict[str, float] = defaultdict(float)
        for cut in answer.cuts if answer else ():
            if cut.piece in known and cut.axis == "across" and cut.piece in cut.gives:
                found[cut.piece, cut.gives[0]] = (cut.at - start[cut.piece]) * (known[cut.piece].width or 0.0) / 1e6
                start[cut.piece] = cut.at
        return found

    def waste_says(self) -> str:
        """Which runs the waste is beside."""
        rows = [(name, cost) for name, cost in self.dearest()[:3] if cost > 0.05]
        said = ", ".join(f"{name} {cost:.1f}" for name, cost in rows)
        return f"{said} · girths that save: Ctrl+Shift+G" if rows else "–"

    # -- the stock ------------------------------------------------------------------------------------------------

    def promised(self) -> str:
        """What the plan has reserved of each stock piece."""
        if self.answer is None:
            return "…"
        job = self.store.session.job
        kinds = {stock.id: stock.kind for stock in job.stock}
        lines = []
        for promise in promises(job.stock, self.answer):
            if kinds[promise.stock] == "coil":
                left = "enough" if promise.left is None else self._metres(promise.left)  # type: ignore[attr-defined]
                lines.append(f"{promise.stock}: {self._metres(promise.takes)}, {left} left")  # type: ignore[attr-defined]
            elif kinds[promise.stock] == "sheet":
                lines.append(f"{promise.stock}: {promise.takes:.0f} of {promise.takes + (promise.left or 0):.0f}")
            else:
                lines.append(f"{promise.stock}: whole")
        rack = sum(1 for kind in kinds.values() if kind == "offcut")
        return "\n".join([*lines, f"{rack} offcut{'' if rack == 1 else 's'} on the rack"])

    def take_plan(self) -> None:
        """The plan is cut: its metal goes off the stock, its offcuts onto the rack; one step of undo."""
        answer = self.answer
        if answer is None or not answer.used:
            self.store.trouble.emit("take off the stock: found no plan, expected pieces on the coil")
            return
        today = date.today().isoformat()
        if self.store.attempt_aloud(lambda: self.store.session.edit(
                "plan off the stock", lambda job: with_plan_taken(job, answer, today))):
            self.store.said.emit("the plan's metal is off the stock, its offcuts are on the rack; undo brings it back")

    def spoil(self, key: str) -> None:
        """A piece is spoiled: what is cut by now stays cut, the rest and that piece are planned anew."""
        answer, derived, place = self.answer, self.store.session.derived, self.place_of(key)
        if answer is None or place is None or not answer.cuts or self.rest is not None:
            self.store.trouble.emit("spoiled: found no piece, expected one pressed on the drawing")
            return
        made = self.cut.value()

        def deed() -> None:
            self.again(still_to_cut(derived.nest_job, answer, made, (  # type: ignore[attr-defined]
                (place.part, place.copy),)))
        self.store.attempt_aloud(deed)

    # -- the coil line ----------------------------------------------------------------------------------------------

    def follow_line(self) -> None:
        """Cut this plan's crosscuts on the coil line, one after another; what was really cut is told as it comes. While
        it is at work a second start is refused."""
        answer, job = self.answer, self.store.session.job
        coil = job.coil
        if answer is None or coil is None or not answer.cuts:
            self.store.trouble.emit("the coil line: found no cuts, expected a sheared plan on a coil")
            return
        stops = [0.0, *crosscuts(answer, coil.id)]
        lengths = [b - a for a, b in pairwise(stops)]
        session, done = self.store.session, list[CutOff]()
        request = Request(LINE, _cut_on, (self.address, StandInCoilLine(length=coil.length), lengths), session.stamp,
                          Target("coil line", coil.id), Policy.EXCLUSIVE, On.DEVICE, hand=True)

        def told(one: object) -> None:
            assert isinstance(one, tuple)
            self.line_simulated = one[1]
            done.append(one[0])
            self.cut_off = tuple(done)
            self.refresh()  # type: ignore[attr-defined]
        if self.store.ask(request, lambda answer: self._line_ended(answer, done), told) is not None:
            self.cut_off = ()
        self.refresh()  # type: ignore[attr-defined]

    def _line_ended(self, answer: Answer, done: list[CutOff]) -> None:
        """What was really cut is told, however it ended; of a job that is closed by then it is only said."""
        said = ", ".join(f"{one.cut:.1f}" for one in done)
        if answer.error is not None:
            self.store.trouble.emit(f"{answer.error}; cut before that: {said or 'nothing'}")
        else:
            ended = "stopped: " if answer.stopped else ""
            self.store.take(answer, lambda: self.store.said.emit(ended + self.cut_off_says()),
                            f"the coil line cut {len(done)} pieces for a job that is closed: {said}")
        self.refresh()  # type: ignore[attr-defined]

    def stop_line(self) -> None:
        """End before the next cut."""
        if not self.store.board.busy(LINE):
            self.store.said.emit("the coil line: found nothing at work, so there is nothing to stop")
        self.store.board.stop(LINE)

    def cut_off_says(self) -> str:
        """How the line's pieces came out."""
        if not self.cut_off:
            return "not followed yet (F11)"
        off = [one.cut - one.wanted for one in self.cut_off]
        by = ", by a stand-in: not measured" if self.line_simulated else ""
        return (f"{len(off)} pieces cut off{by}; {min(off):+.1f} to {max(off):+.1f} mm off, "
                f"{sum(off) / max(sum(one.wanted for one in self.cut_off), 1) * 1000:+.2f} mm a metre")
