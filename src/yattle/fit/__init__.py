"""What goes on when, with what: laps and the order that follows from them, schedules, movement, metals, scatter."""

from yattle.fit.laps import Item, Lap, Order, Trouble, order_of
from yattle.fit.rules import FitRules
from yattle.fit.schedule import Need, Packed, needs_of, packed, positions

__all__ = ["FitRules", "Item", "Lap", "Need", "Order", "Packed", "Trouble", "needs_of", "order_of", "packed",
           "positions"]
