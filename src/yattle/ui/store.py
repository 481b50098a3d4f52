"""The open job as the window sees it: signals when it changes, work beside it, what is being typed, errors shown."""

from __future__ import annotations

import contextlib
import math
import time
from collections.abc import Callable, Hashable
from pathlib import Path

from PyQt6.QtCore import QCoreApplication, QObject, QTimer, pyqtSignal

from yattle.errors import YattleError
from yattle.job import Job
from yattle.measure import UNITS, Unit, in_unit
from yattle.session import Session
from yattle.tasks import Answer, Board, Busy, On, Policy, Request, Ticket
from yattle.tasks.board import Then
from yattle.tasks.executors import Executors
from yattle.ui.typing import Typing
from yattle.values import check


class Store(QObject):
    """Wraps a :class:`~yattle.job.Session`.

    ``job_changed`` after any edit, ``results_changed`` when something of it has been worked out beside the window,
    ``selection_changed`` after any selection, ``said`` a text for the status line, ``trouble`` a sentence that
    somebody must read. ``patience``: seconds that an edit of a large job is waited for. ``typing`` knows what is being
    typed.
    """

    job_changed = pyqtSignal()
    leaving = pyqtSignal()  # the window closes: end what is still being worked out
    results_changed = pyqtSignal()
    share_changed = pyqtSignal()  # of the roof being put together
    selection_changed = pyqtSignal()
    working = pyqtSignal(bool)  # whether a large job is being worked out
    said = pyqtSignal(str)
    told = pyqtSignal(str)  # what was done, and stays to be read
    trouble = pyqtSignal(str)
    _arrived = pyqtSignal(object)

    def __init__(self, job: Job, path: Path | None = None, patience: float = math.inf, demo: bool = False,
                 executors: Executors | None = None) -> None:
        super().__init__()
        self._arrived.connect(lambda deed: deed())
        self.board = Board(self._deliver, executors)
        if patience < math.inf:  # a window that is to be there at once
            self.board.hold()
        self.session = Session(job, path, self.board, patience, demo)
        self.session.listen(self._tell)
        self.folded: set[str] = set()  # what of the window is folded away, by name
        self.typing = Typing(self.trouble.emit)
        self.session.before(self.typing.settle)

    def _deliver(self, deed: Callable[[], None]) -> None:
        with contextlib.suppress(RuntimeError):  # the window may be gone by now: then nobody waits for it
            self._arrived.emit(deed)

    def _tell(self, what: str) -> None:
        if what == "selection":
            self.selection_changed.emit()
        elif what == "results":
            self.results_changed.emit()
        elif what == "share":
            self.share_changed.emit()
        elif what == "working":
            self.working.emit(True)
        elif what == "refused":
            self.working.emit(False)
            self.trouble.emit(self.session.refused)
        else:
            self.working.emit(self.session.working)
            self.job_changed.emit()

    def attempt(self, deed: Callable[[], object]) -> str | None:
        """Do ``deed``; the sentence of a Yattle error is returned (and nothing has changed), as is what a value made in
        it does not take."""
        try:
            check(deed)  # type: ignore[type-var]
        except YattleError as wrong:
            return in_unit(str(wrong), self.unit)
        return None

    def attempt_aloud(self, deed: Callable[[], object]) -> bool:
        """Do ``deed``; an error is shown. Whether it went well."""
        wrong = self.attempt(deed)
        if wrong:
            self.trouble.emit(wrong)
        return wrong is None

    def say(self, sentence: str) -> None:
        """What was done, in one sentence that goes by itself."""
        self.said.emit(sentence)

    def complain(self, sentence: str) -> None:
        """What went wrong, in one sentence that stays until it is put away."""
        self.trouble.emit(sentence)

    def desk(self, name: str, ready: Callable[[], None]) -> Desk:
        """Answers of one bench; ``ready`` is called when one has come later."""
        desk = Desk(self, name)
        desk.ready.connect(ready)
        desk.trouble.connect(self.trouble)
        return desk

    def when_edited(self, deed: Callable[[], None]) -> None:
        """Call ``deed`` after every edit, before anything is shown anew."""
        self.job_changed.connect(deed)

    def ask(self, request: Request, then: Then, told: Callable[[object], object] = lambda _: None) -> Ticket | None:
        """Have ``request`` done beside the window; one that is refused is said, and there is no ticket."""
        try:
            return self.board.ask(request, then, told)
        except Busy as busy:
            self.trouble.emit(str(busy))
            return None

    def take(self, answer: Answer, deed: Callable[[], object], late: str) -> bool:
        """Let an answer in by the session's door and do ``deed`` with it; its error, what is wrong with the deed, or
        that it came too late (in the words ``late``) is said. Whether it was taken."""
        if answer.error is not None:
            self.trouble.emit(str(answer.error))
            return False
        taken: list[bool] = []
        if not self.attempt_aloud(lambda: taken.append(self.session.take(answer, deed))):
            return False
        if not taken[0]:
            self.trouble.emit(late)
        return taken[0]

    def finish(self, *lanes: str, seconds: float = 20.0) -> bool:
        """Stay until what is asked for in these lanes, or in all, is answered (for scripts); whether it was in time."""
        return self.board.finish(QCoreApplication.processEvents, seconds, *lanes)

    @property
    def unit(self) -> Unit:
        return UNITS[self.session.job.unit]


