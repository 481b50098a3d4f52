"""Water: the laps as fitting tells them, by kind of edge, held against how the pieces lie: what is said to lie over
another one must not lie under it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

import numpy as np
import shapely

from yattle import overlay
from yattle.built.sheets import Sheets
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
    said = set(laps)
    upper, lower = sheets.pairs()
    both_ways = zip(upper.tolist(), lower.tolist(), strict=True)
    keep = np.array([(items[a], items[b]) in said for a, b in both_ways], dtype=bool)
    upper, lower = upper[keep], lower[keep]
    shared = overlay.intersection(sheets.plans[upper], sheets.plans[lower])
    large = shapely.area(shared) >= _SHARED
    upper, lower = upper[large], lower[large]
    at = shapely.get_coordinates(shapely.point_on_surface(shared[large]))
    highs, lows = sheets.heights(upper, at), sheets.heights(lower, at)
    found: dict[tuple[str, str], list[ToldWrong]] = {}
    for n in np.nonzero(np.abs(highs - lows) < _NEAR)[0].tolist():
        pair, (x, y), low = (items[upper[n]], items[lower[n]]), at[n].tolist(), float(lows[n])
        found.setdefault(pair, []).append(ToldWrong(*pair, low - float(highs[n]), (x, y, low)))
    for places in found.values():
        best = min(places, key=lambda one: one.below)
        if best.below > _UNDER:
            yield best
