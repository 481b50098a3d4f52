"""Where the lanes of stock stand: a long one goes on in the next line, all of them as large as they have room."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from yattle.ui.benches.coil.lanes import Lane

SIDE, ABOVE = 44, 34  # px beside and above a row
_MOST = 8  # lines that one lane is parted into

Placed = list[tuple[Lane, float, float]]
"""Rows, each with its place, px."""


def best_rows(lanes: Sequence[Lane], breaks: Mapping[str, Sequence[float]], wide: float,
              high: float) -> tuple[Placed, float]:
    """The rows with their places, and the scale, px for a mm, at which everything is shown largest on a widget ``wide``
    and ``high`` px; lanes are parted at their ``breaks``, mm."""
    best: tuple[Placed, float] = ([], 0.0)
    total = max((lane.end - lane.start for lane in lanes), default=1.0)
    for count in range(1, _MOST + 1):
        rows = _rows(lanes, breaks, total / count * 1.08)
        low, top = 0.0, (wide - 2 * SIDE) / max(row.end - row.start for row in rows)
        for _ in range(18):
            scale = (low + top) / 2 if low else top
            placed, taken = _flow(rows, scale, wide)
            if taken <= high:
                low = scale
                if scale > best[1]:
                    best = (placed, scale)
                if scale == top:
                    break
            else:
                top, low = scale, low or scale / 64
    return best


def _rows(lanes: Sequence[Lane], breaks: Mapping[str, Sequence[float]], longest: float) -> list[Lane]:
    """The lanes cut at crosscuts so that none is longer than ``longest`` mm (where that can be)."""
    rows = []
    for lane in lanes:
        start = lane.start
        stops = [stop for stop in breaks.get(lane.name, []) if lane.start < stop < lane.end] + [lane.end]
        for n, stop in enumerate(stops):
            last = n == len(stops) - 1
            if last or stops[n + 1] - start > longest:
                rows.append(Lane(lane.name, lane.drawing, start, stop, lane.width))
                start = stop
    return rows


def _flow(rows: Sequence[Lane], scale: float, room: float) -> tuple[Placed, float]:
    """Rows set side by side while they fit, like words; their places and the height taken."""
    placed: Placed = []
    x, y, tall = float(SIDE), 4.0, 0.0
    for row in rows:
        wide, high = (row.end - row.start) * scale, row.width * scale + ABOVE
        if placed and x + wide > room - SIDE / 2:
            x, y, tall = float(SIDE), y + tall, 0.0
        placed.append((row, x, y))
        x, tall = x + wide + SIDE + 10, max(tall, high)
    return placed, y + tall
