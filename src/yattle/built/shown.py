"""The roof put together, as a window or a paper shows it: flat parts with the stage they go on at, and what the check
says with its place."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any, Literal

import numpy as np

from yattle.built.answer import FITS, Built
from yattle.built.frames import built_up
from yattle.built.laid import faces_of_pans, laid_panels, shingles_of_faces
from yattle.built.placed import name_of
from yattle.built.said import alike, names_in, said_of, words_in
from yattle.built.standing import Spot
from yattle.derive.derived import Derived
from yattle.install.fitting import FittingOrder
from yattle.install.parting import panels_of
from yattle.pattern.rings import before_plane
from yattle.pattern.surface import Array
from yattle.roof.build_up import BuildUp

Kind = Literal["piece", "panel", "deck"]


@dataclass(frozen=True)
class ShownPart:
    """A flat part in the roof's coordinates, corners (n, 3) in mm: of a piece, a panel or a deck. ``item``: what it
    goes on with, ``stage``: when, from 1; 0 before everything."""

    name: str
    kind: Kind
    item: str
    stage: int
    ring: Array


@dataclass(frozen=True)
class ShownLayer:
    """A layer that a face is built up of, from ``low`` to ``high`` mm over the face's plane; below it less than 0."""

    name: str
    low: float
    high: float


@dataclass(frozen=True)
class ShownTrouble:
    """What the check says of a place, mm; ``item``: whose piece it is; ``stops``: whether it does not go together;
    ``also``: the places of other pieces of the same pattern of which it says the same."""

    row: str
    says: str
    item: str
    at: Spot
    stops: bool
    also: tuple[Spot, ...] = ()

    @property
    def names(self) -> frozenset[str]:
        """The patterns of the pieces that it speaks of."""
        return names_in(self.says)


@dataclass(frozen=True)
class BuiltShown:
    """All that has a place. ``missing``: pieces without one; ``places``: what carries each piece, folded up, to its
    place: rows (3, 4), mm, by its name; ``whole``: whether all of it was asked as it is now, and not only what an edit
    touches; ``layers``: what each deck is of and bears, but for the sheets, by its name; ``sheet``: how thick these
    are, mm."""

    parts: tuple[ShownPart, ...]
    troubles: tuple[ShownTrouble, ...]
    missing: tuple[str, ...]
    places: Mapping[str, Array] = field(default_factory=dict)
    whole: bool = True
    layers: Mapping[str, tuple[ShownLayer, ...]] = field(default_factory=dict)
    sheet: float = 0.0

    def beside(self, pattern: str, near: float) -> tuple[Array, ...]:
        """What of other pieces' flat parts lies within ``near`` mm of the first piece of a pattern, corners (n, 3) in
        its own frame as it is folded up; none where it has no place."""
        name = next((name for name in (pattern, f"{pattern}/1") if name in self.places), None)
        own = [part.ring for part in self.parts if part.name == name]
        if name is None or not own:
            return ()
        rows = self.places[name]
        corners = (np.concatenate(own) - rows[:, 3]) @ rows[:, :3]
        low, high = corners.min(axis=0) - near, corners.max(axis=0) + near
        others = ((part.ring - rows[:, 3]) @ rows[:, :3] for part in self.parts
                  if part.kind == "piece" and part.name != name)
        found = (_within(ring, low, high) for ring in others
                 if bool((ring.max(axis=0) > low).all() and (ring.min(axis=0) < high).all()))
        return tuple(ring for ring in found if len(ring) > 2)

    def fits_at(self, pattern: str) -> bool:
        """Whether a piece has its places, and nothing that does not go together is said of it."""
        return pattern not in self.missing and not any(
            trouble.stops and pattern in trouble.names for trouble in self.troubles)

    @property
    def fits(self) -> bool:
        """Whether every piece has its place and nothing that was held against its neighbours fails."""
        return not self.missing and not any(one.stops for one in self.troubles)

    @property
    def says(self) -> str:
        """In two or three words, for the window's corner."""
        many = sum(1 + len(one.also) for one in self.troubles if one.stops)
        if many:
            return f"{many} place{'s' if many > 1 else ''} do{'' if many > 1 else 'es'} not fit"
        if self.missing:
            return f"{len(self.missing)} pieces without a place"
        return "fits" if self.whole else "asking the rest …"


