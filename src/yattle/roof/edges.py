"""The edges of the joined roof: what each is, its true length, slope and fold, and what meets at its ends."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Any, Literal

import numpy as np
import shapely
from shapely import STRtree

from yattle.roof.facets import LEAST, Facet
from yattle.roof.plane import BlockBody, Plane, Point, Point3, angle_between

Kind = Literal["eave", "rake", "ridge", "half-ridge", "hip", "valley", "headwall", "sidewall", "skew-wall",
               "pitch-break"]
LETTERS: dict[Kind, str] = {"eave": "E", "rake": "G", "ridge": "R", "half-ridge": "T", "hip": "H", "valley": "V",
                            "headwall": "W", "sidewall": "S", "skew-wall": "K", "pitch-break": "B"}
"""The letter of each kind's runs: eave, gable edge, ridge, top edge, hip, valley, wall, side, skew, break."""
WALLS = ("headwall", "sidewall", "skew-wall")
_NEAR = 0.02  # mm in plan: on the line
_LEVEL = 0.05  # mm in height: on the plane
_STEP = 0.5  # mm: how far beside an edge is looked at what is there
_PARALLEL = math.sin(math.radians(0.05))


@dataclass(frozen=True)
class Edge:
    """``a`` to ``b`` in space: upward where it slopes, else with the first facet on the left; at a pitch break with the
    upper face, whose water runs over it, on the left.

    ``length``: true, mm; ``slope``: degrees from level, ≥ 0
    ``fold``: degrees ≥ 0 between the upward normals of its two planes, 180° less the dihedral angle; at a wall
        between the roof's and the wall's outward normal; ``None`` at a free edge
    ``wall``: the block whose wall it is
    """

    id: str
    kind: Kind
    facets: tuple[str, ...]
    a: Point3
    b: Point3
    fold: float | None
    wall: str = ""

    @property
    def length(self) -> float:
        """Its length in space, mm."""
        return math.dist(self.a, self.b)

    @property
    def slope(self) -> float:
        """Its own rise against level, degrees, 0 to 90."""
        return math.degrees(math.atan2(abs(self.b[2] - self.a[2]), math.dist(self.a[:2], self.b[:2])))

    @property
    def key(self) -> str:
        """What it is, however the edges are numbered: kind and facets."""
        return f"{self.kind} {' '.join(self.facets)}{' at ' + self.wall if self.wall else ''}"


@dataclass(frozen=True)
class Corner:
    """A place where edges end; ``edges`` their ids. ``at`` in space, mm."""

    at: Point3
    edges: tuple[str, ...]


@dataclass(frozen=True)
class _Border:
    """A piece of a facet's border in plan, the facet on its left."""

    own: int
    p: Point
    q: Point

    @property
    def middle(self) -> Point:
        return (self.p[0] + self.q[0]) / 2, (self.p[1] + self.q[1]) / 2


class _EdgeFinder:
    """Asks what lies at a place: corners on a border, facets beside it, walls behind it."""

    def __init__(self, bodies: tuple[BlockBody, ...], facets: tuple[Facet, ...]) -> None:
        self.bodies, self.facets = bodies, facets
        self.shapes = np.array([facet.shape for facet in facets], dtype=object)
        self.boxes = [body.box for body in bodies]

    def borders(self) -> list[_Border]:
        """Every border, parted at each corner of the roof or of a wall that lies on it."""
        lines = [_Border(n, ring[k - 1], ring[k]) for n, facet in enumerate(self.facets)
                 for ring in _rings(facet) for k in range(len(ring))]
        corners = [(line.p, self.facets[line.own].plane) for line in lines]
        places: list[tuple[Point, Plane | None]] = [*corners, *((w, None) for body in self.bodies for w in body.walls)]
        p, q, xy = (np.array(points) for points in (
            [line.p for line in lines], [line.q for line in lines], [at for at, _ in places]))
        step = q - p
        size = np.hypot(step[:, 0], step[:, 1])[:, None]
        x, y = xy[None, :, 0] - p[:, None, 0], xy[None, :, 1] - p[:, None, 1]
        along = (x * step[:, None, 0] + y * step[:, None, 1]) / size
        aside = np.abs(x * step[:, None, 1] - y * step[:, None, 0]) / size
        hits: dict[int, list[int]] = {}
        for n, at in np.argwhere((aside < _NEAR) & (along > LEAST) & (along < size - LEAST)):
            hits.setdefault(int(n), []).append(int(at))
        return [part for n, line in enumerate(lines)
                for part in self._parted(line, [(float(along[n, at]), *places[at]) for at in hits.get(n, [])])]

    def _parted(self, line: _Border, hits: list[tuple[float, Point, Plane | None]]) -> list[_Border]:
        own, stops, last = self.facets[line.own].plane, [line.p], 0.0
        for along, at, other in sorted(hits, key=lambda hit: hit[0]):
            if along - last > LEAST and (other is None or abs(other.z(at) - own.z(at)) < _LEVEL):
                stops.append(at)
                last = along
        return [_Border(line.own, a, b) for a, b in pairwise([*stops, line.q])]

    def beside(self, borders: list[_Border]) -> list[int | None]:
        """For each border the other facet that touches its middle; that of the most different plane."""
        found: list[int | None] = [None] * len(borders)
        middles = shapely.points([border.middle for border in borders])
        pairs = STRtree(self.shapes).query(middles, "dwithin", distance=_NEAR)
        for n, facet in sorted(zip(*(ids.tolist() for ids in pairs), strict=True)):
            border, before = borders[n], found[n]
            own, plane = self.facets[border.own].plane, self.facets[facet].plane
            if facet == border.own or abs(plane.z(border.middle) - own.z(border.middle)) >= _LEVEL:
                continue
            if before is None or _bend(own, plane) > _bend(own, self.facets[before].plane) + 1e-12:
                found[n] = facet
        return found

    def wall(self, beyond: Point, height: float) -> int | None:
        """The block whose wall stands at ``beyond`` and goes higher than ``height``: the highest."""
        x, y = beyond
        found = [n for n, (left, low, right, high) in enumerate(self.boxes) if left <= x <= right and low <= y <= high
                 and self.bodies[n].stands_at(beyond) and self.bodies[n].height(beyond) > height + _LEVEL]
        return max(found, default=None, key=lambda n: self.bodies[n].height(beyond)) if found else None


