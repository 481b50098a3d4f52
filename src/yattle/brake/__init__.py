"""The brake: machines, and the order of folds with the least handling."""

from yattle.brake.machine import SHOP_BRAKE, Brake, FoldJob
from yattle.brake.order import FoldOrder, Refusal, Step, best_order

__all__ = ["SHOP_BRAKE", "Brake", "FoldJob", "FoldOrder", "Refusal", "Step", "best_order"]
