"""The roof put together, as a window or a paper shows it: flat parts with the stage they go on at, and what the check
says with its place."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from yattle.built.answer import FITS, Built
from yattle.built.laid import faces_of_pans, laid_panels
from yattle.built.said import said_of
from yattle.derive.derived import Derived
from yattle.install.installation import Installation
from yattle.install.parting import panels_of
from yattle.pattern.surface import Array

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
class ShownTrouble:
    """What the check says of a place, mm; ``item``: whose piece it is; ``stops``: whether it does not go together."""

    row: str
    says: str
    item: str
    at: tuple[float, float, float]
    stops: bool


@dataclass(frozen=True)
class BuiltShown:
    """All that has a place. ``missing``: pieces without one; ``middle``: of the roof, mm."""

    parts: tuple[ShownPart, ...]
    troubles: tuple[ShownTrouble, ...]
    missing: tuple[str, ...]

    @property
    def fits(self) -> bool:
        """Whether nothing that was held against its neighbours fails."""
        return not self.troubles

    @property
    def says(self) -> str:
        """In two or three words, for the window's corner."""
        many = len(self.troubles)
        if many:
            return f"{many} place{'s' if many > 1 else ''} do{'' if many > 1 else 'es'} not fit"
        return "fits so far"


def shown(built: Built, fit: Installation) -> BuiltShown:
    """What there is to see of a roof that is put together."""
    answer = built.answer
    parts = (*_decks(answer), *_panels(built.derived, fit), *_pieces(built))
    items = {piece.pattern: piece.item for piece in built.placed}
    return BuiltShown(parts, tuple(_troubles(built, items)), tuple(one.pattern for one in built.missing))


def _pieces(built: Built) -> Iterator[ShownPart]:
    of = {(piece.pattern, piece.copy): piece for piece in built.placed}
    for name, standing in built.standing.items():
        copy = int(name.rpartition("/")[2]) if name != standing.pattern else 1
        piece = of[standing.pattern, copy]
        yield from (ShownPart(name, "piece", piece.item, piece.stage, part) for part in standing.parts)


def _panels(derived: Derived, fit: Installation) -> Iterator[ShownPart]:
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
    for one in answer["structure"]:
        yield ShownPart(one["id"], "deck", "", 0, np.array(one["vertices"]))


def _troubles(built: Built, items: dict[str, str]) -> Iterator[ShownTrouble]:
    for one in said_of(built.checked):
        x, y, z = one["at"]
        name = str(one["says"]).split(" ")[0].partition("/")[0]
        yield ShownTrouble(one["row"], one["says"], items.get(name, ""), (x, y, z), one["row"] in FITS)
