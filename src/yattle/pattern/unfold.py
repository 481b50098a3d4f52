"""A surface of flat faces in space laid out flat: the pattern of any folded piece.

The faces are given as they stand installed, sharp, at their mould lines; creases say which edges are folded and
form a tree. Each face is drawn in by half the deduction at each of its creases and laid beside the one it is folded
from: what :mod:`yattle.pattern.proof` does backwards, with code of its own.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from yattle.errors import InputError
from yattle.pattern.pattern import Pattern, PatternFold, Point
from yattle.section import GirthRefused, Hem, MetalSpec, Profile, girth_of

Array = NDArray[np.float64]
Corner = tuple[float, float, float]
_FLAT = 1e-6  # mm: how far a face's corners may be off its plane
_ON_EDGE = 1e-5  # mm: how near a corner must be to an edge to lie on it
_CUT = 2.0  # mm: how wide a relief cut is, between parts that would lie over each other or touch in the flat sheet
_LONG = 1.5  # mm: how much further than the other a part may go on a fold line once drawn in
_CLOSE = 0.02  # mm: corners nearer to each other are one
_SEAM = 2e-6  # mm: faces nearer to each other than twice this hang together
_LOCK = 179.999  # degrees: from here on a fold is doubled over


@dataclass(frozen=True)
class Face:
    """A flat face: its corners anticlockwise as its paint face is seen, mm; ``holes`` clockwise."""

    name: str
    corners: tuple[Corner, ...]
    holes: tuple[tuple[Corner, ...], ...] = ()

    @cached_property
    def normal(self) -> Array:
        """The unit normal, out of the paint face (by the area vector: right for any simple outline)."""
        x = y = z = 0.0
        ax, ay, az = self.corners[0]
        before = (0.0, 0.0, 0.0)
        for px, py, pz in self.corners[1:]:  # in plain numbers: a round has hundreds of faces
            now = (px - ax, py - ay, pz - az)
            x += before[1] * now[2] - before[2] * now[1]
            y += before[2] * now[0] - before[0] * now[2]
            z += before[0] * now[1] - before[1] * now[0]
            before = now
        size = math.sqrt(x * x + y * y + z * z)
        if size < _FLAT:
            raise InputError(self.name, "a face without area", "corners that are not all on one line")
        return np.array([x / size, y / size, z / size])


@dataclass(frozen=True)
class Crease:
    """An edge that is folded: face ``parent`` from its corner ``at`` to the next, to face ``child``. ``roll`` for the
    rulings of a curved surface, bent without a fold of their own; ``soft`` folds are dressed by hand and take no
    allowance."""

    parent: int
    at: int
    child: int
    by: Literal["brake", "tongs"] = "brake"
    roll: bool = False
    soft: bool = False


@dataclass(frozen=True)
class Surface:
    """Faces, the creases that join them from face 0 outward (parents before children), how many like pieces.

    ``closing`` creases are folded too, but join faces that hang together already: round a pocket. ``paper``: a template
    to be printed, not cut from the coil.
    """

    name: str
    faces: tuple[Face, ...]
    creases: tuple[Crease, ...] = ()
    qty: int = 1
    closing: tuple[Crease, ...] = ()
    paper: bool = False


@dataclass(frozen=True)
class Unfolded:
    """The pattern; for each face two places on it: one inside, and where its first corner comes to lie; the faces as
    they are with their relief cuts."""

    pattern: Pattern
    seats: tuple[tuple[Point, Point], ...]
    faces: tuple[Face, ...]


@lru_cache(maxsize=1024)
def deduction_of(metal: MetalSpec, measured: Literal["outside", "inside"], turn: float) -> float:
    """The deduction of a fold of ``turn`` degrees in this metal, by its own allowance rule."""
    size = abs(turn)
    if size < 1e-9:
        return 0.0
    hem = Hem(kind="closed", length=1000.0, toward="paint") if size > _LOCK else None
    girth = girth_of(Profile(metal=metal, measured=measured, legs=(2000.0,) if hem else (2000.0, 2000.0),
                             turns=() if hem else (size,), hem_b=hem))
    if isinstance(girth, GirthRefused):
        raise InputError("metal", f"no allowance for a fold of {size:g}°", "; ".join(girth.reasons))
    return girth.bends[0].deduction


@dataclass(frozen=True)
class _Sheet:
    """One face flat, in its own or the pattern's coordinates: its mould corners; for each of its edges where the edge
    runs once drawn in, (edges, 2, 2), and by how much; its holes; how it got there from its place in space (``origin``,
    ``axes``): ``turn``, then ``by``."""

    mould: Array
    edges: Array
    drawn: Array
    holes: tuple[Array, ...]
    origin: Array
    axes: Array
    turn: Array
    by: Array

    def moved(self, turn: Array, by: Array) -> _Sheet:
        return replace(self, mould=self.mould @ turn.T + by, edges=self.edges @ turn.T + by,
                       holes=tuple(h @ turn.T + by for h in self.holes), turn=turn @ self.turn, by=turn @ self.by + by)

    def space(self, ring: Array, lines: list[tuple[Array, float]]) -> tuple[Corner, ...]:
        """Where the corners of the flat face, cut to ``ring``, lie installed: its edges on fold ``lines`` (with half
        the deduction of each) moved out to their mould lines again."""
        after, drawn = np.concatenate((ring[1:], ring[:1])), np.zeros(len(ring))
        for line, half in lines:
            way = (line[1] - line[0]) / math.dist(*line)
            on = np.abs((np.stack((ring, after)) - line[0]) @ np.array([-way[1], way[0]])).max(axis=0) < _ON_EDGE
            middle = ((ring + after) / 2 - line[0]) @ way
            drawn[on & (middle > 0) & (middle < math.dist(*line))] = half
        along = (after - ring) / np.hypot(*(after - ring).T)[:, None]
        shift = np.column_stack((along[:, 1], -along[:, 0])) * drawn[:, None]
        points: list[Array] = []
        for n, point in enumerate(ring):
            cross = along[n - 1, 0] * along[n, 1] - along[n - 1, 1] * along[n, 0]
            gap = shift[n] - shift[n - 1]
            if abs(cross) < 1e-5:  # straight on, of which only a part is folded
                points += [point + shift[n]] if np.abs(gap).max() < 1e-12 else [point + shift[n - 1], point + shift[n]]
            else:
                far = (gap[0] * along[n, 1] - gap[1] * along[n, 0]) / cross
                points.append(point + shift[n - 1] + along[n - 1] * far)
        own = (np.array(points) - self.by) @ self.turn
        return tuple((float(x), float(y), float(z)) for x, y, z in self.origin + own @ self.axes)

    @property
    def ring(self) -> Array:
        """Its outline without repeats."""
        return _apart(self.edges.reshape(-1, 2))


def unfold(surface: Surface, metal: MetalSpec, piece_id: str,
           measured: Literal["outside", "inside"] = "outside") -> Unfolded:
    """The flat pattern, paint face up, its longest fold level; raises :class:`InputError` for a face that is not flat,
    a crease whose edges do not meet, or a layout that covers itself."""
    joints = [_joint(surface, crease) for crease in surface.creases]
    halves: dict[tuple[int, int], float] = {}
    for crease, (turn, back, _) in zip(surface.creases, joints, strict=True):
        half = 0.0 if crease.roll or crease.soft else deduction_of(metal, measured, round(abs(turn), 9)) / 2
        halves[crease.parent, crease.at] = halves[crease.child, back] = half
    own = [_drawn_in(face, {k: h for (n, k), h in halves.items() if n == index})
           for index, face in enumerate(surface.faces)]
    placed = [own[0]]
    for crease, (_, back, short) in zip(surface.creases, joints, strict=True):
        half = halves[crease.parent, crease.at]
        placed.append(_beside(placed[crease.parent], crease.at, own[crease.child], back, 2 * half, short))
    rings = _relieved(surface, placed)
    lines, folds = [], []
    for n, crease in enumerate((*surface.creases, *surface.closing), 1):
        turn = (joints[n - 1] if n <= len(joints) else _joint(surface, crease))[0]
        half = halves.get((crease.parent, crease.at), 0.0)
        edge = placed[crease.parent].edges[crease.at]
        line = edge if crease.roll else _reach(edge, rings[crease.parent], rings[crease.child])
        if line is None:
            raise InputError(surface.name, f"nothing left of the fold between {surface.faces[crease.parent].name} and "
                             f"{surface.faces[crease.child].name}", "a longer fold, or a seam there")
        lines.append((crease, line, half))
        kind: Literal["fold", "hem", "roll"] = "roll" if crease.roll else "hem" if abs(turn) > _LOCK else "fold"
        folds.append(PatternFold(id=f"f{n}", a=_point(line[0]), b=_point(line[1]), kind=kind, by=crease.by,
                                 deduction=2 * half,
                                 turn=math.copysign(180.0, turn) if abs(turn) > _LOCK else turn))
    parts = [_part(surface.faces[n], placed[n], rings[n], [
        (line, half) for crease, line, half in lines if n in (crease.parent, crease.child) and not crease.roll])
        for n in range(len(rings))]
    return _as_pattern(surface, parts, folds, metal, piece_id)


@dataclass(frozen=True)
class _Part:
    """A face laid out and relieved: its ring in the pattern, its corners in space, its holes flat."""

    ring: Array
    corners: tuple[Corner, ...]
    holes: tuple[Array, ...]


def _part(face: Face, sheet: _Sheet, ring: Array, lines: list[tuple[Array, float]]) -> _Part:
    """The face with a corner wherever a fold ends, and where its corners lie installed."""
    if not lines and len(ring) == len(face.corners):
        return _Part(ring, face.corners if np.array_equal(ring, sheet.ring) else sheet.space(ring, lines), sheet.holes)
    for line, _ in lines:
        for end in line:
            ring = _with_corner(ring, end)
    return _Part(ring, sheet.space(ring, lines), sheet.holes)


def _with_corner(ring: Array, point: Array) -> Array:
    """The ring with a corner at a place on one of its edges, where it has none within a few hundredths."""
    if np.hypot(*(ring - point).T).min() < _CLOSE:
        return ring
    after = np.concatenate((ring[1:], ring[:1]))
    more = np.hypot(*(ring - point).T) + np.hypot(*(after - point).T) - np.hypot(*(after - ring).T)
    return np.insert(ring, int(more.argmin()) + 1, point, axis=0) if more.min() < 1e-7 else ring


def _apart(ring: Array, least: float = 1e-9) -> Array:
    """The ring without corners that are the same as the next one."""
    return np.asarray(ring[np.abs(ring - np.concatenate((ring[1:], ring[:1]))).max(axis=1) > least])


def _relieved(surface: Surface, placed: list[_Sheet]) -> list[Array]:
    """The faces' rings, cut clear of those laid out before them: nothing touches but what is folded together."""
    import shapely

    creases = {(c.child, c.parent): c for c in (*surface.closing, *surface.creases)}
    rolls = {crease.child for crease in surface.creases if crease.roll}
    shapes: list[Any] = []
    rings: list[Array] = []
    for n, sheet in enumerate(placed):
        whole = shape = shapely.Polygon(sheet.ring)
        if not whole.is_valid:
            raise InputError(surface.name, f"{surface.faces[n].name} that crosses itself",
                             "a narrower one, or corners further apart")
        near = shapely.dwithin(whole, shapes, _CUT).nonzero()[0] if shapes and n not in rolls else ()
        for m, other in ((int(m), shapes[m]) for m in near):
            if surface.closing and shape.intersection(other).area < 1e-6:
                continue  # round a pocket the sheet stays whole: nothing is cut where its parts meet
            if (m, n) not in creases and shape.distance(other) < _CUT:
                shape = _clear_of(shape, other, creases.get((n, m)), placed[m])
        ring = sheet.ring
        if shape is not whole:
            shape = max(shapely.get_parts(shape), key=lambda part: part.area, default=shape)
            if shape.area < 0.3 * whole.area:
                raise InputError(surface.name, f"{surface.faces[n].name} covered in the flat sheet",
                                 "faces that lie side by side: part the piece by a seam")
            for by in (-1e-4, 1e-4):  # without spikes that have no width
                shape = shape.buffer(by, join_style="mitre", mitre_limit=200)
            shape = max(shapely.get_parts(shape), key=lambda part: part.area)
            ring = shapely.get_coordinates(shapely.orient_polygons(shape.simplify(1e-7)).exterior)[:-1]
            ring = _apart(ring, 1e-5)
        shapes.append(shape)
        rings.append(ring)
    return rings


