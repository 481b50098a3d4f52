"""Folded boxes that close an end or a corner: by an outline, by what stands at a gable's foot, by the section that
they close."""

from __future__ import annotations

import math
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from yattle.bounds import Id, PlacePair, Size, SizeOrNone
from yattle.details.feet import UP, Array
from yattle.details.forms import Form
from yattle.errors import InputError
from yattle.pattern.body import Body
from yattle.pattern.surface import Surface

Place = tuple[float, float]
_LEAST = 8.0  # mm: the shortest side that is folded
_BESIDE = 1.6  # of their depth: shorter sides beside an inner corner have no flap
_EVEN = 0.2  # of the whole: the least part that is worth a seam
_SAME = 0.5  # mm: corners nearer to each other are one


class Box(Form):
    """A folded box that closes an end or a corner: an end cap, a corner box or a peak box by its outline. Lengths in
    mm, angles in degrees.

    ``outline``: the section it closes, x and y, paint outward; it is the bottom
    ``width``, ``height``, ``pitch``: where none is given: how wide and high it is, its top rising with the pitch
    ``hand``: the eave's end that it closes, as seen from before the eave; seen from outside, from the gable, its top
        rises to the right at the right end
    ``depth``: of the sides, on all of it but the ``open_sides``, counted from 1
    ``tab``: each side's rivet tab inside its neighbour
    """

    detail: Literal["box"] = "box"
    id: Id = "B1"
    outline: Annotated[tuple[PlacePair, ...], Field(min_length=3, max_length=24)] | None = None
    width: Size = 150.0
    height: Size = 100.0
    pitch: Annotated[float, Field(ge=0, lt=80)] = 0.0
    hand: Literal["left", "right"] = "right"
    depth: Size = 60.0
    tab: SizeOrNone = 15.0
    open_sides: tuple[Annotated[int, Field(ge=1, le=40)], ...] = ()
    hem: SizeOrNone = 0.0

    @property
    def closes(self) -> tuple[tuple[float, float], ...]:
        """The outline in force, mm."""
        if self.outline is not None:
            return self.outline
        far = self.height + self.width * math.tan(math.radians(self.pitch))
        low, high = (self.height, far) if self.hand == "right" else (far, self.height)
        return (0.0, 0.0), (self.width, 0.0), (self.width, high), (0.0, low)

    def surfaces(self) -> tuple[Surface, ...]:
        """The box as one sheet: bottom, sides, tabs. Raises :class:`InputError` where its outline crosses itself or a
        side is not one of its own."""
        from shapely import Polygon

        shape = Polygon(self.closes)
        if not shape.is_valid or shape.area < 1:
            raise InputError("outline", "one that crosses itself or has no area", "a simple outline of the section")
        ring = [np.array([x, y, 0.0]) for x, y in self.closes]
        ring = ring if shape.exterior.is_ccw else ring[::-1]
        body, count = Body(self.detail), len(ring)
        bottom = body.add("bottom", ring, UP)
        sides = [n for n in range(count) if n + 1 not in self.open_sides]
        if not sides:
            raise InputError("open_sides", "all of them", "at least one side that is closed")
        for n in sides:
            a, b = ring[n], ring[(n + 1) % count]
            if np.linalg.norm(b - a) < 8:
                raise InputError(f"outline.{n}", f"a side of {np.linalg.norm(b - a):.1f} mm", "8 mm or more to fold a "
                                 "side from")
            out = np.cross((b - a) / np.linalg.norm(b - a), UP)
            side = body.flap(bottom, a, b, -UP * self.depth, out, f"side {n + 1}", "brake")
            if self.hem:
                self._hem(body, side, a, b, out)
            if self.tab and (n + 1) % count in sides:
                self._rivet_tab(body, side, b, ring[(n + 2) % count], -out)
        return (body.surface(),)

    def _rivet_tab(self, body: Body, side: int, at: Array, after: Array, inward: Array) -> None:
        """A tab on a side's end, lying behind the next side."""
        along = (after - at) / np.linalg.norm(after - at)
        long = min(self.tab, 0.4 * float(np.linalg.norm(after - at)))
        body.flap(side, at, at - UP * self.depth, along * long, np.cross(along, UP), "rivet tab", "tongs",
                  (0.25 * long, 0.25 * long))

    def _hem(self, body: Body, side: int, a: Array, b: Array, out: Array) -> None:
        low = UP * self.depth
        body.flap(side, a - low, b - low, UP * min(self.hem, 0.8 * self.depth), -out, "hem", "brake", (3.0, 3.0),
                  layer=-out)

    @property
    def notes(self) -> tuple[str, ...]:
        return ("Small tabs first, then the sides; rivet from outside into the tabs, seal inside.",)


