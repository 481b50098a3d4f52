"""Hook: how far the locks of neighbouring pans reach into each other, and a trim's hem and kick hold its cleat's lip
between them; measured on the pieces as they stand."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from itertools import combinations, compress
from typing import Literal

import numpy as np
import shapely

from yattle import overlay
from yattle.built.cover import flat_on, lies_on, seen_apart
from yattle.built.standing import Spot, Standing, boxes_of, spot
from yattle.pattern.rings import cross
from yattle.pattern.surface import Array

HOLDS = 8.0  # mm that a lock has to reach in, so that wind and dressing do not open it
_PARALLEL = 0.9995  # cosine
_UPRIGHT = 0.02  # sine: a leg that stands square on its face
_NEAR = 10.0  # mm between a trim and a cleat that may hold it
_TIP = 3.0  # mm from a lock's tip to what goes round it
Zone = tuple[int, shapely.Geometry]
"""A part of a cleat by number, and a place of it along the cleat and across it, mm."""


@dataclass(frozen=True)
class Hook:
    """Two things that hold each other: they lie ``have`` mm in each other, over ``long`` mm of their seam. ``how``: two
    pans by their locks, a trim or pan and its cleat, a counterflashing in its kerf; ``closed``: whether a double lock
    goes on down round the other one, a cleat is held by its hem."""

    a: str
    b: str
    have: float
    long: float
    at: Spot
    closed: bool = True
    how: Literal["locks", "cleat", "kerf"] = "locks"

    @property
    def ok(self) -> bool:
        return self.have >= HOLDS and self.closed


def hook(a: Standing, b: Standing, normal: Array, up: Array) -> Hook:
    """The widest part of two pans' locks that lies on each other, above their floors: ``normal`` square to their face,
    ``up`` along their seam, both 1 mm long. 0 where their locks do not meet."""
    best = Hook(a.name, b.name, 0.0, 0.0, spot(a.parts[0][0]))
    across = cross(up, normal)
    low = min(float((part @ normal).max()) for part in (*a.parts, *b.parts)) + HOLDS / 2  # above both floors
    for one in _locks(a, normal, low):
        for other in _locks(b, normal, low):
            if not lies_on(one, other[0], normal):
                continue
            wide, long = _wide(one, other, up, across)
            if wide > best.have:
                best = Hook(a.name, b.name, wide, long, spot(one[0]), _goes_round(a, other, normal, across))
    return best


def _goes_round(a: Standing, lock: Array, normal: Array, across: Array) -> bool:
    """Whether a part of a pan goes down beyond the tip of the lock that it lies on, by half of what a lock holds."""
    level, near, far = float((lock @ normal).mean()), float((lock @ across).min()), float((lock @ across).max())
    floor = min(float((part @ normal).min()) for part in a.parts) + _TIP
    upright = [part for part, square in zip(a.parts, a.normals, strict=True)
               if abs(float(square @ normal)) < _UPRIGHT and float((part @ normal).max()) > level - _TIP]
    legs = [part for part in upright if float((part @ normal).min()) < floor]
    rounds = [part for part in upright if floor < float((part @ normal).min()) < level - HOLDS / 2]

    def stands(parts: list[Array], place: float) -> bool:
        return any(abs(float((part @ across).mean()) - place) < _TIP for part in parts)
    return any(stands(rounds, tip) and stands(legs, root) for tip, root in ((near, far), (far, near)))


def hooks(standing: Mapping[str, Standing], locks: Iterable[tuple[str, str, Array, Array]],
          grips: Iterable[tuple[str, tuple[str, ...]]]) -> Iterator[Hook]:
    """Every two pans with a seam between them, every trim or pan with its cleats, and every cleat with what it holds,
    of those that stand; mm."""
    yield from (hook(standing[a], standing[b], normal, up) for a, b, normal, up in locks
                if a in standing and b in standing)
    yield from _gripped({(trim, cleat): list(_held(standing[trim], standing[cleat]))
                         for trim, cleat in _meet(standing, grips)}, standing)


def _meet(standing: Mapping[str, Standing], grips: Iterable[tuple[str, tuple[str, ...]]]) -> Iterator[tuple[str, str]]:
    """Every trim or pan with those of its cleats that come near it, and with one where none does; every cleat at least
    once."""
    rows = defaultdict[tuple[str, ...], list[str]](list)  # many are told the same cleats
    for trim, row in grips:
        if trim in standing:
            rows[row].append(trim)
    for row, trims in rows.items():
        cleats = [name for name in row if name in standing]
        (lows, highs), met = boxes_of(standing[name] for name in cleats), set[str]()
        for trim in trims if cleats else ():
            low, high = standing[trim].box
            close = np.all((lows < high + _NEAR) & (highs > low - _NEAR), axis=1)
            near = list(compress(cleats, close)) or cleats[:1]
            yield from ((trim, name) for name in near)
            met.update(near)
        yield from ((trims[0], name) for name in cleats if name not in met)


def _gripped(zones: Mapping[tuple[str, str], list[Zone]], standing: Mapping[str, Standing]) -> Iterator[Hook]:
    """Every trim with that of its cleats which it holds best, every cleat with what holds it best, mm; ``zones``: where
    each cleat lies in each trim."""
    of_trims, of_cleats = defaultdict[str, list[Hook]](list), defaultdict[str, list[Hook]](list)
    for (trim, cleat), found in zones.items():
        held = _grip(standing[trim], standing[cleat], found)
        of_trims[trim].append(held)
        of_cleats[cleat].append(held)
    yield from (max(held, key=_firmly) for held in of_trims.values())
    for cleat, each in of_cleats.items():
        held = max(each, key=_firmly)
        hemmed = held.have < HOLDS or _by_its_hem(standing[cleat], [
            zone for one in each for zone in zones[one.a, cleat]])
        yield replace(held, closed=hemmed)


def _firmly(held: Hook) -> tuple[float, float]:
    """How deep one thing is held in another; of equals the longer one."""
    return round(held.have, 3), held.long


def _grip(trim: Standing, cleat: Standing, zones: list[Zone]) -> Hook:
    """How far a trim holds a cleat: in the widest zone; 0 where there is none."""
    best = Hook(trim.name, cleat.name, 0.0, 0.0, spot(trim.parts[0][0]), how="cleat")
    for n, zone in zones:
        wide, long = _extent(zone)
        if wide > best.have:
            best = replace(best, have=wide, long=long, at=spot(cleat.parts[n][0]))
    return best


def _held(trim: Standing, cleat: Standing) -> Iterator[Zone]:
    """Where the parts of a cleat lie between two of a trim's, one before and one behind, at the same place."""
    for n, (lip, square) in enumerate(zip(cleat.parts, cleat.normals, strict=True)):
        shared = _on_lip(trim, lip, square, cleat.way)
        yield from ((n, overlay.intersection(*two)) for two in combinations(shared, 2))


