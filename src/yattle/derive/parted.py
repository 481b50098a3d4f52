"""Edges of the roof parted by what stands over them: each part is a run, the roof itself knows them whole."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import numpy as np
import shapely

from yattle.roof import Edge, Roof
from yattle.roof.measured import Taped
from yattle.roof.openings import outline

_CLEAR = 10.0  # mm before a chimney where a cap ends: its flashing stands up there, its counterflashing kicks out
_LEAST = 60.0  # mm: a shorter rest of a ridge has no cap


def parted(roof: Roof, edge: Edge) -> Iterator[Edge]:
    """An edge without what stands over it: a ridge ends square before each chimney and begins anew behind it."""
    a, b = np.array(edge.a), np.array(edge.b)
    way = (b - a)[:2] / max(float(np.linalg.norm((b - a)[:2])), 1e-9)
    begin, whole = 0.0, float((b - a)[:2] @ way)
    line = shapely.LineString([edge.a[:2], edge.b[:2]])
    stands = (np.array(outline(placed.opening)) for placed in roof.openings
              if edge.kind == "ridge" and set(edge.facets) <= set(placed.facets))
    spans = sorted((float(along.min()) - _CLEAR, float(along.max()) + _CLEAR) for ring in stands
                   if shapely.Polygon(ring).intersects(line) for along in [(ring - a[:2]) @ way])
    if not spans:
        yield edge
        return
    for low, high in (*spans, (whole, whole)):
        if low - begin > _LEAST:
            p, q = (tuple((a + (b - a) * share / whole).tolist()) for share in (begin, low))
            yield replace(edge, a=p, b=q)
        begin = max(begin, high)


def tape_of(edge: Edge, taped: Taped | None, whole: float) -> Taped | None:
    """What was taped of an edge; nothing where it is one part of one, ``whole`` mm long, that was taped whole."""
    part = taped is None or abs(taped.value - edge.length) <= abs(taped.value - whole)
    return taped if part or edge.length > whole - 1.0 else None
