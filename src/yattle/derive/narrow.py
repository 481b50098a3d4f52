"""Strips of roof so narrow between two edges side by side that their trims lie over each other, or past the other, and
faces that run out to a point between two that end in one corner."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Mapping
from itertools import combinations

import numpy as np

from yattle.derive.near_edges import LEGS, TrimmedEdge, left_of, trimmed_edges
from yattle.derive.run import DerivedRun
from yattle.details.common import Finding
from yattle.measure import Whole
from yattle.roof import Edge, Facet, Roof
from yattle.roof.at_edge import share_a_corner

_UNDER = {"valley": "wing", "pitch-break": "above"}  # these lie on the deck, under the panels
_PARALLEL = math.cos(math.radians(30.0))
_LEAST = 100.0  # mm that two edges run side by side
_OVER = 5.0  # mm that are worth a word
_SHARP = 10.0  # degrees between two edges of a corner: in sharper ones nothing is as a detail has it


def narrow_strips(roof: Roof, trims: Iterable[tuple[Edge, DerivedRun]]) -> dict[str, Finding]:
    """What is said of strips that are too narrow, by the id of the edge it is said of."""
    of = {edge.id: run for edge, run in trims if run.pieces}
    return {one.edge.id: finding for facet in roof.facets for one, finding in _of_a_face(roof, facet, of)}


def _of_a_face(roof: Roof, facet: Facet, trims: Mapping[str, DerivedRun]) -> Iterator[tuple[TrimmedEdge, Finding]]:
    edges = list(trimmed_edges(roof, facet, trims, LEGS | _UNDER))
    for one, other in combinations(edges, 2):
        beneath = (one.edge.kind in _UNDER) + (other.edge.kind in _UNDER)
        need = max(one.wide, other.wide) if beneath == 1 else one.wide + other.wide
        have = min(_between(one, other), _between(other, one))
        if have < need - _OVER and not share_a_corner(one.edge, other.edge):
            says = f"{facet.id} is {{0}} wide between it and {other.edge.id}, their trims want {{1}}"
            yield one, Finding("look", says, "move what one of them belongs to, or make its trim narrower", "length",
                               (Whole(math.floor(have)), Whole(math.ceil(need))))
    yield from _sharp_corners(edges)


def _sharp_corners(edges: list[TrimmedEdge]) -> Iterator[tuple[TrimmedEdge, Finding]]:
    """Corners of a face so sharp that one edge's trim lies over the other edge for metres."""
    for one, other in combinations([edge for edge in edges if edge.edge.kind in LEGS], 2):
        angle = _at_corner(one, other)
        wider, edge = (one, other) if one.wide >= other.wide else (other, one)
        if angle < _SHARP:
            says = (f"its face runs out to a point of {angle:.0f}° between it and {edge.edge.id}: its trim lies over "
                    "that edge for {0}")
            yield wider, Finding("look", says, "bring the pitches of sides and ends nearer to each other", "pitch",
                                 (Whole(math.ceil(wider.wide / math.sin(math.radians(max(angle, 1.0))))),))


def _at_corner(one: TrimmedEdge, other: TrimmedEdge) -> float:
    """The angle of the face between two of its edges that end in one corner, degrees; 180 where they do not."""
    if not share_a_corner(one.edge, other.edge):
        return 180.0
    if math.dist(one.b, other.a) > math.dist(one.a, other.b):
        one, other = other, one
    back, on = one.a - one.b, other.b - other.a
    turn = math.atan2(float(on[0] * back[1] - on[1] * back[0]), float(on @ back))
    return math.degrees(turn) if turn > 0 else 180.0


def _between(one: TrimmedEdge, other: TrimmedEdge) -> float:
    """How wide the face is between an edge and another one that runs back beside it, mm; no bound where none does."""
    way, back = one.b - one.a, other.b - other.a
    size = float(np.linalg.norm(way))
    if float(way @ back) > -_PARALLEL * size * float(np.linalg.norm(back)):
        return math.inf
    ends = [float((end - one.a) @ way) / size for end in (other.b, other.a)]
    low, high = max(min(ends), 0.0), min(max(ends), size)
    if high - low < _LEAST:
        return math.inf
    beside = [other.b + (other.a - other.b) * (at - ends[0]) / (ends[1] - ends[0]) for at in (low, high)]
    off = float(left_of(one.a, one.b, np.array(beside)).min())
    return off if off > 0.0 else math.inf
