"""How much of flat parts lies on other flat parts: what a piece touches, told by shape alone."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from yattle import overlay
from yattle.built.standing import Standing, axes_in
from yattle.pattern.rings import boxes
from yattle.pattern.surface import Array

NEAR = 2.0  # mm: parts so far apart lie on each other, sheets and what marking scatters between them
_GRID = 1e-4  # mm
_LEVEL = 0.999  # cosine between such parts


@dataclass(frozen=True)
class Touch:
    """Where two lie on each other: the ``area``, mm², how ``long`` it is at the longest, mm, and a place of it."""

    area: float
    long: float
    at: Array


def touches(pieces: Sequence[Standing], others: Sequence[Standing]) -> dict[tuple[str, int, str], Touch]:
    """Where parts of pieces lie on other parts, of the same piece or of others: by the piece's name, the part's number,
    the other's name."""
    found: dict[tuple[str, int, str], Touch] = {}
    parts = [(other.name, part) for other in others for part in other.parts]
    if not parts:
        return found
    squares = np.array([square for other in others for square in other.normals])
    ats = np.array([part[0] for _, part in parts])
    lows, highs = boxes([part for _, part in parts])
    lows, highs = lows - NEAR, highs + NEAR
    for piece in pieces:
        for k, (own, square) in enumerate(zip(piece.parts, piece.normals, strict=True)):
            near = (np.abs(squares @ square) > _LEVEL) & (lows < own.max(axis=0)).all(axis=1) & (
                highs > own.min(axis=0)).all(axis=1) & (np.abs(((own.mean(axis=0) - ats) * squares).sum(axis=1)) < NEAR)
            for n in np.nonzero(near)[0].tolist():
                name, part = parts[n]
                touch = None if part is own else _on_each_other(own, part, square)
                before = found.get((piece.name, k, name))
                if touch is not None and (before is None or touch.area > before.area):
                    found[piece.name, k, name] = touch
    return found


def _on_each_other(one: Array, other: Array, square: Array) -> Touch | None:
    """What two parallel parts share, seen square to them."""
    u, v = axes_in(square)
    flat, beside = (shapely.Polygon(np.column_stack(((part - one[0]) @ u, (part - one[0]) @ v))).buffer(0.0)
                    for part in (one, other))
    shared = overlay.intersection(flat, beside, grid_size=_GRID)  # borders may lie on each other
    if shared.area <= 0.0:
        return None
    left, low, right, high = shared.bounds
    at = shared.representative_point()
    return Touch(float(shared.area), max(right - left, high - low), one[0] + u * at.x + v * at.y)
