"""The patterns of a job as they are written into a pack, and as they are found there when they are read again."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from yattle.derive.derived import Derived
from yattle.errors import YattleError
from yattle.files import read_text, safe_name
from yattle.install.predrill import drilled
from yattle.pattern import Pattern
from yattle.pattern.folded import fold_tree
from yattle.section import Profile
from yattle.values import read

FOLDER = "patterns"
_MOST_OFF = 1000.0  # mm that a side of an altered pattern may be off: what is more is no piece of this roof
_CANNOT_FOLD = (ArithmeticError, LookupError, ValueError)  # what folding stumbles over in a sheet that was altered


@dataclass(frozen=True)
class ToWrite:
    """A pattern as it is written: with its screws, the section it is cut to (none of a piece that is no straight
    section) and its ``title``."""

    pattern: Pattern
    profile: Profile | None
    title: str


@dataclass(frozen=True)
class ReadAgain:
    """The patterns that a pack holds of a job, and what is wrong ``said`` of each that is not as the job has it."""

    patterns: tuple[Pattern, ...]
    said: tuple[str, ...]


def patterns_of(derived: Derived) -> Iterator[ToWrite]:
    """Every pattern of a job as it is written into a pack, in mm."""
    for run in derived.runs:
        for n, piece in enumerate(run.pieces):
            yield ToWrite(drilled(derived, run.run.id, n), run.detail.profile,
                          f"{piece.id} · {piece.pattern.name} · {piece.hand}")
    for opening in derived.openings:
        for made in opening.pieces:
            yield ToWrite(made.pattern, None, f"{made.pattern.id} · {made.pattern.name}")


def read_again(derived: Derived, pack: Path) -> ReadAgain | None:
    """The patterns as they lie in a pack, lengths in mm; ``None`` where it holds none of the job's."""
    wanted = [one.pattern for one in patterns_of(derived)]
    if not any(_place(pack, one).exists() for one in wanted):
        return None
    found = [_read(pack, own) for own in wanted]
    return ReadAgain(tuple(one for one, _ in found if one is not None), tuple(says for _, says in found if says))


def _place(pack: Path, pattern: Pattern) -> Path:
    return pack / FOLDER / f"{safe_name(pattern.id)}.json"


def _read(pack: Path, own: Pattern) -> tuple[Pattern | None, str]:
    """One of them, where it can be read and folded up, and what is wrong with it."""
    place = _place(pack, own)
    named = f"{FOLDER}/{place.name}"
    if not place.exists():
        return None, f"{named} is not there: write the papers anew"
    try:
        found = read(Pattern, read_text(place))
        fold_tree(found)
    except YattleError as wrong:
        return None, f"{named}: {' '.join(str(wrong).split())}: write the papers anew"
    except _CANNOT_FOLD:
        return None, f"{named} does not fold up: write the papers anew"
    if found == own:
        return found, ""
    says = f"{named} is not the pattern that the job comes to: write the papers anew"
    return (found if _can_stand_for(found, own) else None), says


def _can_stand_for(found: Pattern, own: Pattern) -> bool:
    """Whether a pattern that was altered can be put at the place of the job's own, to see what that does."""
    return found.id == own.id and found.qty == own.qty and all(
        abs(a - b) < _MOST_OFF for a, b in zip(found.box, own.box, strict=True))
