"""What stands in a face too close to one of its edges: under the trim there, or past it."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace

import numpy as np

from yattle.derive.derived import Derived
from yattle.derive.frames import face_frame_of, frame_of_opening
from yattle.derive.openings import DerivedOpening
from yattle.derive.raised import built_up
from yattle.derive.run import DerivedRun
from yattle.details.common import Finding
from yattle.details.forms import FormPiece
from yattle.job.model import Job
from yattle.measure import Whole
from yattle.pattern.surface import Array
from yattle.roof import Edge, Facet, Roof, RoofPlan
from yattle.roof.at_edge import into
from yattle.roof.panels import face_frame

LEGS = {"ridge": "wing", "hip": "wing", "half-ridge": "wing", "headwall": "apron", "sidewall": "flange",
        "skew-wall": "flange", "rake": "flange", "eave": ""}
"""Kinds of edges, and which leg of their trims lies on the panels."""
_OFF = 1.0  # mm that are worth a word


@dataclass(frozen=True)
class TrimmedEdge:
    """An edge of a face: its ends ``a`` and ``b`` in the face's own coordinates, the face on the left of them, and how
    wide the trim lies on the panels there; in mm."""

    edge: Edge
    a: Array
    b: Array
    wide: float


@dataclass(frozen=True)
class Near:
    """A piece of an opening, by its ``name``, that is ``short`` mm too close to an edge: it ends ``have`` mm before it,
    below 0 past it; ``away``: the way from the edge into its face, in plan, as far as it should be moved, mm."""

    name: str
    edge: Edge
    wide: float
    have: float
    short: float
    away: tuple[float, float]


def near_edges(job: Job, roof: Roof, openings: Iterable[DerivedOpening],
               runs: Iterable[tuple[Edge, DerivedRun]]) -> Iterator[DerivedOpening]:
    """The openings, each that stands on one face with what is said of the edges of that face to which it is too
    close."""
    trims = {edge.id: run for edge, run in runs}
    for opening in openings:
        said = tuple(map(_said, _near(job, roof, opening, trims)))
        yield replace(opening, findings=(*opening.findings, *said)) if said else opening


def moved_off(derived: Derived) -> RoofPlan | None:
    """The plan with every opening that is too close to an edge moved away from it as is said, mm; ``None``: none is."""
    trims = {found.edge.id: derived.run(name) for name, found in derived.edge_runs.items()}
    moved = {opening.id: [one.away for one in _near(derived.job, derived.roof, opening, trims)]
             for opening in derived.openings}
    if not any(moved.values()):
        return None
    return derived.job.roof.but(openings=tuple(
        one.but(x=one.x + sum(x for x, _ in moved.get(one.id, ())), y=one.y + sum(y for _, y in moved.get(one.id, ())))
        for one in derived.job.roof.openings))


def _near(job: Job, roof: Roof, opening: DerivedOpening, trims: dict[str, DerivedRun]) -> Iterator[Near]:
    """Of each edge of its face the piece that is most in its way."""
    place = next((one for one in roof.openings if one.opening.id == opening.id and len(one.facets) == 1), None)
    own = frame_of_opening(job, roof, place, opening.form) if place is not None and opening.pieces else None
    if place is None or own is None:
        return
    facet = roof.facet(place.facets[0])
    face, build, frame = face_frame_of(job, facet), built_up(job, facet.id), face_frame(facet)
    corners = [(piece.surface.name, (_corners(piece) @ own.turn.T + own.at - face.at) @ face.turn)
               for piece in opening.pieces if not _is_panel(piece)]
    middle = np.array(frame.at((place.opening.x, place.opening.y)))
    for beside in trimmed_edges(roof, facet, trims, LEGS):
        if left_of(beside.a, beside.b, middle) < 0.0:
            continue  # it stands in another part of a face that goes round a corner
        short, have, name = max((*_short(beside, places, build.seams - build.flat), name) for name, places in corners)
        if short > _OFF:
            way = (beside.b - beside.a) / np.linalg.norm(beside.b - beside.a) * math.ceil(short)
            (x, y), (to_x, to_y) = frame.plan((0.0, 0.0)), frame.plan((-float(way[1]), float(way[0])))
            yield Near(name, beside.edge, beside.wide, have, short, (to_x - x, to_y - y))


def _said(near: Near) -> Finding:
    says = (f"its {near.name} ends {{0}} before {near.edge.id}, whose trim lies {{1}} over the panels" if near.have > 0
            else f"its {near.name} ends {{0}} past {near.edge.id}")
    return Finding("look", says, "place it {2} further from there, or make that piece as much shorter", "x",
                   (Whole(abs(near.have)), Whole(near.wide), Whole(math.ceil(near.short))))


def trimmed_edges(roof: Roof, facet: Facet, trims: Mapping[str, DerivedRun],
                  legs: Mapping[str, str]) -> Iterator[TrimmedEdge]:
    """The edges of a face that have a trim, of the kinds that ``legs`` names the leg of that lies on the face; in
    mm."""
    own = face_frame(facet)
    for edge in roof.edges_of(facet.id):
        run = trims.get(edge.id)
        if edge.kind not in legs or run is None or run.detail.profile is None:
            continue
        a, b = np.array(own.at(edge.a[:2])), np.array(own.at(edge.b[:2]))
        wide = max((mm for mm, field in zip(run.detail.profile.legs, run.detail.leg_fields, strict=False)
                    if field == legs[edge.kind]), default=0.0)
        x, y = into(roof, edge, facet.id)  # not by the face's middle: it may lie round a corner
        beside = np.array(own.at((edge.a[0] + x, edge.a[1] + y)))
        yield TrimmedEdge(edge, *((a, b) if left_of(a, b, beside) > 0 else (b, a)), wide)


def left_of(a: Array, b: Array, places: Array) -> Array:
    """How far places (…, 2) lie on the left of the line from a to b, mm."""
    way = (b - a) / np.linalg.norm(b - a)
    return np.asarray((places - a) @ np.array([-way[1], way[0]]))


def _is_panel(piece: FormPiece) -> bool:
    """Whether it is one of the pans round an opening, which goes on to the edges like any other."""
    return piece.surface.name.endswith(" pan") and piece.surface.name != "back pan"


def _corners(piece: FormPiece) -> Array:
    """All corners of a piece and of those like it, (n, 3) in mm, in the frame of its form."""
    own = np.concatenate([face.corners for face in piece.surface.faces])
    return np.concatenate([own, *(own + np.array(by) for by, half in piece.surface.also if not half)])


def _short(beside: TrimmedEdge, places: Array, high: float) -> tuple[float, float]:
    """By how much corners (n, 3) of a piece are too close to an edge, and how far from it they are there, mm: what is
    higher than the seams, ``high``, stays clear of the trim, what is lower of the edge."""
    way = beside.b - beside.a
    along = (places[:, :2] - beside.a) @ way / (way @ way)
    off = left_of(beside.a, beside.b, places[:, :2])
    short = np.where(places[:, 2] > high + _OFF, beside.wide, 0.0) - off
    short[(along < 0.0) | (along > 1.0)] = -np.inf
    most = int(np.argmax(short))
    return float(short[most]), float(off[most])
