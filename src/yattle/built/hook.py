"""Hook: how far the locks of neighbouring pans reach into each other, measured on the pans as they stand."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely

from yattle.built.cover import flat_on, lies_on
from yattle.built.standing import Standing
from yattle.pattern.surface import Array

HOLDS = 8.0  # mm that a lock has to reach in, so that wind and dressing do not open it


@dataclass(frozen=True)
class Hook:
    """Two pans side by side: their locks lie ``have`` mm on each other, over ``long`` mm of their seam."""

    a: str
    b: str
    have: float
    long: float
    at: tuple[float, float, float]

    @property
    def ok(self) -> bool:
        return self.have >= HOLDS


def hook(a: Standing, b: Standing, normal: Array, up: Array) -> Hook:
    """The widest part of two pans' locks that lies on each other, above their floors: ``normal`` square to their face,
    ``up`` along their seam, both 1 mm long. 0 where their locks do not meet."""
    best = Hook(a.name, b.name, 0.0, 0.0, _place(a.parts[0][0]))
    across = np.cross(up, normal)
    low = min(float((part @ normal).max()) for part in (*a.parts, *b.parts)) + HOLDS / 2  # above both floors
    for one in _locks(a, normal, low):
        for other in _locks(b, normal, low):
            if not lies_on(one, other[0], normal):
                continue
            both = shapely.intersection(flat_on(one, up, across), flat_on(other, up, across))
            if both.is_empty or both.area < 1.0:
                continue
            left, _, right, _ = both.bounds
            wide = float(both.area / (right - left))
            if wide > best.have:
                best = Hook(a.name, b.name, wide, float(right - left), _place(one[0]))
    return best


def _locks(pan: Standing, normal: Array, low: float) -> list[Array]:
    """The parts of a pan that lie parallel to its face above its floor."""
    return [part for part, square in zip(pan.parts, pan.normals, strict=True)
            if abs(float(square @ normal)) > 0.9995 and float((part @ normal).min()) > low]


def _place(corner: Array) -> tuple[float, float, float]:
    x, y, z = (float(c) for c in corner)
    return x, y, z
