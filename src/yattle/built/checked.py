"""What is asked of the roof as it is put together, row by row, and what of it holds."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
import shapely

from yattle.built.bears import Contact, contacts
from yattle.built.clash import Clash, clashes
from yattle.built.cover import Cover, cover
from yattle.built.dressed import stiff
from yattle.built.ends import Reach, reaches
from yattle.built.hook import Hook, grip, hook
from yattle.built.laid import faces_of_pans, laid_panels
from yattle.built.placed import PlacedPiece
from yattle.built.relations import Relations
from yattle.built.slots import CoveredFace, Covering, OpenSlot, slots
from yattle.built.standing import Standing, stand_all
from yattle.built.water import WetLap, turned_laps
from yattle.derive.derived import Derived
from yattle.pattern import Pattern
from yattle.roof.openings import outline

_NEAR = 600.0  # mm from a piece's beginning to the faces that it may cover


@dataclass(frozen=True)
class Absent:
    """A piece that has a place and no pattern: ``at`` is where it would begin, mm."""

    piece: str
    at: tuple[float, float, float]


@dataclass(frozen=True)
class Checked:
    """The rows that are worked out: every contact, lap, end and lock that was looked at, what goes through what, and
    what is left out."""

    contacts: tuple[Contact, ...]
    covers: tuple[Cover, ...]
    hooks: tuple[Hook, ...]
    ends: tuple[Reach, ...]
    clashes: tuple[Clash, ...]
    absent: tuple[Absent, ...]
    slots: tuple[OpenSlot, ...]
    water: tuple[WetLap, ...]

    @property
    def sound(self) -> bool:
        """Whether nothing that was looked at fails."""
        nothing = not (self.clashes or self.absent or self.slots or self.water)
        return nothing and all(one.ok for one in self.contacts) and all(
            one.ok for one in self.hooks) and all(one.ok for one in self.ends) and all(
            one.ok and not one.long for one in self.covers)


def check_built(derived: Derived, placed: Iterable[PlacedPiece], patterns: Iterable[Pattern] | None = None,
                touching: frozenset[str] | None = None) -> Checked:
    """Everything that has a place held against what it lies on and against its neighbours. ``patterns``: the written
    ones, where they are not those of the job; ``touching``: only what pieces of these patterns are part of."""
    known = list(placed)
    standing = stand_all(derived.patterns if patterns is None else patterns, known)
    return check_standing(derived, known, standing, touching)


def check_standing(derived: Derived, placed: list[PlacedPiece], standing: dict[str, Standing],
                   touching: frozenset[str] | None = None) -> Checked:
    """The same, of pieces that stand at their places already."""
    asked = Relations.of(derived, placed, touching)
    found = contacts((standing[name], grounds) for name, grounds in asked.seats if name in standing)
    covers = (cover(standing[lap.over], standing[lap.under], lap.want, lap.closed) for lap in asked.laps
              if lap.over in standing and lap.under in standing)
    hard = stiff(derived, standing)
    return Checked(tuple(found), tuple(covers), tuple(_hooks(asked, standing)),
                   tuple(reaches({one.name: one for one in hard}, standing, asked.ends)),
                   tuple(one for one in clashes(hard, touching) if not _of_one_set(derived, one)),
                   tuple(Absent(name, at) for name, at in asked.all if name not in standing),
                   tuple(slots(*_covered(derived, placed, standing, touching))),
                   tuple(turned_laps(standing, asked.laps)))


def _covered(derived: Derived, placed: list[PlacedPiece], standing: dict[str, Standing],
             touching: frozenset[str] | None) -> tuple[list[CoveredFace], list[Covering]]:
    """The faces that are asked for, and all sheets that may cover them."""
    faces = []
    for facet in derived.roof.facets:
        holes = [shapely.Polygon(outline(one.opening)) for one in derived.roof.openings if facet.id in one.facets]
        shape = shapely.difference(facet.shape, shapely.union_all(holes)) if holes else facet.shape
        faces.append(CoveredFace(facet.id, shape, np.array(facet.plane.at((0.0, 0.0))), np.array(facet.plane.normal)))
    if touching is not None:
        near = shapely.MultiPoint([one.place[:2, 3].tolist() for one in placed if one.pattern in touching])
        faces = [face for face in faces if face.shape.distance(near) < _NEAR]
    bought = frozenset(face.name for face in faces) - faces_of_pans(derived)
    sheets = [Covering(one.name, part) for one in standing.values() for part in one.parts]
    return faces, sheets + [Covering(panel.id, panel.ring) for panel in laid_panels(derived, bought)]


def _hooks(asked: Relations, standing: dict[str, Standing]) -> Iterable[Hook]:
    for a, b, normal, up in asked.locks:
        if a in standing and b in standing:
            yield hook(standing[a], standing[b], normal, up)
    for trim, cleats in asked.grips:
        there = [standing[name] for name in cleats if name in standing]
        if trim in standing and there:
            yield grip(standing[trim], there)


def _of_one_set(derived: Derived, clash: Clash) -> bool:
    """Whether both belong to one opening, whose pieces its own form holds against each other."""
    return any({clash.a.partition("/")[0], clash.b.partition("/")[0]} <= {piece.pattern.id for piece in one.pieces}
               for one in derived.openings if one.kind != "pans")
