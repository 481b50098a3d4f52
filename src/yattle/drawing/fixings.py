"""A section as it lies, with its screws, clips, anchors, straps and strips drawn where they hold it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from yattle.drawing.section import section_drawing
from yattle.drawing.shapes import Drawing, Label, Line, Point, Shape
from yattle.measure import UNITS, Unit
from yattle.section import Profile, folded_points

_EDGE = 0.25  # of a leg's length from its free edge
_OFF = 0.05  # of the section's size: a clip's screw beside the edge it holds
_LONG = 0.11  # of the section's size: a screw
_LEVEL = 0.35  # what holds a leg that leans more goes down, else into the wall behind it

Array = NDArray[np.float64]


def fixed_section(profile: Profile, heading: float, unit: Unit = UNITS["mm"],
                  around: tuple[tuple[str, tuple[Point, ...]], ...] = (), legs: tuple[int, ...] = (0,),
                  fixings: tuple[tuple[str, int], ...] = ()) -> Drawing:
    """The section in its place with what holds it, each as (what, rows): screws and clips through ``legs`` by turns,
    an ``anchor`` through the leg on the wall, a ``strap`` over a gutter's mouth, a ``hook strip`` behind the other
    drop. Places in mm, ``heading`` in degrees."""
    drawing = section_drawing(profile, heading, unit, around)
    shapes: list[Shape] = list(drawing.shapes)
    corners = folded_points(profile, heading - (profile.hem_a.turn if profile.hem_a else 0.0))
    own = corners[(1 if profile.hem_a else 0):len(corners) - (1 if profile.hem_b else 0)]
    for what, rows in fixings:
        if what in ("screw", "clip"):
            for place in _places(own, legs, rows, what == "clip"):
                shapes += _screw(*place, what)
        elif what == "anchor":
            shapes += _screw(*_through(own, _on_the_wall(own), 0.5), what)
        elif what == "strap":
            shapes += _strap(own)
        elif what == "hook strip":
            shapes += _strip(own)
    return Drawing(tuple(shapes), drawing.notes)


def _places(own: Array, legs: tuple[int, ...], rows: int, beside: bool) -> list[tuple[Point, Point]]:
    """Where the rows go through, as the two ends of each screw: on every leg in turn, from its free edge in; of clips
    ``beside`` that edge, for nothing goes through what they hold."""
    found, size = [], float(np.ptp(own, axis=0).max())
    for n in range(rows):
        leg, share = legs[n % len(legs)], _EDGE + 0.3 * (n // len(legs))
        first = leg + 0.5 <= (len(own) - 1) / 2
        a, b = own[leg], own[leg + 1]
        off = size * _OFF / float(np.linalg.norm(b - a))
        at = (-off if first else 1 + off) if beside else share if first else 1 - share
        found.append(_through(own, leg, at))
    return found


def _through(own: Array, leg: int, share: float) -> tuple[Point, Point]:
    """The two ends of a screw at a share of a leg: down into what lies beneath, or on a steep leg into what stands
    behind it, away from its paint."""
    a, b = own[leg], own[leg + 1]
    along, size = (b - a) / np.linalg.norm(b - a), float(np.ptp(own, axis=0).max())
    into = np.array([along[1], -along[0]])
    into = -into if into[1] > _LEVEL else into
    at = a + (b - a) * share
    top, tip = at - into * size * 0.04, at + into * size * _LONG
    return (float(top[0]), float(top[1])), (float(tip[0]), float(tip[1]))


def _steep(own: Array) -> list[int]:
    """The legs that stand, from edge A; the last one where none does."""
    ways = np.diff(own, axis=0)
    return [n for n, way in enumerate(ways) if abs(way[1]) > 0.8 * float(np.linalg.norm(way))] or [len(ways) - 1]


def _on_the_wall(own: Array) -> int:
    """The leg that stands against a wall: the highest of the steep ones, of two the last."""
    return max(_steep(own), key=lambda n: (round(float(own[n][1] + own[n + 1][1]), 3), n))


def _strap(own: Array) -> list[Shape]:
    """A strap from a gutter's front rim over its mouth to the top of its back."""
    front, back = own[1], own[-1]
    ends = tuple((float(p[0]), float(p[1])) for p in (front, back))
    middle = (float(front[0] + back[0]) / 2, float(front[1] + back[1]) / 2)
    return [Line(ends, "cut"), Label(middle, "strap", (0.0, 1.0))]


def _strip(own: Array) -> list[Shape]:
    """A strip behind the first drop, which hooks over its lower edge."""
    size, drop = float(np.ptp(own, axis=0).max()), _steep(own)[0]
    low, high = sorted((own[drop], own[drop + 1]), key=lambda p: float(p[1]))
    side = 1.0 if own[:, 0].mean() > low[0] else -1.0
    inward = np.array([0.03 * size * side, 0.0])
    top = low + (high - low) * 0.75 + inward
    ends = tuple((float(p[0]), float(p[1])) for p in (low + inward, top))
    return [Line(ends, "cut"), Label((float(top[0]) + side * 0.02 * size, float(top[1])), "hook strip", (side, 0.0))]


def _screw(top: Point, tip: Point, what: str) -> list[Shape]:
    """A screw with its head, and its name."""
    along = np.array(tip) - np.array(top)
    across = np.array([-along[1], along[0]]) * 0.28
    head = np.array(top)
    ends = tuple((float(p[0]), float(p[1])) for p in (head - across, head + across))
    return [Line((top, tip), "cut"), Line(ends, "cut"), Label(top, what, (0.0, 1.0))]
