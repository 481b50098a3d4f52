"""What is asked of the roof as it is put together, row by row: who should lie on what, and by how much."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from yattle.built.bears import Contact, Ground, contacts
from yattle.built.cover import Cover, WantedLap, cover
from yattle.built.frames import built_up
from yattle.built.hook import Hook, hook
from yattle.built.placed import PlacedPiece
from yattle.built.seams import neighbours, pan_names
from yattle.built.standing import Standing, stand_all
from yattle.derive.derived import Derived
from yattle.derive.roof_runs import base_id
from yattle.derive.run import DerivedRun, lap_of
from yattle.pattern import Pattern
from yattle.pattern.surface import Array

_NO_SEAT = ("pitch-break",)  # held in the deck under the upper panels: its seats are not told here yet


@dataclass(frozen=True)
class Checked:
    """The rows that are worked out: every contact, lap and lock that was looked at."""

    contacts: tuple[Contact, ...]
    covers: tuple[Cover, ...]
    hooks: tuple[Hook, ...]


def check_built(derived: Derived, placed: Iterable[PlacedPiece], patterns: Iterable[Pattern] | None = None,
                touching: frozenset[str] | None = None) -> Checked:
    """Trims and pans held against their faces, and against their neighbours in the run and at their seams.
    ``patterns``: the written ones, where they are not those of the job; ``touching``: only what pieces of these
    patterns are part of."""
    asked = _Relations.of(derived, touching)
    known = asked.names
    standing = stand_all(derived.patterns if patterns is None else patterns,
                         (one for one in placed if one.pattern in known or f"{one.pattern}/{one.copy}" in known))
    return asked.held(standing)


def check_standing(derived: Derived, standing: dict[str, Standing]) -> Checked:
    """The same, of pieces that stand at their places already."""
    return _Relations.of(derived, None).held(standing)


@dataclass(frozen=True)
class _Relations:
    """Which pieces should lie on which grounds, on each other, in each other's locks; by their names."""

    seats: tuple[tuple[str, tuple[Ground, ...]], ...]
    laps: tuple[WantedLap, ...]
    locks: tuple[tuple[str, str, Array, Array], ...]

    @staticmethod
    def of(derived: Derived, touching: frozenset[str] | None) -> _Relations:
        """All of a job, or what pieces of these patterns are part of."""
        def asked(*names: str) -> bool:
            return touching is None or not touching.isdisjoint(name.partition("/")[0] for name in names)
        return _Relations(tuple(seat for seat in (*_seats(derived), *_floors(derived)) if asked(seat[0])),
                      tuple(lap for lap in _laps(derived) if asked(lap.over, lap.under)),
                      tuple(lock for lock in neighbours(derived) if asked(lock[0], lock[1])))

    @property
    def names(self) -> set[str]:
        """All that are asked for."""
        return {name for name, _ in self.seats} | {name for lap in self.laps for name in (lap.over, lap.under)} | {
            name for a, b, *_ in self.locks for name in (a, b)}

    def held(self, standing: dict[str, Standing]) -> Checked:
        """What of it holds, as far as pieces have places."""
        found = contacts((standing[name], grounds) for name, grounds in self.seats if name in standing)
        covers = (_held(standing, lap) for lap in self.laps if lap.over in standing and lap.under in standing)
        hooks = (hook(standing[a], standing[b], normal, up) for a, b, normal, up in self.locks
                 if a in standing and b in standing)
        return Checked(tuple(found), tuple(covers), tuple(hooks))


def _held(standing: dict[str, Standing], lap: WantedLap) -> Cover:
    return cover(standing[lap.over], standing[lap.under], lap.want)


def _trims(derived: Derived) -> Iterator[DerivedRun]:
    """Trims of the roof's edges that have places: no layers."""
    edges = derived.edge_runs
    return (run for run in derived.runs if run.pieces and not run.run.layer and base_id(run.run.id) in edges)


def _seats(derived: Derived) -> Iterator[tuple[str, tuple[Ground, ...]]]:
    """Which faces the pieces of each trim should lie on."""
    for run in _trims(derived):
        edge = derived.edge_runs[base_id(run.run.id)].edge
        if edge.kind in _NO_SEAT or run.run.collects:
            continue
        grounds = tuple(_ground(derived, face, run.run.over) for face in edge.facets)
        yield from ((piece.id, grounds) for piece in run.pieces)


def _floors(derived: Derived) -> Iterator[tuple[str, tuple[Ground, ...]]]:
    """Pans made in the shop lie with their floor on their face's flats."""
    for face, names in pan_names(derived):
        plane, high = derived.roof.facet(face).plane, built_up(derived, face)
        ground = Ground(face, np.array(plane.at((0.0, 0.0))), np.array(plane.normal), (high.flat,))
        yield from ((name, (ground,)) for name in names.values())


def _ground(derived: Derived, face: str, over: float) -> Ground:
    plane, high = derived.roof.facet(face).plane, built_up(derived, face)
    return Ground(face, np.array(plane.at((0.0, 0.0))), np.array(plane.normal),
                  tuple(sorted({0.0, high.flat, high.flat + over, high.seams})))


def _laps(derived: Derived) -> Iterator[WantedLap]:
    """Which pieces of each trim lie over which, by the run's lap."""
    for run in _trims(derived):
        if run.family is None:
            continue
        want = lap_of(run.run, run.family, run.standard)
        for left, right in pairwise(run.pieces):
            if left.ends[1].kind == "under":
                yield WantedLap(right.id, left.id, want)
            elif right.ends[0].kind == "under":
                yield WantedLap(left.id, right.id, want)
