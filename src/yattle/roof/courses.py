"""Shingles: course upon course up a face, whole ones and cut ones, the course that is cut at the head, and how far each
is turned down along a valley that widens downslope."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import shapely

from yattle import overlay
from yattle.roof.build import Roof
from yattle.roof.facets import Facet
from yattle.roof.panel_rule import FacetFrame, PanelRule, face_frame

_WHOLE = 1.0  # mm²: a shingle of which less is missing is whole
_NONE = 100.0  # mm²: of which less is left there is none
_MOST = 2000  # courses


@dataclass(frozen=True)
class TurnDown:
    """Along a valley: how far from its line a course is turned down at its foot and at its head, mm square to it."""

    edge: str
    foot: float
    head: float


@dataclass(frozen=True)
class ShingleCourse:
    """One course from below: it covers from ``low`` to ``high`` up the face, mm; so many ``whole`` shingles and
    ``cut`` ones; ``short``: cut at its head; ``lefts``: where each of them begins across the face, mm."""

    n: int
    low: float
    high: float
    whole: int
    cut: int
    short: bool
    valleys: tuple[TurnDown, ...] = ()
    lefts: tuple[float, ...] = ()


def courses_of(roof: Roof, face: str, rule: PanelRule, exposure: float, opening: float,
               taper: float) -> tuple[ShingleCourse, ...]:
    """The courses of a face laid by a rule, each an ``exposure`` above the one before (mm), their joints by half a
    shingle from those beneath. ``opening`` mm between the courses' lines at the head of a valley, wider by ``taper``
    for each metre downslope. None where the exposure is not known."""
    if exposure <= 0:
        return ()
    facet, frame = roof.facet(face), face_frame(roof.facet(face))
    low, found = -max(rule.overhang, 0.0), list[ShingleCourse]()
    while low < frame.height - 0.5 and len(found) < _MOST:
        high = min(low + exposure, frame.height)
        cells = list(_cells(frame, rule, low, high, exposure, len(found)))
        whole = sum(full for _, full in cells)
        found.append(ShingleCourse(
            len(found) + 1, low, high, whole, len(cells) - whole, high - low < exposure - 0.5,
            tuple(_turned_down(roof, facet, frame, max(low, 0.0), high, opening, taper)), tuple(at for at, _ in cells)))
        low += exposure
    return tuple(found)


def _cells(frame: FacetFrame, rule: PanelRule, low: float, high: float, exposure: float,
           n: int) -> Iterator[tuple[float, bool]]:
    """Where each shingle of a course begins across the face, mm, and whether it is a whole one."""
    band = overlay.intersection(frame.shape, shapely.box(-1, max(low, 0.0), frame.width + 1, high))
    begin = (rule.start or 0.0) - (rule.coverage / 2 if n % 2 else 0.0)
    k = math.floor(-begin / rule.coverage) - 1
    while begin + k * rule.coverage < frame.width:
        cell = shapely.box(begin + k * rule.coverage, max(low, 0.0), begin + (k + 1) * rule.coverage, high)
        area = overlay.intersection(band, cell).area
        if area > _NONE:
            yield begin + k * rule.coverage, bool(area > cell.area - _WHOLE and high - low > exposure - 0.5)
        k += 1


def _turned_down(roof: Roof, facet: Facet, frame: FacetFrame, low: float, high: float, opening: float,
                 taper: float) -> list[TurnDown]:
    """The valleys that a course runs into."""
    found = []
    for edge in roof.edges_of(facet.id):
        if edge.kind != "valley":
            continue
        foot, head = sorted((edge.a, edge.b), key=lambda p: p[2])
        t_foot, t_head = (frame.at(p[:2])[1] for p in (foot, head))
        if high <= t_foot or low >= t_head or t_head - t_foot < 1.0:
            continue

        def aside(t: float, t_foot: float = t_foot, t_head: float = t_head, long: float = edge.length) -> float:
            share = (min(max(t, t_foot), t_head) - t_foot) / (t_head - t_foot)
            return (opening + taper * long * (1 - share) / 1000) / 2
        found.append(TurnDown(edge.id, aside(low), aside(high)))
    return found
