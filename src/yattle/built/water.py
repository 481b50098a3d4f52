"""Water: whether the laps of what lies on a slope shed it, told by where their pieces lie."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

import numpy as np

from yattle.built.cover import WantedLap
from yattle.built.standing import Standing
from yattle.pattern.surface import Array

_LEVEL = 0.0087  # sine of half a degree: less is level, where water runs off across the lap
_ENOUGH = 30.0  # mm that the piece which goes over must begin higher


@dataclass(frozen=True)
class WetLap:
    """Two pieces of a run on a slope whose lap is turned: what goes over lies below, so that water runs ``under`` it;
    ``at`` in mm."""

    over: str
    under: str
    at: tuple[float, float, float]


def turned_laps(standing: dict[str, Standing], laps: Iterable[WantedLap]) -> Iterator[WetLap]:
    """Laps that face the water."""
    for lap in laps:
        if lap.over in standing and lap.under in standing:
            over, under = standing[lap.over], standing[lap.under]
            way = _along(over)
            if abs(float(way[2])) > _LEVEL:
                middles = [np.concatenate(piece.parts).mean(axis=0) for piece in (over, under)]
                if float(middles[0][2] - middles[1][2]) < _ENOUGH * abs(float(way[2])):
                    x, y, z = ((middles[0] + middles[1]) / 2).tolist()
                    yield WetLap(lap.over, lap.under, (x, y, z))


def _along(piece: Standing) -> Array:
    """The way a piece runs: its longest side."""
    sides = [side for part in piece.parts for side in np.roll(part, -1, axis=0) - part]
    longest = max(sides, key=lambda side: float(np.linalg.norm(side)))
    return np.asarray(longest / np.linalg.norm(longest))
