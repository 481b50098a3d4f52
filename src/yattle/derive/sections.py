"""The different sections of a job and the pieces that have them: what is set up once at the brake and folded in one go,
whatever run it is for."""

from __future__ import annotations

from dataclasses import dataclass, replace

from yattle.derive.derived import Derived
from yattle.derive.run import DerivedRun
from yattle.details import DetailPiece
from yattle.details.common import EndNote
from yattle.pattern.piece_ends import PieceEnd, piece_ends
from yattle.section import Girth, Profile


@dataclass(frozen=True)
class EndKind:
    """A kind of end that pieces of a section have: its letter, one such end, on which sides it is found, and what it is
    in words."""

    letter: str
    end: PieceEnd
    sides: frozenset[str]
    note: EndNote

    @property
    def is_plain(self) -> bool:
        """Whether it is square and has no tabs: lines to mark are all there is to it."""
        return len(self.end.corners) <= 2 and self.end.depth <= 0.05 and not self.end.folds


@dataclass(frozen=True)
class PieceRow:
    """Equal pieces of one run: the places of each in ``run.pieces``, their ``ends`` by letter (``""`` square, ``"?"``
    marked out as a whole)."""

    run: DerivedRun
    places: tuple[int, ...]
    ends: tuple[str, str]

    @property
    def piece(self) -> DetailPiece:
        """The first of them."""
        return self.run.pieces[self.places[0]]

    @property
    def many(self) -> int:
        """How many there are to make."""
        return sum(self.run.pieces[n].pattern.qty for n in self.places)


@dataclass(frozen=True)
class SectionGroup:
    """A section, number ``n`` of the job, with the runs that have it, its pieces row by row and the kinds of ends."""

    n: int
    name: str
    profile: Profile
    girth: Girth
    runs: tuple[DerivedRun, ...]
    rows: tuple[PieceRow, ...]
    ends: tuple[EndKind, ...]

    @property
    def tapers(self) -> bool:
        """Whether its pieces differ from end to end, so that folds have lines and no one mark."""
        return self.rows[0].piece.girths is not None

    @property
    def many(self) -> int:
        """How many pieces it has."""
        return sum(row.many for row in self.rows)


def sections_of(derived: Derived) -> tuple[SectionGroup, ...]:
    """Every different section, in the order of its first run."""
    groups: dict[object, list[DerivedRun]] = {}
    for run in derived.runs:
        if run.pieces and run.detail.profile is not None and run.detail.girth is not None:
            groups.setdefault(_kind(run.detail.profile, run.detail.name), []).append(run)
    return tuple(_group(n, runs) for n, runs in enumerate(groups.values(), 1))


def section_of(derived: Derived, run_id: str) -> SectionGroup | None:
    """The section that a run has; ``None`` where it has no pieces."""
    return next((group for group in sections_of(derived) if any(run.run.id == run_id for run in group.runs)), None)


def _kind(profile: Profile, name: str) -> object:
    """The same for sections whose strokes are the same: legs within 0.05 mm, turns within 0.05°, hems and metal."""
    return (name, profile.metal.name, profile.measured, tuple(round(leg, 1) for leg in profile.legs),
            tuple(round(turn, 1) for turn in profile.turns), profile.hem_a, profile.hem_b)


def _group(n: int, runs: list[DerivedRun]) -> SectionGroup:
    first, ends, letters = runs[0].detail, dict[object, EndKind](), dict[int, tuple[str, str]]()
    rows: list[PieceRow] = []
    for run in runs:
        kinds: dict[object, list[int]] = {}
        for place, piece in enumerate(run.pieces):
            letters[place] = _lettered(piece, ends)
            size = round(piece.pattern.length, 1), round(piece.pattern.girth, 1)
            whole = piece.pattern.outline if "?" in letters[place] else ()
            kinds.setdefault((size, piece.hand, letters[place], whole), []).append(place)
        rows += [PieceRow(run, tuple(places), letters[places[0]]) for places in kinds.values()]
    assert first.profile is not None and first.girth is not None
    return SectionGroup(n, first.name, first.profile, first.girth, tuple(runs), tuple(rows), tuple(ends.values()))


def _lettered(piece: DetailPiece, ends: dict[object, EndKind]) -> tuple[str, str]:
    """The letters of a piece's ends, new kinds put to those that are known."""
    found = piece_ends(piece.pattern)
    if found is None:
        return "?", "?"
    made = []
    for end, note in zip(found, piece.ends, strict=True):
        if end.is_square:
            made.append("")
            continue
        kind = ends.setdefault(end.kind, EndKind(_letter(len(ends)), end, frozenset(), note))
        ends[end.kind] = replace(kind, sides=kind.sides | {end.side})
        made.append(kind.letter)
    return made[0], made[1]


def _letter(n: int) -> str:
    """``a`` to ``z``, then ``aa``, ``ab`` …"""
    return (_letter(n // 26 - 1) if n >= 26 else "") + chr(ord("a") + n % 26)
