"""The roof put together again after an edit of some runs: what the edit does not touch stays where it is and as it was
found. What comes out is soon there and holds for what the edit touches; the whole is asked afterwards."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator
from dataclasses import fields, replace

import numpy as np
import shapely

from yattle.built.answer import Built
from yattle.built.checked import Checked, check_standing, near_of
from yattle.built.placed import PlacedPiece, WithoutPlace, name_of, places_of_opening, places_of_run
from yattle.built.standing import Standing, stand_all
from yattle.derive.derived import Derived
from yattle.derive.openings import DerivedOpening
from yattle.derive.roof_runs import base_id
from yattle.derive.run import DerivedRun
from yattle.install.fitting import FittingOrder, fitting

_OF_ALL = ("system", "metal", "thickness", "metals", "measured", "allowance", "k", "weather", "own", "schools", "roof",
           "faces", "panels", "structure", "systems", "laps")
"""Fields of a job that all pieces, their places or their order hang on."""
_BY_PLACE = ("slots", "drops")
"""Rows that are asked of parts of the plan, not of pieces."""


def put_together_again(derived: Derived, before: Built) -> Built | None:
    """The roof of a job of which the one ``before`` differs in some runs or openings; mm. ``None`` where more differs
    than can be told apart, or patterns were others than those of the job."""
    one, other = derived.job, before.derived.job
    if before.said or any(getattr(one, name) != getattr(other, name) for name in _OF_ALL):
        return None
    placed, missing = _placed(derived, before)
    patterns = {pattern.id: pattern for pattern in derived.patterns}
    had = {(piece.pattern, piece.copy): piece for piece in before.placed}
    was = {pattern.id: pattern for pattern in before.derived.patterns}
    names, anew = dict[str, Standing | None](), []
    for piece in placed:
        pattern, old = patterns[piece.pattern], had.get((piece.pattern, piece.copy))
        name = name_of(pattern.id, piece.copy, pattern.qty)
        # the very pattern: of a run worked out anew other things may be asked, though its pieces came out alike
        stays = name in before.standing and old is not None and was[pattern.id] is pattern and _same_place(piece, old)
        names[name] = before.standing[name] if stays else None  # they stand in the order they are placed in
        anew += [] if stays else [piece]
    stood = stand_all(derived.patterns, anew)
    standing = {name: stood[name] if one is None else one for name, one in names.items()}
    changed = {name for name in was if name not in patterns} | {one.pattern for one in anew}
    checked = before.checked
    if changed:
        touching = frozenset(changed)
        near = near_of((*before.standing.values(), *stood.values()), touching)
        checked = _merged(checked, check_standing(derived, placed, standing, touching, near), touching, near)
    return Built(derived, tuple(placed), tuple(missing), standing, checked)


def lies_otherwise(built: Built, before: Built) -> bool:
    """Whether anything of the roof ``before`` lies otherwise now, or goes on at another time."""
    now, was = ([(one.pattern, one.copy, one.stage, one.on) for one in roof.placed] for roof in (built, before))
    return built.checked is not before.checked or now != was


def _same_place(one: PlacedPiece, other: PlacedPiece) -> bool:
    return one is other or (one.base == other.base and bool(np.array_equal(one.place, other.place)))


def _placed(derived: Derived, before: Built) -> tuple[list[PlacedPiece], list[WithoutPlace]]:
    """Every piece at its place; those of runs and openings that are as they were stay there."""
    fit, kept = fitting(derived), _kept_runs(derived, before.derived)
    old = defaultdict[str, list[PlacedPiece | WithoutPlace]](list)
    pieces: tuple[PlacedPiece | WithoutPlace, ...] = (*before.placed, *before.missing)
    for one in pieces:
        old[one.pattern].append(one)
    made: list[PlacedPiece | WithoutPlace] = []
    for run in derived.runs:
        if base_id(run.run.id) in kept:
            made += _stay(fit, run.run.id, [one for piece in run.pieces for one in old[piece.pattern.id]])
        else:
            made += places_of_run(derived, run, fit)
    same = _kept_openings(derived.openings, before.derived.openings)
    for opening in derived.openings:
        if opening.id in same:
            made += [one for piece in opening.pieces if not piece.paper for one in old[piece.pattern.id]]
        else:
            made += places_of_opening(derived, opening, fit)
    return ([one for one in made if isinstance(one, PlacedPiece)],
            [one for one in made if isinstance(one, WithoutPlace)])


def _kept_runs(derived: Derived, before: Derived) -> frozenset[str]:
    """The runs that are as they were, and whose layers are."""
    now, was = _by_base(derived.runs), _by_base(before.runs)
    return frozenset(name for name, runs in now.items() if len(runs) == len(was.get(name, ())) and all(
        one is other for one, other in zip(runs, was[name], strict=True)))


def _by_base(runs: tuple[DerivedRun, ...]) -> dict[str, list[DerivedRun]]:
    found = defaultdict[str, list[DerivedRun]](list)
    for run in runs:
        found[base_id(run.run.id)].append(run)
    return found


def _kept_openings(now: tuple[DerivedOpening, ...], before: tuple[DerivedOpening, ...]) -> frozenset[str]:
    """The openings, corners and pans whose pieces are all as they were."""
    was = {one.id: one for one in before}
    return frozenset(one.id for one in now if one.id in was and len(one.pieces) == len(was[one.id].pieces) and all(
        piece.pattern is old.pattern for piece, old in zip(one.pieces, was[one.id].pieces, strict=True)))


def _stay(fit: FittingOrder, item: str,
          pieces: list[PlacedPiece | WithoutPlace]) -> Iterator[PlacedPiece | WithoutPlace]:
    """Pieces of one item where they are; when they go on may be another time now."""
    stage, on = fit.order.stage_of(item) + 1, fit.beneath(item)
    for one in pieces:
        if isinstance(one, PlacedPiece) and (one.stage, one.on) != (stage, on):
            yield replace(one, stage=stage, on=on)
        else:
            yield one


def _merged(before: Checked, found: Checked, touching: frozenset[str], near: shapely.Geometry) -> Checked:
    """What was found now, and of what was found before all that speaks of nothing that is asked now."""
    shapely.prepare(near)
    rows = {}
    for row in (field.name for field in fields(Checked)):
        new, old = getattr(found, row), getattr(before, row)
        asked = set(map(_print, new))
        rows[row] = (*(one for one, names in zip(old, map(_print, old), strict=True)
                       if names not in asked and touching.isdisjoint(name.partition("/")[0] for name in names)
                       and not (row in _BY_PLACE and shapely.intersects_xy(near, *one.at[:2]))), *new)
    return Checked(**rows)


def _print(one: object) -> tuple[str, ...]:
    """The names that a finding is of, in its order."""
    kind = type(one)
    if kind not in _NAMES:
        _NAMES[kind] = _names_of(kind)
    single, several = _NAMES[kind]
    names = tuple([getattr(one, name) for name in single])
    return (*names, *(name for names in several for name in getattr(one, names))) if several else names


_NAMES: dict[type, tuple[tuple[str, ...], tuple[str, ...]]] = {}


def _names_of(kind: type) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Which fields of a finding are a name, and which are several."""
    typed = {field.name: field.type for field in fields(kind)}
    return (tuple(name for name, kind in typed.items() if kind == "str"),
            tuple(name for name, kind in typed.items() if kind == "tuple[str, ...]"))
