"""Tolerance: how often each row still holds when pieces come out as a shop makes them and are laid as hands lay them.

Sampled on the assembly: of every kind of section one run, its pieces marked, folded and cut a little off by chance and
laid a little off in their laps, and the rows asked again. What matters most is the measure by which alone a row fails
most.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from yattle.built.bears import contacts
from yattle.built.cover import covers
from yattle.built.ends import reaches
from yattle.built.hook import hooks
from yattle.built.mutants import longer, scattered
from yattle.built.placed import PlacedPiece
from yattle.built.relations import Relations
from yattle.built.standing import Standing, stand
from yattle.derive.derived import Derived
from yattle.job.learn import scatter_of
from yattle.job.scatter import Scatter
from yattle.pattern import Pattern

TRIES = 12
_MARKED = 0.5  # mm: standard deviation of a fold marked out and set by hand
_LEGS = 12  # more folds than that no section has
_KINDS = ("folds marked", "angles folded", "lengths cut", "laid in the laps")


@dataclass(frozen=True)
class Tolerance:
    """Of a row: the share from 0 to 1 of what was asked that still holds, and the measure that matters most."""

    row: str
    holds: float
    most: str


def sampled(derived: Derived, placed: list[PlacedPiece], standing: dict[str, Standing], tries: int = TRIES,
            seed: int = 1) -> tuple[Tolerance, ...]:
    """Each row with what scatter makes of it, the same for the same job."""
    reps = _representatives(derived)
    asked = Relations.of(derived, placed, frozenset(reps))
    whole = _shares(derived, placed, standing, asked, (reps, _KINDS, tries, seed))
    alone = {kind: _shares(derived, placed, standing, asked, (reps, (kind,), max(tries // 3, 4), seed))
             for kind in _KINDS}
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
    patterns, kinds, tries, seed = draw
    rng, scatter = np.random.default_rng(seed), scatter_of(derived.job)
    mine = [one for one in placed if one.pattern in patterns]
    held: dict[str, list[bool]] = {"bears": [], "cover": [], "hook": []}
    for _ in range(tries):
        made = {name: _scattered(pattern, rng, scatter, kinds) for name, pattern in patterns.items()}
        laid = {one.name: one for one in (_laid(stand(made[each.pattern], each), rng, scatter, kinds) for each in mine)}
        for row, ok in _rows(asked, {**standing, **laid}):
            held[row].append(ok)
    return {row: float(np.mean(oks)) for row, oks in held.items() if oks}


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
