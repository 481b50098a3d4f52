"""The roof cut along any line: what stands over each place of it."""

from __future__ import annotations

import math
from dataclasses import dataclass

import shapely

from yattle.roof.build import Roof
from yattle.roof.plane import Point


@dataclass(frozen=True)
class CutLine:
    """One facet (or wall) along the cut: points (distance along the line, height) in mm."""

    of: str
    points: tuple[Point, Point]
    wall: bool = False


def cut_through(roof: Roof, a: Point, b: Point) -> tuple[CutLine, ...]:
    """Every facet and wall that the upright plane over the line ``a``–``b`` meets, by distance from ``a``. All in
    mm."""
    line, size = shapely.LineString([a, b]), math.dist(a, b)
    found = []
    for facet in roof.facets:
        for part in shapely.get_parts(line.intersection(facet.shape)):
            points = shapely.get_coordinates(part)
            if len(points) == 2:
                (x0, y0), (x1, y1) = points.tolist()
                ends = sorted((math.dist(a, p), facet.plane.z(p)) for p in ((x0, y0), (x1, y1)))
                found.append(CutLine(facet.id, (ends[0], ends[1])))
    for body in roof.bodies:
        for x, y in shapely.get_coordinates(line.intersection(shapely.Polygon(body.walls).exterior)).tolist():
            if size > 0:
                found.append(CutLine(body.id, ((math.dist(a, (x, y)), _foot(roof, body.id, (x, y))),
                                               (math.dist(a, (x, y)), body.height((x, y)))), True))
    return tuple(sorted(found, key=lambda c: c.points[0][0]))


def _foot(roof: Roof, own: str, at: Point) -> float:
    """Where a wall begins: on a lower roof that it stands in, else at the ground, 0."""
    point = shapely.Point(at)
    under = [f.plane.z(at) for f in roof.facets if f.block != own and f.shape.distance(point) < 1.0]
    top = next(b.height(at) for b in roof.bodies if b.id == own)
    return max((z for z in under if z < top - 1.0), default=0.0)
