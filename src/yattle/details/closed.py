"""Pieces that close a place where several edges meet: three-way caps, peaks, boxes and end caps."""

from __future__ import annotations

import math
from abc import abstractmethod
from collections.abc import Iterator
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from yattle.bounds import Bearing, Id, Lap, Size, SizeOrNone, Steep
from yattle.details.feet import UP, Array
from yattle.details.forms import Form
from yattle.errors import InputError
from yattle.pattern.body import Body
from yattle.pattern.proof import prove_against_faces
from yattle.pattern.surface import Surface
from yattle.pattern.unfold import unfold

_NTH = ("first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth", "tenth", "eleventh",
        "twelfth")
_ON_PLANE = 1e-4  # of a unit line: how far it may stand off its plane
Pitch = Annotated[float, Field(ge=1, lt=85)]


def plane(pitch: float, way: float) -> Array:
    """The normal of a plane that falls toward ``way`` degrees in plan (anticlockwise from x)."""
    lean, turn = math.radians(pitch), math.radians(way)
    return np.array([math.sin(lean) * math.cos(turn), math.sin(lean) * math.sin(turn), math.cos(lean)])


def meeting(one: Array, other: Array, toward: Array) -> Array:
    """The unit direction in which two planes meet, to the side of ``toward``. Raises :class:`InputError` where they
    are one plane."""
    line = np.cross(one, other)
    size = float(np.linalg.norm(line))
    if size < 1e-6:
        raise InputError("pitch", "two planes that are the same", "planes that meet along an edge")
    return np.asarray(line / size * (1 if line @ toward > 0 else -1))


def sector(one: Array, other: Array, normal: Array) -> float:
    """Degrees from one direction to another in the plane of ``normal``, anticlockwise as it is seen."""
    return math.degrees(math.atan2(float(np.cross(one, other) @ normal), float(one @ other))) % 360


class _Point(Form):
    """A place where edges meet: planes round it, each from one edge to the next. ``arm`` along each edge, ``wing``
    across it, ``lap`` of the seams. ``ways``: where the left, the right and the third plane fall to in plan, degrees
    anticlockwise, the third's way −90 where the roof is square."""

    arm: Size = 250.0
    wing: Size = 120.0
    lap: Lap = 30.0
    ways: tuple[Bearing, Bearing, Bearing] = (180.0, 0.0, -90.0)

    @property
    def beyond(self) -> float:
        """How far a plane that goes round the place by more than half reaches beyond it, mm."""
        return self.wing

    def _toward(self, n: int) -> Array:
        """Where plane ``n`` falls to, level."""
        turn = math.radians(self.ways[n])
        return np.array([math.cos(turn), math.sin(turn), 0.0])

    @abstractmethod
    def edges(self) -> tuple[list[str], list[Array], list[Array]]:
        """The edges' names, their directions away from the place (anticlockwise from above), and the normal of the
        plane from each to the next."""

    def surfaces(self) -> tuple[Surface, ...]:
        names, ways, normals = self.edges()
        count = len(ways)
        trouble: InputError | None = None
        fans: tuple[Surface, ...] = ()
        for parts in _partings(count):
            fans = tuple(self._fan(names, ways, normals, start, end, _named_part(n, len(parts))).surface()
                         for n, (start, end) in enumerate(parts))
            try:
                flat = [unfold(fan, self.metal, self.id, self.measured) for fan in fans]
            except InputError as wrong:  # too much sheet round the place: part it by a seam more
                trouble = wrong
                continue
            if all(prove_against_faces(each.pattern, each.seats, each.faces).holds for each in flat):
                return fans
        if trouble is not None:
            raise trouble
        return fans

    def _fan(self, names: list[str], ways: list[Array], normals: list[Array], start: int, end: int,
             name: str) -> Body:
        """Planes from edge ``start`` to edge ``end`` folded at the edges between, with a lap over the last one."""
        body, count = Body(name), len(ways)
        rings = [self._panel(ways[n], ways[(n + 1) % count], normals[n]) for n in range(start, end)]
        faces = [body.add(f"{names[n]} to {names[(n + 1) % count]}", ring, normals[n])
                 for n, ring in zip(range(start, end), rings, strict=True)]
        origin = np.zeros(3)
        for n in range(start + 1, end):
            body.fold(faces[n - start - 1], faces[n - start], origin, ways[n] * self.arm)
        last, beyond = ways[end % count], normals[end % count]
        out = np.cross(beyond, last)
        spent = sum(sector(ways[n], ways[(n + 1) % count], normals[n]) for n in range(start, end))
        room = min(80.0, 0.6 * (360 - spent), 0.6 * sector(last, ways[(end + 1) % count], beyond))
        steep = math.tan(math.radians(max(room, 0.5)))
        lap = min(self.lap, 0.8 * self.arm * steep)  # no wider than the plane that it goes onto
        body.flap(faces[-1], origin, last * self.arm, out * lap, beyond, "lap", "brake", (lap / steep, 0.0))
        return body

    def _panel(self, one: Array, other: Array, normal: Array) -> list[Array]:
        """One plane's part: between two edges, ``wing`` wide along each; where they are nearly in line, straight
        across; where it goes round the place by more than half, beyond it too."""
        inside = [np.cross(normal, one), -np.cross(normal, other)]
        inside = [v / np.linalg.norm(v) for v in inside]
        half = math.radians(sector(one, other, normal) / 2)
        a, b = one * self.arm, other * self.arm
        outer = [a, a + inside[0] * self.wing], [b + inside[1] * self.wing, b]
        if half > math.pi / 2:
            past = (self.beyond - self.wing * math.sin(half)) / math.cos(half)
            between = [way * past + inside[n] * self.wing for n, way in enumerate((one, other))]
            return [np.zeros(3), *outer[0], *between, *outer[1]]
        bend = self.wing / math.tan(half)
        if bend > self.arm:
            return [np.zeros(3), a, b]  # the arms are too short for that width
        return [np.zeros(3), *outer[0], one * bend + inside[0] * self.wing, *outer[1]]