def _on_lip(other: Standing, lip: Array, square: Array, way: Array) -> list[shapely.Geometry]:
    """Where the parts of another piece lie on a lip."""
    across = cross(square, way)
    flat = flat_on(lip, way, across)
    return [overlay.intersection(flat_on(part, way, across), flat)
            for part, normal in zip(other.parts, other.normals, strict=True)
            if abs(float(normal @ square)) > _PARALLEL and lies_on(part, lip[0], square)
            and not seen_apart(part, lip, way, across)]


def _by_its_hem(cleat: Standing, zones: list[Zone]) -> bool:
    """Whether a cleat that has a hem is held where it is doubled: not by its raw edge, which cuts what hooks on it."""
    doubled = {}
    for n, (lip, square) in enumerate(zip(cleat.parts, cleat.normals, strict=True)):
        sheets = _on_lip(cleat, lip, square, cleat.way)  # its own among them
        doubled[n] = overlay.union_all([overlay.intersection(*two) for two in combinations(sheets, 2)])
    hemmed = {n: shape for n, shape in doubled.items() if shape.area > 1.0}
    return not hemmed or any(overlay.intersection(hemmed[n], zone).area > 1.0 for n, zone in zones if n in hemmed)


def _wide(one: Array, other: Array, along: Array, across: Array) -> tuple[float, float]:
    """How wide two parts lie on each other, across and along, mm."""
    return _extent(overlay.intersection(flat_on(one, along, across), flat_on(other, along, across)))


def _extent(both: shapely.Geometry) -> tuple[float, float]:
    """How wide a shape is on the average over its length, and how long, mm."""
    if both.is_empty or both.area < 1.0:
        return 0.0, 0.0
    left, _, right, _ = both.bounds
    return float(both.area / (right - left)), float(right - left)


def _locks(pan: Standing, normal: Array, low: float) -> list[Array]:
    """The parts of a pan that lie parallel to its face above its floor."""
    return [part for part, square in zip(pan.parts, pan.normals, strict=True)
            if abs(float(square @ normal)) > _PARALLEL and float((part @ normal).min()) > low]
