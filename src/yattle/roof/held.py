"""A roof's measures while its blocks' values vary a little: every corner stays the meeting of the same surfaces.

Roof planes, wall planes and the upright planes over the overhangs follow from the blocks alone, without the blocks
being joined anew. Which of them meet in a corner is found once, on the roof as it stands; so a ridge does not become
another one, nor an edge vanish, because a value moved by half a millimetre.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

from yattle.roof.build import Roof
from yattle.roof.edges import Edge
from yattle.roof.facets import Facet
from yattle.roof.model import RoofPlan
from yattle.roof.plane import BlockBody, Plane, Point, Point3, angle_between, body

Key = tuple[str, str, int]
Surface = tuple[float, float, float, float]
"""A plane n·p = d: its unit normal and d in mm."""
_ON = 0.1  # mm: how far a corner may stand off a surface that meets there
_FLAT = 1e-6  # of a determinant: three surfaces that meet in a line


def surfaces_of(bodies: tuple[BlockBody, ...]) -> Iterator[tuple[Key, Surface]]:
    """Every block's roof planes, walls and the upright planes over its overhangs."""
    for own in bodies:
        for n, plane in enumerate(own.planes):
            yield (own.id, "plane", n), (*plane.normal, plane.offset)
        for what, ring in (("wall", own.walls), ("overhang", own.roof)):
            for side in range(4):
                yield (own.id, what, side), _upright(ring[side], ring[(side + 1) % 4])


def _upright(a: Point, b: Point) -> Surface:
    size = math.dist(a, b)
    x, y = (b[1] - a[1]) / size, (a[0] - b[0]) / size
    return x, y, 0.0, x * a[0] + y * a[1]


@dataclass(frozen=True)
class _HeldCorner:
    """The surfaces that meet in a corner; without any it stays where it is, ``at`` in mm."""

    meets: tuple[Key, Key, Key] | None
    at: Point3


class HeldRoof:
    """The measures of a roof as its blocks' values vary; raises nothing: what cannot be followed stays as it was."""

    def __init__(self, roof: Roof) -> None:
        self.roof = roof
        self._start = dict(surfaces_of(tuple(body(block) for block in roof.plan.blocks)))
        self._fixed = {facet.id: facet.plane for facet in roof.facets}
        self._faces = {facet.id: self._plane_of(facet) for facet in roof.facets}
        self._corners: dict[tuple[tuple[Key, ...], int, int, int], _HeldCorner] = {}

    def at(self, plan: RoofPlan) -> HeldValues:
        """The measures with the values of ``plan``, whose blocks are those of the roof."""
        return HeldValues(self, dict(surfaces_of(tuple(body(block) for block in plan.blocks))))

    def _plane_of(self, facet: Facet) -> Key | None:
        """Which of its block's planes a facet lies in; ``None`` for a face of its own."""
        for key, surface in self._start.items():
            if key[0] == facet.block and key[1] == "plane" and _same(surface, facet.plane):
                return key
        return None

    def pair(self, edge: Edge) -> tuple[Key, ...]:
        """The surfaces that meet along an edge, as far as they are known."""
        keys = [key for face in edge.facets if (key := self._faces[face]) is not None]
        if len(edge.facets) == 1:
            upright = [key for key, surface in self._start.items() if key[1] != "plane"
                       and (not edge.wall or key[:2] == (edge.wall, "wall"))
                       and all(_off(surface, end) < _ON for end in (edge.a, edge.b))]
            own = self.roof.facet(edge.facets[0]).block
            keys += sorted(upright, key=lambda key: (key[0] != own, key[1] != "overhang"))[:1]
        return tuple(keys)

    def face(self, face: str) -> tuple[Key, ...]:
        """The surface of a face, as far as it is known."""
        key = self._faces[face]
        return () if key is None else (key,)

    def corner(self, at: Point3, of: tuple[Key, ...]) -> _HeldCorner:
        """What meets in a corner, in mm, of an edge or a face whose own surfaces are ``of``: with those what else ends
        there and meets them most squarely."""
        x, y, z = at
        cell = of, round(x), round(y), round(z)
        if cell not in self._corners:
            self._corners[cell] = _HeldCorner(self._meets(at, of), at)
        return self._corners[cell]

    def _meets(self, at: Point3, of: tuple[Key, ...]) -> tuple[Key, Key, Key] | None:
        ending = self.roof.ending_at(at)
        keys = [*of, *(key for edge in ending for key in self.pair(edge))]
        found = self._squarest(keys, at, of)
        if found is None:  # where an edge ends beneath what hides the other edges
            blocks = {key[0] for key in keys}
            found = self._squarest([*keys, *(key for key in self._start if key[0] in blocks)], at, of)
        return found

    def _squarest(self, keys: list[Key], at: Point3, of: tuple[Key, ...]) -> tuple[Key, Key, Key] | None:
        """Of surfaces those three through a place, ``of`` among them, that meet most squarely, the first ones of those
        alike."""
        keys = [key for key in dict.fromkeys(keys) if _off(self._start[key], at) < _ON]
        best, found = _FLAT, None
        for i, one in enumerate(keys):
            for j in range(i + 1, len(keys)):
                for third in keys[j + 1:]:
                    if not {one, keys[j], third}.issuperset(of):
                        continue
                    size = abs(_square(self._start[one], self._start[keys[j]], self._start[third]))
                    if size > best * (1 + 1e-9):
                        best, found = size, (one, keys[j], third)
        return found


