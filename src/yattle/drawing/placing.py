"""Where a drawing's texts stand so that none covers another, and as few lines as can be run through them."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from math import hypot

import numpy as np
from numpy.typing import NDArray

from yattle.drawing.shapes import Point

Box = tuple[float, float, float, float]
"""Left, low, right, high."""
Segments = NDArray[np.float64]
_STEPS, _SIDES = 9, 4  # half heights of the text that it may move outward, and to either side


def segments_of(paths: Sequence[Sequence[Point]]) -> Segments:
    """The straight parts of ``paths`` as rows of x, y, x, y; no paths give none."""
    rows = [(*a, *b) for path in paths for a, b in pairwise(path)]
    return np.array(rows, dtype=float).reshape(-1, 4)


def clear_place(wanted: Box, push: Point, taken: Sequence[Box], lines: Segments | None = None) -> Box:
    """The box nearest to ``wanted`` that lies on none of ``taken`` and on the fewest of ``lines``.

    It may move along ``push`` and to either side of it; without a push, everywhere. Where every place is
    taken it is ``wanted``. All in one unit.
    """
    free = [place for place in _by_nearness(wanted, push) if not any(covers(place, box) for box in taken)]
    if lines is None or not free:
        return free[0] if free else wanted
    clear = (place for place in free if not crossings(place, lines))
    return next(clear, None) or min(free, key=lambda place: crossings(place, lines))  # the nearest of equals


def _by_nearness(wanted: Box, push: Point) -> list[Box]:
    half = (wanted[3] - wanted[1]) / 2
    size = hypot(*push)
    out = (push[0] / size, push[1] / size) if size else (0.0, 1.0)
    first = 0 if size else -_STEPS
    moves = [(n * half, k * half) for n in range(first, _STEPS + 1) for k in range(-_SIDES, _SIDES + 1)]
    return [_moved(wanted, out[0] * far - out[1] * side, out[1] * far + out[0] * side)
            for far, side in sorted(moves, key=lambda move: hypot(*move))]


def _moved(box: Box, dx: float, dy: float) -> Box:
    return box[0] + dx, box[1] + dy, box[2] + dx, box[3] + dy


def covers(a: Box, b: Box) -> bool:
    """Whether two boxes share more than a border."""
    return a[0] < b[2] and b[0] < a[2] and a[1] < b[3] and b[1] < a[3]


def crossings(box: Box, lines: Segments) -> int:
    """How many of ``lines`` run through ``box`` (Liang and Barsky's clipping)."""
    start, run = lines[:, :2], lines[:, 2:] - lines[:, :2]
    with np.errstate(divide="ignore", invalid="ignore"):
        low = (np.array(box[:2]) - start) / run
        high = (np.array(box[2:]) - start) / run
    enter, leave = np.fmin(low, high), np.fmax(low, high)
    still = run == 0  # along this axis it stands still: within for ever, or never
    within = (start > box[:2]) & (start < box[2:])
    enter = np.where(still, np.where(within, -np.inf, np.inf), enter).max(axis=1)
    leave = np.where(still, np.where(within, np.inf, -np.inf), leave).min(axis=1)
    return int(np.count_nonzero(np.maximum(enter, 0.0) < np.minimum(leave, 1.0)))
