"""Where an opening stands as roofers tape it: up the slope from the edge below it, level from the edge at its left."""

from __future__ import annotations

from dataclasses import dataclass

import shapely
import shapely.ops

from yattle import overlay
from yattle.roof.build import Roof
from yattle.roof.edges import Edge
from yattle.roof.facets import Facet
from yattle.roof.model import BoxOpening, PipeOpening
from yattle.roof.openings import Placed, outline
from yattle.roof.panel_rule import FacetFrame, face_frame
from yattle.roof.plane import Point

_NEAR = 5.0  # mm between a place on a face's rim and its edge
_APART = 300.0  # mm that two openings stand apart at the least


@dataclass(frozen=True)
class TapedPlace:
    """Of an opening on one face, seen from the eave: ``up`` mm on the slope from the edge ``below`` to its lower side
    (of a pipe to its middle), ``aside`` mm from the edge at its ``left`` to its left side; the edges by their ids.
    ``upward`` and ``sideways``: from where to where in plan."""

    up: float
    below: str
    aside: float
    left: str
    upward: tuple[Point, Point]
    sideways: tuple[Point, Point]


def taped_place(roof: Roof, placed: Placed) -> TapedPlace | None:
    """``None`` of an opening on several faces, and where the face is level."""
    facet = roof.facet(placed.facets[0])
    if len(placed.facets) != 1 or facet.plane.fall is None:
        return None
    frame = face_frame(facet)
    low, left = _reach(frame, placed.opening)
    down = _rim(frame, low, (0.0, -1.0))
    beside = _rim(frame, left, (-1.0, 0.0))
    if down is None or beside is None:
        return None
    return TapedPlace(low[1] - down[1], _edge_at(roof, facet, frame, down), left[0] - beside[0],
                      _edge_at(roof, facet, frame, beside), (frame.plan(down), frame.plan(low)),
                      (frame.plan(beside), frame.plan(left)))


def moved(roof: Roof, placed: Placed, up: float | None = None, aside: float | None = None) -> Point:
    """The middle in plan that puts an opening so far ``up`` from the edge below it, or ``aside`` from that at its left;
    mm. What is not said stays."""
    now, facet = taped_place(roof, placed), roof.facet(placed.facets[0])
    own = placed.opening
    if now is None:
        return own.x, own.y
    frame = face_frame(facet)
    s, t = frame.at((own.x, own.y))
    return frame.plan((s + (aside - now.aside if aside is not None else 0.0),
                       t + (up - now.up if up is not None else 0.0)))


def free_place(facet: Facet, taken: list[shapely.Geometry], wide: float) -> Point | None:
    """A place of a face, near its middle, for an opening ``wide`` mm across that stands clear of those that are there;
    ``None`` where there is none."""
    room = overlay.difference(facet.shape.buffer(-wide / 2 - _APART / 3), overlay.union_all(
        [one.buffer(wide / 2 + _APART) for one in taken]))
    if room.is_empty:
        return None
    middle = facet.shape.representative_point()
    near = shapely.ops.nearest_points(room, middle)[0]
    return float(near.x), float(near.y)


def in_one_place(one: BoxOpening | PipeOpening, others: tuple[BoxOpening | PipeOpening, ...]) -> list[str]:
    """The ids of the openings that an opening overlaps in plan."""
    own = shapely.Polygon(outline(one))
    return [other.id for other in others if other.id != one.id and shapely.Polygon(outline(other)).intersects(own)]


def _reach(frame: FacetFrame, opening: BoxOpening | PipeOpening) -> tuple[Point, Point]:
    """The places that a tape is held to, in face coordinates, mm: the middle of the lower side and that of the left
    one; of a pipe its middle."""
    middle = frame.at((opening.x, opening.y))
    if isinstance(opening, PipeOpening):
        return middle, middle
    corners = [frame.at(corner) for corner in outline(opening)]
    return (middle[0], min(t for _, t in corners)), (min(s for s, _ in corners), middle[1])


def _rim(frame: FacetFrame, at: Point, way: Point) -> Point | None:
    """Where a line from a place leaves its face first."""
    far = 2 * (frame.width + frame.height)
    line = shapely.LineString([at, (at[0] + way[0] * far, at[1] + way[1] * far)])
    met = shapely.get_coordinates(overlay.intersection(line, frame.shape.exterior))
    if not len(met):
        return None
    s, t = min(met.tolist(), key=lambda one: abs(one[0] - at[0]) + abs(one[1] - at[1]))
    return s, t


def _edge_at(roof: Roof, facet: Facet, frame: FacetFrame, at: Point) -> str:
    def away(edge: Edge) -> float:
        line = shapely.LineString([frame.at((x, y)) for x, y, _ in (edge.a, edge.b)])
        return float(line.distance(shapely.Point(at)))
    near = min(roof.edges_of(facet.id), key=away, default=None)
    return near.id if near is not None and away(near) < _NEAR else ""
