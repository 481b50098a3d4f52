"""Sums of sizes and what they are worth: the knapsack on real numbers, as lists in which more room always pays.

A list holds, by growing size, every sum that is worth more than all smaller ones. Items are added one after another;
each stage remembers where its sums come from, so that any of them can be taken apart again.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
_EPS = 1e-7
MOST = 500  # sums kept: beyond that only the best of each stretch


@dataclass(frozen=True)
class Stage:
    """One item added: for each sum where it came from in the stage before, and how many of the item it took."""

    item: int
    before: Ints
    count: Ints


@dataclass
class Sums:
    """All sums up to ``room``, mm; ``sizes`` grow, and ``worth`` with them. The list of what is not worse in both (a
    knapsack by dynamic programming)."""

    room: float
    sizes: Floats = field(default_factory=lambda: np.zeros(1))
    worth: Floats = field(default_factory=lambda: np.zeros(1))
    stages: list[Stage] = field(default_factory=list)

    def add(self, item: int, size: float, worth: float, most: int) -> None:
        """Let up to ``most`` of an item be taken, ``size`` mm and ``worth`` each, in units of the objective."""
        most = min(most, int((self.room + _EPS) // size))
        if most < 1 or worth <= 0:
            return
        counts = np.arange(most + 1)
        sizes = (self.sizes[None] + counts[:, None] * size).ravel()
        values = (self.worth[None] + counts[:, None] * worth).ravel()
        fits = np.flatnonzero(sizes <= self.room + _EPS)
        order = fits[np.lexsort((-values[fits], sizes[fits]))]
        best = np.maximum.accumulate(values[order])
        rises = np.concatenate(([True], values[order][1:] > best[:-1] + 1e-12))
        kept = order[rises]
        if len(kept) > MOST:
            kept = _thinned(kept, sizes, self.room)
        before, count = kept % len(self.sizes), kept // len(self.sizes)
        self.sizes, self.worth = sizes[kept], values[kept]
        self.stages.append(Stage(item, before, count))

    def snapshot(self) -> Sums:
        """The list as it is now; adding to either leaves the other as it is."""
        return Sums(self.room, self.sizes, self.worth, list(self.stages))

    def at(self, room: float, least: float = 0.0) -> int:
        """Which sum is worth most within ``room``, leaving nothing or ``least`` at least. In mm."""
        return int(self.many_at(np.array([room]), least)[0])

    def many_at(self, rooms: Floats, least: float = 0.0) -> Ints:
        """Which sum is worth most within each of ``rooms``, leaving nothing or ``least`` at least, mm."""
        within = np.searchsorted(self.sizes, rooms + _EPS, side="right") - 1
        if least <= 0:
            return np.asarray(within)
        short = np.maximum(np.searchsorted(self.sizes, rooms - least + _EPS, side="right") - 1, 0)
        return np.where(self.sizes[within] >= rooms - _EPS, within, short)

    def taken(self, which: int) -> list[tuple[int, int]]:
        """(item, how many) of a sum, the last item added first."""
        found = []
        for stage in reversed(self.stages):
            if stage.count[which]:
                found.append((stage.item, int(stage.count[which])))
            which = int(stage.before[which])
        return found


def _thinned(kept: Ints, sizes: Floats, room: float) -> Ints:
    """Of every stretch of sizes the sum that is worth most: its last one."""
    stretch = (sizes[kept] / room * MOST).astype(np.int64)
    last = np.concatenate((stretch[1:] != stretch[:-1], [True]))
    last[0] = True
    return kept[last]
