"""The panels between two seams: split where something stands between or one would be too long, each with its length
explained and its cuts."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import shapely
from shapely import Polygon
from shapely.affinity import translate

from yattle import overlay
from yattle.roof.at_edge import sides
from yattle.roof.build import Roof
from yattle.roof.drain import spills_on
from yattle.roof.edges import Edge
from yattle.roof.facets import Facet
from yattle.roof.model import PipeOpening
from yattle.roof.openings import Placed, outline
from yattle.roof.panel_rule import LAPPED, NOTHING, FacetFrame, Panel, PanelRule, SlantCut, through_flats

_LEAST = 50.0  # mm: no panel is split off shorter
_BESIDE = 60.0  # mm of a panel beside a pitch break that are worth carrying on
_OPENS = 0.001  # mm below an opening's highest corner, so that what it leaves of the panel below is open there
_NECK, _ACUTE = 0.05, 60.0  # mm; how acute a corner stays as it is, as the length of its mitre in widths
_PLAIN = 6  # corners, the first one twice, of a part that cannot have a spike
_MOST = 200  # panels one above another


@dataclass(frozen=True)
class _SplitLine:
    """A height ``t`` at which panels between ``low`` and ``high`` on ``s`` are split, with a ``lap`` of its own or the
    rule's; ``most``: only panels that reach no further past its ends. In mm."""

    t: float
    low: float
    high: float
    lap: float | None = None
    most: float = math.inf


def _split_lines(roof: Roof, facet: Facet, frame: FacetFrame) -> list[_SplitLine]:
    """At the foot of each valley, and along each back pan, that lies over the lower panels of this face; at a pitch
    break panels that go on by its end only where another roof hangs over them."""
    lines = []
    for edge in roof.edges_of(facet.id):
        if spills_on(roof, edge) == facet.id:
            low, high = frame.at(min(edge.a, edge.b, key=lambda end: end[2])[:2]), frame.at(
                max(edge.a, edge.b, key=lambda end: end[2])[:2])
            lines.append(_SplitLine(low[1], min(low[0], high[0]), max(low[0], high[0])))
        elif edge.kind == "pitch-break" and sides(roof, edge)[0] == facet.id:
            (left, t), (right, _) = sorted(frame.at(end[:2]) for end in (edge.a, edge.b))
            lines.append(_SplitLine(t, left, right, 0.0, _BESIDE))
    return lines


def _split(piece: Polygon, lines: list[_SplitLine]) -> list[Polygon]:
    """A panel's part, or its parts below and above the lines that cross it, from below."""
    left, low, right, high = piece.bounds
    for line in lines:
        if line.low < right - NOTHING and line.high > left + NOTHING and low + _LEAST < line.t < high - _LEAST and (
                max(line.low - left, right - line.high) < line.most):
            halves = (overlay.intersection(piece, shapely.box(left - 1, low - 1, right + 1, line.t)),
                      overlay.intersection(piece, shapely.box(left - 1, line.t, right + 1, high + 1)))
            return [part for half in halves for whole in shapely.get_parts(half)
                    if isinstance(whole, Polygon) and whole.area > 100 for part in _split(whole, lines)]
    return [piece]


Sides = list[tuple[Edge, shapely.LineString]]


@dataclass(frozen=True)
class FaceParts:
    """What parts the panels of a face, worked out once for all of them, in its own coordinates, mm: the lines they are
    split at, those of end laps, its edges and the boxes that stand in it (chimneys, curbs) with the room behind."""

    lines: list[_SplitLine]
    laps: list[_SplitLine]
    sides: Sides
    boxes: tuple[Polygon, ...]


def face_parts(roof: Roof, facet: Facet, frame: FacetFrame, rule: PanelRule) -> FaceParts:
    """What parts the panels of a face laid by a rule; mm."""
    laps = [_SplitLine(t, 0.0, frame.width) for t in end_laps(frame.height, rule)]
    boxes = boxes_in(roof, facet, frame, rule)
    lines = [*_split_lines(roof, facet, frame), *(_SplitLine(box.bounds[3] - _OPENS, box.bounds[0], box.bounds[2])
                                                  for box in boxes), *_at_pipes(roof, facet, frame, rule)]
    return FaceParts(lines, laps, _sides(roof, facet, frame), boxes)


