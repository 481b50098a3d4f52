"""Where rain goes: fall lines, what drains into each edge, a drop traced from any place.

Areas are plan areas, m², since rain is counted on the level. What a facet sends to an edge and
what a valley passes on is exact; water that spreads along a pitch break or drips from one roof onto
another is followed from ``_SAMPLES`` places along the edge.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

import numpy as np
import shapely

from yattle.roof.at_edge import collects, goes_past, sides
from yattle.roof.build import Roof
from yattle.roof.edges import Edge
from yattle.roof.facets import Facet
from yattle.roof.plane import Plane, Point, Point3

End = Literal["off", "wall", "flat"]
_SAMPLES = 24
_STEP = 2.0  # mm beyond an edge
_AHEAD = 0.05  # mm: nearer, water that begins on an edge has not left it
_ROUNDED = 1e-7  # mm
_LEVEL = 1e-4  # degrees: what is flatter takes no water along
_ALONG_IT = 1e-3  # of a fall's direction: water that comes less straight to an edge runs along it
_MOST = 60  # edges a drop may come to: more is a ring
RUNS_ALONG = ("valley", "skew-wall", "sidewall")


@dataclass(frozen=True)
class Drop:
    """The way of one drop: its places, the edges it came to, and how it ended: ``off`` the roof, standing
    against a ``wall``, or on a ``flat`` roof or in a level valley; the ``faces`` it ran over, one before each edge,
    each with where it came onto it and left it."""

    places: tuple[Point3, ...]
    edges: tuple[str, ...]
    end: End
    faces: tuple[tuple[str, Point, Point], ...] = ()


@dataclass(frozen=True)
class Drainage:
    """Plan areas in m²: ``direct`` from the facets beside an edge, ``catchment`` all that comes to it."""

    direct: dict[str, float]
    catchment: dict[str, float]

    def flow(self, edge_id: str, rain: float) -> float:
        """Litres a second at an edge in ``rain`` mm an hour."""
        return self.catchment.get(edge_id, 0.0) * rain / 3600


def drop(roof: Roof, at: Point) -> Drop:
    """Follow a drop from the highest roof at ``at`` until it leaves. ``at`` in plan, mm."""
    facet = _facet_under(roof, at, math.inf)
    if facet is None:
        return Drop((), (), "off")
    return _follow(roof, facet, at)


def _follow(roof: Roof, facet: Facet, at: Point) -> Drop:
    places, edges, faces = [facet.plane.at(at)], list[str](), list[tuple[str, Point, Point]]()
    end: End = "off"
    for _ in range(_MOST):
        if facet.plane.fall is None:
            faces.append((facet.id, at, at))
            end = "flat"
            break
        reached = _downhill(roof, facet, at)
        if reached is None:
            break
        faces.append((facet.id, at, reached[0]))
        at, edge = reached
        places.append(facet.plane.at(at))
        edges.append(edge.id)
        if edge.kind == "headwall" or (edge.kind == "valley" and edge.slope <= _LEVEL):
            end = "wall" if edge.kind == "headwall" else "flat"
            break
        if edge.kind in RUNS_ALONG and edge.slope > _LEVEL:
            places.append(edge.a)
        onward = _beyond(roof, facet, edge, at)
        if onward is None:
            break
        facet, at = onward
    return Drop(tuple(places), tuple(edges), end, tuple(faces))


def foot_on(roof: Roof, edge: Edge) -> str | None:
    """The face onto which a valley's or a sloping wall's water comes at its low end; ``None`` where it leaves there."""
    if edge.kind not in RUNS_ALONG or edge.slope <= _LEVEL:
        return None
    upper = _upper(roof, edge)
    onward = _beyond(roof, upper, edge, edge.a[:2]) if upper.plane.fall else None
    return onward[0].id if onward is not None else None


def feeds(roof: Roof, edge: Edge) -> Edge | None:
    """The valley or back pan that a valley or back pan runs on into at its low end; ``None`` where there is none."""
    if edge.slope <= _LEVEL or not (edge.kind == "valley" or collects(roof, edge)):
        return None
    upper = _upper(roof, edge)
    onward = _beyond(roof, upper, edge, edge.a[:2]) if upper.plane.fall else None
    reached = _downhill(roof, *onward) if onward is not None and onward[0].plane.fall else None
    if reached is None or reached[1].id == edge.id or math.dist(reached[1].b, edge.a) > _STEP:
        return None
    return reached[1] if reached[1].kind == "valley" or collects(roof, reached[1]) else None


def spills_on(roof: Roof, edge: Edge) -> str | None:
    """The face onto whose lower panels a valley's foot brings its water, or a wall's back pan round its ends; ``None``
    where it leaves the roof, and for edges that collect none."""
    if feeds(roof, edge) is not None:
        return None
    if edge.kind == "valley":
        return foot_on(roof, edge)
    if not collects(roof, edge):
        return None
    past = goes_past(roof, edge, edge.a, edge.b) or goes_past(roof, edge, edge.b, edge.a)
    return foot_on(roof, edge) or (edge.facets[0] if past else None)


def _beyond(roof: Roof, facet: Facet, edge: Edge, at: Point) -> tuple[Facet, Point] | None:
    """The facet and place where water goes on after ``edge``; ``None`` where it leaves the roof."""
    fall = facet.plane.fall
    assert fall is not None
    if edge.kind == "valley" and edge.slope <= _LEVEL:
        return None
    if edge.kind in RUNS_ALONG and edge.slope > _LEVEL:
        way, low = _direction(edge.b, edge.a), edge.a
        place = (low[0] + way[0] * _STEP, low[1] + way[1] * _STEP)
        lower = _facet_under(roof, place, low[2] + 0.5)
        return (lower, place) if lower is not None else None
    place = (at[0] + fall[0] * _STEP, at[1] + fall[1] * _STEP)
    lower = _facet_under(roof, place, facet.plane.z(at) + 0.5, facet.id)
    return (lower, place) if lower is not None else None


def _direction(a: Point3, b: Point3) -> Point:
    size = math.dist(a[:2], b[:2]) or 1.0
    return (b[0] - a[0]) / size, (b[1] - a[1]) / size


def _facet_under(roof: Roof, at: Point, height: float, but: str = "") -> Facet | None:
    """The highest facet at ``at`` that is not higher than ``height``."""
    here = [f for f in roof.facets_at(at) if f.id != but and f.plane.z(at) <= height]
    return max(here, default=None, key=lambda f: f.plane.z(at)) if here else None


def _downhill(roof: Roof, facet: Facet, at: Point) -> tuple[Point, Edge] | None:
    """Where the fall line from ``at`` leaves the facet, and over which edge."""
    end = fall_line(facet, at)
    edge = None if end is None else edge_at(roof, facet.id, end)
    return (end, edge) if end is not None and edge is not None else None


def fall_line(facet: Facet, at: Point) -> Point | None:
    """Where water that runs down a face from a place in plan leaves it, mm; ``None`` on a level face, or off it."""
    fall = facet.plane.fall
    if fall is None:
        return None
    a, b = facet.sides
    way = np.array(fall)
    (ax, ay), (bx, by) = (((ends - at) @ np.column_stack((way, (-way[1], way[0])))).T for ends in (a, b))
    off = np.abs(ay - by)
    met = np.nonzero((np.minimum(ay, by) <= _ROUNDED) & (np.maximum(ay, by) >= -_ROUNDED) & (off > _ROUNDED))[0]
    share = np.clip(ay[met] / (ay[met] - by[met]), 0.0, 1.0)
    ahead = ax[met] + share * (bx[met] - ax[met])
    met, share, ahead = met[ahead > _AHEAD], share[ahead > _AHEAD], ahead[ahead > _AHEAD]
    if not len(met):
        return None
    n = int(ahead.argmin())
    x, y = (a[met[n]] + share[n] * (b[met[n]] - a[met[n]])).tolist()
    return x, y


def edge_at(roof: Roof, facet_id: str, at: Point, near: float = 1.0) -> Edge | None:
    """The edge of a facet that passes ``at`` in plan, of several one that its water comes to, one that collects it
    first. Lengths in mm; ``None`` where none passes so near."""
    here = [e for e in roof.edges_of(facet_id) if _boxed(at, e, near) and _away(at, e) < near]
    if len(here) < 2:
        return here[0] if here else None
    fall = roof.facet(facet_id).plane.fall or (0.0, 0.0)

    def along(edge: Edge) -> bool:
        dx, dy = _direction(edge.a, edge.b)
        return abs(fall[0] * dy - fall[1] * dx) < _ALONG_IT
    return min(here, key=lambda e: (along(e), e.kind not in RUNS_ALONG, e.id))


def _boxed(at: Point, edge: Edge, near: float) -> bool:
    """Whether a place lies within ``near`` mm of the box round an edge in plan."""
    (ax, ay, _), (bx, by, _), (x, y) = edge.a, edge.b, at
    return (ax if ax < bx else bx) - near <= x <= (bx if ax < bx else ax) + near and (
        ay if ay < by else by) - near <= y <= (by if ay < by else ay) + near


def _away(at: Point, edge: Edge) -> float:
    """How far a place is from an edge in plan, mm."""
    (ax, ay, _), (bx, by, _) = edge.a, edge.b
    size = (bx - ax) ** 2 + (by - ay) ** 2
    share = max(0.0, min(1.0, ((at[0] - ax) * (bx - ax) + (at[1] - ay) * (by - ay)) / size)) if size else 0.0
    return math.hypot(at[0] - ax - share * (bx - ax), at[1] - ay - share * (by - ay))


def drainage(roof: Roof) -> Drainage:
    """Direct areas and whole catchments of all edges that take water."""
    direct: dict[str, float] = {}
    for facet in roof.facets:
        if facet.plane.fall is None:
            for off, share in _ways_off(roof, facet):
                direct[off.id] = direct.get(off.id, 0.0) + share * facet.shape.area / 1e6
            continue
        for area, low in strips(facet):
            edge = edge_at(roof, facet.id, low)
            if edge is not None:
                direct[edge.id] = direct.get(edge.id, 0.0) + area / 1e6
    catchment = dict(direct)
    for edge in sorted(roof.edges, key=lambda e: -max(e.a[2], e.b[2])):
        if catchment.get(edge.id):
            for other, share in _passes_to(roof, edge):
                catchment[other] = catchment.get(other, 0.0) + share * catchment[edge.id]
    return Drainage(direct, catchment)


def _ways_off(roof: Roof, facet: Facet) -> Iterator[tuple[Edge, float]]:
    """The free edges over which a level face's water leaves, each with its share of it, by their lengths; where it has
    none the water stays, and counts for its walls."""
    edges = roof.edges_of(facet.id)
    free = [edge for edge in edges if edge.kind == "eave" or (
        edge.kind == "pitch-break" and sides(roof, edge)[0] == facet.id)] or list(edges)
    whole = sum(edge.length for edge in free)
    return ((edge, edge.length / whole) for edge in free)


def _passes_to(roof: Roof, edge: Edge) -> Iterator[tuple[str, float]]:
    """The next edges that an edge's water comes to, with shares."""
    if edge.kind == "headwall":
        return
    facet = _upper(roof, edge)
    along = edge.kind in RUNS_ALONG and edge.slope > _LEVEL
    count = 1 if along else _SAMPLES
    for n in range(count):
        share = (n + 0.5) / count
        at = (edge.a[0] + share * (edge.b[0] - edge.a[0]), edge.a[1] + share * (edge.b[1] - edge.a[1]))
        onward = _beyond(roof, facet, edge, at) if facet.plane.fall else None
        if onward is not None:
            reached = _downhill(roof, *onward) if onward[0].plane.fall else None
            if reached is not None and reached[1].id != edge.id:
                yield reached[1].id, 1 / count


