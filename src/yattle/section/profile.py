"""``yattle-profile/1``: a cross-section as it is written down.

Words: *legs* are the flat parts from edge A to edge B; a *turn* is how far a fold is
folded away from flat, in degrees, + toward the paint face, − toward the back face; a
*hem* is a doubled-over edge and no leg. All lengths in millimetres.
"""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from yattle.bounds import Density, Name, NotNegative, Positive, Radius, Thickness, Turn
from yattle.errors import InputError
from yattle.values import Value

Side = Literal["paint", "back"]
MOST_LEGS = 100


class KFactor(Value):
    """Arc length ``turn_rad · (r + k·t)``, with inside radius ``r`` and thickness ``t`` in mm; ``k`` is the neutral
    layer's place, 0 at the inside and 1 at the outside face."""

    rule: Literal["k-factor"]
    k: Annotated[float, Field(ge=0, le=1)]


class Din6935(Value):
    """The k-factor of DIN 6935: ``½·min(1, 0.65 + 0.5·log10(r/t))``, and ½ for r/t > 5."""

    rule: Literal["din6935"]


class PlainSum(Value):
    """No allowance: the girth is the sum of legs and hems."""

    rule: Literal["sum"]


class Table(Value):
    """The shop's own deductions, ``[turn, mm]``, interpolated on the turn's size."""

    rule: Literal["table"]
    deductions: Annotated[tuple[tuple[float, Annotated[float, Field(ge=-100, le=100)]], ...],
                          Field(min_length=1, max_length=400)]

    @model_validator(mode="after")
    def _turns_once(self) -> Self:
        turns = [turn for turn, _ in self.deductions]
        if len(set(turns)) != len(turns):
            raise InputError("deductions", "one turn twice", "each turn once")
        if min(turns) < 0 or max(turns) > 180:
            raise InputError("deductions", f"a turn of {min(turns) if min(turns) < 0 else max(turns):g}",
                             "turns from 0 to 180")
        return self


Allowance = Annotated[KFactor | Din6935 | PlainSum | Table, Field(discriminator="rule")]


class MetalSpec(Value):
    """What the fold and the scales need to know of the metal; ``density`` in kg/m³."""

    name: Name = ""
    thickness: Thickness
    inside_radius: Radius
    density: Density
    allowance: Allowance


class Hem(Value):
    """A doubled-over edge; ``length`` from the outermost point of its fold to the raw edge. Lengths in mm."""

    kind: Literal["closed", "open"]
    length: Positive
    toward: Side
    gap: NotNegative | None = None

    @model_validator(mode="after")
    def _gap_fits_kind(self) -> Self:
        if self.kind == "open" and not self.gap:
            raise InputError("gap", "none" if self.gap is None else "0", "a gap above 0 in an open hem")
        if self.kind == "closed" and self.gap:
            raise InputError("gap", f"{self.gap:g}", "no gap in a closed hem")
        return self

    @property
    def radius(self) -> float:
        """Inside radius of the hem's fold: half its gap, 0 when closed. In mm."""
        return (self.gap or 0.0) / 2

    @property
    def turn(self) -> float:
        """Degrees, ±180: + when it folds toward the paint face."""
        return 180.0 if self.toward == "paint" else -180.0


class Profile(Value):
    """A cross-section from edge A to edge B, paint face up when flat. Lengths in mm, turns in degrees, + toward the
    paint face."""

    format: Literal["yattle-profile/1"] = "yattle-profile/1"
    name: Name = ""
    metal: MetalSpec
    measured: Literal["outside", "inside"] = "outside"
    legs: Annotated[tuple[Positive, ...], Field(min_length=1, max_length=MOST_LEGS)]
    turns: Annotated[tuple[Turn, ...], Field(max_length=MOST_LEGS)] = ()
    hem_a: Hem | None = None
    hem_b: Hem | None = None

    @model_validator(mode="after")
    def _a_fold_between_legs(self) -> Self:
        wanted = len(self.legs) - 1
        if len(self.turns) != wanted:
            raise InputError("turns", f"{len(self.turns)} turns", f"{wanted}, one between each two legs")
        return self

    def from_b(self) -> Profile:
        """The same section read from edge B, paint face still up: order reversed, signs kept."""
        return self.but(legs=self.legs[::-1], turns=self.turns[::-1], hem_a=self.hem_b, hem_b=self.hem_a)

    @property
    def strip_lengths(self) -> tuple[float, ...]:
        """Lengths of all flat parts from edge A, hems included, as measured on the folded piece. In mm."""
        first = (self.hem_a.length,) if self.hem_a else ()
        last = (self.hem_b.length,) if self.hem_b else ()
        return (*first, *self.legs, *last)

    @property
    def strip_turns(self) -> tuple[float, ...]:
        """Signed turns of all folds from edge A, hems' ±180 included. In degrees."""
        first = (self.hem_a.turn,) if self.hem_a else ()
        last = (self.hem_b.turn,) if self.hem_b else ()
        return (*first, *self.turns, *last)

    @property
    def fold_ids(self) -> tuple[str, ...]:
        """``hA``, ``f1``, ``f2`` …, ``hB`` in order from edge A."""
        first = ("hA",) if self.hem_a else ()
        last = ("hB",) if self.hem_b else ()
        return (*first, *(f"f{n}" for n in range(1, len(self.turns) + 1)), *last)

    @property
    def strip_names(self) -> tuple[str, ...]:
        """``hA``, ``leg 1`` …, ``hB``: the names of the flat parts in order from edge A."""
        first = ("hA",) if self.hem_a else ()
        last = ("hB",) if self.hem_b else ()
        return (*first, *(f"leg {n}" for n in range(1, len(self.legs) + 1)), *last)
