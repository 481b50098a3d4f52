"""One run cut into pieces no longer than the stock allows.

A piece's *blank* is its share of the run plus what its ends add. Along a level run one of
two neighbours carries the lap: the one that lies beneath, which is the one away from the
weather's lee, so that the open edge never faces the weather.
"""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass
from typing import Literal

LONGEST_RUN = 200_000.0


@dataclass(frozen=True)
class SplitRules:
    """How a run is split into pieces, mm.

    ``stock_length``: longest blank; ``least_piece``: shortest share
    ``lap``: at each joint; ``weather``: the end the weather comes from
    ``joints``: ``even`` gives like pieces, ``full`` whole stock lengths and one rest
    ``avoid``: stretches of the run where no joint may stand
    """

    stock_length: float
    least_piece: float
    lap: float
    weather: Literal["left", "right"] = "left"
    joints: Literal["even", "full"] = "even"
    avoid: tuple[tuple[float, float], ...] = ()


@dataclass(frozen=True)
class RunPiece:
    """One piece's place in the run, mm.

    ``start``: from the run's left end; ``share``: its length
    ``under_left``, ``under_right``: it lies beneath its neighbour there and carries the lap
    ``count``: like pieces
    """

    start: float
    share: float
    under_left: bool = False
    under_right: bool = False
    count: int = 1


@dataclass(frozen=True)
class RunTooHard:
    """Why a run cannot be cut into pieces under the rules, and what would do."""

    field: str
    says: str


def split_run(length: float, rules: SplitRules, add_left: float = 0.0,
              add_right: float = 0.0) -> tuple[RunPiece, ...] | RunTooHard:
    """The pieces of a run of ``length`` mm, from its left end.

    ``add_left`` and ``add_right`` are what the run's own two ends add to their blanks (wraps).
    The number of pieces is the least that fits; shares add up to the length exactly.
    """
    trouble = _impossible(length, rules, add_left, add_right)
    if trouble:
        return trouble
    for count in range(1, math.ceil(length / 10) + 2):
        caps = _capacities(count, rules, add_left, add_right)
        if sum(caps) >= length - 1e-9:
            shares = _clear_of(_shares(length, caps, rules), caps, length, rules)
            if shares is not None:
                return _laid(shares, rules)
        if count * min(rules.least_piece, length) > length and sum(caps) >= length:
            break
    return RunTooHard("stagger", f"no joints of {length:g} mm keep clear of those of the layer beneath and leave "
                      f"pieces of {rules.least_piece:g} to {rules.stock_length:g} mm; less stagger or longer stock "
                      "would do")


def _clear_of(shares: list[float], caps: list[float], length: float, rules: SplitRules) -> list[float] | None:
    """``shares`` with every joint moved, as little as may be, out of the places to avoid; ``None`` if that cannot be.

    From the left the places that joint n can have are found as intervals; from the right each joint is then put as
    near to where it was wanted as the next one lets it.
    """
    if not rules.avoid:
        return shares
    least = min(rules.least_piece, length / len(shares))
    reach = [[(0.0, 0.0)]]
    for cap in caps[:-1]:
        grown = [(low + least, high + cap) for low, high in reach[-1]]
        reach.append(_without(grown, rules.avoid, length - least))
    wanted, joints, after = list(itertools.accumulate(shares)), [length], length
    for n in range(len(shares) - 1, 0, -1):
        low, high = after - caps[n], after - least
        spans = [(max(a, low), min(b, high)) for a, b in reach[n] if max(a, low) <= min(b, high) + 1e-9]
        if not spans:
            return None
        after = min((min(max(wanted[n - 1], a), b) for a, b in spans), key=lambda place: abs(place - wanted[n - 1]))
        joints.insert(0, after)
    return [b - a for a, b in itertools.pairwise((0.0, *joints))] if joints[0] <= caps[0] + 1e-9 else None


def _without(spans: list[tuple[float, float]], avoid: tuple[tuple[float, float], ...],
             most: float) -> list[tuple[float, float]]:
    """``spans`` up to ``most`` with the zones to avoid taken out, overlapping ones made one."""
    joined: list[tuple[float, float]] = []
    for low, high in sorted(spans):
        if joined and low <= joined[-1][1]:
            joined[-1] = (joined[-1][0], max(high, joined[-1][1]))
        else:
            joined.append((low, high))
    for start, end in avoid:
        joined = [part for low, high in joined for part in ((low, min(high, start)), (max(low, end), high))
                  if part[0] <= part[1]]
    return [(low, min(high, most)) for low, high in joined if low <= most]


def _impossible(length: float, rules: SplitRules, left: float, right: float) -> RunTooHard | None:
    if length > LONGEST_RUN:
        return RunTooHard("length", f"found {length:g} mm, expected at most {LONGEST_RUN:g} mm; "
                          "enter a longer edge as several runs")
    if length + left + right <= rules.stock_length:
        return None  # one piece
    if rules.lap + max(left, right) + min(rules.least_piece, length) > rules.stock_length:
        return RunTooHard("stock_length", f"a piece of {rules.stock_length:g} mm leaves less than the least piece "
                          f"of {rules.least_piece:g} mm beside its lap of {rules.lap:g} mm and its end; "
                          "use longer stock, a shorter lap or a smaller least piece")
    return None


def _capacities(count: int, rules: SplitRules, left: float, right: float) -> list[float]:
    caps = [rules.stock_length] * count
    caps[0] -= left
    caps[-1] -= right
    carriers = range(1, count) if rules.weather == "left" else range(count - 1)
    for n in carriers:
        caps[n] -= rules.lap
    return caps


def _shares(length: float, caps: list[float], rules: SplitRules) -> list[float]:
    if rules.joints == "even" or len(caps) == 1:
        return _even(length, caps)
    shares, rest = [], length
    for cap in caps[:-1]:
        shares.append(cap)
        rest -= cap
    shares.append(rest)
    short = min(rules.least_piece, length) - rest
    if short > 0:  # a silly rest: the piece before it gives
        shares[-2] -= short
        shares[-1] += short
    return shares


def _even(length: float, caps: list[float]) -> list[float]:
    """Equal shares, but none over its capacity: the level that fills the run exactly."""
    shares, open_ends, rest = [0.0] * len(caps), set(range(len(caps))), length
    while open_ends:
        level = rest / len(open_ends)
        full = {n for n in open_ends if caps[n] <= level}
        for n in full or open_ends:
            shares[n] = caps[n] if full else level
        rest -= sum(caps[n] for n in full)
        open_ends = open_ends - full if full else set()
    return shares


def _laid(shares: list[float], rules: SplitRules) -> tuple[RunPiece, ...]:
    cuts, start, last = [], 0.0, len(shares) - 1
    for n, share in enumerate(shares):
        cuts.append(RunPiece(start, share, under_left=rules.weather == "left" and n > 0,
                             under_right=rules.weather == "right" and n < last))
        start += share
    return tuple(cuts)
