"""Which part of every roof plane is there when the blocks are joined as solids.

A plane's part inside another block's walls and under its roof is buried. Under another block's overhang a lower roof
goes on to the wall, unless what lies under it hangs together with the rest only across the line where the two planes
meet: then it ends on that line. Where planes of two blocks are one plane, the one that comes first covers, and touching
parts become one facet. A block has no overhang at a wall that stands in another block or against it.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property, lru_cache
from itertools import pairwise
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import Polygon

from yattle import overlay
from yattle.roof.model import RoofPlan
from yattle.roof.overhangs import boxes_touch, with_level_ridges, without_buried_overhangs
from yattle.roof.plane import BlockBody, Plane, Point, Ring, below, body, inside, sketched

NARROW = 0.5  # mm: what is narrower is no face
LEAST = 1.0  # mm: no edge is shorter
_ALIGNED = 0.005  # mm: a corner nearer to the line between its neighbours is none
_GOES_ON = 30.0  # mm: eaves that miss each other by less meet in a corner, and nothing goes on between them
_THREAD = 0.01  # mm
_BESIDE = 0.1  # mm: roofs that near to a line are there along it
_GRID = 1e-5  # mm: coordinates of cuts are rounded to it, so that lines that fall together are one


@dataclass(frozen=True)
class Facet:
    """One face of the roof: ``shape`` in plan (holes where blocks stand in it), ``solid`` false for a face
    entered by itself."""

    id: str
    block: str
    plane: Plane
    shape: Polygon

    @cached_property
    def ring(self) -> tuple[Point, ...]:
        """The outline in plan, mm, without its first corner again."""
        return tuple((float(x), float(y)) for x, y in shapely.get_coordinates(self.shape.exterior)[:-1])

    @cached_property
    def sides(self) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        """Where the sides of its outline and of its holes begin and end in plan, (n, 2) each, mm."""
        rings = [shapely.get_coordinates(ring) for ring in (self.shape.exterior, *self.shape.interiors)]
        return np.concatenate([ring[:-1] for ring in rings]), np.concatenate([ring[1:] for ring in rings])

    @cached_property
    def middle(self) -> Point:
        """A point well inside it in plan, mm."""
        point = self.shape.representative_point()
        return float(point.x), float(point.y)


def join(plan: RoofPlan) -> tuple[tuple[BlockBody, ...], tuple[Facet, ...]]:
    """The bodies of all blocks and the facets of the joined roof, in the order of blocks and planes."""
    bodies = without_buried_overhangs(with_level_ridges(tuple(body(block) for block in plan.blocks)))
    found: list[tuple[str, Plane, Any]] = []
    seen = [_visible(own, tuple((n < place, other) for n, other in enumerate(bodies)
                                if n != place and boxes_touch(own, other))) for place, own in enumerate(bodies)]
    whole = {own.id: overlay.union_all(shapes, grid_size=_GRID) for own, (shapes, cut) in zip(bodies, seen, strict=True)
             if any(cut for _, cut in seen)}
    for own, (shapes, cut) in zip(bodies, seen, strict=True):
        closed = _closed(own, shapes, [end for end in cut if not _meets_what_is_there(own, end, whole[end.other.id])])
        found += [(own.id, plane, shape) for plane, shape in zip(own.planes, closed, strict=True)]
    for face in plan.faces:
        ring, plane = sketched(face)
        found.append((face.id, plane, Polygon(ring)))
    return bodies, tuple(_numbered(_merged(found)))


@lru_cache(maxsize=1024)  # while one block is dragged most others stay as they are
def _visible(own: BlockBody, near: tuple[tuple[bool, BlockBody], ...]) -> tuple[tuple[Any, ...], tuple[_Ending, ...]]:
    """What is there of each face of a block among its neighbours, and what ends where planes meet; of each neighbour
    whether it comes first."""
    shapes = [_unburied(plane, ring, near) for plane, ring in zip(own.planes, own.faces, strict=True)]
    ending = tuple(_Ending(face, piece, other) for _, other in near for face, piece in _cut_off(own, shapes, other))
    cut = [[end.piece for end in ending if end.face == n] for n in range(len(shapes))]
    return tuple(_without_threads(_less(shape, overlay.union_all(gone, grid_size=_GRID)) if gone else shape) if near
                 else shape for shape, gone in zip(shapes, cut, strict=True)), ending


@dataclass(frozen=True, eq=False)
class _Ending:
    """A part of face ``face`` that ends where its plane meets that of block ``other``."""

    face: int
    piece: Polygon
    other: BlockBody


def _meets_what_is_there(own: BlockBody, end: _Ending, there: Any) -> bool:
    """Whether the other block's roof is there along the line where a part ends: a third one may have cut it off."""
    plane, open_mm = own.planes[end.face], 0.0
    near = there.buffer(_BESIDE)
    for a, b in pairwise(end.piece.exterior.coords):
        if _is_meeting(a, b, plane, end.other):
            open_mm += shapely.LineString((a, b)).difference(near).length
    return open_mm < _GOES_ON


