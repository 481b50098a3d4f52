"""Air under the roof: what perforated closures and eave strips let through, beside what the roof asks for."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
import shapely

from yattle.derive.derived import Derived
from yattle.derive.layers import schools_of
from yattle.derive.roof_runs import RoofRun, base_id, roof_runs
from yattle.details import Finding
from yattle.measure import VentArea
from yattle.pattern.pattern import signed_area
from yattle.roof.plane import Ring, body

_FIRST_BOARD = 60.0  # mm of a soffit that are worth a board
_ON_IT = 1.0  # mm


@dataclass(frozen=True)
class Air:
    """Of one vented edge: ``have`` cm² of free area in all, ``a_metre`` of the edge; ``asked`` cm²: half of the share
    of the plan area that the faces beside it have, the other half lies at their other end."""

    run: str
    have: float
    a_metre: float
    asked: float


def air_of(derived: Derived) -> tuple[Air, ...]:
    """Every vented ridge and eave of the roof."""
    share = derived.job.fit.vent_share
    found = []
    for one in roof_runs(derived.job):
        if not _is_vented(derived, one):
            continue
        have = sum(_free(derived, run.run.id) for run in derived.runs if run.pieces and run.run.layer in _AIRY
                   and base_id(run.run.id) == one.run.id)
        plan = sum(_beside(derived, face, one) for face in one.edge.facets)
        found.append(Air(one.run.id, have, have / (one.edge.length / 1000), plan / share / 2 / 100))
    return tuple(found)


_AIRY = ("closure", "vent-strip")


def _is_vented(derived: Derived, one: RoofRun) -> bool:
    schools = schools_of(one.run, derived.job.schools)
    return (one.edge.kind == "ridge" and schools.ridge == "vented") or (
        one.edge.kind == "eave" and schools.eave_vent == "vented")


def _without_room(derived: Derived) -> Iterator[tuple[str, Finding]]:
    """Strips that find a wall where they and the soffit's first board should be."""
    for run in derived.runs:
        found = derived.edge_runs.get(base_id(run.run.id))
        if run.run.layer == "vent-strip" and run.pieces and found is not None:
            house, room = run.standard, _hangs_over(derived, found)
            asked = house.board + house.vent_face + _FIRST_BOARD
            if room is not None and room < asked:
                yield run.run.id, Finding(
                    "look", "this eave hangs over its wall by {0}, board, strip and a soffit take {1}",
                    "an eave that hangs over by as much, or air from elsewhere", "eave_overhang", (room, asked))


def _hangs_over(derived: Derived, found: RoofRun) -> float | None:
    """How far an eave lies before the wall of its own block, square to it in plan, mm; ``None`` where no block has that
    edge."""
    middle = (np.array(found.edge.a[:2]) + np.array(found.edge.b[:2])) / 2
    for block in derived.job.roof.blocks:
        own = body(block)
        for side, wall in zip(_sides(own.roof), _sides(own.walls), strict=True):
            if side.distance(shapely.Point(middle)) < _ON_IT:
                return float(wall.distance(shapely.Point(middle)))
    return None


def _sides(ring: Ring) -> Iterator[shapely.LineString]:
    return (shapely.LineString(side) for side in pairwise((*ring, ring[0])))


def _free(derived: Derived, run_id: str) -> float:
    """The area of all holes of a run's pieces, cm²."""
    return sum(-signed_area(hole) * piece.pattern.qty for piece in derived.run(run_id).pieces
               for hole in piece.pattern.holes) / 100


def _beside(derived: Derived, face: str, one: RoofRun) -> float:
    """The plan area of a face, mm², as much of it as falls to this edge among those of its kind."""
    alike = [edge.length for edge in derived.roof.edges_of(face) if edge.kind == one.edge.kind]
    return float(derived.roof.facet(face).shape.area) * one.edge.length / max(sum(alike), one.edge.length)


def venting_findings(derived: Derived) -> Iterator[tuple[str, Finding]]:
    """Vented edges that let less through than asked, eaves that hang over too little for their strip, and ridges that
    draw with nothing open at the eaves."""
    rows = air_of(derived)
    yield from _without_room(derived)
    share = derived.job.fit.vent_share
    eaves = any(derived.edge_runs[row.run].edge.kind == "eave" for row in rows)
    for row in rows:
        if row.have < row.asked:
            yield row.run, Finding(
                "look", f"{{0}} of air ({{1}} a metre), half of 1/{share:g} of the roof's plan is {{2}}",
                "larger or more holes; local rules say how much is wanted", "ridge",
                (VentArea(row.have), VentArea(row.a_metre), VentArea(row.asked)))
        if derived.edge_runs[row.run].edge.kind == "ridge" and not eaves:
            yield row.run, Finding("look", "vented at the ridge, closed at every eave: nothing flows",
                                   "a perforated strip at the eaves, or a sealed ridge", "ridge")
