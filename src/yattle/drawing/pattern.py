"""A flat pattern: outline, fold lines with their letters, marks; whole, or with its middle left out."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace
from math import dist

from yattle.drawing.section import fold_letter
from yattle.drawing.shapes import Dim, Drawing, Label, Line, Point, Ring, Shape, Tag
from yattle.measure import UNITS, Unit, say_length
from yattle.pattern import Mark, MarkPoint, Pattern, PatternFold
from yattle.pattern.pattern import SCREW
from yattle.section import Profile

_RULINGS, _TABS = 16, 8  # more are not drawn, or not lettered each
_SHORT = 0.2  # of the length of the sheet: a mark that is shorter is shorter than its text
_ARM = 4.0  # mm: half of the cross at a screw
_CLOSE = 6.0  # mm: points nearer than that have one number for all
_JOINED = 0.1  # mm: a mark begins where the one before it ends
SMALL = 60.0  # mm: what is smaller and lies in a middle left out is not drawn: squeezed it would be a blot
_BREAK = 30.0  # mm of drawing that stand for the middle left out


def pattern_drawing(pattern: Pattern, profile: Profile | None, unit: Unit = UNITS["mm"], keep: float | None = None,
                    labels: bool = True, points: Sequence[MarkPoint] = (),
                    steps: Mapping[str, int] | None = None) -> Drawing:
    """``pattern`` paint face up, edge A on top; ``profile`` its section, of which the hems' lengths are told;
    ``points`` to be marked get their numbers; ``steps``: which fold is made as which, told at its letter.

    ``keep``: mm drawn true to scale at each end, the middle is left out between two break
    lines; ``None`` draws it whole.
    """
    shapes: list[Shape] = [Ring(pattern.outline, "cut")]
    shapes += [Ring(hole, "cut") for hole in pattern.holes]
    shapes += [_fold_line(fold) for fold in _told(pattern)]
    for mark in pattern.marks:
        shapes += _cross(mark.a) if mark.a == mark.b else [Line((mark.a, mark.b), "mark")]
    if labels:
        shapes += [replace(shape, text=f"{steps[shape.key]}. {shape.text}") if steps and isinstance(shape, Tag)
                   and shape.key in steps else shape for shape in _texts(pattern, profile, unit, keep)]
    shapes += _numbers(points)
    x0, y0, x1, y1 = pattern.box
    if keep is not None and x1 - x0 > 2 * keep + 2 * _BREAK:
        shapes = [_squeezed(shape, x0 + keep, x1 - keep) for shape in shapes if not _lost(shape, x0 + keep, x1 - keep)]
        shapes += _break_lines(x0 + keep, y0, y1)
    return Drawing(tuple(shapes), ("paint face up",))


def _numbers(points: Sequence[MarkPoint]) -> list[Shape]:
    """The numbers of points to be marked; neighbours closer than a number is drawn share one: ``4–8``."""
    close: list[list[MarkPoint]] = []
    for point in points:
        if close and dist(point.place, close[-1][0].place) < _CLOSE:
            close[-1].append(point)
        else:
            close.append([point])
    return [Label(few[0].place, str(few[0].number) + (f"–{few[-1].number}" if len(few) > 1 else ""), few[0].beside,
                  strong=True) for few in close]


def _cross(at: Point) -> list[Shape]:
    """A place to be drilled."""
    x, y = at
    return [Line(((x - _ARM, y), (x + _ARM, y)), "mark"), Line(((x, y - _ARM), (x, y + _ARM)), "mark")]


def _told(pattern: Pattern) -> list[PatternFold]:
    """The folds that are drawn: of many rulings every so many."""
    rulings = [fold for fold in pattern.folds if fold.kind == "roll"]
    return [fold for fold in pattern.folds if fold.kind != "roll"] + rulings[::max(1, len(rulings) // _RULINGS)]


def _lettered(pattern: Pattern) -> list[PatternFold]:
    """The folds that get a letter: no rulings, of a row of many tabs the first, the middle and the last."""
    folds = [fold for fold in pattern.folds if fold.kind != "roll"]
    tabs = [fold for fold in folds if fold.by == "tongs"]
    told = {tabs[n].id for n in (0, len(tabs) // 2, -1)} if len(tabs) > _TABS else {fold.id for fold in tabs}
    return [fold for fold in folds if fold.by != "tongs" or fold.id in told]


def _fold_line(fold: PatternFold) -> Line:
    if fold.kind == "roll":
        return Line((fold.a, fold.b), "mark")
    return Line((fold.a, fold.b), "fold-paint" if fold.turn > 0 else "fold-back", fold.id)


def _texts(pattern: Pattern, profile: Profile | None, unit: Unit, keep: float | None) -> list[Shape]:
    x0, y0, x1, y1 = pattern.box
    reach = min((x1 - x0) / 2, keep) if keep is not None else (x1 - x0) / 2
    texts: list[Shape] = [Dim((x0, y1), (x1, y1), say_length(x1 - x0, unit), (0, 1)),
                          Dim((x1, y0), (x1, y1), say_length(y1 - y0, unit), (1, 0))]
    tagged: list[Point] = []
    for n, fold in enumerate(_lettered(pattern)):
        middle = ((fold.a[0] + fold.b[0]) / 2, (fold.a[1] + fold.b[1]) / 2)
        upright = abs(fold.a[0] - fold.b[0]) < abs(fold.a[1] - fold.b[1])
        if profile is None:
            size = max(x1 - x0, y1 - y0)
            aside = 0.1 * size * (1.0 if middle[0] < (x0 + x1) / 2 else -1.0) if upright else 0.0  # pushed off it
            middle = _clear_of(fold, aside, tagged, size)
            tagged.append((middle[0] + aside, middle[1]))
        if not upright and profile is not None:  # by turns left and right, so that close letters stay apart
            along = reach * (0.34 + 0.3 * (n // 2 % 2))
            sides = (x0 + along, x1 - along)
            low, high = sorted((fold.a[0], fold.b[0]))
            middle = (next((x for x in (sides if n % 2 == 0 else sides[::-1]) if low < x < high), middle[0]), middle[1])
        push = ((1.0 if middle[0] < (x0 + x1) / 2 else -1.0), 0.0) if upright else (0.0, 0.0)
        texts.append(Tag(middle, fold_letter(fold.id, fold.turn, profile, unit), push, fold.id, fold.by == "tongs"))
    for mark in _worded(pattern):
        inward = (1.0 if mark.a[0] < (x0 + x1) / 2 else -1.0, 0.0)
        at = (mark.a[0] + mark.b[0]) / 2, mark.a[1] * 0.8 + mark.b[1] * 0.2
        if abs(mark.b[0] - mark.a[0]) > 2 * abs(mark.b[1] - mark.a[1]):  # beneath or above a level line, not on it
            beneath = 1.0 if mark.a[1] < (y0 + y1) / 2 else -1.0
            near = min(mark.a, mark.b) if inward[0] > 0 else max(mark.a, mark.b)
            short = abs(mark.b[0] - mark.a[0]) < _SHORT * (x1 - x0)  # its text runs inward
            inward, at = (inward[0] if short else 0.0, beneath), near if short else at
        texts.append(Label(at, mark.text, inward))
    return texts


def _worded(pattern: Pattern) -> Iterator[Mark]:
    """The marks whose text is written: of a line that goes on round a corner its first stretch."""
    for before, mark in zip((None, *pattern.marks), pattern.marks, strict=False):
        goes_on = before is not None and before.text == mark.text and dist(before.b, mark.a) < _JOINED
        if mark.text and mark.text != SCREW and not goes_on:
            yield mark


def _clear_of(fold: PatternFold, aside: float, tagged: list[Point], size: float) -> Point:
    """A place on a fold for its letter, which is drawn ``aside`` of it: its middle, or where that would cover another
    letter the place nearest to it that does not (letters take about a seventh of the piece's ``size``, in mm,
    across)."""
    def at(share: float) -> Point:
        return fold.a[0] + share * (fold.b[0] - fold.a[0]), fold.a[1] + share * (fold.b[1] - fold.a[1])

    def room(place: Point) -> float:
        return min((max(abs(place[0] + aside - x) / 1.6, abs(place[1] - y)) for x, y in tagged), default=size)
    places = [at(share) for share in (0.5, 0.38, 0.62, 0.26, 0.74, 0.15, 0.85)]
    return next((place for place in places if room(place) > 0.09 * size), max(places, key=room))


def _lost(shape: Shape, left: float, right: float) -> bool:
    """Whether a shape is so small, a vent's hole or a screw's cross, that it goes with the middle that is left out."""
    if not isinstance(shape, Line | Ring) or shape.role.startswith("fold"):
        return False
    xs = [x for x, _ in shape.points]
    return left < max(xs) and min(xs) < right and max(xs) - min(xs) < SMALL


def _squeezed(shape: Shape, left: float, right: float) -> Shape:
    """The shape with x between ``left`` and ``right`` squeezed to the width of the break."""
    def move(point: Point) -> Point:
        x = point[0]
        if x > right:
            x += left + _BREAK - right
        elif x > left:
            x = left + (x - left) / (right - left) * _BREAK
        return (x, point[1])

    if isinstance(shape, Line | Ring):
        return replace(shape, points=tuple(move(p) for p in shape.points))
    if isinstance(shape, Dim):
        return replace(shape, a=move(shape.a), b=move(shape.b))
    return replace(shape, at=move(shape.at))


def _break_lines(left: float, low: float, high: float) -> list[Shape]:
    """Two jagged lines with nothing between them, over the whole height and a little beyond."""
    def jag(x: float) -> tuple[Point, ...]:
        middle, step = (low + high) / 2, (high - low) * 0.06
        return ((x, low - 8), (x, middle - step), (x - 7, middle - step / 3), (x + 7, middle + step / 3),
                (x, middle + step), (x, high + 8))

    a, b = jag(left + _BREAK * 0.3), jag(left + _BREAK * 0.7)
    return [Ring((*a, *reversed(b)), "break"), Line(a, "trim"), Line(b, "trim")]
