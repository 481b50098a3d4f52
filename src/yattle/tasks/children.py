"""Processes beside the window that work for it: a few, started when they are first wanted, each with what it has
worked out before still in mind. A child that ends unasked, or does not stop when it is asked to, is replaced."""

from __future__ import annotations

import atexit
import contextlib
import itertools
import threading
import time
from collections import deque
from collections.abc import Callable
from dataclasses import dataclass
from multiprocessing import get_context
from multiprocessing.connection import Connection
from typing import ClassVar

from yattle.errors import YattleError
from yattle.tasks.child import READY, serve
from yattle.tasks.request import Answer, Hand, Request, fault

MOST = 4  # children
_LOOK = 0.02  # seconds between two looks at whether to stop
_PATIENCE = 3.0  # seconds that a dropped request may go on before its child is ended
_SPARE = 10.0  # seconds that a stopped search may take for what it does at its end


@dataclass
class _Asked:
    number: int
    request: Request
    hand: Hand
    done: Callable[[Answer], None]
    dropped: Callable[[], bool]


class Children:
    """The pool. A lane goes back to the child it was with before, if that is free: it remembers. A request that takes
    the place of another waits until that one has ended: two of one lane would only slow each other."""

    _one: ClassVar[Children | None] = None

    @classmethod
    def shared(cls) -> Children:
        """The processes of this program."""
        if cls._one is None:
            cls._one = Children()
            atexit.register(cls._one.end)
        return cls._one

    def __init__(self, most: int = MOST) -> None:
        self._children = [_Child(self) for _ in range(most)]
        self._waiting: deque[_Asked] = deque()
        self._numbers = itertools.count(1)
        self._lock = threading.Lock()
        self._ended = False

    def put(self, request: Request, hand: Hand, done: Callable[[Answer], None], dropped: Callable[[], bool]) -> None:
        with self._lock:
            self._waiting.append(_Asked(next(self._numbers), request, hand, done, dropped))
        self.hand_out()

    def hand_out(self) -> None:
        """Give what waits to children that are free; from any thread."""
        while (given := self._next()) is not None:
            child, asked = given
            child.take(asked)

    def _next(self) -> tuple[_Child, _Asked] | None:
        with self._lock:
            free = [child for child in self._children if child.asked is None and not self._ended]
            winding_up = {child.asked.request.lane for child in self._children
                          if child.asked is not None and child.asked.dropped()}
            asked = next((one for one in self._waiting if one.request.lane not in winding_up), None)
            if not free or asked is None:
                return None
            self._waiting.remove(asked)
            lane = asked.request.lane
            child = min(free, key=lambda c: (c.lane != lane, c.lane != "", not c.begun))
            child.asked, child.lane = asked, lane
            return child, asked

    def end(self) -> None:
        """End all children; with the program."""
        with self._lock:
            self._ended = True
            self._waiting.clear()
        for child in self._children:
            child.end()


class _Child:
    """One process, looked after by a thread of this program while it works."""

    def __init__(self, pool: Children) -> None:
        self.pool, self.lane = pool, ""
        self.asked: _Asked | None = None
        self._pipe: Connection | None = None
        self._process: object = None
        self._work: deque[_Asked] = deque()
        self._wake = threading.Event()
        self.begun = False

    def take(self, asked: _Asked) -> None:
        self._work.append(asked)
        self._wake.set()
        if not self.begun:
            self.begun = True
            threading.Thread(target=self._look_after, name="yattle child", daemon=True).start()

    def _look_after(self) -> None:
        while True:
            self._wake.wait()
            self._wake.clear()
            while self._work:
                asked = self._work.popleft()
                answer = Answer(asked.request, stopped=True) if asked.dropped() else self._answered(asked)
                self.asked = None
                asked.done(answer)
                self.pool.hand_out()

    def _answered(self, asked: _Asked) -> Answer:
        request = asked.request
        try:
            pipe = self._started()
            pipe.send((asked.number, (request.work, request.args, request.hand)))
        except Exception as trouble:
            self.end()
            return Answer(request, error=fault(trouble))
        try:
            return self._heard(pipe, asked)
        except (EOFError, OSError):
            self.end()
            if asked.dropped():
                return Answer(request, stopped=True)
            return Answer(request, error=YattleError(f"{request.lane}: the work beside the window ended by itself; "
                                                     "ask for it again"))
        except Exception as trouble:  # an answer that cannot be read is an answer all the same
            return Answer(request, error=fault(trouble))

    def _heard(self, pipe: Connection, asked: _Asked) -> Answer:
        """Listen to the child until it is done; what is to be stopped is told once, what does not stop is ended."""
        asked_at = 0.0
        while True:
            if pipe.poll(_LOOK):
                kind, number, value = pipe.recv()
                if number != asked.number:
                    continue
                if kind == "told":
                    asked.hand.tell(value)
                    continue
                result, stopped = value
                return (Answer(asked.request, result, stopped=stopped) if kind == "done"
                        else Answer(asked.request, error=result, stopped=stopped))
            if asked.hand.stopped() and not asked_at:
                asked_at = time.monotonic()
                pipe.send((asked.number, None))
            if asked_at and time.monotonic() - asked_at > (_PATIENCE if asked.dropped() else _SPARE):
                raise EOFError

    def _started(self) -> Connection:
        if self._pipe is None:
            context = get_context("forkserver")
            context.set_forkserver_preload(READY)
            here, there = context.Pipe()
            process = context.Process(target=serve, args=(there,), name="yattle beside", daemon=False)
            process.start()
            there.close()
            self._pipe, self._process = here, process
        return self._pipe

    def end(self) -> None:
        """End the process; the next request begins a new one."""
        process, pipe, self._process, self._pipe = self._process, self._pipe, None, None
        if process is not None:
            with contextlib.suppress(OSError, ValueError, AttributeError):
                process.kill()  # type: ignore[attr-defined]
        if pipe is not None:
            with contextlib.suppress(OSError):
                pipe.close()
