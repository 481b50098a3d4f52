"""The rims of all parts of a roof: places along every edge where a sheet ends or goes on upright and down."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from yattle.built.sheets import Numbers, Sheets
from yattle.pattern.surface import Array

_SAME = 0.3  # mm between the middles of an edge of two parts that a fold joins there
_EVERY = 300.0  # mm between places along an edge
_CORNER = 12.0  # mm from an edge's ends to its first and last place: hems and tabs are cut back there


@dataclass(frozen=True)
class Rims:
    """Places at the rims of all parts: ``sheet`` by number, the place ``at`` (n, 3), mm, the way ``out`` there in plan
    (n, 2), 1 mm long."""

    sheet: Numbers
    at: Array
    out: Array

    def some(self, keep: NDArray[np.bool_]) -> Rims:
        """Those of the places that are kept."""
        return Rims(self.sheet[keep], self.at[keep], self.out[keep])


def rims_of(sheets: Sheets) -> Rims:
    """Places along the rims of all parts that lie, and along folds from where the piece goes on upright and down."""
    rows = _edges(sheets)
    if not len(rows.part):
        return Rims(np.empty(0, np.int64), np.empty((0, 3)), np.empty((0, 2)))
    a, b = rows.start, rows.end
    long = np.linalg.norm(b - a, axis=1)
    ways = np.column_stack((b[:, 1] - a[:, 1], a[:, 0] - b[:, 0])) * rows.turn[:, None]
    sizes = np.hypot(*ways.T)
    kept = np.nonzero(sheets.lies[rows.part] & (long >= 2 * _CORNER) & (sizes >= 1e-6) & ~_folds(sheets, rows))[0]
    counts = np.maximum(3, np.ceil(long[kept] / _EVERY).astype(int) + 1)
    edge = np.repeat(kept, counts)
    step = np.arange(len(edge)) - np.repeat(np.cumsum(counts) - counts, counts)
    along = (_CORNER + (long[edge] - 2 * _CORNER) * step / np.repeat(counts - 1, counts)) / long[edge]
    ways = ways / np.maximum(sizes, 1e-9)[:, None]
    return Rims(rows.part[edge], a[edge] + (b - a)[edge] * along[:, None], ways[edge])


@dataclass(frozen=True)
class _Edges:
    """Every edge of every part: whose it is, from where to where (n, 3), mm, and which way round its part goes in
    plan: 1 anticlockwise, -1 clockwise."""

    part: Numbers
    start: Array
    end: Array
    turn: Array


def _edges(sheets: Sheets) -> _Edges:
    rings = [one.ring for one in sheets.sheets]
    counts = np.array([len(ring) for ring in rings], dtype=np.int64)
    if not len(counts):
        return _Edges(np.empty(0, np.int64), np.empty((0, 3)), np.empty((0, 3)), np.empty(0))
    start, last = np.concatenate(rings), np.cumsum(counts) - 1
    end = np.roll(start, -1, axis=0)
    end[last] = start[last + 1 - counts]
    turn = np.sign(np.add.reduceat(start[:, 0] * end[:, 1] - end[:, 0] * start[:, 1], last + 1 - counts))
    return _Edges(np.repeat(np.arange(len(counts)), counts), start, end, np.repeat(turn, counts))


def _folds(sheets: Sheets, edges: _Edges) -> NDArray[np.bool_]:
    """Edges over which their piece goes on, lying or upright and up; not those where it is turned straight down, where
    water comes off."""
    middles, part = (edges.start + edges.end) / 2, edges.part
    places = shapely.points(middles[:, :2])
    mine, other = shapely.STRtree(places).query(places, predicate="dwithin", distance=_SAME)
    same = (sheets.owners[part[mine]] == sheets.owners[part[other]]) & (part[mine] != part[other])
    mine, other = mine[same], other[same]
    same = np.linalg.norm(middles[mine] - middles[other], axis=1) <= _SAME
    mine, other = mine[same], other[same]
    counts = np.array([len(one.ring) for one in sheets.sheets])
    heights = np.add.reduceat(np.concatenate([one.ring[:, 2] for one in sheets.sheets]),
                              np.cumsum(counts) - counts) / counts
    goes_on = sheets.lies[part[other]] | (heights[part[other]] > middles[mine, 2])
    found = np.zeros(len(part), dtype=bool)
    found[mine[goes_on]] = True
    return found
