"""What goes on the roof, who lies over whom and the order that follows: as much as the roof put together asks for."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property, lru_cache

from yattle.derive.derived import Derived
from yattle.install.items import items_of
from yattle.install.laps import Item, Lap, Order, order_of
from yattle.install.roof_laps import laps_on


@dataclass(frozen=True)
class FittingOrder:
    """``items``: what goes on; ``laps``: who lies over whom; ``order``: what follows from that, in stages (no mm)."""

    items: tuple[Item, ...]
    laps: tuple[Lap, ...]
    order: Order

    def beneath(self, item_id: str) -> tuple[str, ...]:
        """What an item laps over, by their ids."""
        return self._lies_on.get(item_id, ())

    def item(self, item_id: str) -> Item:
        """The item of that id (it must exist)."""
        return self._by_id[item_id]

    @cached_property
    def _by_id(self) -> dict[str, Item]:
        return {item.id: item for item in self.items}

    @cached_property
    def _lies_on(self) -> dict[str, tuple[str, ...]]:
        found: dict[str, dict[str, None]] = {}
        for lap in self.laps:
            found.setdefault(lap.over, {})[lap.under] = None
        return {item: tuple(under) for item, under in found.items()}


@lru_cache(maxsize=4)
def fitting(derived: Derived) -> FittingOrder:
    """What of a job goes on in which order."""
    items = tuple(items_of(derived))
    said = (Lap(note.over, note.under, "said by hand", True) for note in derived.job.laps)
    laps = (*dict.fromkeys(laps_on(derived)), *said)
    return FittingOrder(items, laps, order_of(items, laps))
