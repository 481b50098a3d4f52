"""What is worked out beside the window of a job that is shown: the proofs of its pieces, how it is fitted, how it is
cut. It depends on the job alone, not on who looked before."""

from __future__ import annotations

import time
from dataclasses import dataclass, replace

from yattle.built import Built, put_together
from yattle.built.again import lies_otherwise, put_together_again
from yattle.built.placed import places_of
from yattle.built.shown import BuiltShown, shown
from yattle.built.standing import stand_all
from yattle.built.tolerance import Tolerance, sampled
from yattle.coil import NestAnswer
from yattle.derive.derived import Derived, Told, misfits_of
from yattle.derive.graph import derive
from yattle.install.fitting import fitting
from yattle.install.installation import Installation, installation
from yattle.job.model import Job
from yattle.tasks.request import Hand

_LARGE, _DRAWN = 25, 0.2  # blocks and runs; seconds: a large job is first drawn, by a window that nothing slows


@dataclass(frozen=True)
class Results:
    """Each is ``None`` as long as it is being worked out: ``misfits`` of the pieces folded up again, the ``fit`` on the
    roof, the cutting ``plan``; the roof ``built``, put together and every piece held against its neighbours, only once
    somebody looks at it, with how often that holds with the shop's ``scatter``."""

    misfits: tuple[Told, ...] | None = None
    installation: Installation | None = None
    plan: NestAnswer | None = None
    built: BuiltShown | None = None
    scatter: tuple[Tolerance, ...] | None = None

    @property
    def folds_up(self) -> bool:
        """Whether all pieces have been folded up again, and come to their sections."""
        return self.misfits == ()

    def with_more(self, more: Results) -> Results:
        """These with what more there is."""
        return replace(self, **{name: value for name, value in vars(more).items() if value is not None})

    @property
    def complete(self) -> bool:
        return None not in (self.misfits, self.installation, self.plan)


def work_out(hand: Hand, job: Job, plan: NestAnswer | None) -> Results | None:
    """All results of a job, each told by itself as soon as it is there: the plan first, since it is looked at most; the
    proofs come last and are the answer. ``None`` where it was stopped."""
    if len(job.roof.blocks) + len(job.runs) > _LARGE:
        time.sleep(_DRAWN)
    if hand.stopped():
        return None
    derived = derive(job).with_plan(plan)
    hand.tell(Results(plan=derived.nest))
    if hand.stopped():
        return None
    hand.tell(Results(installation=installation(derived).bare()))
    misfits = folded(hand, derived)
    return None if misfits is None else Results(misfits)


class _Halted(Exception):
    """Nobody waits for it any more."""


@dataclass(frozen=True)
class _Last:
    """The roof that this process put together last, and whether the whole of it was asked: most edits touch little."""

    built: Built
    whole: bool


_last: list[_Last] = []


def built_of(hand: Hand, job: Job) -> Results | None:
    """The roof put together and checked; ``None`` where it was stopped. Where only some runs of the last one differ,
    what they touch is told first, then the whole is asked; how much of that is done is told as a share, 0 to 1."""
    derived = derive(job)
    last = _last[0] if _last else None
    again = put_together_again(derived, last.built) if last is not None else None
    if last is not None and again is not None:
        whole = last.whole and not lies_otherwise(again, last.built)
        _last[:] = [_Last(again, whole)]
        found = replace(shown(again, fitting(derived)), whole=whole)
        if whole:
            return Results(built=found)
        hand.tell(Results(built=found))

    def told(share: float) -> None:
        if hand.stopped():
            raise _Halted
        hand.tell(share)
    try:
        built = put_together(derived, told=told)
    except _Halted:
        return None
    _last[:] = [_Last(built, True)]
    return Results(built=shown(built, fitting(derived)))


def scatter_on(hand: Hand, job: Job) -> Results:
    """What the shop's scatter makes of the roof as built; nothing where it was stopped."""
    derived = derive(job)
    placed, _ = places_of(derived)
    standing = stand_all(derived.patterns, placed)
    found = sampled(derived, placed, standing, stopped=hand.stopped)
    return Results(scatter=found) if found else Results()


def folded(hand: Hand, derived: Derived) -> tuple[Told, ...] | None:
    """The misfits of all pieces; ``None`` where it was stopped before all of them had been folded up."""
    found: list[Told] = []
    for run in derived.runs:
        if hand.stopped():
            return None
        found += misfits_of(Derived(derived.job, (run,), derived.roof, ()))
    return (*found, *misfits_of(Derived(derived.job, (), derived.roof, derived.openings)))