class Kneeler(Box):
    """What closes the foot of a gable whose eave flies past its wall: a box ``depth`` deep from the wall's corner to
    the fascia, ``width`` along the eave's overhang, ``height`` at the fascia's end, its top rising back with the
    ``pitch``; open toward the wall. Lengths in mm, angles in degrees."""

    detail: Literal["kneeler"] = "kneeler"  # type: ignore[assignment]
    id: Id = "KN1"
    width: Size = 300.0
    height: Size = 150.0
    pitch: Annotated[float, Field(ge=0, lt=80)] = 30.0
    depth: Size = 250.0
    open_sides: tuple[Annotated[int, Field(ge=1, le=40)], ...] = (2,)

    @property
    def notes(self) -> tuple[str, ...]:
        return ("Riveted to the eave's fascia and under the rake's face; a drip hole at its lowest corner.",)


class EndCap(Box):
    """What closes the open end of a section: a gutter, an eave or rake trim, a ridge cap. Its bottom is the section
    with the line from raw edge to raw edge, its sides lie ``over`` the metal or ``inside`` it by ``clearance``. Lengths
    in mm, angles in degrees.

    ``section``: its corners from edge A to edge B, seen from the left end; ``hand``: which end it closes
    ``closing``: whether the line from edge to edge has a side too; ``slopes`` two: the section and its mirror image
        about a plumb line through its higher edge, as at a peak
    ``parts``: of one sheet, or of two that lap by ``lap`` along the shortest seam
    """

    detail: Literal["end-cap"] = "end-cap"  # type: ignore[assignment]
    id: Id = "EC1"
    section: Annotated[tuple[PlacePair, ...], Field(min_length=3, max_length=40)] = (
        (0.0, 0.0), (0.0, -85.0), (-120.0, -85.0), (-120.0, 25.0))
    hand: Literal["left", "right"] = "left"
    fit: Literal["over", "inside"] = "inside"
    clearance: SizeOrNone = 1.0
    depth: Size = 25.0
    closing: Literal["open", "closed"] = "open"
    slopes: Literal["one", "two"] = "one"

    parts: Literal["one", "two"] = "one"
    lap: SizeOrNone = 15.0

    @property
    def closes(self) -> tuple[Place, ...]:
        """The outline in force, anticlockwise, mm. Raises :class:`InputError` where the section crosses itself."""
        points = _peaked(self.section) if self.slopes == "two" else self.section
        ring = _grown(points, self.clearance if self.fit == "over" else -self.clearance)
        return tuple((-x, y) for x, y in ring[::-1]) if self.hand == "right" else ring

    def surfaces(self) -> tuple[Surface, ...]:
        """The cap as one sheet, or as two with a lap along the shortest line that parts its bottom. Raises
        :class:`InputError` where the section cannot be closed."""
        ring, name = self.closes, f"end cap, {self.hand}"
        open_ = _not_folded(ring, self.depth)
        if self.closing == "open":
            open_ |= self._chord(ring)
        if self.parts == "one":
            return (self._box(ring, open_, name),)
        i, j = _shortest_seam(ring)
        found = []
        for n, which in enumerate(([*range(i, j + 1)], [*range(j, len(ring)), *range(i + 1)]), 1):
            part = tuple(ring[k] for k in which)
            missing = {m for m, k in enumerate(which[:-1]) if k in open_} | {len(part) - 1}
            if n == 1:
                part, missing = _lapped(part, self.lap, ring), missing | {len(part) - 1, len(part), len(part) + 1}
            found.append(self._box(part, missing, f"{name}, {n} of 2"))
        return tuple(found)

    def _box(self, ring: tuple[Place, ...], open_: set[int], name: str) -> Surface:
        sides = tuple(sorted(n + 1 for n in open_ if n < len(ring)))
        plain = Box(id=self.id, metal=self.metal, measured=self.measured, outline=ring, depth=self.depth, tab=self.tab,
                    hem=self.hem, open_sides=sides)
        (made,) = plain.surfaces()
        return Surface(name, made.faces, made.creases)

    def _chord(self, ring: tuple[Place, ...]) -> set[int]:
        """The sides of the outline that run from raw edge to raw edge."""
        from shapely import LineString, Point

        ends = LineString((self.section[0], self.section[-1]))
        sign = -1.0 if self.hand == "right" else 1.0
        after = (*ring[1:], ring[0])
        middles = [((a[0] + b[0]) / 2 * sign, (a[1] + b[1]) / 2) for a, b in zip(ring, after, strict=True)]
        near = {n for n, at in enumerate(middles) if ends.distance(Point(at)) < self.clearance + _SAME}
        return set() if self.slopes == "two" else near

    @property
    def notes(self) -> tuple[str, ...]:
        return (f"Goes {self.fit} the section with {self.clearance:g} to spare, at the {self.hand} end as seen from "
                f"its paint; its sides, {self.depth:g} deep, are riveted and sealed or soldered.",
                "Left and right are mirror images; short sides beside an inner corner have no flap, they are soldered.")