def _bend(one: Plane, other: Plane) -> float:
    return abs(one.gx - other.gx) + abs(one.gy - other.gy)


def _rings(facet: Facet) -> Iterator[list[Point]]:
    """The outline anticlockwise and the holes clockwise: the facet lies on the left of each."""
    for ring in (facet.shape.exterior, *facet.shape.interiors):
        yield [(x, y) for x, y in shapely.get_coordinates(ring)[:-1].tolist()]


def find_edges(bodies: tuple[BlockBody, ...], facets: tuple[Facet, ...]) -> tuple[Edge, ...]:
    """All edges, each once, numbered by kind, then by facet, then round the outline."""
    if not facets:
        return ()
    finder = _EdgeFinder(bodies, facets)
    borders = finder.borders()
    pieces: dict[Any, Edge] = {}
    for border, beside in zip(borders, finder.beside(borders), strict=True):
        edge = _classified(finder, border, beside)
        if edge is not None:
            pieces.setdefault(_once(edge), edge)
    return _numbered(_joined(list(pieces.values())))


def _once(edge: Edge) -> Any:
    ends = sorted((round(x), round(y), round(z)) for x, y, z in (edge.a, edge.b))
    return (edge.kind, *ends) if len(edge.facets) == 2 else (edge.kind, edge.facets, *ends)


def _classified(finder: _EdgeFinder, border: _Border, other: int | None) -> Edge | None:
    facet, p, q, middle = finder.facets[border.own], border.p, border.q, border.middle
    size = math.dist(p, q)
    along = ((q[0] - p[0]) / size, (q[1] - p[1]) / size)
    outward = (along[1], -along[0])
    beyond = (middle[0] + _STEP * outward[0], middle[1] + _STEP * outward[1])
    a, b, height = facet.plane.at(p), facet.plane.at(q), facet.plane.z(middle)
    if other is not None:
        return _crease(finder, border.own, other, a, b, beyond)
    wall = finder.wall(beyond, height)
    if wall is not None:
        fold = angle_between(facet.plane.normal, (-outward[0], -outward[1], 0.0))
        return Edge("", _at_wall(facet.plane, outward), (facet.id,), a, b, fold, finder.bodies[wall].id)
    return Edge("", _free(facet.plane, along, outward), (facet.id,), a, b, None)


def _crease(finder: _EdgeFinder, own: int, beside: int, a: Point3, b: Point3, beyond: Point) -> Edge | None:
    """Where two planes meet, the facet that comes first on the left, at a pitch break the upper one; ``None`` where
    they are one plane."""
    facet, other = finder.facets[own], finder.facets[beside]
    fold = angle_between(facet.plane.normal, other.plane.normal)
    if fold < 1e-6:
        return None
    hollow = other.plane.z(beyond) > facet.plane.z(beyond)
    one, two = facet.plane.fall, other.plane.fall
    same_way = one is None or two is None or (
        abs(one[0] * two[1] - one[1] * two[0]) < _PARALLEL and one[0] * two[0] + one[1] * two[1] > 0)
    kind: Kind = "pitch-break" if same_way else "valley" if hollow else "ridge"
    if kind == "ridge" and abs(b[2] - a[2]) > _PARALLEL * math.dist(a[:2], b[:2]):
        kind = "hip"
    first = (facet, other) if own < beside else (other, facet)
    left = _runs_over(facet.plane, other.plane, a, b) if kind == "pitch-break" else own < beside
    return Edge("", kind, (first[0].id, first[1].id), a if left else b, b if left else a, fold)


