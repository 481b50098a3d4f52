"""The piece that is selected, of a run or of an opening, as papers want it."""

from __future__ import annotations

from dataclasses import dataclass

from yattle.brake import FoldOrder
from yattle.derive.derived import Derived
from yattle.papers.job_book import paper_size
from yattle.papers.practice import Practice
from yattle.pattern import Pattern
from yattle.section import Profile
from yattle.session.session import Selection


@dataclass(frozen=True)
class SelectedPiece:
    """A pattern, its section if it has one, the run it is of."""

    pattern: Pattern
    title: str
    profile: Profile | None = None
    run: str | None = None


def selected_piece(derived: Derived, selection: Selection) -> SelectedPiece | None:
    """The piece of ``selection``; ``None`` where there is none."""
    if selection.opening:
        made = derived.opening(selection.opening).pieces
        pattern = made[selection.piece].pattern if selection.piece < len(made) else None
        return SelectedPiece(pattern, f"{pattern.id} · {pattern.name}") if pattern is not None else None
    run = derived.run(selection.run) if selection.run else None
    if run is None or selection.piece >= len(run.pieces):
        return None
    piece = run.pieces[selection.piece]
    return SelectedPiece(piece.pattern, f"{piece.id} · {piece.pattern.name} · {piece.hand}", run.detail.profile,
                         run.run.id)


def practice_of(derived: Derived, piece: SelectedPiece) -> Practice:
    """What is put on paper of a piece; a run's folds in the order that the brake wants, then the tabs."""
    order = derived.order(piece.run) if piece.run else None
    folds = None
    if isinstance(order, FoldOrder):
        known = [fold.id for fold in piece.pattern.folds]
        brake = [step.fold for step in order.steps if step.fold in known]
        folds = tuple(dict.fromkeys([*brake, *known]))
    return Practice(piece.pattern, f"{derived.job.name} · {piece.title}", derived.job.unit, paper_size(derived),
                    piece.profile, folds)
