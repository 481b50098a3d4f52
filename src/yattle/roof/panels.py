"""Panels on a face: where each lies, how long it is cut, where its seams come, and the best place to start.

Face coordinates: ``s`` level along the eave, to the right as seen from below the eave looking up, ``t`` up
the slope (true lengths, mm), both from the lowest left corner of the face's bounding rectangle.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise
from typing import Annotated, Literal

import shapely
from pydantic import Field
from shapely import Polygon
from shapely.affinity import affine_transform

from yattle.roof.build import Roof, build
from yattle.roof.drain import axes, spills_on
from yattle.roof.edges import Edge
from yattle.roof.facets import Facet
from yattle.roof.model import RoofPlan
from yattle.roof.openings import outline
from yattle.roof.plane import Point
from yattle.values import Value

_LEAST = 50.0  # mm: no panel is split off shorter
_NOTHING = 0.5  # mm: narrower is no panel


class PanelRule(Value):
    """How panels are laid, mm.

    ``coverage``: installed; ``side``: where laying begins
    ``start``: from there to the first seam; ``None``: the best is worked out
    ``overhang``: past the eave; ``hem``: turned back there
    ``sliver``: the narrowest panel at an end
    ``lap``: of an upper panel over a lower one, where a valley's foot or a back pan lies between them
    ``at_ridge``, ``at_wall``: turned up there, or, below 0, held back
    ``system``: the panel system it is, by name; ``seam``: how much of the flat a seam takes; ``height``: how high its
        seams or ribs stand over the flat, 0 where nobody knows
    ``fill``: what closes the space under a cap: a ``zed`` between two seams, or ``strips`` cut to the profile
    """

    coverage: Annotated[float, Field(gt=50, le=2000)] = 500.0
    side: Literal["left", "right"] = "left"
    start: Annotated[float, Field(ge=0, le=2000)] | None = None
    overhang: Annotated[float, Field(ge=-100, le=500)] = 40.0
    hem: Annotated[float, Field(ge=0, le=200)] = 0.0
    sliver: Annotated[float, Field(ge=0, le=2000)] = 120.0
    lap: Annotated[float, Field(ge=0, le=1000)] = 200.0
    at_ridge: Annotated[float, Field(ge=-300, le=300)] = 0.0
    at_wall: Annotated[float, Field(ge=-300, le=300)] = 0.0
    system: Annotated[str, Field(max_length=60)] = ""
    seam: Annotated[float, Field(ge=0, le=200)] = 0.0
    height: Annotated[float, Field(ge=0, le=500)] = 0.0
    fill: Literal["zed", "strips"] = "zed"


@dataclass(frozen=True)
class SlantCut:
    """A panel's end that is not square: over which edge, ``angle`` degrees off square. 0 along the face's level, from
    0 to 90."""

    edge: str
    angle: float


@dataclass(frozen=True)
class Panel:
    """``left`` and ``right`` its seams on ``s``; ``outline`` what it covers in face coordinates; ``length`` as it is
    ordered, the sum of its ``terms``: the face, then overhang, hem, turn-up, lap. All in mm, ``s`` across and ``t`` up
    the face."""

    n: int
    left: float
    right: float
    outline: tuple[Point, ...]
    length: float
    cuts: tuple[SlantCut, ...]
    terms: tuple[tuple[str, float], ...] = ()

    @property
    def width(self) -> float:
        """What it covers from seam to seam, mm."""
        return self.right - self.left


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

    def orders(self) -> list[tuple[float, int]]:
        """Lengths to order, mm, and how many of each, the longest first."""
        count: dict[float, int] = {}
        for panel in self.panels:
            length = math.ceil(panel.length - 1e-6)
            count[length] = count.get(length, 0) + 1
        return sorted(count.items(), reverse=True)


class _FacetFrame:
    """Plan to face coordinates of one facet."""

    def __init__(self, facet: Facet) -> None:
        across, fall = axes(facet.plane)
        k = facet.plane.stretch
        turn = [across[0], across[1], -fall[0] * k, -fall[1] * k, 0.0, 0.0]
        rough = affine_transform(facet.shape, turn)
        self.matrix = [*turn[:4], -rough.bounds[0], -rough.bounds[1]]
        self.shape: Polygon = affine_transform(facet.shape, self.matrix)
        self.width, self.height = self.shape.bounds[2], self.shape.bounds[3]

    def at(self, point: Point) -> Point:
        a, b, c, d, e, f = self.matrix
        return a * point[0] + b * point[1] + e, c * point[0] + d * point[1] + f


def face_frame(facet: Facet) -> _FacetFrame:
    """The face's own coordinates."""
    return _FacetFrame(facet)


