"""A roof worked out from its plan: facets, edges, corners, openings."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import Any

import numpy as np
import shapely

from yattle.once import Remembers
from yattle.pattern.surface import Array
from yattle.roof.edges import Corner, Edge, find_corners, find_edges
from yattle.roof.facets import Facet, join
from yattle.roof.model import RoofPlan
from yattle.roof.openings import Placed, place
from yattle.roof.plane import BlockBody, Point, Point3

_BESIDE = 3.0  # mm


@dataclass(frozen=True)
class Roof(Remembers):
    """The joined roof of one plan. Lengths in mm, z up; slopes in degrees."""

    plan: RoofPlan
    bodies: tuple[BlockBody, ...]
    facets: tuple[Facet, ...]
    edges: tuple[Edge, ...]
    corners: tuple[Corner, ...]
    openings: tuple[Placed, ...]

    def facet(self, facet_id: str) -> Facet:
        """The facet of that id (it must exist)."""
        return self._facets[facet_id]

    def facets_at(self, at: Point) -> list[Facet]:
        """The facets that a place in plan lies on, mm, in their order."""
        (x, y), (left, low, right, high) = at, self._boxes
        near = np.nonzero((left <= x) & (x <= right) & (low <= y) & (y <= high))[0]
        return [facet for facet in (self.facets[n] for n in near.tolist()) if shapely.intersects_xy(facet.shape, x, y)]

    @cached_property
    def _boxes(self) -> Array:
        shapely.prepare([facet.shape for facet in self.facets])
        boxes: Array = shapely.bounds([facet.shape for facet in self.facets]).reshape(-1, 4)
        return boxes.T

    @cached_property
    def _facets(self) -> dict[str, Facet]:
        return {facet.id: facet for facet in self.facets}

    @cached_property
    def _edges(self) -> dict[str, Edge]:
        return {edge.id: edge for edge in self.edges}

    def edge(self, edge_id: str) -> Edge:
        """The edge of that id (it must exist)."""
        return self._edges[edge_id]

    def edges_of(self, facet_id: str) -> tuple[Edge, ...]:
        """The edges of a facet."""
        return self._edges_of.get(facet_id, ())

    @cached_property
    def _edges_of(self) -> dict[str, tuple[Edge, ...]]:
        found: dict[str, tuple[Edge, ...]] = {}
        for edge in self.edges:
            for facet in edge.facets:
                found[facet] = (*found.get(facet, ()), edge)
        return found

    def ending_at(self, at: Iterable[float]) -> tuple[Edge, ...]:
        """The edges that end within 2 mm of a place in space, mm."""
        x, y, z = at
        return tuple(self.edge(name) for i in (-1, 0, 1) for j in (-1, 0, 1)
                     for corner in self._corners.get((round(x / 10) + i, round(y / 10) + j), ())
                     if math.dist(corner.at, (x, y, z)) < 2.0 for name in corner.edges)

    @cached_property
    def _corners(self) -> dict[tuple[int, int], tuple[Corner, ...]]:
        found: dict[tuple[int, int], tuple[Corner, ...]] = {}
        for corner in self.corners:
            cell = round(corner.at[0] / 10), round(corner.at[1] / 10)
            found[cell] = (*found.get(cell, ()), corner)
        return found

    def answer(self) -> dict[str, Any]:
        """As ``yattle roof`` gives it."""
        return {
            "format": "yattle-roof-answer/1", "ok": True,
            "facets": [_facet(facet) for facet in self.facets],
            "edges": [_edge(edge) for edge in self.edges],
            "corners": [{"at": list(corner.at), "edges": list(corner.edges)} for corner in self.corners],
            "openings": [{**placed.opening.model_dump(exclude_none=True), "facets": list(placed.facets),
                          "corners": [list(corner) for corner in placed.corners]} for placed in self.openings],
        }


@lru_cache(maxsize=64)
def build(plan: RoofPlan) -> Roof:
    """Work out a roof; raises :class:`~yattle.errors.InputError` for an opening off the roof."""
    bodies, facets = join(plan)
    edges = find_edges(bodies, facets)
    return Roof(plan, bodies, facets, edges, find_corners(edges), place(plan.openings, facets))


def outline3(facet: Facet) -> tuple[Point3, ...]:
    """The facet's outline in space, anticlockwise seen from above. In mm."""
    return tuple(facet.plane.at(corner) for corner in facet.ring)


def holes3(facet: Facet) -> tuple[tuple[Point3, ...], ...]:
    """The facet's holes in space, mm, clockwise seen from above."""
    return tuple(tuple(facet.plane.at((x, y)) for x, y in hole.coords[:-1]) for hole in facet.shape.interiors)


def area(facet: Facet) -> float:
    """Area on the slope, m²."""
    return float(facet.shape.area) * facet.plane.stretch / 1e6


def beside(roof: Roof, edge: Edge) -> Point:
    """A place in plan a little inside the first facet of ``edge``, beside the middle of it. In mm."""
    size = math.dist(edge.a[:2], edge.b[:2]) or 1.0
    step = (_BESIDE * (edge.b[1] - edge.a[1]) / size, _BESIDE * (edge.a[0] - edge.b[0]) / size)
    x, y = (edge.a[0] + edge.b[0]) / 2, (edge.a[1] + edge.b[1]) / 2
    shape = roof.facet(edge.facets[0]).shape
    right = (x + step[0], y + step[1])
    return right if shape.intersects(shapely.Point(right)) else (x - step[0], y - step[1])


def middle(facet: Facet) -> Point:
    """A point well inside the facet in plan. In mm."""
    return facet.middle


def _facet(facet: Facet) -> dict[str, Any]:
    plane = facet.plane
    answer: dict[str, Any] = {
        "id": facet.id, "block": facet.block, "plane": {"normal": list(plane.normal), "offset": plane.offset},
        "pitch": plane.pitch, "outline": [list(p) for p in outline3(facet)], "area": area(facet)}
    if facet.shape.interiors:
        answer["holes"] = [[list(p) for p in hole] for hole in holes3(facet)]
    return answer


def _edge(edge: Edge) -> dict[str, Any]:
    return {"id": edge.id, "kind": edge.kind, "facets": list(edge.facets), "a": list(edge.a), "b": list(edge.b),
            "length": edge.length, "slope": edge.slope, "fold": edge.fold}
