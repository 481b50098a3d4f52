"""``yattle-built/1``: every item of the roof in space, so that others can look and check."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from yattle.built.checked import Checked, check_standing
from yattle.built.cover import SHORT, Cover
from yattle.built.ends import Reach
from yattle.built.frames import built_up, face_axes
from yattle.built.hook import HOLDS
from yattle.built.placed import PlacedPiece, WithoutPlace, places_of
from yattle.built.standing import Standing, stand_all
from yattle.derive.derived import Derived
from yattle.derive.pans import floors_on
from yattle.details import standard_for
from yattle.pattern.triangles import triangles_of
from yattle.roof import Facet
from yattle.roof.panel_edges import FOOT, HEAD, LEFT, RIGHT, sides_of

Answer = dict[str, Any]
FITS = ("bears", "cover", "hook", "open")
"""Rows of the check whose findings say that pieces do not go together."""
UNCHECKED = ("not checked yet: water, sealant, goes in, slots between pieces; bears of openings and of cleats, cover "
             "between one trim and another, bought panels, and pieces of one opening against each other")
"""What is said as long as not all rows of the check are worked out."""


@dataclass(frozen=True)
class Built:
    """A roof put together: its pieces at their places, those without, and what the check says."""

    derived: Derived
    placed: tuple[PlacedPiece, ...]
    missing: tuple[WithoutPlace, ...]
    standing: dict[str, Standing]
    checked: Checked

    @property
    def answer(self) -> Answer:
        """``yattle-built/1``."""
        return _answer(self.derived, self.placed, self.missing, self.checked)


def put_together(derived: Derived) -> Built:
    """Every piece at its place and held against its neighbours."""
    placed, missing = places_of(derived)
    standing = stand_all(derived.patterns, placed)
    return Built(derived, tuple(placed), tuple(missing), standing, check_standing(derived, placed, standing))


def built_answer(derived: Derived) -> Answer:
    """Places of all pieces, panels and decks, and what the check says. Places in mm, in the roof's coordinates. It is
    not ``ok`` as long as not everything has been held against its neighbours, and says so."""
    return put_together(derived).answer


def _answer(derived: Derived, pieces: tuple[PlacedPiece, ...], missing: tuple[WithoutPlace, ...],
            checked: Checked) -> Answer:
    many = {pattern.id: pattern.qty for pattern in derived.patterns}
    findings = [{"row": "place", "says": f"{one.pattern} has no place: {one.why}"} for one in missing]
    findings += list(said_of(checked))
    findings.append({"row": "check", "says": UNCHECKED})
    return {"format": "yattle-built/1", "ok": False,
            "reasons": [*(one["says"] for one in said_of(checked)), _counted(missing), UNCHECKED],
            "pieces": [_piece(piece, many[piece.pattern]) for piece in pieces],
            "panels": [panel for facet in derived.roof.facets for panel in _panels(derived, facet)],
            "structure": [_deck(facet) for facet in derived.roof.facets],
            "contacts": [{"piece": one.piece, "on": one.on, "gap": one.gap, "ok": one.ok, "at": list(one.at)}
                         for one in checked.contacts if not one.ok],
            "covers": [{"over": one.over, "under": one.under, "have": one.have, "want": one.want, "ok": one.ok,
                        "at": list(one.at)} for one in checked.covers] + [
                {"over": one.piece, "under": one.on, "have": one.have, "want": one.want, "ok": one.ok,
                 "at": list(one.at)} for one in checked.ends],
            "hooks": [{"a": one.a, "b": one.b, "have": one.have, "want": HOLDS, "ok": one.ok, "at": list(one.at)}
                      for one in checked.hooks if not one.ok],
            "clashes": [{"a": one.a, "b": one.b, "depth": one.depth, "at": list(one.at)} for one in checked.clashes],
            "open": [{"at": list(one.at), "wide": None, "between": [one.piece]} for one in checked.absent],
            "water": [], "findings": findings}


def said_of(checked: Checked) -> Iterator[Answer]:
    """What fails, by how much, where, and what would do."""
    for one in checked.contacts:
        if not one.ok:
            yield {"row": "bears", "at": list(one.at), "says": f"{one.piece} stands {one.gap:.1f} mm off {one.on}: no "
                   "part of it lies there; measure the edge's pitch and the panels' height again, or make it anew"}
    for lap in checked.covers:
        if says := _lap_says(lap):
            yield {"row": "cover", "at": list(lap.at), "says": says}
    for end in checked.ends:
        if not end.ok:
            yield {"row": "cover", "at": list(end.at), "says": _end_says(end)}
    for clash in checked.clashes:
        yield {"row": "clash", "at": list(clash.at), "says": f"{clash.a} goes {clash.depth:.1f} mm through {clash.b}: "
               "shorten or turn one of them there, or cut it round the other"}
    for gone in checked.absent:
        yield {"row": "open", "at": list(gone.at), "says": f"{gone.piece} is not among the patterns: its place is open"}
    for lock in checked.hooks:
        if not lock.ok:
            yield {"row": "hook", "at": list(lock.at), "says": f"the locks of {lock.a} and {lock.b} reach "
                   f"{lock.have:.1f} mm into each other, {HOLDS:g} wanted: a lock or a pan's width or hand is wrong"}


def _end_says(end: Reach) -> str:
    """By how much an end is off."""
    off = end.have - end.want
    return (f"{end.piece} ends {abs(off):.0f} mm {'past' if off > 0 else 'short of'} {end.on}: "
            f"make it that much {'shorter' if off > 0 else 'longer'}, or cut its end anew")


def _lap_says(lap: Cover) -> str:
    """What is wrong with a lap; empty where nothing is."""
    pair = f"{lap.over} lies {lap.have:.0f} mm over {lap.under}, {lap.want:.0f} wanted"
    if lap.have < lap.want - SHORT:
        return f"{pair}: {lap.want - lap.have:.0f} short; make one of them longer by that"
    if lap.closed < lap.least:
        return (f"{lap.over} does not close over {lap.under}: {lap.closed:.0%} of its sheet lies on it; a leg or a "
                "fold of one of them is wrong, measure both sections")
    return f"{pair}: one of them is {lap.have - lap.want:.0f} too long" if lap.long else ""


def _counted(missing: tuple[WithoutPlace, ...]) -> str:
    return f"{len(missing)} pieces have no place yet" if missing else "every piece has its place"


def _piece(piece: PlacedPiece, many: int) -> Answer:
    name = piece.pattern if many == 1 else f"{piece.pattern}/{piece.copy}"
    return {"pattern": name, "base": list(piece.base), "place": piece.place.tolist(), "on": list(piece.on),
            "stage": piece.stage}


def _panels(derived: Derived, facet: Facet) -> Iterator[Answer]:
    """Each panel as it is cut: its outline on its flats, and its mesh, the flat with its seams at both sides."""
    laid, job = derived.panels[facet.id], derived.job
    frame, high = face_axes(derived, facet), built_up(derived, facet.id)
    rise = frame.turn[:, 2] * (high.seams - high.flat)
    parts = sides_of(derived.roof, laid)
    floors = floors_on(derived.roof, laid, job.panel_system(facet.id), standard_for(job.system, job.own))
    for panel in laid.panels:
        edges = floors.get(panel.n)
        if edges is None:
            continue
        flat = [a for a, *_ in edges]
        ring = [frame.at + frame.turn[:, :2] @ np.array(place) for place in flat]
        vertices = [point.tolist() for point in ring]
        triangles = [list(triangle) for triangle in triangles_of(flat)]
        for n, (*_, side) in enumerate(edges):
            if side in (LEFT, RIGHT) and high.seams > high.flat:
                a, b, first = ring[n], ring[(n + 1) % len(ring)], len(vertices)
                vertices += [point.tolist() for point in (a, b, b + rise, a + rise)]
                triangles += [[first, first + 1, first + 2], [first, first + 2, first + 3]]
        part = "upper" if FOOT in parts[panel.n] else "lower" if HEAD in parts[panel.n] else "whole"
        yield {"id": f"{facet.id}/{panel.n}", "face": facet.id, "part": part,
               "outline": [point.tolist() for point in ring], "vertices": vertices, "triangles": triangles}


def _deck(facet: Facet) -> Answer:
    """The plane that a face is built up from: its deck, or the top of its supports."""
    corners = [list(facet.plane.at((float(x), float(y)))) for x, y in facet.shape.exterior.coords[:-1]]
    triangles = [list(triangle) for triangle in triangles_of(facet.shape.exterior.coords[:-1])]
    return {"id": f"deck {facet.id}", "vertices": corners, "triangles": triangles}

