"""The ends of a piece of straight section, each as it is marked out by itself: the middle of the piece is its girth
tape and nothing else, so two pieces with equal ends differ in nothing but their length."""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import dist, hypot
from typing import Literal

from yattle.pattern.pattern import SCREW, Pattern, Point

Side = Literal["left", "right"]
_SAME = 0.05  # mm: places that one point stands for
_STRAIGHT = 0.02  # mm: a corner that is less off the line of its neighbours is none


@dataclass(frozen=True)
class EndFold:
    """A fold that lies in an end alone, a tab's: from ``a`` to ``b`` as points are told, ``turn`` in degrees."""

    id: str
    a: Point
    b: Point
    turn: float


@dataclass(frozen=True)
class PieceEnd:
    """One end, measured as a hand does it: points are (in from the end of the blank, down from raw edge A), mm.

    ``corners``: of the outline from edge A down to edge B
    ``folds``: those of its tabs; ``marks``: lines that begin or end here, with what is written at them
    ``stops``: where the long folds end, by their ids; those that run to the very end of the blank are left out
    ``holes``: places of screws
    """

    side: Side
    corners: tuple[Point, ...]
    folds: tuple[EndFold, ...] = ()
    marks: tuple[tuple[str, Point], ...] = ()
    stops: tuple[tuple[str, Point], ...] = ()
    holes: tuple[Point, ...] = ()

    @property
    def depth(self) -> float:
        """How far in from the end of the blank its last corner lies, mm."""
        return max(x for x, _ in (*self.corners, *(p for fold in self.folds for p in (fold.a, fold.b))))

    @property
    def is_square(self) -> bool:
        """Whether there is nothing to mark but the length."""
        return len(self.corners) == 2 and self.depth < _SAME and not (self.folds or self.marks or self.holes)

    @property
    def kind(self) -> object:
        """The same for ends that are marked alike, a left one and a right one that are mirror images too."""
        def near(p: Point) -> Point:
            return round(p[0], 1), round(p[1], 1)
        return (tuple(map(near, self.corners)), tuple((f.id[2:], near(f.a), near(f.b), round(f.turn, 1))
                                                      for f in self.folds),
                tuple((text, near(p)) for text, p in self.marks), tuple((f, near(p)) for f, p in self.stops),
                tuple(map(near, self.holes)))


def piece_ends(pattern: Pattern) -> tuple[PieceEnd, PieceEnd] | None:
    """Left and right end of a pattern that lies along x, edge A on top; ``None`` where its middle is not the plain
    strip that the girth tape tells of, so that it has to be marked out as a whole."""
    x0, _, x1, y1 = pattern.box
    chains = _chains(pattern)
    if chains is None or any(fold.kind == "roll" for fold in pattern.folds) or pattern.holes:
        return None
    found = []
    for side, chain in zip(("left", "right"), chains, strict=True):
        def told(p: Point, side: str = side) -> Point:
            return (p[0] - x0 if side == "left" else x1 - p[0]), y1 - p[1]
        found.append(_end(pattern, side, tuple(map(told, chain)), told))  # type: ignore[arg-type]
    left, right = found
    return (left, right) if left.depth + right.depth <= x1 - x0 + _SAME else None


def _end(pattern: Pattern, side: Side, corners: tuple[Point, ...], told) -> PieceEnd:  # type: ignore[no-untyped-def]
    x0, _, x1, _ = pattern.box

    def mine(p: Point) -> bool:
        return (p[0] < (x0 + x1) / 2) == (side == "left")
    folds, stops = [], []
    for fold in pattern.folds:
        if abs(fold.a[1] - fold.b[1]) > _SAME or _within(fold.a, fold.b, mine):
            if mine(((fold.a[0] + fold.b[0]) / 2, 0.0)):
                folds.append(EndFold(fold.id, told(fold.a), told(fold.b), fold.turn))
        else:
            stops += [(fold.id, told(p)) for p in (fold.a, fold.b) if mine(p) and told(p)[0] > _SAME]
    lines = [(mark.text, p) for mark in pattern.marks if mark.text != SCREW and not mark.text.startswith(pattern.id)
             for p in (mark.a, mark.b) if mine(p)]
    holes = [told(mark.a) for mark in pattern.marks if mark.text == SCREW and mine(mark.a)]
    return PieceEnd(side, corners, tuple(sorted(folds, key=lambda f: (f.a, f.id))),
                    tuple(sorted((text, told(p)) for text, p in lines)), tuple(sorted(stops)), tuple(sorted(holes)))