def _not_folded(ring: tuple[Place, ...], depth: float) -> set[int]:
    """The sides of an outline that no flap of so many mm is folded from: those that are too short, and short ones
    beside an inner corner, where their neighbour's flap lies in the flat sheet."""
    count, found = len(ring), set[int]()
    inner = [n for n in range(count) if _cross(ring[n - 1], ring[n], ring[(n + 1) % count]) < -1e-9]
    for n in range(count):
        long = math.dist(ring[n], ring[(n + 1) % count])
        if long < _LEAST or (long < _BESIDE * depth and (n in inner or (n + 1) % count in inner)):
            found.add(n)
    return found


def _cross(a: Place, b: Place, c: Place) -> float:
    return (b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0])


def _peaked(section: tuple[Place, ...]) -> tuple[Place, ...]:
    """A section and its mirror image about the plumb line through its higher end."""
    points = section if section[-1][1] >= section[0][1] else section[::-1]
    axis = points[-1][0]
    return (*points, *((2 * axis - x, y) for x, y in points[-2::-1]))


def _grown(points: tuple[Place, ...], by: float) -> tuple[Place, ...]:
    """A closed outline, anticlockwise, moved outward by so many mm with sharp corners."""
    from shapely import Polygon, area, get_coordinates, get_parts, orient_polygons

    ground = Polygon(_closable(points))
    grown = ground.buffer(by, join_style="mitre", mitre_limit=10.0) if by and ground.is_valid else ground
    shape = max(get_parts(grown), key=area, default=ground)  # of a section with slips at its edges what is whole
    if not ground.is_valid or not isinstance(shape, Polygon) or shape.area < 1:
        raise InputError("section", "one that crosses itself or has no area", "a simple section with room inside it")
    ring = get_coordinates(orient_polygons(shape).exterior)[:-1]
    return tuple((float(x), float(y)) for x, y in ring)


def _closable(points: tuple[Place, ...]) -> tuple[Place, ...]:
    """A section without the kicks at its edges that the line from edge to edge would run through."""
    from shapely import Polygon

    if Polygon(points).is_valid or len(points) < 4:
        return points
    less = [one for one in (points[:-1], points[1:], points[1:-1]) if len(one) > 2 and Polygon(one).is_valid]
    return max(less, key=lambda one: Polygon(one).area, default=points)


def _shortest_seam(ring: tuple[Place, ...]) -> tuple[int, int]:
    """The two corners between which the shortest line parts an outline within itself, neither part a mere slip. Raises
    :class:`InputError` where none does."""
    from shapely import LineString, Polygon

    shape, count = Polygon(ring).buffer(1e-6), len(ring)
    pairs = [(i, j) for i in range(count) for j in range(i + 2, count)
             if (i, j) != (0, count - 1) and shape.contains(LineString((ring[i], ring[j])))]
    if not pairs:
        raise InputError("parts", "two of an outline with three corners", "one")

    def worth(pair: tuple[int, int]) -> tuple[bool, float]:
        share = Polygon(ring[pair[0]:pair[1] + 1]).area / shape.area
        return not _EVEN < share < 1 - _EVEN, math.dist(ring[pair[0]], ring[pair[1]])
    return min(pairs, key=worth)


def _lapped(part: tuple[Place, ...], lap: float, whole: tuple[Place, ...]) -> tuple[Place, ...]:
    """A part with a lap beyond its last side, which runs back to its first corner; narrower where it would reach out of
    the whole."""
    from shapely import Polygon

    a, b, ground = np.array(part[-1]), np.array(part[0]), Polygon(whole).buffer(1e-6)
    long = float(np.linalg.norm(b - a))
    way = (b - a) / long
    while lap > 1.0:
        out = np.array([way[1], -way[0]]) * lap
        for steep in (1.0, 1.5, 2.0, 3.0):  # how far its ends are cut back
            corners = a + out + way * min(lap * steep, long / 3), b + out - way * min(lap * steep, long / 3)
            if ground.contains(Polygon([a, *corners, b])):
                return (*part, *((float(p[0]), float(p[1])) for p in corners))
        lap *= 0.9
    return part
