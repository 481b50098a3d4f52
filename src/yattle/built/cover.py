"""Cover: how far the pieces of a run lie over each other, measured on the pieces as they stand."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass

import numpy as np
import shapely

from yattle import overlay
from yattle.built.standing import Spot, Standing, spot
from yattle.pattern.rings import cross
from yattle.pattern.surface import Array

LONG = 3.0  # mm more than wanted that are no fault: what marking out and setting scatter together
CLOSED = 0.7  # of the upper piece's sheet in a lap: hems are cut back there, so that it is not all of it
HIDDEN = 0.5  # of a narrow strip's sheet, where its hem is a good part of it
SHORT = 1.0  # mm that a lap may be shorter than wanted: what marking out scatters
_APART = 3.0  # mm: sheets farther apart are not laid on each other; two laps in one place are less
_LEAN = 0.9995  # cosine: parts that are not parallel do not lie on each other


@dataclass(frozen=True)
class WantedLap:
    """Piece ``over`` is to lie over piece ``under`` by ``want`` mm, by their names, with ``closed`` of its sheet there,
    from 0 to 1."""

    over: str
    under: str
    want: float
    closed: float = CLOSED


@dataclass(frozen=True)
class Cover:
    """A lap as it is: ``have`` mm of the ``want`` ones; ``closed``: what part of the upper piece's sheet in the lap
    lies on the lower one, from 0 to 1, of the ``least`` wanted; ``at`` its middle; ``free``: it may go farther."""

    over: str
    under: str
    have: float
    want: float
    closed: float
    at: Spot
    least: float = CLOSED
    free: bool = False

    @property
    def ok(self) -> bool:
        return self.have >= self.want - SHORT and self.closed >= self.least

    @property
    def long(self) -> bool:
        """Whether it laps by more than it should, so that a piece is too long or in the wrong place."""
        return not self.free and self.have > self.want + LONG


def covers(standing: Mapping[str, Standing], laps: Iterable[WantedLap]) -> Iterator[Cover]:
    """Every lap of those whose pieces stand, mm."""
    return (cover(standing[lap.over], standing[lap.under], lap.want, lap.closed) for lap in laps
            if lap.over in standing and lap.under in standing)


def cover(over: Standing, under: Standing, want: float, least: float = CLOSED) -> Cover:
    """How far two pieces that follow each other lie on each other along their run: as far as the largest stretch that
    their parts share goes; 0 where none of them lie on each other. In mm."""
    way = _way(over, under)
    far = float((under.middle - over.middle) @ way)
    way = way if far > 0 else -way  # from the upper piece to the lower one
    end = max(float((part @ way).max()) for part in over.parts)
    shared = [_shared(upper, lower, way, normal) for upper, square in zip(over.parts, over.normals, strict=True)
              for lower, normal in zip(under.parts, under.normals, strict=True)
              if abs(float(square @ normal)) >= _LEAN and lies_on(upper, lower[0], normal)]
    best = max(shared, key=lambda one: one.area, default=None)
    sheet = sum(_within(part, square, way, end - want) for part, square in zip(over.parts, over.normals, strict=True))
    at = best.at if best is not None else (over.middle + under.middle) / 2
    closed = min(1.0, sum(one.area for one in shared) / sheet) if sheet > 0 else 0.0
    return Cover(over.name, under.name, best.long if best is not None else 0.0, want, closed, spot(at), least)


@dataclass(frozen=True)
class _SharedPart:
    """What two parallel parts share: mm², mm along the run, its middle."""

    area: float
    long: float
    at: Array


def _way(over: Standing, under: Standing) -> Array:
    """Along both pieces, as the longer one runs."""
    return max((over, under), key=lambda piece: float(np.ptp(np.concatenate(piece.parts) @ piece.way))).way


def _axes(way: Array, normal: Array) -> tuple[Array, Array] | None:
    """In a part's plane, along the run and across it; ``None`` of one that stands across the run."""
    along = way - normal * float(way @ normal)
    size = float(np.linalg.norm(along))
    return None if size < 0.1 else (along / size, cross(normal, along / size))


def lies_on(upper: Array, on: Array, normal: Array) -> bool:
    """Whether a part lies on the plane through ``on`` (mm), square to ``normal``, by a few sheets."""
    return bool(np.abs((upper - on) @ normal).max() <= _APART)


def flat_on(ring: Array, along: Array, across: Array) -> shapely.Polygon:
    """A ring in mm seen on the plane of two axes, to a millionth: of sheets that lie on each other but for rounding
    GEOS can find an empty intersection."""
    flat = shapely.Polygon(np.round(np.column_stack((ring @ along, ring @ across)), 6))
    return flat if flat.is_valid else flat.buffer(0)


def seen_apart(one: Array, other: Array, along: Array, across: Array) -> bool:
    """Whether two rings, mm, lie beside each other as seen on the plane of two axes: by their boxes, so as to draw no
    outlines of what shares nothing."""
    axes = np.stack((along, across), axis=1)
    a, b = one @ axes, other @ axes
    return bool((a.max(axis=0) < b.min(axis=0)).any() or (b.max(axis=0) < a.min(axis=0)).any())


def _shared(upper: Array, lower: Array, way: Array, normal: Array) -> _SharedPart:
    axes = _axes(way, normal)
    if axes is None or seen_apart(upper, lower, *axes):
        return _SharedPart(0.0, 0.0, lower[0])
    along, across = axes
    both = overlay.intersection(flat_on(upper, along, across), flat_on(lower, along, across))
    if both.is_empty:
        return _SharedPart(0.0, 0.0, lower[0])
    low, _, high, _ = both.bounds
    at = along * both.centroid.x + across * both.centroid.y + normal * float(lower[0] @ normal)
    return _SharedPart(float(both.area), float(high - low), at)


def _within(part: Array, normal: Array, way: Array, begin: float) -> float:
    """How much of a part lies beyond ``begin`` along the run, mm²."""
    axes = _axes(way, normal)
    if axes is None:
        return 0.0
    flat = flat_on(part, *axes)
    low, bottom, high, top = flat.bounds
    return float(overlay.intersection(flat, shapely.box(max(begin, low), bottom, max(high, begin), top)).area)
