"""A surface of flat faces in space laid out flat: the pattern of any folded piece.

The faces are given as they stand installed, sharp, at their mould lines; creases say which edges are folded and
form a tree. Each face is drawn in by half the deduction at each of its creases and laid beside the one it is folded
from: what :mod:`yattle.pattern.proof` does backwards, with code of its own.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from yattle.errors import InputError
from yattle.pattern.pattern import Pattern, PatternFold, Point
from yattle.section import GirthRefused, Hem, MetalSpec, Profile, girth_of

Array = NDArray[np.float64]
Corner = tuple[float, float, float]
_FLAT = 1e-6  # mm: how far a face's corners may be off its plane
_SEAM = 2e-6  # mm: faces nearer to each other than twice this hang together
_LOCK = 179.999  # degrees: from here on a fold is doubled over


@dataclass(frozen=True)
class Face:
    """A flat face: its corners anticlockwise as its paint face is seen, mm; ``holes`` clockwise."""

    name: str
    corners: tuple[Corner, ...]
    holes: tuple[tuple[Corner, ...], ...] = ()

    @property
    def normal(self) -> Array:
        """The unit normal, out of the paint face (by the area vector: right for any simple outline)."""
        p = np.array(self.corners)
        area = np.cross(p - p[0], np.roll(p, -1, axis=0) - p[0]).sum(axis=0)
        size = float(np.linalg.norm(area))
        if size < _FLAT:
            raise InputError(self.name, "a face without area", "corners that are not all on one line")
        return np.asarray(area / size)


@dataclass(frozen=True)
class Crease:
    """An edge that is folded: face ``parent`` from its corner ``at`` to the next, to face ``child``. ``roll`` for the
    rulings of a curved surface, bent without a fold of their own."""

    parent: int
    at: int
    child: int
    by: Literal["brake", "tongs"] = "brake"
    roll: bool = False


@dataclass(frozen=True)
class Surface:
    """Faces, the creases that join them from face 0 outward (parents before children), how many like pieces."""

    name: str
    faces: tuple[Face, ...]
    creases: tuple[Crease, ...] = ()
    qty: int = 1


@dataclass(frozen=True)
class Unfolded:
    """The pattern, and for each face two places on it: one inside, and where its first corner comes to lie."""

    pattern: Pattern
    seats: tuple[tuple[Point, Point], ...]


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
    runs once drawn in, (edges, 2, 2); its holes."""

    mould: Array
    edges: Array
    holes: tuple[Array, ...]

    def moved(self, turn: Array, by: Array) -> _Sheet:
        return _Sheet(self.mould @ turn.T + by, self.edges @ turn.T + by, tuple(h @ turn.T + by for h in self.holes))

    @property
    def ring(self) -> Array:
        return self.edges.reshape(-1, 2)


def unfold(surface: Surface, metal: MetalSpec, piece_id: str,
           measured: Literal["outside", "inside"] = "outside") -> Unfolded:
    """The flat pattern, paint face up, its longest fold level; raises :class:`InputError` for a face that is not flat,
    a crease whose edges do not meet, or a layout that covers itself."""
    joints = [_joint(surface, crease) for crease in surface.creases]
    halves: dict[tuple[int, int], float] = {}
    for crease, (turn, back) in zip(surface.creases, joints, strict=True):
        half = 0.0 if crease.roll else deduction_of(metal, measured, round(abs(turn), 9)) / 2
        halves[crease.parent, crease.at] = halves[crease.child, back] = half
    own = [_drawn_in(face, {k: h for (n, k), h in halves.items() if n == index})
           for index, face in enumerate(surface.faces)]
    placed, folds = {0: own[0]}, []
    for n, (crease, (turn, back)) in enumerate(zip(surface.creases, joints, strict=True), 1):
        half = halves[crease.parent, crease.at]
        placed[crease.child] = _beside(placed[crease.parent], crease.at, own[crease.child], back, 2 * half)
        a, b = _reach(placed[crease.parent].edges[crease.at], placed[crease.child].edges[back])
        kind: Literal["fold", "hem", "roll"] = "roll" if crease.roll else "hem" if abs(turn) > _LOCK else "fold"
        folds.append(PatternFold(id=f"f{n}", a=a, b=b, kind=kind, by=crease.by, deduction=2 * half,
                                 turn=math.copysign(180.0, turn) if abs(turn) > _LOCK else turn))
    return _as_pattern(surface, [placed[n] for n in range(len(surface.faces))], folds, metal, piece_id)


def _joint(surface: Surface, crease: Crease) -> tuple[float, int]:
    """A crease's turn, + toward the paint face, and which edge of the child lies on it."""
    parent, child = surface.faces[crease.parent], surface.faces[crease.child]
    a, b = (np.array(parent.corners[(crease.at + k) % len(parent.corners)]) for k in (0, 1))
    corners = np.array(child.corners)
    for k in range(len(corners)):
        if np.abs(corners[k] - b).max() < 1e-3 and np.abs(corners[(k + 1) % len(corners)] - a).max() < 1e-3:
            one, other, along = parent.normal, child.normal, (b - a) / np.linalg.norm(b - a)
            turn = math.degrees(math.atan2(float(np.cross(one, other) @ along), float(one @ other)))
            return -turn, k
    raise InputError(surface.name, f"a crease between {parent.name} and {child.name} whose edges do not meet",
                     "one edge that both have")


