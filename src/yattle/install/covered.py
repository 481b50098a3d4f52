"""Which stretches of a trim another one covers: there no screw goes in from above."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from yattle.derive.corners import run_frame
from yattle.derive.derived import Derived
from yattle.derive.on_roof import legs_on
from yattle.derive.roof_runs import RoofRun, base_id
from yattle.derive.run import DerivedRun

CAPS = ("ridge", "half-ridge", "hip", "headwall", "skew-wall", "pitch-break")
"""Kinds of edge whose trim lies over the heads of the panels, and over what runs up to them."""

Zone = tuple[float, float]


def covered(derived: Derived, run: DerivedRun, beside: float) -> tuple[Zone, ...]:
    """The stretches of a run up a slope that the wing of a cap or wall flashing at its ends covers, from the run's left
    end; each ``beside`` mm longer than the wing. In mm."""
    own = derived.edge_runs.get(base_id(run.run.id))
    if own is None:
        return ()
    left, right, _ = run_frame(derived.roof, own.edge)
    zones, long = list[Zone](), run.run.length
    for at, other in ((left, right), (right, left)):
        for cap in derived.roof.ending_at(at):
            if cap.kind in CAPS and cap.id != own.edge.id:
                for far in _reach(derived, own, derived.run_of_edge(cap.id), at, other):
                    zones.append((-1.0, far + beside) if at is left else (long - far - beside, long + 1.0))
    return tuple(zones)


def _reach(derived: Derived, own: RoofRun, cap: RoofRun, at: np.ndarray, other: np.ndarray) -> Iterator[float]:
    """How far from its end ``at`` a cap's wing lies over a run, along it, mm; nothing where it does not."""
    ends = np.array(cap.edge.a), np.array(cap.edge.b)
    trim = derived.run(cap.run.id).detail
    if trim.profile is None or not trim.pieces:
        return
    way, line = (other - at) / math.dist(at, other), (ends[1] - ends[0]) / math.dist(*ends)
    aside = float(np.linalg.norm(np.cross(way, line)))  # how fast the run leaves the cap's line
    for leg, face in legs_on(derived.roof, cap, trim.roles, len(trim.profile.legs)):
        if face in own.edge.facets and aside > 0.05:
            yield trim.profile.legs[leg] / aside
