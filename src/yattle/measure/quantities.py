"""What is said besides lengths: small movements, areas, water, sealant. Each is a number of its metric unit that knows
how to say itself in a job's unit, so that a text that holds some need not know which units there are."""

from __future__ import annotations

from typing import ClassVar

from yattle.measure.lengths import MM_PER_INCH
from yattle.measure.say import Unit, say_length

_INCH, _FT2, _IN2 = 1 / MM_PER_INCH, 10.7639104, 0.15500031  # in a mm, a m², a cm²
_GALLON, _OUNCE = 15.850323, 1 / 29.5735296  # a minute in a l/s; in a ml


class Quantity(float):
    """A number of a metric unit. ``metric`` and ``inch``: by what it is multiplied for those who count so, and how that
    is written."""

    metric: ClassVar[tuple[float, str]]
    inch: ClassVar[tuple[float, str]]

    def say(self, unit: Unit) -> str:
        """It in the words of a job's unit."""
        by, written = self.inch if unit.parts else self.metric
        return written.format(self * by)


class Fine(Quantity):
    """A length in mm that no tape's parts would show: a movement, a gap, what something is off."""

    metric, inch = (1.0, "{:.1f} mm"), (_INCH, '{:.3f}"')


class Closest(Quantity):
    """A length in mm as a proof has it."""

    metric, inch = (1.0, "{:.2f} mm"), (_INCH, '{:.4f}"')


class Whole(float):
    """A length in mm of which no part of a mm matters."""

    def say(self, unit: Unit) -> str:
        """In whole mm, or inches."""
        return say_length(self, unit, 0, mark=True)


class Area(Quantity):
    """Of a roof or of metal, m²."""

    metric, inch = (1.0, "{:.1f} m²"), (_FT2, "{:.0f} ft²")


class SheetArea(Quantity):
    """Of a sheet's part, m²: waste, an offcut."""

    metric, inch = (1.0, "{:.2f} m²"), (_FT2, "{:.1f} ft²")


class VentArea(Quantity):
    """An opening for air, cm²."""

    metric, inch = (1.0, "{:.0f} cm²"), (_IN2, "{:.0f} in²")


class Flow(Quantity):
    """Water, litres a second; gallons a minute."""

    metric, inch = (1.0, "{:.2f} l/s"), (_GALLON, "{:.1f} gal/min")


class Rain(Quantity):
    """Rain, mm an hour."""

    metric, inch = (1.0, "{:g} mm/h"), (_INCH, "{:.1f} in/h")


class Volume(Quantity):
    """Sealant, ml; fluid ounces."""

    metric, inch = (1.0, "{:.0f} ml"), (_OUNCE, "{:.1f} fl oz")


def say_quantity(value: float, unit: Unit) -> str:
    """A quantity in a job's unit; a plain number is a length in mm, said as on a tape."""
    said = getattr(value, "say", None)
    return str(said(unit)) if said is not None else say_length(value, unit, mark=True)