def _upper(roof: Roof, edge: Edge) -> Facet:
    """Of an edge's facets the one whose water runs over it."""
    middle = ((edge.a[0] + edge.b[0]) / 2, (edge.a[1] + edge.b[1]) / 2)
    facets = [roof.facet(name) for name in edge.facets]

    def toward(facet: Facet) -> float:
        fall = facet.plane.fall or (0.0, 0.0)
        back = (middle[0] - fall[0] * _STEP, middle[1] - fall[1] * _STEP)
        return 0.0 if facet.shape.covers(shapely.Point(back)) and facet.plane.fall else 1.0
    return min(facets, key=toward)


def strips(facet: Facet) -> Iterator[tuple[float, Point]]:
    """A facet cut along its fall at every corner: each strip's plan area, mm², and the middle of its low end."""
    across, fall = axes(facet.plane)
    rings = [[(x * across[0] + y * across[1], x * fall[0] + y * fall[1]) for x, y in ring.coords[:-1]]
             for ring in (facet.shape.exterior, *facet.shape.interiors)]
    stops = sorted({round(s, 4) for ring in rings for s, _ in ring})
    for left, right in pairwise(stops):
        if right - left > 0.01:
            middle = (left + right) / 2
            downs = _crossings(rings, middle)
            for top, low in zip(downs[::2], downs[1::2], strict=False):
                yield ((right - left) * (low - top),
                       (middle * across[0] + low * fall[0], middle * across[1] + low * fall[1]))


def axes(plane: Plane) -> tuple[Point, Point]:
    """Unit vectors in plan across the fall (level, to the left looking uphill from below: rightward) and down it."""
    fall = plane.fall or (0.0, -1.0)
    return (-fall[1], fall[0]), fall


def _crossings(rings: list[list[Point]], at: float) -> list[float]:
    found = []
    for ring in rings:
        for (s0, d0), (s1, d1) in zip(ring, [*ring[1:], ring[0]], strict=True):
            if (s0 < at) != (s1 < at):
                found.append(d0 + (at - s0) / (s1 - s0) * (d1 - d0))
    return sorted(found)
