"""How a scene comes on the screen, and in which pieces it is drawn: the nearer, the smaller, so that their order by
depth is right."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from yattle.pattern.rings import area_vector, before_plane

CHUNK = 450.0  # mm: pieces are no larger
_FINE, _SMALL = 90.0, 110.0  # px, mm that a piece seen from near measures at the most
_NEAR = 100.0  # px: where a piece comes larger it is seen from near
_BESIDE = 12.0  # px round the picture, within which things are drawn


@dataclass(frozen=True)
class Sight:
    """``rotation``: from the roof to the eye, rows (3, 3); ``middle``: what of that, (2,) in mm, comes to the
    ``centre`` of the picture, px; ``scale``: px for every mm; ``size``: of the picture, px."""

    rotation: np.ndarray
    middle: np.ndarray
    centre: np.ndarray
    scale: float
    size: tuple[int, int]

    def at(self, places: np.ndarray) -> np.ndarray:
        """Where places (n, 3), mm, come on the screen, (n, 2) in px."""
        eye = places @ self.rotation[:2].T
        return np.asarray(self.centre + (eye - self.middle) * (self.scale, -self.scale))

    def shows(self, corners: np.ndarray, starts: np.ndarray) -> np.ndarray:
        """Which rings come into the picture; their ``corners`` (n, 3), mm, one after the other, where each begins."""
        flat = self.at(corners)
        lows, highs = np.minimum.reduceat(flat, starts), np.maximum.reduceat(flat, starts)
        return np.asarray(((highs > -_BESIDE) & (lows < np.array(self.size) + _BESIDE)).all(axis=1))

    @property
    def near(self) -> bool:
        """Whether pieces come so large on the screen that they are drawn in smaller ones."""
        return CHUNK * self.scale > _NEAR

    def pieces(self, ring: np.ndarray) -> list[np.ndarray]:
        """What is in the picture of a ring (n, 3), mm, in small pieces."""
        (wide, high), (x, y) = self.size, self.centre
        (left, low), (right, top) = (
            self.middle + (np.array(corner) - (x, -y)) / self.scale
            for corner in ((-_BESIDE, -high - _BESIDE), (wide + _BESIDE, _BESIDE)))
        across, up = self.rotation[:2]
        for way, most in ((across, right), (-across, -left), (up, top), (-up, -low)):
            ring = before_plane(ring, way, float(most))[0] if len(ring) > 2 else ring
        return pieces_of(ring, min(_FINE / self.scale, _SMALL)) if len(ring) > 2 else []


def pieces_of(ring: np.ndarray, most: float) -> list[np.ndarray]:
    """A flat ring (n, 3) in pieces no larger than so many mm either way."""
    square = area_vector(ring)
    size = float(np.linalg.norm(square))
    if size < min(1.0, most * most / 100.0):
        return []
    sides = np.roll(ring, -1, axis=0) - ring
    way = sides[int(np.argmax(np.linalg.norm(sides, axis=1)))]
    way = way / np.linalg.norm(way)
    across = np.cross(square / size, way)
    return [piece for strip in _strips(ring, way, most) for piece in _strips(strip, across, most)]


def _strips(ring: np.ndarray, way: np.ndarray, most: float) -> list[np.ndarray]:
    """A ring in strips across a way, each no longer along it than so many mm."""
    off = ring @ way
    low, wide = float(off.min()), float(off.max() - off.min())
    count = max(1, math.ceil(wide / most))
    if count == 1:
        return [ring]
    found = []
    for k in range(count):
        piece, _ = before_plane(ring, way, low + wide * (k + 1) / count)
        if len(piece) > 2:
            piece, _ = before_plane(piece, -way, -(low + wide * k / count))
        if len(piece) > 2:
            found.append(piece)
    return found
