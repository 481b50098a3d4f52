"""What the measured folds of the logbook say of metal and brake.

Springback is the leaf's angle over the fold's that stays; from many folds it is found by least squares that do not let
single wild ones pull (Huber's loss), with the spread of one fold. Offered, never taken silently.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from yattle.bounds import Name, Thickness
from yattle.job.in_use import with_learnt
from yattle.job.log import is_measured, with_entries
from yattle.job.model import Job, Learnt, LogEntry
from yattle.job.scatter import Scatter
from yattle.metal import library
from yattle.values import Value

FEWEST = 4  # folds under which nothing is offered
_MATTERS = {"springback": 0.25, "k": 0.05}
"""What a change must make at least at a fold of 90° to be offered: degrees of a springback, mm of girth of a k."""
_READING = {"springback": 5e-4, "k": 5e-3}
"""How fine a value is read at best: no spread is told finer."""


@dataclass(frozen=True)
class Offer:
    """A value learnt: ``found`` with the ``spread`` of one measure and how ``many`` there were; ``now`` in use. A
    springback or k-factor: a ratio. ``thickness`` of the metal of a k-factor, mm."""

    what: str
    found: float
    spread: float
    many: int
    now: float
    thickness: float = 0.0

    @property
    def sure(self) -> float:
        """How far what was found may be off, in its unit, 19 times of 20: Student's t for so many measures."""
        from scipy.stats import t

        many = max(self.many, 2)
        return float(t.ppf(0.975, many - 1) * self.spread / math.sqrt(many))

    @property
    def effect(self) -> float:
        """What taking it changes at a fold of 90°: degrees of the leaf, or mm of girth."""
        off = abs(self.found - self.now)
        return off * 90.0 if self.what == "springback" else off * math.pi / 2 * self.thickness

    @property
    def worth_taking(self) -> bool:
        """Whether it is no noise, and changes what can be seen on a piece."""
        return abs(self.found - self.now) > self.sure and self.effect >= _MATTERS[self.what]


def folds_of(job: Job, metal: str, brake: str) -> tuple[LogEntry, ...]:
    """Measured folds of one metal on one brake that say what the leaf was set to."""
    return tuple(entry for entry in job.log if is_fold(entry) and (entry.metal, entry.brake) == (metal, brake))


def offer(job: Job) -> Offer | None:
    """The springback that the measured folds of the job's metal on its brake show; ``None``: too few."""
    folds = folds_of(job, job.metal_name, job.brake.name)
    if job.brake.springback.kind != "ratio":
        return None
    return springback_of(folds, job.brake.springback.ratio)


def springback_of(folds: Sequence[LogEntry], now: float) -> Offer | None:
    """The springback that folds measured on one metal and brake show, ``now`` in use; ``None``: too few. A ratio, leaf
    over fold."""
    if len(folds) < FEWEST:
        return None
    leaf, came = (np.array([getattr(entry, name) for entry in folds], dtype=float) for name in ("set", "found"))
    ratio, spread = _robust(leaf, came)
    return Offer("springback", ratio, spread, len(folds), now)


def _robust(leaf: NDArray[np.float64], came: NDArray[np.float64]) -> tuple[float, float]:
    """The ratio for which leaf ≈ ratio · came, wild folds weighing little; the spread of one fold's own ratio."""
    from scipy.optimize import least_squares

    scale = _spread(leaf / came, "springback")
    done = least_squares(lambda r: (leaf - r[0] * came) / came, x0=[float(np.median(leaf / came))], loss="huber",
                         f_scale=1.345 * scale)
    return float(done.x[0]), float(scale)


def _spread(values: NDArray[np.float64], what: str) -> float:
    """The spread of one measure: by the median, which wild ones do not pull, and by all that are not wild."""
    off = np.abs(values - np.median(values))
    middle = float(np.median(off)) * 1.4826
    held = values[off <= 4 * max(middle, _READING[what])]
    return max(middle, float(held.std(ddof=1)) if len(held) > 1 else 0.0, _READING[what])


def offer_k(job: Job) -> Offer | None:
    """The k-factor that measured legs of the job's metal show; ``None``: too few, or the metal goes by another rule."""
    legs = [entry for entry in job.log if is_leg(entry) and entry.metal == job.metal_name]
    rule = library().find(job.metal).allowance
    if rule.get("rule") != "k-factor" or job.allowance != "metal":
        return None
    return k_of(legs, job.thickness, job.k if job.k is not None else float(rule["k"]))


