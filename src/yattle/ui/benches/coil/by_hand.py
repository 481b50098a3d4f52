"""What hands do to a cutting plan: move a piece, keep blocks while the rest is planned anew, compare with a plan kept,
take the plan off the stock, plan again after a spoiled piece."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import date

from yattle.coil import NestAnswer
from yattle.coil.answer import Placement
from yattle.coil.by_hand import moved
from yattle.coil.read import blocks_of
from yattle.job import Job
from yattle.job.deeds import with_cuts_made
from yattle.job.ledger import plan_price, promises
from yattle.measure import Sum
from yattle.ui.benches.coil.plan import PlanShown
from yattle.ui.shown import Shown


@dataclass(frozen=True)
class KeptPlan:
    """A plan put aside to compare others with."""

    price: float
    used: float
    cuts: int
    offcuts: int


class ByHand:
    """``locked``: ``part/copy`` of the pieces whose blocks are kept; ``pressed_at``: the stock and the place (mm) that
    was pressed last; ``kept_plan`` the one put aside."""

    def __init__(self, plan: PlanShown) -> None:
        self.plan = plan
        self.locked: frozenset[str] = frozenset()
        self.pressed_at: tuple[str, float, float] | None = None
        self.kept_plan: KeptPlan | None = None
        self._dearest: tuple[NestAnswer | None, list[tuple[str, float]]] | None = None

    def place_of(self, key: str) -> Placement | None:
        """Where a piece lies: of several copies the one that was pressed."""
        found = [p for p in self.plan.answer.placements if p.part == key] if self.plan.answer else []
        at = self.pressed_at
        here = [p for p in found if at and p.stock == at[0] and p.x <= at[1] <= p.x + p.width
                and p.y <= at[2] <= p.y + p.height]
        return next(iter(here or found), None)

    def drop(self, key: str, stock: str, x: float, y: float) -> None:
        """Move a piece onto what is left at a place; what stands in the way is said."""
        answer, derived, place = self.plan.answer, self.plan.store.session.derived, self.place_of(key)
        if answer is None or not answer.cuts or place is None:
            return

        def deed() -> None:
            asked = derived.nest_job
            self.plan.store.session.take_plan(asked, moved(asked, answer, key, place.copy, (stock, x, y)))
        if self.plan.store.attempt_aloud(deed):
            self.plan.store.say(f"{key} is moved; keep its block (Ctrl+B) and search on for the rest")

    def mates(self, key: str) -> frozenset[str]:
        """``part/copy`` of every piece in the block of a piece."""
        answer, place = self.plan.answer, self.place_of(key)
        if answer is None or place is None or place.piece is None:
            return frozenset()
        of = blocks_of(answer)
        return frozenset(f"{p.part}/{p.copy}" for p in answer.placements if of.get(p.piece or "") == of[place.piece])

    def toggle_lock(self, key: str) -> None:
        """Keep the block of a piece as it is, or let it go again."""
        mates = self.mates(key)
        if not mates:
            self.plan.store.complain("keep: found no piece of a sheared plan, expected one pressed on the drawing")
            return
        self.locked = self.locked - mates if mates <= self.locked else self.locked | mates
        self.plan.changed()

    def spoil(self, key: str, made: int) -> None:
        """A piece is spoiled: what is cut by now, the first ``made`` cuts, is off the stock; the rest and that piece
        are planned anew. One deed, one step of undo."""
        answer, derived, place = self.plan.answer, self.plan.store.session.derived, self.place_of(key)
        if answer is None or place is None or not answer.cuts:
            self.plan.store.complain("spoiled: found no piece, expected one pressed on the drawing")
            return

        def deed(job: Job) -> Job:
            return with_cuts_made(job, derived.nest_job, answer, date.today().isoformat(), made,
                                  ((place.part, place.copy),))
        if self.plan.store.attempt_aloud(lambda: self.plan.store.session.book(f"{key} spoiled", deed)):
            self.plan.store.say(f"{made} cuts are made, {key} is to be cut again; undo takes it back")

    def kept_blocks(self) -> list[tuple[str, tuple[float, float, float, float]]]:
        """The kept blocks as rectangles on their stock."""
        answer = self.plan.answer
        found: dict[tuple[str, str], tuple[float, float, float, float]] = {}
        of = blocks_of(answer) if answer and self.locked else {}
        for p in answer.placements if answer else ():
            if f"{p.part}/{p.copy}" in self.locked and p.piece in of:
                a, b, c, d = found.get(of[p.piece], (p.x, p.y, p.x, p.y))
                found[of[p.piece]] = min(a, p.x), min(b, p.y), max(c, p.x + p.width), max(d, p.y + p.height)
        return [(stock, box) for (stock, _), box in found.items()]

    def cost(self) -> Sum | None:
        """What the plan costs the shop."""
        return plan_price(self.plan.store.session.job, self.plan.answer) if self.plan.answer else None

    def price_shown(self) -> Shown:
        found = self.cost()
        if found is None:
            return Shown("…")
        return Shown(f"{found.value:.1f}", "metal, cuts, less offcuts", found, lambda v: f"{v:.2f}")

    def keep_plan(self) -> None:
        """Put this plan aside to compare others with."""
        price = self.cost()
        if self.plan.answer is not None and price is not None:
            used = sum(length for _, length in self.plan.off_coils())
            self.kept_plan = KeptPlan(price.value, used, len(self.plan.answer.cuts), len(self.plan.answer.offcuts))
            self.plan.changed()

    def compared(self) -> str:
        """This plan against the one put aside."""
        kept, price, answer = self.kept_plan, self.cost(), self.plan.answer
        if kept is None or price is None or answer is None:
            return "keep this plan (Ctrl+Shift+B), change something, see what it does"
        used = sum(length for _, length in self.plan.off_coils()) - kept.used
        return (f"costs {price.value - kept.price:+.1f}, coil {used / 1000:+.2f} m, "
                f"cuts {len(answer.cuts) - kept.cuts:+d}, offcuts {len(answer.offcuts) - kept.offcuts:+d}")

    def dearest(self) -> list[tuple[str, float]]:
        """Runs by what the waste beside their pieces costs, the dearest first; reckoned once a plan."""
        if self._dearest is None or self._dearest[0] is not self.plan.answer:
            self._dearest = self.plan.answer, self._reckoned(self.plan.answer)
        return self._dearest[1]

    def _reckoned(self, answer: NestAnswer | None) -> list[tuple[str, float]]:
        if answer is None or not answer.cuts or not answer.used_area:
            return []
        share = answer.metal_cost / answer.used_area
        of = {pattern.id: pattern.area / 1e6 for pattern in self.plan.store.session.derived.patterns}
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
        answer = self.plan.answer
        found: dict[tuple[str, str], float] = {}
        known = {stock.id: stock for stock in self.plan.store.session.job.stock}
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

    def promised(self) -> str:
        """What the plan has reserved of each stock piece."""
        if self.plan.answer is None:
            return "…"
        job = self.plan.store.session.job
        kinds = {stock.id: stock.kind for stock in job.stock}
        lines = []
        for promise in promises(job.stock, self.plan.answer):
            if kinds[promise.stock] == "coil":
                left = "enough" if promise.left is None else self.plan.metres(promise.left)
                lines.append(f"{promise.stock}: {self.plan.metres(promise.takes)}, {left} left")
            elif kinds[promise.stock] == "sheet":
                lines.append(f"{promise.stock}: {promise.takes:.0f} of {promise.takes + (promise.left or 0):.0f}")
            else:
                lines.append(f"{promise.stock}: whole")
        rack = sum(1 for kind in kinds.values() if kind == "offcut")
        return "\n".join([*lines, f"{rack} offcut{'' if rack == 1 else 's'} on the rack"])

    def take_plan(self) -> None:
        """The plan is cut: its metal goes off the stock, its offcuts onto the rack; one step of undo."""
        answer = self.plan.answer
        if answer is None or not answer.used:
            self.plan.store.complain("take off the stock: found no plan, expected pieces on the coil")
            return
        today, asked = date.today().isoformat(), self.plan.store.session.derived.nest_job
        if self.plan.store.attempt_aloud(lambda: self.plan.store.session.book(
                "plan off the stock", lambda job: with_cuts_made(job, asked, answer, today))):
            self.plan.store.say("its pieces are cut, metal is off the stock, offcuts on the rack; undo brings it back")
