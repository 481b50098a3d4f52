"""How deep a chain cuts into the tools: for the sentence that says what strikes what."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from yattle.brake.state import Bench, Edge, Operation

Array = NDArray[np.float64]
_LOOKS = 24  # places looked at on each straight part
_LEAST = 0.5


@dataclass(frozen=True)
class Strike:
    """Where it strikes: the part (an index of the chain from edge A), the tool, at what leaf angle, how deep.
    ``angle`` in degrees, ``depth`` into the tool in mm."""

    part: int
    tool: str
    angle: float
    depth: float


def deepest(bench: Bench, action: Operation, swinging: Array, held: Array, angles: Array, out: Edge) -> Strike | None:
    """The deepest cut over all ``angles`` (radians) of the swinging chain (a, n, 2), which lies toward edge
    ``out``, and the held one (k, 2); ``None`` when no tool is cut into. Places in mm."""
    other: Edge = "B" if out == "A" else "A"
    best: Strike | None = None
    for chains, toward in ((swinging, out), (np.broadcast_to(held, (len(angles), *held.shape)), other)):
        if chains.shape[1] < 2:
            continue
        places, along = _places(chains)
        for tool, ring in (("clamp", bench.brake.clamp), ("bed", bench.brake.bed), ("leaf", bench.brake.leaf)):
            looked = _turned_back(places, angles) if tool == "leaf" else places
            depth, look, place = _deepest_place(looked, ring)
            if depth >= _LEAST and (best is None or depth > best.depth):
                best = Strike(_part_at(bench, action, float(along[place]), toward), tool,
                              math.degrees(angles[look]), depth)
    return best


def _places(chains: Array) -> tuple[Array, Array]:
    """Points along chains (a, n, 2) → (a, p, 2), and how far along the chain each is, mm."""
    share = np.linspace(0, 1, _LOOKS)[:, None]
    start, end = chains[:, :-1, None], chains[:, 1:, None]
    places = (start + (end - start) * share).reshape(len(chains), -1, 2)
    lengths = np.hypot(*np.moveaxis(np.diff(chains[0], axis=0), -1, 0))
    before = np.concatenate(([0.0], np.cumsum(lengths)[:-1]))
    return places, (before[:, None] + lengths[:, None] * share.T).ravel()


def _turned_back(places: Array, angles: Array) -> Array:
    """Places as the leaf sees them at each angle."""
    cos, sin = np.cos(angles)[:, None], np.sin(angles)[:, None]
    x, y = places[..., 0], places[..., 1]
    return np.stack((x * cos + y * sin, y * cos - x * sin), axis=-1)


def _deepest_place(places: Array, ring: tuple[tuple[float, float], ...]) -> tuple[float, int, int]:
    """Depth in mm of the place deepest inside ``ring``, with its look and its place along the chain."""
    from shapely import Polygon, contains_xy, distance, points, prepare

    shape = Polygon(ring)
    prepare(shape)
    inside = contains_xy(shape, places[..., 0], places[..., 1])
    if not inside.any():
        return 0.0, 0, 0
    depths = np.zeros(inside.shape)
    depths[inside] = distance(points(places[inside]), shape.exterior)
    look, place = np.unravel_index(int(depths.argmax()), depths.shape)
    return float(depths[look, place]), int(look), int(place)


def _part_at(bench: Bench, action: Operation, at: float, toward: Edge) -> int:
    """The flat part of the section that lies ``at`` mm from the fold toward an edge."""
    edges = (0.0, *bench.marks, bench.girth.girth)
    place = bench.marks[action.index] + (at - 1e-6 if toward == "B" else 1e-6 - at)
    return max(0, min(len(edges) - 2, int(np.searchsorted(edges, place)) - 1))
