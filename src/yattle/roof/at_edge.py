"""What is decided at an edge from the planes beside it: which face lies on which side, whose water comes to it."""

from __future__ import annotations

import math

import shapely

from yattle.roof.build import Roof, beside
from yattle.roof.edges import Edge
from yattle.roof.plane import Point, Point3

_BESIDE = (10.0, 3.0, 1.0)  # mm beside an edge, where it is looked which face is there; nearer where a face is narrow
_ONE_CORNER = 2.0  # mm
_PAST = 20.0  # mm: how far past a wall's end it is looked
LEAST_RAKE = 150.0
"""A shorter rake between two eave lines is a step that a corner piece closes, mm."""
_LONGEST_STEP = 2000.0  # mm
_TO = 1e-3  # of a fall's direction: what comes less straight to an edge runs along it


def across(edge: Edge) -> Point:
    """The unit vector in plan square to an edge, to the right looking from its ``a`` to its ``b``."""
    dx, dy = edge.b[0] - edge.a[0], edge.b[1] - edge.a[1]
    size = math.hypot(dx, dy) or 1.0
    return dy / size, -dx / size


def share_a_corner(one: Edge, other: Edge) -> bool:
    """Whether two edges end within 2 mm of each other."""
    return any(abs(p[0] - q[0]) < _ONE_CORNER and math.dist(p, q) < _ONE_CORNER  # few pairs are even near
               for p in (one.a, one.b) for q in (other.a, other.b))


def sides(roof: Roof, edge: Edge) -> tuple[str, str]:
    """The faces on the left and on the right of a crease, looking from its ``a`` to its ``b``; of a pitch break the
    upper and the lower one."""
    one, other = edge.facets
    (x, y), (dx, dy) = _middle(edge), across(edge)
    for step in _BESIDE:
        for side in (-1, 1):
            found = _seen(roof, edge, (x + side * step * dx, y + side * step * dy))
            if found is not None:
                return (one, other) if (found == one) == (side < 0) else (other, one)
    return one, other


def _seen(roof: Roof, edge: Edge, at: Point) -> str | None:
    """Which of an edge's faces is seen from above at a place: one may go on under the other."""
    here = [facet for facet in map(roof.facet, edge.facets) if facet.shape.covers(shapely.Point(at))]
    return max(here, key=lambda facet: facet.plane.z(at)).id if here else None


def into(roof: Roof, edge: Edge, face: str) -> Point:
    """The unit vector in plan square to an edge, from it into one of its faces."""
    dx, dy = across(edge)
    if len(edge.facets) == 2:
        return (-dx, -dy) if sides(roof, edge)[0] == face else (dx, dy)
    x, y = beside(roof, edge)
    return (dx, dy) if dx * (x - edge.a[0]) + dy * (y - edge.a[1]) > 0 else (-dx, -dy)


def comes_to(roof: Roof, edge: Edge, face: str) -> float:
    """How straight the water of a face comes to one of its edges: 1 square to it, 0 along it or of a flat face, below 0
    away from it."""
    fall, way = roof.facet(face).plane.fall, into(roof, edge, face)
    return 0.0 if fall is None else -(fall[0] * way[0] + fall[1] * way[1])


def collects(roof: Roof, edge: Edge) -> bool:
    """Whether a wall's roof falls against it, so that water comes to the wall."""
    return bool(edge.wall) and comes_to(roof, edge, edge.facets[0]) > _TO


def goes_past(roof: Roof, edge: Edge, at: Point3, other_end: Point3) -> bool:
    """Whether the roof goes on past a wall's end: then the wall has an outer corner there, else an inner one."""
    long = math.dist(at[:2], other_end[:2]) or 1.0
    x, y = beside(roof, edge)
    mid = ((at[0] + other_end[0]) / 2, (at[1] + other_end[1]) / 2)
    past = [a + (a - b) / long * _PAST + (p - m) for a, b, p, m in zip(at[:2], other_end[:2], (x, y), mid, strict=True)]
    return bool(roof.facet(edge.facets[0]).shape.intersects(shapely.Point(past)))


def is_step(roof: Roof, edge: Edge) -> bool:
    """Whether a rake is only the step between two eave lines: at the foot of a hip, where a corner's two eaves lie at
    different heights, or, too short for a trim, at the foot of a valley."""
    if edge.kind != "rake" or edge.length >= _LONGEST_STEP:
        return False
    (face,) = edge.facets
    kinds = [{e.kind for e in roof.ending_at(end) if e.id != edge.id} for end in (edge.a, edge.b)]
    if "eave" not in kinds[0] or len(roof.facet(face).ring) < 4:
        return False
    return ("hip" in kinds[1] and "eave" in kinds[1]) or (
        edge.length < LEAST_RAKE and bool({"hip", "valley"} & kinds[1]))


def _middle(edge: Edge) -> Point:
    return (edge.a[0] + edge.b[0]) / 2, (edge.a[1] + edge.b[1]) / 2
