"""The pieces of one opening or corner held against what stands in it, and against each other as its form lays them."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from yattle.built.bears import Contact
from yattle.built.bodies import bodies
from yattle.built.clash import THROUGH, Clash, clashes
from yattle.built.flanges import LIES_OVER
from yattle.built.placed import PlacedPiece
from yattle.built.standing import Spot, Standing, spot, stand_all
from yattle.built.touching import touches
from yattle.derive.derived import Derived
from yattle.derive.face_pans import is_pans
from yattle.derive.openings import DerivedOpening
from yattle.details.pipe import Pipe
from yattle.pattern.surface import Array

_LEAST = 80.0  # mm²: less is a corner's touch; a collar's tab is twice that
_SEAT = 300.0  # mm²: as much of a piece lies on what it stands at
_SHARE = 0.7  # of what their form lays on each other, that must lie there
_SAME = 0.01  # mm
_KERF = 5.0  # mm: what goes deeper into what stands there is meant to


@dataclass(frozen=True)
class Joint:
    """Two pieces of one form, or a piece and a side of what stands there: ``have`` mm wide they lie on each other on
    the average, or so deep in a kerf, where their form has them ``want`` mm wide or deep, at a place in mm."""

    a: str
    b: str
    have: float
    want: float
    at: Spot

    @property
    def share(self) -> float:
        """The part of what is wanted that is there."""
        return self.have / self.want

    @property
    def ok(self) -> bool:
        return self.share >= _SHARE


@dataclass(frozen=True)
class PutTogether:
    """One opening or corner: ``made`` its pieces as its form puts them together, by name, ``now`` as they stand,
    ``body`` the sides of what stands in it."""

    opening: DerivedOpening
    made: dict[str, Standing]
    now: dict[str, Standing]
    body: tuple[Standing, ...]

    @cached_property
    def changed(self) -> bool:
        """Whether any piece stands otherwise than its form has it."""
        return any(name not in self.now or len(one.parts) != len(self.now[name].parts) or any(
            a.shape != b.shape or float(np.abs(a - b).max()) > _SAME
            for a, b in zip(one.parts, self.now[name].parts, strict=True)) for name, one in self.made.items())

    @cached_property
    def depths(self) -> dict[tuple[str, str], float]:
        """How deep, mm, its pieces go through each other, or into what stands there, as its form has it: in seams, in
        kerfs."""
        return {(one.a, one.b): one.depth for one in clashes([*self.made.values(), *self.body])}

    def seats(self) -> Iterator[Contact]:
        """Each piece that stands at a chimney or a curb, on it."""
        if self.opening.form is None or isinstance(self.opening.form, Pipe) or not self.body:
            return
        named = {piece.pattern.id: piece.surface.name for piece in self.opening.pieces}
        asked = [one for one in self.now.values() if not any(word in named[one.pattern] for word in LIES_OVER)]
        areas = touches(asked, self.body)
        for one in asked:
            lies = any(name == one.name and touch.area > _SEAT for (name, *_), touch in areas.items())
            yield Contact(one.name, self.opening.id, 0.0 if lies else float("inf"), spot(one.middle))

    def joints(self) -> Iterator[Joint]:
        """Every two that its form lays on each other, by the part that does so the least."""
        if not self.changed:
            return
        made, now = list(self.made.values()), list(self.now.values())
        wanted, there = touches(made, [*made, *self.body]), touches(now, [*now, *self.body])
        worst: dict[tuple[str, str], Joint] = {}
        for (a, part, b), touch in wanted.items():
            if touch.area > _LEAST:
                have = there[a, part, b].area if (a, part, b) in there else 0.0
                joint = Joint(a, b, have / touch.long, touch.area / touch.long, spot(touch.at))
                if (a, b) not in worst or joint.share < worst[a, b].share:
                    worst[a, b] = joint
        yield from worst.values()
        yield from (one for one in self.kerfs if isinstance(one, Joint))

    @cached_property
    def kerfs(self) -> tuple[Joint | Clash, ...]:
        """What goes into what stands there, as far as its form has it: legs in kerfs; and nothing else."""
        return tuple(self._kerfs())

    def _kerfs(self) -> Iterator[Joint | Clash]:
        for name, one in self.now.items() if self.changed else ():
            (deep, area, at), (want, most, _) = self._inside(one), self._inside(self.made[name])
            if want > _KERF:
                yield Joint(name, f"the kerf of {self.opening.id}", deep, want, spot(at))
            if area > most + _LEAST:
                yield Clash(name, self.opening.id, deep, spot(at))

    def _inside(self, piece: Standing) -> tuple[float, float, Array]:
        """How deep a piece goes into what stands there, mm, the area of its parts that do, mm², and where."""
        deepest, area, at = 0.0, 0.0, piece.middle
        for part, size in zip(piece.parts, piece.sizes, strict=True) if self.body else ():
            part = np.concatenate((part, (part + np.roll(part, -1, axis=0)) / 2))  # corners, and the middles between
            behind = np.min([(side.parts[0][0] - part) @ side.normals[0] for side in self.body], axis=0)
            if behind.max() > THROUGH:
                area += size
                if behind.max() > deepest:
                    deepest, at = float(behind.max()), part[int(np.argmax(behind))]
        return deepest, area, at

    def allows(self, clash: Clash) -> bool:
        """Whether two of it go no deeper through each other than its form has them."""
        return not self.changed or clash.depth <= max(
            self.depths.get((clash.a, clash.b), 0.0), self.depths.get((clash.b, clash.a), 0.0)) + THROUGH


def opening_of(derived: Derived) -> dict[str, str]:
    """The opening or corner that each of their patterns is of: its pieces are held against each other, and drops
    followed on them, by its own form."""
    return {piece.pattern.id: one.id for one in derived.openings if not is_pans(one) for piece in one.pieces}


def forms_of(derived: Derived, placed: Iterable[PlacedPiece], standing: dict[str, Standing],
                 touching: frozenset[str] | None) -> dict[str, PutTogether]:
    """Every opening and corner with pieces of its own, by its name; ``touching``: those with one of these patterns."""
    of = opening_of(derived)
    asked = set(of.values()) if touching is None else {of[name] for name in touching if name in of}
    known: dict[str, list[PlacedPiece]] = {}
    for one in placed:
        if of.get(one.pattern) in asked:
            known.setdefault(of[one.pattern], []).append(one)
    sides = {one.opening: one.parts() for one in bodies(derived)} if known else {}
    found = {}
    for opening in derived.openings:
        if opening.id in known:
            made = stand_all((piece.pattern for piece in opening.pieces), known[opening.id])
            found[opening.id] = PutTogether(
                opening, made, {name: standing[name] for name in made if name in standing},
                tuple(Standing(part.id, part.id, (part.ring,)) for part in sides.get(opening.id, ())))
    return found
