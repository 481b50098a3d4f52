"""The cross-section of a piece: legs, folds and hems; its girth, marks and folded shape."""

from yattle.section.fold import folded_points, headings, mould_flats
from yattle.section.girth import Bend, Girth, GirthRefused, girth_of
from yattle.section.profile import Allowance, Hem, MetalSpec, Profile

__all__ = ["Allowance", "Bend", "Girth", "GirthRefused", "Hem", "MetalSpec", "Profile", "folded_points",
           "girth_of", "headings", "mould_flats"]
