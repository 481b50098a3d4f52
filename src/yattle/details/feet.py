"""Where the sides of an opening stand on the roof: the feet of its upstands, stretch by stretch.

The frame: x to the right and y upslope in plan from the opening's middle, z up, the roof through the origin.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from yattle.bounds import Bearing, Place
from yattle.values import Value

Array = NDArray[np.float64]
UP = np.array([0.0, 0.0, 1.0])


class Meets(Value):
    """Another roof plane near the opening: a ``ridge`` or a ``valley`` whose line passes ``away`` mm (in plan) from the
    opening's middle; that plane's ``pitch`` and where it falls to, ``turn`` degrees anticlockwise in plan from where
    the opening's own plane falls."""

    kind: Literal["ridge", "valley"] = "ridge"
    pitch: Annotated[float, Field(ge=0, lt=89)]
    turn: Bearing = 180.0
    away: Place = 0.0


@dataclass(frozen=True)
class RoofHere:
    """The roof round an opening: heights z = gradient · (x, y) + offset of one or two planes, the lower of them at a
    ridge, the higher in a valley. Places in mm, gradients rise over run."""

    planes: tuple[tuple[float, float, float], ...]
    valley: bool = False

    @staticmethod
    def of(pitch: float, meets: Meets | None = None) -> RoofHere:
        """The roof of ``pitch`` degrees round an opening; the opening's own plane falls toward −y."""
        rise = math.tan(math.radians(pitch))
        if meets is None:
            return RoofHere(((0.0, rise, 0.0),))
        other, way = math.tan(math.radians(meets.pitch)), math.radians(meets.turn - 90)
        gx, gy = -other * math.cos(way), -other * math.sin(way)
        apart = math.hypot(gx, gy - rise) * abs(meets.away)
        return RoofHere(
            ((0.0, rise, 0.0), (gx, gy, -apart if meets.kind == "valley" else apart)), meets.kind == "valley"
        )

    def heights(self, x: float, y: float) -> list[float]:
        """The height of each plane over a place in plan, mm."""
        return [gx * x + gy * y + c for gx, gy, c in self.planes]

    def on(self, x: float, y: float) -> int:
        """Which plane the roof has at a place in plan, mm: its number."""
        heights = self.heights(x, y)
        return heights.index(max(heights) if self.valley else min(heights))

    def over(self, x: Array, y: Array) -> Array:
        """The roof's heights at many places."""
        heights = np.array([gx * x + gy * y + c for gx, gy, c in self.planes])
        return np.asarray(heights.max(axis=0) if self.valley else heights.min(axis=0))

    def at(self, x: float, y: float) -> Array:
        """The place on the roof over a place in plan, mm."""
        heights = self.heights(x, y)
        return np.array([x, y, max(heights) if self.valley else min(heights)])

    def normal(self, plane: int) -> Array:
        """The unit normal of a plane, upward."""
        gx, gy, _ = self.planes[plane]
        return np.array([-gx, -gy, 1.0]) / math.sqrt(gx * gx + gy * gy + 1)

    def crossing(self, a: Array, b: Array) -> Array | None:
        """Where the planes' line crosses from a to b (in plan), well inside; ``None`` where it does not. In mm."""
        if len(self.planes) < 2:
            return None
        ends = [self.heights(*p[:2]) for p in (a, b)]
        one, other = ends[0][0] - ends[0][1], ends[1][0] - ends[1][1]
        if one * other >= 0:
            return None
        share = one / (one - other)
        return self.at(*(a[:2] + share * (b[:2] - a[:2])))

    @property
    def drains(self) -> bool:
        """Whether both planes fall to the line where they meet. Where one falls away from it, the other's water
        crosses the line and runs on over that one."""
        (ax, ay, _), (bx, by, _) = self.planes
        return ax * (ax - bx) + ay * (ay - by) > 0 and bx * (bx - ax) + by * (by - ay) > 0

    @cached_property
    def line(self) -> Array:
        """The unit direction of the line where two planes meet."""
        along = cross(self.normal(0), self.normal(1))
        return np.asarray(along / np.linalg.norm(along))


