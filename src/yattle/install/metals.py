"""Metals that eat each other, side by side or by the water that runs from one onto the other.

After the galvanic series in sea water (usual in any handbook of corrosion): of two that touch where it is wet the less
noble one goes. Warnings with the reason, never a verdict.
"""

from __future__ import annotations

NOBLE = {"zinc": 0, "galvanised": 0, "aluminium": 1, "steel": 2, "stainless": 4, "copper": 5}
"""How noble, the least first."""

_SCREWS = {"coated steel": "galvanised", "stainless": "stainless", "aluminium": "aluminium", "copper": "copper"}


def quarrel(sheet: str, screw: str, what: str = "screws") -> str | None:
    """Why screws (or ``what`` else: rivets, clips) of a metal should not hold a sheet of the family ``sheet``;
    ``None``: nothing against them."""
    family, held = _SCREWS[screw], "galvanised" if sheet == "steel" else sheet
    if family == held or (family == "stainless" and held != "copper"):
        return None
    if held == "copper" and family == "stainless":
        return None
    if NOBLE[family] < NOBLE[held]:
        return f"{screw} {what} in {sheet} go first: they are less noble, small, and wet all round"
    if NOBLE[family] - NOBLE[held] >= 2:
        return f"{screw} {what} eat the {sheet} where they touch it"
    return None


def drains_onto(sheet: str, below: str) -> str | None:
    """Why water from this roof should not run onto what lies ``below``; ``None``: nothing against it."""
    if sheet == "copper" and below in ("zinc", "aluminium", "galvanised steel"):
        return f"water from this copper carries copper onto {below} and eats it from above: lead it away in a gutter"
    return None


def run_off(sheet: str, drains_from: str) -> str | None:
    """Why water from the roof above should not run onto a sheet; ``None``: nothing against it."""
    if drains_from == "copper" and sheet in ("zinc", "aluminium", "steel"):
        return f"water from copper carries copper onto {sheet} and eats it from above: lead it away in a gutter"
    if drains_from == "bare steel" and sheet in ("aluminium", "zinc", "copper"):
        return f"rust from bare steel stains {sheet} and holds water on it"
    return None
