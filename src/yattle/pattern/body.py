"""A piece put together face by face as it stands installed, ready to be unfolded.

Faces are added with the side their paint looks to; creases join two of them along a stretch of straight edge that
both have. Relief cuts are not its business: they follow from how the sheet lies flat.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from itertools import pairwise
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from yattle.errors import InputError
from yattle.pattern.surface import Corner, Crease, Face, Surface

Place = NDArray[np.float64] | Sequence[float]
_SAME = 1e-6  # mm


@dataclass
class _BodyCrease:
    parent: int
    child: int
    a: Corner
    b: Corner
    by: Literal["brake", "tongs"]
    soft: bool


@dataclass
class Body:
    """One piece, its faces and the creases between them; ``paper``: a template that is printed only. Corners in mm."""

    name: str
    qty: int = 1
    names: list[str] = field(default_factory=list)
    rings: list[list[Corner]] = field(default_factory=list)
    creases: list[_BodyCrease] = field(default_factory=list)
    paper: bool = False
    marks: dict[int, list[tuple[Corner, Corner, str]]] = field(default_factory=dict)
    layers: dict[int, Corner] = field(default_factory=dict)
    holes: dict[int, list[tuple[Corner, ...]]] = field(default_factory=dict)

    def add(self, name: str, points: Sequence[Place], paint: Place, layer: Place = (0.0, 0.0, 0.0)) -> int:
        """A face through ``points`` in either order, its paint looking to the side of ``paint``; where faces lie
        doubled over, ``layer`` says which way and how many sheets it lies off the plane. Places in mm. Raises
        :class:`InputError` where fewer than three of them are apart."""
        ring = [_tuple(p) for p in points]
        ring = [p for n, p in enumerate(ring) if max(abs(a - b) for a, b in zip(p, ring[n - 1], strict=True)) > _SAME]
        if len(ring) < 3:
            raise InputError(name, "a face without area", "sizes that leave something of it")
        if _looks_away(ring, _tuple(paint)):
            ring.reverse()
        self.names.append(name)
        self.rings.append(ring)
        self.layers[len(self.rings) - 1] = _tuple(layer)
        return len(self.rings) - 1

    def fold(
        self,
        parent: int,
        child: int,
        a: Place,
        b: Place,
        by: Literal["brake", "tongs"] = "brake",
        soft: bool = False,
    ) -> None:
        """Fold ``child`` from ``parent`` along a to b, which lie on an edge of both; ``soft`` folds take no
        allowance."""
        one, other = _tuple(a), _tuple(b)
        for end in (one, other):
            _with_corner(self.rings[child], end)
            _with_corner(self.rings[parent], end)
        self.creases.append(_BodyCrease(parent, child, one, other, by, soft))

    def flap(
        self,
        parent: int,
        a: Place,
        b: Place,
        out: Place,
        paint: Place,
        name: str = "tab",
        by: Literal["brake", "tongs"] = "tongs",
        cut: tuple[float, float] = (0.0, 0.0),
        layer: Place = (0.0, 0.0, 0.0),
    ) -> int:
        """A flap on the edge a to b reaching by ``out``; ``cut`` mm are taken off its tip at a and at b; ``layer`` as
        in :meth:`add`, for one that lies on its parent."""
        one, other, way = (np.asarray(p, dtype=float) for p in (a, b, out))
        along = (other - one) / np.linalg.norm(other - one)
        child = self.add(name, [one, other, other + way - along * cut[1], one + way + along * cut[0]], paint,
                         layer)
        self.fold(parent, child, one, other, by)
        return child

    def mark(self, face: int, a: Place, b: Place, text: str = "") -> None:
        """A line drawn on a face, with what is written at it."""
        self.marks.setdefault(face, []).append((_tuple(a), _tuple(b), text))

    def hole(self, face: int, points: Sequence[Place]) -> None:
        """A hole in a face, its corners in either order."""
        ring = [_tuple(p) for p in points]
        if not _looks_away(ring, Face("hole", tuple(self.rings[face])).paint):
            ring.reverse()
        self.holes.setdefault(face, []).append(tuple(ring))

    def surface(self) -> Surface:
        """What :func:`~yattle.pattern.unfold.unfold` takes."""
        rings = self.rings
        faces = tuple(
            Face(name, tuple(ring), tuple(self.holes.get(n, ())), tuple(self.marks.get(n, ())), self.layers[n])
            for n, (name, ring) in enumerate(zip(self.names, rings, strict=True))
        )
        return Surface(
            self.name,
            faces,
            tuple(
                Crease(c.parent, _edge(rings[c.parent], c.a, c.b, self.name), c.child, c.by, soft=c.soft)
                for c in self.creases
            ),
            self.qty,
            paper=self.paper,
        )


def _tuple(point: Place) -> Corner:
    x, y, z = point.tolist() if isinstance(point, np.ndarray) else point
    return float(x), float(y), float(z)


def _looks_away(ring: list[Corner], paint: Corner) -> bool:
    """Whether a ring runs clockwise as seen from where ``paint`` points."""
    (ox, oy, oz), (px, py, pz) = ring[0], paint
    area = 0.0
    for (ax, ay, az), (bx, by, bz) in pairwise(ring[1:]):
        ax, ay, az, bx, by, bz = ax - ox, ay - oy, az - oz, bx - ox, by - oy, bz - oz
        area += px * (ay * bz - az * by) + py * (az * bx - ax * bz) + pz * (ax * by - ay * bx)
    return area < 0


def _with_corner(ring: list[Corner], point: Corner, near: float = 1e-4) -> None:
    """Give the ring a corner at ``point`` on one of its edges, if it has none within ``near`` mm."""
    if any(math.dist(p, point) < near for p in ring):
        return
    for k, p in enumerate(ring):
        q = ring[(k + 1) % len(ring)]
        step = [b - a for a, b in zip(p, q, strict=True)]
        share = sum((c - a) * s for a, c, s in zip(p, point, step, strict=True)) / sum(s * s for s in step)
        if 0 < share < 1 and math.dist([a + share * s for a, s in zip(p, step, strict=True)], point) < 1e-4:
            ring.insert(k + 1, point)
            return


def _edge(ring: list[Corner], a: Corner, b: Corner, name: str) -> int:
    """Which edge of the ring the stretch from one to the other lies on."""
    for k, p in enumerate(ring):
        q = ring[(k + 1) % len(ring)]
        long = math.dist(p, q)
        if max(math.dist(e, p) + math.dist(e, q) for e in (a, b)) < long + 1e-7 * (1 + long):
            return k
    raise InputError(name, "a fold that is not on an edge of both its parts", "parts that meet along the fold")
