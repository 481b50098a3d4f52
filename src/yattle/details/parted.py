"""A piece longer than its stock parted across into several that lap."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from yattle.pattern.surface import Array, Corner, Crease, Face, Surface

_NEAR = 1e-6  # mm


def parted(surface: Surface, along: Array, stock: float, lap: float) -> tuple[Surface, ...]:
    """The piece by itself, or cut across ``along`` (a unit vector) into as few equal shares as leave none longer than
    ``stock`` with its lap, mm; each goes on over the next by half a lap and under it by the other half."""
    places = np.array([point for face in surface.faces for point in face.corners]) @ along
    low, high = float(places.min()), float(places.max())
    if high - low <= stock + _NEAR or lap >= stock:
        return (surface,)
    many = math.ceil((high - low - lap) / (stock - lap) - 1e-9)
    share = (high - low + (many - 1) * lap) / many
    found = []
    for n in range(many):
        start = low + n * (share - lap)
        part = _between(surface, along, start if n else -math.inf, start + share if n < many - 1 else math.inf)
        found.append(replace(part, name=f"{surface.name}, {n + 1} of {many}"))
    return tuple(found)


def _between(surface: Surface, along: Array, low: float, high: float) -> Surface:
    """What of a piece lies between two places along an axis, with the folds that are left."""
    kept: dict[int, int] = {}
    faces: list[Face] = []
    for n, face in enumerate(surface.faces):
        ring = _clipped(list(face.corners), along, low, high)
        if len(ring) > 2:
            kept[n] = len(faces)
            marks = [_line_between(mark, along, low, high) for mark in face.marks]
            faces.append(replace(face, corners=tuple(ring), marks=tuple(mark for mark in marks if mark is not None)))
    creases = []
    for crease in surface.creases:
        if crease.parent in kept and crease.child in kept:
            whole = surface.faces[crease.parent].corners
            a, b = whole[crease.at], whole[(crease.at + 1) % len(whole)]
            at = _edge_on(faces[kept[crease.parent]].corners, a, b)
            if at is not None and _edge_on(faces[kept[crease.child]].corners, a, b) is not None:
                creases.append(replace(crease, parent=kept[crease.parent], at=at, child=kept[crease.child]))
    return _hanging_together(replace(surface, faces=tuple(faces), creases=tuple(creases)))


def _hanging_together(surface: Surface) -> Surface:
    """The faces that hang on the first one by folds; slips that a cut has left by themselves are dropped."""
    seen = {0}
    for crease in surface.creases:  # parents come before children
        if crease.parent in seen:
            seen.add(crease.child)
    order = {n: k for k, n in enumerate(sorted(seen))}
    creases = tuple(Crease(order[c.parent], c.at, order[c.child], c.by, c.roll, c.soft) for c in surface.creases
                    if c.parent in seen and c.child in seen)
    return replace(surface, faces=tuple(surface.faces[n] for n in sorted(seen)), creases=creases)


def _clipped(ring: list[Corner], along: Array, low: float, high: float) -> list[Corner]:
    for limit, sign in ((low, 1.0), (high, -1.0)):
        if math.isfinite(limit):
            ring = _clip_one(ring, along * sign, limit * sign)
    return ring


def _clip_one(ring: list[Corner], along: Array, limit: float) -> list[Corner]:
    """What of a ring lies beyond a limit along an axis, after I. Sutherland and G. Hodgman."""
    found: list[Corner] = []
    for n, b in enumerate(ring):
        a = ring[n - 1]
        off_a, off_b = (float(np.dot(p, along)) - limit for p in (a, b))
        if (off_a > _NEAR) != (off_b > _NEAR) and abs(off_a) > _NEAR and abs(off_b) > _NEAR:
            share = off_a / (off_a - off_b)
            found.append((a[0] + (b[0] - a[0]) * share, a[1] + (b[1] - a[1]) * share, a[2] + (b[2] - a[2]) * share))
        if off_b >= -_NEAR:
            found.append(b)
    return [p for n, p in enumerate(found) if math.dist(p, found[n - 1]) > _NEAR]


def _line_between(mark: tuple[Corner, Corner, str], along: Array, low: float,
                  high: float) -> tuple[Corner, Corner, str] | None:
    """A mark as far as it lies between two places."""
    a, b, text = mark
    at = float(np.dot(a, along)), float(np.dot(b, along))
    if abs(at[1] - at[0]) < _NEAR:
        return mark if low - _NEAR <= at[0] <= high + _NEAR else None
    shares = sorted((limit - at[0]) / (at[1] - at[0]) for limit in (low, high))
    first, last = max(0.0, shares[0]), min(1.0, shares[1])
    if first >= last:
        return None
    one, other = (tuple(p + (q - p) * share for p, q in zip(a, b, strict=True)) for share in (first, last))
    return (one[0], one[1], one[2]), (other[0], other[1], other[2]), text


def _edge_on(ring: tuple[Corner, ...], a: Corner, b: Corner) -> int | None:
    """Which edge of a ring lies on the stretch from a to b."""
    for n, p in enumerate(ring):
        q = ring[(n + 1) % len(ring)]
        off = max(math.dist(a, end) + math.dist(end, b) for end in (p, q)) - math.dist(a, b)
        if off < 1e-6 * (1 + math.dist(a, b)) and math.dist(p, q) > _NEAR:
            return n
    return None
