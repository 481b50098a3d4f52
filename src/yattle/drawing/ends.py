"""One end of a piece, large and by itself: its cut, the waste hatched, tabs and folds with their letters, numbered
points; the rest of the piece is left out behind a broken line."""

from __future__ import annotations

from collections.abc import Sequence

import shapely

from yattle import overlay
from yattle.drawing.section import fold_letter
from yattle.drawing.shapes import Drawing, Label, Line, Point, Ring, Shape, Tag
from yattle.measure import UNITS, Unit, say_length
from yattle.pattern.piece_ends import EndPoint, PieceEnd, end_points
from yattle.section import Bend, Profile

_BEYOND = 0.5  # of the girth that is drawn beyond the last corner: the folds' letters stand there
_LETTERS = (0.37 / 0.5, 0.13 / 0.5)  # of what is drawn beyond, from the broken edge: close letters by turns
_HATCH = 16  # lines over the girth


def end_drawing(end: PieceEnd, bends: Sequence[Bend], girth: float, profile: Profile, unit: Unit = UNITS["mm"],
                points: Sequence[EndPoint] | None = None, beyond: float | None = None) -> Drawing:
    """An end as it lies, paint face up, edge A on top: a left one with its cut on the left. ``bends`` are the folds of
    its section, ``girth`` mm wide; ``beyond`` mm are drawn past the last corner, else half the girth. Places in mm, y
    up, the corner of the blank at edge A at the origin."""
    beyond = _BEYOND * girth if beyond is None else beyond
    reach = max([end.depth, *(x for _, (x, _) in end.marks if x < 1.5 * girth)]) + beyond
    sign = 1.0 if end.side == "left" else -1.0

    def at(p: Point) -> Point:
        return sign * min(p[0], reach), -p[1]
    ring = tuple(at(p) for p in (*end.corners, (reach, end.corners[-1][1]), (reach, end.corners[0][1])))
    sheet = shapely.Polygon(ring)
    shapes: list[Shape] = _waste(sheet, sign * reach, girth)
    shapes += [Line(ring[:len(end.corners)], "cut"), Line((ring[0], ring[-1]), "cut"),
               Line((ring[len(end.corners) - 1], ring[len(end.corners)]), "cut"), _broken(sign * reach, girth)]
    shapes += _long_folds(end, bends, sheet, sign, reach, profile, beyond, unit)
    for fold in end.folds:
        a, b = at(fold.a), at(fold.b)
        shapes.append(Line((a, b), "fold-paint" if fold.turn > 0 else "fold-back", fold.id))
        shapes.append(Tag(((a[0] + b[0]) / 2, (a[1] + b[1]) / 2), fold_letter(fold.id, fold.turn, None, unit),
                          (-sign, 0.0), fold.id, True))
    shapes += _marks(end, at, sheet)
    for point in points if points is not None else end_points(end):
        if point.place[0] <= reach:
            shapes.append(Label(at(point.place), str(point.number), (-sign * 0.8, 0.6 if point.place[1] < girth / 2
                                                                     else -0.6), strong=True))
    return Drawing(tuple(shapes), ("paint face up",))


def marked_end(end: PieceEnd, bends: Sequence[Bend], girth: float, profile: Profile,
               unit: Unit = UNITS["mm"]) -> Drawing:
    """An end with its numbers at its two tapes: the girth tape's marks beside it and, along the length beneath, how far
    in from the end of the blank its points lie. Places in mm."""
    drawing = end_drawing(end, bends, girth, profile, unit)
    sign, points = 1.0 if end.side == "left" else -1.0, end_points(end)
    shapes: list[Shape] = list(drawing.shapes)
    reach, low = max(abs(x) for x in (drawing.box[0], drawing.box[2])), -girth * 1.1
    shapes.append(Ring(tuple((sign * x, y) for x, y in ((0, low), (reach, low), (reach, low - girth * 0.07),
                                                        (0, low - girth * 0.07))), "cut"))
    for far in sorted({round(p.place[0], 1) for p in points if p.place[0] <= reach}):
        shapes += [Line(((sign * far, low), (sign * far, low - girth * 0.07)), "mark"),
                   Label((sign * far, low - girth * 0.07), say_length(far, unit), (0.0, -1.0))]
    for down in sorted({round(p.place[1], 1) for p in points}):
        shapes.append(Label((-sign * 0.02 * girth, -down), say_length(down, unit), (-sign * 1.6, 0.0)))
    return Drawing(tuple(shapes), drawing.notes)


def _waste(sheet: shapely.Polygon, reach: float, girth: float) -> list[Shape]:
    """What is cut away of the blank, hatched."""
    low, high = min(0.0, reach), max(0.0, reach)
    waste = shapely.box(low, -girth, high, 0.0).difference(sheet.buffer(1e-6))
    step, lines = girth / _HATCH, []
    for n in range(int((high - low + girth) / step) + 1):
        x = low - girth + n * step
        lines.append(shapely.LineString([(x, -girth), (x + girth, 0.0)]))
    cut = overlay.intersection(shapely.multilinestrings(lines), waste)
    return [Line(tuple((x, y) for x, y in line.coords), "hatch") for line in shapely.get_parts(cut)
            if line.geom_type == "LineString" and line.length > 0.5]


def _broken(x: float, girth: float) -> Line:
    """Where the drawing ends and the piece goes on."""
    jag = girth * 0.03
    return Line(((x, 0.0), (x, -girth * 0.44), (x - jag, -girth * 0.48), (x + jag, -girth * 0.52), (x, -girth * 0.56),
                 (x, -girth)), "trim")


def _long_folds(end: PieceEnd, bends: Sequence[Bend], sheet: shapely.Polygon, sign: float, reach: float,
                profile: Profile, beyond: float, unit: Unit) -> list[Shape]:
    """The section's folds as far as they run, with their letters toward the middle of the piece."""
    stops, shapes = dict(end.stops), list[Shape]()
    for n, bend in enumerate(bends):
        if not bend.turn:
            continue
        a, b = (sign * stops.get(bend.id, (0.0, 0.0))[0], -bend.mark), (sign * reach, -bend.mark)
        line = shapely.LineString([a, b]).intersection(sheet.buffer(0.01))
        for part in shapely.get_parts(line):
            if part.geom_type == "LineString" and part.length > 0.5:
                shapes.append(Line(tuple((x, y) for x, y in part.coords),
                                   "fold-paint" if bend.turn > 0 else "fold-back", bend.id))
        shapes.append(Tag((sign * (reach - _LETTERS[n % 2] * beyond), -bend.mark),
                          fold_letter(bend.id, bend.turn, profile, unit), (0.0, 0.0), bend.id))
    return shapes


def _marks(end: PieceEnd, at, sheet: shapely.Polygon) -> list[Shape]:  # type: ignore[no-untyped-def]
    """Lines that are only marked, as far as both their ends are here, and screws."""
    shapes: list[Shape] = []
    places: dict[str, list[Point]] = {}
    for text, place in end.marks:
        places.setdefault(text, []).append(place)
    for text, ends in places.items():
        for a, b in zip(ends[::2], ends[1::2], strict=False):
            shapes.append(Line((at(a), at(b)), "mark"))
            if text:
                shapes.append(Label(((at(a)[0] + at(b)[0]) / 2, (at(a)[1] + at(b)[1]) / 2), text, (0.6, 0.0)))
    for x, y in map(at, end.holes):
        shapes += [Line(((x - 4, y), (x + 4, y)), "mark"), Line(((x, y - 4), (x, y + 4)), "mark")]
    return shapes