def _drawn_in(face: Face, halves: dict[int, float]) -> _Sheet:
    """A face in its own plane, each creased edge moved inward by half its deduction."""
    normal, points = face.normal, np.array(face.corners)
    off = np.abs((points - points[0]) @ normal).max()
    if off > _FLAT * max(1.0, float(np.ptp(points))):
        raise InputError(face.name, f"corners {off:.3g} mm off one plane", "a flat face")
    u = points[1] - points[0]
    u = u / np.linalg.norm(u)
    axes = np.array([u, np.cross(normal, u)])
    mould = (points - points[0]) @ axes.T
    count = len(mould)
    step = np.roll(mould, -1, axis=0) - mould
    step = step / np.hypot(step[:, 0], step[:, 1])[:, None]
    inward = np.column_stack((-step[:, 1], step[:, 0]))
    shift = inward * np.array([halves.get(k, 0.0) for k in range(count)])[:, None]
    edges = np.zeros((count, 2, 2))
    for k in range(count):
        before = (k - 1) % count
        cross = step[before, 0] * step[k, 1] - step[before, 1] * step[k, 0]
        gap = shift[k] - shift[before]
        if abs(cross) < 1e-9:  # one straight side, of which only a part is folded
            edges[before, 1], edges[k, 0] = mould[k] + shift[before], mould[k] + shift[k]
        else:
            corner = mould[k] + shift[before] + step[before] * (gap[0] * step[k, 1] - gap[1] * step[k, 0]) / cross
            edges[before, 1] = edges[k, 0] = corner
    holes = tuple((np.array(hole) - points[0]) @ axes.T for hole in face.holes)
    return _Sheet(mould, edges, holes)


def _beside(parent: _Sheet, at: int, child: _Sheet, back: int, apart: float) -> _Sheet:
    """The child laid against the parent's edge: their mould lines ``apart``, drawn in over each other."""
    a, b = parent.mould[at], parent.mould[(at + 1) % len(parent.mould)]
    c, d = child.mould[back], child.mould[(back + 1) % len(child.mould)]
    way, mine = (a - b) / np.linalg.norm(a - b), (d - c) / np.linalg.norm(d - c)
    cos, sin = float(mine @ way), float(mine[0] * way[1] - mine[1] * way[0])
    turn = np.array([[cos, -sin], [sin, cos]])
    inward = np.array([way[1], -way[0]])  # of the parent: its edge runs against the child's
    return child.moved(turn, b + inward * apart - turn @ c)


def _reach(one: Array, other: Array) -> tuple[Point, Point]:
    """The fold line: as far as either face's edge goes on it."""
    points = np.concatenate((one, other))
    along = one[1] - one[0]
    order = np.argsort((points - one[0]) @ along)
    a, b = points[order[0]], points[order[-1]]
    return (float(a[0]), float(a[1])), (float(b[0]), float(b[1]))


def _as_pattern(surface: Surface, sheets: list[_Sheet], folds: list[PatternFold], metal: MetalSpec,
                piece_id: str) -> Unfolded:
    import shapely

    parts = [shapely.Polygon(sheet.ring).buffer(0) for sheet in sheets]
    whole = shapely.union_all([part.buffer(_SEAM, join_style="mitre") for part in parts])
    pieces = shapely.get_parts(whole.buffer(-_SEAM, join_style="mitre"))
    pieces = [piece for piece in pieces if piece.area > 1e-4]  # specks where corners touch
    whole = pieces[0] if len(pieces) == 1 else whole
    lost = sum(part.area for part in parts) - whole.area
    if len(pieces) != 1 or lost > 0.5:
        raise InputError(surface.name, f"a layout that covers itself by {lost:.1f} mm²", "faces that lie side by side: "
                         "part the piece by a seam")
    turn, by = _level(whole, folds)
    holes = [hole for hole in whole.interiors if shapely.Polygon(hole).area > 1e-3]
    rings = [shapely.get_coordinates(whole.exterior)[:-1], *(shapely.get_coordinates(hole)[:-1] for hole in holes),
             *(hole for sheet in sheets for hole in sheet.holes)]
    outline, *inner = (_ring(ring @ turn.T + by, n == 0) for n, ring in enumerate(rings))
    moved = tuple(fold.but(a=_at(turn, by, fold.a), b=_at(turn, by, fold.b)) for fold in folds)
    size = np.ptp(np.array(outline), axis=0)
    pattern = Pattern(id=piece_id, name=surface.name, qty=surface.qty, metal=metal, outline=outline, holes=tuple(inner),
                      folds=moved, girth=float(size[1]), length=float(size[0]))
    seats = tuple((_at(turn, by, part.representative_point().coords[0]), _at(turn, by, tuple(sheet.edges[0, 0])))
                  for part, sheet in zip(parts, sheets, strict=True))
    return Unfolded(pattern, seats)


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
