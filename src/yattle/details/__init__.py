"""The flashing details: from the roof's measures to sections, ends and pieces."""

from yattle.details.common import DetailPiece, DetailResult, Finding, Surrounding
from yattle.details.eave_drip import EaveDrip, develop_eave_drip
from yattle.details.standard import ENTRIES, Entry, Own, Standard, standard_for

__all__ = ["ENTRIES", "DetailPiece", "DetailResult", "EaveDrip", "Entry", "Finding", "Own", "Standard",
           "Surrounding", "develop_eave_drip", "standard_for"]
