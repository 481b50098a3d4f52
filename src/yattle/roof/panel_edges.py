"""What each side of a panel's outline is: a seam, an edge of the roof, a split, an opening's side."""

from __future__ import annotations

import math

from shapely import Point

from yattle.roof.at_edge import collects
from yattle.roof.build import Roof
from yattle.roof.panel_parts import FaceParts, face_parts
from yattle.roof.panel_rule import Panel
from yattle.roof.panels import PanelPlan, face_frame

_ON = 0.6  # mm: so near a side lies on a line
LEFT, RIGHT, HEAD, FOOT = "seam at the left", "seam at the right", "lapped over", "laps over"
BOX, CUT, BACK = "opening", "cut", "back pan"


def sides_of(roof: Roof, laid: PanelPlan) -> dict[int, tuple[str, ...]]:
    """For each panel of a face, by its number, what its outline's sides are, from each corner to the next: a kind of
    edge of the roof, :data:`LEFT` or :data:`RIGHT` seam, :data:`HEAD` under an upper panel, :data:`FOOT` over a lower
    one, :data:`BOX` along an opening, :data:`BACK` along a wall that the face falls against, else :data:`CUT`."""
    facet = roof.facet(laid.facet)
    parts = face_parts(roof, facet, face_frame(facet), laid.rule)
    back = frozenset(edge.id for edge, _ in parts.sides if collects(roof, edge))
    return {panel.n: tuple(_side(laid, (parts, back), panel, n) for n in range(len(panel.outline)))
            for panel in laid.panels}


def _side(laid: PanelPlan, face: tuple[FaceParts, frozenset[str]], panel: Panel, n: int) -> str:
    parts, back = face
    a, b = panel.outline[n], panel.outline[(n + 1) % len(panel.outline)]
    middle = Point((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
    if abs(a[0] - b[0]) < _ON and math.dist(a, b) > _ON:
        for place, which in ((panel.left, LEFT), (panel.right, RIGHT)):
            if abs(middle.x - place) < _ON and any(abs(seam - place) < _ON for seam in laid.seams):
                return which
    for edge, line in parts.sides:
        if all(line.distance(p) < _ON for p in (Point(a), Point(b), middle)):
            return BACK if edge.id in back else edge.kind
    if any(box.exterior.distance(middle) < _ON for box in parts.boxes):
        return BOX
    level = abs(a[1] - b[1]) < _ON and any(abs(line.t - middle.y) < _ON and line.low < panel.right and
                                           line.high > panel.left for line in (*parts.lines, *parts.laps))
    if level:
        high = sum(y for _, y in panel.outline) / len(panel.outline) < middle.y
        return HEAD if high else FOOT
    return CUT


