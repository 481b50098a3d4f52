"""What a change would do to pieces that are cut already: said before it is made."""

from __future__ import annotations

from yattle.derive.derived import Derived
from yattle.job.states import PieceState, state_of

_MOST_NAMED = 4


def undone(before: Derived, after: Derived) -> tuple[PieceState, ...]:
    """Pieces of which copies are cut as they are in ``before`` and would be no use in ``after``: they have another
    shape there, or are gone; each with the number of copies that is lost, and how far those have come.

    None where the two differ in what is cut itself: marking a cut, or taking it back, is no change of a piece.
    """
    if not before.job.cut or before.job.cut != after.job.cut:
        return ()
    made = {done.piece for done in before.job.cut}
    now = {pattern.id: state_of(after.job, pattern) for pattern in after.patterns if pattern.id in made}
    was = [state_of(before.job, pattern) for pattern in before.patterns if pattern.id in made]
    return tuple(_lost(one, now.get(one.piece, PieceState(one.piece, 0))) for one in was
                 if now.get(one.piece, PieceState(one.piece, 0)).cut < one.cut)


def _lost(was: PieceState, now: PieceState) -> PieceState:
    return PieceState(was.piece, was.wanted, was.cut - now.cut, max(was.folded - now.folded, 0),
                      max(was.fitted - now.fitted, 0))


def undone_says(found: tuple[PieceState, ...]) -> str:
    """Which pieces, how many of them, and how far they have come, in one sentence; empty where there are none."""
    if not found:
        return ""
    named = [f"{one.piece} ({_how_far(one)})" for one in found[:_MOST_NAMED]]
    more = len(found) - len(named)
    rest = f" and {more} more" if more else ""
    one = sum(piece.cut for piece in found) == 1
    return (f"{', '.join(named)}{rest} {'is' if one else 'are'} made already and would not be used: with this change "
            f"{'it is another piece' if one else 'they are other pieces'}, to be cut again.")


def _how_far(one: PieceState) -> str:
    said = [f"{many} {word}" for many, word in ((one.cut, "cut"), (one.folded, "folded"), (one.fitted, "fitted"))
            if many]
    return ", ".join(said)
