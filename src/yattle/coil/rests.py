"""What is left of each stock piece once parts were cut out by their true shapes: outlines worth keeping."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator
from typing import Any

import shapely

from yattle import overlay
from yattle.bounds import Ring
from yattle.coil.answer import NestAnswer, Offcut, Placement, Used
from yattle.coil.job import NestJob, Part
from yattle.coil.names import pieces_of
from yattle.coil.sizes import box_of, turned

_CLEAR = 0.1  # mm between a part and what is kept beside it, if no gap is asked for
_FINE = 0.5  # mm: corners of a rest that matter less are left out
_HAIR = 1e-6  # mm: what floats leave
_LOOKED = 12  # places along each side where a rectangle is tried


def placed_ring(place: Placement, part: Part) -> list[tuple[float, float]]:
    """A part's outline as it lies on its stock piece, mm."""
    ring = turned(tuple((x, -y) if place.mirrored else (x, y) for x, y in part.outline), place.turn)
    x0, y0, _, _ = box_of(ring)
    return [(x - x0 + place.x, y - y0 + place.y) for x, y in ring]


def rests(job: NestJob, answer: NestAnswer) -> tuple[Offcut, ...]:
    """Every rest of used stock at least as large as what the rules keep; none has a hole: where parts were cut out of
    the middle it is parted beside them."""
    parts = {part.id: part for part in job.parts}
    on: dict[str, list[Any]] = defaultdict(list)
    clear = max(job.rules.gap, _CLEAR)
    for place in answer.placements:
        on[place.stock].append(shapely.Polygon(placed_ring(place, parts[place.part])).buffer(clear, join_style="mitre"))
    least = sorted(job.rules.min_offcut)
    return tuple(Offcut(used.stock, ring) for used in answer.used
                 for ring in _kept(_metal(job, used), on[used.stock], least))


def _metal(job: NestJob, used: Used) -> Any:
    """What of a stock piece was taken: of a coil the length that was cut off."""
    stock = pieces_of(job.stock)[used.stock]
    if stock.outline is not None:
        return shapely.Polygon(stock.outline)
    x0, y0, x1, y1 = stock.box
    return shapely.box(x0, y0, min(x1, used.length) if stock.kind == "coil" else x1, y1)


def _kept(metal: Any, cut: list[Any], least: list[float]) -> Iterator[Ring]:
    left = overlay.difference(metal, overlay.union_all(cut)) if cut else metal
    for part in shapely.get_parts(left):
        for whole in _without_holes(part):
            fine = whole.buffer(-_FINE / 2).simplify(_FINE / 4)  # drawn in, so that no corner left out reaches a part
            for piece in shapely.get_parts(fine):
                if piece.geom_type == "Polygon" and not (piece.is_empty or piece.interiors) and _covers(piece, least):
                    yield tuple((float(x), float(y)) for x, y in shapely.orient_polygons(piece).exterior.coords[:-1])


def _without_holes(part: Any) -> Iterator[Any]:
    """A polygon parted upright beside its holes until no part has one."""
    if part.geom_type != "Polygon" or part.is_empty:
        return
    if not part.interiors:
        yield part
        return
    x0, y0, x1, y1 = part.bounds
    at = max(shapely.Polygon(hole).bounds[2] for hole in part.interiors)
    middle = shapely.Polygon(part.interiors[0]).centroid.x
    for left, right in ((x0, min(middle, at)), (min(middle, at), at), (at, x1)):
        for piece in shapely.get_parts(overlay.intersection(part, shapely.box(left, y0, right, y1))):
            yield from _without_holes(piece)


def is_kept(outline: Ring, least: tuple[float, float]) -> bool:
    """Whether a rectangle of the ``least`` sides kept, mm, lies in an outline, either way round."""
    return _covers(shapely.Polygon(outline), sorted(least))


def _covers(piece: Any, least: list[float]) -> bool:
    short, long = (max(side - _HAIR, 0.0) for side in least)
    x0, y0, x1, y1 = piece.bounds
    if piece.area <= 0 or min(x1 - x0, y1 - y0) < short or max(x1 - x0, y1 - y0) < long:
        return False
    shapely.prepare(piece)
    xs, ys = (sorted({round(float(c[k]), 3) for c in piece.exterior.coords}) for k in (0, 1))
    for wide, high in ((long, short), (short, long)):
        for x in _some(xs):
            for y in _some(ys):
                for left, low in ((x, y), (x - wide, y), (x, y - high), (x - wide, y - high)):
                    if left >= x0 - _HAIR and low >= y0 - _HAIR and piece.covers(
                            shapely.box(left, low, left + wide, low + high)):
                        return True
    return False


def _some(places: list[float]) -> list[float]:
    step = max(1, len(places) // _LOOKED)
    return [*places[::step], places[-1]]
