"""Where a counterflashing ends: before that of the wall across its head, or where rakes leave it room."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from yattle.derive.corners import Array, outward, run_frame
from yattle.derive.zeds import StripPlace
from yattle.job.model import Run
from yattle.roof import Edge, Roof

LEAST_STRIP = 60.0
"""Mm of a cleat that hold a rake, of a counterflashing that are worth a kerf."""
_FAR_BACK = 500.0  # mm
_FLUSH = 0.02  # of a rake's direction out of a wall's plane


def before_a_counter(roof: Roof, edge: Edge, counter: Run, under: StripPlace) -> Run:
    """A counterflashing that comes up to one along the wall across its head ends plumb before that one's kick, whose
    own end is turned onto its wall."""
    if edge.kind != "sidewall":
        return counter
    left, right, frame = run_frame(roof, edge)
    for n, (at, other) in enumerate(((left, right), (right, left))):
        wall = next((e for e in roof.ending_at(at) if e.kind == "headwall" and e.facets == edge.facets), None)
        if wall is None or at[2] < other[2]:
            continue
        along, across, up = (frame @ outward(roof, wall)).tolist()
        aside = up / along * (under.lift[1] + under.upstand)  # it lies so much higher than the edge
        reach = -under.kick / abs(along) + (aside if n == 0 else -aside)
        return counter.but(**{("left_plane", "right_plane")[n]: (along, across, up), "reaches": tuple(
            reach if k // 2 == n else mm for k, mm in enumerate(counter.reaches))})
    return counter


def between_rakes(roof: Roof, edge: Edge, counter: Run, under: StripPlace) -> Iterator[Run]:
    """A counterflashing on a gable's wall whose rakes come down to its ends: only where it has room under their faces;
    none where there is none."""
    left, right, frame = run_frame(roof, edge)
    ends = [_under_a_rake(roof, edge, at, frame[1], under) for at in (left, right)]
    if not any(ends):
        yield counter
    elif counter.length - sum(ends) > LEAST_STRIP:
        square, reaches = (1.0, 0.0, 0.0), counter.reaches
        far = [end if end > _FAR_BACK else 0.0 for end in ends]  # so far back it is a shorter strip, set in
        near = [end - back for end, back in zip(ends, far, strict=True)]
        yield counter.but(length=counter.length - sum(far),
                          left_plane=None if far[0] else square if near[0] else counter.left_plane,
                          right_plane=None if far[1] else square if near[1] else counter.right_plane,
                          left="plain" if far[0] else counter.left, right="plain" if far[1] else counter.right,
                          reaches=(*((-ends[0],) * 2 if ends[0] else reaches[:2]),
                                   *((-near[1],) * 2 if ends[1] else reaches[2:])))


def _under_a_rake(roof: Roof, edge: Edge, at: Array, square: Array, under: StripPlace) -> float:
    """How far from an end of a wall, level along it, a rake in the wall's plane (normal ``square``) that comes down to
    there is as high over it as a counterflashing's top and the rake's own face, mm; 0 where none does."""
    for rake in roof.ending_at(at):
        way = np.array(rake.b) - rake.a
        way = way / np.linalg.norm(way)
        if rake.kind == "rake" and roof.facet(rake.facets[0]).block == edge.wall and abs(float(way @ square)) < _FLUSH \
                and math.dist(rake.a, at) < math.dist(rake.b, at):
            rise = math.hypot(*way[:2])
            return float((under.lift[1] + under.upstand + under.rake / rise) * rise / way[2])
    return 0.0