def _closed(own: BlockBody, shapes: tuple[Any, ...], back: list[_Ending]) -> tuple[Any, ...]:
    """The faces of a block with those parts that would leave a hole."""
    if not back:
        return shapes
    return tuple(_flat(_grown(overlay.union_all([_grown(shape, _THREAD), *(
        _grown(end.piece, _THREAD) for end in back if end.face == n)]), -_THREAD))
        if any(end.face == n for end in back) else shape for n, shape in enumerate(shapes))


def _is_meeting(a: Any, b: Any, plane: Plane, other: BlockBody) -> bool:
    """Whether the planes meet along a line in plan."""
    middle = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
    return all(abs(other.height((p[0], p[1])) - plane.z((p[0], p[1]))) < 0.5 for p in (a, middle, b))


def _unburied(plane: Plane, ring: Ring, near: tuple[tuple[bool, BlockBody], ...]) -> Any:
    if len(ring) < 3:
        return Polygon()
    buried = [part for first, other in near for part in _buried(plane, ring, other, first)]
    return _less(Polygon(ring), overlay.union_all(buried, grid_size=_GRID)) if buried else Polygon(ring)


def _without_threads(shape: Any) -> Any:
    """``shape`` without the threads that cuts along one line leave, thinner than anything real."""
    if shape.is_empty or shapely.minimum_clearance(shape) > 2 * _THREAD:
        return shape
    return _flat(_grown(_grown(shape, -_THREAD), _THREAD))


def _grown(shape: Any, by: float) -> Any:
    """``shape`` with its border moved outward by ``by`` mm, corners kept sharp."""
    return shape.buffer(by, join_style="mitre", mitre_limit=100)


def _higher(ring: Ring, plane: Plane, other: BlockBody) -> Ring:
    """Where ``other``'s roof lies over ``plane``, as far as it reaches."""
    for over in other.planes:
        ring = below(ring, plane, over)
    return ring


def _buried(plane: Plane, ring: Ring, other: BlockBody, first: bool) -> Iterator[Polygon]:
    part = _higher(inside(ring, other.walls), plane, other)
    if len(part) > 2:
        yield Polygon(part)
    if first:  # the same plane twice: the block that comes first has it
        for over, face in zip(other.planes, other.faces, strict=True):
            if len(face) > 2 and over.same(plane, face[0]):
                shared = inside(ring, face)
                if len(shared) > 2:
                    yield Polygon(shared)


@dataclass(frozen=True)
class _Under:
    """A part of face ``face`` under another block's overhang: how much of its border, mm, is where the planes ``meet``,
    and how much ``goes_on`` to the rest of the face elsewhere."""

    face: int
    piece: Polygon
    meets: float
    goes_on: float


