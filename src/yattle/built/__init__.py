"""The roof put together: every piece at its place in the roof's coordinates."""

from yattle.built.answer import FITS, Built, put_together
from yattle.built.placed import PlacedPiece, places_of

__all__ = ["FITS", "Built", "PlacedPiece", "places_of", "put_together"]
