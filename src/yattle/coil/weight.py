"""Kilograms per square metre of a metal named ``NAME THICKNESS`` as the library names it."""

from __future__ import annotations

from yattle.errors import InputError
from yattle.metal import library


def kg_per_m2(metal: str) -> float:
    """Weight of a sheet by its name, such as ``prepainted steel 0.60`` (kg/m²)."""
    name, _, gauge = metal.rpartition(" ")
    for known in library().metals:
        if known.name == name:
            try:
                return known.density * float(gauge) / 1000
            except ValueError:
                break
    raise InputError("rules.max_piece_kg", f"a metal of unknown weight, {metal!r}",
                     "metals of the library with their thickness, such as 'prepainted steel 0.60'")
