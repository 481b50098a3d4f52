"""Cards of pieces that are no straight section: the pattern as large as the page takes, its points numbered with a
table, the order of its folds; equal ones share a card."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

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
from yattle.pattern.marking import has_rows
from yattle.pattern.mirror import mirrored_across
from yattle.section import Profile

_BESIDE, _DRAWN = 8, 0.6  # folds whose order stands beside the drawing, and what of the width that takes then


@dataclass(frozen=True)
class OddPiece:
    """A pattern that is marked out as a whole, ``all`` that are equal to it, how many to ``make``, and where it
    goes; ``twin``: the pieces that are its mirror image, and which edge these are measured ``across`` from."""

    pattern: Pattern
    all: tuple[Pattern, ...]
    make: int
    goes: str
    twin: OddPiece | None = None
    across: str = ""

    @property
    def ids(self) -> tuple[str, ...]:
        return (*(pattern.id for pattern in self.all), *(self.twin.ids if self.twin is not None else ()))


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
    return tuple(_paired([OddPiece(group[0][0], tuple(p for p, _ in group), sum(p.qty for p, _ in group),
                                   ", ".join(dict.fromkeys(title for _, title in group))) for group in found.values()]))


def _paired(pieces: list[OddPiece]) -> Iterator[OddPiece]:
    """Mirror images that go to one place on one card, where the first of them stands."""
    taken: set[int] = set()
    for n, piece in enumerate(pieces):
        if n in taken:
            continue
        for m in range(n + 1, len(pieces)):
            across = mirrored_across(piece.pattern, pieces[m].pattern) if pieces[m].goes == piece.goes else ""
            if across and m not in taken:
                taken.add(m)
                piece = replace(piece, twin=pieces[m], across=across)
                break
        yield piece


def piece_cards(book: Book, derived: Derived, pieces: Sequence[OddPiece]) -> None:
    """Piece after piece, the drawing of each on one page with its name and the first of its folds."""
    unit, last = UNITS[derived.job.unit], ""
    for piece in pieces:
        title = f"{_named(piece)}{f' · {_named(piece.twin)}' if piece.twin is not None else ''} · {piece.goes}"
        done = progress_says(derived.job, (*piece.all, *(piece.twin.all if piece.twin is not None else ())))
        title += f" · {done}" if done else ""
        if not last:
            book.chapter("Pieces marked out each by itself", f"{derived.job.metal_name} · {derived.job.colour}")
            last = piece.goes
        else:
            book.gap(4)
        order = [fold.id for fold in hand_order(piece.pattern)]
        first, figure, *rest = whole_card(piece.pattern, None, order, unit, book.width)
        if piece.twin is not None:
            rest.append(said(f"{' '.join(piece.twin.ids)}: the mirror image, its points measured from the blank's "
                             f"{piece.across} instead.", 10, bold=True))
        book.together(heading(title, before=0), first, figure, *rest[:2])
        book.add(*rest[2:])


def _named(piece: OddPiece) -> str:
    make = f" · make {piece.make}" if piece.make > 1 else ""
    return f"{' '.join(pattern.id for pattern in piece.all)} · {piece.pattern.name}{make}"


def whole_card(pattern: Pattern, profile: Profile | None, order: Sequence[str], unit: Unit,
               wide: float) -> list[Flowable]:
    """A pattern marked out as a whole, ``wide`` mm: drawing, order of folds, table of points, check."""
    points, number = marking_points(pattern), {fold: n for n, fold in enumerate(order, 1)}
    size = f"{say_length(pattern.length, unit)} × {say_length(pattern.girth, unit, mark=True)}"
    places = [v for p in points for v in (p.left, p.top)]
    datum = f"from the blank's left end and its upper edge{rounding_says(places, unit)}"
    parts: list[Flowable] = [
        said(f"{size}; paint face up; P toward the paint, dashed; B away from it, dash and dot; points {datum}", NOTE,
             grey=0.3)]
    drawing, lines = pattern_drawing(pattern, profile, unit, points=points, steps=number), order_lines(
        pattern, order, profile, unit)
    ordered = said("Fold in this order" if lines else "Stays flat: no folds", bold=True)
    ticks = [Tick(line, 10) for line in lines]
    if len(lines) <= _BESIDE:
        figure = Figure(drawing, _tall(points), room=10.5, points=10, wide=wide * _DRAWN)
        parts.append(side_by_side([figure, [ordered, *ticks]], (wide * _DRAWN, wide * (1 - _DRAWN))))
    else:
        parts += [Figure(drawing, _tall(points), room=10.5, points=10), ordered, *_in_columns(ticks, wide)]
    parts += [said(says, 10) for says in _together(pattern, order)]
    if has_rows(pattern):
        parts.append(said("Screws stand evenly between the numbered first and last of each row.", 10))
    return [*parts, *_points(points, unit, wide)]


def _in_columns(ticks: list[Tick], wide: float) -> list[Flowable]:
    """Lines in two columns, so that they break where a page ends."""
    each = math.ceil(len(ticks) / 2)
    return [side_by_side([ticks[n:min(n + 12, each)], ticks[each + n:each + min(n + 12, each)]], [wide / 2] * 2)
            for n in range(0, each, 12)]


def _together(pattern: Pattern, order: Sequence[str]) -> list[str]:
    """What is folded all at once, by the numbers of its folds in the order."""
    number = {fold: str(n) for n, fold in enumerate(order, 1)}
    steps = hand_steps(pattern) if set(number) == {fold.id for fold in pattern.folds if fold.kind != "roll"} else ()
    return [step.says([number[fold.id] for fold in step.folds]) for step in steps if step.together]


def _tall(points: Sequence[MarkPoint]) -> float:
    """How high a drawing may be, mm: as high as its numbers need to stand apart."""
    return min(max(0.9 * len(points) + 24.0, 44.0), 86.0)


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
