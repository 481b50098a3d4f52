"""The open job as the window sees it: signals when it changes, one place where errors are shown."""

from __future__ import annotations

import contextlib
import time
from collections.abc import Callable, Hashable
from pathlib import Path
from threading import Event

from PyQt6.QtCore import QCoreApplication, QObject, QRunnable, QThreadPool, QTimer, pyqtSignal

from yattle.errors import YattleError
from yattle.job import Job, Session
from yattle.measure import UNITS, Unit


class Store(QObject):
    """Wraps a :class:`~yattle.job.Session`.

    ``job_changed`` after any edit, ``selection_changed`` after any selection, ``said`` a text
    for the status line, ``trouble`` a sentence that somebody must read.
    """

    job_changed = pyqtSignal()
    leaving = pyqtSignal()  # the window closes: end what is still being worked out
    planned = pyqtSignal()  # the cutting plan is another one
    selection_changed = pyqtSignal()
    said = pyqtSignal(str)
    trouble = pyqtSignal(str)

    def __init__(self, job: Job, path: Path | None = None) -> None:
        super().__init__()
        self.session = Session(job, path)
        self.session.listen(self._tell)

    def _tell(self, what: str) -> None:
        if what == "selection":
            self.selection_changed.emit()
        else:
            self.job_changed.emit()

    def attempt(self, deed: Callable[[], object]) -> str | None:
        """Do ``deed``; the sentence of a Yattle error is returned (and nothing has changed)."""
        try:
            deed()
        except YattleError as wrong:
            return str(wrong)
        return None

    def attempt_aloud(self, deed: Callable[[], object]) -> bool:
        """Do ``deed``; an error is shown. Whether it went well."""
        wrong = self.attempt(deed)
        if wrong:
            self.trouble.emit(wrong)
        return wrong is None

    @property
    def unit(self) -> Unit:
        return UNITS[self.session.job.unit]


class _Work(QRunnable):
    def __init__(self, number: int, work: Callable[[], object], done: Callable[[int, object], None]) -> None:
        super().__init__()
        self.number, self.work, self.done = number, work, done

    def run(self) -> None:
        try:
            result = self.work()
        except YattleError as wrong:
            result = wrong
        except Exception as fault:
            result = YattleError(f"something went wrong inside Yattle ({type(fault).__name__}: {fault})")
        # The window may be gone by now: then nobody waits for the answer.
        with contextlib.suppress(RuntimeError):
            self.done(self.number, result)


class Desk(QObject):
    """Answers worked out beside the window, each kept by its question.

    A quick answer is given at once; for a slow one :meth:`get` gives ``None`` now and ``ready`` is
    sent when it has come.
    """

    ready = pyqtSignal()
    trouble = pyqtSignal(str)
    _done = pyqtSignal(int, object)
    PATIENCE = 0.025  # seconds the window waits: less than anybody sees
    MOST = 128
    _waited = 0.0  # since the window last went through its events

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._kept: dict[Hashable, object] = {}
        self._asked: dict[Hashable, Event] = {}
        self._late = False
        self._waiting: tuple[Hashable, _Work] | None = None
        self._done.connect(lambda number, result: self._announce(result))

    @property
    def busy(self) -> bool:
        return any(question not in self._kept for question in self._asked)

    def get(self, question: Hashable, work: Callable[[], object], instead: bool = False) -> object | None:
        """The answer of ``work`` to ``question``; ``None`` while it is still worked out. Errors come as the answer.

        ``instead``: it takes the place of the question asked so before, if nobody has begun with that one yet.
        """
        if question in self._kept:
            return self._kept[question]
        if question not in self._asked:
            if instead:
                self._drop_waiting()
            self._asked[question] = came = Event()
            self._start(question, work, came, instead)
            if not self._wait(came):
                self._late = True
        return self._kept.get(question)

    @staticmethod
    def _wait(came: Event) -> bool:
        """Wait a little; all desks together no longer than ``PATIENCE`` before the window moves on."""
        if not Desk._waited:
            QTimer.singleShot(0, Desk._moved_on)
        since = time.monotonic()
        answered = came.wait(max(0.0, Desk.PATIENCE - Desk._waited))
        Desk._waited += time.monotonic() - since + 1e-6
        return answered

    @staticmethod
    def _moved_on() -> None:
        Desk._waited = 0.0

    def _drop_waiting(self) -> None:
        pool = QThreadPool.globalInstance()
        if self._waiting is not None and pool is not None and pool.tryTake(self._waiting[1]):
            self._asked.pop(self._waiting[0], None)
        self._waiting = None

    def _start(self, question: Hashable, work: Callable[[], object], came: Event, instead: bool) -> None:
        def keep(number: int, result: object) -> None:
            self._kept[question] = result
            while len(self._kept) > self.MOST:
                old = next(iter(self._kept))
                del self._kept[old]
                self._asked.pop(old, None)
            came.set()
            self._done.emit(number, result)

        pool = QThreadPool.globalInstance()
        if pool is not None:
            request = _Work(0, work, keep)
            if instead:
                request.setAutoDelete(False)  # it may be taken out of the queue again
                self._waiting = (question, request)
            pool.start(request)

    def _announce(self, result: object) -> None:
        if isinstance(result, YattleError):
            self.trouble.emit(str(result))
        if self._late:
            self._late = self.busy
            self.ready.emit()


class Worker(QObject):
    """Work off the window's thread: a newer request replaces an older one's answer."""

    answered = pyqtSignal(int, object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.number = 0
        self._then: Callable[[object], None] | None = None
        self._request: _Work | None = None
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._start)
        self.answered.connect(self._take)

    @property
    def busy(self) -> bool:
        return self._then is not None

    def ask(self, work: Callable[[], object], then: Callable[[object], None], after: int = 0) -> None:
        """Run ``work`` elsewhere (``after`` milliseconds), then ``then(result)`` here; errors come as the result."""
        self.number += 1
        self._then = then
        self._request = _Work(self.number, work, self.answered.emit)
        if after:
            self._timer.start(after)
        else:
            self._timer.stop()
            self._start()

    def finish(self, seconds: float = 20.0) -> bool:
        """Stay until the answer has come (for scripts); whether it did in time."""
        until = time.monotonic() + seconds
        while self.busy and time.monotonic() < until:
            QCoreApplication.processEvents()
            time.sleep(0.005)
        return not self.busy

    def _start(self) -> None:
        pool = QThreadPool.globalInstance()
        if self._request is not None and pool is not None:
            request, self._request = self._request, None
            pool.start(request)

    def _take(self, number: int, result: object) -> None:
        if number == self.number and self._then is not None:
            then, self._then = self._then, None
            then(result)
