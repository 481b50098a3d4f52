"""Water: drops let go beside every joint of the roof as it stands.

On a flat part all drops run the same way, so that what becomes of each is told at the part's edges: at every edge where
water leaves a sheet it has to land on another one, or clear of the roof; at every edge that lies over another sheet no
water may run in under it. A drop beside the edges every 300 mm therefore stands for all drops on the sheets between
them. What wind drives up under a lap is not followed.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from yattle.built.sheets import Numbers, Sheets
from yattle.built.slots import CoveredFace
from yattle.built.standing import Spot, spot
from yattle.pattern.surface import Array

_SAME = 0.3  # mm between the middles of an edge of two parts that a fold joins there
_EVERY = 300.0  # mm between drops along an edge
_CORNER = 12.0  # mm from an edge's ends to its first and last drop: hems and tabs are cut back there
_IN, _OUT = 1.5, 5.0  # mm from an edge to its drop, and to where the drop lands: what a drop bridges
_TOUCH = 2.5  # mm: sheets nearer than this lie on each other
_NEAR = 160.0  # mm over a sheet, within which another covers it
_BELOW = 220.0  # mm over a deck, within which water that lands there has got in
_LEVEL = 0.0087  # sine of half a degree: less is level, and nothing runs
_RIM = 20.0  # mm: what runs in under the outermost rim of a sheet comes out again beside it
_FAR = 2000.0  # mm that a drop is followed beneath what hangs over it
_STANDS = 8.0  # mm: what stands no higher stops no water
_TOWARDS = 0.05  # cosine between a fall and an edge's outward way: less runs along it


@dataclass(frozen=True)
class Lost:
    """A drop on ``piece`` that gets ``under`` something, or onto a deck; ``at`` in mm; ``how``: onto an open ``deck``,
    in ``under`` a sheet that lies over it, on under a ``cover`` that hangs over it; only ``sealant`` keeps it out."""

    piece: str
    under: str
    at: Spot
    how: str


@dataclass(frozen=True)
class _Edges:
    """Places at the rims of all parts: ``sheet`` by number, the place (n, 3), mm, the way out there in plan (n, 2)."""

    sheet: Numbers
    at: Array
    out: Array


def lost_drops(sheets: Sheets, decks: Sequence[CoveredFace], sealed: frozenset[str] = frozenset(),
               near: shapely.Geometry | None = None) -> Iterator[Lost]:
    """Every drop that does not stay on top, one for each two pieces; ``near``: only those in this part of the plan."""
    edges = _edges(sheets)
    if near is not None:
        edges = _some(edges, shapely.intersects_xy(near, *edges.at[:, :2].T))
    inside, outside = edges.at[:, :2] - edges.out * _IN, edges.at[:, :2] + edges.out * _OUT
    wet = _rained_on(sheets, edges.sheet, inside)
    seen: set[tuple[str, str, str]] = set()
    for lost in (*_off_edges(sheets, _some(edges, wet), outside[wet], decks), *_in_under(sheets, edges, sealed, decks)):
        if (lost.piece, lost.under, lost.how) not in seen:
            seen.add((lost.piece, lost.under, lost.how))
            yield lost


def _some(edges: _Edges, keep: NDArray[np.bool_]) -> _Edges:
    return _Edges(edges.sheet[keep], edges.at[keep], edges.out[keep])


def _edges(sheets: Sheets) -> _Edges:
    """Places along the rims of all parts that lie, and along folds from where the piece goes on upright and down."""
    numbers, places, ways = list[Array](), list[Array](), list[Array]()
    shared = _folds(sheets)
    for n, sheet in enumerate(sheets.sheets):
        if not sheets.lies[n]:
            continue
        a, b = sheet.ring, np.roll(sheet.ring, -1, axis=0)
        long = np.linalg.norm(b - a, axis=1)
        turn = float(np.sign((np.roll(a, 1, axis=0)[:, 0] * a[:, 1] - a[:, 0] * np.roll(a, 1, axis=0)[:, 1]).sum()))
        for k in range(len(a)):
            if long[k] < 2 * _CORNER or (n, k) in shared:
                continue
            along = np.linspace(_CORNER, long[k] - _CORNER, max(3, int(np.ceil(long[k] / _EVERY)) + 1)) / long[k]
            way = np.array([b[k, 1] - a[k, 1], a[k, 0] - b[k, 0]]) * turn
            size = float(np.hypot(*way))
            if size < 1e-6:
                continue
            places.append(a[k] + (b[k] - a[k]) * along[:, None])
            ways.append(np.broadcast_to(way / size, (len(along), 2)))
            numbers.append(np.full(len(along), n, dtype=np.int64))
    if not numbers:
        return _Edges(np.empty(0, np.int64), np.empty((0, 3)), np.empty((0, 2)))
    return _Edges(np.concatenate(numbers), np.concatenate(places), np.concatenate(ways))


def _folds(sheets: Sheets) -> set[tuple[int, int]]:
    """Edges (part, number) over which their piece goes on, lying or upright and up; not those where it is turned
    straight down, where water comes off."""
    rows = [(n, k, *row) for n, one in enumerate(sheets.sheets)
            for k, row in enumerate(((one.ring + np.roll(one.ring, -1, axis=0)) / 2).tolist())]
    if not rows:
        return set()
    table = np.array(rows)
    part = table[:, 0].astype(int)
    pairs = cKDTree(table[:, 2:]).query_pairs(_SAME, output_type="ndarray")
    pairs = pairs[(sheets.owners[part[pairs[:, 0]]] == sheets.owners[part[pairs[:, 1]]])
                  & (part[pairs[:, 0]] != part[pairs[:, 1]])]
    found = set()
    for mine, other in (*pairs.tolist(), *pairs[:, ::-1].tolist()):
        beyond = part[other]
        if sheets.lies[beyond] or sheets.sheets[beyond].ring[:, 2].mean() > table[mine, 4]:
            found.add((int(part[mine]), int(table[mine, 1])))
    return found


def _rained_on(sheets: Sheets, own: Numbers, places: Array) -> NDArray[np.bool_]:
    """Whether rain falls on each place (n, 2) of its own part: nothing lies on that there, or close over it."""
    there = sheets.at(places)
    mine = own[there.place]
    off = there.z - sheets.heights(mine, places[there.place])
    over = (there.sheet != mine) & (((off > _TOUCH) & (off < _NEAR)) | (
        (np.abs(off) <= _TOUCH) & (sheets.orders[there.sheet] > sheets.orders[mine])))
    dry = np.zeros(len(places), dtype=bool)
    dry[there.place[over]] = True
    return np.logical_not(dry)


def _off_edges(sheets: Sheets, edges: _Edges, outside: Array, decks: Sequence[CoveredFace]) -> Iterator[Lost]:
    """Drops that come off an edge and land on a deck."""
    falls = sheets.falls[edges.sheet]
    leaves = (sheets.slopes[edges.sheet] > _LEVEL) & ((falls * edges.out).sum(axis=1) > _TOWARDS)
    edges, outside = _some(edges, leaves), outside[leaves]
    there = sheets.at(outside)
    lands = np.full(len(outside), -np.inf)
    np.maximum.at(lands, there.place, there.z)  # whatever lies there, above or below, stops the drop
    for deck in decks:
        within = shapely.contains_xy(deck.shape, *outside.T) if len(outside) else np.empty(0, dtype=bool)
        for n in np.nonzero(within)[0].tolist():
            x, y = outside[n]
            z = deck.level(float(x), float(y))
            high = float(edges.at[n, 2])
            if lands[n] < z - _TOUCH and -_TOUCH < high - z < _BELOW and not _stopped(sheets, edges, n):
                yield Lost(sheets.name(int(edges.sheet[n])), f"deck {deck.name}", (float(x), float(y), z), "deck")


def _lands_on(deck: CoveredFace, drop: Spot) -> bool:
    x, y, z = drop
    return bool(shapely.contains_xy(deck.shape, x, y)) and -_TOUCH < z - deck.level(x, y) < _BELOW


def _stopped(sheets: Sheets, edges: _Edges, n: int) -> bool:
    """Whether something upright stands right behind an edge, that water runs along."""
    at = edges.at[n]
    for part in sheets.upright_near(at[:2], 2 * _OUT):
        ring = sheets.sheets[part].ring
        if ring[:, 2].min() < at[2] + _TOUCH and ring[:, 2].max() > at[2] + _TOUCH:
            return True
    return False


def _in_under(sheets: Sheets, edges: _Edges, sealed: frozenset[str], decks: Sequence[CoveredFace]) -> Iterator[Lost]:
    """Drops on a sheet that run in under the edge of another one which lies on it, or hangs close over it."""
    before = edges.at[:, :2] + edges.out * _IN
    there = sheets.at(before)
    upper = edges.sheet[there.place]
    off = sheets.heights(upper, before[there.place]) - there.z
    falls = sheets.falls[there.sheet]
    runs = (sheets.slopes[there.sheet] > _LEVEL) & ((falls * edges.out[there.place]).sum(axis=1) < -_TOWARDS)
    over = (np.abs(off) <= _TOUCH) & (sheets.orders[upper] > sheets.orders[there.sheet])
    other = sheets.owners[upper] != sheets.owners[there.sheet]
    for n in np.nonzero(runs & other & (over | ((off > _TOUCH) & (off < _NEAR))))[0].tolist():
        place, lower, top = int(there.place[n]), int(there.sheet[n]), int(upper[n])
        within = edges.at[place, :2] - edges.out[place] * _OUT
        beside = np.array([-edges.out[place][1], edges.out[place][0]]) * _RIM
        three = before[place] + np.array([0.0 * beside, beside, -beside])
        if not _goes_on(sheets, lower, within) or not _rained_on(sheets, np.full(3, lower), three).all():
            continue  # a narrower way in is closed with the bead of the corner there
        if not _beyond_its_rim(sheets, top, within, falls[n]):
            continue
        names = sheets.name(lower), sheets.name(top)
        if over[n]:
            yield Lost(*names, spot(edges.at[place]), "sealant" if _of_patterns(names) & sealed else "under")
        else:
            yield from _under_a_cover(sheets, (lower, before[place]), names, decks)


def _of_patterns(names: tuple[str, str]) -> set[str]:
    """The patterns of pieces, by their names."""
    return {name.partition("/")[0] for name in names}


def _beyond_its_rim(sheets: Sheets, top: int, place: Array, fall: Array) -> bool:
    """Whether a place under a sheet is well inside it, beside and beyond: what runs in under its rim comes out again
    beside it."""
    aside = np.array([-fall[1], fall[0]]) * _RIM
    there = sheets.at(np.array([place - aside, place + aside, place + fall * _RIM]))
    mine = there.place[sheets.owners[there.sheet] == sheets.owners[top]]
    return len(np.unique(mine)) == 3


def _under_a_cover(sheets: Sheets, drop: tuple[int, Array], names: tuple[str, str],
                   decks: Sequence[CoveredFace]) -> Iterator[Lost]:
    """A drop that runs on beneath a sheet which hangs over it, until something upright stops it or its own sheet ends:
    there it must land on another one, or clear of the roof. ``drop``: on which sheet, and where, mm."""
    sheet, place = drop
    fall = sheets.falls[sheet]
    way = shapely.LineString([place, place + fall * _FAR])
    ends = shapely.intersection(way, sheets.plans[sheet])
    far = float(ends.length) if not ends.is_empty else 0.0
    for part, along in sheets.uprights_on(shapely.LineString([place, place + fall * max(far, 1.0)])):
        ring = sheets.sheets[part].ring
        z = float(sheets.heights(np.array([sheet]), (place + fall * along)[None, :])[0])
        if sheets.name(part) != names[0] and ring[:, 2].min() < z + _TOUCH and ring[:, 2].max() > z + _STANDS:
            x, y = place + fall * along
            yield Lost(names[0], sheets.name(part), (float(x), float(y), z), "sealant")
            return
    at = place + fall * (far + _OUT)
    there = sheets.at(at[None, :])
    z = float(sheets.heights(np.array([sheet]), at[None, :])[0])
    caught = (there.z < z + _TOUCH) | (sheets.owners[there.sheet] == sheets.owners[sheet])  # a valley's other side
    if not bool(caught.any()) and any(_lands_on(deck, (float(at[0]), float(at[1]), z)) for deck in decks):
        yield Lost(*names, (float(at[0]), float(at[1]), z), "cover")


def _goes_on(sheets: Sheets, sheet: int, place: Array) -> bool:
    return bool(shapely.contains_xy(sheets.plans[sheet], *place))

