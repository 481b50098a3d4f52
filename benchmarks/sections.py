"""Own sections that a trim shop folds, plain and awkward: name → profile. Legs and turns from edge A."""

from __future__ import annotations

from collections.abc import Sequence

from yattle.metal import metal_spec
from yattle.section import Hem, MetalSpec, Profile

_STEEL = MetalSpec.model_validate(metal_spec("prepainted-steel", 0.6))
_BACK = Hem(kind="closed", length=12.0, toward="back")
_PAINT = Hem(kind="closed", length=12.0, toward="paint")
_OPEN = Hem(kind="open", length=15.0, gap=3.0, toward="back")


def _made(legs: Sequence[float], turns: Sequence[float], hem_a: Hem | None = None, hem_b: Hem | None = None) -> Profile:
    return Profile(metal=_STEEL, legs=tuple(map(float, legs)), turns=tuple(map(float, turns)), hem_a=hem_a, hem_b=hem_b)


SECTIONS: dict[str, Profile] = {
    "eave drip": _made([85, 95, 18], [-58, 42], hem_b=_BACK),
    "eave drip, flat roof": _made([120, 140, 22], [-88, 45], hem_b=_BACK),
    "eave apron": _made([150, 60], [-65], hem_b=_OPEN),
    "gutter apron": _made([110, 75, 15], [-60, 30], hem_b=_BACK),
    "rake": _made([60, 120, 20], [-90, 45], _PAINT, _BACK),
    "rake with return": _made([25, 90, 130, 22], [90, -90, 40], hem_b=_BACK),
    "ridge cap": _made([170, 170], [-50], _BACK, _BACK),
    "ridge cap, stepped": _made([20, 150, 150, 20], [30, -50, 30], _BACK, _BACK),
    "hip cap": _made([120, 120], [-35], _BACK, _BACK),
    "valley with rib": _made([200, 25, 25, 200], [60, -120, 60], _PAINT, _PAINT),
    "headwall": _made([130, 100], [75], hem_b=_PAINT),
    "sidewall with foot": _made([25, 110, 100], [-90, 90], hem_b=_PAINT),
    "counterflashing": _made([15, 80, 12], [-90, 30], hem_b=_BACK),
    "zed closure": _made([30, 38, 30], [90, -90]),
    "narrow zed": _made([20, 15, 20], [90, -90]),
    "cleat": _made([40, 20], [90], hem_b=_OPEN),
    "coping": _made([20, 90, 260, 90, 20], [40, -90, -90, 40], _BACK, _BACK),
    "box gutter": _made([30, 120, 180, 140, 30], [90, -90, -90, 90]),
    "channel": _made([45, 35, 45], [90, 90]),
    "curb flashing": _made([80, 150, 40, 25], [-90, 90, 90], hem_b=_BACK),
    "eight-fold stair": _made([40, 30, 60, 30, 60, 30, 60, 30, 40], [-45, 45, -45, 45, -45, 45, -45, 45]),
    "twelve-fold wave": _made([40] + [55] * 11 + [40], [25, -25] * 6),
    "sixteen-fold wave": _made([40] + [50] * 15 + [40], [18, -18] * 8),
}
