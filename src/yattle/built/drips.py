"""Water: whether the kicks of eaves and rakes throw it clear of the board behind their faces, those of counterflashings
clear of the upstand."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np

from yattle.built.standing import Spot, Standing, spot
from yattle.derive.corners import run_frame
from yattle.derive.derived import Derived
from yattle.derive.roof_runs import base_id

_OUT = 1.0  # mm that a drip's edge lies before the face above it at the least
_UPRIGHT = 0.1  # upward part of a unit normal under which a part is a face


@dataclass(frozen=True)
class Drip:
    """A piece whose lowest edge lies ``inward`` mm behind its face: water runs back to what is ``behind`` it; ``at`` in
    mm."""

    piece: str
    inward: float
    at: Spot
    behind: Literal["board", "upstand"]


def turned_in(derived: Derived, standing: dict[str, Standing], only: frozenset[str] | None = None) -> Iterator[Drip]:
    """Kicks that do not throw water out, mm; ``only``: of pieces of these patterns."""
    for run in derived.runs:
        found = derived.edge_runs.get(base_id(run.run.id))
        free = found is not None and found.edge.kind in ("eave", "rake") and not run.run.layer
        if found is None or not (free or run.run.layer == "counterflashing") or not run.pieces or run.family is None:
            continue
        if "kick" not in run.detail.leg_fields:  # a flying gable's face goes back under the roof instead
            continue
        _, out, up = run_frame(derived.roof, found.edge)[2]
        for piece in run.pieces:
            if piece.id in standing and (only is None or piece.id in only):
                yield from _turned_in(standing[piece.id], out, up, "board" if free else "upstand")


def _turned_in(piece: Standing, out: np.ndarray, up: np.ndarray,
               behind: Literal["board", "upstand"]) -> Iterator[Drip]:
    faces = [part for part, square, size in zip(piece.parts, piece.normals, piece.sizes, strict=True)
             if abs(float(square @ out)) > 1.0 - _UPRIGHT and size > max(piece.sizes) / 3]
    corners = np.concatenate(piece.parts)
    lowest = corners[int(np.argmin(corners @ up))]
    for face in faces[:1]:
        inward = float((face @ out).max() - lowest @ out)
        if inward > -_OUT:
            yield Drip(piece.name, inward, spot(lowest), behind)