def _same(surface: Surface, plane: Plane) -> bool:
    return math.dist(surface[:3], plane.normal) < 1e-9 and abs(surface[3] - plane.offset) < 1e-2


def _off(surface: Surface, at: Point3) -> float:
    return abs(surface[0] * at[0] + surface[1] * at[1] + surface[2] * at[2] - surface[3])


def _square(a: Surface, b: Surface, c: Surface) -> float:
    """The determinant of three normals: 1 where they stand square to each other."""
    return float(a[0] * (b[1] * c[2] - b[2] * c[1]) - a[1] * (b[0] * c[2] - b[2] * c[0])
                 + a[2] * (b[0] * c[1] - b[1] * c[0]))


def _cross(a: Surface, b: Surface) -> Point3:
    return a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]


@dataclass(frozen=True)
class HeldValues:
    """Lengths in mm and angles in degrees of a held roof with one set of values."""

    held: HeldRoof
    surfaces: dict[Key, Surface]

    def place(self, at: Point3, of: tuple[Key, ...] = ()) -> Point3:
        """Where a corner, given as it stood, in mm, is now; ``of``: the surfaces of the edge or face it ends."""
        corner = self.held.corner(at, of)
        if corner.meets is None:
            return corner.at
        a, b, c = (self.surfaces[key] for key in corner.meets)
        whole = _square(a, b, c)
        if abs(whole) < _FLAT:
            return corner.at
        p, q, r = _cross(b, c), _cross(c, a), _cross(a, b)
        x, y, z = ((a[3] * p[k] + b[3] * q[k] + c[3] * r[k]) / whole for k in range(3))
        return x, y, z

    def between(self, a: Point3, b: Point3, of: tuple[Key, ...] = ()) -> float:
        """How far two corners of an edge or face, given as they stood, are apart now, mm."""
        return math.dist(self.place(a, of), self.place(b, of))

    def pitch(self, face: str) -> float:
        """A face's pitch, degrees."""
        return math.degrees(math.acos(max(-1.0, min(1.0, self._normal(face)[2]))))

    def fold(self, edge: Edge) -> float | None:
        """An edge's fold, degrees; ``None`` for a free edge."""
        if edge.fold is None:
            return None
        if len(edge.facets) == 2:
            return angle_between(self._normal(edge.facets[0]), self._normal(edge.facets[1]))
        wall = next((key for key in self.held.pair(edge) if key[1] == "wall"), None)
        return edge.fold if wall is None else angle_between(self._normal(edge.facets[0]), self.surfaces[wall][:3])

    def _normal(self, face: str) -> Point3:
        key = self.held._faces[face]
        return self.held._fixed[face].normal if key is None else self.surfaces[key][:3]