def _clear_of(shape, other, crease: Crease | None, sheet: _Sheet):  # type: ignore[no-untyped-def]
    """A part cut clear of another one; of the one it is folded from only beside the fold, where it would touch."""
    import shapely

    near = other.buffer(_CUT, join_style="mitre")
    if crease is None:
        return shape.difference(near)
    edge = sheet.edges[crease.at]
    touch = shape.intersection(other).difference(shapely.LineString(edge).buffer(1e-4))
    if touch.length > 1e-3:  # beside the fold: they would hang together there
        way = (edge[1] - edge[0]) / math.dist(*edge) * _CUT
        return shape.difference(near.difference(_along(edge + np.array([way, -way]))))
    if shape.difference(_along(edge)).intersection(other).area < 1e-8:
        return shape
    return shape.difference(near.difference(_along(edge)))


def _along(edge: Array):  # type: ignore[no-untyped-def]
    """Where a part folded from an edge may lie: beyond it, within its length."""
    import shapely

    a, b = edge
    way = (b - a) / np.linalg.norm(b - a)
    out = np.array([way[1], -way[0]]) * 1e5
    return shapely.Polygon([a - out * 1e-11, b - out * 1e-11, b + out, a + out])


def _joint(surface: Surface, crease: Crease) -> tuple[float, int, float]:
    """A crease's turn, + toward the paint face, which edge of the child lies on it, and how far from the crease's end
    that begins (a child may be shorter than its parent's edge)."""
    parent, child = surface.faces[crease.parent], surface.faces[crease.child]
    a, b = (parent.corners[(crease.at + k) % len(parent.corners)] for k in (0, 1))
    count, long = len(child.corners), math.dist(a, b)
    for k, corner in enumerate(child.corners):
        after = child.corners[(k + 1) % count]
        if _between(corner, a, b, long) and _between(after, a, b, long) and math.dist(after, b) > math.dist(corner, b):
            (x, y, z), (u, v, w) = parent.normal.tolist(), child.normal.tolist()
            p, q, r = ((b[n] - a[n]) / long for n in range(3))
            across = (y * w - z * v) * p + (z * u - x * w) * q + (x * v - y * u) * r
            return -math.degrees(math.atan2(across, x * u + y * v + z * w)), k, math.dist(corner, b)
    raise InputError(surface.name, f"a crease between {parent.name} and {child.name} whose edges do not meet",
                     "one edge that both have")


