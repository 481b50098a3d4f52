"""Where the first seam of a face lies best, and how far a face is out of square."""

from __future__ import annotations

import math
from dataclasses import dataclass

from yattle.roof.panel_rule import NOTHING, PanelRule


def _wave(place: float, first: float, coverage: float) -> float:
    """From ``place`` to the nearest of the seams at ``first`` + k·``coverage``."""
    rest = (place - first) % coverage
    return min(rest, coverage - rest)


def best_start(width: float, openings: list[list[float]], rule: PanelRule) -> float:
    """The start that keeps the most clearance to all openings without a sliver at either end, mm."""
    return start_and_clearance(width, openings, rule)[0]


def start_and_clearance(width: float, openings: list[list[float]], rule: PanelRule) -> tuple[float, float]:
    """The start that keeps the most clearance to all openings without a sliver at either end, and that clearance; below
    0 a seam runs through one.

    Clearance is a wave of the start for each opening, so the best lies where a wave is highest, where two waves cross,
    or at the end of what the slivers allow: all of these are tried, none guessed. In mm.
    """
    c = rule.coverage
    points = [p for low, high in openings for p in ((low, high) if high - low >= c else ((low + high) / 2,))]
    halves = [h for low, high in openings for h in ((0.0, 0.0) if high - low >= c else ((high - low) / 2,))]
    if rule.side == "right":
        points = [width - p for p in points]
    tries = {0.0, rule.sliver, (width - rule.sliver) % c, width % c, (width % c) / 2, (width % c + c) / 2,
             max(0.0, c - rule.sliver)}
    for n, (p, half) in enumerate(zip(points, halves, strict=True)):
        tries.add((p + c / 2) % c)
        for q, other in zip(points[:n], halves[:n], strict=True):
            for k in (0.0, c / 2):
                for off in (0.0, (half - other) / 2, (other - half) / 2):
                    tries.add(((p + q) / 2 + k + off) % c)

    def worth(start: float) -> tuple[bool, float, float, float]:
        first = start if start > NOTHING else min(c, width)
        rest = (width - start) % c
        last = rest if rest > NOTHING else c
        clear = min((_wave(p, start, c) - h for p, h in zip(points, halves, strict=True)), default=0.0)
        whole = min(first, last) >= min(rule.sliver, width) - 1e-6
        return whole, round(clear, 6), float(start <= NOTHING), min(first, last)
    best = max(sorted(round(t, 9) for t in tries), key=worth)
    return best, worth(best)[1]


@dataclass(frozen=True)
class OutOfSquare:
    """``offset`` mm that the head is out toward the right (below 0: left), over the whole height; ``misfit`` how
    much the four measures disagree, mm; ``corner`` the corner that stands out."""

    offset: float
    corner: str
    misfit: float

    def per_panel(self, count: int) -> tuple[float, ...]:
        """Where each seam's head goes, mm from square to the eave, when the error is spread."""
        return tuple(self.offset * k / count for k in range(1, count + 1))


def out_of_square(width: float, height: float, rising: float, falling: float) -> OutOfSquare:
    """How far a face is out from its two diagonals, mm.

    ``rising`` from the lower left to the upper right corner, ``falling`` from the upper left to the lower right.
    A sheared rectangle has rising² − falling² = 4·width·height·cos of its lower left corner; its diagonals'
    squares add up to twice those of its sides, and ``misfit`` is what is missing from that.
    """
    lean = (rising * rising - falling * falling) / (4 * width * height)
    offset = height * max(-1.0, min(1.0, lean))
    mean = math.sqrt((rising * rising + falling * falling) / 2)
    return OutOfSquare(offset, "none" if abs(offset) < 0.5 else "upper right" if offset > 0 else "upper left",
                       abs(mean - math.hypot(width, height)))
