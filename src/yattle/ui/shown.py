"""A number as a slate shows it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from yattle.measure import Sum


@dataclass(frozen=True)
class Shown:
    """What a row shows: the number, a note beside it, the sum it comes from (and how to say its terms)."""

    text: str
    note: str = ""
    sum: Sum | None = None
    say: Callable[[float], str] = str
