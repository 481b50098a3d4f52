"""How papers say numbers: rows of them, and what rounding to the tape takes."""

from __future__ import annotations

import re
from collections.abc import Sequence

from yattle.measure import Fine, Unit, say_length

_TOLD = 0.4  # mm: what rounding moves a point by before it is told


def in_rows(numbers: Sequence[int]) -> str:
    """Rising numbers with rows of three and more drawn together.

    >>> in_rows([1, 3, 4, 5, 6, 9])
    '1, 3 to 6, 9'
    """
    rows: list[list[int]] = []
    for number in numbers:
        if rows and number == rows[-1][-1] + 1:
            rows[-1].append(number)
        else:
            rows.append([number])
    return ", ".join(f"{row[0]} to {row[-1]}" if len(row) > 2 else ", ".join(map(str, row)) for row in rows)


def natural(name: str) -> list[str | int]:
    """By which names are sorted as people do.

    >>> sorted(["E10", "E2", "E2-10", "E2-9"], key=natural)
    ['E2', 'E2-9', 'E2-10', 'E10']
    """
    return [int(part) if part.isdigit() else part for part in re.split(r"(\d+)", name)]


def rounding_says(places: Sequence[float], unit: Unit) -> str:
    """That places (mm from a datum) are rounded to the tape's step, where that moves one by more than 0.4 mm; empty
    where it does not."""
    off = max((abs(round(mm / unit.step) * unit.step - mm) for mm in places), default=0.0)
    if off <= _TOLD:
        return ""
    return f"; rounded from the edge to {say_length(unit.step, unit, mark=True)}, at most {Fine(off).say(unit)} off"
