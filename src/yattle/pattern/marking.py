"""Marking out: numbered points of a flat pattern, each measured from two edges of its blank, and a check measure."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import combinations
from math import dist, hypot

from shapely import Polygon

from yattle.pattern.pattern import Mark, Pattern, Point

_MOST = 100  # points of one outline, four columns of a page: a curve is marked at as many as there is room for
_SAME = 0.05  # mm: two places that one point stands for


@dataclass(frozen=True)
class MarkPoint:
    """A point to be marked: its number, its place on the pattern, and how far it lies from the blank's left end and
    from its upper edge (mm, from the datum, never chained). ``beside`` points to where its number has room: off the
    sheet, at a hole away from the hole; length 1 or 0."""

    number: int
    place: Point
    left: float
    top: float
    beside: Point = (0.0, 0.0)


def marking_points(pattern: Pattern) -> list[MarkPoint]:
    """Corners of the outline from the upper left one on, clockwise, then of the holes, then ends of folds and marks
    that lie on none of them. Paint face up, edge A on top, as the pattern is drawn."""
    x0, _, _, y1 = pattern.box
    found: list[tuple[Point, Point]] = []
    found += _of_ring(pattern.outline)
    for hole in pattern.holes:
        found += [(place, (-x, -y)) for place, (x, y) in _of_ring(hole)]
    ends = [end for fold in pattern.folds if fold.kind != "roll" for end in (fold.a, fold.b)]
    for end in (*ends, *(end for mark in _lines(pattern) for end in (mark.a, mark.b))):
        if all(dist(end, place) > _SAME for place, _ in found):
            found.append((end, (0.0, 0.0)))
    return [MarkPoint(n, place, place[0] - x0, y1 - place[1], beside)
            for n, (place, beside) in enumerate(found, 1)]


def check_measure(points: list[MarkPoint]) -> tuple[MarkPoint, MarkPoint, float] | None:
    """The two points farthest from each other and their distance in mm; that comes out if both are marked right."""
    pairs = combinations(points, 2)
    a, b = max(pairs, key=lambda pair: dist(pair[0].place, pair[1].place), default=(None, None))
    return (a, b, dist(a.place, b.place)) if a is not None and b is not None else None


def _lines(pattern: Pattern) -> list[Mark]:
    """What is marked besides folds; where the name is written matters to nobody."""
    return [mark for mark in pattern.marks if not mark.text.startswith(pattern.id)]


def _of_ring(ring: tuple[Point, ...]) -> list[tuple[Point, Point]]:
    """What is marked of a ring: its corners, and of curves so few points that all go on the page (Douglas and
    Peucker's choice, with the least tolerance that gives no more than that)."""
    left, high = min(x for x, _ in ring), max(y for _, y in ring)
    first = min(range(len(ring)), key=lambda n: ring[n][0] - left + high - ring[n][1])
    walk = (*ring[first:], *ring[:first])
    tolerance, sheet = _SAME, Polygon(walk)
    while len((kept := sheet.simplify(tolerance)).exterior.coords) - 1 > _MOST:
        tolerance *= 1.5
    marked = set(kept.exterior.coords)
    found = [(place, _outward(walk, n)) for n, place in enumerate(walk) if place in marked]
    return [*found[:1], *reversed(found[1:])]  # the ring runs anticlockwise, numbers clockwise


def _sides(ring: tuple[Point, ...], n: int) -> tuple[Point, Point]:
    """The directions of the sides before and after corner ``n``, length 1."""
    def towards(a: Point, b: Point) -> Point:
        size = dist(a, b) or 1.0
        return (b[0] - a[0]) / size, (b[1] - a[1]) / size
    return towards(ring[n - 1], ring[n]), towards(ring[n], ring[(n + 1) % len(ring)])


def _outward(ring: tuple[Point, ...], n: int) -> Point:
    """Off the sheet, which lies to the left of the walk round the outline, and round a hole."""
    (ax, ay), (bx, by) = _sides(ring, n)
    x, y = ay + by, -ax - bx
    size = hypot(x, y)
    return (x / size, y / size) if size > 1e-9 else (ax, ay)