def _cut_off(own: BlockBody, shapes: list[Any], other: BlockBody) -> Iterator[tuple[int, Polygon]]:
    """Those parts of a block's faces under ``other``'s overhang that end where the planes meet. Parts of several faces
    that hang together end, or go on, together."""
    parts = [part for n, shape in enumerate(shapes) if not shape.is_empty
             for part in _under(n, shape, own.planes[n], own.faces[n], other)]
    while parts:
        group, rest = [parts[0]], parts[1:]
        while touching := [part for part in rest if any(part.piece.distance(one.piece) < _THREAD for one in group)]:
            group += touching
            rest = [part for part in rest if part not in touching]
        parts = rest
        goes_on = sum(part.goes_on for part in group)
        if goes_on < _GOES_ON and sum(part.meets for part in group) > goes_on:
            yield from ((part.face, part.piece) for part in group)


def _under(face: int, shape: Any, plane: Plane, ring: Ring, other: BlockBody) -> Iterator[_Under]:
    """The parts of a face under ``other``'s overhang."""
    part = _higher(inside(ring, other.roof), plane, other)
    if len(part) < 3 or _area(part) - _area(inside(part, other.walls)) < LEAST:
        return
    under = _less(_flat(overlay.intersection(shape, Polygon(part), grid_size=_GRID)), Polygon(other.walls))
    outside = None
    for piece in _polygons(under):
        outside = _less(shape, under) if outside is None else outside
        yield _Under(face, piece, *_contact(piece, outside, plane, other))


def _area(ring: Ring) -> float:
    return abs(sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(ring, (*ring[1:], *ring[:1]), strict=True))) / 2


def _less(shape: Any, other: Any) -> Any:
    try:
        return _flat(shapely.difference(shape, _flat(other), grid_size=_GRID))
    except shapely.errors.GEOSException:  # rounded to the grid the borders tangle: as they are, then
        return _flat(shapely.difference(shape, _flat(other)))


def _flat(shape: Any) -> Any:
    """Only what of ``shape`` has area: cuts leave lines and points where borders touch."""
    if isinstance(shape, Polygon | shapely.MultiPolygon):
        return shape
    return shapely.MultiPolygon([part for part in shapely.get_parts(shape) if isinstance(part, Polygon)])


def _contact(piece: Polygon, outside: Any, plane: Plane, other: BlockBody) -> tuple[float, float]:
    """How much of the border of ``piece``, mm, is where the planes meet, and how much goes on to the rest elsewhere."""
    meets = goes_on = 0.0
    ring = list(piece.exterior.coords)
    for a, b in pairwise(ring):
        middle = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
        size = math.hypot(a[0] - b[0], a[1] - b[1])
        if size < LEAST:
            continue
        if _is_meeting(a, b, plane, other):
            meets += size
        else:
            dx, dy = LEAST * (a[1] - b[1]) / size, LEAST * (b[0] - a[0]) / size
            beside = [shapely.Point(middle[0] + s * dx, middle[1] + s * dy) for s in (1, -1)]
            goes_on += size if any(outside.contains(point) for point in beside) else 0.0
    return meets, goes_on


def _polygons(shape: Any) -> list[Polygon]:
    """The polygons of ``shape`` that are wide enough to be faces."""
    parts = shape.geoms if hasattr(shape, "geoms") else [shape]
    return [part for part in parts if isinstance(part, Polygon) and part.area > NARROW * LEAST
            and (part.area > 5 * NARROW * part.length or not part.buffer(-NARROW / 2).is_empty)]


