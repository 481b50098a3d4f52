"""Fold card and cut sheet: what is taken to the brake and to the coil."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace
from itertools import pairwise
from pathlib import Path

from yattle.brake import FoldOrder
from yattle.brake.order import Step
from yattle.brake.state import HANDS
from yattle.coil.answer import Cut
from yattle.coil.names import pieces_of
from yattle.derive.derived import Derived
from yattle.derive.run import DerivedRun
from yattle.drawing import (
    Drawing,
    crosscuts,
    fold_letter,
    pattern_drawing,
    section_drawing,
    step_drawing,
    stock_drawing,
)
from yattle.drawing.section import tape_drawing
from yattle.measure import UNITS, Unit, say_length, say_pitch
from yattle.papers.marking import marking_table
from yattle.papers.sheet import Paper
from yattle.pattern import marking_points
from yattle.section import Girth

_ROW, _FOOT = 52.0, 18.0  # mm: a row of strokes; what stays free for the line at the foot of a page
_LINE = 3000.0  # mm of coil in a picture where no crosscut parts it


def paper_size(derived: Derived) -> str:
    return "letter" if derived.job.system == "inch" else "a4"


def write_fold_cards(derived: Derived, run_id: str, path: Path) -> None:
    """One card for each different blank of a run, with how many of it to make: section, marks, pattern; the strokes,
    which are the same for all that have the section, with the first."""
    run = derived.run(run_id)
    paper = Paper(path, f"{derived.job.name} · fold card {run_id}", paper_size(derived))
    for n, alike in enumerate(equal_pieces(run)):
        if n:
            paper.next_page()
        _card(paper, derived, run, alike, strokes=not n)
    paper.save()


def equal_pieces(run: DerivedRun) -> list[list[int]]:
    """Places in ``run.pieces`` of those that are equal in all that is done to them, within 0.05 mm; the first of each
    kind in their order along the run."""
    kinds: dict[object, list[int]] = {}
    for n, piece in enumerate(run.pieces):
        pattern = piece.pattern
        sheet = tuple(tuple(_near(p) for p in ring) for ring in (pattern.outline, *pattern.holes))
        folds = tuple((fold.id, round(fold.turn, 1), _near(fold.a), _near(fold.b)) for fold in pattern.folds)
        marks = tuple((_near(mark.a), _near(mark.b)) for mark in pattern.marks)
        ends = tuple(replace(end, neighbour=0) for end in piece.ends)
        kinds.setdefault((piece.hand, ends, sheet, folds, marks), []).append(n)
    return list(kinds.values())


def _near(place: tuple[float, float]) -> tuple[int, int]:
    return round(place[0] * 10), round(place[1] * 10)


def _card(paper: Paper, derived: Derived, run: DerivedRun, alike: list[int], strokes: bool) -> None:
    unit, piece, detail = UNITS[derived.job.unit], run.pieces[alike[0]], run.detail
    assert detail.profile is not None and detail.girth is not None
    make = f" · make {len(alike)}" if len(alike) > 1 else ""
    paper.head(f"{piece.id} · {run.detail.name}{make}",
               f"{run.run.name} · {derived.job.metal_name} · {derived.job.colour}")
    top = paper.height - 24
    around = tuple((s.name, s.outline) for s in detail.around)
    paper.draw(section_drawing(detail.profile, detail.heading, unit, around), 12, top - 82, 92, 80)
    _facts(paper, derived, run, alike, top)
    paper.draw(tape_drawing(detail.girth.bends, detail.girth.girth, detail.profile, unit), 12, top - 122,
               paper.width - 24, 40, room=12)
    paper.text(15, top - 84, "girth tape, from raw edge A", 8, grey=0.35)
    points = marking_points(piece.pattern) if len(piece.pattern.outline) > 4 else []
    paper.draw(pattern_drawing(piece.pattern, detail.profile, unit, 2.3 * piece.pattern.girth, points=points), 12,
               top - 182, paper.width - 24, 58)
    paper.text(15, top - 126, "flat, paint face up, upslope edge A on top", 8, grey=0.35)
    order, y = derived.order(run.run.id), top - 194
    if isinstance(order, FoldOrder) and strokes:
        y = _steps(paper, derived, run, order, top - 186)
    elif isinstance(order, FoldOrder):
        paper.text(15, y, f"Strokes: as on the card of {run.pieces[0].id}.", 10.5)
    if points:
        marking_table(paper, f"{piece.id} · {run.detail.name}{make}", points, y - 10, unit)


def _facts(paper: Paper, derived: Derived, run: DerivedRun, alike: list[int], top: float) -> None:
    unit, piece = UNITS[derived.job.unit], run.pieces[alike[0]]
    assert run.detail.girth is not None
    ends = [replace(end, neighbour=0) if len(alike) > 1 else end for end in piece.ends]
    rows = [("piece", f"{in_rows([n + 1 for n in alike])} of {len(run.pieces)}, {piece.hand}"),
            ("pitch", say_pitch(run.run.pitch, "in 12" if derived.job.system == "inch" else "degrees")),
            ("girth", say_length(run.detail.girth.girth, unit, mark=True)),
            ("blank", say_length(piece.pattern.length, unit, mark=True)),
            ("left end", ends[0].says(unit)), ("right end", ends[1].says(unit)),
            ("proof fold", f"{piece.proof.max_gap:.3f} mm largest gap"),
            ("in its laps", f"{max((p.max_gap for *two, p in run.detail.laps if piece in two), default=0.0):.3f} mm")]
    for k, (name, value) in enumerate(rows):
        paper.text(112, top - 10 - 6 * k, name, 9, grey=0.35)
        paper.text(134, top - 10 - 6 * k, value, 10.5, bold=True)
    y, terms = top - 10 - 6 * len(rows), piece.ledger.terms
    step = min(5.0, 29 / max(len(terms) - 1, 1))  # mm: they end above the girth tape
    for k, term in enumerate(terms):
        paper.text(112, y - step * k, term.what, 8.5, grey=0.35)
        paper.text(165, y - step * k, say_length(term.amount, unit), 8.5, anchor="right")


def in_rows(numbers: list[int]) -> str:
    """Rising numbers with rows of three and more drawn together: ``1, 3 to 6, 9``."""
    rows: list[list[int]] = []
    for number in numbers:
        if rows and number == rows[-1][-1] + 1:
            rows[-1].append(number)
        else:
            rows.append([number])
    return ", ".join(f"{row[0]} to {row[-1]}" if len(row) > 2 else ", ".join(map(str, row)) for row in rows)


def _steps(paper: Paper, derived: Derived, run: DerivedRun, order: FoldOrder, top: float) -> float:
    """The strokes as small pictures, four in a row, with what the hands do between them; rows that find no room above
    the foot go on on the next page. How high the last row stands, mm, is returned."""
    assert run.detail.girth is not None
    unit, width = UNITS[derived.job.unit], (paper.width - 24) / 4
    turns: dict[str, float] = {}
    y = top
    for k, step in enumerate(order.steps):
        if not k % 4:
            y -= _ROW
            if y < _FOOT:
                paper.next_page()
                paper.head(f"{run.run.id} · {run.detail.name}", f"strokes from {step.n} on")
                y = paper.height - 24 - _ROW
        x = 12 + (k % 4) * width
        picture = step_drawing(run.detail.girth, derived.job.brake, turns, step.fold, step.face_up, step.out,
                               abs(step.turn), action=step.action)
        paper.draw(picture, x, y + 12, width, 34, room=2)
        paper.text(x + 3, y + 46, f"{step.n}  {HANDS[step.handling]}", 9, bold=True)
        for line, said in enumerate(step_says(step, run.detail.girth, unit)):
            paper.text(x + 3, y + 7.5 - 4 * line, said, 8.5, bold=line == 0)
        turns[step.fold] = step.turn
    proof = "least handling, proven" if order.proved_best else "best found"
    said = f"{proof}: {order.cost}, on {derived.job.brake.name}. Fold the first piece, check it, then the rest."
    paper.text(15, 14, said, 8, grey=0.3)
    return y


def step_says(step: Step, girth: Girth, unit: Unit) -> tuple[str, str]:
    """One stroke in two lines: letter and mark from the out edge; the leaf's angle and the face up."""
    letter = fold_letter(step.fold, step.turn, girth.profile, unit)
    if step.action == "flatten":
        return f"{letter} flatten", f"{step.face_up} face up, {step.out} out"
    return (f"{letter} at {say_length(step.mark_from_out_edge, unit)} from {step.out}",
            f"leaf {step.set_angle:.1f}°, {step.face_up} face up")


