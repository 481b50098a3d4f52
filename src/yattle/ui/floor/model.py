"""What is done next at the shear, at the brake and on the roof, without a window; what is done is ticked piece by
piece."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from typing import Literal

from yattle.brake import FoldOrder
from yattle.brake.state import HANDS
from yattle.coil import NestAnswer, NestJob
from yattle.coil.names import pieces_of
from yattle.coil.steps import ShearBlock, StepLine, block_says, blocks_of_plan, step_lines
from yattle.derive.sections import SectionGroup, sections_of
from yattle.drawing import Drawing, step_drawing, stock_drawing
from yattle.drawing.brake import step_says
from yattle.errors import InputError
from yattle.install.installation import installation
from yattle.job.deeds import with_cuts_made
from yattle.job.states import PieceState, further, spoiled, state_of
from yattle.pattern import Pattern
from yattle.ui.benches.host import Host

Place = Literal["shear", "brake", "roof"]
PLACES: dict[Place, str] = {"shear": "at the shear", "brake": "at the brake", "roof": "on the roof"}


@dataclass(frozen=True)
class Screen:
    """What is read from two metres: what it is about, the one thing to do in ``big``, more of it in ``small``, what
    comes ``after``; how far it is; a drawing."""

    about: str
    big: str
    small: str = ""
    after: str = ""
    far: tuple[int, int] = (0, 0)
    drawing: Drawing | None = None


@dataclass(frozen=True)
class _Bent:
    """A copy of a piece that goes through the strokes of its section."""

    pattern: Pattern
    group: SectionGroup


class FloorModel:
    """Where the work stands in each place. ``changed`` is called when another screen is to be shown.

    At the shear the plan is the one that was there when it was begun, until what is cut is booked: then the rest is
    planned anew.
    """

    def __init__(self, store: Host, changed: Callable[[], None]) -> None:
        self.store, self.changed = store, changed
        self.place: Place = "shear"
        self.at: dict[Place, int] = dict.fromkeys(PLACES, 0)
        self.asked: NestJob | None = None
        self.answer: NestAnswer | None = None
        self.cuts: list[tuple[ShearBlock, StepLine | None]] = []
        self.begin_shear()

    # -- all places ---------------------------------------------------------------------------------------------

    def go(self, place: Place) -> None:
        """To another place; where it stands here stays."""
        self.place = place
        self.changed()

    def screen(self) -> Screen:
        """What is to be done now."""
        return {"shear": self._shear, "brake": self._brake, "roof": self._roof}[self.place]()

    def next(self) -> None:
        """This is done."""
        {"shear": self._next_cut, "brake": self._next_stroke, "roof": self._next_item}[self.place]()
        self.changed()

    def back(self) -> None:
        """One step back; what was ticked stays ticked."""
        self.at[self.place] = max(self.at[self.place] - 1, 0)
        self.changed()

    def state_of(self, pattern: Pattern) -> PieceState:
        """How far a piece has come."""
        return state_of(self.store.session.job, pattern)

    def spoil(self, piece: str, why: str) -> str | None:
        """A cut copy of a piece is spoiled: planned again, with why in the log. What is wrong with that, or
        ``None``."""
        def deed() -> None:
            pattern = self._pattern(piece)
            self.store.session.edit(f"{piece} spoiled", lambda job: spoiled(
                job, pattern, date.today().isoformat(), why.strip()))
        wrong = self.store.attempt(deed)
        self.changed()
        return wrong

    def _pattern(self, piece: str) -> Pattern:
        found = next((p for p in self.store.session.derived.patterns if p.id == piece), None)
        if found is None:
            raise InputError("piece", repr(piece[:40]), "the number of a piece of this job, as on its label")
        return found

    def open_code(self, text: str) -> str | None:
        """A label's code or a piece's number: the brake stands at that piece. What is wrong with it, or ``None``."""
        piece = text.strip().removeprefix("yattle:piece/")

        def deed() -> None:
            wanted = self._pattern(piece).id
            for n, (bent, stroke) in enumerate(self._strokes()):
                if bent.pattern.id == wanted and stroke == 0:
                    self.place, self.at["brake"] = "brake", n
                    return
            raise InputError("piece", wanted, "one that is still to be folded here")
        wrong = self.store.attempt(deed)
        self.changed()
        return wrong

    def now(self) -> str:
        """The piece in hand at the brake, by its number; empty elsewhere."""
        rows = self._strokes() if self.place == "brake" else []
        return rows[min(self.at["brake"], len(rows) - 1)][0].pattern.id if rows else ""

    # -- at the shear ---------------------------------------------------------------------------------------------

    def begin_shear(self) -> None:
        """Take the plan as it is now, from its first cut."""
        derived = self.store.session.derived
        self.asked, self.answer = derived.nest_job, derived.nest
        blocks = sorted(blocks_of_plan(derived.job.stock, derived.nest), key=lambda b: min(b.cuts, default=0))
        self.cuts = [(block, line) for block in blocks for line in (None, *step_lines(block, self.store.unit))]
        self.at["shear"] = 0

    def _shear(self) -> Screen:
        if not self.cuts:
            return Screen("at the shear", "nothing to cut", "the plan has no cuts by shear")
        at = self.at["shear"]
        if at >= len(self.cuts):
            said = f"book the {self.made} cuts: metal off the stock, rests to the rack"
            return Screen("at the shear", "all cut", said, far=(at, len(self.cuts)))
        block, line = self.cuts[at]
        after = self.cuts[at + 1] if at + 1 < len(self.cuts) else None
        said = block_says(block, self.store.unit) if line is None else line.says
        then = "" if after is None else (
            block_says(after[0], self.store.unit) if after[1] is None else after[1].says)
        head, _, more = said.partition(" · " if line is None else ":")
        return Screen(f"{block.stock} · block {block.n} of {block.of}", head, more.strip(), then, (at, len(self.cuts)),
                      self._picture(block))

    def _picture(self, block: ShearBlock) -> Drawing | None:
        if self.answer is None or self.asked is None:
            return None
        span = None if block.whole else (block.at, block.at + block.length)
        base = pieces_of(self.asked.stock)[block.stock]
        return stock_drawing(base, self.answer, block.stock, self.store.unit, span=span)

    def _next_cut(self) -> None:
        self.at["shear"] = min(self.at["shear"] + 1, len(self.cuts))

    @property
    def made(self) -> int:
        """How many of the plan's cuts, from its first, are made by now."""
        done: set[int] = set()
        for n, (block, line) in enumerate(self.cuts[:self.at["shear"]]):
            if line is not None:
                done |= set(line.cuts)
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
            self.begin_shear()
        self.changed()
        return wrong

    # -- at the brake -------------------------------------------------------------------------------------------

    def _strokes(self) -> list[tuple[_Bent, int]]:
        """Every stroke still to be made: each copy that is not folded, stroke by stroke, section after section; where
        cuts are booked only those that are cut."""
        derived, rows = self.store.session.derived, list[tuple[_Bent, int]]()
        for group in sections_of(derived):
            order = derived.order(group.runs[0].run.id)
            if not isinstance(order, FoldOrder):
                continue
            for row in group.rows:
                for n in row.places:
                    pattern = row.run.pieces[n].pattern
                    state = self.state_of(pattern)
                    left = (state.cut if derived.job.cut else state.wanted) - state.folded
                    rows += [(_Bent(pattern, group), k) for _ in range(left) for k in range(len(order.steps))]
        return rows

    def _brake(self) -> Screen:
        rows = self._strokes()
        if not rows:
            return Screen("at the brake", "nothing to fold", "what is cut is folded")
        at = min(self.at["brake"], len(rows) - 1)
        bent, stroke = rows[at]
        order = self.store.session.derived.order(bent.group.runs[0].run.id)
        assert isinstance(order, FoldOrder)
        step, turns = order.steps[stroke], {one.fold: one.turn for one in order.steps[:stroke]}
        mark, leaf = step_says(step, bent.group.girth, self.store.unit)
        left = sum(1 for other, k in rows if k == 0 and other.group.n == bent.group.n)
        picture = step_drawing(bent.group.girth, self.store.session.job.brake, turns, step.fold, step.face_up, step.out,
                               abs(step.turn), action=step.action)
        after = order.steps[stroke + 1] if stroke + 1 < len(order.steps) else None
        then = "piece done" if after is None else (
            f"{HANDS[after.handling]}: {step_says(after, bent.group.girth, self.store.unit)[0]}")
        return Screen(f"{bent.pattern.id} · {bent.group.name} · {left} to fold · {HANDS[step.handling]}", mark,
                      f"{leaf}{'. ' + step.short_says() if step.short_says() else ''}", then,
                      (stroke, len(order.steps)), picture)

    def _next_stroke(self) -> None:
        rows = self._strokes()
        if not rows:
            return
        at = min(self.at["brake"], len(rows) - 1)
        bent, stroke = rows[at]
        last = at + 1 == len(rows) or rows[at + 1][1] == 0
        if not last:
            self.at["brake"] = at + 1
            return
        if self.state_of(bent.pattern).cut <= self.state_of(bent.pattern).folded:
            self.store.say(f"{bent.pattern.id} is not booked as cut: nothing is ticked")
            self.at["brake"] = at + 1 if at + 1 < len(rows) else 0
            return
        if self.store.attempt_aloud(lambda: self.store.session.edit(
                f"{bent.pattern.id} folded", lambda job: further(job, bent.pattern, "folded"))):
            self.at["brake"] = at - stroke  # its strokes are gone, the next piece stands in their place

    # -- on the roof --------------------------------------------------------------------------------------------

    def _items(self) -> list[tuple[int, str]]:
        order = installation(self.store.session.derived).order
        return [(n, name) for n, names in enumerate(order.stages) for name in names]

    def _roof(self) -> Screen:
        rows, fit = self._items(), installation(self.store.session.derived)
        at = self.at["roof"]
        if at >= len(rows):
            return Screen("on the roof", "all on" if rows else "nothing to fit")
        stage, name = rows[at]
        cautions = " ".join(fit.cautions(stage)) if at == 0 or rows[at - 1][0] != stage else ""
        then = fit.item(rows[at + 1][1]).name if at + 1 < len(rows) else ""
        return Screen(f"stage {stage + 1} of {len(fit.order.stages)}", fit.item(name).name,
                      cautions or self._fitted_says(name), then, (at, len(rows)))

    def _pieces_of(self, item: str) -> list[Pattern]:
        derived = self.store.session.derived
        runs = [piece.pattern for run in derived.runs if run.run.id == item for piece in run.pieces]
        return runs or [made.pattern for one in derived.openings if one.id == item
                        for made in one.pieces if not made.paper]

    def _fitted_says(self, item: str) -> str:
        states = [self.state_of(pattern) for pattern in self._pieces_of(item)]
        if not states:
            return ""
        return f"{sum(s.folded for s in states)} of {sum(s.wanted for s in states)} pieces folded"

    def _next_item(self) -> None:
        rows = self._items()
        if self.at["roof"] >= len(rows):
            return
        name = rows[self.at["roof"]][1]
        states = [(pattern, self.state_of(pattern)) for pattern in self._pieces_of(name)]
        ready = [(pattern, state.folded - state.fitted) for pattern, state in states if state.folded > state.fitted]

        def all_on() -> None:
            def deed(job):  # type: ignore[no-untyped-def]
                for pattern, many in ready:
                    job = further(job, pattern, "fitted", many)
                return job
            self.store.session.edit(f"{name} fitted", deed)
        if not ready or self.store.attempt_aloud(all_on):
            self.at["roof"] += 1
