"""The brake: machines, the moving section, and the order of folds with the least handling."""

from yattle.brake.best import best_order
from yattle.brake.library import LIBRARY
from yattle.brake.machine import SHOP_BRAKE, Brake, FoldJob
from yattle.brake.order import FoldOrder, Refusal, Step, Suggestion, plain_order
from yattle.brake.suggest import suggestions
from yattle.brake.trial import Trial, natural_order, try_order

__all__ = ["LIBRARY", "SHOP_BRAKE", "Brake", "FoldJob", "FoldOrder", "Refusal", "Step", "Suggestion", "Trial",
           "best_order", "natural_order", "plain_order", "suggestions", "try_order"]
