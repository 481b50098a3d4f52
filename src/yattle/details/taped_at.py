"""Between which two places of a form's pieces a measure is taken: found by making it a little larger and seeing what
moves apart by just as much."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from yattle.details.forms import Form
from yattle.errors import InputError
from yattle.pattern.surface import Corner, Face, Surface

Array = NDArray[np.float64]
Pair = tuple[float, Corner, Corner]
"""How far apart, mm, and the two places."""
_NOWHERE = (0.0, 0.0, 0.0)
_STEP = 0.5  # mm that the measure is made larger, else smaller, by
_SAME = 2e-3  # mm: what moves apart by the step does so to within this
_BESIDE = 5.0  # mm: a sheet, a clearance or a round between the measure and the places nearest to it


@dataclass(frozen=True)
class TapedAt:
    """A measure from ``a`` to ``b``, places on the pieces as they stand installed, mm; both ``None`` where only the
    corners in ``moved`` follow from it, and these are none where nothing does as the pieces are made now."""

    a: Corner | None
    b: Corner | None
    moved: frozenset[Corner]


def taped_at(form: Form, field: str) -> TapedAt | None:
    """Where the number in ``field`` of a form shows on its pieces: an edge of a face, else across one, else from corner
    to corner of any; lengths in mm. ``None`` of what is no length, or where a step of half a millimetre makes other
    pieces."""
    value: Any = getattr(form, field, None)
    if not isinstance(value, float) or value <= _STEP:
        return None
    now = form.surfaces()
    for step in (_STEP, -_STEP):
        then = _made(form, field, value + step)
        if then is not None and _alike(now, then):
            return _found(now, then, value, step)
    return None


def _found(now: tuple[Surface, ...], then: tuple[Surface, ...], value: float, step: float) -> TapedAt:
    before, after = _places(now), _places(then)
    moved = frozenset(_corner(place) for place in before[np.linalg.norm(after - before, axis=1) > _SAME])
    near: list[Pair] = []
    for look in (_edges, _across, _corners) if moved else ():
        found = [(abs(long - value), a, b) for long, a, b in look(now, then, step)]
        off, a, b = min(found, key=lambda one: one[0], default=(_BESIDE, _NOWHERE, _NOWHERE))
        if off < _SAME:
            return TapedAt(a, b, moved)
        near += [(off, a, b)] if off < _BESIDE else []
    if not near:
        return TapedAt(None, None, moved)
    _, a, b = min(near, key=lambda one: one[0])
    return TapedAt(a, b, moved)


def _made(form: Form, field: str, value: float) -> tuple[Surface, ...] | None:
    try:
        return form.but(**{field: value}).surfaces()
    except InputError:
        return None


def _alike(now: tuple[Surface, ...], then: tuple[Surface, ...]) -> bool:
    """Whether both are the same faces with the same corners, moved."""
    return [_kind(one) for one in now] == [_kind(one) for one in then]


def _kind(surface: Surface) -> list[tuple[int, ...]]:
    return [(len(face.corners), *map(len, face.holes)) for face in surface.faces]


def _faces(now: tuple[Surface, ...], then: tuple[Surface, ...]) -> Iterator[tuple[Face, Face]]:
    for one, other in zip(now, then, strict=True):
        yield from zip(one.faces, other.faces, strict=True)


def _edges(now: tuple[Surface, ...], then: tuple[Surface, ...], step: float) -> Iterator[Pair]:
    """The edges of faces that grow by the step."""
    for a, b in _faces(now, then):
        before, after = np.array(a.corners), np.array(b.corners)
        long, longer = (np.linalg.norm(np.roll(p, -1, axis=0) - p, axis=1) for p in (before, after))
        for n in np.flatnonzero(np.abs(longer - long - step) < _SAME):
            yield float(long[n]), a.corners[n], a.corners[(n + 1) % len(a.corners)]


def _across(now: tuple[Surface, ...], then: tuple[Surface, ...], step: float) -> Iterator[Pair]:
    """Square to an edge of a face, from one of the face's corners or from one in the rim of a hole in it."""
    for a, b in _faces(now, then):
        places, feet, inside = _feet(a)
        long, longer = (np.linalg.norm(p[:, None, :] - f, axis=2) for p, f, _ in ((places, feet, inside), _feet(b)))
        for n, m in np.argwhere(inside & (np.abs(longer - long - step) < _SAME)):
            yield float(long[n, m]), _corner(places[n]), _corner(feet[n, m])


def _feet(face: Face) -> tuple[Array, Array, NDArray[np.bool_]]:
    """The places on a face's rims, their feet on each edge of its outline, and which of these lie on the edge."""
    places = np.array([place for ring in (face.corners, *face.holes) for place in ring])
    starts = np.array(face.corners)
    runs = np.roll(starts, -1, axis=0) - starts
    share = np.einsum("nmk,mk->nm", places[:, None, :] - starts[None], runs) / np.maximum((runs**2).sum(axis=1), 1e-12)
    return places, starts[None] + share[..., None] * runs[None], (share > -1e-6) & (share < 1 + 1e-6)


def _corners(now: tuple[Surface, ...], then: tuple[Surface, ...], step: float) -> Iterator[Pair]:
    """Two corners, of all pieces together: what lies over each other is between them."""
    before, after = _places(now), _places(then)
    for n, place in enumerate(before[:-1]):
        long, longer = (np.linalg.norm(p[n + 1:] - p[n], axis=1) for p in (before, after))
        for m in np.flatnonzero(np.abs(longer - long - step) < _SAME):
            yield float(long[m]), _corner(place), _corner(before[n + 1 + m])


def _places(surfaces: tuple[Surface, ...]) -> Array:
    return np.array([place for surface in surfaces for face in surface.faces
                     for ring in (face.corners, *face.holes) for place in ring])


def _corner(place: Array) -> Corner:
    return float(place[0]), float(place[1]), float(place[2])
