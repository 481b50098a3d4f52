"""A section of one's own, on any run or on none."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from yattle.details.trim import SHARP, Leg, Positive, Sheet, Trim
from yattle.section import Hem


class FreeSection(Trim):
    """Any section: legs and turns from edge A, hems, the first leg's ``heading`` as installed."""

    detail: Literal["free"] = "free"
    name: str = "free section"
    legs: Annotated[tuple[Positive, ...], Field(min_length=1, max_length=41)]
    turns: Annotated[tuple[Annotated[float, Field(gt=-180, lt=180)], ...], Field(max_length=40)] = ()
    hem_a: Hem | None = None
    hem_b: Hem | None = None
    heading: float = 0.0
    datum: Annotated[int, Field(ge=0)] = 1

    def sheet(self) -> Sheet:
        from yattle.errors import InputError

        if len(self.turns) != len(self.legs) - 1:
            raise InputError("turns", f"{len(self.turns)} turns", f"{len(self.legs) - 1}, one between each two legs")
        legs = tuple(Leg(f"leg {n}", f"legs.{n - 1}", length) for n, length in enumerate(self.legs, 1))
        return Sheet(self.name, legs, self.turns, tuple(f"turns.{n}" for n in range(len(self.turns))), self.heading,
                     self.hem_a, self.hem_b, min(self.datum, len(self.legs)), cautions=SHARP)
