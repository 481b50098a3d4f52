"""``yattle-built/1``: every item of the roof in space, so that others can look and check."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from typing import Any

from yattle.built.bodies import bodies
from yattle.built.checked import Checked, check_standing
from yattle.built.hook import HOLDS
from yattle.built.laid import LaidPanel, laid_panels
from yattle.built.placed import PlacedPiece, WithoutPlace, name_of, places_of
from yattle.built.said import said_of
from yattle.built.standing import Standing, stand_all
from yattle.built.structure import BuildingPart, structure
from yattle.derive.derived import Derived
from yattle.pattern import Pattern

Answer = dict[str, Any]
FITS = ("bears", "clash", "cover", "hook", "open", "slot", "water")
"""Rows of the check whose findings say that pieces do not go together; the others are told."""
_PLACED = 0.3  # of the work: until every piece stands at its place
NOT_ASKED = "not asked: upright slots at rakes; slots and wind where strips cut to the profile shut them"
"""What the rows do not say anything of."""


@dataclass(frozen=True)
class Built:
    """A roof put together: its pieces at their places, those without, and what the check says; what is ``said`` of the
    written patterns that are not those of the job."""

    derived: Derived
    placed: tuple[PlacedPiece, ...]
    missing: tuple[WithoutPlace, ...]
    standing: dict[str, Standing]
    checked: Checked
    said: tuple[str, ...] = ()

    @property
    def answer(self) -> Answer:
        """``yattle-built/1``: places of all pieces, panels and decks in the roof's coordinates, mm, and what the check
        says. It is ``ok`` where everything has its place, no row of those that are asked fails, and the written
        patterns are those of the job."""
        return _answer(self)


def put_together(derived: Derived, written: Iterable[Pattern] | None = None, said: tuple[str, ...] = (),
                 told: Callable[[float], object] = lambda _: None) -> Built:
    """Every piece at its place and held against its neighbours; ``written``: the patterns where they are not those of
    the job, as they are found in a pack, and what is ``said`` of them; ``told``: how much of it is done, from 0 to 1;
    what it raises ends it."""
    told(0.0)
    placed, missing = places_of(derived)
    told(_PLACED / 2)
    standing = stand_all(derived.patterns if written is None else written, placed)
    told(_PLACED)
    checked = check_standing(derived, placed, standing, told=lambda share: told(_PLACED + (1.0 - _PLACED) * share))
    return Built(derived, tuple(placed), tuple(missing), standing, checked, said)


def _unsaid(derived: Derived) -> str:
    """Of which faces nobody has said how high the seams stand; nothing where that is known of all."""
    faces = ", ".join(sorted(derived.unsaid))
    return f"not asked: whether caps and zeds fit the seams of {faces}: choose which panels lie there" if faces else ""


def _answer(built: Built) -> Answer:
    derived, missing, checked = built.derived, built.missing, built.checked
    many = {pattern.id: pattern.qty for pattern in derived.patterns}
    findings = [{"row": "pattern", "says": says} for says in built.said]
    findings += [{"row": "place", "says": f"{one.pattern} has no place: {one.why}"} for one in missing]
    findings += list(said_of(checked))
    findings.append({"row": "check", "says": NOT_ASKED})
    findings += [{"row": "check", "says": said} for said in (_unsaid(derived),) if said]
    unfit = [one["says"] for one in findings if one["row"] in FITS]
    return {"format": "yattle-built/1", "ok": not (unfit or missing or built.said),
            "reasons": [*built.said, *unfit, *([_counted(missing)] if missing else [])],
            "pieces": [_piece(piece, many[piece.pattern]) for piece in built.placed],
            "panels": [_panel(panel) for panel in laid_panels(derived)],
            "structure": [{"id": one.id, "vertices": one.ring.tolist(), "triangles": one.triangles}
                          for one in _building(derived)],
            "contacts": [{"piece": one.piece, "on": one.on, "gap": one.gap if math.isfinite(one.gap) else None,
                          "ok": one.ok, "at": list(one.at)}
                         for one in checked.contacts if not one.ok],
            "covers": [{"over": one.over, "under": one.under, "have": one.have, "want": one.want, "ok": one.ok,
                        "at": list(one.at)} for one in checked.covers] + [
                {"over": one.piece, "under": one.on, "have": one.have, "want": one.want, "ok": one.ok,
                 "at": list(one.at)} for one in checked.ends] + [
                {"over": one.over, "under": one.piece, "have": -one.bare, "want": 0.0, "ok": one.ok,
                 "at": list(one.at)} for one in checked.hidden] + [
                {"over": one.a, "under": one.b, "have": one.have, "want": one.want, "ok": one.ok,
                 "at": list(one.at)} for one in checked.joints],
            "hooks": [{"a": one.a, "b": one.b, "have": one.have, "want": HOLDS, "ok": one.ok, "at": list(one.at)}
                      for one in checked.hooks if not one.ok],
            "clashes": [{"a": one.a, "b": one.b, "depth": one.depth, "at": list(one.at)} for one in checked.clashes],
            "open": [{"at": list(one.at), "wide": one.wide, "between": list(one.between)} for one in checked.slots] + [
                {"at": list(one.at), "wide": None, "between": [one.piece]} for one in checked.absent],
            "water": [{"at": list(one.at), "under": one.over, "leak": True} for one in checked.water] + [
                {"at": list(one.at), "under": one.under, "leak": one.how != "sealant"} for one in checked.drops] + [
                {"at": list(one.at), "under": one.piece, "leak": True} for one in checked.drips] + [
                {"at": list(one.at), "under": one.piece, "leak": True} for one in checked.hems],
            "findings": findings}


def _building(derived: Derived) -> Iterator[BuildingPart]:
    """Decks, walls and boards, and what stands in the openings."""
    yield from structure(derived)
    for body in bodies(derived):
        yield from body.parts()


def _counted(missing: tuple[WithoutPlace, ...]) -> str:
    return f"{len(missing)} pieces have no place"


def _piece(piece: PlacedPiece, many: int) -> Answer:
    return {"pattern": name_of(piece.pattern, piece.copy, many), "base": list(piece.base),
            "place": piece.place.tolist(), "on": list(piece.on), "stage": piece.stage}


def _panel(panel: LaidPanel) -> Answer:
    """A panel's outline on its flats, and its mesh: the flat with its seams at both sides."""
    vertices, triangles = panel.ring.tolist(), list(panel.triangles)
    for seam in panel.seams:
        first = len(vertices)
        vertices += seam.tolist()
        triangles += [[first, first + 1, first + 2], [first, first + 2, first + 3]]
    return {"id": panel.id, "face": panel.face, "part": panel.part, "outline": panel.ring.tolist(),
            "vertices": vertices, "triangles": triangles}
