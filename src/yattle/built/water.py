"""Water: whether the laps of what lies on a slope shed it, told by where their pieces lie."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from yattle.built.cover import WantedLap
from yattle.built.standing import Spot, Standing, spot

_LEVEL = 0.0087  # sine of half a degree: less is level, where water runs off across the lap
_ENOUGH = 30.0  # mm that the piece which goes over must begin higher


@dataclass(frozen=True)
class WetLap:
    """Two pieces of a run on a slope whose lap is turned: what goes over lies below, so that water runs ``under`` it;
    ``at`` in mm."""

    over: str
    under: str
    at: Spot


def turned_laps(standing: dict[str, Standing], laps: Iterable[WantedLap]) -> Iterator[WetLap]:
    """Laps that face the water."""
    for lap in laps:
        if lap.over in standing and lap.under in standing:
            over, under = standing[lap.over], standing[lap.under]
            slope = abs(float(over.way[2]))
            if slope > _LEVEL and float(over.middle[2] - under.middle[2]) < _ENOUGH * slope:
                yield WetLap(lap.over, lap.under, spot((over.middle + under.middle) / 2))