def is_leg(entry: LogEntry) -> bool:
    """Whether an entry says how long a leg came out."""
    return bool(is_measured(entry) and entry.folds and entry.wanted and entry.found)


def is_fold(entry: LogEntry) -> bool:
    """Whether an entry says how a fold came out for what the leaf was set to."""
    return bool(is_measured(entry) and not entry.folds and entry.set and entry.found)


def k_of(legs: Sequence[LogEntry], thickness: float, now: float) -> Offer | None:
    """The k-factor that measured legs of one metal show, folded with ``now`` in use; ``thickness`` mm. ``None``: too
    few.

    A leg that comes out e mm too long with n folds at 90° says that each fold takes 2e/n mm more off than was reckoned;
    the deduction falls by ½π·t for each 1 of k.
    """
    if len(legs) < FEWEST:
        return None
    each = np.array([now - 2 * ((entry.found or 0) - (entry.wanted or 0)) / entry.folds / (np.pi / 2 * thickness)
                     for entry in legs])
    middle = float(np.median(each))
    spread = _spread(each, "k")
    held = each[np.abs(each - middle) <= 3 * spread]  # wild ones do not count
    return Offer("k", float(np.clip(held.mean(), 0, 1)), spread, len(legs), now, thickness)


def scatter_of(job: Job) -> Scatter:
    """The shop's scatter: of angles as its own measured folds show it, the defaults where there are too few."""
    off = np.array([entry.found - entry.wanted for entry in job.log
                    if is_measured(entry) and entry.found and entry.wanted and entry.set])
    if len(off) < 2 * FEWEST:
        return Scatter()
    return Scatter(angle=max(0.01, float(np.median(np.abs(off - np.median(off)))) * 1.4826))


def with_offer_taken(job: Job, taken: Offer, when: str) -> Job:
    """The job with the springback of its brake or the k-factor that was learnt, with a line in the log."""
    line = LogEntry(when=when, what="lesson", metal=job.metal_name, brake=job.brake.name,
                    text=f"{taken.what} {taken.found:.4f} ± {taken.spread:.4f} from {taken.many} measures taken, "
                         f"{taken.now:.4f} before")
    if taken.what == "k":  # what was measured stands against the old k: it has been heard
        heard = tuple(entry.but(what="lesson") if entry.folds and entry.metal == job.metal_name else entry
                      for entry in job.log)
        known = Learnt(what="k", metal=job.metal_name, value=round(taken.found, 4))
        return with_entries(with_learnt(job.but(k=known.value, log=heard), known), (line,))
    known = Learnt(what="springback", metal=job.metal_name, brake=job.brake.name, value=round(taken.found, 5))
    springback = job.brake.springback.but(ratio=known.value)
    return with_entries(with_learnt(job.but(brake=job.brake.but(springback=springback)), known), (line,))


class Learner(Value):
    """A metal that legs were measured on, ``name`` as in the entries; ``thickness`` mm, ``k`` it was folded with."""

    name: Name
    thickness: Thickness
    k: Annotated[float, Field(ge=0, le=1)] = 0.33


class Log(Value):
    """Measured folds and legs to learn from; ``metals`` those that legs were measured on."""

    format: Literal["yattle-log/1"] = "yattle-log/1"
    entries: Annotated[tuple[LogEntry, ...], Field(max_length=100_000)]
    metals: Annotated[tuple[Learner, ...], Field(max_length=1000)] = ()


def learnt(log: Log) -> dict[str, Any]:
    """What ``yattle learn`` prints: springback of every metal on every brake, k-factors of metals; what a stand-in said
    is counted and passed over."""
    folds, legs = [e for e in log.entries if is_fold(e)], [e for e in log.entries if is_leg(e)]
    pairs = sorted({(entry.metal, entry.brake) for entry in folds})
    springs = [(pair, springback_of([e for e in folds if (e.metal, e.brake) == pair], 1.0)) for pair in pairs]
    ks = [(metal.name, k_of([e for e in legs if e.metal == metal.name], metal.thickness, metal.k))
          for metal in log.metals]
    found = {"springback": [{"metal": metal, "brake": brake, **_said(one)} for (metal, brake), one in springs if one],
             "k": [{"metal": name, **_said(one)} for name, one in ks if one]}
    return {"format": "yattle-learnt/1", "ok": any(found.values()), **found,
            "reasons": [] if any(found.values()) else [f"fewer than {FEWEST} measures of any metal on one brake"],
            "passed_over": sum(entry.by == "stand-in" for entry in log.entries)}


def _said(offer: Offer) -> dict[str, float]:
    return {"found": offer.found, "spread": offer.spread, "count": offer.many}