def _between(point: Corner, a: Corner, b: Corner, long: float) -> bool:
    """Whether a point lies on the edge from a to b."""
    return math.dist(point, a) + math.dist(point, b) < long + 1e-7 * (1 + long)


def _drawn_in(face: Face, halves: dict[int, float]) -> _Sheet:
    """A face in its own plane, each creased edge moved inward by half its deduction."""
    normal, points = face.normal, np.array(face.corners)
    off = np.abs((points - points[0]) @ normal).max()
    if off > _FLAT * max(1.0, float(np.ptp(points))):
        raise InputError(face.name, f"corners {off:.3g} mm off one plane", "a flat face")
    u = points[1] - points[0]
    u = u / np.linalg.norm(u)
    axes = np.array([u, [normal[1] * u[2] - normal[2] * u[1], normal[2] * u[0] - normal[0] * u[2],
                         normal[0] * u[1] - normal[1] * u[0]]])
    mould = (points - points[0]) @ axes.T
    count = len(mould)
    step = np.concatenate((mould[1:], mould[:1])) - mould
    step = step / np.hypot(step[:, 0], step[:, 1])[:, None]
    inward = np.column_stack((-step[:, 1], step[:, 0]))
    sizes = np.array([halves.get(k, 0.0) for k in range(count)])
    shift = inward * sizes[:, None]
    edges = np.stack((mould, np.concatenate((mould[1:], mould[:1]))), axis=1)
    for k in range(count) if sizes.any() else ():
        before = (k - 1) % count
        cross = step[before, 0] * step[k, 1] - step[before, 1] * step[k, 0]
        gap = shift[k] - shift[before]
        if abs(cross) < 1e-9:  # one straight side, of which only a part is folded
            edges[before, 1], edges[k, 0] = mould[k] + shift[before], mould[k] + shift[k]
        else:
            corner = mould[k] + shift[before] + step[before] * (gap[0] * step[k, 1] - gap[1] * step[k, 0]) / cross
            edges[before, 1] = edges[k, 0] = corner
    holes = tuple((np.array(hole) - points[0]) @ axes.T for hole in face.holes)
    return _Sheet(mould, edges, sizes, holes, points[0], axes, np.eye(2), np.zeros(2))


