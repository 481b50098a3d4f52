"""A piece put together face by face as it stands installed, ready to be unfolded.

Faces are added with the side their paint looks to; creases join two of them along a stretch of straight edge that
both have. Relief cuts are not its business: they follow from how the sheet lies flat.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike, NDArray

from yattle.errors import InputError
from yattle.pattern.surface import Crease, Face, Surface

Array = NDArray[np.float64]
_SAME = 1e-6  # mm


@dataclass
class _Crease:
    parent: int
    child: int
    a: Array
    b: Array
    by: Literal["brake", "tongs"]
    soft: bool


@dataclass
class Body:
    """One piece, its faces and the creases between them; ``paper``: a template that is printed only."""

    name: str
    qty: int = 1
    names: list[str] = field(default_factory=list)
    rings: list[list[Array]] = field(default_factory=list)
    creases: list[_Crease] = field(default_factory=list)
    paper: bool = False

    def add(self, name: str, points: Sequence[ArrayLike], paint: ArrayLike) -> int:
        """A face through ``points`` in either order, its paint looking to the side of ``paint``."""
        ring = [np.asarray(p, dtype=float) for p in points]
        ring = [p for n, p in enumerate(ring) if np.abs(p - ring[n - 1]).max() > _SAME]
        if len(ring) < 3:
            raise InputError(name, "a face without area", "sizes that leave something of it")
        at = np.array(ring)
        area = np.cross(at - at[0], np.roll(at, -1, axis=0) - at[0]).sum(axis=0)
        if area @ np.asarray(paint, dtype=float) < 0:
            ring.reverse()
        self.names.append(name)
        self.rings.append(ring)
        return len(self.rings) - 1

    def fold(
        self,
        parent: int,
        child: int,
        a: ArrayLike,
        b: ArrayLike,
        by: Literal["brake", "tongs"] = "brake",
        soft: bool = False,
    ) -> None:
        """Fold ``child`` from ``parent`` along a to b, which lie on an edge of both; ``soft`` folds take no
        allowance."""
        one, other = np.asarray(a, dtype=float), np.asarray(b, dtype=float)
        for end in (one, other):
            _with_corner(self.rings[child], end)
            _with_corner(self.rings[parent], end)
        self.creases.append(_Crease(parent, child, one, other, by, soft))

    def flap(
        self,
        parent: int,
        a: ArrayLike,
        b: ArrayLike,
        out: ArrayLike,
        paint: ArrayLike,
        name: str = "tab",
        by: Literal["brake", "tongs"] = "tongs",
        cut: tuple[float, float] = (0.0, 0.0),
    ) -> int:
        """A flap on the edge a to b reaching by ``out``; ``cut`` mm are taken off its tip at a and at b."""
        one, other, way = (np.asarray(p, dtype=float) for p in (a, b, out))
        along = (other - one) / np.linalg.norm(other - one)
        child = self.add(name, [one, other, other + way - along * cut[1], one + way + along * cut[0]], paint)
        self.fold(parent, child, one, other, by)
        return child

    def surface(self) -> Surface:
        """What :func:`~yattle.pattern.unfold.unfold` takes."""
        rings = self.rings
        faces = tuple(
            Face(name, tuple(_tuple(p) for p in ring))
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


def _tuple(point: Array) -> tuple[float, float, float]:
    return float(point[0]), float(point[1]), float(point[2])


def _with_corner(ring: list[Array], point: Array, near: float = 1e-4) -> None:
    """Give the ring a corner at ``point`` on one of its edges, if it has none within ``near`` mm."""
    if any(float(np.linalg.norm(p - point)) < near for p in ring):
        return
    for k, p in enumerate(ring):
        step = ring[(k + 1) % len(ring)] - p
        share = float((point - p) @ step / (step @ step))
        if 0 < share < 1 and float(np.linalg.norm(p + share * step - point)) < 1e-4:
            ring.insert(k + 1, point)
            return


def _edge(ring: list[Array], a: Array, b: Array, name: str) -> int:
    """Which edge of the ring the stretch from one to the other lies on."""
    for k, p in enumerate(ring):
        q = ring[(k + 1) % len(ring)]
        long = float(np.linalg.norm(q - p))
        if max(float(np.linalg.norm(e - p) + np.linalg.norm(e - q)) for e in (a, b)) < long + 1e-7 * (1 + long):
            return k
    raise InputError(name, "a fold that is not on an edge of both its parts", "parts that meet along the fold")
