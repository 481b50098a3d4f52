"""Chalk lines in numbers: where the legs that lie on a face end, measured on what is there to be snapped on: on the
deck from an edge of the roof, on the panels from the plumb line over it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from yattle.derive.corners import Array, beside_edge, run_frame
from yattle.derive.derived import Derived
from yattle.derive.lift import lift_of, mould_lines, trim_of
from yattle.derive.on_roof import legs_on
from yattle.derive.raised import built_up
from yattle.derive.roof_runs import RoofRun, base_id, roof_runs
from yattle.derive.run import DerivedRun
from yattle.derive.zeds import over_plumb, strip_behind
from yattle.roof import Roof
from yattle.roof.plane import Point3


@dataclass(frozen=True)
class ChalkLine:
    """A line to snap on the roof, mm.

    ``face``: where; ``on``: snapped on the ``deck`` or on the ``panels``; ``run``: the trim or closure it is for;
        ``leg``: which ends there
    ``edge``, ``away``: how far from that edge of the face, or on panels from the plumb line over it, on the slope
    ``a``, ``b``: from where to where in the face's plane, plumb beneath what it is snapped on, as places of the roof
    """

    run: str
    face: str
    on: str
    edge: str
    leg: str
    away: float
    a: Point3
    b: Point3


Closures = dict[tuple[str, str], list[DerivedRun]]
"""Those of each run on each face."""


def chalk_lines(derived: Derived, only: frozenset[str] | None = None) -> tuple[ChalkLine, ...]:
    """The lines of every trim that lies on the roof, in the order of the runs; ``only``: of these runs."""
    closures: Closures = {}
    for run in derived.runs:
        if run.run.layer == "closure" and run.pieces:
            closures.setdefault((base_id(run.run.id), run.run.on_face), []).append(run)
    return tuple(line for found in roof_runs(derived.job) if only is None or found.run.id in only
                 for line in _lines(derived, found, closures))


def _lines(derived: Derived, found: RoofRun, closures: Closures) -> Iterator[ChalkLine]:
    run = derived.run(found.run.id)
    detail = run.detail
    if detail.profile is None or not detail.pieces:
        return
    shift = 1 if detail.profile.hem_a else 0
    corners = mould_lines(trim_of(derived, run), detail.pieces[0])
    for leg, face in legs_on(derived.roof, found, detail.roles, len(detail.profile.legs)):
        under = found.edge.kind in ("eave", "valley") or found.run.collects or (
            found.edge.kind == "pitch-break" and leg == 0)
        flat = 0.0 if under else built_up(derived.job, face).flat
        lies = under and found.edge.kind != "pitch-break"  # that one slides up the deck onto the panels below
        ends = corners[leg + shift:leg + shift + 2] + (0.0 if lies else lift_of(derived, run))
        end = _end_of(derived.roof, found, face, ends)
        yield _line(derived, found, (found.run.id, detail.leg_names[leg + shift]), face, end, flat, under)
        for closure in closures.get((found.run.id, face), ()):  # behind the leg's edge, as the house has it
            height = strip_behind(end, closure.standard).height
            yield _line(derived, found, (closure.run.id, "height"), face, height, flat, False)


def _end_of(roof: Roof, found: RoofRun, face: str, ends: Array) -> float:
    """How far into a face from its edge a leg goes whose two mould lines lie at these (out, up), mm: square to the
    edge in the face's plane. A valley's legs begin at the foot of its rib, not at its line."""
    _, _, frame = run_frame(roof, found.edge)
    (_, into, _), _ = beside_edge(roof, found.edge, face)
    return float((ends @ (frame[1:] @ into)).max())


def _line(derived: Derived, found: RoofRun, of: tuple[str, str], face: str, end: float, flat: float,
          under: bool) -> ChalkLine:
    """A line ``end`` mm into a face from an edge, in its plane, on what lies ``flat`` mm over that."""
    (_, into, _), _ = beside_edge(derived.roof, found.edge, face)
    away = end + over_plumb(derived.roof, found.edge, face, flat)
    a, b = (_point(np.array(corner) + into * away) for corner in (found.edge.a, found.edge.b))
    return ChalkLine(of[0], face, "deck" if under else "panels", found.edge.id, of[1], away, a, b)


def _point(at: np.ndarray) -> Point3:
    return float(at[0]), float(at[1]), float(at[2])
