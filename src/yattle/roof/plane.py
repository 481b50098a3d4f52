"""Planes, blocks as bodies, and convex cutting in plan. Lengths mm, angles degrees."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property

from yattle.roof.model import Flat, Gable, Hip, Shed, SketchedFace

Point = tuple[float, float]
Point3 = tuple[float, float, float]
Ring = tuple[Point, ...]
SAME = 1e-9  # slopes that differ by less are one slope
_LEVEL = 0.05  # mm: planes that differ by less are one
_APART = 1e-4  # mm: points nearer to each other are one


@dataclass(frozen=True)
class Plane:
    """z = ``gx``·x + ``gy``·y + ``c``: a roof plane, never upright. ``gx`` and ``gy`` rise over run, ``c`` in mm.

    >>> rising = Plane(0.0, -1.0, 5000.0)  # it falls toward +y
    >>> rising.pitch, rising.at((0.0, 1000.0))
    (45.0, (0.0, 1000.0, 4000.0))
    """

    gx: float
    gy: float
    c: float

    def z(self, point: Point) -> float:
        """The plane's height over ``point`` in plan, mm."""
        return self.gx * point[0] + self.gy * point[1] + self.c

    def at(self, point: Point) -> Point3:
        """The place on the plane over ``point`` in plan, mm."""
        return point[0], point[1], self.z(point)

    @cached_property
    def stretch(self) -> float:
        """Area on the slope over area in plan: a ratio, 1 on a flat roof."""
        return math.sqrt(1 + self.gx * self.gx + self.gy * self.gy)

    @property
    def normal(self) -> Point3:
        """The unit normal, upward."""
        return 0.0 - self.gx / self.stretch, 0.0 - self.gy / self.stretch, 1 / self.stretch

    @property
    def offset(self) -> float:
        """n·p of every point p on the plane, mm."""
        return self.c / self.stretch

    @property
    def pitch(self) -> float:
        """Degrees from level, 0 to under 90."""
        return math.degrees(math.atan(math.hypot(self.gx, self.gy)))

    @property
    def fall(self) -> Point | None:
        """The unit direction in plan in which water runs; ``None`` on a flat roof."""
        steep = math.hypot(self.gx, self.gy)
        return None if steep < SAME else (-self.gx / steep, -self.gy / steep)

    def same(self, other: Plane, near: Point) -> bool:
        """Whether both are one plane: slopes alike, and heights over ``near`` within 0.05 mm."""
        return (abs(self.gx - other.gx) < SAME and abs(self.gy - other.gy) < SAME
                and abs(self.z(near) - other.z(near)) < _LEVEL)


def angle_between(a: Point3, b: Point3) -> float:
    """Degrees between two unit vectors, exact near 0 as well."""
    cross = (a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0])
    return math.degrees(math.atan2(math.hypot(*cross), a[0] * b[0] + a[1] * b[1] + a[2] * b[2]))


def cut(ring: Ring, gx: float, gy: float, c: float) -> Ring:
    """The part of a convex ``ring`` where gx·x + gy·y + c > 0; empty where there is none. In mm.

    >>> cut(((0.0, 0.0), (10.0, 0.0), (10.0, 10.0), (0.0, 10.0)), -1.0, 0.0, 4.0)  # where x < 4
    ((0.0, 0.0), (4.0, 0.0), (4.0, 10.0), (0.0, 10.0))
    """
    if not ring:
        return ()
    values = [gx * x + gy * y + c for x, y in ring]
    scale = 1e-9 * max(1.0, max(abs(v) for v in values))
    if min(values) >= -scale:
        return ring if max(values) > scale else ()
    if max(values) <= scale:
        return ()
    kept: list[Point] = []
    for n, (point, value) in enumerate(zip(ring, values, strict=True)):
        after, next_value = ring[(n + 1) % len(ring)], values[(n + 1) % len(ring)]
        if value >= 0:
            kept.append(point)
        if (value > 0 > next_value) or (value < 0 < next_value):
            share = value / (value - next_value)
            kept.append((point[0] + share * (after[0] - point[0]), point[1] + share * (after[1] - point[1])))
    return _once_each(kept)


