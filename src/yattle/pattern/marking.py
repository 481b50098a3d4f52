"""Marking out: numbered points of a flat pattern, each measured from two edges of its blank, and a check measure."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import combinations
from math import atan2, cos, degrees, dist, hypot, sin

from shapely import Polygon

from yattle.pattern.pattern import SCREW, Mark, Pattern, Point

_MOST = 100  # points of one outline, four columns of a page: a curve is marked at as many as there is room for
_ROUND = 0.4  # mm: so much a chord of a hole that is round lies off it
_SAME = 0.05  # mm: two places that one point stands for


@dataclass(frozen=True)
class MarkPoint:
    """A point to be marked: its number, its place on the pattern, and how far it lies from the blank's left end and
    from its upper edge (mm, from the datum, never chained). ``beside`` points to where its number has room: off the
    sheet, at a hole away from the hole; length 1 or 0. ``hole``: it is the middle of a round hole, whose longer and
    shorter diameter these are, mm; ``angle`` of the longer one from level, degrees."""

    number: int
    place: Point
    left: float
    top: float
    beside: Point = (0.0, 0.0)
    hole: tuple[float, float] | None = None
    angle: float = 0.0


def marking_points(pattern: Pattern) -> list[MarkPoint]:
    """Corners of the outline from the upper left one on, clockwise, then of the holes (of a round one its middle), then
    ends of folds and marks that lie on none of them. Paint face up, edge A on top, as the pattern is drawn."""
    x0, _, _, y1 = pattern.box
    found: list[tuple[Point, Point]] = []
    found += _of_ring(pattern.outline)
    rounds = {}
    for hole in pattern.holes:
        ellipse = round_hole(hole)
        if ellipse is not None:
            rounds[ellipse[0]] = ellipse[1:]
            found.append((ellipse[0], (0.0, 0.0)))
        else:
            found += [(place, (-x, -y)) for place, (x, y) in _of_ring(hole)]
    ends = [end for fold in pattern.folds if fold.kind != "roll" for end in (fold.a, fold.b)]
    for end in (*ends, *(end for mark in _lines(pattern) for end in (mark.a, mark.b))):
        if all(dist(end, place) > _SAME for place, _ in found):
            found.append((end, (0.0, 0.0)))
    return [MarkPoint(n, place, place[0] - x0, y1 - place[1], beside, *rounds.get(place, (None, 0.0)))
            for n, (place, beside) in enumerate(found, 1)]


def round_hole(ring: tuple[Point, ...]) -> tuple[Point, tuple[float, float], float] | None:
    """Middle, longer and shorter diameter (mm) and the longer one's angle from level (degrees) of a hole that is a
    circle or an ellipse; ``None`` of one with corners."""
    if len(ring) < 12:
        return None
    centre = Polygon(ring).centroid
    middle, turn = (float(centre.x), float(centre.y)), _main_axis(ring, centre.x, centre.y)
    told = [((x - middle[0]) * cos(turn) + (y - middle[1]) * sin(turn),
             -(x - middle[0]) * sin(turn) + (y - middle[1]) * cos(turn)) for x, y in ring]
    one, two = 2 * max(abs(u) for u, _ in told), 2 * max(abs(v) for _, v in told)
    if min(one, two) <= 0 or any(abs(hypot(u / one, v / two) - 0.5) * min(one, two) > _ROUND for u, v in told):
        return None
    return middle, (one, two), (degrees(turn) + 90) % 180 - 90


def _main_axis(ring: tuple[Point, ...], x0: float, y0: float) -> float:
    """The direction of the longer axis of an area round its middle, radians from x (its second moments)."""
    xx = yy = xy = 0.0
    for (ax, ay), (bx, by) in zip(ring, (*ring[1:], ring[0]), strict=True):
        ax, ay, bx, by = ax - x0, ay - y0, bx - x0, by - y0
        cross = ax * by - bx * ay
        xx += cross * (ax * ax + ax * bx + bx * bx) / 12
        yy += cross * (ay * ay + ay * by + by * by) / 12
        xy += cross * (ax * by + 2 * ax * ay + 2 * bx * by + bx * ay) / 24
    sign = 1.0 if xx >= 0 else -1.0  # a ring that runs clockwise
    return atan2(2 * xy * sign, (xx - yy) * sign) / 2


def check_measure(points: list[MarkPoint]) -> tuple[MarkPoint, MarkPoint, float] | None:
    """The two points farthest from each other and their distance in mm; that comes out if both are marked right."""
    pairs = combinations((point for point in points if point.hole is None), 2)
    a, b = max(pairs, key=lambda pair: dist(pair[0].place, pair[1].place), default=(None, None))
    return (a, b, dist(a.place, b.place)) if a is not None and b is not None else None


def _lines(pattern: Pattern) -> list[Mark]:
    """What is marked besides folds; where the name is written matters to nobody, and of screws that stand evenly in a
    row the first and the last say where they are."""
    marks = [mark for mark in pattern.marks if not mark.text.startswith(pattern.id)]
    return [mark for n, mark in enumerate(marks) if not (0 < n < len(marks) - 1 and _even(marks[n - 1:n + 2]))]


def _even(three: list[Mark]) -> bool:
    """Whether the middle one of three screws stands halfway between the others."""
    a, b, c = (mark.a for mark in three)
    return all(mark.text == SCREW for mark in three) and dist(b, ((a[0] + c[0]) / 2, (a[1] + c[1]) / 2)) < _SAME


def has_rows(pattern: Pattern) -> bool:
    """Whether screws stand evenly in rows, of which only the ends are numbered."""
    return len(_lines(pattern)) < sum(not mark.text.startswith(pattern.id) for mark in pattern.marks)


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
