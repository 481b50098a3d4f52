"""Where every piece lies: from its written pattern, folded up sharp, into the roof's coordinates."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from yattle.built.corner_frames import corner_frame
from yattle.built.frames import opening_frame, pan_frames, shingle_frames
from yattle.built.layers import layer_seats
from yattle.built.sections import Seat, rows_of
from yattle.derive.corners import run_frame
from yattle.derive.derived import Derived
from yattle.derive.face_pans import is_pans
from yattle.derive.frames import Frame
from yattle.derive.lift import lift_of, mould_lines, trim_of
from yattle.derive.openings import OWN, DerivedOpening
from yattle.derive.roof_runs import RoofRun, base_id
from yattle.derive.run import DerivedRun
from yattle.details import DetailPiece
from yattle.details.all_forms import ANSWERS
from yattle.details.face_pans import FacePans
from yattle.details.forms import FormPiece
from yattle.install.fitting import FittingOrder, fitting
from yattle.pattern import Pattern
from yattle.pattern.folded import fold_tree
from yattle.pattern.proof import laid_on
from yattle.pattern.surface import Array

Point = tuple[float, float]


@dataclass(frozen=True)
class PlacedPiece:
    """A piece in the roof. ``base``: a place of its pattern; the facet it lies in keeps the plane z = 0 with its paint
    up while the rest is folded up sharp; ``place``: rows (3, 4) that carry those coordinates into the roof's, mm.
    ``item``: what goes on with it, ``stage``: when, from 1; ``on``: what it lies on, by item."""

    pattern: str
    copy: int
    base: Point
    place: Array
    item: str
    stage: int
    on: tuple[str, ...]


def name_of(pattern: str, copy: int, many: int) -> str:
    """What one of the ``many`` pieces of a pattern (a count, no mm) is called among what stands on the roof.

    >>> name_of("R1-1", 1, 1), name_of("R1.z1-1", 2, 38)
    ('R1-1', 'R1.z1-1/2')
    """
    return pattern if many == 1 else f"{pattern}/{copy}"


@dataclass(frozen=True)
class WithoutPlace:
    """A piece whose place is not worked out, and why."""

    pattern: str
    why: str


def places_of(derived: Derived) -> tuple[list[PlacedPiece], list[WithoutPlace]]:
    """Every piece of a job at its place, and those that have none yet."""
    fit = fitting(derived)
    found: list[PlacedPiece] = []
    missing: list[WithoutPlace] = []
    for run in derived.runs:
        _sort(places_of_run(derived, run, fit), found, missing)
    for opening in derived.openings:
        _sort(places_of_opening(derived, opening, fit), found, missing)
    return found, missing


def _sort(made: Iterator[PlacedPiece | WithoutPlace], found: list[PlacedPiece], missing: list[WithoutPlace]) -> None:
    for one in made:
        if isinstance(one, PlacedPiece):
            found.append(one)
        else:
            missing.append(one)


# -- runs -----------------------------------------------------------------------------------------------


def places_of_run(derived: Derived, run: DerivedRun, fit: FittingOrder) -> Iterator[PlacedPiece | WithoutPlace]:
    """The pieces of one run at their places, mm."""
    edge = derived.edge_runs.get(base_id(run.run.id))
    seat = _edge_seat(derived, run, edge) if edge is not None and run.pieces and not run.run.layer else None
    for piece in run.pieces:
        seats = ((seat, piece.start),) if seat is not None else () if edge is None else (
            layer_seats(derived, run, piece) or ())
        if len(seats) != piece.pattern.qty:
            yield WithoutPlace(piece.id, _why_not(run, edge is None))
            continue
        each, base = _straight(piece, seats) if piece.flat is None else _laid_flat(derived, run, piece, seats)
        for copy, rows in enumerate(each, 1):
            yield PlacedPiece(piece.pattern.id, copy, base, rows, run.run.id,
                              fit.order.stage_of(run.run.id) + 1, fit.beneath(run.run.id))


def _straight(piece: DetailPiece, seats: Sequence[tuple[Seat, float]]) -> tuple[list[Array], Point]:
    rows, facet = rows_of(piece.pattern, piece.profile, seats)
    return rows, _inside(facet.flat)


def _laid_flat(derived: Derived, run: DerivedRun, piece: DetailPiece,
               seats: Sequence[tuple[Seat, float]]) -> tuple[list[Array], Point]:
    """A piece that was laid flat by itself: from the faces it was laid flat from, told along its run, up and out."""
    assert piece.flat is not None
    laid = laid_on(piece.pattern, piece.flat.seats, piece.flat.faces)
    if laid is None:
        return _straight(piece, [(seat, piece.start) for seat, _ in seats])
    rows, (turn, by), mould = [], laid, mould_lines(trim_of(derived, run), run.pieces[0])
    for seat, _ in seats:
        out, up = (seat.corners - mould)[0].tolist()
        own = seat.axes[[0, 2, 1]].T
        rows.append(np.column_stack((own @ turn, own @ (by + np.array([0.0, up, out])) + seat.at)))
    return rows, _inside(_root_flat(piece.pattern))


def _why_not(run: DerivedRun, free: bool) -> str:
    if free:
        return "it lies on no edge of the roof"
    return f"where a {run.run.layer or 'piece'} of {base_id(run.run.id)} lies is not worked out"


def _edge_seat(derived: Derived, run: DerivedRun, found: RoofRun) -> Seat:
    """A trim in the frame of its edge: its section as it is installed, raised to what it lies on."""
    left, _, frame = run_frame(derived.roof, found.edge)
    corners = mould_lines(trim_of(derived, run), run.pieces[0])
    return Seat(frame, left, corners + lift_of(derived, run))


def _inside(flat: Array) -> Point:
    """A place well inside a facet."""
    import shapely

    point = shapely.Polygon(flat).representative_point()
    return float(point.x), float(point.y)


# -- openings and pans ----------------------------------------------------------------------------------


def places_of_opening(derived: Derived, opening: DerivedOpening,
                      fit: FittingOrder) -> Iterator[PlacedPiece | WithoutPlace]:
    """The pieces of an opening, a corner or of a face's pans at their places, mm."""
    pans = opening.form if isinstance(opening.form, FacePans) else None
    frame = None if pans is not None else opening_frame(derived, opening) or corner_frame(derived, opening)
    item = f"panels {opening.id.removeprefix('pans ')}" if is_pans(opening) else opening.id
    for n, piece in enumerate(made for made in opening.pieces if not made.paper):
        frames = (pan_frames(derived, opening, pans, n) if pans is not None else
                  shingle_frames(derived, opening) if is_pans(opening) else _like(frame, piece))
        laid = laid_on(piece.pattern, piece.flat.seats, piece.flat.faces)
        for copy, each in enumerate(frames, 1):
            if each is None or laid is None:
                yield WithoutPlace(piece.pattern.id, _nowhere(opening))
                break
            turn, by = laid
            rows = np.column_stack((each.turn @ turn, each.turn @ by + each.at))
            yield PlacedPiece(piece.pattern.id, copy, _inside(_root_flat(piece.pattern)), rows, item,
                              fit.order.stage_of(item) + 1, fit.beneath(item))


