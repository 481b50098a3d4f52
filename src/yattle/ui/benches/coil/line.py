"""The coil line: a plan's crosscuts made one after another, and how the pieces came out."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from itertools import pairwise
from typing import Literal

from yattle.coil import NestAnswer, Stock
from yattle.devices.coil_line import CoilLine, CutOff, StandInCoilLine, follow
from yattle.devices.folder import DeviceProblem
from yattle.devices.line import check_address, open_line
from yattle.drawing import crosscuts
from yattle.files import why
from yattle.job.log import with_entries
from yattle.job.model import LogEntry
from yattle.session.session import Stamp
from yattle.tasks import Answer, Hand, On, Policy, Request, Target
from yattle.ui.benches.host import Host

LINE = "the coil line"


def _cut_on(hand: Hand, address: str, stand_in: StandInCoilLine, lengths: list[float]) -> None:
    """Cut pieces of these lengths, telling each with whether a stand-in cut it; raises what the line raises."""
    try:
        with open_line(address, stand_in) as exchange:
            line = CoilLine(exchange)
            follow(line, lengths, told=lambda one: hand.tell((one, line.is_stand_in)), stopped=hand.stopped)
    except OSError as trouble:
        raise DeviceProblem(f"the coil line at {address} does not answer ({why(trouble)})") from None


class LineHand:
    """``cut_off`` what was really cut the last time, ``simulated`` by a stand-in. How far each coil of a plan is cut is
    kept: after a jam, or when another coil is on, it goes on there."""

    def __init__(self, store: Host, changed: Callable[[], None]) -> None:
        self.store, self.changed = store, changed
        self.address, self.simulated = "stand-in", False
        self.cut_off: tuple[CutOff, ...] = ()
        self._plan: NestAnswer | None = None
        self._made: dict[str, int] = {}

    @property
    def busy(self) -> bool:
        """Whether the line is at work."""
        return self.store.board.busy(LINE)

    def left_to_cut(self, plan: NestAnswer) -> tuple[Stock, list[float]] | None:
        """The coil of a plan that is cut next, and the lengths still to come off it, mm; ``None``: all is cut."""
        if plan != self._plan:
            self._plan, self._made = plan, {}
        coils = [stock for stock in self.store.session.job.stock if stock.kind == "coil"]
        for coil in coils:
            stops = [0.0, *crosscuts(plan, coil.id)]
            lengths = [b - a for a, b in pairwise(stops)][self._made.get(coil.id, 0):]
            if lengths:
                return coil, lengths
        return None

    def follow(self, plan: NestAnswer | None) -> None:
        """Cut a plan's crosscuts on the coil line, one after another, from where it stopped; what was really cut is
        told as it comes and written into the log. While it is at work a second start is refused."""
        if plan is None or not plan.cuts or self.store.session.job.coil is None:
            self.store.complain("the coil line: found no cuts, expected a sheared plan on a coil")
            return
        found = self.left_to_cut(plan)
        if found is None:
            self.store.say("the coil line: every piece of this plan is cut off")
            return
        (coil, lengths), before = found, dict(self._made)
        session, done = self.store.session, list[CutOff]()
        request = Request(LINE, _cut_on, (self.address, StandInCoilLine(length=coil.length), lengths), session.stamp,
                          Target("coil line", coil.id), Policy.EXCLUSIVE, On.DEVICE, hand=True)

        def told(one: object) -> None:
            assert isinstance(one, tuple)
            self.simulated = one[1]
            done.append(one[0])
            self.cut_off = tuple(done)
            self._made = before | {coil.id: before.get(coil.id, 0) + len(done)}
            self.changed()
        if self.store.ask(request, lambda answer: self._line_ended(answer, coil, done, len(lengths)), told) is not None:
            self.cut_off = ()
        self.changed()

    def _line_ended(self, answer: Answer, coil: Stock, done: list[CutOff], of: int) -> None:
        """What was really cut is told and logged, however it ended; of a job that is closed by then it is only said."""
        said = ", ".join(f"{one.cut:.1f}" for one in done)
        if answer.error is not None:
            self.store.complain(f"{answer.error}; cut before that: {said or 'nothing'}; following the line again goes "
                                "on there")
        else:
            ended = "stopped: " if answer.stopped else ""
            self.store.take(answer, lambda: self.store.say(ended + self.says()),
                            f"the coil line cut {len(done)} pieces for a job that is closed: {said}")
        stamp = answer.request.stamp
        if done and isinstance(stamp, Stamp) and self.store.session.still(stamp) == "same":
            self._log(coil, done, of)
        self.changed()

    def _log(self, coil: Stock, done: list[CutOff], of: int) -> None:
        by: Literal["stand-in", "device"] = "stand-in" if self.simulated else "device"
        entry = LogEntry(when=date.today().isoformat(), what="changed", of=coil.id, by=by,
                         text=f"coil line: {len(done)} of {of} pieces cut off, {sum(one.cut for one in done):.0f} mm")
        plan = self._plan
        self.store.session.edit("coil line", lambda job: with_entries(job, (entry,)))
        if plan is not None:
            self.store.session.take_plan(self.store.session.derived.nest_job, plan)

    def stop(self) -> None:
        """End before the next cut."""
        if not self.store.board.busy(LINE):
            self.store.say("the coil line: found nothing at work, so there is nothing to stop")
        self.store.board.stop(LINE)

    def says(self) -> str:
        """How the line's pieces came out."""
        if not self.cut_off:
            return "not followed yet (Ctrl+Shift+L)"
        off = [one.cut - one.wanted for one in self.cut_off]
        by = ", by a stand-in: not measured" if self.simulated else ""
        return (f"{len(off)} pieces cut off{by}; {min(off):+.1f} to {max(off):+.1f} mm off, "
                f"{sum(off) / max(sum(one.wanted for one in self.cut_off), 1) * 1000:+.2f} mm a metre")

    def put_address(self, text: str) -> str | None:
        def deed() -> None:
            self.address = check_address(text)
        return self.store.attempt(deed)
