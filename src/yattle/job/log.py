"""The logbook: what was measured, tried, changed and learnt, and what the measured folds say of metal and brake.

Springback is the leaf's angle over the fold's that stays; from many folds it is found by least squares that do not let
single wild ones pull (Huber's loss), with the spread of one fold. Offered, never taken silently.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from yattle.devices.folder import Measured
from yattle.job.model import Job, LogEntry
from yattle.job.scatter import Scatter
from yattle.metal import library

COLUMNS = ("when", "of", "what", "text", "fold", "wanted", "set", "found", "metal", "brake", "by")
_FEWEST = 4  # folds under which nothing is offered
_LIKELY = 0.6  # of the spread: how near what is found must be to what is used for it not to be offered


@dataclass(frozen=True)
class Offer:
    """A value learnt: ``found`` with the ``spread`` of one measure and how ``many`` there were; ``now`` in use."""

    what: str
    found: float
    spread: float
    many: int
    now: float

    @property
    def sure(self) -> float:
        """The standard error of what was found."""
        return float(self.spread / max(self.many, 1) ** 0.5)

    @property
    def worth_taking(self) -> bool:
        return bool(abs(self.found - self.now) > max(_LIKELY * self.sure, 1e-4))


def with_entries(job: Job, entries: Iterable[LogEntry]) -> Job:
    """The job with more in its log."""
    return job.but(log=(*job.log, *entries))


def is_measured(entry: LogEntry) -> bool:
    """Whether an entry is a measure of something real: what a stand-in says never is."""
    return entry.what == "measured" and entry.by != "stand-in"


def measured_folds(job: Job, of: str, folds: Iterable[Measured], when: str, simulated: bool) -> tuple[LogEntry, ...]:
    """What a folder measured, or ``simulated`` its stand-in said, as entries of a piece."""
    return tuple(LogEntry(when=when, of=of, what="measured", fold=one.fold, wanted=one.wanted, set=one.set_angle,
                          found=one.angle, metal=job.metal_name, brake=job.brake.name,
                          by="stand-in" if simulated else "device") for one in folds)


def folds_of(job: Job, metal: str, brake: str) -> tuple[LogEntry, ...]:
    """Measured folds of one metal on one brake that say what the leaf was set to."""
    return tuple(entry for entry in job.log if is_measured(entry) and not entry.folds and entry.set
                 and entry.found and (entry.metal, entry.brake) == (metal, brake))


def offer(job: Job) -> Offer | None:
    """The springback that the measured folds of the job's metal on its brake show; ``None``: too few."""
    folds = folds_of(job, job.metal_name, job.brake.name)
    if len(folds) < _FEWEST or job.brake.springback.kind != "ratio":
        return None
    leaf, came = (np.array([getattr(entry, name) for entry in folds], dtype=float) for name in ("set", "found"))
    ratio, spread = _robust(leaf, came)
    return Offer("springback", ratio, spread, len(folds), job.brake.springback.ratio)


def _robust(leaf: NDArray[np.float64], came: NDArray[np.float64]) -> tuple[float, float]:
    """The ratio for which leaf ≈ ratio · came, wild folds weighing little; the spread of one fold's own ratio."""
    from scipy.optimize import least_squares

    scale = max(float(np.median(np.abs(leaf / came - np.median(leaf / came)))) * 1.4826, 1e-4)
    done = least_squares(lambda r: (leaf - r[0] * came) / came, x0=[float(np.median(leaf / came))], loss="huber",
                         f_scale=1.345 * scale)
    return float(done.x[0]), float(scale)


def offer_k(job: Job) -> Offer | None:
    """The k-factor that measured legs show; ``None``: too few, or the metal goes by another rule.

    A leg that comes out e mm too long with n folds at 90° says that each fold takes 2e/n mm more off than was reckoned;
    the deduction falls by ½π·t for each 1 of k.
    """
    legs = [entry for entry in job.log if is_measured(entry) and entry.folds and entry.wanted and entry.found
            and entry.metal == job.metal_name]
    rule = library().find(job.metal).allowance
    if len(legs) < _FEWEST or rule.get("rule") != "k-factor" or job.allowance != "metal":
        return None
    now = job.k if job.k is not None else float(rule["k"])
    each = np.array([now - 2 * ((entry.found or 0) - (entry.wanted or 0)) / entry.folds / (np.pi / 2 * job.thickness)
                     for entry in legs])
    middle = float(np.median(each))
    spread = max(float(np.median(np.abs(each - middle))) * 1.4826, 1e-3)
    held = each[np.abs(each - middle) <= 3 * spread]  # wild ones do not count
    return Offer("k", float(np.clip(held.mean(), 0, 1)), spread, len(legs), now)


def scatter_of(job: Job) -> Scatter:
    """The shop's scatter: of angles as its own measured folds show it, the defaults where there are too few."""
    off = np.array([entry.found - entry.wanted for entry in job.log
                    if is_measured(entry) and entry.found and entry.wanted and entry.set])
    if len(off) < 2 * _FEWEST:
        return Scatter()
    return Scatter(angle=max(0.01, float(np.median(np.abs(off - np.median(off)))) * 1.4826))


def with_offer_taken(job: Job, taken: Offer, when: str) -> Job:
    """The job with the springback of its brake or the k-factor that was learnt, with a line in the log."""
    line = LogEntry(when=when, what="lesson", metal=job.metal_name, brake=job.brake.name,
                    text=f"{taken.what} {taken.found:.4f} ± {taken.spread:.4f} from {taken.many} measures taken, "
                         f"{taken.now:.4f} before")
    if taken.what == "k":  # what was measured stands against the old k: it has been heard
        heard = tuple(entry.but(what="lesson") if entry.folds else entry for entry in job.log)
        return with_entries(job.but(k=round(taken.found, 4), log=heard), (line,))
    springback = job.brake.springback.but(ratio=round(taken.found, 5))
    return with_entries(job.but(brake=job.brake.but(springback=springback)), (line,))


def searched(log: Iterable[LogEntry], words: str) -> tuple[LogEntry, ...]:
    """Entries that hold every word, newest first."""
    wanted = words.lower().split()

    def text(entry: LogEntry) -> str:
        return " ".join(str(getattr(entry, name) or "") for name in COLUMNS).lower()
    return tuple(entry for entry in reversed(tuple(log)) if all(word in text(entry) for word in wanted))


def log_csv(log: Iterable[LogEntry]) -> str:
    """One row an entry, oldest first; degrees and mm."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for entry in log:
        writer.writerow(["" if (value := getattr(entry, name)) is None else value for name in COLUMNS])
    return out.getvalue()