def _beside(parent: _Sheet, at: int, child: _Sheet, back: int, apart: float, short: float) -> _Sheet:
    """The child laid against the parent's edge, ``short`` mm from its end: their mould lines ``apart``, drawn in over
    each other."""
    a, b = parent.mould[at], parent.mould[(at + 1) % len(parent.mould)]
    c, d = child.mould[back], child.mould[(back + 1) % len(child.mould)]
    way, mine = (a - b) / np.linalg.norm(a - b), (d - c) / np.linalg.norm(d - c)
    cos, sin = float(mine @ way), float(mine[0] * way[1] - mine[1] * way[0])
    turn = np.array([[cos, -sin], [sin, cos]])
    inward = np.array([way[1], -way[0]])  # of the parent: its edge runs against the child's
    return child.moved(turn, b + way * short + inward * apart - turn @ c)


def _reach(line: Array, one: Array, other: Array) -> Array | None:
    """The fold line in the sense of ``line``: as far as both parts have an edge on it; where they differ by no more
    than drawing them in has done, as far as the longer one."""
    long = math.dist(*line)
    way = (line[1] - line[0]) / long
    across, spans = np.array([-way[1], way[0]]), []
    for ring in (one, other):
        after = np.concatenate((ring[1:], ring[:1]))
        on = np.abs((np.stack((ring, after)) - line[0]) @ across).max(axis=0) < _ON_EDGE
        where = np.sort((np.stack((ring[on], after[on])) - line[0]) @ way, axis=0)
        where = where[:, (where[0] < long - 1e-6) & (where[1] > 1e-6)]
        if not where.size:
            return None
        spans.append((where[0].min(), where[1].max()))
    (a, b), (c, d) = spans
    low = min(a, c) if abs(a - c) < _LONG else max(a, c)
    high = max(b, d) if abs(b - d) < _LONG else min(b, d)
    return None if high - low < 1e-3 else np.array([line[0] + way * low, line[0] + way * high])


