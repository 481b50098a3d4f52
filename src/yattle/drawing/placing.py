"""Where a drawing's texts stand so that none covers another, and as few lines as can be run through them."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from itertools import pairwise
from math import hypot

import numpy as np
from numpy.typing import NDArray

from yattle.drawing.shapes import Dim, Label, Point, Tag

Box = tuple[float, float, float, float]
"""Left, low, right, high."""
Segments = NDArray[np.float64]
_AT_ONCE = 24  # places that are looked at together
_STEPS, _SIDES = 16, 8  # half heights of the text that it may move outward, and to either side


def segments_of(paths: Sequence[Sequence[Point]]) -> Segments:
    """The straight parts of ``paths`` as rows of x, y, x, y; no paths give none. In mm or points, as the paths
    are."""
    rows = [(*a, *b) for path in paths for a, b in pairwise(path)]
    return np.array(rows, dtype=float).reshape(-1, 4)


def rank(text: Label | Tag | Dim, here: bool = False) -> int:
    """Which texts are placed before which, on the screen and on paper: what is selected (``here``), measures, letters,
    large numbers, names that belong to something, what is said beside it; whole numbers, the least first."""
    if here:
        return 0
    if isinstance(text, Dim):
        return 1
    if isinstance(text, Tag):
        return 2
    return 3 if text.strong else 4 if text.key else 5


def clear_place(wanted: Box, push: Point, taken: Sequence[Box], lines: Segments | None = None,
                frame: Box | None = None, step: float | None = None) -> Box:
    """The box nearest to ``wanted`` within ``frame`` that lies on none of ``taken`` and on the fewest of ``lines``.

    It may move along ``push`` and to either side of it; without a push, everywhere. Where every place is
    taken it is ``wanted``. ``step``: how far it goes at once, else half its height. All in one unit.
    """
    places = _within(_by_nearness(wanted, push, step), frame)
    free = places[~_covered(places, taken)]
    if not len(free):
        return wanted
    if lines is None or not len(lines):
        return _box(free[0])
    near = lines[_near(lines, places)]
    fewest, best = len(near) + 1, free[0]
    for start in range(0, len(free), _AT_ONCE):
        some = free[start:start + _AT_ONCE]
        crossed = _crossed(some, near)
        least = int(crossed.argmin())  # the nearest of equals
        if crossed[least] < fewest:
            fewest, best = int(crossed[least]), some[least]
        if not fewest:
            break
    return _box(best)


def _within(places: NDArray[np.float64], frame: Box | None) -> NDArray[np.float64]:
    """Those of the places that lie in the frame; those that are moved into it where none does."""
    if frame is None:
        return places
    inside = (places[:, 0] >= frame[0]) & (places[:, 1] >= frame[1]) & (places[:, 2] <= frame[2]) & (
        places[:, 3] <= frame[3])
    if inside.any():
        return places[inside]
    low = np.maximum(np.array(frame[:2]) - places[:, :2], 0.0)
    high = np.minimum(np.array(frame[2:]) - places[:, 2:], 0.0)
    moved: NDArray[np.float64] = places + np.tile(low + high, 2)
    return moved


def _covered(places: NDArray[np.float64], taken: Sequence[Box]) -> NDArray[np.bool_]:
    """Which of the places lie on one of the boxes that are taken."""
    if not len(taken):
        return np.zeros(len(places), dtype=bool)
    a, b = places[:, None, :], np.array(taken, dtype=float)[None, :, :]
    on = (a[..., 0] < b[..., 2]) & (b[..., 0] < a[..., 2]) & (a[..., 1] < b[..., 3]) & (b[..., 1] < a[..., 3])
    return np.asarray(on.any(axis=1), dtype=bool)


def _near(lines: Segments, places: NDArray[np.float64]) -> NDArray[np.bool_]:
    """Which lines come into the box round all the places."""
    low, high = places[:, :2].min(axis=0), places[:, 2:].max(axis=0)
    start, end = lines[:, :2], lines[:, 2:]
    found: NDArray[np.bool_] = ((np.maximum(start, end) >= low) & (np.minimum(start, end) <= high)).all(axis=1)
    return found


def _box(row: NDArray[np.float64]) -> Box:
    return float(row[0]), float(row[1]), float(row[2]), float(row[3])


def _by_nearness(wanted: Box, push: Point, step: float | None) -> NDArray[np.float64]:
    """Boxes as rows, the nearest to ``wanted`` first."""
    half = (wanted[3] - wanted[1]) / 2 if step is None else step
    size = hypot(*push)
    out = (push[0] / size, push[1] / size) if size else (0.0, 1.0)
    moves = _moves(0 if size else -_STEPS) * half
    dx, dy = out[0] * moves[:, 0] - out[1] * moves[:, 1], out[1] * moves[:, 0] + out[0] * moves[:, 1]
    found: NDArray[np.float64] = np.array(wanted) + np.column_stack([dx, dy, dx, dy])
    return found


@lru_cache(maxsize=2)
def _moves(first: int) -> NDArray[np.float64]:
    """(outward, to the side) in half heights of the text, the shortest first."""
    moves = [(float(n), float(k)) for n in range(first, _STEPS + 1) for k in range(-_SIDES, _SIDES + 1)]
    return np.array(sorted(moves, key=lambda move: hypot(*move)))


def covers(a: Box, b: Box) -> bool:
    """Whether two boxes share more than a border."""
    return a[0] < b[2] and b[0] < a[2] and a[1] < b[3] and b[1] < a[3]


def crossings(box: Box, lines: Segments) -> int:
    """How many of ``lines`` run through ``box``."""
    return int(_crossed(np.array([box], dtype=float), lines)[0])


def _crossed(boxes: NDArray[np.float64], lines: Segments) -> NDArray[np.int_]:
    """How many of ``lines`` run through each of the boxes (Liang and Barsky's clipping)."""
    start, run = lines[None, :, :2], (lines[:, 2:] - lines[:, :2])[None, :, :]
    low_corner, high_corner = boxes[:, None, :2], boxes[:, None, 2:]
    with np.errstate(divide="ignore", invalid="ignore"):
        low, high = (low_corner - start) / run, (high_corner - start) / run
    still = run == 0  # along this axis it stands still: within for ever, or never
    within = (start > low_corner) & (start < high_corner)
    enter = np.where(still, np.where(within, -np.inf, np.inf), np.fmin(low, high)).max(axis=2)
    leave = np.where(still, np.where(within, np.inf, -np.inf), np.fmax(low, high)).min(axis=2)
    return np.asarray(np.count_nonzero(np.maximum(enter, 0.0) < np.minimum(leave, 1.0), axis=1))
