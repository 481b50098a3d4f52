"""A panel's floor cut clear of what lies in its corner though its own outline does not end there."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from itertools import pairwise

import shapely
from shapely.affinity import affine_transform, translate
from shapely.geometry.polygon import orient

from yattle import overlay
from yattle.details.pan_floor import CLEAR, Place
from yattle.roof import Roof
from yattle.roof.at_edge import sides
from yattle.roof.panel_parts import boxes_in, without_necks
from yattle.roof.panel_rule import NOTHING, face_frame
from yattle.roof.panels import PanelPlan
from yattle.roof.plane import Plane, below

Side = tuple[Place, Place, str]
Shapes = tuple[shapely.Geometry, ...]
_ON = 0.1  # mm: so near an edge lies on the side that it was
_GRID = 1e-4  # mm
_LEAST = 50.0  # mm² that are worth a cut
_CORNER = 2.0  # mm: ends that are nearer to each other are one corner
_PAST_FOOT = 300.0  # mm below an eave, on the slope: no panel goes on further
_LOCK = 15.0  # mm beside a seam's line that its lock takes
_HANGS = 42.0  # mm in plan that panels hang over an eave
NONE = shapely.Polygon()
_DECK = 20.0  # mm: boards over a roof's plane, where it hangs out


@dataclass(frozen=True)
class KeptClear:
    """What panels of a face keep clear of though their outlines do not end there, in the face's own coordinates, mm:
    the lines of ``valleys``, places below ``breaks``, and places under other roofs too ``low`` for their flats, or for
    their ``seams``, which stay clear of what they are cut ``round_it`` too; ``free``: the face without what stands
    there, where their laps go."""

    valleys: Shapes
    breaks: Shapes
    low: Shapes
    seams: Shapes
    round_it: shapely.Geometry
    free: shapely.Geometry


def kept_clear_on(roof: Roof, laid: PanelPlan, core: float, round_it: shapely.Geometry = NONE) -> KeptClear:
    """What the panels of a face keep clear of; ``core``: how thick a sandwich is under its flats; ``round_it``: what
    stands there, in the face's own coordinates. In mm."""
    low = tuple(under_others(roof, laid, core)) if core else ()
    breaks = tuple(low_places(roof, laid))
    beside = (box.buffer(_LOCK - CLEAR, join_style="mitre") for box in breaks)
    locks = () if round_it.is_empty else (round_it.buffer(_LOCK, join_style="mitre"),)
    facet = roof.facet(laid.facet)
    frame = face_frame(facet)
    free = overlay.difference(frame.shape, overlay.union_all(boxes_in(roof, facet, frame, laid.rule)))
    return KeptClear(tuple(valleys_of(roof, laid)), breaks, low,
                     (*under_others(roof, laid, laid.rule.height + core, _HANGS), *beside, *locks), round_it, free)


def clear_of(edges: list[Side], held: Iterable[shapely.Geometry], kind: str) -> list[Side]:
    """The edges of a floor, anticlockwise as (from, to, what it ends at), in mm, without what lies in ``held``; its
    largest part, new edges of this ``kind``."""
    for shape in held:
        ring = shapely.Polygon([a for a, *_ in edges])
        if overlay.intersection(ring, shape).area < _LEAST:
            continue
        left = max(shapely.get_parts(without_necks(overlay.difference(ring, shape))),
                   key=lambda part: float(part.area), default=ring)
        corners = [(float(x), float(y)) for x, y in orient(left, 1.0).exterior.coords]
        edges = [(a, b, _side_of(a, b, edges, kind)) for a, b in pairwise(corners)]
    return edges


def without_short(edges: list[Side], least: float) -> list[Side]:
    """The edges of a floor without those shorter than ``least`` mm: each of the others goes on to where the next one
    begins."""
    kept = [edge for edge in edges if math.dist(edge[0], edge[1]) >= least]
    return [(a, after[0], side) for (a, _, side), after in zip(kept, [*kept[1:], *kept[:1]], strict=True)]