def _point(place: Array) -> Point:
    return float(place[0]), float(place[1])


def _as_pattern(surface: Surface, parts: list[_Part], folds: list[PatternFold], metal: MetalSpec,
                piece_id: str) -> Unfolded:
    import shapely

    shapes = shapely.buffer([shapely.Polygon(part.ring) for part in parts], 0)
    whole = shapely.union_all(shapely.buffer(shapes, _SEAM, join_style="mitre"))
    pieces = shapely.get_parts(whole.buffer(-_SEAM, join_style="mitre"))
    pieces = [piece for piece in pieces if piece.area > 1e-4]  # specks where corners touch
    whole = pieces[0] if len(pieces) == 1 else whole
    lost = sum(shape.area for shape in shapes) - whole.area
    if len(pieces) != 1 or lost > 0.5:
        raise InputError(surface.name, f"a layout that covers itself by {lost:.1f} mm²{_which_two(surface, shapes)}",
                         "faces that lie side by side: part the piece by a seam")
    turn, by = _level(whole, folds)
    holes = [hole for hole in whole.interiors if shapely.Polygon(hole).area > 1e-3]
    exact = np.concatenate([part.ring for part in parts])
    rings = [_exactly(shapely.get_coordinates(ring)[:-1], exact) for ring in (whole.exterior, *holes)]
    rings += [hole for part in parts for hole in part.holes]
    outline, *inner = (_ring(ring @ turn.T + by, n == 0) for n, ring in enumerate(rings))
    moved = tuple(fold.but(a=_at(turn, by, fold.a), b=_at(turn, by, fold.b)) for fold in folds)
    size = np.ptp(np.array(outline), axis=0)
    pattern = Pattern(id=piece_id, name=surface.name, qty=surface.qty, metal=metal, outline=outline, holes=tuple(inner),
                      folds=moved, girth=float(size[1]), length=float(size[0]))
    seats = tuple((_at(turn, by, shape.representative_point().coords[0]), _at(turn, by, tuple(part.ring[0])))
                  for shape, part in zip(shapes, parts, strict=True))
    return Unfolded(pattern, seats, tuple(replace(face, corners=part.corners)
                                          for face, part in zip(surface.faces, parts, strict=True)))


