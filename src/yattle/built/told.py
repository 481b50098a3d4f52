"""Water: the laps as fitting tells them, by kind of edge, held against how the pieces lie: what is said to lie over
another one must not lie under it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

import numpy as np
import shapely

from yattle import overlay
from yattle.built.sheets import Numbers, Sheets
from yattle.built.standing import Spot

_UNDER = 8.0  # mm that it may lie lower: sheets one on another, hems and locks between them
_NEAR = 120.0  # mm over each other within which two sheets are layers of one roof
_SHARED = 900.0  # mm² in plan that are worth a look


@dataclass(frozen=True)
class ToldWrong:
    """Fitting says that ``over`` lies over ``under``, by their items; pieces of them lie ``below`` mm the other way
    round, at a place in mm."""

    over: str
    under: str
    below: float
    at: Spot


def told_wrong(sheets: Sheets, items: list[str], laps: Iterable[tuple[str, str]]) -> Iterator[ToldWrong]:
    """Each lap whose pieces lie the other way round wherever they lie over each other in plan, mm. ``items``: of each
    sheet; ``laps``: (over, under) by item."""
    upper, lower, lap = _lapped(sheets, items, laps)
    ranks, right, found = _ranks(lap), np.zeros(int(lap.max(initial=-1)) + 1, dtype=bool), dict[int, ToldWrong]()
    first, many = 0, 1
    while (left := (ranks >= first) & ~right[lap]).any():  # most laps are right at the first place looked at
        some = np.nonzero(left & (ranks < first + many))[0]
        for n, lies in _below(sheets, items, upper[some], lower[some]):
            one = int(lap[some[n]])
            found[one] = min(found.get(one, lies), lies, key=lambda each: each.below)
            right[one] |= lies.below <= _UNDER
        first, many = first + many, 2 * many
    yield from (one for one in found.values() if one.below > _UNDER)


def _lapped(sheets: Sheets, items: list[str], laps: Iterable[tuple[str, str]]) -> tuple[Numbers, Numbers, Numbers]:
    """The upper and the lower parts of all laps that overlap in plan, and of which lap each pair is."""
    number = {item: n for n, item in enumerate(dict.fromkeys(items))}
    said = np.full((len(number), len(number)), -1, dtype=np.int64)
    for n, (over, under) in enumerate(laps):
        if over in number and under in number:
            said[number[over], number[under]] = n
    of = np.array([number[item] for item in items], dtype=np.int64)
    upper, lower = sheets.pairs()
    lap = said[of[upper], of[lower]]
    return upper[lap >= 0], lower[lap >= 0], lap[lap >= 0]


def _ranks(groups: Numbers) -> Numbers:
    """Which one of its group each is, from 0.

    >>> _ranks(np.array([7, 7, 2, 7])).tolist()
    [0, 1, 0, 2]
    """
    order = np.argsort(groups, kind="stable")
    found = np.empty(len(groups), dtype=np.int64)
    found[order] = np.arange(len(groups)) - np.searchsorted(groups[order], groups[order])
    return found


def _below(sheets: Sheets, items: list[str], upper: Numbers, lower: Numbers) -> Iterator[tuple[int, ToldWrong]]:
    """How far each upper part lies below its lower one, where they are layers of one roof, and of which pair that
    is told."""
    shared = overlay.intersection(sheets.plans[upper], sheets.plans[lower])
    large = np.nonzero(shapely.area(shared) >= _SHARED)[0]
    upper, lower = upper[large], lower[large]
    at = shapely.get_coordinates(shapely.point_on_surface(shared[large]))
    highs, lows = sheets.heights(upper, at), sheets.heights(lower, at)
    for n in np.nonzero(np.abs(highs - lows) < _NEAR)[0].tolist():
        (x, y), low = at[n].tolist(), float(lows[n])
        yield int(large[n]), ToldWrong(items[upper[n]], items[lower[n]], low - float(highs[n]), (x, y, low))