def _runs_over(own: Plane, other: Plane, a: Point3, b: Point3) -> bool:
    """Whether water of ``own``, left of a pitch break from ``a`` to ``b``, runs over it: it is the upper face."""
    fall = own.fall or other.fall
    return fall is not None and fall[0] * (b[1] - a[1]) - fall[1] * (b[0] - a[0]) > 0


def _at_wall(plane: Plane, outward: Point) -> Kind:
    """``outward`` leads from the roof into the wall."""
    fall = plane.fall
    if fall is None:
        return "headwall"
    across = fall[0] * outward[0] + fall[1] * outward[1]
    if abs(across) < _PARALLEL:
        return "sidewall"
    return "headwall" if abs(across) > math.cos(math.radians(0.05)) else "skew-wall"


def _free(plane: Plane, along: Point, outward: Point) -> Kind:
    fall = plane.fall
    if fall is None:
        return "eave"
    if abs(fall[0] * along[0] + fall[1] * along[1]) > _PARALLEL:
        return "rake"
    return "eave" if fall[0] * outward[0] + fall[1] * outward[1] > 0 else "half-ridge"


def _joined(pieces: list[Edge]) -> list[Edge]:
    """Pieces of one line, one kind and one pair of facets as one edge; a ridge ends where valleys or other ridges come
    up to it, though its faces go on round them."""
    groups: dict[Any, list[Edge]] = {}
    for edge in pieces:
        groups.setdefault((edge.kind, frozenset(edge.facets), edge.wall), []).append(edge)
    meets = [end for edge in pieces if edge.kind == "valley" for end in (edge.a, edge.b)]
    return [edge for group in groups.values() for edge in _chained(group, meets if group[0].kind == "ridge" else [])]


def _chained(edges: list[Edge], ends: list[Point3]) -> list[Edge]:
    found = True
    while found:
        found = False
        for i, one in enumerate(edges):
            for j, other in enumerate(edges):
                if i != j and math.dist(one.b, other.a) < LEAST and _in_line(one, other) and not any(
                        math.dist(one.b, end) < LEAST for end in ends):
                    edges = [e for n, e in enumerate(edges) if n not in (i, j)]
                    edges.insert(min(i, j), replace(one, b=other.b))
                    found = True
                    break
            if found:
                break
    return edges


def _in_line(one: Edge, other: Edge) -> bool:
    """Whether the place where both meet lies on the line from end to end."""
    whole = [q - p for p, q in zip(one.a, other.b, strict=True)]
    part = [q - p for p, q in zip(one.a, one.b, strict=True)]
    size = math.hypot(*whole)
    if size <= one.length:
        return False
    share = sum(p * w for p, w in zip(part, whole, strict=True)) / (size * size)
    return share > 0 and math.dist(part, [share * w for w in whole]) < 0.05


def _numbered(edges: list[Edge]) -> tuple[Edge, ...]:
    count: dict[Kind, int] = {}
    result = []
    for edge in edges:
        if edge.length < LEAST:
            continue
        if edge.a[2] > edge.b[2] + _LEVEL:
            edge = replace(edge, a=edge.b, b=edge.a)
        count[edge.kind] = count.get(edge.kind, 0) + 1
        result.append(replace(edge, id=f"{LETTERS[edge.kind]}{count[edge.kind]}"))
    order = list(LETTERS)
    return tuple(sorted(result, key=lambda e: order.index(e.kind)))


def find_corners(edges: tuple[Edge, ...]) -> tuple[Corner, ...]:
    """The places where edges end, each with all edges that end there."""
    corners: list[tuple[Point3, list[str]]] = []
    near: dict[tuple[int, int], list[int]] = {}
    for edge in edges:
        for end in (edge.a, edge.b):
            cell = (round(end[0] / 10), round(end[1] / 10))
            known = next((n for dx in (-1, 0, 1) for dy in (-1, 0, 1)
                          for n in near.get((cell[0] + dx, cell[1] + dy), [])
                          if math.dist(corners[n][0], end) < 2 * LEAST), None)
            if known is None:
                near.setdefault(cell, []).append(len(corners))
                corners.append((end, [edge.id]))
            else:
                corners[known][1].append(edge.id)
    return tuple(Corner(at, tuple(ids)) for at, ids in corners)