class Desk(QObject):
    """Answers worked out beside the window, each kept by its question.

    A quick answer is given at once; for a slow one :meth:`get` gives ``None`` now and ``ready`` is
    sent when it has come.
    """

    ready = pyqtSignal()
    trouble = pyqtSignal(str)
    PATIENCE = 0.02  # seconds the window waits: less than anybody sees
    MOST = 128
    _waited = 0.0  # since the window last went through its events

    def __init__(self, store: Store, name: str) -> None:
        super().__init__(store)
        self._store, self._name = store, name
        self._kept: dict[Hashable, object] = {}
        self._asked: dict[Hashable, Ticket] = {}
        self._late = False

    @property
    def busy(self) -> bool:
        return any(not ticket.over and not ticket.dropped for ticket in self._asked.values())

    def get(self, question: tuple[Hashable, ...], work: Callable[..., object], *args: object, instead: bool = True,
            on: On = On.PROCESS, quick: bool = True) -> object | None:
        """The answer of ``work(*args)`` to ``question``; ``None`` while it is still worked out. Errors come as the
        answer. ``instead``: it takes the place of the question with the same first word asked before; else each is
        answered in turn. In a process ``work`` and ``args`` are pickled. Only what can be ``quick`` is waited for."""
        if question in self._kept:
            return self._kept[question]
        ticket = self._asked.get(question)
        if ticket is None or ticket.dropped:
            self._asked = {asked: one for asked, one in self._asked.items() if not one.dropped}
            lane = f"{self._name} {question[0]}"
            request = Request(lane, work, args, policy=Policy.LATEST if instead else Policy.QUEUE, on=on)
            self._asked[question] = ticket = self._store.board.ask(
                request, lambda answer: self._keep(question, answer))
            if not (quick and self._wait(ticket)):
                self._late = True
        return self._kept.get(question)

    def _wait(self, ticket: Ticket) -> bool:
        """Wait a little; all desks together no longer than ``PATIENCE`` before the window moves on."""
        if not Desk._waited:
            QTimer.singleShot(0, Desk._moved_on)
        since = time.monotonic()
        answered = self._store.board.wait(ticket, max(0.0, Desk.PATIENCE - Desk._waited))
        Desk._waited += time.monotonic() - since + 1e-6
        return answered

    @staticmethod
    def _moved_on() -> None:
        Desk._waited = 0.0

    def _keep(self, question: Hashable, answer: Answer) -> None:
        self._asked.pop(question, None)
        self._kept[question] = answer.error or answer.result
        while len(self._kept) > self.MOST:
            del self._kept[next(iter(self._kept))]
        if answer.error is not None:
            self.trouble.emit(str(answer.error))
        if self._late:
            self._late = self.busy
            self.ready.emit()
