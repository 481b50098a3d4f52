"""The rims of all parts of a roof: places along every edge where a sheet ends or goes on upright and down, and where
what falls on the sheets comes to them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from yattle.built.sheets import LEVEL, STANDS, Found, Numbers, Sheets
from yattle.once import Remembers
from yattle.pattern.surface import Array

_SAME = 0.3  # mm between the middles of an edge of two parts that a fold joins there
_EVERY = 300.0  # mm between places along an edge
_BACK = 1.0  # mm behind an edge in plan: what is turned straight down lies no farther
IN = 1.5  # mm from an edge to its drop
_CORNER = 12.0  # mm from an edge's ends to its first and last place: hems and tabs are cut back there


@dataclass(frozen=True)
class Rims(Remembers):
    """Places at the rims of all parts: ``sheet`` by number, the place ``at`` (n, 3), mm, the way ``out`` there in plan
    (n, 2), 1 mm long."""

    sheet: Numbers
    at: Array
    out: Array

    def some(self, keep: NDArray[np.bool_]) -> Rims:
        """Those of the places that are kept."""
        return Rims(self.sheet[keep], self.at[keep], self.out[keep])

    def before(self) -> Array:
        """The places in plan (n, 2), mm, just outside each rim, where a drop comes to it or leaves it."""
        return self.at[:, :2] + self.out * IN

    def met(self, sheets: Sheets) -> tuple[Found, Array]:
        """What lies over or under the places just outside, and how far over that the rim's own part lies, mm."""
        def look() -> tuple[Found, Array]:
            before = self.before()
            there = sheets.at(before)
            return there, sheets.heights(self.sheet[there.place], before[there.place]) - there.z
        return self.once(("met", sheets), look)


def rims_of(sheets: Sheets, drops: Array | None = None) -> Rims:
    """Places along the rims of all parts that lie, and along folds from where the piece goes on upright and down;
    ``drops``: places in plan (n, 2), mm, also where what falls there runs to the rim of the uppermost part."""
    rows = _edges(sheets)
    if not len(rows.part):
        return Rims(np.empty(0, np.int64), np.empty((0, 3)), np.empty((0, 2)))
    a, b = rows.start, rows.end
    long = np.linalg.norm(b - a, axis=1)
    ways = np.column_stack((b[:, 1] - a[:, 1], a[:, 0] - b[:, 0])) * rows.turn[:, None]
    sizes = np.hypot(*ways.T)
    asked = sheets.lies[rows.part] & (long >= 2 * _CORNER) & (sizes >= 1e-6) & ~_folds(sheets, rows)
    kept = np.nonzero(asked)[0]
    counts = np.maximum(3, np.ceil(long[kept] / _EVERY).astype(int) + 1)
    edge = np.repeat(kept, counts)
    step = np.arange(len(edge)) - np.repeat(np.cumsum(counts) - counts, counts)
    along = (_CORNER + (long[edge] - 2 * _CORNER) * step / np.repeat(counts - 1, counts)) / long[edge]
    if drops is not None and len(drops):
        reached, share = _run_to(sheets, rows, drops)
        clear = asked[reached] & (np.minimum(share, 1.0 - share) * long[reached] >= _CORNER)
        edge, along = np.concatenate((edge, reached[clear])), np.concatenate((along, share[clear]))
    ways = ways / np.maximum(sizes, 1e-9)[:, None]
    return Rims(rows.part[edge], a[edge] + (b - a)[edge] * along[:, None], ways[edge])


def _uppermost(sheets: Sheets, places: Array) -> tuple[Numbers, Numbers]:
    """Those of the places (n, 2) in plan, mm, at which the uppermost part is not level, and that part."""
    there = sheets.at(places)
    order = np.lexsort((sheets.orders[there.sheet], there.z, there.place))
    top = order[np.diff(there.place[order], append=len(places)) > 0]
    top = top[sheets.slopes[there.sheet[top]] > LEVEL]
    return there.place[top], there.sheet[top]


def _run_to(sheets: Sheets, rows: _Edges, drops: Array) -> tuple[Numbers, Array]:
    """The edge that a drop on the uppermost part over each place in plan (n, 2), mm, runs to, and at which share of it;
    none where there is no part, or it lies level."""
    place, part = _uppermost(sheets, drops)
    counts = np.bincount(rows.part, minlength=len(sheets.sheets))
    many, first = counts[part], (np.cumsum(counts) - counts)[part]
    drop = np.repeat(np.arange(len(part)), many)  # each held against each edge of its part
    edge = np.arange(len(drop)) - np.repeat(np.cumsum(many) - many - first, many)
    start, way, fall = rows.start[edge, :2], (rows.end - rows.start)[edge, :2], sheets.falls[part][drop]
    off, square = drops[place][drop] - start, _crossed(way, fall)
    meets = np.abs(square) > 1e-9
    square = np.where(meets, square, 1.0)
    share, far = _crossed(off, fall) / square, _crossed(off, way) / square
    meets &= (share >= 0.0) & (share <= 1.0) & (far >= 0.0)
    order = np.lexsort((far, drop))
    order = order[meets[order]]
    nearest = order[np.diff(drop[order], prepend=-1) > 0]
    return edge[nearest], share[nearest]


def _crossed(a: Array, b: Array) -> Array:
    """The products of pairs of ways in plan (n, 2), mm² of two in mm."""
    return np.asarray(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0])


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
    """Edges over which their piece goes on, lying or upright and up; not those where it is turned straight down, or
    back on itself in a hem: there water comes off."""
    middles, part = (edges.start + edges.end) / 2, edges.part
    places = shapely.points(middles[:, :2])
    mine, other = shapely.STRtree(places).query(places, predicate="dwithin", distance=_SAME)
    same = (sheets.owners[part[mine]] == sheets.owners[part[other]]) & (part[mine] != part[other])
    mine, other = mine[same], other[same]
    same = np.linalg.norm(middles[mine] - middles[other], axis=1) <= _SAME
    mine, other = mine[same], other[same]
    counts = np.array([len(one.ring) for one in sheets.sheets])
    centres = np.add.reduceat(np.concatenate([one.ring for one in sheets.sheets]),
                              np.cumsum(counts) - counts)[part[other]] / counts[part[other], None]
    goes_on = sheets.lies[part[other]] | (centres[:, 2] > middles[mine, 2])
    found = np.zeros(len(part), dtype=bool)
    found[mine[goes_on & ~_turned_back(sheets, edges, mine, centres)]] = True
    return found


def _turned_back(sheets: Sheets, edges: _Edges, mine: Numbers, centres: Array) -> NDArray[np.bool_]:
    """Whether what goes on over an edge, its middle at some centre (n, 3), mm, lies back under the edge's own part, or
    so close on it that water runs over it."""
    start, end = edges.start[mine], edges.end[mine]
    out = np.column_stack((end[:, 1] - start[:, 1], start[:, 0] - end[:, 0])) * edges.turn[mine, None]
    inward = ((centres - start)[:, :2] * out).sum(axis=1) / np.maximum(np.hypot(*out.T), 1e-9) < -_BACK
    back = np.nonzero(inward & sheets.lies[edges.part[mine]])[0]
    over = centres[back, 2] - sheets.heights(edges.part[mine[back]], centres[back, :2])
    found = np.zeros(len(mine), dtype=bool)
    found[back[over < STANDS]] = True
    return found