def _nowhere(opening: DerivedOpening) -> str:
    """Why a piece that is no run's has no place."""
    if opening.kind == OWN:
        return "it is of its own, at no place of the roof"
    return f"where it lies at its corner is chosen on the roof ({ANSWERS.get(opening.detail, opening.detail)})"


def _like(frame: Frame | None, piece: FormPiece) -> list[Frame | None]:
    """The frames of a piece and of the further ones like it."""
    if frame is None or len(piece.surface.also) != piece.pattern.qty - 1:
        return [frame if piece.pattern.qty == 1 else None] * piece.pattern.qty
    pivot = np.array(piece.surface.faces[0].corners).mean(axis=0)
    return [frame, *(_also(frame, np.array(by), half, pivot) for by, half in piece.surface.also)]


def _also(frame: Frame, by: Array, half: bool, pivot: Array) -> Frame:
    """The frame of a further like piece; turned half round about the upright through the middle of the
    first one's first face, mm."""
    if not half:
        return Frame(frame.turn, frame.at + frame.turn @ by)
    turn = np.diag([-1.0, -1.0, 1.0])
    return Frame(frame.turn @ turn, frame.at + frame.turn @ (pivot - turn @ pivot + by))


def _root_flat(pattern: Pattern) -> Array:
    return fold_tree(pattern).resting.flat