@dataclass(frozen=True)
class Stretch:
    """One straight foot of an opening. Places in mm, directions of unit length.

    ``a``, ``b``: its ends, anticlockwise round the opening; ``side``: 0 the front
    ``out``: out of the opening, level
    ``normal``, ``plane``: the roof's there
    ``kinks``: whether a and b are where planes meet
    """

    side: int
    a: Array
    b: Array
    out: Array
    normal: Array
    plane: int
    kinks: tuple[bool, bool]

    @cached_property
    def along(self) -> Array:
        """The unit direction of the foot, from a to b."""
        return np.asarray((self.b - self.a) / self.length)

    @cached_property
    def level(self) -> Array:
        """The unit direction along the wall, level, from a to b."""
        x, y, _ = self.along.tolist()
        return np.array([x, y, 0.0]) / math.hypot(x, y)

    @cached_property
    def away(self) -> Array:
        """The unit direction in the roof, square to the foot, away from the opening."""
        across = cross(self.along, self.normal)
        return np.asarray(across if across @ self.out > 0 else -across)

    @cached_property
    def length(self) -> float:
        """The foot's length on the roof, mm."""
        return math.dist(self.a, self.b)

    @cached_property
    def across(self) -> Array:
        """The unit direction that is level, across the roof's fall."""
        x, y, _ = self.normal.tolist()
        return np.array([-y, x, 0.0]) / math.hypot(x, y)

    @cached_property
    def falls(self) -> bool:
        """Whether the foot runs rather down the slope than across it: within 30° of the fall in plan."""
        return abs(float(self.level @ self.across)) < 0.5

    @property
    def height(self) -> float:
        """Of its middle, mm."""
        return float(self.a[2] + self.b[2]) / 2

    @cached_property
    def sheds(self) -> bool:
        """Whether water on it runs away from the opening, over what lies downslope."""
        fall = np.array([self.normal[0], self.normal[1]])
        return bool(self.out[:2] @ fall > 0.02 * math.hypot(*fall))


def corners_of(across: float, along: float, turned: float) -> list[Array]:
    """The opening's corners in plan, anticlockwise from the front's left one. Sizes in mm, the turn in degrees."""
    cos, sin = math.cos(math.radians(turned)), math.sin(math.radians(turned))
    square = [(-across / 2, -along / 2), (across / 2, -along / 2), (across / 2, along / 2), (-across / 2, along / 2)]
    return [np.array([x * cos - y * sin, x * sin + y * cos]) for x, y in square]


def stretches(roof: RoofHere, across: float, along: float, turned: float = 0.0) -> list[Stretch]:
    """All feet of an opening, anticlockwise from the front's left corner. Sizes in mm, the turn in degrees."""
    corners, found = corners_of(across, along, turned), []
    for side in range(4):
        p, q = corners[side], corners[(side + 1) % 4]
        step = (q - p) / np.linalg.norm(q - p)
        out = np.array([step[1], -step[0], 0.0])
        kink = roof.crossing(p, q)
        ends = [roof.at(*p), roof.at(*q)] if kink is None else [roof.at(*p), kink, roof.at(*q)]
        for n in range(len(ends) - 1):
            a, b = ends[n], ends[n + 1]
            plane = roof.on(*((a + b) / 2)[:2])
            found.append(Stretch(side, a, b, out, roof.normal(plane), plane, (n == 1, n == 0 and kink is not None)))
    return found


def angle(one: Array, other: Array) -> float:
    """Degrees between two directions."""
    size = math.hypot(*one.tolist()) * math.hypot(*other.tolist())
    return math.degrees(math.acos(max(-1.0, min(1.0, float(one @ other) / size))))


def cross(one: Array, other: Array) -> Array:
    """The cross product of two vectors, in the product of their units; in plain numbers, which is quicker for a few."""
    (a, b, c), (x, y, z) = one.tolist(), other.tolist()
    return np.array([b * z - c * y, c * x - a * z, a * y - b * x])