def _once_each(ring: list[Point]) -> Ring:
    """``ring`` without points that stand on the one before; empty where less than a triangle is left."""
    kept = [p for n, p in enumerate(ring) if abs(p[0] - ring[n - 1][0]) + abs(p[1] - ring[n - 1][1]) > _APART]
    return tuple(kept) if len(kept) > 2 else ()


def below(ring: Ring, low: Plane, high: Plane) -> Ring:
    """The part of a convex ``ring`` where ``low`` lies under ``high``. In mm."""
    return cut(ring, high.gx - low.gx, high.gy - low.gy, high.c - low.c)


def inside(ring: Ring, within: Ring) -> Ring:
    """The part of a convex ``ring`` within another, which runs anticlockwise. In mm."""
    for n, (x, y) in enumerate(within):
        to = within[(n + 1) % len(within)]
        dx, dy = to[0] - x, to[1] - y
        size = math.hypot(dx, dy)
        if size < SAME:
            continue
        ring = cut(ring, -dy / size, dx / size, (dy * x - dx * y) / size)
    return ring


@dataclass(frozen=True, eq=True, unsafe_hash=False)
class BlockBody:
    """One block: ``walls`` and ``roof`` its rectangles in plan (without and with overhang, anticlockwise),
    ``planes`` whose least height is the roof, ``faces`` the part of ``roof`` that each plane covers. In mm."""

    id: str
    walls: Ring
    roof: Ring
    planes: tuple[Plane, ...]
    faces: tuple[Ring, ...]

    def height(self, point: Point) -> float:
        """The height of the block's roof over ``point`` in plan, mm."""
        return min(plane.z(point) for plane in self.planes)

    def stands_at(self, point: Point, by: float = 0.0) -> bool:
        """Whether ``point`` lies between the walls, at least ``by`` mm inside."""
        return all(_side(a, b, point) > by for a, b in zip(self.walls, (*self.walls[1:], self.walls[0]), strict=True))

    @property
    def ridge(self) -> float | None:
        """How high its two sides meet, mm; ``None`` of a block with one plane."""
        if len(self.planes) < 2:
            return None
        (one, other), (a, b, c, _) = self.planes[:2], self.walls
        middle = (a[0] + c[0]) / 2, (a[1] + c[1]) / 2
        way = c[0] - b[0], c[1] - b[1]
        rise = (one.gx - other.gx) * way[0] + (one.gy - other.gy) * way[1]
        share = (other.z(middle) - one.z(middle)) / rise
        return one.z((middle[0] + share * way[0], middle[1] + share * way[1]))

    def raised(self, by: float) -> BlockBody:
        """The same so many mm higher."""
        return replace(self, planes=tuple(replace(plane, c=plane.c + by) for plane in self.planes))

    @cached_property
    def _hash(self) -> int:
        return hash((self.id, self.walls, self.roof, self.planes))

    def __hash__(self) -> int:
        return self._hash

    @cached_property
    def box(self) -> tuple[float, float, float, float]:
        """Least x, least y, greatest x, greatest y of its roof in plan, mm."""
        xs, ys = zip(*self.roof, strict=True)
        return min(xs), min(ys), max(xs), max(ys)


def _side(a: Point, b: Point, point: Point) -> float:
    """How far ``point`` lies on the left of the line from ``a`` to ``b``, mm."""
    dx, dy = b[0] - a[0], b[1] - a[1]
    return (dx * (point[1] - a[1]) - dy * (point[0] - a[0])) / math.hypot(dx, dy)


