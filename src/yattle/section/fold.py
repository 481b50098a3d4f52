"""A section folded up, in its own plane.

x and y in mm. The walk starts at edge A heading ``start`` degrees from the x axis; the
paint face is on the **left** of the walk, so a + turn (toward the paint face) swings the
heading to the left, a − turn to the right.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from yattle.section.girth import Girth
from yattle.section.profile import Profile

Points = NDArray[np.float64]


def headings(profile: Profile, start: float = 0.0) -> Points:
    """Heading in degrees of each flat part from edge A, hems included, shape (n,)."""
    return start + np.concatenate(([0.0], np.cumsum(profile.strip_turns)))


def folded_points(profile: Profile, start: float = 0.0) -> Points:
    """Mould-line corners of the folded section from raw edge A to raw edge B, shape (n+1, 2).

    Legs have the lengths asked for; a hem lies back on its neighbour. In mm.
    """
    angles = np.radians(headings(profile, start))
    steps = np.asarray(profile.strip_lengths)[:, None] * np.column_stack((np.cos(angles), np.sin(angles)))
    return np.vstack((np.zeros((1, 2)), np.cumsum(steps, axis=0)))


def mould_flats(girth: Girth) -> tuple[float, ...]:
    """Lengths between mould lines as a pattern folded up sharp gives them.

    The distance between marks plus half the deduction of the fold at either side; equal to the legs and hems asked
    for, whichever the rule. Used to check patterns. In mm.
    """
    marks = [0.0, *(bend.mark for bend in girth.bends), girth.girth]
    halves = [0.0, *(bend.deduction / 2 for bend in girth.bends), 0.0]
    return tuple(b - a + left + right
                 for a, b, left, right in zip(marks, marks[1:], halves, halves[1:], strict=False))


def rounded_path(profile: Profile, radius: float, start: float = 0.0, chord: float = 12.0) -> Points:
    """The section as a smooth line for drawing: flats joined by arcs of ``radius`` mm.

    A hem's arc has the same radius, so that the two layers stay apart on the drawing by twice
    it. ``chord`` is the most degrees one straight part of an arc turns. Shape (m, 2).
    """
    turns, lengths = profile.strip_turns, profile.strip_lengths
    cut = [0.0, *(_drawn_setback(turn, radius) for turn in turns), 0.0]
    point, heading, path = np.zeros(2), math.radians(start), [np.zeros(2)]
    for n, length in enumerate(lengths):
        flat = max(length - cut[n] - cut[n + 1], 0.05 * length)
        point = point + flat * np.array([math.cos(heading), math.sin(heading)])
        path.append(point)
        if n < len(turns):
            arc, heading = _arc(point, heading, math.radians(turns[n]), radius, math.radians(chord))
            path.extend(arc)
            point = path[-1]
    return np.array(path)


def _drawn_setback(turn: float, radius: float) -> float:
    return radius * math.tan(math.radians(min(abs(turn), 90)) / 2)


def _arc(point: Points, heading: float, turn: float, radius: float, chord: float) -> tuple[list[Points], float]:
    if turn == 0:
        return [], heading
    count = max(1, math.ceil(abs(turn) / chord))
    side = math.copysign(1.0, turn)
    centre = point + radius * side * np.array([-math.sin(heading), math.cos(heading)])
    angles = heading + turn * np.arange(1, count + 1) / count
    offsets = radius * side * np.column_stack((np.sin(angles), -np.cos(angles)))
    return list(centre + offsets), heading + turn
