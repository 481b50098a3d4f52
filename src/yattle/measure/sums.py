"""A number that can say where it comes from."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Term:
    """One part of a sum: what it is, and how many mm (or other units) it adds."""

    what: str
    amount: float


@dataclass(frozen=True)
class Sum:
    """A number with the terms it was added up from, in order; the value is their sum.

    >>> Sum("blank", (Term("run share", 2434.0), Term("lap", 52.0))).value
    2486.0
    """

    what: str
    terms: tuple[Term, ...]

    @property
    def value(self) -> float:
        """The result, in the unit of its terms (mm or degrees)."""
        return sum(term.amount for term in self.terms)
