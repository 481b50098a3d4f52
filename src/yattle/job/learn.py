"""What the measured folds of the logbook say of metal and brake.

Springback is the leaf's angle over the fold's that stays; from many folds it is found by least squares that do not let
single wild ones pull (Huber's loss), with the spread of one fold. Offered, never taken silently.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from yattle.bounds import Name, Thickness
from yattle.brake.machine import Springback
from yattle.job.in_use import with_learnt
from yattle.job.log import is_measured, with_entries
from yattle.job.model import Job, Learnt, LogEntry
from yattle.job.scatter import Scatter
from yattle.values import Value

FEWEST = 4  # folds under which nothing is offered
_FOR_OFFSET = 6  # folds under which no offset is looked for
_SPREAD_OUT = 25.0  # degrees from the least to the most fold: of folds that are alike no offset can be told
_MATTERS = {"springback": 0.25, "k": 0.05}
"""What a change must make at least to be offered: degrees of the leaf, mm of girth of a fold at 90°."""
_READING = {"springback": 5e-4, "k": 5e-3}
"""How fine a value is read at best: no spread is told finer."""
_USUAL = (30.0, 120.0)  # degrees: folds as they are usual, where no others were measured


@dataclass(frozen=True)
class Offer:
    """A value learnt from so ``many`` measures.

    ``found``, ``now``: the ratio (springback) or k-factor found, and the one in use
    ``spread``: of one measure's own ratio or k
    ``offset``, ``offset_now``: what the leaf goes further, degrees, found and in use
    ``unsure``: variances of ratio and offset and what they have in common
    ``span``: the least and the most fold that was measured, degrees
    ``thickness``: of the metal of a k-factor, mm
    """

    what: str
    found: float
    spread: float
    many: int
    now: float
    thickness: float = 0.0
    offset: float = 0.0
    offset_now: float = 0.0
    unsure: tuple[float, float, float] | None = None
    span: tuple[float, float] = _USUAL

    @property
    def kind(self) -> str:
        """What was found: a ``ratio``, or ``ratio and offset``."""
        return "ratio and offset" if self.unsure is not None else "ratio"

    @property
    def sure(self) -> float:
        """How far what was found may be off, 19 times of 20: Student's t for so many measures. A ratio."""
        if self.unsure is not None:
            return self._t() * math.sqrt(self.unsure[0])
        return self._t() * self.spread / math.sqrt(max(self.many, 2))

    @property
    def offset_sure(self) -> float:
        """How far the offset may be off, 19 times of 20, degrees."""
        return self._t() * math.sqrt(self.unsure[1]) if self.unsure is not None else 0.0

    def _t(self) -> float:
        from scipy.stats import t

        return float(t.ppf(0.975, max(self.many, 2) - (2 if self.unsure is not None else 1)))

    def leaf_off(self, turn: float) -> tuple[float, float]:
        """What taking it changes at the leaf for a fold of ``turn``, and how far that may be off; degrees."""
        change = (self.found - self.now) * turn + self.offset - self.offset_now
        if self.unsure is None:
            return change, self.sure * turn
        ratio, offset, common = self.unsure
        return change, self._t() * math.sqrt(max(ratio * turn ** 2 + 2 * common * turn + offset, 0.0))

    @property
    def effect(self) -> float:
        """What taking it changes: degrees of the leaf, at that of the measured folds where it is most, or mm of girth
        at a fold of 90°."""
        if self.what == "k":
            return abs(self.found - self.now) * math.pi / 2 * self.thickness
        return max(abs(self.leaf_off(turn)[0]) for turn in self.span)

    @property
    def worth_taking(self) -> bool:
        """Whether it is no noise, and changes what can be seen on a piece."""
        if self.what == "k":
            return abs(self.found - self.now) > self.sure and self.effect >= _MATTERS["k"]
        return any(abs(change) > off and abs(change) >= _MATTERS["springback"]
                   for change, off in map(self.leaf_off, self.span))


def folds_of(job: Job, metal: str, brake: str) -> tuple[LogEntry, ...]:
    """Measured folds of one metal on one brake that say what the leaf was set to."""
    return tuple(entry for entry in job.log if is_fold(entry) and (entry.metal, entry.brake) == (metal, brake))


def offer(job: Job) -> Offer | None:
    """The springback that the measured folds of the job's metal on its brake show; ``None``: too few."""
    folds = folds_of(job, job.metal_name, job.brake.name)
    if job.brake.springback.kind != "ratio":
        return None
    return springback_of(folds, job.brake.springback)


