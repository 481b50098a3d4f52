"""What lies under and behind a section, drawn faintly in its place: panel with its seam, closure, deck, board, wall.

Drawn to scale from the heights of the build-up; no measure of a piece comes from here. Lengths in mm, in the section's
installed frame: raw edge A at the origin, x out and y up.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from yattle.details.common import Surrounding

Point = tuple[float, float]
DECK = 22.0  # mm thick
_PANEL = 3.0  # mm: as thick as a sheet is drawn
_UNDERLAY = 2.0  # mm from the panel's underside to the deck
_SEAM = 10.0  # mm: as wide as a seam is drawn
_BEYOND = 45.0  # mm that a face is drawn beyond the leg on it
_BACK = 30.0  # mm that a closure stands back from the edge of what covers it
BOARD = 26.0  # mm thick: barge boards and fascias
_OFF = 2.0  # mm between a section and what it is drawn against


@dataclass(frozen=True)
class Leg2:
    """A leg in its place: from ``at`` on, ``long`` mm toward ``heading`` degrees; what lies beneath is on its right."""

    at: Point
    heading: float
    long: float

    def point(self, along: float, below: float) -> Point:
        """So far along it and so far beneath it, mm."""
        turn = math.radians(self.heading)
        x, y = math.cos(turn), math.sin(turn)
        return self.at[0] + x * along + y * below, self.at[1] + y * along - x * below

    def plate(self, name: str, along: tuple[float, float], below: tuple[float, float]) -> Surrounding:
        """Something flat beneath it; from where to where, mm."""
        (a, b), (top, foot) = along, below
        return Surrounding(name, (self.point(a, top), self.point(b, top), self.point(b, foot), self.point(a, foot)))


def legs_in_place(heading: float, hem: float, legs: Sequence[float], turns: Sequence[float]) -> list[Leg2]:
    """The legs of a section: ``hem`` mm as long as the closed hem at edge A (0: none), which lies back on the first."""
    turn = math.radians(heading)
    at, found = (-hem * math.cos(turn), -hem * math.sin(turn)), list[Leg2]()
    for n, long in enumerate(legs):
        found.append(Leg2(at, heading, long))
        at = found[-1].point(long, 0.0)
        heading += turns[n] if n < len(turns) else 0.0
    return found


def on_panels(leg: Leg2, over: float, fold: float, edge_first: bool, names: bool = True,
              short: float = 0.0) -> Iterator[Surrounding]:
    """A leg over the heads of panels whose seams are ``over`` mm high: closure, panel, deck. ``fold``: how much it is
    folded, degrees, at its other end, where the same layers come from the other side; ``edge_first``: its free edge is
    where it begins; ``short``: so much sooner the layers end. Lengths in mm."""
    def span(near: float, depth: float) -> tuple[float, float]:
        """From beyond the free edge to ``near`` mm before the layers of both sides meet at a depth."""
        end = leg.long - short - near - depth * math.tan(math.radians(min(abs(fold), 170.0) / 2))
        return (-_BEYOND, end) if edge_first else (leg.long - end, leg.long + _BEYOND)

    def said(name: str) -> str:
        return name if names else ""
    if over > 0:
        yield _closure(leg, over, edge_first, said("closure"))
    yield leg.plate(said("panel"), span(12.0, over), (over, over + _PANEL))
    deck = over + _PANEL + _UNDERLAY
    yield leg.plate(said("deck"), span(0.0, deck), (deck, deck + DECK))


def _closure(leg: Leg2, over: float, edge_first: bool, name: str) -> Surrounding:
    """A zed between panel and leg, its foot away from the leg's free edge."""
    thick = 1.6
    spots = ((2.0, 0.0), (_BACK, 0.0), (_BACK, over - thick), (_BACK + 28.0, over - thick), (_BACK + 28.0, over),
             (_BACK - thick, over), (_BACK - thick, thick), (2.0, thick))
    return Surrounding(name, tuple(leg.point(s if edge_first else leg.long - s, d) for s, d in spots))


def on_deck(leg: Leg2, names: bool = True) -> Iterator[Surrounding]:
    """A leg that lies on the deck itself, mm."""
    yield leg.plate("deck" if names else "", (-_BEYOND if leg.heading > -90 else 0.0, leg.long), (_OFF, _OFF + DECK))


def beside_a_rake(flange: Leg2, face: Leg2, over: float, board: float = 1.1) -> Iterator[Surrounding]:
    """A rake's flange on the last seam, ``over`` mm high, the panel beneath it, the deck, and the barge board behind
    its face, so many times as high (``board``) as that."""
    if over > 0:
        at = 0.4 * flange.long
        yield flange.plate("seam", (at, at + _SEAM), (0.0, over))
    yield flange.plate("panel", (-_BEYOND, flange.long - _OFF - 3.0), (over, over + _PANEL))
    top = over + _PANEL + _UNDERLAY
    inner, outer = flange.long - _OFF - BOARD, flange.long - _OFF
    yield flange.plate("deck", (-_BEYOND, inner), (top, top + DECK))
    a, b = flange.point(inner, top), flange.point(outer, top)
    foot = face.at[1] - board * face.long
    yield Surrounding("barge board", (a, b, (b[0], foot), (a[0], foot)))


def beside_a_wall(leg: Leg2, over: float, zed: bool) -> Iterator[Surrounding]:
    """A flange along a wall: on the first seam, or on a zed that stands on the pan at the flange's edge,
    ``over`` mm high."""
    if zed and over > 0:
        yield _closure(leg, over, False, "zed")
    elif over > 0:
        yield leg.plate("seam", (0.55 * leg.long, 0.55 * leg.long + _SEAM), (0.0, over))
    yield leg.plate("panel", (4.0, leg.long + _BEYOND), (over, over + _PANEL))
    deck = over + _PANEL + _UNDERLAY
    yield leg.plate("deck", (0.0, leg.long + _BEYOND), (deck, deck + DECK))


def behind(leg: Leg2, name: str, thick: float = 40.0, above: float = 40.0, below: float = 30.0) -> Surrounding:
    """What an upright leg stands against, ``thick`` mm, so far above and below it."""
    return leg.plate(name, (-above, leg.long + below), (_OFF, _OFF + thick))


def two_faces(heading: float, fold: float, wings: tuple[float, float], off: float) -> tuple[Surrounding, ...]:
    """The decks under a section that lies in the fold between two faces, ``off`` mm beneath it: it has folds of its own
    there."""
    one, other = legs_in_place(heading, 0.0, wings, (fold,))
    return (one.plate("deck", (-0.15 * one.long, one.long), (off, off + DECK)),
            other.plate("", (0.0, 1.15 * other.long), (off, off + DECK)))
