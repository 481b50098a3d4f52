"""The panels below and above what stands on a roof, with their seams: drops come from those and go on over these."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass

import shapely

from yattle import overlay
from yattle.details.feet import UP
from yattle.pattern.body import Body
from yattle.pattern.surface import Face, Surface

_ON = 300.0  # mm of panel looked at beyond the flashings
_LESS = 15.0  # mm that an upper flange goes less far out than the sides' ones
_RISES = 5.0  # mm over the roof from which a part stands in the panels' way
_LIES = 0.02  # upward part of a face's normal below which nothing lies on it

Ring = list[tuple[float, float]]
Height = Callable[[float, float], float]


@dataclass(frozen=True)
class Flashed:
    """What stands there: ``across`` and ``along`` its sizes; how far its flanges go ``aside``, ``down`` and ``up``; how
    far the panels end ``below`` and ``above`` it; where ``seams`` run in, from its middle, each ``seam_width`` wide;
    ``capped``: they stand on under a cap as far as it. In mm, in the frame of its pieces: x across, y upslope."""

    across: float
    along: float
    aside: float
    down: float
    up: float
    below: float
    above: float
    seams: tuple[float, ...]
    seam_width: float
    capped: bool


def panels_round(what: Flashed, surfaces: Iterable[Surface], over: Height) -> tuple[Surface, Surface, list[Ring]]:
    """The panels below, those above, and the outlines in plan of the seams or ribs that stand between its sides. Those
    above end behind it and behind whatever of its pieces rises from the roof, a cricket or a diverter; ``over``: the
    roof's height, mm."""
    a, b = what.across / 2, what.along / 2
    rising = [shapely.Polygon([p[:2] for p in face.corners]).buffer(0) for surface in surfaces
              for face in surface.faces if _rises(face, b, over)]
    wide = a + what.aside - _LESS
    low, high = -b - what.down - _ON, max([b + what.up, *(part.bounds[3] for part in rising)]) + _ON
    below = shapely.box(-wide, low, wide, -b - what.below)
    above = shapely.box(-wide, b + what.above, wide, high)
    if rising:
        held = overlay.union_all(rising).buffer(what.above, join_style="mitre", mitre_limit=2.0)
        above = above.difference(held)
    ends = -b - (0.0 if what.capped else what.down)
    half = what.seam_width / 2
    seams = [shapely.box(x - half, low, x + half, ends) for x in what.seams]
    seams += [overlay.intersection(above, shapely.box(x - half, b, x + half, high)) for x in what.seams]
    return _sheet("panels below", below, over), _sheet("panels above", above, over), [
        list(part.exterior.coords[:-1]) for seam in seams for part in shapely.get_parts(seam) if part.area > 1.0]


def _rises(face: Face, back: float, over: Height) -> bool:
    """Whether a part that drops lie on stands up from the roof behind what is flashed."""
    return (face.normal[2] > _LIES and max(p[1] for p in face.corners) > back + 1.0
            and max(p[2] - over(p[0], p[1]) for p in face.corners) > _RISES)


def _sheet(name: str, shape: shapely.Geometry, over: Height) -> Surface:
    """The largest part of a shape as a sheet on the roof."""
    largest = max(shapely.get_parts(shape), key=lambda part: float(part.area))
    body = Body(name)
    places = [(float(x), float(y)) for x, y in shapely.orient_polygons(largest).exterior.coords[:-1]]
    body.add("pan", [(x, y, float(over(x, y))) for x, y in places], UP)
    return body.surface()
