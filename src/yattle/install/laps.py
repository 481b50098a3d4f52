"""Who laps over whom, and the order of fitting that follows: what lies beneath goes on first.

An *item* is what is fitted in one go: a run's trim, the panels of a face, a chimney's flashing. A *lap* says that one
item lies over another. A *stage* holds items that can go on at the same time; there are as few stages as can be, since
each item goes into the earliest one that its laps allow.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property
from graphlib import CycleError, TopologicalSorter
from itertools import pairwise


@dataclass(frozen=True)
class Item:
    """``place`` groups items that lie together (a face, a run); ``kind`` says what it is: ``eave``, ``panels`` …"""

    id: str
    name: str
    kind: str
    place: str = ""


@dataclass(frozen=True)
class Lap:
    """Item ``over`` lies on item ``under``, so goes on after it; ``why`` in words. ``by_hand``: somebody said so."""

    over: str
    under: str
    why: str
    by_hand: bool = False


@dataclass(frozen=True)
class Trouble:
    """Items that would each have to go on before the next one, round in a ring, with the laps that say so."""

    items: tuple[str, ...]
    laps: tuple[Lap, ...]

    def says(self) -> str:
        return "; ".join(f"{lap.over} over {lap.under} ({lap.why})" for lap in self.laps)


@dataclass(frozen=True)
class Order:
    """The stages, first to last, and what contradicts itself (a lap of each ring is left out of the order)."""

    stages: tuple[tuple[str, ...], ...]
    troubles: tuple[Trouble, ...]

    def stage_of(self, item: str) -> int:
        """Which stage an item is in, from 0."""
        return self._stage_of[item]

    @cached_property
    def _stage_of(self) -> dict[str, int]:
        return {item: n for n, stage in enumerate(self.stages) for item in stage}


def order_of(items: tuple[Item, ...], laps: tuple[Lap, ...]) -> Order:
    """The order of fitting, the same whatever order items and laps come in. Laps that name an item that is not there
    are passed over."""
    known = {item.id: item for item in items}
    held = sorted((lap for lap in laps if lap.over in known and lap.under in known and lap.over != lap.under),
                  key=lambda lap: (lap.over, lap.under, lap.by_hand, lap.why))
    troubles: list[Trouble] = []
    while True:
        sorter = TopologicalSorter({name: [] for name in sorted(known)})
        for lap in held:
            sorter.add(lap.over, lap.under)
        try:
            sorter.prepare()
        except CycleError as trouble:
            ring = _ring(trouble.args[1], held)
            troubles.append(Trouble(tuple(lap.over for lap in ring), ring))
            held.remove(next((lap for lap in ring if lap.by_hand), ring[-1]))  # what was said gives way to the water
        else:
            break
    by_place = [tuple(sorted(stage, key=lambda name: (known[name].kind, known[name].place, _natural(name))))
                for stage in _stages(sorter)]
    return Order(tuple(by_place), tuple(troubles))


def _stages(sorter: TopologicalSorter[str]) -> Iterator[tuple[str, ...]]:
    """What can go on at the same time, first to last."""
    while sorter.is_active():
        ready = sorter.get_ready()
        yield ready
        sorter.done(*ready)


def _ring(round_about: list[str], laps: list[Lap]) -> tuple[Lap, ...]:
    """The laps of a ring of items, each item beneath the next and the first one named again at the end; the lap whose
    upper item is first by name stands first."""
    between = {(lap.under, lap.over): lap for lap in laps}  # said twice, the one by hand counts: it comes last
    ring = [between[pair] for pair in pairwise(round_about)][::-1]
    first = min(range(len(ring)), key=lambda n: ring[n].over)
    return (*ring[first:], *ring[:first])


def _natural(name: str) -> tuple[str, int, str]:
    digits = "".join(c for c in name if c.isdigit())
    return name.rstrip("0123456789")[:1], int(digits or 0), name
