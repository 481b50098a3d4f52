"""What goes on when, with what: laps and the order that follows from them, schedules, water, movement, metals."""

from yattle.install.laps import Item, Lap, Order, Trouble, order_of
from yattle.install.schedule import Need, Packed, needs_of, packed, positions

__all__ = ["Item", "Lap", "Need", "Order", "Packed", "Trouble", "needs_of", "order_of", "packed", "positions"]
