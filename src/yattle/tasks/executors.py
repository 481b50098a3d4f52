"""Who does the work: threads of this program, one thread for files, one for each device, processes beside it."""

from __future__ import annotations

import queue
import threading
from collections.abc import Callable
from typing import Protocol

from yattle.tasks.children import Children
from yattle.tasks.request import Answer, Hand, On, Request, fault

_PREVIEWS = 2  # threads


class Executor(Protocol):
    def put(self, request: Request, hand: Hand, done: Callable[[Answer], None], dropped: Callable[[], bool]) -> None:
        """Do the request soon, unless it has been ``dropped`` by then; ``done`` is called from any thread."""


class Threads:
    """A few threads that take requests in turn; they begin with the first one and end with the program."""

    def __init__(self, name: str, many: int = 1) -> None:
        self._name, self._many, self._begun = name, many, False
        self._waiting: queue.SimpleQueue[Callable[[], None]] = queue.SimpleQueue()

    def put(self, request: Request, hand: Hand, done: Callable[[Answer], None], dropped: Callable[[], bool]) -> None:
        self._waiting.put(lambda: done(Answer(request, stopped=True) if dropped() else answered(request, hand)))
        if not self._begun:
            self._begun = True
            for n in range(self._many):
                threading.Thread(target=self._work, name=f"yattle {self._name} {n + 1}", daemon=True).start()

    def _work(self) -> None:
        while True:
            self._waiting.get()()


def answered(request: Request, hand: Hand) -> Answer:
    """Do a request here and now."""
    try:
        return Answer(request, request.done_by(hand), stopped=hand.stopped())
    except Exception as trouble:  # a fault of one request ends that request alone
        return Answer(request, error=fault(trouble), stopped=hand.stopped())


class Executors:
    """The executors of one program. Threads belong to a board; the processes are shared by all."""

    def __init__(self) -> None:
        self._previews, self._files = Threads("previews", _PREVIEWS), Threads("files")
        self._devices: dict[str, Threads] = {}

    def of(self, request: Request) -> Executor:
        """Who does ``request``."""
        if request.on is On.PROCESS:
            return Children.shared()
        if request.on is On.DEVICE:
            return self._devices.setdefault(request.lane, Threads(request.lane))
        return self._files if request.on is On.FILES else self._previews


class InStep(Executors):
    """For tests: every request waits until :meth:`step` does it, here, in the order they were asked."""

    def __init__(self) -> None:
        super().__init__()
        self.waiting: list[tuple[Request, Hand, Callable[[Answer], None], Callable[[], bool]]] = []

    def of(self, request: Request) -> Executor:
        return self

    def put(self, request: Request, hand: Hand, done: Callable[[Answer], None], dropped: Callable[[], bool]) -> None:
        self.waiting.append((request, hand, done, dropped))

    def step(self, place: int = 0) -> Request:
        """Do the request at ``place`` of those that wait; it is returned."""
        request, hand, done, dropped = self.waiting.pop(place)
        done(Answer(request, stopped=True) if dropped() else answered(request, hand))
        return request
