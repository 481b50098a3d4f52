"""Cards of pieces that are no straight section: the pattern as large as the page takes, its points numbered with a
table, the order of its folds; equal ones share a card."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from reportlab.platypus import Flowable

from yattle.derive.derived import Derived
from yattle.derive.face_pans import is_pans
from yattle.derive.printed import mark_of
from yattle.drawing import fold_letter, pattern_drawing
from yattle.measure import UNITS, Unit, say_length
from yattle.papers.numbers import rounding_says
from yattle.papers.page import NOTE, Book, Figure, Tick, heading, said, side_by_side, table
from yattle.papers.progress import progress_says
from yattle.pattern import MarkPoint, Pattern, check_measure, marking_points
from yattle.pattern.by_hand import hand_order, hand_steps
from yattle.section import Profile


@dataclass(frozen=True)
class OddPiece:
    """A pattern that is marked out as a whole, ``all`` that are equal to it, how many to ``make``, and where it
    goes."""

    pattern: Pattern
    all: tuple[Pattern, ...]
    make: int
    goes: str

    @property
    def ids(self) -> tuple[str, ...]:
        return tuple(pattern.id for pattern in self.all)


def odd_pieces(derived: Derived, opening: str | None = None) -> tuple[OddPiece, ...]:
    """Pieces of openings and corners, of one ``opening`` or all of them, equal ones together; templates of paper are
    left out."""
    found: dict[str, list[tuple[Pattern, str]]] = {}
    for one in derived.openings:
        if opening in (None, one.id):
            for made in one.pieces:
                if not made.paper:
                    plain = made.pattern.but(qty=1)
                    name = "" if is_pans(one) else made.pattern.name  # equal pans of two faces have other numbers
                    found.setdefault(f"{name} {mark_of(plain)}", []).append((made.pattern, one.title))
    return tuple(OddPiece(group[0][0], tuple(p for p, _ in group), sum(p.qty for p, _ in group),
                          ", ".join(dict.fromkeys(title for _, title in group))) for group in found.values())


def piece_cards(book: Book, derived: Derived, pieces: Sequence[OddPiece]) -> None:
    """Piece after piece, the drawing of each on one page with its name and the first of its folds."""
    unit, last = UNITS[derived.job.unit], ""
    for piece in pieces:
        make = f" · make {piece.make}" if piece.make > 1 else ""
        title = f"{' '.join(piece.ids)} · {piece.pattern.name}{make} · {piece.goes}"
        done = progress_says(derived.job, piece.all)
        title += f" · {done}" if done else ""
        if not last:
            book.chapter("Pieces marked out each by itself", f"{derived.job.metal_name} · {derived.job.colour}")
            last = piece.goes
        else:
            book.gap(4)
        order = [fold.id for fold in hand_order(piece.pattern)]
        first, figure, *rest = whole_card(piece.pattern, None, order, unit, book.width)
        book.together(heading(title, before=0), first, figure, *rest[:2])
        book.add(*rest[2:])


def whole_card(pattern: Pattern, profile: Profile | None, order: Sequence[str], unit: Unit,
               wide: float) -> list[Flowable]:
    """A pattern marked out as a whole, ``wide`` mm: drawing, order of folds, table of points, check."""
    points, number = marking_points(pattern), {fold: n for n, fold in enumerate(order, 1)}
    size = f"{say_length(pattern.length, unit)} × {say_length(pattern.girth, unit, mark=True)}"
    places = [v for p in points for v in (p.left, p.top)]
    datum = f"from the blank's left end and its upper edge{rounding_says(places, unit)}"
    parts: list[Flowable] = [
        said(f"{size}; paint face up; P toward the paint, dashed; B away from it, dash and dot; points {datum}", NOTE,
             grey=0.3),
        Figure(pattern_drawing(pattern, profile, unit, points=points, steps=number), _tall(points), room=10.5,
               points=10)]
    lines = order_lines(pattern, order, profile, unit)
    parts.append(said("Fold in this order" if lines else "Stays flat: no folds", bold=True))
    each, ticks = math.ceil(len(lines) / 2), [Tick(line, 10) for line in lines]
    for n in range(0, each, 12):
        parts.append(side_by_side([ticks[n:min(n + 12, each)], ticks[each + n:each + min(n + 12, each)]],
                                  [wide / 2] * 2))
    parts += [said(says, 10) for says in _together(pattern, order)]
    return [*parts, *_points(points, unit, wide)]


def _together(pattern: Pattern, order: Sequence[str]) -> list[str]:
    """What is folded all at once, by the numbers of its folds in the order."""
    number = {fold: str(n) for n, fold in enumerate(order, 1)}
    steps = hand_steps(pattern) if set(number) == {fold.id for fold in pattern.folds if fold.kind != "roll"} else ()
    return [step.says([number[fold.id] for fold in step.folds]) for step in steps if step.together]


def _tall(points: Sequence[MarkPoint]) -> float:
    """How high a drawing may be, mm: as high as its numbers need to stand apart."""
    return min(max(1.1 * len(points) + 28.0, 50.0), 90.0)


def order_lines(pattern: Pattern, order: Sequence[str], profile: Profile | None, unit: Unit) -> list[str]:
    """One line for each fold in its order: number, letter with angle, which way, how long, with what."""
    known = {fold.id: fold for fold in pattern.folds}
    lines = ["0  roll the round part by hand, ruling by ruling"] if any(
        fold.kind == "roll" for fold in pattern.folds) else []
    for n, name in enumerate(order, 1):
        fold = known[name]
        way = "toward the paint" if fold.turn > 0 else "away from it"
        tool = ", tongs" if fold.by == "tongs" else ""
        long = say_length(math.dist(fold.a, fold.b), unit, 0)
        lines.append(f"{n}  {fold_letter(fold.id, fold.turn, profile, unit)} {way}, {long} long{tool}")
    return lines


def _points(points: Sequence[MarkPoint], unit: Unit, whole: float) -> list[Flowable]:
    """The table of points, in columns, row by row so that it breaks where it must."""
    columns = 3 if any(point.hole is not None for point in points) else 4
    each = math.ceil(len(points) / columns)
    rows: list[list[str | Flowable]] = [["", "left", "top", ""] * columns]
    for n in range(each):
        row: list[str | Flowable] = []
        for column in range(columns):
            k = column * each + n
            row += _cells(points[k], unit) if k < len(points) else ["", "", "", ""]
        rows.append(row)
    widths = [9, 16, 16, whole / columns - 41] * columns
    right = [c for k in range(columns) for c in (4 * k, 4 * k + 1, 4 * k + 2)]
    parts: list[Flowable] = [table(rows, widths, points=9.5, right=right, tight=True)]
    check = check_measure(list(points))
    if check is not None:
        a, b, far = check
        far_says = say_length(far, unit, mark=True)
        parts.append(said(f"Check: {a.number} to {b.number} is {far_says}", bold=True, before=1.5))
    return parts


def _cells(point: MarkPoint, unit: Unit) -> list[str | Flowable]:
    what = ""
    if point.hole is not None:
        long, short = point.hole
        what = f"Ø {say_length(long, unit)}" if long - short < 0.2 else (
            f"{say_length(long, unit)} × {say_length(short, unit)}" + (f" at {point.angle:.0f}°" if abs(
                point.angle) > 0.5 else ""))
    return [str(point.number), say_length(point.left, unit), say_length(point.top, unit), what]