def body(block: Gable | Hip | Shed | Flat) -> BlockBody:
    """A block's rectangles and planes; planes pass through the wall lines at the eave height."""
    along = _turned(block.bearing)
    left = (-along[1], along[0])
    half_length, half_span = block.length / 2, block.span / 2
    centre = (block.x, block.y)
    planes: tuple[Plane, ...]
    over_end = over_left = over_right = block.eave_overhang
    if isinstance(block, Flat):
        planes = (Plane(0.0, 0.0, block.eave_height),)
    elif isinstance(block, Shed):
        planes = (_rising(centre, (-left[0], -left[1]), half_span, block.pitch, block.eave_height),)
        over_end = block.rake_overhang
        over_left = block.eave_overhang if block.top_overhang is None else block.top_overhang
    else:
        right = block.pitch if block.pitch_right is None else block.pitch_right
        planes = (_rising(centre, left, half_span, block.pitch, block.eave_height),
                  _rising(centre, (-left[0], -left[1]), half_span, right, block.eave_height))
        over_right = _overhang(block, right)
        if isinstance(block, Gable):
            over_end = block.rake_overhang
        else:
            ends = block.pitch if block.pitch_ends is None else block.pitch_ends
            over_end = _overhang(block, ends)
            planes += (_rising(centre, along, half_length, ends, block.eave_height),
                       _rising(centre, (-along[0], -along[1]), half_length, ends, block.eave_height))
    walls = _rectangle(centre, along, left, half_length, (half_span, half_span))
    roof = _rectangle(centre, along, left, half_length + over_end, (half_span + over_right, half_span + over_left))
    return BlockBody(block.id, walls, roof, planes, covered(roof, planes))


def sketched(face: SketchedFace) -> tuple[Ring, Plane]:
    """A face of its own: its outline anticlockwise and its plane, rising from its eave. In mm."""
    ring = face.outline
    a, b = ring[face.eave], ring[(face.eave + 1) % len(ring)]
    turn = math.copysign(1.0, sum(p[0] * q[1] - q[0] * p[1] for p, q in zip(ring, (*ring[1:], ring[0]), strict=True)))
    size = math.hypot(b[0] - a[0], b[1] - a[1]) * turn
    inward = (-(b[1] - a[1]) / size, (b[0] - a[0]) / size)
    slope = math.tan(math.radians(face.pitch))
    gx, gy = slope * inward[0], slope * inward[1]
    plane = Plane(gx, gy, face.eave_height - gx * a[0] - gy * a[1])
    return (ring if turn > 0 else ring[::-1]), plane


def _turned(bearing: float) -> Point:
    """The unit vector of a bearing; square turns come out exact."""
    quarter = {0.0: (1.0, 0.0), 90.0: (0.0, 1.0), 180.0: (-1.0, 0.0), 270.0: (0.0, -1.0)}
    angle = bearing % 360.0
    return quarter.get(angle) or (math.cos(math.radians(angle)), math.sin(math.radians(angle)))


def _rising(centre: Point, outward: Point, half: float, pitch: float, height: float) -> Plane:
    """The plane through the wall line ``half`` mm from ``centre`` along ``outward``, rising inward."""
    slope = math.tan(math.radians(pitch))
    gx, gy = -slope * outward[0], -slope * outward[1]
    return Plane(gx, gy, height + slope * half - gx * centre[0] - gy * centre[1])


def _overhang(block: Gable | Hip, pitch: float) -> float:
    """The overhang of a side of that pitch, in plan: the block's own, or what brings its eave as far down as that of
    the left side. In mm."""
    if block.fascia == "own":
        return block.eave_overhang
    return block.eave_overhang * math.tan(math.radians(block.pitch)) / math.tan(math.radians(pitch))


def _rectangle(centre: Point, along: Point, left: Point, half_length: float, wide: tuple[float, float]) -> Ring:
    """The rectangle anticlockwise; ``wide``: how far it reaches to the right and to the left of its middle, mm."""
    return tuple((centre[0] + u * half_length * along[0] + v * left[0],
                  centre[1] + u * half_length * along[1] + v * left[1])
                 for u, v in ((-1, -wide[0]), (1, -wide[0]), (1, wide[1]), (-1, wide[1])))


def covered(roof: Ring, planes: tuple[Plane, ...]) -> tuple[Ring, ...]:
    """The part of a block's roof in plan, mm, where each plane is the lowest of all."""
    faces = []
    for plane in planes:
        ring = roof
        for other in planes:
            if other is not plane:
                ring = below(ring, plane, other)
        faces.append(ring)
    return tuple(faces)


_COMPASS = ("east", "north-east", "north", "north-west", "west", "south-west", "south", "south-east")


def compass(way: Point) -> str:
    """A direction in plan (mm, or any length) in words; x is east, y is north.

    >>> compass((0.0, 2.0)), compass((-1.0, -1.1))
    ('north', 'south-west')
    """
    return _COMPASS[round(math.degrees(math.atan2(way[1], way[0])) / 45) % 8]