def _partings(count: int) -> Iterator[tuple[tuple[int, int], ...]]:
    """The ways to part ``count`` planes round a place into pieces, from edge to edge, those with fewest seams first, of
    these the most even."""
    yield ((0, count),)
    for half in sorted(range(1, count), key=lambda n: (abs(n - count / 2), n)):
        yield (0, half), (half, count)
    yield tuple((n, n + 1) for n in range(count))


def _named_part(n: int, count: int) -> str:
    return "cap" if count == 1 else f"cap, {_NTH[n]}"


class ThreeWay(_Point):
    """A ridge between planes of ``left`` and ``right`` pitch meeting the two hips of an end of pitch ``end``."""

    detail: Literal["three-way-cap"] = "three-way-cap"
    id: Id = "TW1"
    left: Pitch = 30.0
    right: Pitch = 30.0
    end: Pitch = 30.0

    def edges(self) -> tuple[list[str], list[Array], list[Array]]:
        """Names of the edges, anticlockwise from the ridge, the hips after it; their unit directions; and the unit
        normals of the planes, each from one edge to the next."""
        a, b, c = (plane(p, w) for p, w in zip((self.left, self.right, self.end), self.ways, strict=True))
        ridge = meeting(a, b, -self._toward(2))
        left, right = (meeting(side, c, self._toward(n) + self._toward(2) - UP) for n, side in ((0, a), (1, b)))
        return ["ridge", "left hip", "right hip"], [ridge, left, right], [a, c, b]


class DormerRidge(_Point):
    """The ridge of a dormer (pitches ``left`` and ``right``) running into a main roof of pitch ``main``: the two
    valleys begin there. ``up``: how far it goes up that roof beyond the place, where that is more than to each side,
    mm."""

    detail: Literal["dormer-ridge"] = "dormer-ridge"
    id: Id = "DR1"
    left: Pitch = 30.0
    right: Pitch = 30.0
    main: Pitch = 40.0
    up: SizeOrNone = 0.0

    @property
    def beyond(self) -> float:
        """How far its plane on the main roof reaches up beyond the place, mm."""
        return max(self.up, self.wing)

    def edges(self) -> tuple[list[str], list[Array], list[Array]]:
        """Names of the edges, anticlockwise from the ridge, the valleys after it; their unit directions; and the unit
        normals of the planes, each from one edge to the next. Raises :class:`InputError` where a valley would rise."""
        a, b, m = (plane(p, w) for p, w in zip((self.left, self.right, self.main), self.ways, strict=True))
        ridge = meeting(a, b, self._toward(2))
        left, right = meeting(a, m, self._toward(0)), meeting(b, m, self._toward(1))
        if left[2] > 0 or right[2] > 0:
            raise InputError("main", f"{self.main:g}°",
                             "a main roof steep enough that the valleys fall from the ridge's end")
        return ["ridge", "right valley", "left valley"], [ridge, right, left], [b, m, a]