def _exactly(ring: Array, exact: Array) -> Array:
    """A ring of the joined parts with its corners exactly where the parts' own are."""
    apart = np.abs(ring[:, None] - exact[None]).max(axis=2)
    nearest = apart.argmin(axis=1)
    near = apart[np.arange(len(ring)), nearest] < 20 * _SEAM
    return _apart(np.where(near[:, None], exact[nearest], ring))


def _which_two(surface: Surface, shapes) -> str:  # type: ignore[no-untyped-def]
    """The two faces that cover each other most."""
    names = [face.name for face in surface.faces]
    most = max(((one.intersection(other).area, names[n], names[m]) for n, one in enumerate(shapes)
                for m, other in enumerate(shapes[:n])), default=(0.0, "", ""))
    return f", most of it {most[1]} on {most[2]}" if most[0] > 0.1 else ""


def _level(whole, folds: list[PatternFold]) -> tuple[Array, Array]:  # type: ignore[no-untyped-def]
    """The turn that lays the longest fold along x, and the shift that brings the piece to the origin."""
    longest = max(folds, key=lambda f: math.dist(f.a, f.b) * (0.001 if f.kind == "roll" else 1.0), default=None)
    turn = np.eye(2)
    if longest is not None:
        dx, dy = np.subtract(longest.b, longest.a) / math.dist(longest.a, longest.b)
        turn = np.array([[dx, dy], [-dy, dx]])
    points = np.array(whole.exterior.coords) @ turn.T
    return turn, -points.min(axis=0)


def _at(turn: Array, by: Array, point: tuple[float, ...]) -> Point:
    x, y = turn @ np.array(point[:2]) + by
    return float(x), float(y)


def _ring(points: Array, outer: bool) -> tuple[Point, ...]:
    """A ring without repeats, anticlockwise outside, clockwise for a hole."""
    kept = [(float(x), float(y)) for n, (x, y) in enumerate(points) if math.dist((x, y), points[n - 1]) > 1e-6]
    area = sum(a[0] * b[1] - a[1] * b[0] for a, b in zip(kept, (*kept[1:], kept[0]), strict=True))
    return tuple(kept if (area > 0) == outer else reversed(kept))
