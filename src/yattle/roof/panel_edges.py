"""What each side of a panel's outline is: a seam, an edge of the roof, a split, an opening's side."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np
import shapely
from numpy.typing import NDArray

from yattle.roof.at_edge import collects, sides
from yattle.roof.build import Roof
from yattle.roof.edges import Edge
from yattle.roof.panel_parts import FaceParts, face_parts
from yattle.roof.panel_rule import Panel
from yattle.roof.panels import PanelPlan, face_frame

Array = NDArray[np.float64]
_ON = 0.6  # mm: so near a side lies on a line
LEFT, RIGHT, HEAD, FOOT = "seam at the left", "seam at the right", "lapped over", "laps over"
BOX, CUT, BACK = "opening", "cut", "back pan"
BREAK = "pitch break below"


def sides_of(roof: Roof, laid: PanelPlan) -> dict[int, tuple[str, ...]]:
    """For each panel of a face, by its number, what its outline's sides are, from each corner to the next: a kind of
    edge of the roof, :data:`LEFT` or :data:`RIGHT` seam, :data:`HEAD` under an upper panel, :data:`FOOT` over a lower
    one, :data:`BOX` along an opening, :data:`BACK` along a wall that the face falls against, :data:`BREAK` over a pitch
    break at its foot, else :data:`CUT`."""
    facet = roof.facet(laid.facet)
    parts = face_parts(roof, facet, face_frame(facet), laid.rule)
    named = {edge.id: BACK if collects(roof, edge) else BREAK for edge, _ in parts.sides if collects(roof, edge) or (
        edge.kind == "pitch-break" and sides(roof, edge)[0] == facet.id)}
    outlines = [np.array(panel.outline) for panel in laid.panels]
    near = _near(parts, np.concatenate(outlines), np.concatenate([np.roll(ring, -1, axis=0) for ring in outlines])
                 ) if outlines else iter(())
    return {panel.n: tuple(_side(laid, (parts, named), (panel, n), next(near)) for n in range(len(panel.outline)))
            for panel in laid.panels}


def _near(parts: FaceParts, a: Array, b: Array) -> Iterator[tuple[Edge | None, bool]]:
    """Of each side, from ``a`` to ``b`` (n, 2) in mm: the first edge of the roof that it lies on, and whether its
    middle is at an opening."""
    ends, middles = (shapely.points(a), shapely.points(b)), shapely.points((a + b) / 2)
    on = np.full(len(a), -1)
    for k, (_, line) in enumerate(parts.sides):
        lies = np.logical_and.reduce([shapely.distance(places, line) < _ON for places in (*ends, middles)])
        on[lies & (on < 0)] = k
    at_box = np.zeros(len(a), dtype=bool)
    for box in parts.boxes:
        at_box |= shapely.distance(box.exterior, middles) < _ON
    for k, box in zip(on.tolist(), at_box.tolist(), strict=True):
        yield (parts.sides[k][0] if k >= 0 else None), box


def _side(laid: PanelPlan, face: tuple[FaceParts, dict[str, str]], place: tuple[Panel, int],
          near: tuple[Edge | None, bool]) -> str:
    (parts, named), (panel, n), (edge, at_box) = face, place, near
    a, b = panel.outline[n], panel.outline[(n + 1) % len(panel.outline)]
    x, y = (a[0] + b[0]) / 2, (a[1] + b[1]) / 2
    if abs(a[0] - b[0]) < _ON and math.dist(a, b) > _ON:
        for seat, which in ((panel.left, LEFT), (panel.right, RIGHT)):
            if abs(x - seat) < _ON and any(abs(seam - seat) < _ON for seam in laid.seams):
                return which
    if edge is not None:
        return named.get(edge.id, edge.kind)
    if at_box:
        return BOX
    level = abs(a[1] - b[1]) < _ON and any(abs(line.t - y) < _ON and line.low < panel.right and
                                           line.high > panel.left for line in (*parts.lines, *parts.laps))
    if level:
        high = sum(v for _, v in panel.outline) / len(panel.outline) < y
        return HEAD if high else FOOT
    return CUT
