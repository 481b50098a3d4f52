"""The search for a better cutting plan, beside the window: it can be stopped, and tells every better plan."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from yattle.coil import NestAnswer, NestJob
from yattle.session.beside import plan_rest, search_on
from yattle.tasks import Answer, On, Policy, Request
from yattle.ui.store import Store

SECONDS = 20.0
_REST = 4.0  # seconds at most for what is left after a spoiled piece
LANE = "search"


class NestSearch(QObject):
    """``told`` each better plan, ``done`` the one that the job then has; ``rest`` a plan of what is left after a
    spoiled piece, with its job."""

    told = pyqtSignal(object)
    done = pyqtSignal(object)
    rest = pyqtSignal(object, object)

    def __init__(self, store: Store) -> None:
        super().__init__()
        self.store = store
        self.seconds = SECONDS
        store.job_changed.connect(self.stop)
        store.leaving.connect(self.stop)

    @property
    def busy(self) -> bool:
        return self.store.board.busy(LANE)

    def stop(self) -> None:
        """End with the best so far."""
        self.store.board.stop(LANE)

    def plan_rest(self, job: NestJob) -> None:
        """Plan what is left of a job on what is left of its stock; that plan is shown, the job's own is kept."""
        job = job.but(rules=job.rules.but(seconds=min(self.seconds, _REST)))
        stamp = self.store.session.stamp

        def take(answer: Answer) -> None:
            if not isinstance(answer.result, NestAnswer):
                self.store.trouble.emit(str(answer.error))
            elif self.store.session.still(stamp) == "same":
                self.rest.emit(job, answer.result)
            else:
                self.store.said.emit("the plan of what is left came too late: the job was changed meanwhile")
        self.store.ask(Request(LANE, plan_rest, (job,), stamp, policy=Policy.LATEST, on=On.PROCESS, hand=True), take)

    def start(self, before: NestAnswer, locked: frozenset[str] = frozenset()) -> None:
        """Search on from the plan ``before``; blocks with a ``locked`` piece stay as they are."""
        session = self.store.session
        derived, stamp = session.derived, session.stamp
        request = Request(LANE, search_on, (session.job, before, locked, self.seconds), stamp, policy=Policy.LATEST,
                          on=On.PROCESS, hand=True)
        self.store.ask(request, lambda answer: self._take(answer, derived.nest_job, before), self.told.emit)

    def _take(self, answer: Answer, asked: NestJob, before: NestAnswer) -> None:
        """The plan goes to the job it was looked for; if that is not shown any more it is kept for when it is again."""
        if not isinstance(answer.result, NestAnswer):
            self.store.trouble.emit(str(answer.error))
            return
        best = answer.result if answer.result.objective <= before.objective else before
        if self.store.session.take_plan(asked, best):
            self.done.emit(best)
