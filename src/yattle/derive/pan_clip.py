"""A panel's floor cut clear of what lies in its corner though its own outline does not end there."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from itertools import pairwise

import shapely
from shapely.geometry.polygon import orient

from yattle.details.pan_floor import CLEAR, Place
from yattle.roof import Roof
from yattle.roof.at_edge import sides
from yattle.roof.panel_rule import NOTHING, face_frame
from yattle.roof.panels import PanelPlan

Side = tuple[Place, Place, str]
_ON = 0.1  # mm: so near an edge lies on the side that it was
_LEAST = 50.0  # mm² that are worth a cut
_CORNER = 2.0  # mm: ends that are nearer to each other are one corner
_PAST_FOOT = 300.0  # mm below an eave, on the slope: no panel goes on further
_DECK = 20.0  # mm: boards over a roof's plane, where it hangs out


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


def valleys_of(roof: Roof, laid: PanelPlan) -> Iterator[shapely.LineString]:
    """The valleys of a face whose foot is at one of its eaves, in its own coordinates, each on below its foot as far as
    a panel's corner can go there."""
    frame, edges = face_frame(roof.facet(laid.facet)), roof.edges_of(laid.facet)
    eaves = [end for edge in edges if edge.kind == "eave" for end in (edge.a, edge.b)]
    for edge in edges:
        if edge.kind == "valley":
            foot, head = sorted((edge.a, edge.b), key=lambda end: end[2])
            low, high = frame.at(foot[:2]), frame.at(head[:2])
            if high[1] - low[1] > NOTHING and any(math.dist(foot, end) < _CORNER for end in eaves):
                by = _PAST_FOOT / (high[1] - low[1])
                yield shapely.LineString([(low[0] + (low[0] - high[0]) * by, low[1] + (low[1] - high[1]) * by), high])


def low_places(roof: Roof, laid: PanelPlan) -> Iterator[shapely.Geometry]:
    """Under the ends of a shed roof that hangs out beside its walls, where it comes down on this face: too low there
    for panels and their seams beneath it; in the face's own coordinates, mm."""
    facet, rule = roof.facet(laid.facet), laid.rule
    for edge in roof.edges_of(laid.facet) if rule.at_break < 0.0 else ():
        if edge.kind == "pitch-break" and edge.fold and sides(roof, edge)[0] == facet.id:
            (left, at), (right, _) = sorted(face_frame(facet).at(end[:2]) for end in (edge.a, edge.b))
            low = (rule.height + _DECK) / math.tan(math.radians(edge.fold))
            yield shapely.box(left - CLEAR, at - low, right + CLEAR, at - rule.at_break)
