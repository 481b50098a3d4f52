"""In how many goes the panels of a face go on: below and above what lies over the lower ones and under the upper ones.

Openings, feet of valleys and back pans part a face's panels. Where one of them lies downstream of another on the same
face, the panels between them lie over the one and under the other: as many goes as the longest such row, and one more.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from functools import lru_cache

import shapely

from yattle.roof import Edge, Facet, Roof, RoofPlan, build
from yattle.roof.drain import edge_at, fall_line, feeds, spills_on
from yattle.roof.openings import Placed
from yattle.roof.plane import Point, Point3

PANELS = "panels "
"""What the names of panels among the items of a roof begin with."""
_ABOVE = " above"
_BELOW = 1.0  # mm: what stands no higher lies below
_BESIDE = 5.0  # mm beyond the end of a back pan, where its water comes round


class Parting:
    """What parts the panels of each face of a roof, each with its level: 1 where nothing that parts them lies
    downstream of it on that face."""

    def __init__(self, roof: Roof) -> None:
        self.roof = roof
        self.feet = {edge.id: face for edge in roof.edges if (face := spills_on(roof, edge)) is not None}
        self._boxes = {placed.opening.id: (placed, shapely.Polygon([c[:2] for c in placed.corners]))
                       for placed in roof.openings}
        self._levels: dict[tuple[str, str], int] = {}
        self._fed: dict[str, dict[str, int]] = {}
        self._last: dict[str, str] = {}

    def spills(self, edge: Edge, face: str) -> str | None:
        """Of a valley or back pan, and those it runs on into, the last one, if its foot lies on this face."""
        if edge.id not in self._last:
            seen = [edge]
            while (onward := feeds(self.roof, seen[-1])) is not None and onward not in seen:
                seen.append(onward)
            self._last[edge.id] = seen[-1].id
        last = self._last[edge.id]
        return last if self.feet.get(last) == face else None

    def parts(self, face: str) -> list[str]:
        """The openings and the edges that part a face's panels."""
        return [*(name for name, (placed, _) in self._boxes.items() if face in placed.facets),
                *(edge for edge, on in self.feet.items() if on == face)]

    def top(self, face: str) -> int:
        """The level of a face's uppermost panels; 0 where nothing parts them."""
        return max((self.level(face, part) for part in self.parts(face)), default=0)

    def level(self, face: str, part: str) -> int:
        """Which of a face's goes lies over one of its parts; the one below it is that less 1."""
        key = face, part
        if key not in self._levels:
            self._levels[key] = 1  # a row that comes back to itself ends here
            below = {found for at in self._lets_go(part) for found in self._downstream(face, at) if found != part}
            self._levels[key] = 1 + max((self.level(face, found) for found in below), default=0)
        return self._levels[key]

    def level_at(self, face: str, height: float) -> int:
        """Which of a face's goes lies at a height, mm: above what parts it lower down."""
        return max((self.level(face, part) for part in self.parts(face) if self._height(part) < height + _BELOW),
                   default=0)

    def over(self, face: str, edge: Edge) -> int:
        """Which of a face's goes ends over one of its edges: that of a valley or back pan whose foot lies on the face,
        the lowest of those whose water comes to it, else that at its low end."""
        last = self.spills(edge, face)
        if last is not None:
            return self.level(face, last)
        if face not in self._fed:
            self._fed[face] = dict(self._feeds(face))
        found = self._fed[face].get(edge.id)
        return self.level_at(face, min(edge.a[2], edge.b[2])) if found is None else found

    def _feeds(self, face: str) -> Iterator[tuple[str, int]]:
        """The edges of a face to which the water of its parts comes, with the lowest go that lies over them."""
        ends: dict[str, int] = {}
        for part in self.parts(face):
            for at in self._lets_go(part):
                end = fall_line(self.roof.facet(face), at)
                edge = None if end is None else edge_at(self.roof, face, end)
                if edge is not None:
                    ends[edge.id] = min(ends.get(edge.id, self.level(face, part) - 1), self.level(face, part) - 1)
        yield from ends.items()

    def under(self, edge: Edge, face: str) -> int:
        """Which of a face's goes an edge's trim lies over: that at its middle, but of a wall below its own back pan."""
        own = [self.level(face, name) for name, on in self.feet.items()
               if on == face and edge.wall and name != edge.id and self.roof.edge(name).wall == edge.wall]
        return min(own) - 1 if own else self.level_at(face, (edge.a[2] + edge.b[2]) / 2)

    def crossed(self, face: str, way: tuple[Point, Point]) -> list[str]:
        """The openings that a straight way over a face crosses, the first one first."""
        line, start = shapely.LineString(way), way[0]
        found = [(math.dist((placed.opening.x, placed.opening.y), start), name)
                 for name, (placed, box) in self._boxes.items()
                 if face in placed.facets and way[0] != way[1] and line.intersects(box)]
        return [name for _, name in sorted(found)]

    def _height(self, part: str) -> float:
        if part in self._boxes:
            return max(corner[2] for corner in self._boxes[part][0].corners)
        edge = self.roof.edge(part)
        return min(edge.a[2], edge.b[2])

    def _lets_go(self, part: str) -> Iterator[Point]:
        """Where the water of a part comes onto the panels below it, in plan."""
        if part in self._boxes:
            yield _below(self.roof, self._boxes[part][0])
            return
        edge = self.roof.edge(part)
        ends = (edge.a,) if edge.slope > 0.5 else (edge.a, edge.b)
        for at, other in zip(ends, (edge.b, edge.a), strict=False):
            yield _on_from(at, other)

    def _downstream(self, face: str, at: Point) -> Iterator[str]:
        """What parts a face and is met by water that runs down it from a place: openings, then the edge it ends at."""
        facet = self.roof.facet(face)
        end = fall_line(facet, at)
        if end is None:
            return
        yield from self.crossed(face, (at, end))
        edge = edge_at(self.roof, face, end)
        last = None if edge is None else self.spills(edge, face)
        if last is not None:
            yield last


def _on_from(at: Point3, other: Point3) -> Point:
    """A place a little past an end of an edge, in plan."""
    size = math.dist(at[:2], other[:2]) or 1.0
    return (at[0] + _BESIDE * (at[0] - other[0]) / size, at[1] + _BESIDE * (at[1] - other[1]) / size)


def _below(roof: Roof, placed: Placed) -> Point:
    """A place just below an opening, in plan."""
    facet: Facet = roof.facet(placed.facets[0])
    fall = facet.plane.fall or (0.0, -1.0)
    own = placed.opening
    far = max((x - own.x) * fall[0] + (y - own.y) * fall[1] for x, y, _ in placed.corners) + _BESIDE
    return own.x + far * fall[0], own.y + far * fall[1]


@lru_cache(maxsize=16)
def parting_of(plan: RoofPlan) -> Parting:
    """What parts the panels of a roof's faces."""
    return Parting(build(plan))


def panels_of(face: str, level: int) -> str:
    """The item of a face's panels of one go, from 0, the lowest."""
    return f"{PANELS}{face}" + (_ABOVE if level else "") + (f" {level}" if level > 1 else "")


def face_of_panels(item: str) -> str:
    """The face of an item of panels.

    >>> face_of_panels(panels_of("loft.1", 0)), face_of_panels(panels_of("loft.1", 2))
    ('loft.1', 'loft.1')
    """
    return item.removeprefix(PANELS).partition(_ABOVE)[0]
