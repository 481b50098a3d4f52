"""Open: places of a face that nothing covers, as wide as a wasp or driven rain needs."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from yattle import overlay
from yattle.pattern.rings import UPRIGHT, area_vectors
from yattle.pattern.surface import Array

WIDE = 5.0  # mm: a slot that a wasp or driven rain gets in
_ABOVE, _UNDER = 160.0, 6.0  # mm over a face's plane, and under it, within which a sheet covers it
_AT_ONCE = 40  # sheets that are taken away together
_TOUCH = 0.6  # mm: sheets side by side are one


@dataclass(frozen=True)
class Covering:
    """A sheet: ``name`` of its piece or panel, corners (n, 3) in the roof's coordinates, mm."""

    name: str
    ring: Array


@dataclass(frozen=True)
class CoveredFace:
    """A face as it should be covered: its outline in plan, mm, without what stands on it, a point of its plane, mm, and
    its normal."""

    name: str
    shape: shapely.Geometry
    at: Array
    normal: Array

    def level(self, x: float, y: float) -> float:
        """How high its plane lies over a place in plan, mm."""
        off = self.normal[0] * (x - self.at[0]) + self.normal[1] * (y - self.at[1])
        return float(self.at[2] - off / self.normal[2])


@dataclass(frozen=True)
class OpenSlot:
    """Where a face lies open: ``wide`` mm at the most, in the roof's coordinates, and what is beside it; or how high it
    is open ``under`` a trim's edge."""

    face: str
    wide: float
    between: tuple[str, ...]
    at: tuple[float, float, float]
    under: str = ""


def slots(faces: Iterable[CoveredFace], sheets: list[Covering],
          within: shapely.Geometry | None = None) -> Iterator[OpenSlot]:
    """Every place of a face, over 5 mm wide, over which there is no sheet; ``within``: in this part of the plan, mm."""
    flats, names = _flat(sheets)
    tree = shapely.STRtree(flats)
    counts = np.array([len(sheet.ring) for sheet in sheets], dtype=np.int64)
    corners = np.concatenate([np.empty((0, 3)), *(sheet.ring for sheet in sheets)])
    for face in faces:
        shape = face.shape if within is None else overlay.intersection(face.shape, within.buffer(-_TOUCH))
        close = _covers(corners, counts, face)
        near = [n for n in tree.query(shape).tolist() if close[n]]
        left = _left(shape, [flats[n] for n in near])
        for part in shapely.get_parts(left.buffer(-WIDE / 2)):
            if not part.is_empty:
                yield _slot(face, part, [(names[n], flats[n]) for n in near])


def _left(shape: shapely.Geometry, flats: list[shapely.Geometry]) -> shapely.Geometry:
    """What none of the sheets covers: the largest first, so that few of the small ones are asked."""
    large = np.array(sorted(flats, key=lambda flat: -float(flat.area)), dtype=object)
    for start in range(0, len(large), _AT_ONCE):
        some = large[start:start + _AT_ONCE]
        near = some[shapely.dwithin(some, shape, _TOUCH)]
        shape = overlay.difference(shape, overlay.union_all(overlay.grown(near, _TOUCH)))
        if shape.is_empty:
            break
    return shape


def _flat(sheets: list[Covering]) -> tuple[list[shapely.Geometry], list[str]]:
    """Sheets in plan; upright ones as nothing."""
    squares = area_vectors([sheet.ring for sheet in sheets])
    sizes = np.linalg.norm(squares, axis=1)
    lies = (sizes >= 1.0) & (np.abs(squares[:, 2]) >= UPRIGHT * sizes)
    flats = np.full(len(sheets), shapely.Polygon(), dtype=object)
    flats[lies] = overlay.polygons([sheets[n].ring[:, :2] for n in np.nonzero(lies)[0].tolist()])
    bad = ~shapely.is_valid(flats)
    flats[bad] = shapely.buffer(flats[bad], 0.0)
    return flats.tolist(), [sheet.name for sheet in sheets]


def _covers(corners: Array, counts: NDArray[np.int64], face: CoveredFace) -> NDArray[np.bool_]:
    """Which sheets lie close over a face; their ``corners`` (n, 3) in mm one after the other, so many of each."""
    if not len(counts):
        return np.empty(0, dtype=bool)
    high, starts = (corners - face.at) @ face.normal, np.cumsum(counts) - counts
    return np.asarray((np.maximum.reduceat(high, starts) > -_UNDER) & (np.minimum.reduceat(high, starts) < _ABOVE))


def _slot(face: CoveredFace, part: shapely.Geometry, near: list[tuple[str, shapely.Geometry]]) -> OpenSlot:
    line = shapely.maximum_inscribed_circle(part, tolerance=1.0)
    middle, wide = shapely.get_point(line, 0), 2 * line.length + WIDE
    beside = sorted(near, key=lambda one: float(one[1].distance(middle)))[:2]
    x, y = float(middle.x), float(middle.y)
    return OpenSlot(face.name, float(wide), tuple(name for name, _ in beside), (x, y, face.level(x, y)))
