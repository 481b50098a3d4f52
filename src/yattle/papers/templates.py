"""Templates at 1:1 by choice: the ends of a piece, to lay on the blank and prick through, or an odd piece whole."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import shapely

from yattle.derive.derived import Derived
from yattle.derive.sections import EndKind, SectionGroup, section_of
from yattle.drawing import Drawing, pattern_drawing
from yattle.drawing.ends import end_drawing
from yattle.errors import InputError
from yattle.measure import UNITS, Unit
from yattle.papers.job_book import book_of
from yattle.papers.one_to_one import OneToOne, lines_of, tiles_of
from yattle.papers.page import Book, said
from yattle.papers.selected import SelectedPiece, selected_piece
from yattle.pattern.piece_ends import end_points
from yattle.session.session import Selection

_USE = "Print at 100 % and check the line by a tape. Lay it on edge A, prick corners and ends of folds."
_BEYOND = 60.0  # mm of the piece that are drawn past the last corner of an end


def write_templates(derived: Derived, selection: Selection, path: Path) -> int:
    """The templates of the selected piece as PDF; returns how many sheets there are. Raises
    :class:`~yattle.errors.InputError` where no piece is selected."""
    unit, piece = UNITS[derived.job.unit], selected_piece(derived, selection)
    if piece is None:
        raise InputError("piece", "none", "one that is selected")
    book = book_of(derived, f"templates {piece.pattern.id}")
    group = section_of(derived, piece.run) if piece.run else None
    if group is None or "?" in _letters(group, piece):
        drawing = pattern_drawing(piece.pattern, piece.profile, unit)
        _template(book, piece.title, drawing, lines_of(drawing), unit)
    else:
        _ends(book, group, piece, unit)
    book.save(path)
    return book.pages


def _letters(group: SectionGroup, piece: SelectedPiece) -> tuple[str, str]:
    """The letters of a piece's two ends."""
    return next(row.ends for row in group.rows if any(row.run.pieces[n].id == piece.pattern.id for n in row.places))


def _ends(book: Book, group: SectionGroup, piece: SelectedPiece, unit: Unit) -> None:
    """Its ends that are not square; mirror images share one, which is turned over."""
    kinds = {kind.letter: kind for kind in group.ends if not kind.is_plain}
    left, right = _letters(group, piece)
    both = left == right and left in kinds
    wanted = [(kinds[letter], side) for letter, side in ((left, "left"), (right, "right"))
              if letter in kinds and not (both and side == "right")]
    for kind, side in wanted:
        where = "left end; turned over it is the right end" if both else f"{side} end"
        title = f"{piece.pattern.id}, {where} · {kind.letter}: {kind.note.kind_says(unit)}"
        _template(book, title, *_end(group, kind, side, unit), unit)
    if not wanted:
        book.chapter(f"{piece.pattern.id} · templates, 1:1", "")
        book.add(said("Both ends are square: there is nothing to lay on."))


def _end(group: SectionGroup, kind: EndKind, side: str, unit: Unit) -> tuple[Drawing, shapely.Geometry]:
    """An end as it is drawn, and what of it has to be on the sheets: all but the piece that goes on beyond."""
    end = replace(kind.end, side=side)  # type: ignore[arg-type]
    drawing = end_drawing(end, group.girth.bends, group.girth.girth, group.profile, unit, (), _BEYOND)
    sign = 1.0 if side == "left" else -1.0
    places = [point.place for point in end_points(end)] + list(end.holes)
    return drawing, shapely.union_all([
        shapely.LineString([(sign * x, -y) for x, y in end.corners]),
        shapely.MultiPoint([(sign * x, -y) for x, y in places]),
        *(shapely.LineString([(sign * x, -y) for x, y in (fold.a, fold.b)]) for fold in end.folds)])


def _template(book: Book, title: str, drawing: Drawing, near: shapely.Geometry, unit: Unit) -> None:
    sheets = tiles_of(drawing, book, near)
    for tile in sheets:
        book.chapter(title, f"1:1, row {tile.row}, column {tile.column}" if len(sheets) > 1 else "1:1")
        book.add(OneToOne(drawing, tile, title.partition(" · ")[0], book.height, unit, _USE, texts=True))
