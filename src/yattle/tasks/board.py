"""The board: takes requests, keeps their policies, brings each answer back to where it was asked.

All of it is used from one thread, the owner's. Executors do the work elsewhere; ``deliver`` brings what they have to
say back into the owner's thread.
"""

from __future__ import annotations

import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, field

from yattle.errors import YattleError
from yattle.tasks.executors import Executors
from yattle.tasks.request import Answer, Hand, Policy, Request

Then = Callable[[Answer], object]


class Busy(YattleError):
    """What is asked for alone goes on already."""


@dataclass(eq=False)
class Ticket:
    """A request under way: it can be stopped, and tells whether it is over."""

    request: Request
    then: Then
    told: Callable[[object], object]
    halt: threading.Event = field(default_factory=threading.Event)
    came: threading.Event = field(default_factory=threading.Event)
    answer: Answer | None = None
    dropped: bool = False
    over: bool = False

    def stop(self) -> None:
        """End it with the best so far; it is answered all the same."""
        self.halt.set()


class Board:
    """``deliver`` runs a function in the owner's thread, soon; ``executors`` do the work."""

    def __init__(self, deliver: Callable[[Callable[[], None]], None], executors: Executors | None = None) -> None:
        self._deliver = deliver
        self._executors = executors or Executors()
        self._under_way: list[Ticket] = []
        self._queued: dict[str, list[Ticket]] = {}
        self._held: list[Ticket] | None = None

    def hold(self) -> None:
        """Begin nothing until :meth:`resume`: a window that opens comes first."""
        self._held = []

    def resume(self) -> None:
        """Begin what was asked for meanwhile."""
        held, self._held = self._held or [], None
        for ticket in held:
            self._begin(ticket)

    def ask(self, request: Request, then: Then, told: Callable[[object], object] = lambda _: None) -> Ticket:
        """Have ``request`` done; ``then`` gets its answer, ``told`` what its hand tells meanwhile, both in the owner's
        thread. Raises :class:`Busy` where it may go on only alone and another of its lane does."""
        if request.policy is Policy.EXCLUSIVE and self.busy(request.lane):
            raise Busy(f"{request.lane}: found it at work already, expected it to have ended; stop it or wait")
        if request.policy is Policy.LATEST:
            for older in self._of(request.lane):
                older.dropped = True
                older.stop()
        ticket = Ticket(request, then, told)
        waits = request.policy is Policy.QUEUE and self.busy(request.lane)
        self._under_way.append(ticket)
        if waits:
            self._queued.setdefault(request.lane, []).append(ticket)
        else:
            self._begin(ticket)
        return ticket

    def _begin(self, ticket: Ticket) -> None:
        if self._held is not None:
            self._held.append(ticket)
            return

        def came(answer: Answer) -> None:  # in the executor's thread
            ticket.answer = answer
            ticket.came.set()
            self._deliver(lambda: self._take(ticket))

        hand = Hand(ticket.halt.is_set, lambda value: self._deliver(lambda: self._tell(ticket, value)))
        self._executors.of(ticket.request).put(ticket.request, hand, came, lambda: ticket.dropped)

    def wait(self, ticket: Ticket, seconds: float) -> bool:
        """Stay for the answer, ``seconds`` at most, and take it; whether it came."""
        if not ticket.came.wait(seconds):
            return False
        self._take(ticket)
        return True

    def _tell(self, ticket: Ticket, value: object) -> None:
        if not (ticket.dropped or ticket.over):
            ticket.told(value)

    def _take(self, ticket: Ticket) -> None:
        if ticket.over or ticket.answer is None:
            return
        ticket.over = True
        self._under_way.remove(ticket)
        queued = self._queued.get(ticket.request.lane)
        if queued:
            self._begin(queued.pop(0))
        if not ticket.dropped:
            ticket.then(ticket.answer)

    def _of(self, lane: str) -> list[Ticket]:
        return [ticket for ticket in self._under_way if ticket.request.lane == lane and not ticket.dropped]

    def busy(self, *lanes: str) -> bool:
        """Whether anything of these lanes, or of any lane, is asked for and not answered."""
        return any(not lanes or ticket.request.lane in lanes for ticket in self._under_way if not ticket.dropped)

    def stop(self, *lanes: str) -> None:
        """End what is under way in these lanes, or in all, with the best so far."""
        for ticket in self._under_way:
            if not lanes or ticket.request.lane in lanes:
                ticket.stop()

    def leave(self) -> None:
        """Nobody waits for an answer any more; what is being written is written to its end."""
        for ticket in self._under_way:
            if ticket.request.policy is not Policy.QUEUE:
                ticket.dropped = True
                ticket.stop()

    def finish(self, between: Callable[[], object], seconds: float = 20.0, *lanes: str) -> bool:
        """Stay until all answers have come, ``seconds`` at most, doing ``between`` meanwhile; whether they did in
        time."""
        until = time.monotonic() + seconds
        while self.busy(*lanes) and time.monotonic() < until:
            between()
            time.sleep(0.002)
        return not self.busy(*lanes)
