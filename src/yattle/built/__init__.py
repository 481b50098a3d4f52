"""The roof put together: every piece at its place in the roof's coordinates."""

from yattle.built.answer import FITS, built_answer
from yattle.built.placed import PlacedPiece, places_of

__all__ = ["FITS", "PlacedPiece", "built_answer", "places_of"]
