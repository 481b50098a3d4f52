"""Water: whether the hems of pieces are turned to the side that they belong on.

Folded up sharp a hem lies on its leg whichever way it was turned: what says on which side is the sign of its fold.
Where water runs along a trim, in a valley or beside a wall, its hem stands up as a stop, unless its edge is turned down
over a zed or a seam there; elsewhere, at the eaves of pans and round openings too, it lies on the dry side. Of cleats
and strips, that lie dry, it lies on the back, so that its fold shows paint. The pockets at the corners of pans lie
behind what they are folded on, their second crease back the other way.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np

from yattle.built.standing import Spot, Standing, spot
from yattle.derive.corners import run_frame
from yattle.derive.derived import Derived
from yattle.derive.face_pans import is_pans
from yattle.derive.roof_runs import base_id
from yattle.derive.run import DerivedRun
from yattle.pattern.surface import Array
from yattle.roof import Edge
from yattle.roof.at_edge import collects

_WIDE = 0.3  # of a piece's largest part: narrower ones are kicks, tabs and stiffenings
_UPRIGHT = 0.2  # upward part of a unit normal: a leg with less stands upright


Side = Literal["wet", "dry", "paint", "pocket"]


@dataclass(frozen=True)
class TurnedHem:
    """A hem of a piece that lies on the wrong side of its leg, and on which: the ``wet`` one, open to the rain, the
    ``dry`` one, where it stops no water, on its ``paint``, or in a ``pocket`` in front of what it is folded on; ``at``
    in mm."""

    piece: str
    at: Spot
    lies: Side


def turned_hems(derived: Derived, standing: dict[str, Standing],
                only: frozenset[str] | None = None) -> Iterator[TurnedHem]:
    """Hems of pieces at edges of the roof, of its pans and openings that are folded the other way; ``only``: of pieces
    of these patterns."""
    for run in derived.runs:
        found = derived.edge_runs.get(base_id(run.run.id))
        if found is None:
            continue
        for piece in run.pieces:
            if piece.id in standing and (only is None or piece.id in only):
                yield from _of_a_run(derived, run, found.edge, standing[piece.id])
    forms = {piece.pattern.id: opening for opening in derived.openings for piece in opening.pieces}
    for one in standing.values():
        if one.hems and one.pattern in forms and (only is None or one.pattern in only):
            yield from _of_a_form(one, is_pans(forms[one.pattern]))


def _of_a_run(derived: Derived, run: DerivedRun, edge: Edge, piece: Standing) -> Iterator[TurnedHem]:
    if run.run.layer not in ("", "counterflashing"):
        yield from (_turned(piece, hem, "paint") for _, hem, turn in piece.hems if turn > 0)
        return
    stop = not run.run.layer and _stops_water(derived, edge)
    rained_on = _paint_is_wet(piece, run_frame(derived.roof, edge)[2][1])
    for leg, hem, turn in piece.hems:
        wet = (turn > 0) == rained_on
        if wet != (stop and (edge.kind != "sidewall" or _lies(piece, leg))):  # what hangs down a wall stops nothing
            yield _turned(piece, hem, "wet" if wet else "dry")


def _stops_water(derived: Derived, edge: Edge) -> bool:
    """Whether water runs along the trim of an edge up to the hem at its side."""
    if edge.kind == "sidewall":
        return all(derived.panels[face].rule.fill != "zed" for face in edge.facets)
    return edge.kind in ("valley", "skew-wall") or collects(derived.roof, edge)


def _of_a_form(piece: Standing, pan: bool) -> Iterator[TurnedHem]:
    """Hems of what lies round an opening, of a pan's floor, and the pockets of its corners."""
    floor, folded = _floor(piece) if pan else int(np.argmax(piece.sizes)), set[int]()
    for leg, hem, turn in piece.hems:
        if pan and hem == floor:  # of a scrap whose hem is larger than what it is folded on
            leg, hem = hem, leg
        second = leg in folded
        folded.add(hem)
        if pan and leg != floor:
            if (turn > 0) != second:
                yield _turned(piece, hem, "pocket")
        elif _lies(piece, leg) and (turn > 0) == (float(piece.normals[leg][2]) > 0):
            yield _turned(piece, hem, "wet")


def _floor(piece: Standing) -> int:
    """The largest part of a pan that lies paint up: its hems, folded over, look down."""
    up = [n for n, square in enumerate(piece.normals) if float(square[2]) > _UPRIGHT]
    return max(up or range(len(piece.parts)), key=lambda n: piece.sizes[n])


def _paint_is_wet(piece: Standing, out: Array) -> bool:
    """Whether it rains on a piece's paint: as the uppermost of its wide legs that lie has it, since what goes back
    under a roof looks down; ``out``: away from the roof, of what stands upright."""
    hems = {hem for _, hem, _ in piece.hems}
    legs = [n for n in range(len(piece.parts)) if n not in hems]
    widest = max(legs, key=lambda n: piece.sizes[n])
    lie = [n for n in legs if _lies(piece, n) and piece.sizes[n] > _WIDE * piece.sizes[widest]]
    if not lie:
        return float(np.dot(piece.normals[widest], out)) > 0
    return float(piece.normals[max(lie, key=lambda n: float(piece.parts[n][:, 2].mean()))][2]) > 0


def _lies(piece: Standing, part: int) -> bool:
    return abs(float(piece.normals[part][2])) > _UPRIGHT


def _turned(piece: Standing, hem: int, lies: Side) -> TurnedHem:
    return TurnedHem(piece.name, spot(piece.parts[hem].mean(axis=0)), lies)
