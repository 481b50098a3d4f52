"""Girth advice on the trim bench: looked for beside the window, taken one by one or all at once."""

from __future__ import annotations

from collections.abc import Callable

from yattle.derive.advice import Advice
from yattle.details import Finding
from yattle.job import Job
from yattle.session.beside import advise
from yattle.tasks import Answer, On, Policy, Request
from yattle.ui.benches.model import BenchModel

LANE = "girth advice"


class AdviceHand:
    """Asks for advice and keeps it as long as the job stays as it was; ``told`` is called when it has come further."""

    def __init__(self, trim: BenchModel) -> None:
        self.trim = trim
        self.advice: tuple[Advice, ...] = ()
        self.advised_for: Job | None = None
        self.progress = (0.0, 0.0, 0.0)
        self.told: Callable[[], None] = lambda: None

    def ask(self) -> None:
        """Look beside the window for leg lengths that save coil; asked again while it looks, it stops."""
        if self.advising:
            self.trim.store.board.stop(LANE)
            return
        session = self.trim.store.session
        self.advised_for, self.advice, self.progress = session.job, (), (0, 0, 0.0)
        self.trim.store.ask(Request(LANE, advise, (session.job,), session.stamp, policy=Policy.LATEST, on=On.PROCESS,
                               hand=True), self._hear, self._hear_progress)
        self.trim.changed()

    def _hear_progress(self, progress: object) -> None:
        if isinstance(progress, tuple):
            self.progress = progress
            self.told()

    @property
    def advising(self) -> bool:
        """Whether it looks for advice."""
        return self.trim.store.board.busy(LANE)

    def _hear(self, answer: Answer) -> None:
        if answer.error is not None:
            self.trim.store.complain(str(answer.error))
        self.advice = answer.result if isinstance(answer.result, tuple) else ()
        self.trim.changed()

    def says(self) -> str:
        done, of, saved = self.progress
        if self.advising:
            return f"looking: {done:.0f} of {of:.0f} tried, {say_metres(saved)} saved so far; Ctrl+Shift+G stops"
        if self.advised_for is None or self.advised_for != self.trim.store.session.job:
            return "Ctrl+Shift+G looks for leg lengths that save coil"
        if not self.advice:
            return "no soft leg saves coil by giving a little"
        return f"together {say_metres(sum(a.saves for a in self.advice))} of coil"

    def advised(self) -> list[tuple[str, Finding]]:
        if self.advised_for != self.trim.store.session.job:
            return []
        rows = [("", Finding("look", f"{a.title} {self.trim.say(a.before)} → {self.trim.say(a.after)}",
                             f"saves {say_metres(a.saves)} of coil" + (" after those before it" if n else ""), str(n)))
                for n, a in enumerate(self.advice)]
        if len(rows) > 1:
            rows.insert(0, ("", Finding("look", "take all of these", "one press, one undo", "all")))
        return rows

    def take(self, _: str, finding: Finding) -> None:
        taken = self.advice if finding.field == "all" else (self.advice[int(finding.field)],)
        own = {advice.entry: advice.after for advice in taken}
        self.trim.store.attempt_aloud(lambda: self.trim.store.session.edit(
            "girth advice", lambda job: job.but(own=job.own.but(**own))))


def say_metres(mm: float) -> str:
    """A length of coil."""
    return f"{mm / 1000:.2f} m"
