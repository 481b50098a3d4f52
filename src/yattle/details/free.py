"""A section of one's own, on any run or on none."""

from __future__ import annotations

import cmath
import math
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from yattle.bounds import Bearing, Size, Turn
from yattle.details.common import Roles
from yattle.details.trim import SHARP, Leg, Normal, Trim, TrimSection
from yattle.errors import InputError
from yattle.section import Hem
from yattle.values import Value

MOST_SECTION_LEGS = 41


class Shape(Value):
    """A section by itself, as the user's library keeps it: legs and turns from edge A, hems, and how its first leg
    lies, degrees from level."""

    format: Literal["yattle-section/1"] = "yattle-section/1"
    name: Annotated[str, Field(min_length=1)] = "own section"
    legs: Annotated[tuple[Size, ...], Field(min_length=1, max_length=MOST_SECTION_LEGS)] = (60.0, 80.0)
    turns: Annotated[tuple[Turn, ...], Field(max_length=MOST_SECTION_LEGS - 1)] = (-90.0,)
    hem_a: Hem | None = None
    hem_b: Hem | None = None
    heading: Bearing = 0.0

    @model_validator(mode="after")
    def _turn_between_each_two_legs(self) -> Self:
        if len(self.turns) != len(self.legs) - 1:
            raise InputError("turns", f"{len(self.turns)} turns", f"{len(self.legs) - 1}, one between each two legs")
        return self


class Mitre(Value):
    """How a run goes on beyond its end: turned by ``angle`` degrees, in plan (+ away, as round an outer corner) or in
    elevation (+ upward)."""

    way: Literal["plan", "elevation"]
    angle: Annotated[float, Field(gt=-170, lt=170)]

    def normal(self, side: Literal["left", "right"]) -> Normal:
        """The plane that halves the corner, (along from left to right, out, up)."""
        half = math.radians(self.angle / 2)
        aside = math.sin(half) if side == "left" else -math.sin(half)
        return (math.cos(half), aside, 0.0) if self.way == "plan" else (math.cos(half), 0.0, -aside)


def crossed(legs: tuple[float, ...], turns: tuple[float, ...]) -> tuple[int, int] | None:
    """The first two legs, counted from 1, that run through each other when folded; ``None`` where none do. Legs in mm,
    turns in degrees.

    >>> crossed((60.0, 40.0, 30.0, 80.0), (-90.0, -90.0, -90.0))
    (1, 4)
    >>> crossed((60.0, 40.0, 30.0), (-90.0, -90.0)) is None
    True
    """
    at, heading, points = 0j, 0.0, [0j]
    for n, leg in enumerate(legs):
        at += cmath.rect(leg, heading)
        points.append(at)
        heading += math.radians(turns[n]) if n < len(turns) else 0.0

    def beside(a: complex, b: complex, p: complex) -> float:
        return ((b - a).conjugate() * (p - a)).imag
    for i in range(len(legs)):
        for j in range(i + 2, len(legs)):
            a, b, c, d = points[i], points[i + 1], points[j], points[j + 1]
            if beside(a, b, c) * beside(a, b, d) < -1e-9 and beside(c, d, a) * beside(c, d, b) < -1e-9:
                return i + 1, j + 1
    return None


class FreeSection(Trim):
    """Any section: legs and turns from edge A, hems, the first leg's ``heading`` as installed. Lengths in mm, angles
    in degrees."""

    detail: Literal["free"] = "free"
    name: str = "free section"
    legs: Annotated[tuple[Size, ...], Field(min_length=1, max_length=MOST_SECTION_LEGS)]
    turns: Annotated[tuple[Turn, ...], Field(max_length=MOST_SECTION_LEGS - 1)] = ()
    hem_a: Hem | None = None
    hem_b: Hem | None = None
    heading: Bearing = 0.0
    datum: Annotated[int, Field(ge=0, le=100)] = 1

    def sheet(self) -> TrimSection:
        """Its legs may do anything, so it can have every end: the middle leg hangs, the first stands up a wall. Raises
        :class:`InputError` where there is not one turn between every two legs, or the section crosses itself."""
        if len(self.turns) != len(self.legs) - 1:
            raise InputError("turns", f"{len(self.turns)} turns", f"{len(self.legs) - 1}, one between each two legs")
        crossing = crossed(self.legs, self.turns)
        if crossing is not None:
            raise InputError("legs", f"a section that crosses itself (leg {crossing[0]} and leg {crossing[1]})",
                             "legs and turns that keep apart")
        last = len(self.legs)
        legs = tuple(Leg(f"leg {n}", f"legs.{n - 1}", length) for n, length in enumerate(self.legs, 1))
        roles = Roles(face=min(1, last - 1), wings=tuple({0, last - 1}), water=(last - 1,), wall=0)
        return TrimSection(self.name, legs, self.turns, tuple(f"turns.{n}" for n in range(len(self.turns))),
                           self.heading,
                           self.hem_a, self.hem_b, min(self.datum, last), roles=roles, cautions=SHARP)
