"""Chimneys, curbs, skylights and pipes placed on the joined roof."""

from __future__ import annotations

from dataclasses import dataclass

import shapely

from yattle.errors import InputError
from yattle.roof.facets import Facet
from yattle.roof.model import BoxOpening, PipeOpening
from yattle.roof.plane import Point, Point3, _turned


@dataclass(frozen=True)
class Placed:
    """An opening with its corners on the roof, anticlockwise from above; ``facets`` those it stands on, the one under
    its middle first. Corners in mm."""

    opening: BoxOpening | PipeOpening
    corners: tuple[Point3, ...]
    facets: tuple[str, ...]


def outline(opening: BoxOpening | PipeOpening) -> tuple[Point, ...]:
    """Its corners in plan, anticlockwise; of a pipe those of the square around it. In mm."""
    if isinstance(opening, PipeOpening):
        across = along = opening.diameter
        u = (1.0, 0.0)
    else:
        across, along, u = opening.across, opening.along, _turned(opening.bearing)
    return tuple((opening.x + s * across / 2 * u[0] - t * along / 2 * u[1],
                  opening.y + s * across / 2 * u[1] + t * along / 2 * u[0])
                 for s, t in ((-1, -1), (1, -1), (1, 1), (-1, 1)))


def place(openings: tuple[BoxOpening | PipeOpening, ...], facets: tuple[Facet, ...]) -> tuple[Placed, ...]:
    """Every opening on the facets it stands on; raises :class:`InputError` where one is not wholly on the roof."""
    return tuple(_placed(f"openings.{n}", opening, facets) for n, opening in enumerate(openings))


def _placed(where: str, opening: BoxOpening | PipeOpening, facets: tuple[Facet, ...]) -> Placed:
    middle = _on_top((opening.x, opening.y), facets)
    if middle is None:
        raise InputError(where, f"{opening.id} at x {opening.x:g}, y {opening.y:g}, off the roof",
                         "a place on a face of the roof")
    corners, used = [], [middle.id]
    for x, y in outline(opening):
        facet = middle if _stands_on(middle, (x, y)) else _on_top((x, y), facets)
        if facet is None:
            raise InputError(where, f"{opening.id} with a corner at x {x:.0f}, y {y:.0f}, off the roof",
                             "a place and sizes that keep it on the roof")
        corners.append(facet.plane.at((x, y)))
        if facet.id not in used:
            used.append(facet.id)
    return Placed(opening, tuple(corners), tuple(used))


def _stands_on(facet: Facet, point: Point) -> bool:
    """Whether ``point`` is on the facet or its border; its box settles most questions."""
    x0, y0, x1, y1 = facet.shape.bounds
    inside = x0 - 1 < point[0] < x1 + 1 and y0 - 1 < point[1] < y1 + 1
    return inside and bool(facet.shape.distance(shapely.Point(point)) < 0.01)


def _on_top(point: Point, facets: tuple[Facet, ...]) -> Facet | None:
    """The highest facet over ``point``."""
    here = [f for f in facets if _stands_on(f, point)]
    return max(here, default=None, key=lambda f: f.plane.z(point)) if here else None
