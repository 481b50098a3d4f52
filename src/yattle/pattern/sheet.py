"""The faces of a surface laid beside each other: each in its own plane, drawn in by half the deduction at every crease,
then turned and shifted against the face it is folded from."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

import numpy as np

from yattle.errors import InputError
from yattle.pattern.surface import FLAT, LOCK, Array, Corner, Crease, Face, Surface, side_of

ON_EDGE = 1e-5  # mm: how near a corner must be to an edge to lie on it


@dataclass(frozen=True)
class FlatFace:
    """One face flat, in the pattern's coordinates, mm.

    ``mould``: its mould corners
    ``edges``: where each edge runs once drawn in, (edges, 2, 2); ``ring``: what they make
    ``holes``, ``marks``: within it
    ``origin``, ``axes``: how it got there from its place in space: from that origin along those unit vectors
    ``turn``, ``by``: then turned, then moved
    """

    mould: Array
    edges: Array
    holes: tuple[Array, ...]
    marks: tuple[Array, ...]
    origin: Array
    axes: Array
    turn: Array
    by: Array
    ring: Array

    def space(self, ring: Array, lines: list[tuple[Array, float]]) -> tuple[Corner, ...]:
        """Where the corners of the flat face, cut to ``ring``, lie installed: its edges on fold ``lines`` (with half
        the deduction of each) moved out to their mould lines again. In mm."""
        if any(half for _, half in lines):
            ring = _moved_out(ring, lines)
        own = (ring - self.by) @ self.turn
        return tuple((x, y, z) for x, y, z in (self.origin + own @ self.axes).tolist())


def _moved_out(ring: Array, lines: list[tuple[Array, float]]) -> Array:
    """The corners of a ring once its edges on ``lines`` are each moved outward by the half that comes with it."""
    z = [complex(x, y) for x, y in ring.tolist()]  # in plain numbers: rings are short, and there are many
    drawn = [0.0] * len(z)
    for (a, b), half in lines:
        start, way = complex(*a), complex(*(b - a))
        long = abs(way)
        seen = [(p - start) * (way.conjugate() / long) for p in z]  # along the line, and off it
        for k in range(len(z)):
            one, other = seen[k], seen[(k + 1) % len(z)]
            if max(abs(one.imag), abs(other.imag)) < ON_EDGE and 0 < (one.real + other.real) / 2 < long:
                drawn[k] = half
    steps = [z[(k + 1) % len(z)] - p for k, p in enumerate(z)]
    along = [step / abs(step) for step in steps]
    moved = []
    for k, p in enumerate(z):
        before, after = along[k - 1], along[k]
        pushed, shift = before * -1j * drawn[k - 1], after * -1j * drawn[k]
        across, gap = (before.conjugate() * after).imag, shift - pushed
        if abs(across) < 1e-5:  # straight, of which only a part may be folded
            moved += [p + pushed, p + shift] if abs(gap) > 1e-12 else [p + pushed]
        else:
            moved.append(p + pushed + before * ((gap.conjugate() * after).imag / across))
    return np.array([(p.real, p.imag) for p in moved])


def apart(ring: Array, least: float = 1e-9) -> Array:
    """The ring without corners that are the same as the next one. In mm; corners nearer than ``least`` are the same."""
    return np.asarray(ring[np.abs(ring - np.concatenate((ring[1:], ring[:1]))).max(axis=1) > least])


@dataclass(frozen=True)
class FoldJoint:
    """How a crease is folded: its turn in degrees, + toward the paint face, which edge of the child lies on it
    (``back``), and how far from the crease's end that begins (``short``, mm: a child may be shorter than its parent's
    edge)."""

    turn: float
    back: int
    short: float


def joint_of(surface: Surface, crease: Crease) -> FoldJoint:
    """Where and how far a crease is folded; raises :class:`InputError` where its two edges do not meet."""
    parent, child = surface.faces[crease.parent], surface.faces[crease.child]
    a, b = (parent.corners[(crease.at + k) % len(parent.corners)] for k in (0, 1))
    long, k = math.dist(a, b), _back(child, a, b)
    if k >= 0:
        (x, y, z), (u, v, w) = parent.paint, child.paint
        p, q, r = ((b[n] - a[n]) / long for n in range(3))
        across = (y * w - z * v) * p + (z * u - x * w) * q + (x * v - y * u) * r
        turn = -math.degrees(math.atan2(across, x * u + y * v + z * w))
        if abs(turn) > LOCK:  # doubled over: the side is the layers', not a rounding's
            turn = 180.0 * side_of(child.layer, parent.layer, parent.paint)
            if not turn:
                raise InputError(surface.name, f"{child.name} doubled over {parent.name} without a side",
                                 "layers that say which of them lies on top")
        return FoldJoint(turn, k, math.dist(child.corners[k], b))
    raise InputError(surface.name, f"a crease between {parent.name} and {child.name} whose edges do not meet",
                     "one edge that both have")


def _back(child: Face, a: Corner, b: Corner) -> int:
    """Which edge of the child runs back along the edge from a to b; −1: none does."""
    count, long = len(child.corners), math.dist(a, b)
    if b in child.corners and child.corners[(child.corners.index(b) + 1) % count] == a:
        return child.corners.index(b)  # most are just as long as the parent's
    for k, corner in enumerate(child.corners):
        after = child.corners[(k + 1) % count]
        if _between(corner, a, b, long) and _between(after, a, b, long) and math.dist(after, b) > math.dist(corner, b):
            return k
    return -1


def _between(point: Corner, a: Corner, b: Corner, long: float) -> bool:
    """Whether a point lies on the edge from a to b."""
    return math.dist(point, a) + math.dist(point, b) < long + 1e-7 * (1 + long)


Halves = Mapping[tuple[int, int], float]
"""Half the deduction of every creased edge, mm, by face and edge."""


def laid_out(surface: Surface, joints: Iterable[FoldJoint], halves: Halves) -> list[FlatFace]:
    """Every face beside the one it is folded from, face 0 where it is; faces with as many corners are worked out
    together."""
    groups: dict[int, list[int]] = defaultdict(list)
    for n, face in enumerate(surface.faces):
        groups[len(face.corners)].append(n)
    own = [_Group.of([surface.faces[n] for n in group], group, halves) for group in groups.values()]
    flat = {n: mould for group in own for n, mould in zip(group.faces, group.mould, strict=True)}
    corners = {n: (mould[:, 0] + 1j * mould[:, 1]).tolist() for n, mould in flat.items()}
    ways: dict[int, tuple[complex, complex]] = {0: (1 + 0j, 0j)}
    for crease, joint in zip(surface.creases, joints, strict=True):
        drawn = 2 * halves[crease.parent, crease.at]
        ways[crease.child] = _beside(corners[crease.parent], ways[crease.parent], crease.at,
                                     corners[crease.child], joint, drawn)
    placed = {n: sheet for group in own for n, sheet in group.placed(surface.faces, ways)}
    return [placed[n] for n in range(len(surface.faces))]


def _beside(parent: list[complex], way: tuple[complex, complex], at: int, child: list[complex], joint: FoldJoint,
            drawn: float) -> tuple[complex, complex]:
    """The child's turn and shift (of points x + iy) against the parent's edge: their mould lines ``drawn`` over each
    other."""
    a, b = (way[0] * parent[(at + k) % len(parent)] + way[1] for k in (0, 1))
    c, d = (child[(joint.back + k) % len(child)] for k in (0, 1))
    along, mine = (a - b) / abs(a - b), (d - c) / abs(d - c)
    turn = along * mine.conjugate()
    inward = along * -1j  # of the parent: its edge runs against the child's
    return turn, b + along * joint.short + inward * drawn - turn * c


@dataclass(frozen=True)
class _Group:
    """Faces with as many corners, each flat in its own plane: (faces, corners, 2) and so on."""

    faces: list[int]
    mould: Array
    edges: Array
    origin: Array
    axes: Array

    @classmethod
    def of(cls, faces: list[Face], numbers: list[int], halves: Halves) -> _Group:
        points, normals = np.array([face.corners for face in faces]), np.array([face.paint for face in faces])
        apart = points - points[:, :1]
        off = np.abs(np.einsum("mkc,mc->mk", apart, normals)).max(axis=1)
        bad = np.nonzero(off > FLAT * np.maximum(1.0, np.ptp(points, axis=(1, 2))))[0]
        if bad.size:
            raise InputError(faces[bad[0]].name, f"corners {off[bad[0]]:.3g} mm off one plane", "a flat face")
        u = apart[:, 1] / np.sqrt((apart[:, 1] ** 2).sum(axis=1))[:, None]
        axes = np.stack((u, np.cross(normals, u)), axis=1)
        mould = np.einsum("mkc,mac->mka", apart, axes)
        count = mould.shape[1]
        sizes = np.array([[halves.get((n, k), 0.0) for k in range(count)] for n in numbers])
        edges = _drawn_in(mould, sizes)
        small = np.nonzero(np.logical_and((sizes > 0).any(axis=1), _turned_over(mould, edges)))[0]
        if small.size:
            raise InputError(faces[small[0]].name, "less than its folds take", "a wider one, or a tighter metal")
        return cls(numbers, mould, edges, points[:, 0], axes)

    def placed(self, faces: tuple[Face, ...], ways: dict[int, tuple[complex, complex]]) -> list[tuple[int, FlatFace]]:
        moves = [ways[n] for n in self.faces]
        turn = np.array([[[r.real, -r.imag], [r.imag, r.real]] for r, _ in moves])
        by = np.array([[b.real, b.imag] for _, b in moves])
        mould = np.einsum("mkc,mac->mka", self.mould, turn) + by[:, None]
        edges = np.einsum("mkec,mac->mkea", self.edges, turn) + by[:, None, None]
        whole = (np.abs(edges[:, :, 1] - _after(edges[:, :, 0])).max(axis=(1, 2)) < 1e-9) & (
            np.abs(edges[:, :, 1] - edges[:, :, 0]).max(axis=2).min(axis=1) > 1e-6)
        made = []
        for k, n in enumerate(self.faces):
            holes, marks = (tuple((np.array(line) - self.origin[k]) @ self.axes[k].T @ turn[k].T + by[k]
                                  for line in lines)
                            for lines in (faces[n].holes, [mark[:2] for mark in faces[n].marks]))
            ring = edges[k, :, 0] if whole[k] else apart(edges[k].reshape(-1, 2))
            made.append((n, FlatFace(mould[k], edges[k], holes, marks, self.origin[k], self.axes[k], turn[k], by[k],
                                     ring)))
        return made


def _turned_over(mould: Array, edges: Array) -> Array:
    """Which faces (m,) have an edge left that runs the other way than it did, so that nothing is left between folds."""
    way = edges[:, :, 1] - edges[:, :, 0]
    return np.asarray((way * (_after(mould) - mould)).sum(axis=2).min(axis=1) < 0)


def _drawn_in(mould: Array, sizes: Array) -> Array:
    """Where the edges of faces (m, k, 2) run once each is moved inward by its size (m, k): (m, k, 2, 2)."""
    step = _after(mould) - mould
    long = np.hypot(step[..., 0], step[..., 1])
    step = step / long[..., None]
    shift = np.stack((-step[..., 1], step[..., 0]), axis=-1) * sizes[..., None]
    before, pushed, least, other = (np.concatenate((row[:, -1:], row[:, :-1]), axis=1)
                                    for row in (step, shift, long, sizes))
    cross = before[..., 0] * step[..., 1] - before[..., 1] * step[..., 0]
    gap, straight = shift - pushed, np.abs(cross) < 1e-9
    far = (gap[..., 0] * step[..., 1] - gap[..., 1] * step[..., 0]) / np.where(straight, 1.0, cross)
    # a side of which only a part is folded, or one folded up to a corner so slight that its tip would be longer than
    # what is beside it: there the fold ends with a step
    straight |= np.logical_and(np.abs(sizes - other) > 1e-12, np.abs(far) > np.minimum(long, least) / 2)
    corner = mould + pushed + before * far[..., None]
    starts = np.where(straight[..., None], mould + shift, corner)
    ends = np.where(straight[..., None], mould + pushed, corner)
    return np.stack((starts, _after(ends)), axis=2)


def _after(rows: Array) -> Array:
    """For every corner of many rings (m, k, …) the one after it."""
    return np.concatenate((rows[:, 1:], rows[:, :1]), axis=1)
