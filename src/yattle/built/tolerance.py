"""Tolerance: how often each row still holds when pieces come out as a shop makes them and are laid as hands lay them.

Sampled on the assembly: of every kind of section one run, its pieces marked, folded and cut a little off by chance and
laid a little off in their laps, and the rows asked again. Rows that are asked pair by pair are counted by pairs; what
goes through what, open places, water and the way in by the pieces that it is said of. What matters most is the measure
by which alone a row fails most.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

import numpy as np

from yattle.built.bears import contacts
from yattle.built.checked import check_standing
from yattle.built.cover import covers
from yattle.built.ends import reaches
from yattle.built.hook import hooks
from yattle.built.mutants import longer, scattered
from yattle.built.placed import PlacedPiece
from yattle.built.relations import Relations
from yattle.built.said import names_in, said_of
from yattle.built.standing import Standing, stand
from yattle.derive.derived import Derived
from yattle.job.learn import scatter_of
from yattle.job.scatter import Scatter
from yattle.pattern import Pattern

TRIES = 12
_MARKED = 0.5  # mm: standard deviation of a fold marked out and set by hand
_LEGS = 12  # more folds than that no section has
_ROUND = ("clash", "slot", "water", "goes in")  # rows that are counted by the pieces they speak of
_ALWAYS = 0.995  # of what was asked: that often a row holds as good as always
_KINDS = ("folds marked", "angles folded", "lengths cut", "laid in the laps")


@dataclass(frozen=True)
class Tolerance:
    """Of a row: the share from 0 to 1 of what was asked that still holds, and the measure that matters most."""

    row: str
    holds: float
    most: str


def scatter_says(found: tuple[Tolerance, ...]) -> str:
    """How often what was asked holds with the shop's scatter, where not always, and what matters most."""
    worst = min(found, key=lambda one: one.holds, default=None)
    if worst is None:
        return ""
    rows = ", ".join(f"{one.row} {one.holds:.0%}" for one in found if one.holds < _ALWAYS)
    return f"{rows}; {worst.most} matters most" if rows else "every row always holds"


def sampled(derived: Derived, placed: list[PlacedPiece], standing: dict[str, Standing], tries: int = TRIES,
            seed: int = 1, stopped: Callable[[], bool] = lambda: False) -> tuple[Tolerance, ...]:
    """Each row with what scatter makes of it, the same for the same job; nothing where it was ``stopped``."""
    reps = _representatives(derived)
    asked = Relations.of(derived, placed, frozenset(reps))

    def shares(kinds: tuple[str, ...], pairs: int, rounds: int) -> dict[str, float]:
        found = _shares(derived, placed, standing, asked, (reps, kinds, pairs, seed))
        if not stopped():
            found |= _round_about(derived, placed, standing, (reps, kinds, rounds, seed))
        return found
    whole = shares(_KINDS, tries, max(tries // 4, 1))
    alone = {kind: shares((kind,), max(tries // 3, 4), 1) for kind in _KINDS if not stopped()}
    if len(alone) < len(_KINDS):
        return ()
    return tuple(Tolerance(row, share, min(_KINDS, key=lambda kind: alone[kind][row]) if share < 1.0 else "")
                 for row, share in whole.items())


def _representatives(derived: Derived) -> dict[str, Pattern]:
    """The first two pieces of one run of each kind of section."""
    found, seen = dict[str, Pattern](), set[tuple[object, ...]]()
    for run in derived.runs:
        if run.family is None or not run.pieces or run.run.id.partition(".")[0] not in derived.edge_runs:
            continue
        legs = run.pieces[0].profile.legs
        key = (run.family.name, run.run.layer, *(round(leg) for leg in legs))
        if key not in seen:
            seen.add(key)
            found |= {piece.id: piece.pattern for piece in run.pieces[:2] if piece.flat is None}
    return found


def _shares(derived: Derived, placed: list[PlacedPiece], standing: dict[str, Standing], asked: Relations,
            draw: tuple[dict[str, Pattern], tuple[str, ...], int, int]) -> dict[str, float]:
    held: dict[str, list[bool]] = {"bears": [], "cover": [], "hook": []}
    for laid in _made(derived, placed, draw):
        for row, ok in _rows(asked, {**standing, **laid}):
            held[row].append(ok)
    return {row: float(np.mean(oks)) for row, oks in held.items() if oks}


def _round_about(derived: Derived, placed: list[PlacedPiece], standing: dict[str, Standing],
                 draw: tuple[dict[str, Pattern], tuple[str, ...], int, int]) -> dict[str, float]:
    """Of each row that looks at what is round a piece, the share of pieces of which it says nothing."""
    held: dict[str, list[bool]] = {row: [] for row in _ROUND}
    for laid in _made(derived, placed, draw):
        found = check_standing(derived, placed, {**standing, **laid}, frozenset(draw[0]))
        said = [(one["row"], names_in(one["says"])) for one in said_of(found)]
        for row in _ROUND:
            named = frozenset[str]().union(*(names for which, names in said if which == row))
            held[row] += [name not in named for name in draw[0]]
    return {row: float(np.mean(oks)) for row, oks in held.items() if oks}


def _made(derived: Derived, placed: list[PlacedPiece],
          draw: tuple[dict[str, Pattern], tuple[str, ...], int, int]) -> Iterator[dict[str, Standing]]:
    """Pieces of some patterns again and again, each time a little off by chance, by their names."""
    patterns, kinds, tries, seed = draw
    rng, scatter = np.random.default_rng(seed), scatter_of(derived.job)
    mine = [one for one in placed if one.pattern in patterns]
    for _ in range(tries):
        made = {name: _scattered(pattern, rng, scatter, kinds) for name, pattern in patterns.items()}
        laid = (_laid(stand(made[each.pattern], each), rng, scatter, kinds) for each in mine)
        yield {one.name: one for one in laid}


def _rows(asked: Relations, standing: dict[str, Standing]) -> Iterator[tuple[str, bool]]:
    yield from (("bears", one.ok) for one in contacts(
        (standing[name], grounds) for name, grounds in asked.seats if name in standing))
    yield from (("cover", one.ok and not one.long) for one in covers(standing, asked.laps))
    yield from (("cover", one.ok) for one in reaches(standing, standing, asked.ends))
    yield from (("hook", one.ok) for one in hooks(standing, asked.locks, asked.grips))


def _scattered(pattern: Pattern, rng: np.random.Generator, scatter: Scatter, kinds: tuple[str, ...]) -> Pattern:
    """A pattern as it comes out: its legs, its turns and its length off by chance."""
    legs, turns = rng.normal(0, _MARKED, _LEGS), rng.normal(0, scatter.angle, _LEGS)
    long = float(rng.normal(0, scatter.length)) if "lengths cut" in kinds else 0.0
    legs, turns = legs * ("folds marked" in kinds), turns * ("angles folded" in kinds)
    made = scattered(legs.tolist(), turns.tolist())(pattern) or pattern
    return (longer(long)(made) or made) if long else made


def _laid(piece: Standing, rng: np.random.Generator, scatter: Scatter, kinds: tuple[str, ...]) -> Standing:
    by = piece.way * float(rng.normal(0, scatter.laying))
    return replace(piece, parts=tuple(part + by for part in piece.parts)) if "laid in the laps" in kinds else piece
