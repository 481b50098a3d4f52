"""Cover: whether what belongs under a trim lies under it: zeds under their cap or flashing."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.affinity import translate

from yattle.built.standing import Spot, Standing, spot

_BARE = 2.0  # mm over a strip's whole length that may look out: what setting scatters
_GRID = 0.02  # mm
_PAST = 90.0  # mm along it that a strip may go on past its trim, into a corner
_UPRIGHT = 0.05  # upward part of a unit normal under which a part is seen from above as a line


@dataclass(frozen=True)
class Hidden:
    """A strip under what covers it: ``bare`` mm of its width look out on the average, at a place in mm."""

    piece: str
    over: str
    bare: float
    at: Spot

    @property
    def ok(self) -> bool:
        return self.bare <= _BARE


def hidden(strips: list[Standing], trims: list[Standing], over: str) -> Iterator[Hidden]:
    """How much of each strip under one trim, seen from above, no piece of the trim covers, in mm of its width; where
    the trim ends is asked by itself."""
    if not strips or not trims:
        return
    way, whole = strips[0].way[:2], shapely.union_all([_plan(trim) for trim in trims])
    cover = shapely.union_all([translate(whole, *(way * far)) for far in np.linspace(-_PAST, _PAST, 7)])
    for strip in strips:
        left = shapely.difference(_plan(strip), cover)
        long = float(np.ptp(np.concatenate(strip.parts) @ strip.way))
        at = strip.middle
        if not left.is_empty:
            x, y = left.representative_point().coords[0]
            at = np.array([x, y, at[2]])
        yield Hidden(strip.name, over, float(left.area) / max(long, 1.0), spot(at))


def _plan(piece: Standing) -> shapely.Geometry:
    parts = [shapely.Polygon(part[:, :2]) for part, square in zip(piece.parts, piece.normals, strict=True)
             if abs(float(square[2])) > _UPRIGHT]
    return shapely.union_all([part.buffer(_GRID) for part in parts])  # of parts that share an edge one would be lost