def write_cut_sheet(derived: Derived, path: Path) -> None:
    """One crosscut after another: the coil to scale and the cuts in the order they are made."""
    unit, answer = UNITS[derived.job.unit], derived.nest
    paper = Paper(path, f"{derived.job.name} · cut sheet", paper_size(derived))
    paper.head("Cut sheet", f"{derived.job.metal_name} · {derived.job.colour}")
    y = paper.height - 26
    for name, length, pictures in _stock_pictures(derived):
        paper.text(15, y, f"{name}: {say_length(length, unit, 0, mark=True)} used", 11, bold=True)
        for k, picture in enumerate(pictures):
            column = k % 2
            if k and not column:
                y -= 42
            if y < 64:
                paper.next_page()
                paper.head("Cut sheet", derived.job.metal_name)
                y = paper.height - 26
            half = (paper.width - 24) / 2
            paper.draw(picture, 12 + column * half, y - 42, half, 42, room=7, points=6)
        y -= 49
    paper.text(15, y, f"used well: {answer.share_used:.1%} of what is taken", 10, bold=True)
    _cut_rows(paper, answer.cuts, unit, y - 8)
    paper.save()


def _stock_pictures(derived: Derived) -> Iterator[tuple[str, float, list[Drawing]]]:
    """Each stock piece used: its name, the length used, and a picture for each piece cut off it."""
    unit, answer = UNITS[derived.job.unit], derived.nest
    stock = pieces_of(derived.job.stock)
    snips = derived.job.rules.cutting != "shear"
    outlines = {pattern.id: pattern.outline for pattern in derived.patterns} if snips else None
    for used in answer.used:
        base = stock[used.stock]
        stops = [0.0, *crosscuts(answer, used.stock)] if base.kind == "coil" else []
        if len(stops) == 1:  # cut by hand: no crosscut parts it
            stops = [*(_LINE * n for n in range(math.ceil(used.length / _LINE))), used.length]
        spans: list[tuple[float, float] | None] = [
            span for span in pairwise(stops) if span[1] - span[0] > derived.job.rules.end_trim + 1]
        yield used.stock, used.length, [stock_drawing(base, answer, used.stock, unit, span=span, outlines=outlines)
                                        for span in spans or [None]]


def _cut_rows(paper: Paper, cuts: tuple[Cut, ...], unit: Unit, y: float) -> None:
    columns, column = 3, 0
    width, top = (paper.width - 30) / columns, y
    for cut in cuts:
        if y < 18:
            column, y = column + 1, top
            if column == columns:
                paper.next_page()
                paper.head("Cut sheet", "cuts, go on")
                column, top = 0, paper.height - 28
                y = top
        x = 15 + column * width
        paper.box(x, y - 0.4, 2.6)
        word = "across" if cut.axis == "across" else "along"
        paper.text(x + 5, y, f"{cut.n}. {cut.piece} {word} at {say_length(cut.at, unit)} → {cut.gives[0]}"
                   .replace("→", "gives"), 8)
        y -= 5
