"""A lower bound by dual-feasible functions: at every place along a coil the widths of the pieces beside each other come
to no more than its own; a function f for which Σ f(xᵢ) ≤ 1 whenever Σ xᵢ ≤ 1 may be applied to them first. The coil
is then at least as long as the sum of length · f(width / coil's width). Functions after S. Martello, P. Toth
(raising what is nearly the whole width, leaving out what is thin) and G. Lueker (rounding to k + 1 parts).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from yattle.coil.types import ItemType

Floats = NDArray[np.float64]
_PARTS = 24  # largest k
_EPS = 1e-9


def dual_length(kinds: list[ItemType], width: float) -> float:
    """The least length of coil with the usable ``width`` for all pieces of ``kinds``, mm, whatever the cuts."""
    orientations = max((len(kind.orientations) for kind in kinds), default=1)
    ways = [[kind.orientations[min(n, len(kind.orientations) - 1)] for n in range(orientations)] for kind in kinds]
    along = np.array([[way.along for way in each] for each in ways])
    share = np.array([[way.across / width for way in each] for each in ways])
    many = np.array([kind.qty for kind in kinds])
    fits = share <= 1 + 1e-7
    share = np.minimum(share, 1.0)

    def length(values: Floats) -> float:
        each = np.where(fits, along * values, np.inf).min(axis=1)
        return float((each[np.isfinite(each)] * many[np.isfinite(each)]).sum())
    return max(length(values) for values in dual_values(share)) * (1 - 1e-9)


def dual_values(share: Floats) -> list[Floats]:
    """The values of dual feasible functions, one array for each function: ``share`` says what share of the width each
    kind takes, 0 to 1. The sum of the values of what lies side by side is never over 1. The first is the shares as
    they are."""
    thin = sorted({float(x) for x in share.ravel() if x <= 0.5} | {float(1 - x) for x in share.ravel() if 0.5 < x < 1})
    found = [share, *(_raised(share, at) for at in thin), *(_rounded(share, k) for k in range(1, _PARTS))]
    return found + [_rounded(_raised(share, at), k) for at in thin[:: max(1, len(thin) // 20)] for k in range(1, 8)]


def _raised(x: Floats, least: float) -> Floats:
    """1 over 1 − ``least``, 0 under ``least``, as it is between."""
    return np.where(x > 1 - least + _EPS, 1.0, np.where(x < least - _EPS, 0.0, x))


def _rounded(x: Floats, k: int) -> Floats:
    """Down to whole k-ths of (k + 1)x, but as it is where (k + 1)x is whole."""
    steps = (k + 1) * x
    whole = np.abs(steps - np.round(steps)) < 1e-7
    return np.where(whole, x, np.floor(steps + _EPS) / k)
