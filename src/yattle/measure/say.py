"""Printing lengths: millimetres with one decimal, or inches at 1/8, 1/16 or 1/32.

Marks are rounded from the edge, each on its own, never chained, so that a rounding
is not added to the next; :func:`tape_mark` also gives what the rounding took.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from fractions import Fraction

from yattle.measure.lengths import MM_PER_INCH

_FEET_FROM_INCHES = 36
NARROW = "\u00a0"  # between thousands; never breaks a line
_NUMBER = r"([-\u2212]?\d+(?:\u00a0\d{3})*(?:\.\d+)?)"
_MM = re.compile(rf"(?<![\w.'\"]){_NUMBER}(?:( to | and | × ){_NUMBER})? ?mm\b(?!/)")  # what was typed stands in quotes


@dataclass(frozen=True)
class Unit:
    """How lengths are printed. ``parts`` is the tape's fraction of an inch, 0 for millimetres."""

    name: str
    title: str
    parts: int
    typed: str

    @property
    def step(self) -> float:
        """The finest printed step in mm."""
        return MM_PER_INCH / self.parts if self.parts else 0.1

    @property
    def tape_step(self) -> float:
        """The step a mark is set out to, in mm: half a millimetre, or the inch fraction."""
        return MM_PER_INCH / self.parts if self.parts else 0.5


UNITS: dict[str, Unit] = {
    unit.name: unit
    for unit in (
        Unit("mm", "mm", 0, "mm"),
        Unit("in8", "in 1/8", 8, "in"),
        Unit("in16", "in 1/16", 16, "in"),
        Unit("in32", "in 1/32", 32, "in"),
    )
}


def say_length(mm: float, unit: Unit = UNITS["mm"], places: int = 1, mark: bool = False) -> str:
    r"""``mm`` in words; ``mark`` adds the unit's sign.

    >>> say_length(2520.04), say_length(95.25, UNITS["in16"]), say_length(371.475, UNITS["in8"], mark=True)
    ('2\xa0520.0', '3 3/4', '14 5/8"')
    >>> say_length(3000, places=0), say_length(3657.6, UNITS["in16"])
    ('3\xa0000', "12'")
    >>> print(say_length(4 * 304.8 + 25.4 / 16, UNITS["in16"]), say_length(1001.7, UNITS["in16"]))
    4' 0 1/16" 3' 3 7/16"
    """
    if unit.parts:
        return _say_inches(mm, unit.parts, mark)
    number = f"{mm + 0.0:,.{places}f}".replace(",", NARROW)
    if number.strip("-0.") == "":
        number = number.lstrip("-")
    return number + (" mm" if mark else "")


def say_thickness(mm: float, unit: Unit = UNITS["mm"], mark: bool = False) -> str:
    """A sheet's thickness: hundredths of a mm, or an inch in decimals; never rounded to a tape's parts.

    >>> say_thickness(0.6), say_thickness(0.6, UNITS["in16"], mark=True)
    ('0.60', '0.0236"')
    """
    if unit.parts:
        return f"{mm / MM_PER_INCH:.4f}" + ('"' if mark else "")
    return f"{mm:.2f}" + (" mm" if mark else "")


def _say_inches(mm: float, parts: int, mark: bool) -> str:
    total = Fraction(round(abs(mm) / MM_PER_INCH * parts), parts)
    sign = "-" if mm < 0 and total else ""
    feet, inches = divmod(total, 12) if total >= _FEET_FROM_INCHES else (0, total)
    said = _mixed(inches)
    if feet:  # never without whole inches: 4' 1/16 looks like a division
        tail = f' {"0 " if inches < 1 else ""}{said}"' if inches else ""
        return f"{sign}{feet}'{tail}"
    return sign + said + ('"' if mark else "")


def _mixed(inches: Fraction) -> str:
    whole, part = divmod(inches, 1)
    if not part:
        return str(whole)
    fraction = f"{part.numerator}/{part.denominator}"
    return f"{whole} {fraction}" if whole else fraction


def in_unit(sentence: str, unit: Unit) -> str:
    """A sentence whose lengths are in mm, with them in the ``unit`` of the one who reads it; what is less than two
    parts of an inch in decimals.

    >>> print(in_unit("leg 2: 5.0 mm is too short; 14 mm is needed, 30 mm/h falls", UNITS["in16"]))
    leg 2: 3/16" is too short; 9/16" is needed, 30 mm/h falls
    >>> in_unit("R2-1 goes 1.6 mm through V1-1", UNITS["in8"])
    'R2-1 goes 0.063" through V1-1'
    >>> print(in_unit("found '5 mm', expected 25.4 to 1219.2 mm", UNITS["in16"]))
    found '5 mm', expected 1" to 4'
    """
    if not unit.parts:
        return sentence

    def said(number: str) -> str:
        mm = float(number.replace("\u2212", "-").replace(NARROW, ""))
        fine = abs(mm) < 2 * MM_PER_INCH / unit.parts and mm != 0.0
        return f'{mm / MM_PER_INCH:.3f}"' if fine else say_length(mm, unit, mark=True)
    return _MM.sub(lambda met: said(met[1]) + (met[2] + said(met[3]) if met[3] else ""), sentence)


def tape_mark(mm: float, unit: Unit) -> tuple[float, float]:
    """A mark rounded to what can be set out on a tape, and what the rounding added (both mm).

    >>> tape_mark(84.53, UNITS["mm"])
    (84.5, -0.03)
    """
    rounded = round(mm / unit.tape_step) * unit.tape_step
    return rounded, round(rounded - mm, 9)


def inch_twin(mm: float) -> float:
    """The length in mm that those who count in inches would take in the place of a round metric one: eighths under an
    inch, quarters under six, halves under a foot, whole inches over it.

    >>> [round(inch_twin(mm) / 25.4, 6) for mm in (12, 20, 60, 150, 180, 250, 700)]
    [0.5, 0.75, 2.25, 6.0, 7.0, 10.0, 28.0]
    """
    inches = mm / MM_PER_INCH
    parts = next(parts for least, parts in ((12.0, 1), (5.95, 2), (1.0, 4), (0.0, 8)) if abs(inches) >= least)
    return round(inches * parts) / parts * MM_PER_INCH
