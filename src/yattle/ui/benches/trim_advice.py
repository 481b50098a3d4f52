"""Girth advice on the trim bench: looked for beside the window, taken one by one or all at once."""

from __future__ import annotations

from yattle.derive.advice import Advice
from yattle.details import Finding
from yattle.job import Job
from yattle.session.beside import advise
from yattle.tasks import Answer, On, Policy, Request
from yattle.ui.benches.base import BenchPage
from yattle.ui.store import Store

LANE = "girth advice"


class TrimAdvice(BenchPage):
    """Asks for advice and keeps it as long as the job stays as it was."""

    def __init__(self, store: Store) -> None:
        super().__init__(store)
        self._advice: tuple[Advice, ...] = ()
        self._advised_for: Job | None = None
        self._progress = (0.0, 0.0, 0.0)

    def ask_advice(self) -> None:
        """Look beside the window for leg lengths that save coil; asked again while it looks, it stops."""
        if self.advising:
            self.store.board.stop(LANE)
            return
        session = self.store.session
        self._advised_for, self._advice, self._progress = session.job, (), (0, 0, 0.0)
        self.store.ask(Request(LANE, advise, (session.job,), session.stamp, policy=Policy.LATEST, on=On.PROCESS,
                               hand=True), self._hear_advice, self._hear_progress)
        self.refresh()

    @property
    def advising(self) -> bool:
        """Whether it looks for advice."""
        return self.store.board.busy(LANE)

    def _hear_progress(self, progress: object) -> None:
        if isinstance(progress, tuple):
            self._progress = progress
            self.slate.row("advice").refresh()

    def _hear_advice(self, answer: Answer) -> None:
        if answer.error is not None:
            self.store.trouble.emit(str(answer.error))
        self._advice = answer.result if isinstance(answer.result, tuple) else ()
        self.refresh()

    def _advice_says(self) -> str:
        done, of, saved = self._progress
        if self.advising:
            return f"looking: {done:.0f} of {of:.0f} tried, {say_metres(saved)} saved so far; Ctrl+Shift+G stops"
        if self._advised_for is None or self._advised_for != self.store.session.job:
            return "Ctrl+Shift+G looks for leg lengths that save coil"
        if not self._advice:
            return "no soft leg saves coil by giving a little"
        return f"together {say_metres(sum(a.saves for a in self._advice))} of coil"

    def _advised(self) -> list[tuple[str, Finding]]:
        if self._advised_for != self.store.session.job:
            return []
        rows = [("", Finding("look", f"{a.title} {self.say(a.before)} → {self.say(a.after)}",
                             f"saves {say_metres(a.saves)} of coil" + (" after those before it" if n else ""), str(n)))
                for n, a in enumerate(self._advice)]
        if len(rows) > 1:
            rows.insert(0, ("", Finding("look", "take all of these", "one press, one undo", "all")))
        return rows

    def _take_advice(self, _: str, finding: Finding) -> None:
        taken = self._advice if finding.field == "all" else (self._advice[int(finding.field)],)
        own = {advice.entry: advice.after for advice in taken}
        self.store.attempt_aloud(lambda: self.store.session.edit(
            "girth advice", lambda job: job.but(own=job.own.but(**own))))


def say_metres(mm: float) -> str:
    """A length of coil."""
    return f"{mm / 1000:.2f} m"
