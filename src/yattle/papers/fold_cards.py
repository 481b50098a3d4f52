"""The card of a section: its strokes, its pieces over the whole job and the kinds of ends they have."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from reportlab.platypus import Flowable

from yattle.brake import FoldOrder
from yattle.brake.order import Step
from yattle.brake.state import HANDS
from yattle.derive.derived import Derived
from yattle.derive.printed import changed
from yattle.derive.roof_runs import roof_runs
from yattle.derive.sections import EndKind, PieceRow, SectionGroup
from yattle.drawing import PlanEdge, fold_letter, section_drawing, step_drawing
from yattle.drawing.brake import step_says
from yattle.drawing.ends import end_drawing
from yattle.drawing.roof import key_plan
from yattle.drawing.section import tape_drawing
from yattle.measure import UNITS, Closest, Unit, in_unit, say_length
from yattle.papers.numbers import in_rows, rounding_says
from yattle.papers.page import NOTE, Book, Figure, Tick, heading, said, side_by_side, table
from yattle.papers.progress import progress_says
from yattle.pattern.piece_ends import EndPoint, PieceEnd, end_points, slopes

_FEW = 10  # points of an end that is drawn in half the page's width
_IN_A_ROW = 4  # strokes beside each other at the most


def card(book: Book, derived: Derived, group: SectionGroup) -> None:
    """The card of one section."""
    unit = UNITS[derived.job.unit]
    many = f"{group.many} piece{'' if group.many == 1 else 's'}"
    book.chapter(f"{group.n} · {group.name} · {many}", f"{derived.job.metal_name} · {derived.job.colour}")
    detail = group.runs[0].detail
    around = tuple((s.name, s.outline) for s in detail.around)
    section = Figure(section_drawing(group.profile, detail.heading, unit, around), 50, room=9, points=11)
    beside: list[Flowable] = [*_facts(derived, group, unit)]
    if derived.roof.facets:
        edges = tuple(PlanEdge(r.run.id, r.edge) for r in roof_runs(derived.job))
        lit = {run.run.id.partition(".")[0]: run.run.id.partition(".")[0] for run in group.runs}
        beside.append(Figure(key_plan(derived.roof, edges, lit), 38, room=7, points=7.5))
    book.add(side_by_side([section, beside], (book.width * 0.55, book.width * 0.45)))
    where = ", at the run's left end" if group.tapers else ""
    rounded = rounding_says([b.mark for b in group.girth.bends], unit)
    book.together(said(f"Girth tape{where}, from raw edge A{rounded}", NOTE, grey=0.3),
                  Figure(tape_drawing(group.girth.bends, group.girth.girth, group.profile, unit), 40, room=16,
                         points=11))
    _tapered(book, group, unit)
    _strokes(book, derived, group, unit)
    _pieces(book, derived, group, unit)
    _ends(book, group, unit)


def _facts(derived: Derived, group: SectionGroup, unit: Unit) -> list[Flowable]:
    proofs = [row.piece.proof.max_gap for row in group.rows]
    laps = [p.max_gap for run in group.runs for *_, p in run.detail.laps]
    folds_up = f"every piece folds up to {Closest(max(proofs)).say(unit)}"
    folds_up += f", laps {Closest(max(laps)).say(unit)}" if laps else ""
    runs = " ".join(run.run.id for run in group.runs)
    girth = f"girth {say_length(group.girth.girth, unit, mark=True)}"
    return [said(runs, bold=True), said(girth, 13, bold=True, before=1), said(folds_up, NOTE, grey=0.3)]


def _strokes(book: Book, derived: Derived, group: SectionGroup, unit: Unit) -> None:
    order = derived.order(group.runs[0].run.id)
    if not isinstance(order, FoldOrder):
        if order is not None:
            book.add(heading("No order on this brake"), *(said(in_unit(reason.says, unit)) for reason in order.reasons))
        return
    turns: dict[str, float] = {}
    cells: list[list[Flowable]] = []
    beside = min(max(len(order.steps), 3), _IN_A_ROW)
    wide = book.width / beside
    for step in order.steps:
        picture = step_drawing(group.girth, derived.job.brake, turns, step.fold, step.face_up, step.out,
                               abs(step.turn), action=step.action)
        turns[step.fold] = step.turn
        cells.append([said(f"{step.n}  {HANDS[step.handling]}", bold=True),
                      Figure(picture, 31, room=1.5, wide=wide - 4), *_stroke_says(step, group, unit)])
    book.add(heading(f"Strokes on {derived.job.brake.name}"))
    for n in range(0, len(cells), beside):
        row = cells[n:n + beside]
        book.together(side_by_side([*row, *[[]] * (beside - len(row))], [wide] * beside))
        book.gap(2)
    proof = "the least there is" if order.proved_best else "best found"
    angles = ", ".join(f"{fold_letter(b.id, b.turn, group.profile, unit)}: {180 - abs(b.turn):.1f}°"
                       for b in group.girth.bends if b.turn and abs(b.turn) < 179)
    legs = " · ".join(say_length(leg, unit) for leg in group.profile.legs)
    book.together(Tick(f"First piece: between the legs {angles or 'nothing to measure'}; legs {legs}, measured "
                       f"{group.profile.measured}. Then the rest."),
                  said(f"{proof}: handling {order.cost}", NOTE, grey=0.3))


def _stroke_says(step: Step, group: SectionGroup, unit: Unit) -> list[Flowable]:
    lines = step_says(step, group.girth, unit, group.tapers)
    made: list[Flowable] = [said(lines[0], bold=True), said(lines[1], 10)]
    if step.short_says():
        made.append(said(step.short_says(), NOTE))
    return made


def _pieces(book: Book, derived: Derived, group: SectionGroup, unit: Unit) -> None:
    rows: list[list[str]] = [["", "piece", "make", "length", "hand", "left end", "right end", "goes to"]]
    news = changed(derived)
    for row in group.rows:
        new = {news.get(row.run.pieces[n].id) for n in row.places} & {"changed", "new"}
        ends = ["see its pattern" if letter == "?" else letter or "square" for letter in row.ends]
        done = progress_says(derived.job, (row.run.pieces[n].pattern for n in row.places))
        goes = row.run.run.name or row.run.run.id
        rows.append(["", f"{_numbers(row)} {'*' if new else ''}".rstrip(), str(row.many),
                     say_length(row.piece.pattern.length, unit), row.piece.hand, *ends,
                     f"{goes} · {done}" if done else goes])
    star = " · * differs from the last print" if any(row[1].endswith("*") for row in rows) else ""
    widths = (6, 34, 12, 22, 26, 18, 18, book.width - 136)
    book.add(heading(f"Pieces{star}"), table(rows, widths, right=(2, 3), ticks=True))


def _tapered(book: Book, group: SectionGroup, unit: Unit) -> None:
    """Of pieces that taper: where each fold is marked at both ends of their share, from raw edge A."""
    marks = [bend for bend in group.girth.bends if bend.turn]
    head = ["piece", "end", *(fold_letter(bend.id, bend.turn, group.profile, unit) for bend in marks), "girth"]
    rows = [head]
    for row in group.rows:
        for end, girth in zip(("left", "right"), row.piece.girths or (), strict=False):
            mine = {bend.id: bend.mark for bend in girth.bends}
            rows.append([_numbers(row) if end == "left" else "", end, *(
                say_length(mine[bend.id], unit) for bend in marks), say_length(girth.girth, unit)])
    if len(rows) > 1:
        each = (book.width - 50) / (len(marks) + 1)
        book.add(heading("Marks at both ends, from raw edge A; snap the lines between them"),
                 table(rows, (34, 16, *(each,) * (len(marks) + 1)), right=tuple(range(2, len(marks) + 3))))


def _numbers(row: PieceRow) -> str:
    """The numbers of equal pieces: ``E1-2 to 6``."""
    return f"{row.run.run.id}-{in_rows([n + 1 for n in row.places])}"


def _ends(book: Book, group: SectionGroup, unit: Unit) -> None:
    """Each kind of end once: a square one with lines to mark in words, the others drawn large with their points."""
    drawn = [kind for kind in group.ends if not kind.is_plain]
    plain = [kind for kind in group.ends if kind.is_plain]
    if group.ends:
        book.add(heading("Ends"))
    for kind in plain:
        marks = _marks_say(kind.end, unit)
        book.add(said(f"{kind.letter}: square{marks} · {kind.note.kind_says(unit)}", 10, before=0.5))
    for kind in drawn:
        if len(kind.sides) == 2:
            book.together(*_pair(group, kind, unit, book.width))
        elif len(end_points(kind.end)) > _FEW:
            book.together(*_single(group, kind, unit, book.width, 0.52))
    small = [kind for kind in drawn if len(kind.sides) == 1 and len(end_points(kind.end)) <= _FEW]
    for n in range(0, len(small), 2):
        row = [_single(group, kind, unit, book.width / 2 - 2, 0.49) for kind in small[n:n + 2]]
        book.together(side_by_side([*row, *[[]] * (2 - len(row))], [book.width / 2] * 2))


def _marks_say(end: PieceEnd, unit: Unit) -> str:
    """What is marked on a square end: lines over its whole width by how far in they are, others by both places."""
    far: dict[str, list[float]] = {}
    for text, (x, _) in end.marks:
        far.setdefault(text, []).append(x)
    found = []
    for text, (x, y) in end.marks:
        if x > 0.05 and len(far[text]) > 1 and max(far[text]) - min(far[text]) < 0.05:
            found.append(f"{text or 'line'} {say_length(x, unit)} in")
        else:
            found.append(f"{text or 'line'} {say_length(x, unit)} in {say_length(y, unit)} down")
    return f", mark {', '.join(dict.fromkeys(found))}" if found else ""


def _pair(group: SectionGroup, kind: EndKind, unit: Unit, wide: float) -> list[Flowable]:
    """An end that is found on both sides: left and right beside each other, mirror images, with one table."""
    share = 0.31 * wide
    figures = [_figure(group, kind, side, unit, share) for side in ("left", "right")]
    title = f"{kind.letter}: {kind.note.kind_says(unit)} · left and right end, mirror pair"
    numbers = _numbers_of(group, kind, unit, wide - 2 * share)
    return [said(title, bold=True, before=2), side_by_side([*figures, numbers], [share, share, wide - 2 * share])]


def _single(group: SectionGroup, kind: EndKind, unit: Unit, wide: float, part: float) -> list[Flowable]:
    """An end that is found on one side only; its drawing takes ``part`` of the width."""
    (side,) = kind.sides
    title, share = f"{kind.letter}: {kind.note.kind_says(unit)} · {side} end", wide * part
    numbers = _numbers_of(group, kind, unit, wide - share)
    return [said(title, 10, bold=True, before=2),
            side_by_side([_figure(group, kind, side, unit, share), numbers], [share, wide - share])]


def _figure(group: SectionGroup, kind: EndKind, side: str, unit: Unit, wide: float) -> Flowable:
    drawing = end_drawing(replace(kind.end, side=side), group.girth.bends, group.girth.girth, group.profile,  # type: ignore[arg-type]
                          unit, end_points(kind.end))
    return Figure(drawing, 54 if wide < 70 else 70, room=7, points=9, wide=wide)


def _numbers_of(group: SectionGroup, kind: EndKind, unit: Unit, wide: float) -> list[Flowable]:
    """The table of an end's points, its slopes and its check."""
    points = end_points(kind.end)
    letters = {bend.id: fold_letter(bend.id, bend.turn, group.profile, unit) for bend in group.girth.bends}
    numbers: list[Flowable] = [_points_table(points, letters, wide, unit)]
    numbers += [said(text, 9) for text in _slopes_say(kind.end, unit)]
    check = _check(points)
    if check is not None:
        a, b, far = check
        numbers.append(said(f"Check: {a} to {b} is {say_length(far, unit, mark=True)}", 9.5, bold=True))
    return numbers


