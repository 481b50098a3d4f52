"""Water: whether the hems of trims are turned to the side that they belong on.

Folded up sharp a hem lies on its leg whichever way it was turned: what says on which side is the sign of its fold.
Where water runs along a trim, in a valley or at a wall that a roof falls against, its hem stands up as a stop;
elsewhere it lies on the dry side. At other walls that go up the slope it may be either and is not asked.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from yattle.built.standing import Spot, Standing, spot
from yattle.derive.corners import run_frame
from yattle.derive.derived import Derived
from yattle.derive.roof_runs import base_id
from yattle.pattern.surface import Array
from yattle.roof import Edge, Roof
from yattle.roof.at_edge import collects

_UPRIGHT = 0.2  # upward part of a unit normal: a leg with less stands upright


@dataclass(frozen=True)
class TurnedHem:
    """A hem of a piece that lies on the wrong side of its leg: on the ``wet`` one, open to the rain, or on the dry one,
    where it stops no water; ``at`` in mm."""

    piece: str
    at: Spot
    wet: bool


def turned_hems(derived: Derived, standing: dict[str, Standing],
                only: frozenset[str] | None = None) -> Iterator[TurnedHem]:
    """Hems of trims at edges of the roof that are folded the other way; ``only``: of pieces of these patterns."""
    for run in derived.runs:
        found = derived.edge_runs.get(base_id(run.run.id))
        if found is None or run.run.layer not in ("", "counterflashing"):
            continue
        stop = False if run.run.layer else _stops_water(derived.roof, found.edge)
        if stop is None:
            continue
        out = run_frame(derived.roof, found.edge)[2][1]
        for piece in run.pieces:
            if piece.id in standing and (only is None or piece.id in only):
                yield from _of_a_piece(standing[piece.id], out, stop)


def _stops_water(roof: Roof, edge: Edge) -> bool | None:
    """Whether water runs along the trim of an edge; ``None`` where it may run beside it."""
    if edge.kind == "valley" or collects(roof, edge):
        return True
    return None if edge.wall and edge.kind != "headwall" else False


def _of_a_piece(piece: Standing, out: Array, stop: bool) -> Iterator[TurnedHem]:
    for leg, hem, turn in piece.hems:
        paint = piece.normals[leg]
        lies = abs(float(paint[2])) > _UPRIGHT
        on_top = float(paint[2]) > 0 if lies else float(np.dot(paint, out)) > 0  # whether the paint is on the wet side
        wet = (turn > 0) == on_top
        if wet != stop:
            yield TurnedHem(piece.name, spot(piece.parts[hem].mean(axis=0)), wet)
