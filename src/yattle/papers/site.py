"""The site pack: the roof with its letters to pin up, the order of fitting stage by stage with what goes on lit, how
each kind of item lies and what it takes, the panels of each face, chalk lines, what to order."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from pathlib import Path

from reportlab.platypus import Flowable

from yattle.derive.derived import Derived
from yattle.derive.roof_runs import base_id, roof_runs
from yattle.derive.sections import SectionGroup, sections_of
from yattle.drawing import PlanEdge, panel_drawing
from yattle.drawing.fixings import fixed_section
from yattle.drawing.roof import key_plan
from yattle.drawing.tiles import overview, tiles
from yattle.install import Need
from yattle.install.chalk import chalk_lines
from yattle.install.installation import Installation, InstalledRun, installation
from yattle.install.opening_fixings import added_panels
from yattle.install.panel_answer import courses_on
from yattle.install.schedule import many_says
from yattle.install.stacked import DrillStack, drill_stacks
from yattle.measure import UNITS, Unit, say_length
from yattle.papers.job_book import book_of
from yattle.papers.numbers import in_rows, natural
from yattle.papers.order import order_groups
from yattle.papers.page import NOTE, Book, Figure, Tick, heading, said, side_by_side, table
from yattle.papers.progress import progress_says
from yattle.papers.roof import roof_plan
from yattle.roof.openings import outline
from yattle.roof.panels import PanelPlan, face_frame

_DEFER = "Local codes, makers' instructions and licensed practice outrank every line here."
_LETTERS = 60  # of edges that one page of the roof takes
_ROOM = 90.0  # mm of a page in which another part may begin
_SMALL = 16  # panels of a face that takes half the page's width
_PLAN = 0.44  # of the page's width that a stage's plan takes


def write_site_pack(derived: Derived, path: Path) -> None:
    """Everything that is taken up the ladder, in the order in which it is wanted."""
    book, fit, unit = book_of(derived, "site pack"), installation(derived), UNITS[derived.job.unit]
    place = derived.job.place or derived.job.name
    if derived.roof.facets:
        _whole_roof(book, derived, place)
    book.chapter("Order of fitting", place, new_page=bool(derived.roof.facets))
    for n in range(len(fit.order.stages)):
        _stage(book, derived, fit, n, unit)
    _kinds(book, derived, fit, unit)
    _panels(book, derived, unit)
    _chalk(book, derived, unit)
    _order(book, derived, unit)
    _to_look_at(book, fit, unit)
    book.add(said(_DEFER, NOTE, grey=0.3, before=3))
    book.save(path)


def _edges(derived: Derived) -> tuple[PlanEdge, ...]:
    return tuple(PlanEdge(found.run.id, found.edge) for found in roof_runs(derived.job))


def _whole_roof(book: Book, derived: Derived, place: str) -> None:
    """One page to pin up; of a roof of many edges its parts too, each as large as the page."""
    book.chapter("The roof", place)
    plan = roof_plan(derived)
    parts = tiles(plan, _LETTERS)
    book.add(Figure(plan if len(parts) == 1 else overview(plan), book.height - 60, room=10, points=10),
             said("E eave, G rake, R ridge, H hip, V valley, W wall above, S wall beside, T free top edge, B pitch "
                  "break; arrows run with the water. Pieces carry the letter of their edge and a number, from the left "
                  "as seen from outside.", NOTE, grey=0.3))
    for n, part in enumerate(parts if len(parts) > 1 else (), 1):
        book.chapter(f"The roof, part {n} of {len(parts)}", place)
        book.add(Figure(part, book.height - 20, room=10, points=10))


def _stage(book: Book, derived: Derived, fit: Installation, n: int, unit: Unit) -> None:
    names = sorted(fit.order.stages[n], key=natural)
    lines: list[Flowable] = [said(f"! {caution}", 10, bold=True) for caution in fit.cautions(n)]
    for name in names:
        takes = f" · {_takes(fit.runs[name], unit)}" if name in fit.runs else ""
        if name in fit.openings:
            takes = f" · {', '.join(_need(need, unit) for need in fit.openings[name])}{_adds(derived, name, unit)}"
        pieces = (piece.pattern for piece in fit.runs[name].run.pieces) if name in fit.runs else ()
        done = progress_says(derived.job, pieces)
        lines.append(Tick(f"{fit.item(name).name}{takes}{f' · {done}' if done else ''}", 9.5))
    checks: list[Flowable] = [Tick(f"check, {check}", 10) for check in fit.checks(n)]
    if not derived.roof.facets:
        book.add(heading(f"Stage {n + 1}"), *lines, *checks)
        return
    lit = {base_id(name): base_id(name) for name in names if name in fit.runs}
    faces = frozenset(fit.item(name).place for name in names if fit.item(name).kind in ("panels", "underlay"))
    plan = Figure(key_plan(derived.roof, _edges(derived), lit, faces), 58, room=10, points=7.5)
    if not lit and not faces:  # only pieces that have no edge of their own: nothing to light up
        book.together(heading(f"Stage {n + 1}"), *lines, *checks)
        return
    wide = book.width * _PLAN
    first, rest = lines[:_FIRST], lines[_FIRST:]
    book.together(heading(f"Stage {n + 1}"), side_by_side([plan, first], (wide, book.width - wide)))
    book.add(*rest, *checks)


_FIRST = 9  # lines of a stage that stand beside its plan


def _adds(derived: Derived, name: str, unit: Unit) -> str:
    """What an opening adds to the panels, in words; nothing where it adds none."""
    more = added_panels(derived, name)
    if more is None or (not more.pieces and abs(more.length) < 1.0):
        return ""
    pieces = f"{more.pieces} panel{'' if more.pieces == 1 else 's'} more, " if more.pieces else ""
    sign = "less" if more.length < 0 else "more"
    return f"; {pieces}{say_length(abs(more.length), unit, 0, mark=True)} of panel {sign}"


def _takes(fit: InstalledRun, unit: Unit) -> str:
    """What a run takes in one line."""
    long, many = say_length(fit.run.run.length, unit, 0, mark=True), len(fit.run.pieces)
    needs = ", ".join(_need(need, unit) for need in fit.needs)
    slides = f"; {fit.slides} joints free to slide" if fit.slides else ""
    move = say_length(fit.movement.whole, unit, mark=True)
    return f"{long}, {many} piece{'' if many == 1 else 's'}: {needs}; moves {move} a piece{slides}"


def _need(need: Need, unit: Unit) -> str:
    rows = f" in {need.rows} rows" if need.rows > 1 else ""
    return f"{many_says(need.what, need.many, unit)} {need.what}{rows}" + (
        ", the joint stands by it" if need.only else "")


_DRAWN = {"screws": "screw", "clips": "clip", "wall anchors": "anchor", "straps": "strap", "hook strip": "hook strip"}
"""What holds a section and is drawn on it, and what it is called there."""


def _kinds(book: Book, derived: Derived, fit: Installation, unit: Unit) -> None:
    """Each section as it lies, with what fixes it drawn and counted over the whole job."""
    groups = sections_of(derived)
    if groups:
        book.part("How it lies and what holds it", derived.job.metal_name, _ROOM)
    for n in range(0, len(groups), 2):
        row = [_kind(fit, group, unit, book.width / 2 - 3) for group in groups[n:n + 2]]
        book.together(side_by_side([*row, *[[]] * (2 - len(row))], [book.width / 2] * 2))


def _kind(fit: Installation, group: SectionGroup, unit: Unit, wide: float) -> list[Flowable]:
    total, rows, hidden = Counter[str](), dict[str, int](), dict[str, bool]()
    for run in group.runs:
        for need in fit.runs[run.run.id].needs if run.run.id in fit.runs else ():
            total[need.what] += need.many  # type: ignore[assignment]
            rows[need.what], hidden[need.what] = need.rows, need.hidden
    lines: list[Flowable] = [said(" ".join(run.run.id for run in group.runs), NOTE)]
    for what, many in total.items():
        each = f" in {rows[what]} rows" if rows[what] > 1 else ""
        lines.append(Tick(f"{many_says(what, many, unit)} {what}{each}{'' if hidden[what] else ', seen'}", 10))
    detail = group.runs[0].detail
    around = tuple((s.name, s.outline) for s in detail.around)
    legs = detail.roles.wings or detail.roles.water or (0,)
    drawn = tuple((_DRAWN[what], many) for what, many in rows.items() if what in _DRAWN)
    drawing = fixed_section(group.profile, detail.heading, unit, around, legs, drawn)
    return [heading(group.name, before=2), Figure(drawing, 36, room=9, points=8.5, wide=wide), *lines]


def _panels(book: Book, derived: Derived, unit: Unit) -> None:
    """The layout of every face with the lengths to order or to make; small faces two beside each other."""
    if derived.panels:
        book.part("Panels", derived.job.place or derived.job.name, _ROOM)
    small = [laid for laid in derived.panels.values() if len(laid.panels) <= _SMALL]
    for laid in derived.panels.values():
        if len(laid.panels) > _SMALL:
            book.together(*_face(derived, laid, unit, book.width))
    for n in range(0, len(small), 2):
        row = [_face(derived, laid, unit, book.width / 2 - 3) for laid in small[n:n + 2]]
        half = book.width / 2 - 3
        book.together(side_by_side([row[0], [], row[1] if len(row) > 1 else []], [half, 6, half]))


def _face(derived: Derived, laid: PanelPlan, unit: Unit, wide: float) -> list[Flowable]:
    frame = face_frame(derived.roof.facet(laid.facet))
    openings = tuple((p.opening.id, tuple(frame.at(corner) for corner in outline(p.opening)))
                     for p in derived.roof.openings if laid.facet in p.facets)
    numbers: dict[float, list[int]] = {}
    for panel in laid.panels:
        numbers.setdefault(-(-panel.length // 1), []).append(panel.n)
    lengths = "; ".join(f"{in_rows(which)}: {len(which)} × {say_length(length, unit)}"
                        for length, which in sorted(numbers.items(), reverse=True))
    how = (f"{len(laid.panels)} panels, coverage {say_length(laid.rule.coverage, unit, mark=True)}, laid from the "
           f"{laid.rule.side}, first seam at {say_length(laid.start, unit, mark=True)}, square to the eave")
    high = min(86.0, 42.0 + 4.0 * len(laid.panels)) if len(laid.panels) > _SMALL else 66.0
    return [heading(f"Face {laid.facet}"), said(how, 10),
            Figure(panel_drawing(laid, frame.width, openings, unit), high, room=15, points=8.5, wide=wide),
            Tick(f"panels {lengths}", 10),
            *(Tick(_stack_says(stack, unit), 10) for stack in drill_stacks(derived, laid.facet)),
            *_courses_say(derived, laid.facet)]


def _stack_says(stack: DrillStack, unit: Unit) -> str:
    """How the panels of one length are drilled together."""
    rows = ", ".join(f"{say_length(at, unit)} ({each} a rib)" for at, each in stack.rows)
    ribs = ", ".join(say_length(at, unit) for at in stack.ribs)
    return (f"drill {in_rows(list(stack.numbers))} in stacks: rows {rows} from the lower end; ribs {ribs} from the "
            "left edge")


def _courses_say(derived: Derived, face: str) -> list[Flowable]:
    """Of shingles: how many courses, how many shingles, how high the one is that is cut at the head."""
    courses = courses_on(derived, face)
    if not courses:
        return []
    unit, last = UNITS[derived.job.unit], courses[-1]
    whole, cut = sum(course.whole for course in courses), sum(course.cut for course in courses)
    short = f", the last cut to {say_length(last.high - last.low, unit, mark=True)}" if last.short else ""
    said_ = [Tick(f"{len(courses)} courses, {whole} whole shingles and {cut} to cut{short}", 10)]
    downs = [(course.n, down) for course in courses for down in course.valleys]
    rows = ", ".join(f"{n}: {say_length(down.foot, unit)} to {say_length(down.head, unit)}" for n, down in downs)
    return [*said_, *([Tick(f"turned down off the valley's line, by course, {rows}", 9.5)] if downs else [])]


def _chalk(book: Book, derived: Derived, unit: Unit) -> None:
    lines = chalk_lines(derived)
    if not lines:
        return
    on: dict[tuple[str, str, str, str], list[str]] = {}
    for line in lines:
        ends = line.leg if "." not in line.run else "closures stand"
        on.setdefault((line.run, line.edge, say_length(line.away, unit), f"{ends}, on the {line.on}"),
                      []).append(line.face)
    rows = [["", "for", "on face", "from edge", "away", "what ends there"]] + [
        ["", run, ", ".join(dict.fromkeys(faces)), edge, away, leg] for (run, edge, away, leg), faces in on.items()]
    book.part("Chalk lines", derived.job.place or derived.job.name, _ROOM)
    book.add(table(rows, (6, 20, 52, 24, 24, book.width - 126), right=(4,), ticks=True))


def _order(book: Book, derived: Derived, unit: Unit) -> None:
    book.part("To order", derived.job.place or derived.job.name, _ROOM)
    for title, lines in order_groups(derived, unit):
        if lines:
            book.add(heading(title), *(Tick(line) if title != "Left out" else said(line, 10) for line in lines))


def _to_look_at(book: Book, fit: Installation, unit: Unit) -> None:
    lines = list(_looks(fit, unit))
    if lines:
        book.add(heading("Look at"), *(Tick(line, 10) for line in lines))


def _looks(fit: Installation, unit: Unit) -> Iterator[str]:
    for run, many in Counter(joint.run for joint in fit.water.sealed).items():
        yield f"{run}: by sealant alone {many} joint{'' if many == 1 else 's'}: clean and dry, two unbroken beads"
    for item, finding in fit.findings:
        why = finding.reason(unit)
        yield f"{item} {finding.says(unit)}".strip() + (f": {why}" if why else "")
