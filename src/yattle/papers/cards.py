"""Fold cards of a whole job, or of what is selected: an index, a card for each section, a card for each odd piece."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from yattle.brake import FoldOrder
from yattle.brake.order import Step
from yattle.derive.derived import Derived
from yattle.derive.printed import changed, next_revision
from yattle.derive.sections import SectionGroup, section_of, sections_of
from yattle.papers.fold_cards import card
from yattle.papers.job_book import book_of, differs_says
from yattle.papers.page import Book, heading, said, table
from yattle.papers.piece_cards import OddPiece, odd_pieces, piece_cards
from yattle.papers.progress import progress_says


def write_fold_cards(derived: Derived, path: Path) -> None:
    """All cards in the order of the work, their index before them."""
    book, groups, pieces = book_of(derived, "fold cards"), sections_of(derived), odd_pieces(derived)
    _write(book, derived, groups, pieces, path)


def write_changed_cards(derived: Derived, path: Path) -> None:
    """The cards alone whose pieces differ from the last print, or are new."""
    book, news = book_of(derived, "changed fold cards"), set(changed(derived))
    groups = [group for group in sections_of(derived) if any(
        row.run.pieces[n].id in news for row in group.rows for n in row.places)]
    pieces = [piece for piece in odd_pieces(derived) if news & set(piece.ids)]
    _write(book, derived, groups, pieces, path)


def _write(book: Book, derived: Derived, groups: Sequence[SectionGroup], pieces: Sequence[OddPiece],
           path: Path) -> None:
    """An index and the cards it names."""
    _index(book, derived, groups, pieces)
    for group in groups:
        card(book, derived, group)
    piece_cards(book, derived, pieces)
    book.save(path)


def write_run_card(derived: Derived, run_id: str, path: Path) -> None:
    """The card of the section that a run has, with all pieces that have it."""
    book, group = book_of(derived, f"fold card {run_id}"), section_of(derived, run_id)
    if group is None:
        book.chapter(run_id, derived.job.metal_name)
        book.add(said("No piece is made here."))
    else:
        card(book, derived, group)
    book.save(path)


def write_opening_cards(derived: Derived, opening: str, path: Path) -> None:
    """A card for each different piece of an opening or a corner."""
    book, pieces = book_of(derived, f"fold cards {opening}"), odd_pieces(derived, opening)
    if not pieces:
        book.chapter(opening, derived.job.metal_name)
        book.add(said("No piece is made here."))
    piece_cards(book, derived, pieces)
    book.save(path)


def _stand_as(order: FoldOrder, others: Sequence[tuple[int, FoldOrder]]) -> str:
    """Which strokes stand at the brake as on an earlier card, the one with most of them: its gauge and leaf need not be
    set again where both are folded in one go."""
    settings = {n: {_setting(step) for step in other.steps} for n, other in others}
    best = max(settings, key=lambda n: (sum(_setting(s) in settings[n] for s in order.steps), n), default=0)
    same = [str(step.n) for step in order.steps if best and _setting(step) in settings[best]]
    return f"strokes {', '.join(same)} as on card {best}" if len(same) > 1 else ""


def _setting(step: Step) -> tuple[float, float, str]:
    """Where the gauge stands, mm, how far the leaf goes, degrees, and what is done: alike as a hand sets them."""
    return round(step.mark_from_out_edge, 1), round(step.set_angle or 0.0, 1), step.action


def _index(book: Book, derived: Derived, groups: Sequence[SectionGroup], pieces: Sequence[OddPiece]) -> None:
    book.chapter("Fold cards", f"{derived.job.metal_name} · {derived.job.colour}")
    rows: list[list[str]] = [["", "card", "section", "runs", "pieces", "strokes", "ends"]]
    orders = [derived.order(group.runs[0].run.id) for group in groups]
    for n, group in enumerate(groups):
        order = orders[n]
        strokes = str(len(order.steps)) if isinstance(order, FoldOrder) else "–"
        like = [(groups[k].n, other) for k, other in enumerate(orders[:n]) if isinstance(other, FoldOrder)]
        alike = _stand_as(order, like) if isinstance(order, FoldOrder) else ""
        done = progress_says(derived.job, (r.run.pieces[k].pattern for r in group.rows for k in r.places))
        runs = " ".join(run.run.id for run in group.runs)
        rows.append(["", str(group.n), group.name, " · ".join(one for one in (runs, alike, done) if one),
                     str(group.many), strokes, str(len(group.ends)) if group.ends else "square"])
    differs = differs_says(derived)
    if differs:
        gone = next_revision(derived).gone
        book.add(said(differs, bold=True, before=1), *([said(f"Gone: {' '.join(gone)}", 10)] if gone else []))
    book.add(said("In the order of the work. What has one section is set up once and folded in one go.", before=1))
    if groups:
        book.add(table(rows, (6, 12, 38, book.width - 112, 16, 18, 22), right=(4, 5, 6), ticks=True))
    if pieces:
        odd = [["", "pieces", "what", "make", "goes to"]] + [
            ["", " ".join(p.ids), p.pattern.name, str(p.make), " · ".join(
                one for one in (p.goes, progress_says(derived.job, p.all)) if one)] for p in pieces]
        book.add(heading("Pieces that are marked out each by itself"),
                 table(odd, (6, 58, 50, 16, book.width - 130), points=10, right=(3,), ticks=True))
