"""What a face's panels lie on: a deck, or supports at places up the slope; an old roof left beneath."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from yattle.errors import InputError
from yattle.values import Value


class Structure(Value):
    """Lengths in mm.

    ``kind``: a ``deck`` that bears everywhere, or ``supports`` (battens, purlins), ``spacing`` apart up the slope, the
        middle of the first ``offset`` up from the eave's edge
    ``thickness``: of the deck, or how high the supports stand
    ``underlay``: between that and the panels
    ``old_roof``: how thick an old roof is that is left beneath, 0: there is none
    """

    kind: Literal["deck", "supports"] = "deck"
    spacing: Annotated[float, Field(ge=0, le=5000)] = 0.0
    offset: Annotated[float, Field(ge=0, le=5000)] = 0.0
    thickness: Annotated[float, Field(ge=5, le=500)] = 22.0
    underlay: Annotated[float, Field(ge=0, le=100)] = 2.0
    old_roof: Annotated[float, Field(ge=0, le=200)] = 0.0

    @model_validator(mode="after")
    def _bears(self) -> Self:
        if self.kind == "supports" and self.spacing < 50:
            raise InputError("spacing", f"{self.spacing:g} mm", "50 mm or more from one support to the next")
        return self

    def supports(self, height: float) -> tuple[float, ...]:
        """How far up a face of ``height`` the middles of its supports lie, mm; none of a deck."""
        if self.kind == "deck":
            return ()
        many = int((height - self.offset) / self.spacing + 1e-9) + 1
        return tuple(self.offset + n * self.spacing for n in range(max(many, 0)))
