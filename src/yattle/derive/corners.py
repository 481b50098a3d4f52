"""The frame in which a run is seen, and how its faces lie in it."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from yattle.pattern.rings import cross
from yattle.roof import Edge, Roof
from yattle.roof.at_edge import into, sides

Array = NDArray[np.float64]
Normal = tuple[float, float, float]
_Arrays = TypeVar("_Arrays", bound=tuple[Array, ...])


@dataclass(frozen=True)
class EndPlane:
    """A plane in space: its normal, not of unit length, and a point of it, mm."""

    normal: Array
    at: Array


def outward(roof: Roof, edge: Edge) -> Array:
    """The level unit vector away from a free edge's face, square to the edge in plan."""
    x, y = into(roof, edge, edge.facets[0])
    return np.array([-x, -y, 0.0])


def run_frame(roof: Roof, edge: Edge) -> tuple[Array, Array, Array]:
    """A run as it is seen with its paint toward the eye and edge A on top: its left and its right end, mm, and its
    frame, rows (3, 3) of unit vectors: along it to the right, out, up. Across a crease out is level from its left to
    its right face; of a wall it is from the wall to the roof, of a free edge away from its face."""
    return roof.once(("frame", edge), lambda: _kept(_frame_of(roof, edge)))


def _frame_of(roof: Roof, edge: Edge) -> tuple[Array, Array, Array]:
    a, b = np.array(edge.a), np.array(edge.b)
    if len(edge.facets) == 2:
        return a, b, crease_frame(edge)
    out = outward(roof, edge) * (-1.0 if edge.wall else 1.0)
    seen = cross(np.array([0.0, 0.0, 1.0]), out)  # to the right, as seen from outside
    left, right = (a, b) if (b - a) @ seen > 0 else (b, a)
    along = (right - left) / np.linalg.norm(right - left)
    return left, right, np.array([along, out, cross(out, along)])


def beside_edge(roof: Roof, edge: Edge, face: str) -> tuple[Array, Array]:
    """A face as it lies beside one of its edges: rows along it to the right as seen from the face, into the face,
    square to it; and where the edge begins so, mm. What stands on the face is drawn in this frame."""
    return roof.once(("beside", edge, face), lambda: _kept(_beside(roof, edge, face)))


def _beside(roof: Roof, edge: Edge, face: str) -> tuple[Array, Array]:
    a, b = np.array(edge.a), np.array(edge.b)
    normal, level = np.array(roof.facet(face).plane.normal), into(roof, edge, face)
    way = cross(normal, b - a)
    way = np.asarray(way / np.linalg.norm(way))
    way = way if float(way[:2] @ level) > 0 else -way
    along = cross(normal, way)
    return np.array([along, way, normal]), a if float((b - a) @ along) > 0 else b


def _kept(arrays: _Arrays) -> _Arrays:
    """What is remembered for whoever asks next, so that nobody can change it."""
    for array in arrays:
        array.setflags(write=False)
    return arrays


def crease_frame(edge: Edge) -> Array:
    """Along a crease, level across it from its left to its right face, and square to both upward; rows of (3, 3). Unit
    vectors, as rows (3, 3)."""
    along = np.array(edge.b) - np.array(edge.a)
    along = along / np.linalg.norm(along)
    across = np.array([along[1], -along[0], 0.0])
    across = across / np.linalg.norm(across)
    return np.array([along, across, cross(across, along)])


def lean_of(roof: Roof, edge: Edge) -> float | None:
    """How the face that a run's first leg lies on leans across it, degrees from level, up positive: the left face of a
    valley or hip toward the right one, a rake's face toward its free side. ``None`` for other kinds."""
    if edge.kind not in ("valley", "hip", "rake"):
        return None
    *_, (along, across, up) = run_frame(roof, edge)
    face = sides(roof, edge)[0] if len(edge.facets) == 2 else edge.facets[0]
    way = cross(along, np.array(roof.facet(face).plane.normal))
    if way @ across < 0:
        way = -way
    return math.degrees(math.atan2(float(way @ up), float(way @ across)))
