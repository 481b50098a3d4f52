"""How far each piece of a job has come: planned, cut, folded, fitted, or spoiled and to be made again.

Counted by copies, since equal copies are one pattern. What is spoiled gets a line in the logbook with why, and is
planned again; the metal it was cut from stays gone.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Literal

from yattle.coil.job import Part
from yattle.errors import InputError
from yattle.job.deeds import cuts_of
from yattle.job.model import CutPieces, Job, LogEntry
from yattle.pattern import Pattern

State = Literal["planned", "cut", "folded", "fitted"]
STATES: tuple[State, ...] = ("planned", "cut", "folded", "fitted")


@dataclass(frozen=True)
class PieceState:
    """Copies of one piece: ``wanted`` in all, of which ``cut``, of those ``folded``, of those ``fitted``."""

    piece: str
    wanted: int
    cut: int = 0
    folded: int = 0
    fitted: int = 0

    @property
    def state(self) -> State:
        """The state that all its copies have reached."""
        reached = [self.wanted, self.cut, self.folded, self.fitted]
        return STATES[max(n for n, many in enumerate(reached) if many >= self.wanted)]

    def many(self, state: State) -> int:
        """How many copies have come so far, or further."""
        return {"planned": self.wanted, "cut": self.cut, "folded": self.folded, "fitted": self.fitted}[state]

    def says(self) -> str:
        """In words: ``cut``, or ``2 of 3 cut, 1 folded``."""
        if self.wanted == 1 or self.fitted == self.wanted or not self.cut:
            return self.state
        said = [f"{many} {word}" for many, word in ((self.folded, "folded"), (self.fitted, "fitted")) if many]
        return ", ".join([f"{self.cut} of {self.wanted} cut", *said])


def state_of(job: Job, part: Part | Pattern) -> PieceState:
    """How far a piece has come in the shape it has now; ``part`` with all the copies the job wants of it."""
    done = cuts_of(job, part)
    cut, folded, fitted = (min(sum(getattr(one, field) for one in done), part.qty)
                           for field in ("copies", "folded", "fitted"))
    return PieceState(part.id, part.qty, cut, folded, fitted)


def states_say(job: Job, part: Part | Pattern) -> str:
    """How far a piece has come, to be put after its name: `` · 2 of 3 cut``; empty of one that is only planned. Says
    where it was cut in a shape that it no longer has."""
    state, begun = state_of(job, part), any(done.piece == part.id for done in job.cut)
    if state.cut:
        return f" · {state.says()}"
    return " · cut in another shape than it has now" if begun else ""


def states_of(job: Job, parts: Iterable[Part | Pattern]) -> dict[str, PieceState]:
    """Of all the pieces a job wants, by their ids."""
    begun = {done.piece for done in job.cut}
    return {part.id: state_of(job, part) if part.id in begun else PieceState(part.id, part.qty) for part in parts}


def further(job: Job, part: Part | Pattern, to: Literal["folded", "fitted"], copies: int = 1) -> Job:
    """The job with so many more copies of a piece folded, or fitted. Raises :class:`InputError` where fewer have come
    far enough for that."""
    now = state_of(job, part)
    ready, done, before = (now.cut, now.folded, "cut") if to == "folded" else (now.folded, now.fitted, "folded")
    if copies > ready - done:
        raise InputError(to, f"{copies} of {part.id}", f"at most {ready - done}: so many are {before} and not yet {to}")
    left = copies

    def moved(one: CutPieces) -> CutPieces:
        nonlocal left
        room = (one.copies - one.folded) if to == "folded" else (one.folded - one.fitted)
        more, left = min(left, room), left - min(left, room)
        return one.but(**{to: getattr(one, to) + more})
    return _changed(job, part, moved)


def back(job: Job, part: Part | Pattern, of: Literal["folded", "fitted"]) -> Job:
    """The job with one copy fewer folded, or fitted: it was ticked by mistake. Raises :class:`InputError` where none
    is."""
    now = state_of(job, part)
    free = now.fitted if of == "fitted" else now.folded - now.fitted
    if not free:
        only = " and not fitted" if of == "folded" else ""
        raise InputError(of, f"no {part.id} that is {of}{only}", "at least one")
    left = 1

    def moved(one: CutPieces) -> CutPieces:
        nonlocal left
        room = one.fitted if of == "fitted" else one.folded - one.fitted
        less, left = min(left, room), left - min(left, room)
        return one.but(**{of: getattr(one, of) - less})
    return _changed(job, part, moved)


def spoiled(job: Job, part: Part | Pattern, when: str, why: str = "", copies: int = 1) -> Job:
    """The job with so many cut copies of a piece spoiled, those that have come least far first: they are planned
    again, and the logbook says ``why``. Raises :class:`InputError` where fewer are cut."""
    now = state_of(job, part)
    if copies > now.cut:
        raise InputError("spoiled", f"{copies} of {part.id}", f"at most {now.cut}: so many are cut")
    job = _without(job, part, copies)
    line = LogEntry(when=when, what="spoiled", of=part.id, text=why or "to be made again")
    return job.but(log=(*job.log, *[line] * copies))


def _without(job: Job, part: Part | Pattern, copies: int) -> Job:
    """The job with so many copies fewer of a piece: first those only cut, then folded ones, then fitted ones."""
    for stage in ("cut", "folded", "fitted"):
        def taken(one: CutPieces, stage: str = stage) -> CutPieces | None:
            nonlocal copies
            room = {"cut": one.copies - one.folded, "folded": one.folded - one.fitted, "fitted": one.fitted}[stage]
            less = min(copies, room)
            copies -= less
            if one.copies == less:
                return None
            return one.but(copies=one.copies - less, folded=one.folded - (less if stage != "cut" else 0),
                           fitted=one.fitted - (less if stage == "fitted" else 0))
        job = _changed(job, part, taken)
    return job


def _changed(job: Job, part: Part | Pattern, change: Callable[[CutPieces], CutPieces | None]) -> Job:
    """The job with what is cut of a part changed, entry by entry; ``None`` takes an entry out."""
    mine = set(cuts_of(job, part))
    cut = (change(one) if one in mine else one for one in job.cut)
    return job.but(cut=tuple(one for one in cut if one is not None))
