"""The clear gaps between seams that zeds fill under a trim: from where to where along an edge, clear of valleys, other
caps, rakes and walls; and the sharp corners that they do not reach into."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from functools import lru_cache
from itertools import pairwise

import numpy as np
import shapely

from yattle import overlay
from yattle.derive.corners import Array, beside_edge, run_frame
from yattle.derive.end_cuts import end_cuts
from yattle.derive.zeds import CLOSED, StripPlace
from yattle.pattern.rings import cross
from yattle.roof import Edge, Roof, RoofPlan, build
from yattle.roof.drain import axes
from yattle.roof.panels import PanelRule, seams_of
from yattle.roof.plane import Point3

LEAST_GAP = 25.0
"""Narrower gaps are left to the caulk, mm."""
NO_GAP = 1.0
"""What is narrower is none, mm."""
_SHARP = 1.5  # along an edge for every mm into its face: seams that meet it as sharply leave sharp corners
_ALONG = 0.05  # sine of the angle between an edge and the seams
_SQUARE = 0.999  # a plane that square to an edge tapers nothing
_LEAST_SINE = 0.2  # of the angle between an edge and a rake: where it is sharper nothing stands in the corner


def sharp_ends(roof: Roof, edge: Edge, face: str, rule: PanelRule, under: StripPlace) -> tuple[float, float]:
    """How far from each end of an edge the upright of its first zed stands where seams meet it so sharply that their
    direction, in which it is cut, leads it away from there, mm along the edge; 0 where they do not."""
    frame, _ = beside_edge(roof, edge, face)
    forward = float((np.array(edge.b) - np.array(edge.a)) @ frame[0]) > 0
    slant = slant_of(roof, frame, face) * (1.0 if forward else -1.0)
    gaps = [gap for gap in clear_gaps(roof, edge, face, rule, under) if gap[1] > LEAST_GAP]
    if abs(slant) < _SHARP or not gaps:
        return 0.0, 0.0
    by = slant * under.zeds[edge.facets.index(face)].height
    (first, _), (last, wide) = gaps[0], gaps[-1]
    return max(first + by, 0.0), max(edge.length - last - wide - by, 0.0)


def caulked(roof: Roof, edge: Edge, face: str, rule: PanelRule, under: StripPlace) -> list[tuple[float, float]]:
    """From where to where along an edge, where zeds stand, gaps are too narrow for one and left to the caulk, mm from
    its start."""
    frame, _ = beside_edge(roof, edge, face)
    forward = float((np.array(edge.b) - np.array(edge.a)) @ frame[0]) > 0
    by = slant_of(roof, frame, face) * under.zeds[edge.facets.index(face)].height * (1.0 if forward else -1.0)
    return [(start + by, start + wide + by) for start, wide in clear_gaps(roof, edge, face, rule, under)
            if 0.0 < wide <= LEAST_GAP]


def clear_gaps(roof: Roof, edge: Edge, face: str, rule: PanelRule,
               under: StripPlace) -> tuple[tuple[float, float], ...]:
    """The clear spaces along an edge as (from its start, how wide), mm: between two seams less a seam's width, beside
    an end less half of one; a seam that the edge crosses slantwise takes as much more as the space between two does.
    They end where the face's panels do in the strip ``under`` the trim: at a valley that comes up to the ridge; and
    before what they would go through at a rake."""
    asked = "clear gaps", edge, face, rule, under
    return roof.once(asked, lambda: tuple(_clear_gaps(roof, edge, face, rule, under)))


def _clear_gaps(roof: Roof, edge: Edge, face: str, rule: PanelRule,
                under: StripPlace) -> Iterator[tuple[float, float]]:
    seams = seams_of(roof, face, rule).on(edge)
    (ax, ay), _ = axes(roof.facet(face).plane)
    across = abs((edge.b[0] - edge.a[0]) * ax + (edge.b[1] - edge.a[1]) * ay)
    if across < _ALONG * edge.length:
        return  # it runs along the seams, as a wall may beside a level face: none end there
    slant = edge.length / max(across, NO_GAP)
    wide = rule.seam * max(slant, 1.0)
    first, last = _reach_of(roof.plan, edge, face, under, wide)
    first, last = first if first > NO_GAP else 0.0, last if last < edge.length - NO_GAP else edge.length
    before, after = _beside_seams(roof, edge, face, wide, under.shop[edge.facets.index(face)])
    on = [_on_seam(roof, face, rule, corner) for corner in (edge.a, edge.b)]
    ends = [max(_from_beside(roof, edge, face, (corner, kind), mm) for kind, mm in (
        ("rake", under.beside_rake), ("sidewall", under.beside_wall if edge.kind in ("ridge", "headwall") else 0.0)))
            for corner in (edge.a, edge.b)]
    ends = [max(pair) for pair in zip(ends, tapered(roof.plan, edge, face, under), strict=True)]
    for a, b in pairwise((0.0, *seams, edge.length)):
        begin, end = a + (after if a > 0 or on[0] else 0.0), b - (before if b < edge.length or on[1] else 0.0)
        begin, end = max(begin, first, ends[0]), min(end, last, edge.length - ends[1])
        yield begin, max(end - begin, 0.0)


@lru_cache(maxsize=1024)
def tapered(plan: RoofPlan, edge: Edge, face: str, under: StripPlace) -> tuple[float, float]:
    """How far along a wall from its corners a zed has to begin where the flange over it is cut slanting, under another
    roof, mm; 0 where it is not."""
    if edge.kind not in ("headwall", "skew-wall"):
        return 0.0, 0.0
    roof = build(plan)
    left, _, frame = run_frame(roof, edge)
    (_, into, _), _ = beside_edge(roof, edge, face)
    cuts, zed = end_cuts(roof, edge, {}), under.zeds[edge.facets.index(face)]
    falls = np.array([into @ frame[1], into @ frame[2]])  # along the flange, as (out, up)
    top, found = np.array(under.lift) + zed.high * falls, [0.0, 0.0]
    mains = ((0, cuts.left[1] or cuts.left[0], cuts.reaches[1]), (1, cuts.right[1] or cuts.right[0], cuts.reaches[3]))
    for n, plane, reach in (*mains, *((int(off.end == "right"), off.plane, off.reach) for off in cuts.corners)):
        if plane is not None and abs(plane[0]) < _SQUARE:
            aside = float(top @ np.array(plane[1:])) / plane[0]
            found[n] = max(found[n], -reach - (aside if n == 0 else -aside))
    return (found[0], found[1]) if math.dist(edge.a, left) < NO_GAP else (found[1], found[0])


def _from_beside(roof: Roof, edge: Edge, face: str, other: tuple[Point3, str], beside: float) -> float:
    """How far along an edge from one of its corners a zed has to begin, ``beside`` mm from an edge of that kind that
    goes down from there, a rake or a wall along the fall; 0 where there is none."""
    corner, kind = other
    for one in roof.edges_of(face) if beside else ():
        near, far = sorted((one.a, one.b), key=lambda end: math.dist(end, corner))
        if one.kind == kind and math.dist(near, corner) < NO_GAP and far[2] < near[2]:
            ways = [np.array(way.b) - way.a for way in (edge, one)]
            sine = float(np.linalg.norm(cross(ways[0], ways[1]))) / (edge.length * one.length)
            return beside / max(sine, _LEAST_SINE)
    return 0.0


def _on_seam(roof: Roof, face: str, rule: PanelRule, corner: tuple[float, float, float]) -> bool:
    """Whether a seam runs into a corner of its face, or close by it, as at the top of a hip's end."""
    seams = seams_of(roof, face, rule)
    across = seams.frame.at(corner[:2])[0]
    return any(abs(place - across) < max(rule.seam, NO_GAP) for place in seams.places)


