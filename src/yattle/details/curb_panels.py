"""The panels below and above a curb with their seams standing, as far as drops come from them and go on over them."""

from __future__ import annotations

from typing import TYPE_CHECKING

import shapely

from yattle.details.feet import UP
from yattle.pattern.body import Body
from yattle.pattern.surface import Surface

if TYPE_CHECKING:
    from yattle.details.curb import Curb

_ON = 300.0  # mm of panel looked at beyond the flashings
_UNDER_SEAM = 15.0  # mm that the upper flange goes less far out than the sides' ones

Ring = list[tuple[float, float]]


def around(curb: Curb) -> tuple[Surface, Surface, list[Ring]]:
    """The panels below a curb, those above it, and the outlines of the seams or ribs that stand between its sides, in
    its own plane, mm: x across from its middle, y up the slope. Those above end behind it and behind its diverter."""
    a, b = curb.across / 2, curb.along / 2
    wide, low, high = a + curb.side - _UNDER_SEAM, b + curb.lower + _ON, b + curb.upper + curb.diverter_reach + _ON
    below = shapely.box(-wide, -low, wide, -b - curb.below_gap)
    above = shapely.box(-wide, b + curb.above_gap, wide, high)
    if curb.diverter and curb.pitch > 0:
        saddle = shapely.Polygon([(-a, b), (a, b), (0.0, b + curb.diverter_reach)])
        above = above.difference(saddle.buffer(curb.above_gap, join_style="mitre", mitre_limit=2.0))
    seams = [seam for at in curb.seams for half in (curb.seam_width / 2,) for seam in (
        shapely.box(at - a - half, -low, at - a + half, -b - (0.0 if curb.caps_past else curb.lower)),
        shapely.intersection(above, shapely.box(at - a - half, b, at - a + half, high)))]
    return _sheet("panels below", below), _sheet("panels above", above), [
        list(part.exterior.coords[:-1]) for seam in seams for part in shapely.get_parts(seam) if part.area > 1.0]


def _sheet(name: str, shape: shapely.Geometry) -> Surface:
    """The largest part of a shape as a flat sheet."""
    largest = max(shapely.get_parts(shape), key=lambda part: float(part.area))
    body = Body(name)
    body.add("pan", [(float(x), float(y), 0.0) for x, y in shapely.orient_polygons(largest).exterior.coords[:-1]], UP)
    return body.surface()
