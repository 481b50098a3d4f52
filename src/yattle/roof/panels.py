"""Panels on a face: where each lies, how long it is cut, where its seams come, and the best place to start.

Face coordinates: ``s`` level along the eave, to the right as seen from below the eave looking up, ``t`` up
the slope (true lengths, mm), both from the lowest left corner of the face's bounding rectangle.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

from yattle.roof.build import Roof, build
from yattle.roof.edges import Edge
from yattle.roof.facets import Facet
from yattle.roof.model import RoofPlan
from yattle.roof.openings import outline
from yattle.roof.panel_parts import face_parts, panels_between
from yattle.roof.panel_rule import NOTHING, FacetFrame, Panel, PanelRule, SlantCut, face_frame
from yattle.roof.panel_start import OutOfSquare, best_start, out_of_square, start_and_clearance

__all__ = ["Clearance", "OutOfSquare", "Panel", "PanelPlan", "PanelRule", "Seams", "SlantCut", "best_start",
           "face_frame", "lay", "out_of_square", "seams_of"]


_ROOM = 40.0  # mm of flat beside an opening without which no flange lies there
_LOCK = 15.0  # mm that a seam's lock takes
_SHARES = 1.0, 0.7, 0.5, 0.3, 0.0  # of the plates and flanges that seams keep clear of, as much as can be


@dataclass(frozen=True)
class Clearance:
    """From an opening's sides to the nearest seam, mm; below 0 a seam runs through it."""

    opening: str
    clear: float


@dataclass(frozen=True)
class PanelPlan:
    """Panels of one face from the left; ``seams`` on ``s``, ``on_edges`` their distances from each edge's ``a`` end.
    In mm."""

    facet: str
    rule: PanelRule
    start: float
    panels: tuple[Panel, ...]
    seams: tuple[float, ...]
    on_edges: dict[str, tuple[float, ...]]
    clearances: tuple[Clearance, ...]

    @property
    def first_width(self) -> float:
        """What the panel at the left covers, mm; the least where a hole parts it."""
        return min(p.width for p in self.panels if p.left == self.panels[0].left)

    @property
    def last_width(self) -> float:
        """What the last panel at the right covers, mm."""
        return self.panels[-1].width

    def orders(self, only: frozenset[int] | None = None) -> list[tuple[float, int]]:
        """Lengths to order, mm, and how many of each, the longest first; ``only``: of the panels of these numbers."""
        count: dict[float, int] = {}
        for panel in (one for one in self.panels if only is None or one.n in only):
            length = math.ceil(panel.length - 1e-6)
            count[length] = count.get(length, 0) + 1
        return sorted(count.items(), reverse=True)


@dataclass(frozen=True)
class Seams:
    """Where the seams of a face lie: ``places`` on ``s``, laid from ``start``; ``spans`` of its openings there."""

    frame: FacetFrame
    start: float
    places: tuple[float, ...]
    spans: tuple[tuple[str, float, float], ...]

    def on(self, edge: Edge) -> tuple[float, ...]:
        """Their distances from an edge's ``a`` end, mm."""
        return _on_edge(self.frame, edge, list(self.places))


@lru_cache(maxsize=256)
def _seams_of(plan: RoofPlan, facet_id: str, rule: PanelRule) -> Seams:
    roof = build(plan)
    facet = roof.facet(facet_id)
    frame = FacetFrame(facet)
    spans = [*_opening_spans(roof, facet, frame), *_wall_spans(roof, facet, frame)]
    own = _start(frame.width, spans, rule) if rule.start is None else rule.start
    first = own % rule.coverage
    if rule.side == "right":
        first = (frame.width - own) % rule.coverage
    return Seams(frame, own, tuple(_seams(frame.width, first, rule.coverage)), tuple(spans))


def seams_of(roof: Roof, facet_id: str, rule: PanelRule) -> Seams:
    """The seams of a face laid by ``rule``, without its panels; where the start is ``None`` the best is worked out."""
    return _seams_of(roof.plan, facet_id, rule)


def lay(roof: Roof, facet_id: str, rule: PanelRule) -> PanelPlan:
    """Lay panels on a face by ``rule``; where its start is ``None`` the best one is worked out."""
    return _lay(roof.plan, facet_id, rule)


