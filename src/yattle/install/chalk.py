"""Chalk lines in numbers: where the legs that lie on a face end, measured on the face from an edge of the roof."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from yattle.derive.corners import beside_edge
from yattle.derive.derived import Derived
from yattle.derive.on_roof import legs_on
from yattle.derive.roof_runs import RoofRun, base_id, roof_runs
from yattle.roof import Roof
from yattle.roof.plane import Point3


@dataclass(frozen=True)
class ChalkLine:
    """A line to snap on the roof, mm.

    ``face``: where; ``on``: snapped on the ``deck`` or on the ``panels``; ``run``: the trim or closure it is for;
        ``leg``: which ends there
    ``edge``, ``away``: how far from that edge of the face, square to it on the slope
    ``a``, ``b``: from where to where, in the roof's coordinates
    """

    run: str
    face: str
    on: str
    edge: str
    leg: str
    away: float
    a: Point3
    b: Point3


def chalk_lines(derived: Derived) -> tuple[ChalkLine, ...]:
    """The lines of every trim that lies on the roof, in the order of the runs."""
    return tuple(line for found in roof_runs(derived.job) for line in _lines(derived, found))


def _lines(derived: Derived, found: RoofRun) -> Iterator[ChalkLine]:
    detail = derived.run(found.run.id).detail
    if detail.profile is None or not detail.pieces:
        return
    shift = 1 if detail.profile.hem_a else 0
    for leg, face in legs_on(derived.roof, found, detail.roles, len(detail.profile.legs)):
        away = detail.profile.legs[leg]
        a, b = _moved(derived.roof, found, face, away)
        under = found.edge.kind in ("eave", "valley") or found.run.collects or (
            found.edge.kind == "pitch-break" and leg == 0)
        yield ChalkLine(found.run.id, face, "deck" if under else "panels", found.edge.id,
                        detail.leg_names[leg + shift], away, a, b)
        yield from _closure_line(derived, found, face, away)


def _closure_line(derived: Derived, found: RoofRun, face: str, wide: float) -> Iterator[ChalkLine]:
    """Where the closures of a face stand under a leg ``wide`` mm: set back from its edge as the house has it."""
    for run in derived.runs:
        if run.run.layer == "closure" and base_id(run.run.id) == found.run.id and run.pieces and \
                run.run.on_face == face:
            away = wide - run.standard.closure_back
            if away > 0:
                a, b = _moved(derived.roof, found, face, away)
                yield ChalkLine(run.run.id, face, "panels", found.edge.id, "height", away, a, b)


def _moved(roof: Roof, found: RoofRun, face: str, away: float) -> tuple[Point3, Point3]:
    """The edge moved ``away`` mm into a face, in its plane."""
    (_, into, _), _ = beside_edge(roof, found.edge, face)
    return _point(np.array(found.edge.a) + into * away), _point(np.array(found.edge.b) + into * away)


def _point(at: np.ndarray) -> Point3:
    return float(at[0]), float(at[1]), float(at[2])