def without_necks(shape: shapely.Geometry) -> shapely.Geometry:
    """A shape parted where it hangs together by less than sheet can, mm."""
    return shape.buffer(-_NECK, join_style="mitre", mitre_limit=_ACUTE).buffer(
        _NECK, join_style="mitre", mitre_limit=_ACUTE)


def _without_spikes(piece: Polygon) -> list[Polygon]:
    """A panel's part without what rounding leaves along a line that it was split at; plain ones as they are."""
    if len(piece.exterior.coords) <= _PLAIN:
        return [piece]
    return [part for part in shapely.get_parts(without_necks(piece)) if isinstance(part, Polygon) and part.area > 100]


def boxes_in(roof: Roof, facet: Facet, frame: FacetFrame, rule: PanelRule) -> tuple[Polygon, ...]:
    """Where no panel lies round the chimneys and curbs of a face, with the room behind them, in its own coordinates,
    mm."""
    return tuple(_box(placed, frame, rule) for placed in roof.openings
                 if facet.id in placed.facets and not isinstance(placed.opening, PipeOpening))


def _box(placed: Placed, frame: FacetFrame, rule: PanelRule) -> Polygon:
    """Where no panel lies round an opening: its outline at the flats, and the room behind it."""
    plumb = placed.opening.kind == "chimney"  # the others stand square on the roof
    stands = Polygon([through_flats(frame, rule, corner) if plumb else frame.at(corner)
                      for corner in outline(placed.opening)])
    behind = translate(stands, 0.0, dict(rule.behind).get(placed.opening.id, 0.0))
    whole = overlay.union_all([stands, behind]).convex_hull
    assert isinstance(whole, Polygon)
    return whole


def _at_pipes(roof: Roof, facet: Facet, frame: FacetFrame, rule: PanelRule) -> list[_SplitLine]:
    """Below each pipe round which two pans are split, so that its hole is whole in both."""
    found, splits = [], {name: (below, lap) for name, below, lap in rule.split_at}
    for placed in roof.openings:
        opening = placed.opening
        if isinstance(opening, PipeOpening) and opening.id in splits and placed.facets[0] == facet.id:
            (s, t), (below, lap) = through_flats(frame, rule, (opening.x, opening.y)), splits[opening.id]
            found.append(_SplitLine(t - below, s - opening.diameter / 2, s + opening.diameter / 2, lap))
    return found


def panels_between(frame: FacetFrame, rule: PanelRule, parts: FaceParts, left: float, right: float,
                   count: int) -> list[Panel]:
    """The panels between two seams at ``left`` and ``right`` mm, numbered past ``count``: one, or several where
    something stands between, or where one would be too long."""
    lines, laps, sides = parts.lines, parts.laps, parts.sides
    part = overlay.intersection(frame.shape, shapely.box(left, -1, right, frame.height + 1))
    for box in parts.boxes:
        part = without_necks(overlay.difference(part, box)) if box.intersects(part) else part
    pieces = [half for p in shapely.get_parts(part) if isinstance(p, Polygon) and p.area > 100
              for half in _split(p, lines)]
    if laps:
        pieces = [half for piece in pieces
                  for half in (_split(piece, laps) if _length(piece, sides, rule, lines) > rule.longest else [piece])]
    pieces = [whole for piece in pieces for whole in _without_spikes(piece)]
    made: list[Panel] = []
    for piece in sorted(pieces, key=lambda p: p.bounds[1]):
        most = max((p.bounds[3] - p.bounds[1] for p in pieces if abs(p.bounds[1] - piece.bounds[3]) < NOTHING),
                   default=math.inf)  # no panel goes on further under another than that is long
        terms = _all_terms(piece, sides, rule, [*lines, *laps], most)
        if sum(mm for _, mm in terms) <= 0.0:
            continue  # a corner that is held back from its edges as far as it reaches
        ring = tuple((float(x), float(y)) for x, y in piece.exterior.coords[:-1])
        made.append(Panel(count + len(made) + 1, piece.bounds[0], piece.bounds[2], ring, sum(mm for _, mm in terms),
                          tuple(_cuts(_beside(piece, sides))), terms))
    return made


def _sides(roof: Roof, facet: Facet, frame: FacetFrame) -> Sides:
    """A face's edges in its own coordinates."""
    return [(edge, shapely.LineString([frame.at(edge.a[:2]), frame.at(edge.b[:2])]))
            for edge in roof.edges_of(facet.id)]