def _side_of(a: Place, b: Place, edges: list[Side], kind: str) -> str:
    middle = shapely.Point((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
    return next((side for one, other, side in edges if shapely.LineString([one, other]).distance(middle) < _ON), kind)


def valleys_of(roof: Roof, laid: PanelPlan) -> Iterator[shapely.LineString]:
    """The valleys of a face whose foot is at one of its eaves or rakes, in its own coordinates, each on below its foot
    as far as a panel's corner can go there."""
    frame, edges = face_frame(roof.facet(laid.facet)), roof.edges_of(laid.facet)
    free = [end for edge in edges if edge.kind in ("eave", "rake") for end in (edge.a, edge.b)]
    for edge in edges:
        if edge.kind == "valley":
            foot, head = sorted((edge.a, edge.b), key=lambda end: end[2])
            low, high = frame.at(foot[:2]), frame.at(head[:2])
            if high[1] - low[1] > NOTHING and any(math.dist(foot, end) < _CORNER for end in free):
                by = _PAST_FOOT / (high[1] - low[1])
                yield shapely.LineString([(low[0] + (low[0] - high[0]) * by, low[1] + (low[1] - high[1]) * by), high])


def under_others(roof: Roof, laid: PanelPlan, stands: float, past: float = 0.0) -> Iterator[shapely.Geometry]:
    """Where another block's roof, and its panels ``past`` its eave, hang so low over this face that what stands so many
    mm on it finds no room beneath, in the face's own coordinates, mm."""
    facet, frame = roof.facet(laid.facet), face_frame(roof.facet(laid.facet))
    own = _with_overhang(facet.shape, facet.plane, past)
    for other in roof.facets:
        if other.block == facet.block or not shapely.intersects(other.shape, own):
            continue
        need = stands * facet.plane.stretch + _DECK * other.plane.stretch
        level = Plane(other.plane.gx, other.plane.gy, other.plane.c - need)
        for part in shapely.get_parts(overlay.intersection(other.shape, own)):
            if isinstance(part, shapely.Polygon) and part.area > _LEAST:
                part = _with_overhang(part, other.plane, past).convex_hull if past else part
                over = below(tuple(part.convex_hull.exterior.coords[:-1]), facet.plane, other.plane)
                ring = below(over, level, facet.plane)
                low = overlay.intersection(shapely.Polygon(ring), part) if len(ring) > 2 else shapely.Polygon()
                if low.area > _LEAST:
                    yield affine_transform(low, frame.matrix).buffer(_LOCK if past else CLEAR, join_style="mitre")


def _with_overhang(part: shapely.Polygon, plane: Plane, by: float) -> shapely.Geometry:
    """A part of a roof in plan with what its panels hang out over an eave there, mm."""
    x, y = plane.fall or (0.0, 0.0)
    if not by:
        return part
    return overlay.union(part, translate(part, by * x, by * y), grid_size=_GRID)  # sharp corners tangle without it


def clear_line(a: Place, b: Place, held: Iterable[shapely.Geometry]) -> Iterator[tuple[Place, Place]]:
    """The parts of a line, in its own direction, that are not in ``held``; mm."""
    line: shapely.Geometry = shapely.LineString([a, b])
    for shape in held:
        if shapely.intersects(shape, line):
            line = overlay.difference(line, shape)
    for part in shapely.get_parts(line) if not line.is_empty else ():
        (ax, ay), (bx, by) = part.coords[0], part.coords[-1]
        yield (ax, ay), (bx, by)


def low_places(roof: Roof, laid: PanelPlan) -> Iterator[shapely.Geometry]:
    """Under the ends of a shed roof that hangs out beside its walls, where it comes down on this face: too low there
    for panels and their seams beneath it; in the face's own coordinates, mm."""
    facet, rule = roof.facet(laid.facet), laid.rule
    for edge in roof.edges_of(laid.facet) if rule.at_break < 0.0 else ():
        if edge.kind == "pitch-break" and edge.fold and sides(roof, edge)[0] == facet.id:
            (left, at), (right, _) = sorted(face_frame(facet).at(end[:2]) for end in (edge.a, edge.b))
            low = (rule.height + _DECK) / math.tan(math.radians(edge.fold))
            yield shapely.box(left - CLEAR, at - low, right + CLEAR, at - rule.at_break)
