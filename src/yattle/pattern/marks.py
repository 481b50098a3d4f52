"""Marks kept on the sheet: lines clipped to the true outline, screws their edge distance inside it."""

from __future__ import annotations

from typing import Any

import numpy as np

from yattle.pattern.pattern import Mark, Point

_SHORT = 0.5  # mm: what is left of a line that is shorter than this is not marked
_MOVED = 60.0  # mm: how far a screw may move along its row before it goes


def on_sheet(marks: tuple[Mark, ...], outline: tuple[Point, ...],
             holes: tuple[tuple[Point, ...], ...] = ()) -> tuple[Mark, ...]:
    """The marks as far as they lie on a sheet with that outline and those holes, mm. A line that leaves the sheet is
    cut where it does, its text kept on the longest part; a place off the sheet goes."""
    if not marks:
        return ()
    import shapely

    sheet = shapely.Polygon(outline, holes)
    shapely.prepare(sheet)
    lines = shapely.linestrings([(mark.a, mark.b) for mark in marks])
    kept: list[Mark] = []
    for mark, line, whole in zip(marks, lines, shapely.covers(sheet, lines).tolist(), strict=True):
        kept += [mark] if whole else [] if mark.a == mark.b else _clipped(mark, line, sheet)
    return tuple(kept)


def _clipped(mark: Mark, line: Any, sheet: Any) -> list[Mark]:
    """What is left of a line on the sheet, in its own sense, the longest part first."""
    import shapely

    parts = [part for part in shapely.get_parts(line.intersection(sheet)) if part.length >= _SHORT]
    parts.sort(key=lambda part: -part.length)
    way = np.subtract(mark.b, mark.a)
    made = []
    for n, part in enumerate(parts):
        ends = part.coords
        (ax, ay), (bx, by) = (ends[0], ends[-1]) if np.subtract(ends[-1], ends[0]) @ way > 0 else (ends[-1], ends[0])
        made.append(mark.but(a=(ax, ay), b=(bx, by), text=mark.text if n == 0 else ""))
    return made


def screws_inside(places: list[Point], outline: tuple[Point, ...], away: float) -> tuple[Point, ...]:
    """Places for screws at least ``away`` mm inside the outline: where they are wanted, else moved along the row (in
    x) by as little as will do, up to 60 mm and not onto another one; those without a place go. In mm."""
    import shapely

    if not places:
        return ()
    room = shapely.buffer(shapely.Polygon(outline), -(away - 1e-6), join_style="mitre", mitre_limit=50)
    kept: list[Point] = []
    for x, y in places:
        row = shapely.LineString([(x - _MOVED, y), (x + _MOVED, y)]).intersection(room)
        if row.is_empty:
            continue
        at = float(shapely.get_coordinates(shapely.shortest_line(row, shapely.Point(x, y)))[0, 0])
        if all(abs(at - px) > away or abs(y - py) > 1e-6 for px, py in kept):
            kept.append((at, y))
    return tuple(kept)


def widest_line(outline: tuple[Point, ...], y: float) -> tuple[float, float] | None:
    """From where to where a level line at height ``y`` lies on the sheet without a break, the longest stretch; ``None``
    where it does not meet it. In mm."""
    import shapely

    sheet = shapely.Polygon(outline)
    low, _, high, _ = sheet.bounds
    parts = shapely.get_parts(shapely.LineString([(low - 1, y), (high + 1, y)]).intersection(sheet))
    longest = max(parts, key=lambda part: part.length, default=None)
    if longest is None or longest.length < _SHORT:
        return None
    xs = sorted(x for x, _ in longest.coords)
    return xs[0], xs[-1]