def _merged(found: list[tuple[str, Plane, Any]]) -> list[tuple[str, Plane, Polygon]]:
    """Touching parts of one plane joined, every part cleaned of corners that are none."""
    result: list[tuple[str, Plane, Polygon]] = []
    used: set[int] = set()
    for n, (block, plane, shape) in enumerate(found):
        if n in used or shape.is_empty:
            continue
        here = shape.representative_point().coords[0]
        alike = [m for m in range(n + 1, len(found)) if m not in used and not found[m][2].is_empty
                 and plane.same(found[m][1], here)]
        shapes, touching = [shape], [n]
        while touching:  # what touches a part that touches belongs to it as well
            touching = [m for m in alike if m not in used and any(s.distance(found[m][2]) < LEAST for s in shapes)]
            shapes += [found[m][2] for m in touching]
            used.update(touching)
        whole = _without_necks(shape if len(shapes) == 1 else _joined(shapes))
        result += [(block, plane, part) for piece in _polygons(whole) for part in _cleaned(piece)]
    return result


def _joined(shapes: list[Any]) -> Any:
    """Parts of one plane as one, over seams between them that are finer than any edge."""
    apart = max(min(one.distance(other) for other in shapes if other is not one) for one in shapes)
    by = _THREAD if apart < _THREAD else LEAST / 2
    return _flat(_grown(overlay.union_all([_grown(s, by) for s in shapes]), -by))


def _without_necks(shape: Any) -> Any:
    """``shape`` parted where its parts only touch in a corner, as at a crossing of ridges of one height; its corners
    where they were."""
    if shapely.minimum_clearance(shape) > _THREAD:
        return shape
    parted = _flat(shapely.set_precision(shape, _THREAD))
    if len(shapely.get_parts(parted)) == len(shapely.get_parts(shape)):
        return shape
    own = shapely.get_coordinates(shape)
    return shapely.transform(parted, lambda places: own[
        np.argmin(((places[:, None, :] - own[None, :, :]) ** 2).sum(axis=2), axis=1)])


def _cleaned(piece: Polygon) -> list[Polygon]:
    """``piece`` anticlockwise, without corners that are none and edges that are too short."""
    shape = shapely.simplify(piece, _ALIGNED)
    rings = [_without_stubs(ring.coords[:-1]) for ring in (shape.exterior, *shape.interiors)]
    if len(rings[0]) < 3:
        return []
    clean = Polygon(rings[0], [ring for ring in rings[1:] if len(ring) > 2])
    return [shapely.geometry.polygon.orient(part) for part in _polygons(clean if clean.is_valid else clean.buffer(0))]


def _without_stubs(ring: Any) -> list[tuple[float, float]]:
    kept = [(x, y) for x, y in ring]
    place = 0
    while len(kept) > 2 and place < len(kept):
        before, here, after = kept[place - 1], kept[place], kept[(place + 1) % len(kept)]
        if _no_corner(before, here, after):
            del kept[place]
            place = max(0, place - 2)
        else:
            place += 1
    return kept


def _no_corner(before: Point, here: Point, after: Point) -> bool:
    """Whether ``here`` ends a stub, a spike, or lies on the line between its neighbours."""
    ux, uy, vx, vy = here[0] - before[0], here[1] - before[1], after[0] - here[0], after[1] - here[1]
    u, v = math.hypot(ux, uy), math.hypot(vx, vy)
    return u < LEAST or abs(ux * vy - uy * vx) < _ALIGNED * min(u, v)


def _numbered(parts: list[tuple[str, Plane, Polygon]]) -> Iterator[Facet]:
    count: dict[str, int] = {}
    for block, plane, shape in parts:
        count[block] = count.get(block, 0) + 1
        yield Facet(f"{block}.{count[block]}", block, plane, _from_the_eave(plane, shape))


def _from_the_eave(plane: Plane, shape: Polygon) -> Polygon:
    """The outline beginning at its lowest corner, the left one seen from below, so that corners keep their numbers."""
    ring = shapely.get_coordinates(shape.exterior)[:-1]
    fall = plane.fall or (0.0, -1.0)
    key = np.column_stack((np.round(-(ring @ fall), 1), np.round(ring @ (-fall[1], fall[0]), 1)))
    start = int(np.lexsort((key[:, 1], key[:, 0]))[0])
    return Polygon(np.roll(ring, -start, axis=0), [hole.coords for hole in shape.interiors])
