"""A panel's floor cut clear of what lies in its corner though its own outline does not end there."""

from __future__ import annotations

from collections.abc import Iterable
from itertools import pairwise

import shapely
from shapely.geometry.polygon import orient

from yattle.details.pan_floor import Place

Side = tuple[Place, Place, str]
_ON = 0.1  # mm: so near an edge lies on the side that it was
_LEAST = 50.0  # mm² that are worth a cut


def clear_of(edges: list[Side], held: Iterable[shapely.Geometry], kind: str) -> list[Side]:
    """The edges of a floor, anticlockwise as (from, to, what it ends at), in mm, without what lies in ``held``; its
    largest part, new edges of this ``kind``."""
    for shape in held:
        ring = shapely.Polygon([a for a, *_ in edges])
        if shapely.intersection(ring, shape).area < _LEAST:
            continue
        left = max(shapely.get_parts(shapely.difference(ring, shape)), key=lambda part: float(part.area), default=ring)
        corners = [(float(x), float(y)) for x, y in orient(left, 1.0).exterior.coords]
        edges = [(a, b, _side_of(a, b, edges, kind)) for a, b in pairwise(corners)]
    return edges


def _side_of(a: Place, b: Place, edges: list[Side], kind: str) -> str:
    middle = shapely.Point((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
    return next((side for one, other, side in edges if shapely.LineString([one, other]).distance(middle) < _ON), kind)