def _beside(piece: Polygon, sides: Sides) -> Sides:
    """The edges that a panel ends at."""
    wide = piece.buffer(0.5, quad_segs=2)
    return [(edge, line) for edge, line in sides if line.intersection(wide).length > NOTHING]


def _length(piece: Polygon, sides: Sides, rule: PanelRule, lines: list[_SplitLine]) -> float:
    return sum(mm for _, mm in _all_terms(piece, sides, rule, lines))


def _all_terms(piece: Polygon, sides: Sides, rule: PanelRule, lines: list[_SplitLine],
               most: float = math.inf) -> tuple[tuple[str, float], ...]:
    """Where each millimetre of a panel's length comes from; no lap over it is longer than ``most`` mm."""
    left, low, right, high = piece.bounds
    kinds: set[str] = {edge.kind if _is_above(line, piece) or edge.kind == "eave" else f"{edge.kind} below"
                       for edge, line in _beside(piece, sides)
                       if edge.kind != "pitch-break" or _is_at_an_end(line, piece)}
    laps = [rule.lap if line.lap is None else line.lap for line in lines
            if abs(high - line.t) < NOTHING and line.low < right and line.high > left]
    return tuple(_terms(high - low, kinds, rule, min(max(laps, default=0.0), most)))


def end_laps(height: float, rule: PanelRule) -> tuple[float, ...]:
    """How far up a face the upper panels begin where one from eave to head would be longer than the rule's longest:
    each lap in the middle over a support, the highest that still does; on a deck at even lengths. In mm; none where
    nothing is too long, or no support stands in reach."""
    most = rule.longest - rule.lap
    ends = max(rule.overhang + rule.hem, 0.0), max(rule.at_ridge, rule.at_wall, 0.0)
    if not rule.longest or most <= rule.lap + _LEAST or height + sum(ends) <= rule.longest:
        return ()
    found, at = list[float](), -ends[0]  # the foot hangs over the eave
    while height + ends[1] - at > rule.longest and len(found) < _MOST:
        if rule.supports:
            reach = at + most + rule.lap / 2
            n = math.floor((reach - rule.offset) / rule.supports + 1e-9)
            foot = rule.offset + n * rule.supports - rule.lap / 2
            if n < 0 or foot <= max(at, 0.0) + _LEAST:
                return ()
        else:
            left = height + ends[1] - at
            many = math.ceil((left - rule.lap) / most - 1e-9)
            foot = at + (left + (many - 1) * rule.lap) / many - rule.lap
        found.append(foot)
        at = foot
    return tuple(found)


def _is_above(line: shapely.LineString, piece: Polygon) -> bool:
    """Whether an edge runs along the top of a panel, not beside it."""
    return bool(line.interpolate(0.5, normalized=True).y > piece.centroid.y)


def _is_at_an_end(line: shapely.LineString, piece: Polygon) -> bool:
    """Whether a level edge is a panel's foot or its head, and no notch in its side."""
    at = float(line.interpolate(0.5, normalized=True).y)
    low, high = float(piece.bounds[1]), float(piece.bounds[3])
    return min(abs(at - low), abs(at - high)) < NOTHING


def _terms(face: float, kinds: set[str], rule: PanelRule, under: float) -> Iterator[tuple[str, float]]:
    """Where each millimetre of a panel's length comes from: ``kinds`` of edges at its foot and its top, ``under`` how
    far another panel that lies above it laps over it."""
    yield "face", face
    for what, mm, there in (
            ("overhang", rule.overhang, "eave" in kinds), ("hem at the eave", rule.hem, "eave" in kinds),
            ("turned up at the ridge" if rule.at_ridge > 0 else "held back at the ridge", rule.at_ridge,
             bool(kinds & {"ridge", "half-ridge"})),
            ("turned up at the wall" if rule.at_wall > 0 else "held back at the wall", rule.at_wall,
             "headwall" in kinds),
            ("past the pitch break" if rule.at_break > 0 else "held back at the pitch break", rule.at_break,
             "pitch-break below" in kinds),
            ("held back under the pitch break", rule.under_break, "pitch-break" in kinds),
            (LAPPED, under, bool(under))):
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