def _points_table(points: Sequence[EndPoint], letters: dict[str, str], wide: float, unit: Unit) -> Flowable:
    """Every point: in from the end, down from raw edge A; in two columns where there are many and room for both."""
    cells = [(str(p.number), say_length(p.place[0], unit), say_length(p.place[1], unit),
              said(letters.get(p.what, p.what), NOTE)) for p in points]
    columns = 2 if wide > 75 and len(points) > _FEW else 1
    each, part = -(-len(cells) // columns), wide / columns
    tables = [table([("", "in", "down", ""), *cells[n:n + each]], (7, 13, 13, max(part - 34, 8)), points=9.5,
                    right=(1, 2), tight=True) for n in range(0, len(cells), each)]
    return tables[0] if columns == 1 else side_by_side(tables, [part] * len(tables))


def _slopes_say(end: PieceEnd, unit: Unit) -> list[str]:
    """Slanting cuts as a hand marks them: so much over so much."""
    over = 12 * 25.4 if unit.parts else 100.0
    found = []
    for one in slopes(end, over):
        found.append(f"{one.a}–{one.b}: {say_length(one.off, unit)} over {say_length(one.over, unit, 0)} {one.along}, "
                     f"{one.degrees:.1f}°")
    return found


def _check(points: Sequence[EndPoint]) -> tuple[int, int, float] | None:
    """The two points farthest apart and their distance, mm."""
    from math import dist

    pairs = [(dist(a.place, b.place), a.number, b.number) for n, a in enumerate(points) for b in points[n + 1:]]
    if not pairs:
        return None
    far, a, b = max(pairs)
    return a, b, far
