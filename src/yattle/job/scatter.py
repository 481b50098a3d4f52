"""Whether a run comes out at its far end: the shop's scatter of lengths, laps and angles added up over its pieces by
chance, many times over."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True)
class Scatter:
    """Standard deviations: a piece's length and how it is laid in its lap in mm, its angle at the joint in degrees."""

    length: float = 1.0
    laying: float = 1.5
    angle: float = 0.15


@dataclass(frozen=True)
class FarEnd:
    """``spread`` mm (95 % lie within it either way), the share that is off by more than ``allowed``, and the measure
    that matters most."""

    spread: float
    off: float
    worst: str


def far_end(pieces: int, length: float, scatter: Scatter, allowed: float, seed: int = 1, tries: int = 4000) -> FarEnd:
    """The far end of a run of ``pieces`` over ``length`` mm. Lengths and laps add up; every piece is laid to the
    string, so only the last one's own angle stands out sideways."""
    draw = np.random.default_rng(seed)
    along = draw.normal(0, scatter.length, (tries, pieces)).sum(axis=1)
    laid = draw.normal(0, scatter.laying, (tries, max(pieces - 1, 1))).sum(axis=1) * (pieces > 1)
    side = np.tan(np.radians(draw.normal(0, scatter.angle, tries))) * length / pieces
    total = np.hypot(along + laid, side)
    parts = {"lengths": along.std(), "laying in the laps": laid.std(), "angles at the joints": side.std()}
    return FarEnd(float(np.quantile(total, 0.95)), float((total > allowed).mean()), max(parts, key=lambda k: parts[k]))
