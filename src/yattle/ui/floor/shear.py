"""At the shear: the next block, the next cut, what is cut booked in one deed."""

from __future__ import annotations

from datetime import date

from yattle.coil import NestAnswer, NestJob
from yattle.coil.names import pieces_of
from yattle.coil.steps import ShearBlock, StepLine, block_says, blocks_of_plan, step_lines
from yattle.drawing import Drawing, stock_drawing
from yattle.job.deeds import with_cuts_made
from yattle.ui.benches.host import Host
from yattle.ui.floor.screen import Screen


class AtShear:
    """The plan is the one that was there when it was begun, until what is cut is booked: then the rest is planned
    anew."""

    def __init__(self, store: Host) -> None:
        self.store = store
        self.at = 0
        self.asked: NestJob | None = None
        self.answer: NestAnswer | None = None
        self.cuts: list[tuple[ShearBlock, StepLine | None]] = []
        self.begin()

    def begin(self) -> None:
        """Take the plan as it is now, from its first cut."""
        derived = self.store.session.derived
        self.asked, self.answer = derived.nest_job, derived.nest
        blocks = sorted(blocks_of_plan(derived.job.stock, derived.nest), key=lambda b: min(b.cuts, default=0))
        self.cuts = [(block, line) for block in blocks for line in (None, *step_lines(block, self.store.unit))]
        self.at = 0

    def screen(self) -> Screen:
        """The stop to set now, and what falls."""
        if not self.cuts:
            return Screen("at the shear", "nothing to cut", "the plan has no cuts by shear")
        at = self.at
        if at >= len(self.cuts):
            said = f"book the {self.made} cuts: metal off the stock, rests to the rack"
            return Screen("at the shear", "all cut", said, far=(at, len(self.cuts)))
        block, line = self.cuts[at]
        after = self.cuts[at + 1] if at + 1 < len(self.cuts) else None
        said = block_says(block, self.store.unit) if line is None else line.says
        then = "" if after is None else (
            block_says(after[0], self.store.unit) if after[1] is None else after[1].says)
        head, _, more = said.partition(" · " if line is None else ":")
        falls = self._falling(line)
        return Screen(f"{block.stock} · block {block.n} of {block.of}", head, more.strip(), then, (at, len(self.cuts)),
                      self._picture(block), falls[0] if falls else "")

    def _picture(self, block: ShearBlock) -> Drawing | None:
        if self.answer is None or self.asked is None:
            return None
        span = None if block.whole else (block.at, block.at + block.length)
        base = pieces_of(self.asked.stock)[block.stock]
        return stock_drawing(base, self.answer, block.stock, self.store.unit, span=span)

    def _freed_by(self) -> list[tuple[str, int]]:
        """Every piece of the plan with the number of the cut that frees it."""
        if self.answer is None:
            return []
        gives = {piece: cut.n for cut in self.answer.cuts for piece in cut.gives}
        return [(place.part, gives[place.piece]) for place in self.answer.placements if place.piece in gives]

    def _falling(self, line: StepLine | None) -> list[str]:
        """The pieces that fall with a line."""
        cuts = set(line.cuts) if line is not None else set()
        return [part for part, cut in self._freed_by() if cut in cuts]

    def next(self) -> None:
        """This cut is made."""
        self.at = min(self.at + 1, len(self.cuts))

    def back(self) -> None:
        """One step back."""
        self.at = max(self.at - 1, 0)

    def press(self, key: str) -> None:
        """A piece was pressed: the work stands at the cut that frees it, of several copies of the first that is still
        to fall; the cut it stands at is made. A cut pressed is the one it stands at."""
        cut_of = {f"cut:{n}": n for _, line in self.cuts for n in (line.cuts if line is not None else ())}
        wanted = {cut for part, cut in self._freed_by() if part == key} | ({cut_of[key]} if key in cut_of else set())
        lines = [n for n, (_, line) in enumerate(self.cuts) if line is not None and wanted & set(line.cuts)]
        if self.at in lines:
            self.next()
        elif lines:
            self.at = next((n for n in lines if n > self.at), lines[0])

    @property
    def made(self) -> int:
        """How many of the plan's cuts, from its first, are made by now."""
        done: set[int] = set()
        for n, (block, line) in enumerate(self.cuts[:self.at]):
            done |= set(line.cuts if line is not None else block.off_the_stock)
            last = n + 1 == len(self.cuts) or self.cuts[n + 1][1] is None
            if last:
                done |= set(block.cuts)
        count = 0
        while count + 1 in done:
            count += 1
        return count

    def book(self) -> str | None:
        """What is cut goes off the stock, its pieces are cut; the rest is planned anew. One deed; what is wrong with
        it, or ``None``."""
        asked, answer, made = self.asked, self.answer, self.made
        if asked is None or answer is None or not made:
            return None
        wrong = self.store.attempt(lambda: self.store.session.book(f"{made} cuts made", lambda job: with_cuts_made(
            job, asked, answer, date.today().isoformat(), made)))
        if wrong is None:
            self.begin()
        return wrong
