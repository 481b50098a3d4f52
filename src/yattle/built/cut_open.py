"""The roof cut open by an upright plane: what its faces are built up of, as it is seen there."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from yattle.built.shown import BuiltShown, ShownLayer
from yattle.pattern.rings import area_vector, cross
from yattle.pattern.surface import Array

_ONE_PLACE = 2.0  # mm: faces that end so near each other meet there
_FLUSH = 1e-3  # of the product of two normals: less, and the faces lie in one plane there
_EDGE_ON = 1e-6  # of a unit normal: a face that lies along the plane is not cut by it


@dataclass(frozen=True)
class CutLayer:
    """A layer of a deck as the plane cuts it: its corners (4, 3), mm, first along its underside."""

    deck: str
    layer: ShownLayer
    ring: Array


@dataclass(frozen=True)
class _CutFace:
    """Where the plane cuts a face's deck: from ``a`` to ``b``, mm; ``normal``: of the face, as far as it lies in the
    plane."""

    deck: str
    a: Array
    b: Array
    normal: Array

    def end(self, at: Array, beside: Array | None, high: float) -> Array:
        """Where a height over the face's plane, mm, ends at one of its ends: where it meets the same height over the
        face ``beside`` it, else square to it."""
        square = self.normal * high / float(self.normal @ self.normal)
        if beside is None:
            return at + square
        level = (self.b - self.a) * (1.0, 1.0, 0.0)  # the level way in the plane
        level = level / max(float(np.linalg.norm(level)), 1e-9)
        rows = np.array([[float(normal @ level), normal[2]] for normal in (self.normal, beside)])
        if abs(float(np.linalg.det(rows))) < _FLUSH:
            return at + square
        along, up = np.linalg.solve(rows, np.array([high, high])).tolist()
        return np.asarray(at + level * along + np.array([0.0, 0.0, up]))


def cut_layers(built: BuiltShown, way: Array, level: float) -> Iterator[CutLayer]:
    """The layers under and over every deck where an upright plane cuts it, ``level`` mm along ``way``, a level unit
    vector; mm."""
    cuts = [cut for part in built.parts if part.kind == "deck" and part.name in built.layers
            for cut in _cuts(part.name, part.ring, way, level)]
    for cut in cuts:
        ends = [(at, _beside(cut, cuts, at)) for at in (cut.a, cut.b)]
        for layer in built.layers[cut.deck]:
            low, high = ([cut.end(at, beside, height) for at, beside in ends] for height in (layer.low, layer.high))
            yield CutLayer(cut.deck, layer, np.array([*low, *reversed(high)]))


def _beside(cut: _CutFace, cuts: list[_CutFace], at: Array) -> Array | None:
    """The normal of the face that meets one at an end of its cut; none where it ends by itself."""
    return next((other.normal for other in cuts if other.deck != cut.deck and min(
        float(np.linalg.norm(other.a - at)), float(np.linalg.norm(other.b - at))) < _ONE_PLACE), None)


def _cuts(deck: str, ring: Array, way: Array, level: float) -> Iterator[_CutFace]:
    """From where to where the plane cuts a deck, once or several times."""
    square = area_vector(ring)
    normal = square / max(float(np.linalg.norm(square)), 1e-9) * (1.0 if square[2] >= 0.0 else -1.0)
    normal = normal - way * float(normal @ way)
    if float(normal @ normal) < _EDGE_ON:
        return
    before, after = ring, np.roll(ring, -1, axis=0)
    off, then = before @ way - level, after @ way - level
    crosses = (off <= 0.0) != (then <= 0.0)
    share = off[crosses] / (off[crosses] - then[crosses])
    places = before[crosses] + (after[crosses] - before[crosses]) * share[:, None]
    along = cross(np.array([0.0, 0.0, 1.0]), way)
    places = places[np.argsort(places @ along)]
    yield from (_CutFace(deck, a, b, normal) for a, b in list(pairwise(places))[::2])
