"""The brake: machines, the moving section, and the order of folds with the least handling."""

from yattle.brake.library import LIBRARY
from yattle.brake.machine import SHOP_BRAKE, Brake, FoldJob
from yattle.brake.order import FoldOrder, Refusal, Step, Suggestion, best_order

__all__ = ["LIBRARY", "SHOP_BRAKE", "Brake", "FoldJob", "FoldOrder", "Refusal", "Step", "Suggestion", "best_order"]