def springback_of(folds: Sequence[LogEntry], now: Springback) -> Offer | None:
    """The springback that folds measured on one metal and brake show, ``now`` in use; ``None``: too few. A ratio, leaf
    over fold, and with it an offset of the leaf's scale where the folds show one beyond doubt."""
    if len(folds) < FEWEST:
        return None
    leaf, came = (np.array([getattr(entry, name) for entry in folds], dtype=float) for name in ("set", "found"))
    span = float(came.min()), float(came.max())
    ratio, spread = _robust(leaf, came)
    plain = Offer("springback", ratio, spread, len(folds), now.ratio, offset_now=now.offset, span=span)
    if len(folds) < _FOR_OFFSET or span[1] - span[0] < _SPREAD_OUT:
        return plain
    line = _line(leaf, came, plain)
    shows = line is not None and abs(line.offset) > line.offset_sure and abs(line.offset) >= _MATTERS["springback"]
    return line if shows else plain


def _line(leaf: NDArray[np.float64], came: NDArray[np.float64], plain: Offer) -> Offer | None:
    """Ratio and offset for which leaf = ratio · came + offset; ``None`` where the ratio comes out under 1, which no
    metal has. What came is fitted over what was set, since only what came scatters; wild folds weigh little (Huber's
    weights, the spread by the median)."""
    terms, weigh = np.column_stack([leaf, np.ones_like(leaf)]), np.ones_like(leaf)
    for _ in range(30):
        root = np.sqrt(weigh)
        (share, shift), *_ = np.linalg.lstsq(terms * root[:, None], came * root, rcond=None)
        off = came - share * leaf - shift
        scale = max(float(np.median(np.abs(off))) * 1.4826, _READING["springback"] * 90)
        weigh = np.minimum(1.0, 1.345 * scale / np.maximum(np.abs(off), 1e-12))
    if share <= 0 or share > 1.0:
        return None
    held = np.abs(off) <= 4 * scale
    many = max(int(held.sum()), 3)
    one = max(float(np.sqrt((off[held] ** 2).sum() / (many - 2))), scale * 0.5)
    turned = np.array([[-1 / share ** 2, 0.0], [shift / share ** 2, -1 / share]])  # of ratio and offset by the line's
    unsure = turned @ (np.linalg.inv(terms[held].T @ terms[held]) * one ** 2) @ turned.T
    return replace(plain, found=float(1 / share), offset=float(-shift / share), many=many,
                   spread=max(one / float(np.median(came)), _READING["springback"]),
                   unsure=(float(unsure[0, 0]), float(unsure[1, 1]), float(unsure[0, 1])))


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
    rule = job.metal_used.allowance
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


def found_says(offer: Offer, short: bool = False) -> str:
    """What was found with the spread of one measure: ``1.0370 ± 0.0021``, with ``and +1.20°`` where there is an offset;
    ``short``: without the spread."""
    more = f" and {offer.offset:+.2f}°" if offer.kind != "ratio" else ""
    return f"{offer.found:.4f}{'' if short else f' ± {offer.spread:.4f}'}{more}"


def now_says(offer: Offer) -> str:
    """What is in use: ``1.0300``, with ``and +0.5°`` where it has an offset."""
    return f"{offer.now:.4f}" + (f" and {offer.offset_now:+.2f}°" if offer.offset_now else "")


def with_offer_taken(job: Job, taken: Offer, when: str) -> Job:
    """The job with the springback of its brake or the k-factor that was learnt, with a line in the log."""
    line = LogEntry(when=when, what="lesson", metal=job.metal_name, brake=job.brake.name,
                    text=f"{taken.what} {found_says(taken)} from {taken.many} measures taken, {now_says(taken)} before")
    if taken.what == "k":  # what was measured stands against the old k: it has been heard
        heard = tuple(entry.but(what="lesson") if entry.folds and entry.metal == job.metal_name else entry
                      for entry in job.log)
        known = Learnt(what="k", metal=job.metal_name, value=round(taken.found, 4))
        return with_entries(with_learnt(job.but(k=known.value, log=heard), known), (line,))
    known = Learnt(what="springback", metal=job.metal_name, brake=job.brake.name, value=round(taken.found, 5),
                   offset=round(taken.offset, 3))
    springback = job.brake.springback.but(ratio=known.value, offset=known.offset)
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
    springs = [(pair, springback_of([e for e in folds if (e.metal, e.brake) == pair], Springback())) for pair in pairs]
    ks = [(metal.name, k_of([e for e in legs if e.metal == metal.name], metal.thickness, metal.k))
          for metal in log.metals]
    found = {"springback": [{"metal": metal, "brake": brake, **_said(one)} for (metal, brake), one in springs if one],
             "k": [{"metal": name, **_said(one)} for name, one in ks if one]}
    return {"format": "yattle-learnt/1", "ok": any(found.values()), **found,
            "reasons": [] if any(found.values()) else [f"fewer than {FEWEST} measures of any metal on one brake"],
            "passed_over": sum(entry.by == "stand-in" for entry in log.entries)}


def _said(offer: Offer) -> dict[str, Any]:
    said: dict[str, Any] = {"found": offer.found, "spread": offer.spread, "count": offer.many}
    if offer.what == "springback":
        said |= {"kind": offer.kind, "offset": offer.offset}
    return said