def _beside_seams(roof: Roof, edge: Edge, face: str, wide: float, shop: bool) -> tuple[float, float]:
    """How much of a seam's width lies before its line and after it, along the edge from its start, mm: half of it; of
    pans made in the shop all to the right as seen from below."""
    if not shop:
        return wide / 2, wide / 2
    (ax, ay), _ = axes(roof.facet(face).plane)
    onward = (edge.b[0] - edge.a[0]) * ax + (edge.b[1] - edge.a[1]) * ay > 0
    return (0.0, wide) if onward else (wide, 0.0)


@lru_cache(maxsize=2048)
def _reach_of(plan: RoofPlan, edge: Edge, face: str, under: StripPlace, wide: float) -> tuple[float, float]:
    """From where to where along an edge, on the seams' lines, its face is free beneath it, mm, no further than the edge
    itself: not in a valley, whose pan is open, nor nearer to another cap than to its own, with room for a seam ``wide``
    mm where one of these begins."""
    roof = build(plan)
    frame, at = beside_edge(roof, edge, face)
    way, slant = frame[:2], slant_of(roof, frame, face)

    def seen(points: Iterable[tuple[float, ...]]) -> list[list[float]]:
        plane = roof.facet(face).plane
        return [(way @ (np.array(plane.at((p[0], p[1]))) - at)).tolist() for p in points]
    shape, others = shapely.Polygon(seen(roof.facet(face).shape.exterior.coords[:-1])), roof.edges_of(face)
    first, last = 0.0, edge.length
    zed = under.zeds[edge.facets.index(face)]
    for away in (max(zed.low, 0.0), max(zed.high, 0.0)):
        held = [shapely.LineString(seen((e.a, e.b))).buffer(under.valley if e.kind == "valley" else away)
                for e in others if e.id != edge.id and (e.kind == "valley" or (e.kind in CLOSED and away > 0))]
        line = shapely.LineString([(slant * away, away), (edge.length + slant * away, away)])
        cut = overlay.difference(overlay.intersection(line, shape), overlay.union_all(held))
        parts = [part for part in shapely.get_parts(cut) if part.length > 1.0]
        if parts:
            longest = max(parts, key=lambda part: float(part.length))
            (a, _), (b, _) = sorted(longest.coords)
            free = [shapely.distance(shape.exterior, shapely.Point(end, away)) < NO_GAP for end in (a, b)]
            first = max(first, a - slant * away + (0.0 if free[0] or a < slant * away + NO_GAP else wide))
            last = min(last, b - slant * away - (
                0.0 if free[1] or b > edge.length + slant * away - NO_GAP else wide))
    forward = float((np.array(edge.b) - np.array(edge.a)) @ frame[0]) > 0
    return (first, last) if forward else (edge.length - last, edge.length - first)


def slant_of(roof: Roof, frame: Array, face: str) -> float:
    """How far along an edge the seams go for every mm into the face, in the frame beside it."""
    (_, _), (fx, fy) = axes(roof.facet(face).plane)
    x, y, z = frame[2].tolist()
    along, into, _ = (frame @ np.array([fx, fy, -(x * fx + y * fy) / z])).tolist()
    return float(along / into) if abs(into) > 1e-9 else 0.0


def along_seams(roof: Roof, edge: Edge, face: str) -> tuple[float, float, float] | None:
    """The plane along the seams of a face, square to it, as (along the edge, into the face, off it), 1 mm long;
    ``None`` where it is square to the edge."""
    across, _ = axes(roof.facet(face).plane)
    frame, _ = beside_edge(roof, edge, face)
    along, into, off = (frame @ np.array([across[0], across[1], 0.0])).tolist()
    return None if abs(along) > 0.9999 else (along, into, off)
