"""Panel systems as data: the profile of a module, its rules and fixings; what is derived from the profile alone."""

from yattle.panels.library import find, library
from yattle.panels.profile import Derived, Flat, Rib, derive_profile
from yattle.panels.system import PanelSystem

__all__ = ["Derived", "Flat", "PanelSystem", "Rib", "derive_profile", "find", "library"]
