"""Plane rings of corners in space: how they face, how large they are, their part before a plane."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from yattle.pattern.surface import Array

UPRIGHT = 0.05
"""Upward part of a unit normal under which a part stands upright: nothing lies on it, and it covers nothing."""


def before_plane(ring: Array, way: Array, level: float) -> tuple[Array, tuple[Array, Array] | None]:
    """A plane ring of corners (n, 3) in mm up to where it lies ``level`` mm along ``way`` (I. Sutherland and G.
    Hodgman), and the line in which it is cut, where it is."""
    off = ring @ way - level
    if off.max() <= 0.0:
        return ring, None
    if off.min() >= 0.0:
        return ring[:0], None
    kept, crossed = [], []
    for n, corner in enumerate(ring):
        before = off[n - 1]
        if (before <= 0.0) != (off[n] <= 0.0):
            place = ring[n - 1] + (corner - ring[n - 1]) * (before / (before - off[n]))
            kept.append(place)
            crossed.append(place)
        if off[n] <= 0.0:
            kept.append(corner)
    return np.array(kept), (crossed[0], crossed[-1]) if len(crossed) > 1 else None


def cross(a: Array, b: Array) -> Array:
    """The vector product of two vectors (3,), mm² of two in mm, written out: it is asked for by the ten thousand."""
    (ax, ay, az), (bx, by, bz) = a.tolist(), b.tolist()
    return np.array([ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx])


def boxes(rings: Sequence[Array]) -> tuple[Array, Array]:
    """The lowest and the highest coordinates (n, 3) of each of some rings, mm."""
    if not rings:
        return np.empty((0, 3)), np.empty((0, 3))
    counts = np.array([len(ring) for ring in rings])
    starts, corners = np.cumsum(counts) - counts, np.concatenate(rings)
    return np.minimum.reduceat(corners, starts), np.maximum.reduceat(corners, starts)


def longest_sides(rings: Sequence[Array]) -> tuple[Array, Array]:
    """The longest side (n, 3) of each of some rings, and how long it is (n,), mm."""
    counts = np.array([len(ring) for ring in rings], dtype=np.int64)
    starts, corners = np.cumsum(counts) - counts, np.concatenate([np.empty((0, 3)), *rings])
    following = np.roll(corners, -1, axis=0)
    following[starts + counts - 1] = corners[starts]
    sides = following - corners
    longs = np.linalg.norm(sides, axis=1)
    longest = np.array([start + int(np.argmax(longs[start:start + count])) for start, count
                        in zip(starts.tolist(), counts.tolist(), strict=True)], dtype=np.int64)
    return sides[longest], longs[longest]


def area_vector(ring: Array) -> Array:
    """Square to a plane ring of corners in mm, as long as its area in mm² is large."""
    x, y, z = (ring - ring[0]).T  # by hand: it is asked for every part of a roof
    a, b = slice(1, -1), slice(2, None)
    return np.array([y[a] @ z[b] - z[a] @ y[b], z[a] @ x[b] - x[a] @ z[b], x[a] @ y[b] - y[a] @ x[b]]) / 2


def area_vectors(rings: Sequence[Array]) -> Array:
    """The same of many rings at once, (n, 3), mm²."""
    if not rings:
        return np.empty((0, 3))
    counts = np.array([len(ring) for ring in rings])
    ends = np.cumsum(counts)
    starts, corners = ends - counts, np.concatenate(rings)
    corners = corners - np.repeat(corners[starts], counts, axis=0)
    following = np.roll(corners, -1, axis=0)
    following[ends - 1] = 0.0  # back to the first corner, where each ring has its origin
    (ax, ay, az), (bx, by, bz) = corners.T, following.T
    areas = np.column_stack((ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx))
    return np.asarray(np.add.reduceat(areas, starts) / 2)
