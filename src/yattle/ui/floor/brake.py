"""At the brake: every stroke of what is cut and not folded, section after section; the last one ticks the piece."""

from __future__ import annotations

from dataclasses import dataclass

from yattle.brake import FoldOrder
from yattle.brake.state import HANDS
from yattle.derive.sections import SectionGroup, sections_of
from yattle.drawing import step_drawing
from yattle.drawing.brake import step_says
from yattle.job.states import further, state_of
from yattle.pattern import Pattern
from yattle.ui.benches.host import Host
from yattle.ui.floor.screen import Screen


@dataclass(frozen=True)
class _Bent:
    """A copy of a piece that goes through the strokes of its section."""

    pattern: Pattern
    group: SectionGroup


class AtBrake:
    """Stroke by stroke."""

    def __init__(self, store: Host) -> None:
        self.store = store
        self.at = 0

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
                    state = state_of(derived.job, pattern)
                    left = (state.cut if derived.job.cut else state.wanted) - state.folded
                    rows += [(_Bent(pattern, group), k) for _ in range(left) for k in range(len(order.steps))]
        return rows

    def screen(self) -> Screen:
        """The stroke to make now."""
        rows = self._strokes()
        if not rows:
            return Screen("at the brake", "nothing to fold", "what is cut is folded")
        at = min(self.at, len(rows) - 1)
        bent, stroke = rows[at]
        order = self.store.session.derived.order(bent.group.runs[0].run.id)
        assert isinstance(order, FoldOrder)
        step, turns = order.steps[stroke], {one.fold: one.turn for one in order.steps[:stroke]}
        mark, leaf = step_says(step, bent.group.girth, self.store.unit, bent.group.tapers)
        left = sum(1 for other, k in rows if k == 0 and other.group.n == bent.group.n)
        picture = step_drawing(bent.group.girth, self.store.session.job.brake, turns, step.fold, step.face_up, step.out,
                               abs(step.turn), action=step.action)
        after = order.steps[stroke + 1] if stroke + 1 < len(order.steps) else None
        then = "piece done" if after is None else (
            f"{HANDS[after.handling]}: {step_says(after, bent.group.girth, self.store.unit, bent.group.tapers)[0]}")
        return Screen(f"{bent.pattern.id} · {bent.group.name} · {left} to fold · {HANDS[step.handling]}", mark,
                      f"{leaf}{'. ' + step.short_says() if step.short_says() else ''}", then,
                      (stroke, len(order.steps)), picture, bent.pattern.id)

    def now(self) -> str:
        """The piece in hand, by its number; empty where there is none."""
        rows = self._strokes()
        return rows[min(self.at, len(rows) - 1)][0].pattern.id if rows else ""

    def take(self, piece: str) -> bool:
        """Stand at the first stroke of a piece; whether it is still to be folded."""
        found = next((n for n, (bent, k) in enumerate(self._strokes()) if bent.pattern.id == piece and k == 0), None)
        if found is not None:
            self.at = found
        return found is not None

    def next(self) -> None:
        """This stroke is made; with its last one a piece is folded."""
        rows = self._strokes()
        if not rows:
            return
        at = min(self.at, len(rows) - 1)
        bent, stroke = rows[at]
        last = at + 1 == len(rows) or rows[at + 1][1] == 0
        if not last:
            self.at = at + 1
            return
        state = state_of(self.store.session.job, bent.pattern)
        if state.cut <= state.folded:
            self.store.say(f"{bent.pattern.id} is not booked as cut: nothing is ticked")
            self.at = at + 1 if at + 1 < len(rows) else 0
            return
        if self.store.attempt_aloud(lambda: self.store.session.edit(
                f"{bent.pattern.id} folded", lambda job: further(job, bent.pattern, "folded"))):
            self.at = at - stroke  # its strokes are gone, the next piece stands in their place

    def back(self) -> None:
        """One stroke back; what was ticked stays ticked."""
        self.at = max(self.at - 1, 0)

    def press(self, key: str) -> None:
        """The drawing is the stroke itself: pressed, it is made."""
        self.next()
