"""A surface of flat faces in space laid out flat: the pattern of any folded piece.

The faces are given as they stand installed, sharp, at their mould lines; creases say which edges are folded and
form a tree. Each face is drawn in by half the deduction at each of its creases and laid beside the one it is folded
from: what :mod:`yattle.pattern.proof` does backwards, with code of its own.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any, Literal

import numpy as np

from yattle.errors import InputError
from yattle.pattern.joined import CreaseLine, joined
from yattle.pattern.marks import on_sheet
from yattle.pattern.pattern import Mark, Pattern, PatternFold, Point
from yattle.pattern.relief import relieved
from yattle.pattern.sheet import ON_EDGE, FlatFace, FoldJoint, Halves, joint_of, laid_out
from yattle.pattern.surface import LOCK, Array, Corner, Face, Surface
from yattle.section import GirthRefused, Hem, MetalSpec, Profile, girth_of

_LONG = 1.5  # mm: how much further than the other a part may go on a fold line once drawn in
_CLOSE = 0.02  # mm: corners nearer to each other are one
_SMALL = 1.009  # how much more than the least rectangle a piece may take to lie along its longest fold


@dataclass(frozen=True)
class Unfolded:
    """The pattern; for each face two places on it: one inside, and where its first corner comes to lie; the faces as
    they are with their relief cuts."""

    pattern: Pattern
    seats: tuple[tuple[Point, Point], ...]
    faces: tuple[Face, ...]


@lru_cache(maxsize=1024)
def deduction_of(metal: MetalSpec, measured: Literal["outside", "inside"], turn: float) -> float:
    """The deduction of a fold of ``turn`` degrees in this metal, by its own allowance rule. In mm. Raises
    :class:`InputError` where the rule has no value for it."""
    size = abs(turn)
    if size < 1e-9:
        return 0.0
    hem = Hem(kind="closed", length=1000.0, toward="paint") if size > LOCK else None
    girth = girth_of(Profile(metal=metal, measured=measured, legs=(2000.0,) if hem else (2000.0, 2000.0),
                             turns=() if hem else (size,), hem_b=hem))
    if isinstance(girth, GirthRefused):
        raise InputError("metal", f"no allowance for a fold of {size:g}°", "; ".join(girth.reasons))
    return girth.bends[0].deduction


def unfold(surface: Surface, metal: MetalSpec, piece_id: str,
           measured: Literal["outside", "inside"] = "outside") -> Unfolded:
    """The flat pattern, paint face up, in its least rectangle; raises :class:`InputError` for a face that is not flat,
    a crease whose edges do not meet, or a layout that covers itself."""
    joints = [joint_of(surface, crease) for crease in surface.creases]
    halves = _halves(surface, joints, metal, measured)
    placed = laid_out(surface, joints, halves)
    rings = relieved(surface, placed)
    joints += [joint_of(surface, crease) for crease in surface.closing]
    lines = _lines(surface, joints, placed, rings, halves)
    own: dict[int, list[tuple[Array, float]]] = {n: [] for n in range(len(rings))}
    for line in lines:
        if not line.crease.roll:
            own[line.crease.parent].append((line.ends, line.half))
            own[line.crease.child].append((line.ends, line.half))
    parts = [_part(surface.faces[n], placed[n], rings[n], own[n]) for n in range(len(rings))]
    rings, shapes = joined(surface, [part.ring for part in parts], lines)
    turn, by = _level(rings[0], lines, surface.straight)
    rings += [hole for part in parts for hole in part.holes]
    outline, *inner = (_ring(ring @ turn.T + by, n == 0) for n, ring in enumerate(rings))
    ends = np.concatenate([line.ends for line in lines] or [np.empty((0, 2))]).reshape(-1, 2, 2)
    ends = (ends @ turn.T + by).tolist()
    folds = tuple(_fold(n, line, joints[n - 1].turn, ends[n - 1]) for n, line in enumerate(lines, 1))
    marks = tuple(_mark(line @ turn.T + by, said[2]) for face, sheet in zip(surface.faces, placed, strict=True)
                  for line, said in zip(sheet.marks, face.marks, strict=True))
    marks = on_sheet(marks, outline, tuple(inner))
    size = np.ptp(np.array(outline), axis=0)
    pattern = Pattern(id=piece_id, name=surface.name, qty=surface.qty, metal=metal, outline=outline,
                      holes=tuple(inner), folds=folds, marks=marks, girth=float(size[1]), length=float(size[0]))
    return Unfolded(pattern, _seats(parts, shapes, turn, by),
                    tuple(face if part.corners is face.corners else replace(face, corners=part.corners)
                          for face, part in zip(surface.faces, parts, strict=True)))


def _halves(surface: Surface, joints: list[FoldJoint], metal: MetalSpec,
            measured: Literal["outside", "inside"]) -> Halves:
    halves = {}
    for crease, joint in zip(surface.creases, joints, strict=True):
        plain = crease.roll or crease.soft
        half = 0.0 if plain else deduction_of(metal, measured, round(abs(joint.turn), 9)) / 2
        halves[crease.parent, crease.at] = halves[crease.child, joint.back] = half
    return halves


def _lines(surface: Surface, joints: list[FoldJoint], placed: list[FlatFace], rings: list[Array],
           halves: Halves) -> list[CreaseLine]:
    """Where each crease lies in the flat sheet; raises :class:`InputError` where nothing is left of it."""
    lines = []
    for crease, joint in zip((*surface.creases, *surface.closing), joints, strict=True):
        edge = placed[crease.parent].edges[crease.at]
        whole = crease.roll or (all(rings[n] is placed[n].ring for n in (crease.parent, crease.child)) and np.abs(
            edge[::-1] - placed[crease.child].edges[joint.back]).max() < 1e-9)
        ends = edge if whole else _reach(edge, rings[crease.parent], rings[crease.child])
        if ends is None:
            raise InputError(surface.name, f"nothing left of the fold between {surface.faces[crease.parent].name} and "
                             f"{surface.faces[crease.child].name}", "a longer fold, or a seam there")
        lines.append(CreaseLine(crease, joint.back, ends, halves.get((crease.parent, crease.at), 0.0)))
    return lines


def _mark(line: Array, text: str) -> Mark:
    (ax, ay), (bx, by) = line.tolist()
    return Mark(a=(ax, ay), b=(bx, by), text=text)


def _fold(n: int, line: CreaseLine, turn: float, ends: list[list[float]]) -> PatternFold:
    (ax, ay), (bx, by) = ends
    locked = abs(turn) > LOCK
    kind: Literal["fold", "hem", "roll"] = "roll" if line.crease.roll else "hem" if locked else "fold"
    return PatternFold(id=f"f{n}", a=(ax, ay), b=(bx, by), kind=kind, by=line.crease.by, deduction=2 * line.half,
                       turn=turn)


@dataclass(frozen=True)
class _UnfoldedPart:
    """A face laid out and relieved: its ring in the pattern, its corners in space, its holes flat."""

    ring: Array
    corners: tuple[Corner, ...]
    holes: tuple[Array, ...]


def _part(face: Face, sheet: FlatFace, ring: Array, lines: list[tuple[Array, float]]) -> _UnfoldedPart:
    """The face with a corner wherever a fold ends, and where its corners lie installed."""
    if not lines and len(ring) == len(face.corners):
        return _UnfoldedPart(ring, face.corners if ring is sheet.ring else sheet.space(ring, lines), sheet.holes)
    corners = [(x, y) for x, y in ring.tolist()]
    for line, _ in lines:
        for x, y in line.tolist():
            _give_corner(corners, (x, y))
    if ring is sheet.ring and len(corners) == len(face.corners) and not any(half for _, half in lines):
        return _UnfoldedPart(ring, face.corners, sheet.holes)
    ring = np.array(corners)
    return _UnfoldedPart(ring, sheet.space(ring, lines), sheet.holes)


def _give_corner(ring: list[Point], point: Point) -> None:
    """Give the ring a corner at a place on one of its edges, where it has none within a few hundredths."""
    far = [math.dist(corner, point) for corner in ring]
    if min(far) < _CLOSE:
        return
    more = [far[k] + far[(k + 1) % len(ring)] - math.dist(corner, ring[(k + 1) % len(ring)])
            for k, corner in enumerate(ring)]
    if min(more) < 1e-7:
        ring.insert(more.index(min(more)) + 1, point)


def _reach(line: Array, one: Array, other: Array) -> Array | None:
    """The fold line in the sense of ``line``: as far as both parts have an edge on it; where they differ by no more
    than drawing them in has done, as far as the longer one."""
    start, way = complex(*line[0].tolist()), complex(*(line[1] - line[0]).tolist())
    long, spans = abs(way), []
    turn = way.conjugate() / long
    for ring in (one, other):
        seen = [(complex(x, y) - start) * turn for x, y in ring.tolist()]  # along the line, and off it
        sides = [sorted((p.real, seen[k - 1].real)) for k, p in enumerate(seen)
                 if abs(p.imag) < ON_EDGE and abs(seen[k - 1].imag) < ON_EDGE]
        found = [(low, high) for low, high in sides if low < long - 1e-6 and high > 1e-6]
        if not found:
            return None
        spans.append((min(low for low, _ in found), max(high for _, high in found)))
    (a, b), (c, d) = spans
    low = min(a, c) if abs(a - c) < _LONG else max(a, c)
    high = max(b, d) if abs(b - d) < _LONG else min(b, d)
    if high - low < 1e-3:
        return None
    return np.array([[p.real, p.imag] for p in (start + way * (low / long), start + way * (high / long))])


def _seats(parts: list[_UnfoldedPart], shapes: Any, turn: Array, by: Array) -> tuple[tuple[Point, Point], ...]:
    """For each part a place inside it and its first corner, in the pattern."""
    import shapely

    inside = shapely.get_coordinates(shapely.point_on_surface(shapes)) @ turn.T + by
    first = np.array([part.ring[0] for part in parts]) @ turn.T + by
    return tuple(((a[0], a[1]), (b[0], b[1])) for a, b in zip(inside.tolist(), first.tolist(), strict=True))


def _level(outline: Array, lines: list[CreaseLine], straight: bool) -> tuple[Array, Array]:
    """The turn that lays the piece down, its long side along x, and the shift that brings it to the origin.

    A section along a line lies with its folds along x. Any other piece lies in its least bounding rectangle, which has
    a side along one of the hull's (H. Freeman and R. Shapira); where its longest fold or first side does as well, to
    1 %, along that one.
    """
    told = [line.ends for line in lines if not line.crease.roll] or [line.ends for line in lines]
    longest = max(told, key=lambda ends: math.dist(*ends), default=outline[:2])
    best = _turned(longest[1] - longest[0])
    if not straight:
        sides = _hull_sides(outline)
        sizes = [_box_of(outline, turn) for turn in map(_turned, sides)]
        least = min(range(len(sides)), key=lambda n: math.prod(sizes[n]))
        if math.prod(_box_of(outline, best)) > _SMALL * math.prod(sizes[least]):
            best = _turned(sides[least])
        wide, high = _box_of(outline, best)
        if high > wide * (1 + 1e-9):
            best = np.array([[0.0, 1.0], [-1.0, 0.0]]) @ best
    return best, -(outline @ best.T).min(axis=0)


def _turned(way: Array) -> Array:
    """The turn that lays a direction along x."""
    dx, dy = way / math.hypot(*way)
    return np.array([[dx, dy], [-dy, dx]])


def _box_of(outline: Array, turn: Array) -> tuple[float, float]:
    """Length and height of the outline once turned, mm."""
    wide, high = np.ptp(outline @ turn.T, axis=0).tolist()
    return wide, high


def _hull_sides(outline: Array) -> Array:
    """The sides of the outline's convex hull as steps from corner to corner, (n, 2), those of no length left out."""
    import shapely

    hull = shapely.get_coordinates(shapely.convex_hull(shapely.multipoints(outline)))
    steps = np.diff(hull, axis=0)
    return np.asarray(steps[np.hypot(*steps.T) > 1e-6])


def _ring(points: Array, outer: bool) -> tuple[Point, ...]:
    """A ring without repeats, anticlockwise outside, clockwise for a hole."""
    kept = [(float(x), float(y)) for n, (x, y) in enumerate(points) if math.dist((x, y), points[n - 1]) > 1e-6]
    area = sum(a[0] * b[1] - a[1] * b[0] for a, b in zip(kept, (*kept[1:], kept[0]), strict=True))
    return tuple(kept if (area > 0) == outer else reversed(kept))
