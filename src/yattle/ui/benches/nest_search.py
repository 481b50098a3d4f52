"""The search for a better cutting plan, beside the window: it can be stopped, and tells every better plan."""

from __future__ import annotations

from threading import Event

from PyQt6.QtCore import QObject, pyqtSignal

from yattle.coil import NestAnswer, NestJob, nest
from yattle.coil.by_hand import planned_around
from yattle.job.derive import Derived, nest_job, take_better
from yattle.ui.store import Store, Worker

SECONDS = 20.0


class NestSearch(QObject):
    """``told`` each better plan, ``done`` the last one, which the job's pieces then have; ``rest`` a plan of what is
    left after a spoiled piece, with its job."""

    told = pyqtSignal(object)
    done = pyqtSignal(object)
    rest = pyqtSignal(object, object)

    def __init__(self, store: Store) -> None:
        super().__init__()
        self.store, self.worker, self._stop = store, Worker(self), Event()
        self.seconds = SECONDS
        store.job_changed.connect(self.stop)
        store.leaving.connect(self.stop)

    @property
    def busy(self) -> bool:
        return self.worker.busy

    def stop(self) -> None:
        """End with the best so far."""
        self._stop.set()

    def plan_rest(self, job: NestJob) -> None:
        """Plan what is left of a job on what is left of its stock; that plan is shown, the job's own is kept."""
        self._stop = stop = Event()
        job = job.but(rules=job.rules.but(seconds=min(self.seconds, 4.0)))

        def take(result: object) -> None:
            if isinstance(result, NestAnswer):
                self.rest.emit(job, result)
            else:
                self.store.trouble.emit(str(result))
        self.worker.ask(lambda: nest(job, stop.is_set), take)

    def start(self, locked: frozenset[str] = frozenset()) -> None:
        """Search on; blocks with a ``locked`` piece stay as they are."""
        derived, stop = self.store.session.derived, Event()
        self._stop = stop
        job = nest_job(derived)
        job = job.but(rules=job.rules.but(seconds=self.seconds))

        def take(result: object) -> None:
            self._take(derived, result)
        before = derived.nest
        if locked:
            self.worker.ask(lambda: planned_around(job, before, locked, stop.is_set, self.told.emit), take)
        else:
            self.worker.ask(lambda: nest(job, stop.is_set, self.told.emit), take)

    def _take(self, derived: Derived, result: object) -> None:
        if not isinstance(result, NestAnswer):
            self.store.trouble.emit(str(result))
        elif self.store.session.derived is derived:  # else the job has been changed meanwhile
            if result.objective <= derived.nest.objective:
                take_better(derived, result)
            self.done.emit(derived.nest)
