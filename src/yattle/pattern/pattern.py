"""``yattle-pattern/1``: a flat piece, paint face up.

The outline runs anticlockwise without repeating its first point, holes clockwise; fold
lines lie in the middle of their arcs and end on the outline or on another fold.
All in millimetres and degrees.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from yattle.section.profile import MetalSpec
from yattle.values import Value

Point = tuple[float, float]
SCREW = "screw"
"""What stands at a mark that is the place of a screw: a point, its edge distance inside the outline."""


class PatternFold(Value):
    """One fold line; ``turn`` signed as in a profile, ``deduction`` what folding it up gives back. ``turn`` in
    degrees, all lengths in mm."""

    id: str
    a: Point
    b: Point
    turn: Annotated[float, Field(ge=-180, le=180)]
    deduction: float
    kind: Literal["fold", "hem", "roll"] = "fold"
    by: Literal["brake", "tongs"] = "brake"


class Mark(Value):
    """A line or a place to be marked on the sheet, with what is written there. Places in mm."""

    a: Point
    b: Point
    text: str


class Pattern(Value):
    """One flat piece as it is cut: its outline anticlockwise, holes, folds, marks and metal. Lengths in mm, turns in
    degrees, the paint face up."""

    format: Literal["yattle-pattern/1"] = "yattle-pattern/1"
    id: str
    name: str
    qty: Annotated[int, Field(ge=1)] = 1
    metal: MetalSpec
    outline: Annotated[tuple[Point, ...], Field(min_length=3)]
    holes: tuple[tuple[Point, ...], ...] = ()
    folds: tuple[PatternFold, ...] = ()
    marks: tuple[Mark, ...] = ()
    girth: float
    length: float

    @property
    def area(self) -> float:
        """Square millimetres of sheet, holes taken out."""
        return signed_area(self.outline) + sum(signed_area(hole) for hole in self.holes)

    @property
    def box(self) -> tuple[float, float, float, float]:
        """Least x, least y, greatest x, greatest y of the outline. In mm."""
        xs, ys = zip(*self.outline, strict=True)
        return min(xs), min(ys), max(xs), max(ys)


def signed_area(ring: tuple[Point, ...]) -> float:
    """Area inside a ring in mm², positive when it runs anticlockwise.

    >>> signed_area(((0, 0), (2, 0), (2, 3)))
    3.0
    """
    after = (*ring[1:], ring[0])
    return sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(ring, after, strict=True)) / 2