def _within(a: Point, b: Point, mine) -> bool:  # type: ignore[no-untyped-def]
    return bool(mine(a) == mine(b))


def _chains(pattern: Pattern) -> tuple[tuple[Point, ...], tuple[Point, ...]] | None:
    """The outline's corners on the left and on the right, from edge A down; ``None`` unless the outline crosses the
    middle just twice, along edge A and along edge B."""
    ring, (x0, y0, x1, y1) = pattern.outline, pattern.box
    middle = (x0 + x1) / 2
    crossings = [n for n, p in enumerate(ring) if (p[0] < middle) != (ring[(n + 1) % len(ring)][0] < middle)]
    if len(crossings) != 2:
        return None
    for level in ({ring[n][1], ring[(n + 1) % len(ring)][1]} for n in crossings):
        if max(level) - min(level) > _SAME or min(abs(max(level) - y1), abs(max(level) - y0)) > _SAME:
            return None
    first, second = crossings
    one = [ring[(first + 1 + k) % len(ring)] for k in range(second - first)]
    other = [ring[(second + 1 + k) % len(ring)] for k in range(len(ring) - (second - first))]
    left, right = (one, other) if one[0][0] < middle else (other, one)
    # anticlockwise: the left side runs down from edge A, the right side up to it
    return _corners(left), _corners(right[::-1])


def _corners(chain: list[Point]) -> tuple[Point, ...]:
    """The points of a chain without those in line with their neighbours."""
    kept = chain[:1]
    for n in range(1, len(chain) - 1):
        a, p, b = kept[-1], chain[n], chain[n + 1]
        size = dist(a, b)
        off = abs((b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0])) / size if size else hypot(
            p[0] - a[0], p[1] - a[1])
        if off > _STRAIGHT:
            kept.append(p)
    return tuple([*kept, *chain[-1:]]) if len(chain) > 1 else tuple(kept)


def as_left(end: PieceEnd) -> PieceEnd:
    """The end as it would be marked at the left: told the same, seen in a mirror."""
    return replace(end, side="left")


@dataclass(frozen=True)
class EndPoint:
    """A numbered point of an end: ``place`` (in from the end, down from edge A) in mm, what stands there in ``what``:
    nothing at a corner of the outline, else the fold, the mark or the screw."""

    number: int
    place: Point
    what: str = ""


def end_points(end: PieceEnd) -> tuple[EndPoint, ...]:
    """The points of an end in the order they are marked: corners from edge A down, then where folds and marks begin
    that lie on none of them."""
    found: list[tuple[Point, str]] = [(p, "") for p in end.corners]
    rest = [(p, fold.id) for fold in end.folds for p in (fold.a, fold.b)]
    rest += [(p, fold) for fold, p in end.stops if not _on_square_cut(end, p)]
    rest += [(p, text or "line") for text, p in end.marks]
    for place, what in (*rest, *((p, SCREW) for p in end.holes)):
        if all(dist(place, other) > _SAME for other, _ in found):
            found.append((place, what))
    return tuple(EndPoint(n, place, what) for n, (place, what) in enumerate(found, 1))


def _on_square_cut(end: PieceEnd, p: Point) -> bool:
    """Whether a fold ends on a cut square to it: the girth tape and the cut say where."""
    return any(abs(a[0] - p[0]) < _SAME and abs(b[0] - p[0]) < _SAME and a[1] - _SAME < p[1] < b[1] + _SAME
               for a, b in zip(end.corners, end.corners[1:], strict=False))


@dataclass(frozen=True)
class Slope:
    """A slanting cut from point ``a`` to ``b`` as a hand marks it: ``off`` mm sideways on every ``over`` mm along, with
    ``degrees`` between the two; ``along`` says which way the longer one runs: ``in`` or ``down``."""

    a: int
    b: int
    off: float
    over: float
    degrees: float
    along: Literal["in", "down"]


def slopes(end: PieceEnd, over: float = 100.0) -> tuple[Slope, ...]:
    """The slanting cuts of an end; ``over``: on how many mm the slope is told."""
    from math import atan2, degrees

    found = []
    for n, (a, b) in enumerate(zip(end.corners, end.corners[1:], strict=False), 1):
        x, y = abs(b[0] - a[0]), abs(b[1] - a[1])
        if min(x, y) > _SAME * 4:
            long, short = max(x, y), min(x, y)
            found.append(Slope(n, n + 1, short / long * over, over, degrees(atan2(short, long)),
                               "in" if x > y else "down"))
    return tuple(found)
