"""Girth advice on the trim bench: looked for beside the window, taken one by one or all at once."""

from __future__ import annotations

from PyQt6.QtCore import QCoreApplication, QTimer

from yattle.details import Finding
from yattle.job import Job
from yattle.job.advice import Advice, girth_advice
from yattle.ui.benches.base import BenchPage
from yattle.ui.store import Store, Worker


class TrimAdvice(BenchPage):
    """Asks for advice and keeps it as long as the job stays as it was."""

    def __init__(self, store: Store) -> None:
        super().__init__(store)
        self.adviser = Worker(self)
        self._advice: tuple[Advice, ...] = ()
        self._advised_for: Job | None = None
        self._stop_advice, self._progress = False, (0.0, 0.0, 0.0)
        app = QCoreApplication.instance()
        if app is not None:
            app.aboutToQuit.connect(self._leave_off)
        self._watch = QTimer(self)  # how far the search is
        self._watch.setInterval(300)
        self._watch.timeout.connect(lambda: self.slate.row("advice").refresh())

    def ask_advice(self) -> None:
        """Look beside the window for leg lengths that save coil; asked again while it looks, it stops."""
        if self.adviser.busy:
            self._stop_advice = True
            return
        job = self.store.session.job
        self._stop_advice, self._advised_for, self._advice, self._progress = False, job, (), (0, 0, 0.0)
        self._watch.start()

        def tell(*progress: float) -> None:
            self._progress = progress
        self.adviser.ask(lambda: girth_advice(job, lambda: not self._stop_advice, tell), self._hear_advice)
        self.refresh()

    def _leave_off(self) -> None:
        self._stop_advice = True

    def _hear_advice(self, result: object) -> None:
        self._watch.stop()
        self._advice = result if isinstance(result, tuple) else ()
        self.refresh()

    def _advice_says(self) -> str:
        done, of, saved = self._progress
        if self.adviser.busy:
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
