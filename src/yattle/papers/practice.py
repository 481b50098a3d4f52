"""Paper practice: a pattern to be cut out of paper and folded, at 1:1 over as many sheets as it takes or on one,
with the order of its folds, and templates to lay on the finished piece."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from yattle.drawing import Drawing, fold_letter, pattern_drawing
from yattle.drawing.section import section_drawing
from yattle.drawing.shapes import Line, Ring
from yattle.measure import UNITS, Unit, say_length
from yattle.papers.marking import marking_table
from yattle.papers.sheet import MM, Paper
from yattle.pattern import Pattern, marking_points
from yattle.pattern.by_hand import hand_order
from yattle.section import Profile

_RIM = 14.0  # mm of paper that printers leave white or the caption takes
_OVER = 10.0  # mm that neighbouring sheets show both
_MOST = 60  # sheets: beyond that nobody glues them
_ARM = 70.0  # mm, sides of an angle template


@dataclass(frozen=True)
class Practice:
    """What is put on paper: a pattern, its section if it has one, and the order of its folds (ids)."""

    pattern: Pattern
    title: str
    unit: str = "mm"
    size: str = "a4"
    profile: Profile | None = None
    order: tuple[str, ...] | None = None

    @property
    def folds(self) -> tuple[str, ...]:
        """The ids of the folds in the order they are made."""
        return self.order if self.order is not None else tuple(fold.id for fold in hand_order(self.pattern))


def write_practice(practice: Practice, path: Path, tiled: bool = True) -> int:
    """The practice sheets as PDF; returns how many sheets there are. ``tiled``: the pattern at 1:1 as well, unless that
    takes more than 60 sheets; then the middle of a long piece is left out."""
    paper = Paper(path, practice.title, practice.size)
    _overview(paper, practice)
    if tiled:
        drawing = _whole(practice, paper)
        for tile in tiles(drawing.box, paper.width, paper.height):
            paper.next_page()
            _tile(paper, drawing, tile, practice.pattern.id)
    paper.next_page()
    _templates(paper, practice)
    paper.save()
    return paper.page


def write_hand_cards(practices: list[Practice], path: Path) -> None:
    """One sheet for each piece: its pattern reduced and the order of its folds."""
    paper = Paper(path, practices[0].title, practices[0].size)
    for n, practice in enumerate(practices):
        if n:
            paper.next_page()
        paper.title = practice.title  # said at the foot
        _overview(paper, practice, "fold card")
    paper.save()


def _whole(practice: Practice, paper: Paper) -> Drawing:
    drawing = pattern_drawing(practice.pattern, practice.profile, labels=False)
    if len(list(tiles(drawing.box, paper.width, paper.height))) <= _MOST:
        return drawing
    return pattern_drawing(practice.pattern, practice.profile, keep=1.5 * paper.height, labels=False)


# -- first sheet: all of it, and the order ------------------------------------------------------------------


def _overview(paper: Paper, practice: Practice, what: str = "paper practice") -> None:
    unit, pattern = UNITS[practice.unit], practice.pattern
    make = f" · make {pattern.qty}" if pattern.qty > 1 else ""
    paper.head(practice.title + make, what)
    top = paper.height - 26
    keep = 2.3 * pattern.girth if practice.profile is not None else None
    points = marking_points(pattern)
    scale = paper.draw(pattern_drawing(pattern, practice.profile, unit, keep, points=points), 12, top - 120,
                       paper.width - 24, 118)
    paper.text(15, top - 2, f"paint face up, 1 : {1 / scale:.1f}; P toward the paint, dashed; B away from it, dash and "
               "dot", 8, grey=0.35)
    lines = order_lines(practice, unit)
    paper.text(15, top - 130, "Fold in this order" if lines else "Stays flat: no folds", 11, bold=True)
    for n, said in enumerate(lines):
        column, row = divmod(n, 22)
        paper.box(15 + column * 62, top - 138 - 6 * row, 3)
        paper.text(20 + column * 62, top - 137.5 - 6 * row, said, 9)
    marking_table(paper, practice.title, points, top - 148 - 6 * min(len(lines), 22), unit)


def order_lines(practice: Practice, unit: Unit) -> list[str]:
    """One line for each fold in its order: number, letter with angle, which way, where it lies, with what."""
    known = {fold.id: fold for fold in practice.pattern.folds}
    said = ["0  roll the round part by hand, ruling by ruling"] if any(
        fold.kind == "roll" for fold in practice.pattern.folds) else []
    for n, name in enumerate(practice.folds, 1):
        fold = known[name]
        way = "toward the paint" if fold.turn > 0 else "away from it"
        tool = ", tongs" if fold.by == "tongs" else ""
        long = say_length(math.dist(fold.a, fold.b), unit, 0)
        said.append(f"{n}  {fold_letter(fold.id, fold.turn, practice.profile, unit)} {way}, {long} long{tool}")
    return said


# -- tiles at 1:1 -----------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class Tile:
    """One sheet: its row and column (from the lower left, 1 first), and the place on the pattern of the lower left
    corner of its window, mm."""

    row: int
    column: int
    x: float
    y: float


def tiles(box: tuple[float, float, float, float], width: float, height: float) -> Iterator[Tile]:
    """Sheets that cover ``box`` at 1:1; each shows 10 mm of its neighbours."""
    x0, y0, x1, y1 = box
    step = width - 2 * _RIM - _OVER, height - 2 * _RIM - _OVER
    columns, rows = (max(1, math.ceil((span - _OVER) / size))
                     for span, size in zip((x1 - x0, y1 - y0), step, strict=True))
    for row in range(rows):
        for column in range(columns):
            yield Tile(row + 1, column + 1, x0 + column * step[0], y0 + row * step[1])


def _tile(paper: Paper, drawing: Drawing, tile: Tile, name: str) -> None:
    """One sheet at 1:1, clipped to its window, with crosses to lay its neighbours on."""
    canvas = paper.canvas
    wide, high = paper.width - 2 * _RIM, paper.height - 2 * _RIM
    canvas.saveState()
    path = canvas.beginPath()
    path.rect(_RIM * MM, _RIM * MM, wide * MM, high * MM)
    canvas.clipPath(path, stroke=0, fill=0)
    x0, y0, x1, y1 = drawing.box
    shapes = tuple(shape for shape in drawing.shapes if isinstance(shape, Line | Ring))
    paper.draw(Drawing(shapes), _RIM + x0 - tile.x, _RIM + y0 - tile.y, x1 - x0, y1 - y0, room=0, texts=False,
               scale=1.0)
    canvas.restoreState()
    for x in (_RIM + _OVER / 2, paper.width - _RIM - _OVER / 2):
        for y in (_RIM + _OVER / 2, paper.height - _RIM - _OVER / 2):
            paper.cross(x, y)
    paper.text(_RIM, 6, f"{name} · row {tile.row}, column {tile.column} · 1:1: this line is 100 mm", 8, grey=0.3)
    paper.rule(paper.width - _RIM - 100, 7, 100, 0.3, 0)


# -- templates ---------------------------------------------------------------------------------------------------


def _templates(paper: Paper, practice: Practice) -> None:
    """The section at 1:1 if it goes on the sheet, and an angle for each different fold."""
    paper.head(practice.title, "templates, 1:1")
    top = paper.height - 26
    if practice.profile is not None:
        drawing = section_drawing(practice.profile, 0.0, UNITS[practice.unit], ())
        x0, y0, x1, y1 = drawing.box
        if x1 - x0 < paper.width - 40 and y1 - y0 < 110:
            paper.draw(drawing, 12, top - 130, paper.width - 24, 128, room=8, scale=1.0)
            top -= 132
    for n, degrees in enumerate(angles(practice.pattern)):
        column, row = n % 2, n // 2
        x, y = 20 + column * (paper.width - 30) / 2, top - 62 * (row + 1)
        if y < 15:
            break
        _angle(paper, x, y, degrees)


def angles(pattern: Pattern) -> list[float]:
    """The angles between the sheet's sides at its folds, each once, the sharpest last, no flat or closed ones.
    Degrees."""
    found = {round(180 - abs(fold.turn), 1) for fold in pattern.folds if fold.kind == "fold"}
    return sorted((angle for angle in found if 10 <= angle <= 175), reverse=True)


def _angle(paper: Paper, x: float, y: float, degrees: float) -> None:
    """A wedge to be cut out; the tip is at ``x``, ``y`` where the angle opens to the right."""
    turn = math.radians(degrees)
    far = _ARM * 0.75
    shift = max(0.0, -far * math.cos(turn))
    wedge = [(0.0, 0.0), (far, 0.0), (far * math.cos(turn), far * math.sin(turn))]
    path = paper.canvas.beginPath()
    for n, (u, v) in enumerate(wedge):
        (path.lineTo if n else path.moveTo)((x + shift + u) * MM, (y + v) * MM)
    path.close()
    paper.canvas.setLineWidth(0.25 * MM)
    paper.canvas.setStrokeGray(0)
    paper.canvas.setDash([])
    paper.canvas.drawPath(path, stroke=1, fill=0)
    paper.text(x + shift + 4, y + 3, f"{degrees:.1f}°", 11, bold=True)
