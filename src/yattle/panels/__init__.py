"""Panel systems as data: the profile of a module, its rules and fixings; what is derived from the profile alone."""

from yattle.panels.library import find, library
from yattle.panels.profile import ModuleFigures, PanelFlat, Rib, derive_profile
from yattle.panels.system import PanelSystem

__all__ = ["ModuleFigures", "PanelFlat", "PanelSystem", "Rib", "derive_profile", "find", "library"]
