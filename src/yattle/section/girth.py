"""Girth and fold marks of a cross-section, by the four schools of fold allowance.

With thickness ``t`` and inside radius ``r`` (both mm) a fold of ``turn`` degrees takes

* a *setback* on either side: ``(r+t)·tan(turn/2)`` up to 90°, ``r+t`` from 90° on
  (``r`` in place of ``r+t`` when measured inside);
* an *arc* on the flat blank: ``turn_rad·(r + k·t)``, the neutral line's length;
* a *deduction*: both setbacks less the arc, what the fold saves of the plain sum.

Sources: the k-factor as in any sheet metal handbook; DIN 6935 for its own k; the plain
sum and the table as shops use them.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from yattle.section.profile import Din6935, KFactor, PlainSum, Profile, Table

_K_OF_SHARP_FOLD = 0.33
_TOO_SHORT = -1e-9


@dataclass(frozen=True)
class Bend:
    """One fold on the flat blank. Lengths in mm.

    ``mark``: from raw edge A to the middle of the arc
    ``turn``: signed degrees, + toward the paint face
    ``arc``: its length on the neutral layer; ``deduction``: what it takes off the sum of legs
    ``setback``: on each side, from the mould line to where the arc begins
    """

    id: str
    kind: Literal["fold", "hem"]
    turn: float
    mark: float
    arc: float
    deduction: float
    setback: float

    @property
    def toward(self) -> str:
        return "paint" if self.turn > 0 else "back"


@dataclass(frozen=True)
class Girth:
    """The blank of a section: its width, fold marks and flats, all in mm from edge A."""

    girth: float
    bends: tuple[Bend, ...]
    flats: tuple[float, ...]
    profile: Profile

    @property
    def area_per_m(self) -> float:
        """Square metres of sheet per metre of piece."""
        return self.girth / 1000

    @property
    def mass_per_m(self) -> float:
        """Kilograms per metre of piece."""
        return self.area_per_m * self.profile.metal.thickness / 1000 * self.profile.metal.density

    def answer(self) -> dict[str, Any]:
        """The document ``yattle-girth/1``."""
        folds = [{"id": b.id, "kind": b.kind, "mark": b.mark, "turn": b.turn, "toward": b.toward,
                  "arc": b.arc, "deduction": b.deduction} for b in self.bends]
        return {"format": "yattle-girth/1", "ok": True, "girth": self.girth, "folds": folds,
                "flats": list(self.flats), "area_per_m": self.area_per_m, "mass_per_m": self.mass_per_m}


@dataclass(frozen=True)
class GirthRefused:
    """A section that cannot be folded; each reason names its leg (from edge A) or hem."""

    reasons: tuple[str, ...]

    def answer(self) -> dict[str, Any]:
        return {"format": "yattle-girth/1", "ok": False, "reasons": list(self.reasons)}


def girth_of(profile: Profile) -> Girth | GirthRefused:
    """Girth, marks and flats of ``profile``, or why it cannot be folded."""
    outside_table = _outside_table(profile)
    if outside_table:
        return GirthRefused(tuple(outside_table))
    folds = [_fold(profile, turn, radius, turn_id) for turn_id, turn, radius in _folds_with_radius(profile)]
    flats = _flats(profile, folds)
    short = [_too_short(name, flat, length) for name, flat, length
             in zip(profile.strip_names, flats, profile.strip_lengths, strict=True) if flat < _TOO_SHORT]
    if short:
        return GirthRefused(tuple(short))
    return _laid_out(profile, folds, flats)


def _folds_with_radius(profile: Profile) -> list[tuple[str, float, float]]:
    radii = {"hA": profile.hem_a.radius if profile.hem_a else 0.0,
             "hB": profile.hem_b.radius if profile.hem_b else 0.0}
    return [(fold_id, turn, radii.get(fold_id, profile.metal.inside_radius))
            for fold_id, turn in zip(profile.fold_ids, profile.strip_turns, strict=True)]


def _fold(profile: Profile, turn: float, radius: float, fold_id: str) -> Bend:
    rule, thickness = profile.metal.allowance, profile.metal.thickness
    kind: Literal["fold", "hem"] = "hem" if fold_id.startswith("h") else "fold"
    size = abs(turn)
    if isinstance(rule, PlainSum):
        return Bend(fold_id, kind, turn, 0.0, 0.0, 0.0, 0.0)
    if isinstance(rule, Table):
        deduction = _table_deduction(rule, size)
        return Bend(fold_id, kind, turn, 0.0, 0.0, deduction, deduction / 2)
    arc = math.radians(size) * (radius + neutral_k(rule, radius, thickness) * thickness)
    setback = _setback(size, radius + (thickness if profile.measured == "outside" else 0.0))
    return Bend(fold_id, kind, turn, 0.0, arc, 2 * setback - arc, setback)


def _setback(size: float, radius: float) -> float:
    return radius * math.tan(math.radians(size) / 2) if size < 90 else radius


def neutral_k(rule: KFactor | Din6935, radius: float, thickness: float) -> float:
    """Where the neutral line runs, as a share of the thickness from the inside (0 to 1)."""
    if isinstance(rule, KFactor):
        return rule.k
    if radius == 0:
        return _K_OF_SHARP_FOLD
    ratio = radius / thickness
    if ratio > 5:
        return 0.5
    return max(0.0, 0.5 * min(1.0, 0.65 + 0.5 * math.log10(ratio)))


def _table_deduction(rule: Table, size: float) -> float:
    turns, values = zip(*sorted(rule.deductions), strict=True)
    return float(np.interp(size, turns, values))


def _outside_table(profile: Profile) -> list[str]:
    rule = profile.metal.allowance
    if not isinstance(rule, Table):
        return []
    least = min(turn for turn, _ in rule.deductions)
    most = max(turn for turn, _ in rule.deductions)
    return [f"{fold_id}: a turn of {abs(turn):g}° is outside the deduction table, which runs from "
            f"{least:g}° to {most:g}°"
            for fold_id, turn in zip(profile.fold_ids, profile.strip_turns, strict=True)
            if not least <= abs(turn) <= most]


def _flats(profile: Profile, folds: list[Bend]) -> tuple[float, ...]:
    before = [0.0, *(fold.setback for fold in folds)]
    after = [*(fold.setback for fold in folds), 0.0]
    return tuple(length - left - right
                 for length, left, right in zip(profile.strip_lengths, before, after, strict=True))


def _too_short(name: str, flat: float, length: float) -> str:
    return (f"{name}: {length:g} mm is too short for its folds, which take {length - flat:.2f} mm of it; "
            f"at least {length - flat:.2f} mm is needed")


def _laid_out(profile: Profile, folds: list[Bend], flats: tuple[float, ...]) -> Girth:
    bends, at = [], 0.0
    for flat, fold in zip(flats, folds, strict=False):
        at += flat
        bends.append(Bend(fold.id, fold.kind, fold.turn, at + fold.arc / 2, fold.arc, fold.deduction,
                          fold.setback))
        at += fold.arc
    return Girth(at + flats[-1], tuple(bends), flats, profile)