@lru_cache(maxsize=512)
def _lay(plan: RoofPlan, facet_id: str, rule: PanelRule) -> PanelPlan:
    roof = build(plan)
    facet = roof.facet(facet_id)
    laid = seams_of(roof, facet_id, rule)
    frame, own, seams, spans = laid.frame, laid.start, laid.places, laid.spans
    sides = [0.0, *seams, frame.width]
    panels: list[Panel] = []
    parts = face_parts(roof, facet, frame, rule)
    for left, right in pairwise(sides):
        panels += panels_between(frame, rule, parts, left, right, len(panels))
    clear = tuple(Clearance(name, _clearance(low, high, seams, rule.coverage)) for name, low, high in spans)
    on_edges = {edge.id: laid.on(edge) for edge in roof.edges_of(facet_id)}
    return PanelPlan(facet_id, rule, own, tuple(panels), seams, on_edges, clear)


def _start(width: float, spans: list[tuple[str, float, float]], rule: PanelRule) -> float:
    """The best start, mm: clear of all plates and flanges; where no start is, of as much of them as one can be."""
    for share in _SHARES:
        start, clear = start_and_clearance(width, _kept_clear(spans, rule, share), rule)
        if clear >= 0.0:
            break
    return start


def _kept_clear(spans: list[tuple[str, float, float]], rule: PanelRule, share: float) -> list[list[float]]:
    """The stretches of a face that seams keep clear of: each opening with that share of its plate or flange; of one
    hardly narrower than a panel, or wider, into which seams run, what lies beside its sides, and a lock in them."""
    plates, found = dict(rule.plates), list[list[float]]()
    for name, low, high in spans:
        whole, room = plates.get(name, 0.0), (rule.coverage - high + low) / 2
        plate = share * whole
        if room > min(whole, _ROOM):
            plate = min(plate, room - NOTHING)  # as wide as a panel it would be one into which seams run
            found.append([low - plate, high + plate])
        elif whole:
            found += [[low - plate, low + share * _LOCK], [high - share * _LOCK, high + plate]]
        else:
            found.append([low, high])
    return found


def _seams(width: float, first: float, coverage: float) -> list[float]:
    count = int((width - first) // coverage) + 1
    return [s for s in (first + k * coverage for k in range(count)) if NOTHING < s < width - NOTHING]


def _opening_spans(roof: Roof, facet: Facet, frame: FacetFrame) -> list[tuple[str, float, float]]:
    spans = []
    for placed in roof.openings:
        if facet.id in placed.facets:
            across = [frame.at(corner)[0] for corner in outline(placed.opening)]
            spans.append((placed.opening.id, min(across), max(across)))
    return spans


def _wall_spans(roof: Roof, facet: Facet, frame: FacetFrame) -> list[tuple[str, float, float]]:
    """Where walls stand in the face along its fall, both cheeks of a dormer together: no seam comes close to them."""
    found: dict[str, list[float]] = {}
    for edge in roof.edges_of(facet.id):
        if edge.kind == "sidewall":
            found.setdefault(edge.wall, []).append(frame.at(edge.a[:2])[0])
    return [(name, min(places), max(places)) for name, places in found.items()
            if min(places) > NOTHING and max(places) < frame.width - NOTHING]


def _on_edge(frame: FacetFrame, edge: Edge, seams: list[float]) -> tuple[float, ...]:
    a, b = frame.at(edge.a[:2]), frame.at(edge.b[:2])
    run = b[0] - a[0]
    if abs(run) < NOTHING:
        return ()
    found = [(s - a[0]) / run * edge.length for s in seams if min(a[0], b[0]) < s < max(a[0], b[0])]
    return tuple(sorted(found))


def _clearance(low: float, high: float, seams: tuple[float, ...], coverage: float) -> float:
    if not seams:
        return math.inf
    if high - low >= coverage:  # a seam runs in whatever is done: its sides should stand on the flat
        return min(min(abs(low - s), abs(high - s)) for s in seams)
    return min(abs((low + high) / 2 - s) for s in seams) - (high - low) / 2