class RidgeJoint(_Point):
    """Where ridges meet: the corner of an L, the stem of a T, a crossing. ``lines``: every edge that ends there,
    anticlockwise seen from above, as (its direction in plan, its rise from the place); ``planes``: from each to the
    next, as (where it falls to in plan, its pitch). All in degrees."""

    detail: Literal["ridge-joint"] = "ridge-joint"
    id: Id = "RJ1"
    lines: Annotated[tuple[tuple[Bearing, Steep], ...], Field(min_length=3, max_length=12)] = (
        (0.0, 0.0), (45.0, -30.0), (90.0, 0.0), (135.0, -30.0), (180.0, 0.0))
    planes: Annotated[tuple[tuple[Bearing, Pitch], ...], Field(min_length=3, max_length=12)] = (
        (90.0, 39.231520483592), (0.0, 39.231520483592), (180.0, 39.231520483592), (90.0, 39.231520483592),
        (-90.0, 39.231520483592))

    def edges(self) -> tuple[list[str], list[Array], list[Array]]:
        """Names of the edges, anticlockwise; their unit directions; and the unit normals of the planes, each from one
        edge to the next. Raises :class:`InputError` where a plane does not hold both its lines."""
        ways = [self._line(*line) for line in self.lines]
        normals = [plane(pitch, way) for way, pitch in self.planes]
        if len(ways) != len(normals):
            raise InputError("planes", f"{len(normals)} planes", f"{len(ways)}, one from each line to the next")
        for n, normal in enumerate(normals):
            off = max(abs(float(normal @ way)) for way in (ways[n], ways[(n + 1) % len(ways)]))
            if off > _ON_PLANE:
                raise InputError(f"planes.{n}", f"a plane {math.degrees(off):.3f}° off a line beside it",
                                 "the plane that holds the lines before and after it")
        return [f"line {n}" for n in range(1, len(ways) + 1)], ways, normals

    @staticmethod
    def _line(way: float, rise: float) -> Array:
        turn, up = math.radians(way), math.radians(rise)
        return np.array([math.cos(turn) * math.cos(up), math.sin(turn) * math.cos(up), math.sin(up)])


class PeakCap(_Point):
    """The peak of a gable: the ridge between ``left`` and ``right`` pitch, and the rakes' faces in the gable's plane,
    which looks toward the last of ``ways``. Lengths in mm, angles in degrees."""

    detail: Literal["peak-cap"] = "peak-cap"
    id: Id = "PK1"
    left: Pitch = 30.0
    right: Pitch = 30.0
    arm: Size = 200.0
    wing: Size = 90.0

    def edges(self) -> tuple[list[str], list[Array], list[Array]]:
        """Names of the edges, anticlockwise from the ridge, the rakes after it; their unit directions; and the unit
        normals of the planes, each from one edge to the next."""
        a, b, gable = plane(self.left, self.ways[0]), plane(self.right, self.ways[1]), self._toward(2)
        ridge = meeting(a, b, -gable)
        left, right = meeting(a, gable, self._toward(0)), meeting(b, gable, self._toward(1))
        return ["ridge", "left rake", "right rake"], [ridge, left, right], [a, gable, b]


class PaperJig(Form):
    """A flat template with two sides and the angle between them, to set a bevel by or to lay on a finished piece.
    Lengths in mm, angles in degrees."""

    detail: Literal["jig"] = "jig"
    id: Id = "J1"
    degrees: Annotated[float, Field(gt=5, lt=175)]
    arm: Size = 120.0

    def surfaces(self) -> tuple[Surface, ...]:
        turn = math.radians(self.degrees)
        body = Body(f"jig {self.degrees:.1f}°", paper=True)
        body.add("jig", [(0, 0, 0), (self.arm, 0, 0), (self.arm * math.cos(turn), self.arm * math.sin(turn), 0)], UP)
        return (body.surface(),)