@dataclass(frozen=True)
class Seams:
    """Where the seams of a face lie: ``places`` on ``s``, laid from ``start``; ``spans`` of its openings there."""

    frame: _FacetFrame
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
    frame = _FacetFrame(facet)
    spans = [*_opening_spans(roof, facet, frame), *_wall_spans(roof, facet, frame)]
    own = best_start(frame.width, [span for _, *span in spans], rule) if rule.start is None else rule.start
    first = own % rule.coverage
    if rule.side == "right":
        first = (frame.width - own) % rule.coverage
    return Seams(frame, own, tuple(_seams(frame.width, first, rule.coverage)), tuple(spans))


def seams_of(roof: Roof, facet_id: str, rule: PanelRule) -> Seams:
    """The seams of a face laid by ``rule``, without its panels; where the start is ``None`` the best is worked out."""
    return _seams_of(roof.plan, facet_id, rule)


def lay(roof: Roof, facet_id: str, rule: PanelRule) -> PanelPlan:
    """Lay panels on a face by ``rule``; where its start is ``None`` the best one is worked out."""
    facet = roof.facet(facet_id)
    laid = seams_of(roof, facet_id, rule)
    frame, own, seams, spans = laid.frame, laid.start, laid.places, laid.spans
    sides = [0.0, *seams, frame.width]
    panels: list[Panel] = []
    for left, right in pairwise(sides):
        panels += _panels(roof, facet, frame, rule, left, right, len(panels))
    clear = tuple(Clearance(name, _clearance(low, high, seams, rule.coverage)) for name, low, high in spans)
    on_edges = {edge.id: laid.on(edge) for edge in roof.edges_of(facet_id)}
    return PanelPlan(facet_id, rule, own, tuple(panels), seams, on_edges, clear)


