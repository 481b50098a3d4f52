"""Where each run ends: the planes that cut its two ends, on the side of its edge A and on that of its edge B.

A plane is found in the roof's own space, from what borders the face there: an eave, a ridge, another crease, a wall.
Then it is told as the run sees it: its normal, and how far beyond the run's end it crosses the line of the edge.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np

from yattle.derive.corners import Array, EndPlane, Normal, run_frame
from yattle.derive.run_corner import ALONG, STEP, LaidOver, RunCorner
from yattle.derive.under_roofs import TAPERS
from yattle.details.trim import CornerCut
from yattle.roof import Edge, Roof
from yattle.roof.edges import WALLS

__all__ = ["EndCuts", "LaidOver", "end_cuts"]

_TAPERS = {"eave": 0.055} | dict.fromkeys(("rake", *WALLS), TAPERS)  # those taper under another roof
_SQUARE = 0.9999  # a plane that square to the run is a square end


@dataclass(frozen=True)
class EndCuts:
    """How a run's ends are cut, left and right, each on the side of edge A and of edge B: normals as (along, out, up),
    ``None`` where an end is not cut, and ``reaches`` beyond the ends along the run, mm. ``past``: how far the panels go
    on beyond the low end, along the run, mm; ``corners``: what cuts corners off the ends besides."""

    left: tuple[Normal | None, Normal | None] = (None, None)
    right: tuple[Normal | None, Normal | None] = (None, None)
    reaches: tuple[float, float, float, float] = (0.0, 0.0, 0.0, 0.0)
    past: float = 0.0
    corners: tuple[CornerCut, ...] = ()


def end_cuts(roof: Roof, edge: Edge, panels: Mapping[str, LaidOver]) -> EndCuts:
    """The planes at both ends of an edge's run; ``panels``: of each face."""
    return roof.once(("end cuts", edge, frozenset(panels.items())), lambda: _end_cuts(roof, edge, panels))


def _end_cuts(roof: Roof, edge: Edge, panels: Mapping[str, LaidOver]) -> EndCuts:
    left, right, frame = run_frame(roof, edge)
    made, past, cut_off = [], 0.0, list[CornerCut]()
    both: tuple[tuple[End, Array, Array], ...] = (("left", left, right - left), ("right", right, left - right))
    for end, at, away in both:
        corner = RunCorner(roof, edge, at, away / np.linalg.norm(away), panels)
        made.append(_as_run(frame, corner, corner.cuts()))
        past = max(past, corner.past())
        off = list(_corner_cuts(frame, corner, end))
        if made[-1][0][0] is None and off:  # it is cut square for the rest
            made[-1] = ((1.0, 0.0, 0.0), None), (0.0, 0.0)
        cut_off += off
    (one, reach), (other, far) = made
    return EndCuts(one, other, (*reach, *far), past, tuple(cut_off))


def _corner_cuts(frame: Array, corner: RunCorner, end: End) -> Iterator[CornerCut]:
    """What cuts corners off one end of a run, as the run sees it."""
    for side, plane in corner.corners():
        told = _told(frame, corner, plane)
        if told is not None:
            yield CornerCut(end=end, side=side, plane=told[0], reach=told[1])


End = Literal["left", "right"]
Told = tuple[tuple[Normal | None, Normal | None], tuple[float, float]]


def _as_run(frame: Array, corner: RunCorner, cuts: tuple[EndPlane | None, EndPlane | None]) -> Told:
    """Two planes as the run sees them; both ``None`` where neither cuts it, or where they only cut it square."""
    told = [None if cut is None else _told(frame, corner, cut) for cut in cuts]
    if all(one is None for one in told):
        return (None, None), (0.0, 0.0)
    a, b = told[0] or _square_or(told[1], corner), told[1] or _square_or(told[0], corner)
    if all(abs(normal[0]) > _SQUARE and abs(reach) < 1e-6 for normal, reach in (a, b)):
        return (None, None), (0.0, 0.0)
    return (a[0], None if a == b else b[0]), (a[1], b[1])


def _square_or(other: tuple[Normal, float] | None, corner: RunCorner) -> tuple[Normal, float]:
    """What cuts a side without a plane of its own: a ridge that goes on there is square, others follow their twin."""
    if corner.edge.kind == "ridge" or other is None:
        return (1.0, 0.0, 0.0), 0.0
    return other


def _told(frame: Array, corner: RunCorner, cut: EndPlane) -> tuple[Normal, float] | None:
    size = float(np.linalg.norm(cut.normal))
    along = -float(cut.normal @ corner.away)
    if size < 1e-9 or abs(along) < _TAPERS.get(corner.edge.kind, ALONG) * size:
        return None
    normal = frame @ cut.normal / size
    reach = float(cut.normal @ (cut.at - corner.at)) / along
    if abs(reach) > STEP:
        return None
    return (float(normal[0]), float(normal[1]), float(normal[2])), 0.0 if abs(reach) < 1e-6 else reach