def shown(built: Built, fit: FittingOrder) -> BuiltShown:
    """What there is to see of a roof that is put together."""
    answer = built.answer
    parts = (*_decks(answer), *_panels(built.derived, fit), *_pieces(built))
    items = {piece.pattern: piece.item for piece in built.placed}
    many = {pattern.id: pattern.qty for pattern in built.derived.patterns}
    places = {name_of(one.pattern, one.copy, many[one.pattern]): one.place for one in built.placed}
    missing = tuple(one.pattern for one in built.missing)
    derived = built.derived
    layers = {f"deck {facet.id}": tuple(_layers(built_up(derived, facet.id))) for facet in derived.roof.facets}
    return BuiltShown(parts, tuple(_troubles(built, items)), missing, places=places, layers=layers,
                      sheet=derived.job.thickness)


def _layers(build: BuildUp) -> Iterator[ShownLayer]:
    """What a face is built up of from below, but for the panels, which are seen themselves."""
    under = build.layers[-1].top - build.seams if build.layers else 0.0  # what lies below the face's plane
    yield from (ShownLayer(one.name, one.top - one.thick - under, one.top - under) for one in build.layers
                if one.name not in ("panel", "seams"))


def _within(ring: Array, low: Array, high: Array) -> Array:
    """A flat part as far as it lies in a box, mm."""
    for axis, way in enumerate(np.eye(3)):
        for sign, level in ((1.0, float(high[axis])), (-1.0, -float(low[axis]))):
            ring = before_plane(ring, way * sign, level)[0] if len(ring) > 2 else ring[:0]
    return ring


def _pieces(built: Built) -> Iterator[ShownPart]:
    of = {(piece.pattern, piece.copy): piece for piece in built.placed}
    loose = shingles_of_faces(built.derived)  # whose courses are seen instead
    for name, standing in built.standing.items():
        if standing.pattern in loose:
            continue
        copy = int(name.rpartition("/")[2]) if name != standing.pattern else 1
        piece = of[standing.pattern, copy]
        yield from (ShownPart(name, "piece", piece.item, piece.stage, part) for part in standing.parts)


def _panels(derived: Derived, fit: FittingOrder) -> Iterator[ShownPart]:
    """Bought panels with their seams; of faces whose pans are pieces these are seen instead."""
    pans = faces_of_pans(derived)
    for panel in laid_panels(derived):
        if panel.face in pans:
            continue
        item = panels_of(panel.face, 0)
        stage = fit.order.stage_of(item) + 1 if any(item in names for names in fit.order.stages) else 1
        for ring in (panel.ring, *panel.seams):
            yield ShownPart(panel.id, "panel", item, stage, ring)


def _decks(answer: dict[str, Any]) -> Iterator[ShownPart]:
    for one in (solid for solid in answer["structure"] if solid["id"].startswith(("deck ", "side "))):
        yield ShownPart(one["id"], "deck", "", 0, np.array(one["vertices"]))


def _troubles(built: Built, items: dict[str, str]) -> Iterator[ShownTrouble]:
    said = list(said_of(built.checked))
    for says, places in alike(str(one["says"]) for one in said).items():
        row, (at, *also) = said[places[0]]["row"], [(x, y, z) for x, y, z in (said[n]["at"] for n in places)]
        many = f" ({len(places)} places like this)" if also else ""
        item = next((items[word] for word in words_in(says) if word in items), "")
        yield ShownTrouble(row, f"{says}{many}", item, at, row in FITS, tuple(also))
