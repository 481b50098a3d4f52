"""A section as it lies, with its screws or clips drawn where they go through."""

from __future__ import annotations

import numpy as np

from yattle.drawing.section import section_drawing
from yattle.drawing.shapes import Drawing, Label, Line, Point, Shape
from yattle.measure import UNITS, Unit
from yattle.section import Profile, folded_points

_EDGE = 0.25  # of a leg's length from its free edge
_OFF = 0.05  # of the section's size: a clip's screw beside the edge it holds
_LONG = 0.11  # of the section's size: a screw


def fixed_section(profile: Profile, heading: float, unit: Unit = UNITS["mm"],
                  around: tuple[tuple[str, tuple[Point, ...]], ...] = (), legs: tuple[int, ...] = (0,), rows: int = 0,
                  what: str = "screw") -> Drawing:
    """The section in its place with ``rows`` of screws or clips through ``legs``, by turns. Places in mm, ``heading``
    in degrees."""
    drawing = section_drawing(profile, heading, unit, around)
    shapes: list[Shape] = list(drawing.shapes)
    for place in _places(profile, heading, legs, rows, what == "clip"):
        shapes += _screw(*place, what)
    return Drawing(tuple(shapes), drawing.notes)


def _places(profile: Profile, heading: float, legs: tuple[int, ...], rows: int,
            beside: bool) -> list[tuple[Point, Point]]:
    """Where the rows go through, as the two ends of each screw: on every leg in turn, from its free edge in; of clips
    ``beside`` that edge, for nothing goes through what they hold."""
    start = heading - (profile.hem_a.turn if profile.hem_a else 0.0)
    corners = folded_points(profile, start)
    shift, size = 1 if profile.hem_a else 0, float(np.ptp(corners, axis=0).max())
    found = []
    for n in range(rows):
        leg = legs[n % len(legs)]
        a, b = corners[leg + shift], corners[leg + shift + 1]
        share = _EDGE + 0.3 * (n // len(legs))
        first = leg + 0.5 <= len(profile.legs) / 2
        along = (b - a) / np.linalg.norm(b - a)
        at = a + (b - a) * (share if first else 1 - share)
        if beside:
            at = a - along * size * _OFF if first else b + along * size * _OFF
        down = np.array([along[1], -along[0]])
        down = down if down[1] < 0 else -down  # into what lies beneath
        top, tip = at - down * size * 0.04, at + down * size * _LONG
        found.append(((float(top[0]), float(top[1])), (float(tip[0]), float(tip[1]))))
    return found


def _screw(top: Point, tip: Point, what: str) -> list[Shape]:
    """A screw with its head, and its name."""
    along = np.array(tip) - np.array(top)
    across = np.array([-along[1], along[0]]) * 0.28
    head = np.array(top)
    ends = tuple((float(p[0]), float(p[1])) for p in (head - across, head + across))
    return [Line((top, tip), "cut"), Line(ends, "cut"), Label(top, what, (0.0, 1.0))]
