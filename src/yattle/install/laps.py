"""Who laps over whom, and the order of fitting that follows: what lies beneath goes on first.

An *item* is what is fitted in one go: a run's trim, the panels of a face, a chimney's flashing. A *lap* says that one
item lies over another. A *stage* holds items that can go on at the same time; there are as few stages as can be, since
each item goes into the earliest one that its laps allow.
"""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass


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
        return next(n for n, stage in enumerate(self.stages) if item in stage)


def order_of(items: tuple[Item, ...], laps: tuple[Lap, ...]) -> Order:
    """The order of fitting. Laps that name an item that is not there are passed over."""
    known = {item.id: item for item in items}
    held = [lap for lap in laps if lap.over in known and lap.under in known and lap.over != lap.under]
    troubles: list[Trouble] = []
    while True:
        stages, rest = _stages(list(known), held)
        if not rest:
            break
        ring = _ring(rest, held)
        troubles.append(Trouble(tuple(lap.over for lap in ring), tuple(ring)))
        held.remove(next((lap for lap in ring if lap.by_hand), ring[-1]))  # what somebody said gives way to the water
    by_place = [tuple(sorted(stage, key=lambda name: (known[name].kind, known[name].place, _natural(name))))
                for stage in stages]
    return Order(tuple(by_place), tuple(troubles))


def _stages(items: list[str], laps: list[Lap]) -> tuple[list[list[str]], set[str]]:
    """Items by stage, and those that never come free."""
    waits = dict.fromkeys(items, 0)
    above: dict[str, list[str]] = defaultdict(list)
    for lap in laps:
        waits[lap.over] += 1
        above[lap.under].append(lap.over)
    ready, stages = [name for name in items if not waits[name]], []
    done: set[str] = set()
    while ready:
        stages.append(ready)
        done.update(ready)
        free: list[str] = []
        for name in ready:
            for over in above[name]:
                waits[over] -= 1
                if not waits[over]:
                    free.append(over)
        ready = free
    return stages, set(items) - done


def _ring(stuck: set[str], laps: list[Lap]) -> list[Lap]:
    """A ring of laps among items that wait for each other; the shortest from some item."""
    beneath: dict[str, list[Lap]] = defaultdict(list)
    for lap in laps:
        if lap.over in stuck and lap.under in stuck:
            beneath[lap.over].append(lap)
    here = next(name for name in sorted(stuck) if beneath[name])
    way: list[Lap] = []
    seen: dict[str, int] = {}
    while here not in seen:  # what waits always waits for something that waits too, down to a ring
        seen[here] = len(way)
        lap = next(one for one in beneath[here] if beneath[one.under] or one.under in seen)
        way.append(lap)
        here = lap.under
    return way[seen[here]:]


def _natural(name: str) -> tuple[str, int, str]:
    digits = "".join(c for c in name if c.isdigit())
    return name.rstrip("0123456789")[:1], int(digits or 0), name
