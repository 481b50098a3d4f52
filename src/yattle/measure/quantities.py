"""What is said besides lengths: small movements, areas, water, sealant. Each is a number of its metric unit that knows
how to say itself in a job's unit, so that a text that holds some need not know which units there are."""

from __future__ import annotations

from yattle.measure.lengths import MM_PER_INCH
from yattle.measure.say import Unit, say_length

_FT2, _GALLON, _OUNCE, _IN2 = 10.7639104, 15.850323, 29.5735296, 0.15500031  # of m², l/s (a minute), ml, cm²


class Fine(float):
    """A length in mm that no tape's parts would show: a movement, a gap, what something is off."""

    def say(self, unit: Unit) -> str:
        """With one decimal of a mm, or three of an inch."""
        return f'{self / MM_PER_INCH:.3f}"' if unit.parts else f"{self:.1f} mm"


class Whole(float):
    """A length in mm of which no part of a mm matters."""

    def say(self, unit: Unit) -> str:
        """In whole mm, or inches."""
        return say_length(self, unit, 0, mark=True)


class Closest(Fine):
    """A length in mm as a proof has it."""

    def say(self, unit: Unit) -> str:
        """With two decimals of a mm, or four of an inch."""
        return f'{self / MM_PER_INCH:.4f}"' if unit.parts else f"{self:.2f} mm"


class Area(float):
    """Of m²."""

    def say(self, unit: Unit) -> str:
        """In m² or square feet."""
        return f"{self * _FT2:.0f} ft²" if unit.parts else f"{self:.1f} m²"


class VentArea(float):
    """An opening of cm²."""

    def say(self, unit: Unit) -> str:
        """In cm² or square inches."""
        return f"{self * _IN2:.0f} in²" if unit.parts else f"{self:.0f} cm²"


class Flow(float):
    """Water, litres a second."""

    def say(self, unit: Unit) -> str:
        """In litres a second or gallons a minute."""
        return f"{self * _GALLON:.1f} gal/min" if unit.parts else f"{self:.2f} l/s"


class Rain(float):
    """Rain, mm an hour."""

    def say(self, unit: Unit) -> str:
        """In mm or inches an hour."""
        return f"{self / MM_PER_INCH:.1f} in/h" if unit.parts else f"{self:g} mm/h"


class Volume(float):
    """Of ml: sealant."""

    def say(self, unit: Unit) -> str:
        """In ml or fluid ounces."""
        return f"{self / _OUNCE:.1f} fl oz" if unit.parts else f"{self:.0f} ml"


def say_quantity(value: float, unit: Unit) -> str:
    """A quantity in a job's unit; a plain number is a length in mm, said as on a tape."""
    said = getattr(value, "say", None)
    return str(said(unit)) if said is not None else say_length(value, unit, mark=True)
