"""A drawing with more letters than one page takes, in parts: each as large as the page, all letters on one of them."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from itertools import pairwise

import shapely

from yattle import overlay
from yattle.drawing.shapes import Dim, Drawing, Line, Point, Ring, Shape, Tag

Box = tuple[float, float, float, float]


def tiles(drawing: Drawing, most: int) -> list[Drawing]:
    """The drawing cut into parts with at most so many letters each, from left to right and upward; itself alone where
    it has no more. What is cut through is on both parts, a letter and a text on the one that it stands on."""
    places = _places(drawing)
    if len(places) <= most:
        return [drawing]
    x0, y0, x1, y1 = drawing.box
    return [_part(drawing, box) for box in _boxes((x0 - 1, y0 - 1, x1 + 1, y1 + 1), places, most)]


def overview(drawing: Drawing) -> Drawing:
    """The same with letters that may be left out where there is no room for them."""
    return replace(drawing, shapes=tuple(replace(shape, spare=True) if isinstance(shape, Tag) else shape
                                         for shape in drawing.shapes))


def _places(drawing: Drawing) -> list[Point]:
    return [shape.at for shape in drawing.shapes if isinstance(shape, Tag)]


def _boxes(box: Box, places: list[Point], most: int) -> list[Box]:
    """Halved across the longer side, between the letters in the middle, until no part has too many; where they all
    stand in one place it cannot be parted further."""
    x0, y0, x1, y1 = box
    k = 0 if x1 - x0 >= y1 - y0 else 1
    along = sorted(place[k] for place in places)
    gaps = [(a + b) / 2 for a, b in pairwise(along) if b > a]
    if len(places) <= most or not gaps:
        return [box]
    cut = min(gaps, key=lambda gap: abs(gap - along[len(along) // 2]))
    low, high = ((x0, y0, cut, y1), (cut, y0, x1, y1)) if k == 0 else ((x0, y0, x1, cut), (x0, cut, x1, y1))
    return [*_boxes(low, [p for p in places if p[k] < cut], most),
            *_boxes(high, [p for p in places if p[k] >= cut], most)]


def _part(drawing: Drawing, box: Box) -> Drawing:
    area = shapely.box(*box)
    shapes: list[Shape] = []
    for shape in drawing.shapes:
        if isinstance(shape, Ring | Line):
            shapes += _clipped(shape, area)
        elif not isinstance(shape, Dim) and box[0] <= shape.at[0] < box[2] and box[1] <= shape.at[1] < box[3]:
            shapes.append(shape)
    return Drawing(tuple(shapes), drawing.notes)


def _clipped(shape: Ring | Line, area: shapely.Polygon) -> Iterator[Shape]:
    whole = shapely.Polygon(shape.points) if isinstance(shape, Ring) else shapely.LineString(shape.points)
    for part in getattr(both := overlay.intersection(shapely.make_valid(whole), area), "geoms", [both]):
        if isinstance(part, shapely.Polygon) and not part.is_empty:
            yield replace(shape, points=tuple(part.exterior.coords)[:-1])
        elif isinstance(part, shapely.LineString) and isinstance(shape, Line) and not part.is_empty:
            yield replace(shape, points=tuple(part.coords))
