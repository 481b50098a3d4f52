"""What a number can be at all, wherever it is read: beyond it, it is a slip of the finger or of a unit.

Lengths are in mm, angles in degrees. A size is at least a thousandth of a millimetre, since a smaller one means nothing
in sheet, and at most a kilometre.
"""

from __future__ import annotations

from typing import Annotated

from pydantic import AfterValidator, Field

from yattle.errors import InputError

LEAST, MOST = 0.001, 1e6
_WIDEST = 1e4


def _something(value: float) -> float:
    if 0 < abs(value) < LEAST:
        raise InputError("", f"{value:g}", f"0, or at least {LEAST:g}")
    return value or 0.0  # −0 is 0


Positive = Annotated[float, Field(ge=LEAST, le=MOST)]
"""A length, price or weight above 0."""
NotNegative = Annotated[float, Field(ge=0, le=MOST), AfterValidator(_something)]
"""The same, or nothing."""
Place = Annotated[float, Field(ge=-MOST, le=MOST)]
"""A coordinate or a difference."""
Measured = Annotated[float, Field(ge=-MOST, le=MOST), AfterValidator(_something)]
"""What somebody measured, signed."""
PlacePair = tuple[Place, Place]
Ring = Annotated[tuple[PlacePair, ...], Field(max_length=5000)]
"""An outline: its corners."""
Size = Annotated[float, Field(ge=0.1, le=20_000)]
"""A measure of one piece of sheet: a leg, a flange, a height."""
SizeOrNone = Annotated[float, Field(ge=0, le=20_000), AfterValidator(_something)]
"""The same, or nothing of it."""
Lap = Annotated[float, Field(ge=0.1, le=2000)]
"""How far one piece lies over another."""
LapOrNone = Annotated[float, Field(ge=0, le=2000), AfterValidator(_something)]
Past = Annotated[float, Field(ge=0, le=2000)]
"""How far panels go on past an edge, along a trim that follows them."""
RunLength = Annotated[float, Field(ge=LEAST, le=200_000)]
"""The length of an edge, as surveyed or taped."""
Width = Annotated[float, Field(ge=LEAST, le=_WIDEST)]
"""Across a coil, sheet or machine."""
Thickness = Annotated[float, Field(ge=0.05, le=20)]
"""Of sheet."""
Radius = Annotated[float, Field(ge=0, le=100), AfterValidator(_something)]
"""Inside a fold."""
Density = Annotated[float, Field(ge=100, le=30_000)]
"""kg/m³."""
Temperature = Annotated[float, Field(ge=-100, le=200)]
"""°C."""
Turn = Annotated[float, Field(gt=-180, lt=180)]
"""Of a fold, signed."""
Steep = Annotated[float, Field(ge=-90, le=90)]
"""How something rises from level, down below 0, degrees."""
Opened = Annotated[float, Field(ge=0.01, lt=180)]
"""An angle that is there at all, under a half turn."""
Bearing = Annotated[float, Field(ge=-3600, le=3600)]
Count = Annotated[int, Field(ge=1, le=1_000_000)]
Name = Annotated[str, Field(max_length=200)]
"""A text that may be empty."""
Id = Annotated[str, Field(min_length=1, max_length=80)]
