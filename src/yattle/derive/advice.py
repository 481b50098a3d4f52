"""Girth advice: which soft legs, changed a little, save coil over the whole job.

Legs that the roof fixes are left alone. For each soft leg the lengths are looked at that let one more strip come out of
the coil's width, or let the section fill the width together with another one of the job. Those that promise most, by a
bound on the coil that the strips' widths take, are judged by the whole cutting plan of the job, and the changes are
taken one after the other, the best first, as long as they save.
A change that breaks a rule which held before, so that there would be something new to look at, is no advice.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from typing import Any

from yattle.coil import plain_answer
from yattle.derive.derived import Derived
from yattle.derive.graph import derive
from yattle.details import ENTRIES
from yattle.job.model import Job

SOFT: dict[str, float] = {
    "flange": 0.15, "gutter_flange": 0.15, "apron_flange": 0.15, "rake_flange": 0.2, "rake_face": 0.1, "face": 0.08,
    "ridge_wing": 0.15, "half_flange": 0.15, "hip_wing": 0.15, "valley_wing": 0.1, "wall_apron": 0.15,
    "wall_flange": 0.15, "upstand": 0.1, "break_above": 0.15, "break_below": 0.15}
"""Entries whose length is not fixed by the roof, and how much of it may give."""
_MOST_STRIPS = 12
_FIRST, _AGAIN = 14, 5  # changes tried in the first round, and again beside each that was taken
_STEPS = range(1, 40)  # of the dual-feasible functions
_ENOUGH = 5.0  # mm of coil: what saves less is not worth a change


Trial = tuple[str, float, float]
"""An entry, its value and one worth trying."""


@dataclass(frozen=True)
class Advice:
    """Change ``entry`` from ``before`` to ``after`` mm; ``saves`` mm of coil beside those before it."""

    entry: str
    before: float
    after: float
    saves: float

    @property
    def title(self) -> str:
        return ENTRIES[self.entry].title


def advice_answer(job: Job) -> dict[str, Any]:
    """As ``yattle advice`` gives it: mm of coil that each change saves, beside those before it."""
    found = girth_advice(job)
    return {"format": "yattle-advice/1", "ok": True, "saves": sum(one.saves for one in found),
            "advice": [{"entry": one.entry, "title": one.title, "before": one.before, "after": one.after,
                        "saves": one.saves} for one in found]}


def coil_used(derived: Derived) -> float:
    """Millimetres of coil the plan takes; pieces without a place count as if none could ever be cut."""
    ids = {piece.id for piece in derived.job.stock if piece.kind == "coil"}
    plan = derived.plan or plain_answer(derived.nest_job)
    unplaced = sum(part.copies for part in plan.unplaced)
    return sum(used.length for used in plan.used if used.stock in ids) + 1e6 * unplaced


def girth_advice(job: Job, going_on: Callable[[], bool] = lambda: True,
                 tell: Callable[[int, int, float], None] = lambda done, of, saved: None) -> tuple[Advice, ...]:
    """Changes that save coil, the best first; ``going_on`` false ends the search with what was found.

    ``tell`` hears how many trials are done, of how many, and what is saved so far. Only what saved most by itself is
    tried again beside others. Money in the job's, lengths in mm.
    """
    found: list[Advice] = []
    best, held = coil_used(derive(job)), told(derive(job))
    trials, tried = _promising(job, list(candidates(job)))[:_FIRST], 0
    while trials and going_on():
        worth: list[tuple[float, Trial]] = []
        for trial in trials:
            if not going_on():
                break
            saves = _saves(best, derive(_with(job, trial)), held)
            if saves > _ENOUGH:
                worth.append((saves, trial))
            tried += 1
            tell(tried, max(tried, len(trials)), sum(advice.saves for advice in found) + max(
                (s for s, _ in worth), default=0.0))
        if not worth:
            break
        saves, trial = max(worth, key=lambda item: (item[0], -abs(item[1][2] - item[1][1])))
        found.append(Advice(*trial, saves))
        job, best = _with(job, trial), best - saves
        worth.sort(key=lambda item: -item[0])
        trials = [other for _, other in worth if other[0] != trial[0]][:_AGAIN]
    return tuple(found)


Strips = dict[str, tuple[float, float, dict[str, int]]]
"""Of each run: the width of its strip, the length of it in all, both mm, and how often each entry stands in it."""


def _strips(derived: Derived) -> Strips:
    found: Strips = {}
    for run in derived.runs:
        if run.family is not None and run.detail.girth is not None:
            times = {entry: run.detail.leg_fields.count(field) for field, entry in run.family.entries.items()
                     if entry in SOFT}
            long = sum(piece.pattern.length * piece.pattern.qty for piece in run.pieces)
            found[run.run.id] = run.detail.girth.girth, long, times
    return found


def least_coil(strips: Iterable[tuple[float, float]], width: float) -> float:
    """What strips of (width, length) take of a coil of ``width`` at least, mm, as far as their widths say: the best
    of the dual-feasible functions ⌊(k + 1) x⌋ / k of x = width / coil width, where that is no whole number, and area.

    >>> round(least_coil([(205.0, 12_000.0)], 1220.0)), round(least_coil([(203.0, 12_000.0)], 1220.0))
    (2400, 2000)
    """
    shares = [(min(strip / width, 1.0), long) for strip, long in strips]
    bounds = [sum(share * long for share, long in shares)]
    for k in _STEPS:
        parts = [((k + 1) * share, long) for share, long in shares]
        bounds.append(sum(long * (part / (k + 1) if abs(part - round(part)) < 1e-9 else math.floor(part) / k)
                          for part, long in parts))
    return max(bounds)


def _promising(job: Job, trials: list[Trial]) -> list[Trial]:
    """Trials by what they may save, most first: by the least coil that the widths would take with each."""
    coil, strips = job.coil, _strips(derive(job))
    width = coil.width if coil is not None and coil.width is not None else 0.0

    def least(trial: Trial) -> float:
        entry, before, after = trial
        return least_coil(((wide + times.get(entry, 0) * (after - before), long)
                           for wide, long, times in strips.values()), width)
    return sorted(trials, key=lambda trial: (round(least(trial), 3), trial))


def told(derived: Derived) -> frozenset[tuple[str, str]]:
    """What there is to look at: of which run or opening, and in which words, whatever the lengths."""
    return frozenset((of, finding.text) for of, finding in derived.findings)


def _saves(best: float, derived: Derived, held: frozenset[tuple[str, str]]) -> float:
    """How much less coil than ``best`` a trial takes, mm; nothing where a rule that held is broken."""
    return best - coil_used(derived) if told(derived) <= held else 0.0


def _with(job: Job, trial: Trial) -> Job:
    return job.but(own=job.own.but(**{trial[0]: trial[2]}))


def candidates(job: Job) -> Iterator[Trial]:
    """Entry, its value and one worth trying: the section then fills the coil's width, alone or with another one. In
    the entry's own unit."""
    derived, coil = derive(job), job.coil
    if coil is None or coil.width is None:
        return
    sections: dict[str, tuple[float, int, float]] = {}  # entry → (girth, how often the leg stands in it, value)
    for run in derived.runs:
        if run.family is None or run.detail.girth is None:
            continue
        for field, entry in run.family.entries.items():
            times = run.detail.leg_fields.count(field)
            if entry in SOFT and times:
                sections.setdefault(entry, (run.detail.girth.girth, times, getattr(run.standard, entry)))
    girths = sorted({round(run.detail.girth.girth, 3) for run in derived.runs if run.detail.girth is not None})
    for entry, (girth, times, value) in sections.items():
        tried = {round(value + (target - girth) / times - 0.05, 1) for target in _targets(coil.width, girth, girths)}
        give = SOFT[entry] * ENTRIES[entry].default(job.system)
        middle = ENTRIES[entry].default(job.system)
        for after in sorted(tried, key=lambda v: abs(v - value))[:8]:
            if abs(after - middle) <= give and abs(after - value) > 0.2 and (
                    ENTRIES[entry].least <= after <= ENTRIES[entry].most):
                yield entry, value, after


def _targets(width: float, girth: float, others: list[float]) -> Iterator[float]:
    """Girths near ``girth`` that use the width up."""
    for count in range(1, _MOST_STRIPS):
        yield width / count
        for other in others:
            rest = width - other
            if rest > 0:
                yield rest / count