def _seams(width: float, first: float, coverage: float) -> list[float]:
    count = int((width - first) // coverage) + 1
    return [s for s in (first + k * coverage for k in range(count)) if _NOTHING < s < width - _NOTHING]


def _opening_spans(roof: Roof, facet: Facet, frame: _FacetFrame) -> list[tuple[str, float, float]]:
    spans = []
    for placed in roof.openings:
        if facet.id in placed.facets:
            across = [frame.at(corner)[0] for corner in outline(placed.opening)]
            spans.append((placed.opening.id, min(across), max(across)))
    return spans


def _wall_spans(roof: Roof, facet: Facet, frame: _FacetFrame) -> list[tuple[str, float, float]]:
    """Where walls stand in the face along its fall, both cheeks of a dormer together: no seam comes close to them."""
    found: dict[str, list[float]] = {}
    for edge in roof.edges_of(facet.id):
        if edge.kind == "sidewall":
            found.setdefault(edge.wall, []).append(frame.at(edge.a[:2])[0])
    return [(name, min(places), max(places)) for name, places in found.items()
            if min(places) > _NOTHING and max(places) < frame.width - _NOTHING]


@dataclass(frozen=True)
class _SplitLine:
    """A height ``t`` at which panels between ``low`` and ``high`` on ``s`` are split. In mm."""

    t: float
    low: float
    high: float


def _split_lines(roof: Roof, facet: Facet, frame: _FacetFrame) -> list[_SplitLine]:
    """At the foot of each valley, and along each back pan, that lies over the lower panels of this face."""
    lines = []
    for edge in roof.edges_of(facet.id):
        if spills_on(roof, edge) == facet.id:
            low, high = frame.at(min(edge.a, edge.b, key=lambda end: end[2])[:2]), frame.at(
                max(edge.a, edge.b, key=lambda end: end[2])[:2])
            lines.append(_SplitLine(low[1], min(low[0], high[0]), max(low[0], high[0])))
    return lines


def _split(piece: Polygon, lines: list[_SplitLine]) -> list[Polygon]:
    """A panel's part, or its parts below and above the lines that cross it, from below."""
    left, low, right, high = piece.bounds
    for line in lines:
        if line.low < right - _NOTHING and line.high > left + _NOTHING and low + _LEAST < line.t < high - _LEAST:
            halves = (shapely.intersection(piece, shapely.box(left - 1, low - 1, right + 1, line.t)),
                      shapely.intersection(piece, shapely.box(left - 1, line.t, right + 1, high + 1)))
            return [part for half in halves for whole in shapely.get_parts(half)
                    if isinstance(whole, Polygon) and whole.area > 100 for part in _split(whole, lines)]
    return [piece]


def _panels(roof: Roof, facet: Facet, frame: _FacetFrame, rule: PanelRule, left: float, right: float,
            count: int) -> list[Panel]:
    """The panels between two seams: one, or several where something stands between."""
    part = shapely.intersection(frame.shape, shapely.box(left, -1, right, frame.height + 1))
    lines = _split_lines(roof, facet, frame)
    pieces = [half for p in shapely.get_parts(part) if isinstance(p, Polygon) and p.area > 100
              for half in _split(p, lines)]
    made: list[Panel] = []
    sides = [(edge, shapely.LineString([frame.at(edge.a[:2]), frame.at(edge.b[:2])]))
             for edge in roof.edges_of(facet.id)]
    for piece in sorted(pieces, key=lambda p: p.bounds[1]):
        low, wide = piece.bounds[1], piece.buffer(0.5, quad_segs=2)
        beside = [(edge, line) for edge, line in sides if line.intersection(wide).length > _NOTHING]
        kinds: set[str] = {edge.kind for edge, line in beside if _is_above(line, piece) or edge.kind == "eave"}
        under = any(abs(piece.bounds[3] - line.t) < _NOTHING and line.low < right and line.high > left
                    for line in lines)
        terms = tuple(_terms(piece.bounds[3] - low, kinds, rule, under))
        length = sum(mm for _, mm in terms)
        ring = tuple((float(x), float(y)) for x, y in piece.exterior.coords[:-1])
        made.append(Panel(count + len(made) + 1, piece.bounds[0], piece.bounds[2], ring, length,
                          tuple(_cuts(beside)), terms))
    return made


def _is_above(line: shapely.LineString, piece: Polygon) -> bool:
    """Whether an edge runs along the top of a panel, not beside it."""
    return bool(line.interpolate(0.5, normalized=True).y > piece.centroid.y)


def _terms(face: float, kinds: set[str], rule: PanelRule, under: bool) -> Iterator[tuple[str, float]]:
    """Where each millimetre of a panel's length comes from: ``kinds`` of edges at its foot and its top, ``under``
    another panel that lies above it."""
    yield "face", face
    for what, mm, there in (
            ("overhang", rule.overhang, "eave" in kinds), ("hem at the eave", rule.hem, "eave" in kinds),
            ("turned up at the ridge" if rule.at_ridge > 0 else "held back at the ridge", rule.at_ridge,
             bool(kinds & {"ridge", "half-ridge"})),
            ("turned up at the wall" if rule.at_wall > 0 else "held back at the wall", rule.at_wall,
             "headwall" in kinds),
            ("lap under the panel above", rule.lap, under)):
        if there and mm:
            yield what, mm


def _cuts(beside: list[tuple[Edge, shapely.LineString]]) -> Iterator[SlantCut]:
    """How a panel is cut along the edges beside it that run neither level nor up the slope."""
    for edge, line in beside:
        (ax, ay), (bx, by) = line.coords
        angle = math.degrees(math.atan2(by - ay, bx - ax))
        off = abs((angle + 90) % 180 - 90)  # from level
        if 0.05 < off < 89.95:
            yield SlantCut(edge.id, off)


def _on_edge(frame: _FacetFrame, edge: Edge, seams: list[float]) -> tuple[float, ...]:
    a, b = frame.at(edge.a[:2]), frame.at(edge.b[:2])
    run = b[0] - a[0]
    if abs(run) < _NOTHING:
        return ()
    found = [(s - a[0]) / run * edge.length for s in seams if min(a[0], b[0]) < s < max(a[0], b[0])]
    return tuple(sorted(found))


def _wave(place: float, first: float, coverage: float) -> float:
    """From ``place`` to the nearest of the seams at ``first`` + k·``coverage``."""
    rest = (place - first) % coverage
    return min(rest, coverage - rest)


def _clearance(low: float, high: float, seams: tuple[float, ...], coverage: float) -> float:
    if not seams:
        return math.inf
    if high - low >= coverage:  # a seam runs in whatever is done: its sides should stand on the flat
        return min(min(abs(low - s), abs(high - s)) for s in seams)
    return min(abs((low + high) / 2 - s) for s in seams) - (high - low) / 2


def best_start(width: float, openings: list[list[float]], rule: PanelRule) -> float:
    """The start that keeps the most clearance to all openings without a sliver at either end.

    Clearance is a wave of the start for each opening, so the best lies where a wave is highest, where two waves cross,
    or at the end of what the slivers allow: all of these are tried, none guessed. In mm.
    """
    c = rule.coverage
    points = [p for low, high in openings for p in ((low, high) if high - low >= c else ((low + high) / 2,))]
    halves = [h for low, high in openings for h in ((0.0, 0.0) if high - low >= c else ((high - low) / 2,))]
    if rule.side == "right":
        points = [width - p for p in points]
    tries = {0.0, rule.sliver, (width - rule.sliver) % c, width % c, (width % c) / 2, (width % c + c) / 2,
             max(0.0, c - rule.sliver)}
    for n, (p, half) in enumerate(zip(points, halves, strict=True)):
        tries.add((p + c / 2) % c)
        for q, other in zip(points[:n], halves[:n], strict=True):
            for k in (0.0, c / 2):
                for off in (0.0, (half - other) / 2, (other - half) / 2):
                    tries.add(((p + q) / 2 + k + off) % c)

    def worth(start: float) -> tuple[bool, float, float, float]:
        first = start if start > _NOTHING else min(c, width)
        rest = (width - start) % c
        last = rest if rest > _NOTHING else c
        clear = min((_wave(p, start, c) - h for p, h in zip(points, halves, strict=True)), default=0.0)
        whole = min(first, last) >= min(rule.sliver, width) - 1e-6
        return whole, round(clear, 6), float(start <= _NOTHING), min(first, last)
    return max(sorted(round(t, 9) for t in tries), key=worth)


@dataclass(frozen=True)
class OutOfSquare:
    """``offset`` mm that the head is out toward the right (below 0: left), over the whole height; ``misfit`` how
    much the four measures disagree, mm; ``corner`` the corner that stands out."""

    offset: float
    corner: str
    misfit: float

    def per_panel(self, count: int) -> tuple[float, ...]:
        """Where each seam's head goes, mm from square to the eave, when the error is spread."""
        return tuple(self.offset * k / count for k in range(1, count + 1))


def out_of_square(width: float, height: float, rising: float, falling: float) -> OutOfSquare:
    """How far a face is out from its two diagonals, mm.

    ``rising`` from the lower left to the upper right corner, ``falling`` from the upper left to the lower right.
    A sheared rectangle has rising² − falling² = 4·width·height·cos of its lower left corner; its diagonals'
    squares add up to twice those of its sides, and ``misfit`` is what is missing from that.
    """
    lean = (rising * rising - falling * falling) / (4 * width * height)
    offset = height * max(-1.0, min(1.0, lean))
    mean = math.sqrt((rising * rising + falling * falling) / 2)
    return OutOfSquare(offset, "none" if abs(offset) < 0.5 else "upper right" if offset > 0 else "upper left",
                       abs(mean - math.hypot(width, height)))
