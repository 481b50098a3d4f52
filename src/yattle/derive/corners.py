"""How a run ends where another of its kind goes on round a corner: both are cut by the plane between them."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from yattle.roof import Edge, Roof
from yattle.roof.build import beside

Array = NDArray[np.float64]
Normal = tuple[float, float, float]
TwoPlanes = tuple[Normal | None, Normal | None]
NO_PLANES: TwoPlanes = (None, None)
_ALONG = 0.15  # a plane nearer to lying along the piece makes no end
_ALIKE = 0.5  # degrees: pitches that differ by less give one section
_STRAIGHT = math.cos(math.radians(2.0))


def outward(roof: Roof, edge: Edge) -> Array:
    """The level unit vector away from a free edge's face, square to the edge in plan."""
    across = np.array([edge.b[1] - edge.a[1], edge.a[0] - edge.b[0], 0.0])
    x, y = beside(roof, edge)
    if across[0] * (x - edge.a[0]) + across[1] * (y - edge.a[1]) > 0:
        across = -across
    return np.asarray(across / np.linalg.norm(across))


def left_to_right(roof: Roof, edge: Edge) -> tuple[Array, Array]:
    """Both ends of a free edge as seen from outside, the left one first. In mm."""
    a, b = np.array(edge.a), np.array(edge.b)
    out = outward(roof, edge)
    seen = np.cross(np.array([0.0, 0.0, 1.0]), out)  # to the right, as seen from outside
    return (a, b) if (b - a) @ seen > 0 else (b, a)


def end_planes(roof: Roof, edge: Edge) -> tuple[TwoPlanes, TwoPlanes]:
    """For the left and the right end the planes that cut it, as (along, out, up): one for the side of edge A and,
    where a section lies on two faces, another for the side of edge B; ``None`` for an end that is not cut."""
    if edge.kind in ("valley", "hip"):
        return foot_planes(roof, edge), head_planes(roof, edge)
    if edge.kind not in ("eave", "rake"):
        return NO_PLANES, NO_PLANES
    left, right = left_to_right(roof, edge)
    along = (right - left) / np.linalg.norm(right - left)
    out = outward(roof, edge)
    frame = np.array([along, out, np.cross(out, along)])
    planes: list[Normal | None] = []
    for at, sign in ((left, -1.0), (right, 1.0)):
        away = _goes_on(roof, edge, at)
        normal = None if away is None else frame @ (along + sign * away)
        planes.append(None if normal is None or abs(normal[0]) < 0.2 else
                      (float(normal[0]), float(normal[1]), float(normal[2])))
    return (planes[0], None), (planes[1], None)


def crease_frame(edge: Edge) -> Array:
    """Along a crease, level across it from its left to its right face, and square to both upward; rows of (3, 3). Unit
    vectors, as rows (3, 3)."""
    along = np.array(edge.b) - np.array(edge.a)
    along = along / np.linalg.norm(along)
    across = np.array([along[1], -along[0], 0.0])
    across = across / np.linalg.norm(across)
    return np.array([along, across, np.cross(across, along)])


def sides(roof: Roof, edge: Edge) -> tuple[str, str]:
    """The faces on the left and on the right of a crease, looking from its ``a`` to its ``b``."""
    _, across, _ = crease_frame(edge)
    left = ((edge.a[0] + edge.b[0]) / 2 - 10 * across[0], (edge.a[1] + edge.b[1]) / 2 - 10 * across[1])
    one, other = (roof.facet(name) for name in edge.facets)
    higher = one.plane.z(left) > other.plane.z(left)  # bent up a roof is the higher of its planes, bent down the lower
    return (one.id, other.id) if higher == (edge.kind in ("valley", "pitch-break")) else (other.id, one.id)


def lean_of(roof: Roof, edge: Edge) -> float | None:
    """How the left face of a valley or hip lies across it, degrees from level toward the right one, up positive."""
    if edge.kind not in ("valley", "hip"):
        return None
    along, across, up = crease_frame(edge)
    way = np.cross(along, np.array(roof.facet(sides(roof, edge)[0]).plane.normal))
    if way @ across < 0:
        way = -way
    return math.degrees(math.atan2(float(way @ up), float(way @ across)))


def foot_planes(roof: Roof, edge: Edge) -> TwoPlanes:
    """At the low end of a valley or hip that comes down between two eaves: the upright planes over the eaves of its
    left and its right face, as (along, from left to right, up)."""
    if edge.slope < 0.5:
        return NO_PLANES
    low, frame = np.array(edge.a), crease_frame(edge)
    planes = []
    for facet in sides(roof, edge):
        eave = next((e for e in roof.edges_of(facet) if e.kind == "eave" and min(
            np.linalg.norm(np.array(end) - low) for end in (e.a, e.b)) < 150.0), None)
        n = frame @ outward(roof, eave) if eave is not None else None
        if n is None or abs(n[0]) < _ALONG:
            return NO_PLANES
        planes.append((float(n[0]), float(n[1]), float(n[2])))
    return planes[0], planes[1]


def head_planes(roof: Roof, edge: Edge) -> TwoPlanes:
    """At the upper end of a valley or hip: on each side the upright plane over the ridge that its face ends at, or the
    plane that halves the corner where another valley or hip of that face meets it (two valleys below a dormer's
    ridge). A side that ends on neither is cut like the other one."""
    if edge.slope < 0.5:
        return NO_PLANES
    top, frame = np.array(edge.b), crease_frame(edge)
    along = frame[0]
    found: list[Normal | None] = []
    for facet in sides(roof, edge):
        normal = None
        for other in roof.edges_of(facet):
            ends = [np.array(other.a), np.array(other.b)]
            near = [n for n, end in enumerate(ends) if np.linalg.norm(end - top) < 2.0]
            if other.id == edge.id or not near or other.kind not in ("ridge", "valley", "hip"):
                continue
            away = (ends[1 - near[0]] - ends[near[0]]) / np.linalg.norm(ends[1] - ends[0])
            n = frame @ (np.array([away[1], -away[0], 0.0]) if other.kind == "ridge" else along + away)
            if abs(n[0]) > _ALONG * float(np.linalg.norm(n)):
                normal = (float(n[0]), float(n[1]), float(n[2]))
                break
        found.append(normal)
    a, b = found
    return (a or b, b or a) if a or b else NO_PLANES


def _goes_on(roof: Roof, edge: Edge, at: Array) -> Array | None:
    """The direction in which a like edge leaves the corner: an eave round a corner, a rake over the peak."""
    for other in roof.edges:
        if other.kind != edge.kind or other.id == edge.id or len(other.facets) != 1:
            continue
        ends = [np.array(other.a), np.array(other.b)]
        near = [n for n, end in enumerate(ends) if np.linalg.norm(end - at) < 2.0]
        if near and _alike(roof, edge, other):
            step = ends[1 - near[0]] - ends[near[0]]
            return np.asarray(step / np.linalg.norm(step))
    return None


def _alike(roof: Roof, one: Edge, other: Edge) -> bool:
    pitches = [roof.facet(e.facets[0]).plane.pitch for e in (one, other)]
    if abs(pitches[0] - pitches[1]) > _ALIKE:
        return False
    same_wall = float(outward(roof, one) @ outward(roof, other)) > _STRAIGHT
    return same_wall if one.kind == "rake" else not same_wall
