"""The flashing details: from the roof's measures to sections, ends and pieces."""

from yattle.details.all import FAMILIES, Family, families_for
from yattle.details.common import DetailPiece, DetailResult, Finding, Surrounding
from yattle.details.develop import develop
from yattle.details.eave_drip import EaveDrip
from yattle.details.standard import ENTRIES, Entry, Own, Standard, standard_for
from yattle.details.trim import Trim

__all__ = ["ENTRIES", "FAMILIES", "DetailPiece", "DetailResult", "EaveDrip", "Entry", "Family", "Finding", "Own",
           "Standard", "Surrounding", "Trim", "develop", "families_for", "standard_for"]
