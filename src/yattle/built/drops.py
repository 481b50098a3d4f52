"""Water: drops let go beside every joint of the roof as it stands, and from a grid over its faces.

On a flat part all drops run the same way, so that what becomes of each is told at the part's edges: at every edge where
water leaves a sheet it has to land on another one, or clear of the roof; at every edge that lies over another sheet no
water may run in under it. Drops are let go beside the edges every 300 mm, and where those that fall on a grid come to
them. What wind drives up under a lap is asked in ``wind``.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from yattle import overlay
from yattle.built.rims import IN, Rims
from yattle.built.sheets import LEVEL, STANDS, Numbers, Sheets
from yattle.built.slots import CoveredFace
from yattle.built.standing import Spot, spot
from yattle.pattern.surface import Array

OUT = 5.0  # mm from an edge to where its drop lands: what a drop bridges
_GRID = 500.0  # mm between the drops that fall on a face
TOUCH = 2.5  # mm: sheets nearer than this lie on each other
NEAR = 160.0  # mm over a sheet, within which another covers it
_BELOW = 220.0  # mm over a deck, within which water that lands there has got in
_RIM = 20.0  # mm: what runs in under the outermost rim of a sheet comes out again beside it
_FAR = 2000.0  # mm that a drop is followed beneath what hangs over it
_ROUND = np.array([(1.0, 0.0), (0.7, 0.7), (0.0, 1.0), (-0.7, 0.7)])  # ways across a gap
TOWARDS = 0.05  # cosine between a fall and an edge's outward way: less runs along it


@dataclass(frozen=True)
class Lost:
    """A drop on ``piece`` that gets ``under`` something, or onto a deck; ``at`` in mm; ``how``: onto an open ``deck``,
    in ``under`` a sheet that lies over it, on under a ``cover`` that hangs over it, up under that cover by ``wind``;
    only ``sealant`` keeps it out."""

    piece: str
    under: str
    at: Spot
    how: str


def lost_drops(sheets: Sheets, edges: Rims, decks: Sequence[CoveredFace],
               sealed: frozenset[str] = frozenset()) -> Iterator[Lost]:
    """Every drop let go at some ``edges`` that does not stay on top, one for each two pieces."""
    seen: set[tuple[str, str, str]] = set()
    for lost in (*_off_edges(sheets, edges, decks), *_in_under(sheets, edges, sealed, decks)):
        if (lost.piece, lost.under, lost.how) not in seen:
            seen.add((lost.piece, lost.under, lost.how))
            yield lost


def grid_over(faces: Iterable[shapely.Geometry]) -> Array:
    """Places (n, 2) in plan on faces, mm, where drops fall."""
    found = [np.empty((0, 2))]
    for face in (face for face in faces if not face.is_empty):
        left, low, right, high = face.bounds
        x, y = np.meshgrid(np.arange(left + _GRID / 2, right, _GRID), np.arange(low + _GRID / 2, high, _GRID))
        shapely.prepare(face)
        inside = shapely.contains_xy(face, x, y)
        found.append(np.column_stack((x[inside], y[inside])))
    return np.concatenate(found)


def rained_on(sheets: Sheets, own: Numbers, places: Array) -> NDArray[np.bool_]:
    """Whether rain falls on each place (n, 2), mm, of its own part: nothing lies on that there, or close over it."""
    there = sheets.at(places)
    mine = own[there.place]
    off = there.z - sheets.heights(mine, places[there.place])
    over = (there.sheet != mine) & (((off > TOUCH) & (off < NEAR)) | (
        (np.abs(off) <= TOUCH) & (sheets.orders[there.sheet] > sheets.orders[mine])))
    dry = np.zeros(len(places), dtype=bool)
    dry[there.place[over]] = True
    return np.logical_not(dry)


def _off_edges(sheets: Sheets, edges: Rims, decks: Sequence[CoveredFace]) -> Iterator[Lost]:
    """Drops that rain lets fall at an edge, come off it and land on a deck."""
    falls = sheets.falls[edges.sheet]
    edges = edges.some((sheets.slopes[edges.sheet] > LEVEL) & ((falls * edges.out).sum(axis=1) > TOWARDS))
    edges = edges.some(rained_on(sheets, edges.sheet, edges.at[:, :2] - edges.out * IN))
    outside = edges.at[:, :2] + edges.out * OUT
    there = sheets.at(outside)
    lands = np.full(len(outside), -np.inf)
    np.maximum.at(lands, there.place, there.z)  # whatever lies there, above or below, stops the drop
    for deck in decks:
        within = shapely.contains_xy(deck.shape, *outside.T) if len(outside) else np.empty(0, dtype=bool)
        for n in np.nonzero(within)[0].tolist():
            x, y = outside[n]
            z = deck.level(float(x), float(y))
            high = float(edges.at[n, 2])
            open_to = lands[n] < z - TOUCH and -TOUCH < high - z < _BELOW and not _bridged(sheets, outside[n], z)
            if open_to and not _stopped(sheets, edges, n):
                yield Lost(sheets.name(int(edges.sheet[n])), f"deck {deck.name}", (float(x), float(y), z), "deck")


def lands_on(deck: CoveredFace, drop: Spot) -> bool:
    x, y, z = drop
    return bool(shapely.contains_xy(deck.shape, x, y)) and -TOUCH < z - deck.level(x, y) < _BELOW


def _bridged(sheets: Sheets, at: Array, deck: float) -> bool:
    """Whether a drop over a ``deck`` at that height, mm, lands on both sides of a gap narrower than itself, as between
    the legs of a seam."""
    there = sheets.at(at + np.concatenate((_ROUND, -_ROUND)) * IN)
    caught = np.isin(np.arange(2 * len(_ROUND)), there.place[there.z > deck - TOUCH])
    return bool((caught[:len(_ROUND)] & caught[len(_ROUND):]).any())


def _stopped(sheets: Sheets, edges: Rims, n: int) -> bool:
    """Whether something upright stands right behind an edge, that water runs along."""
    at = edges.at[n]
    for part in sheets.upright_near(at[:2], 2 * OUT):
        ring = sheets.sheets[part].ring
        if ring[:, 2].min() < at[2] + TOUCH and ring[:, 2].max() > at[2] + TOUCH:
            return True
    return False


def _in_under(sheets: Sheets, edges: Rims, sealed: frozenset[str], decks: Sequence[CoveredFace]) -> Iterator[Lost]:
    """Drops on a sheet that run in under the edge of another one which lies on it, or hangs close over it."""
    before, (there, off) = edges.before(), edges.met(sheets)
    upper = edges.sheet[there.place]
    falls = sheets.falls[there.sheet]
    runs = (sheets.slopes[there.sheet] > LEVEL) & ((falls * edges.out[there.place]).sum(axis=1) < -TOWARDS)
    over = (np.abs(off) <= TOUCH) & (sheets.orders[upper] > sheets.orders[there.sheet])
    other = sheets.owners[upper] != sheets.owners[there.sheet]
    asked = np.nonzero(runs & other & (over | ((off > TOUCH) & (off < NEAR))))[0]
    asked = asked[_runs_in(sheets, edges, there.place[asked], (there.sheet[asked], upper[asked]), falls[asked])]
    for n in asked.tolist():
        place, lower, top = int(there.place[n]), int(there.sheet[n]), int(upper[n])
        names = sheets.name(lower), sheets.name(top)
        if over[n]:
            yield Lost(*names, spot(edges.at[place]), "sealant" if of_patterns(names) & sealed else "under")
        else:
            yield from _under_a_cover(sheets, (lower, before[place]), names, decks)


def _runs_in(sheets: Sheets, edges: Rims, place: Numbers, pair: tuple[Numbers, Numbers],
             falls: Array) -> NDArray[np.bool_]:
    """Whether water on the lower sheet of each ``pair`` gets in under the upper one: it goes on there, as broadly as no
    bead of a corner closes, and not only under the upper one's rim, from where it comes out again beside it."""
    lower, top = pair
    out, at = edges.out[place], edges.at[place, :2]
    before, within = at + out * IN, at - out * OUT
    beside = np.column_stack((-out[:, 1], out[:, 0])) * _RIM
    three = np.stack((before, before + beside, before - beside), axis=1)
    open_to = rained_on(sheets, np.repeat(lower, 3), three.reshape(-1, 2)).reshape(-1, 3).all(axis=1)
    aside = np.column_stack((-falls[:, 1], falls[:, 0])) * _RIM
    under = np.stack((within - aside, within + aside, within + falls * _RIM), axis=1)
    there = sheets.at(under.reshape(-1, 2))
    hit = np.zeros(3 * len(place), dtype=bool)
    hit[there.place[sheets.owners[there.sheet] == sheets.owners[top[there.place // 3]]]] = True
    goes_on = shapely.contains_xy(sheets.plans[lower], *within.T)
    return np.asarray(goes_on & open_to & hit.reshape(-1, 3).all(axis=1))


def of_patterns(names: tuple[str, str]) -> set[str]:
    """The patterns of pieces, by their names."""
    return {name.partition("/")[0] for name in names}


def _under_a_cover(sheets: Sheets, drop: tuple[int, Array], names: tuple[str, str],
                   decks: Sequence[CoveredFace]) -> Iterator[Lost]:
    """A drop that runs on beneath a sheet which hangs over it, until something upright stops it or its own sheet ends:
    there it must land on another one, or clear of the roof. ``drop``: on which sheet, and where, mm."""
    sheet, place = drop
    fall = sheets.falls[sheet]
    way = shapely.LineString([place, place + fall * _FAR])
    ends = overlay.intersection(way, sheets.plans[sheet])
    far = float(ends.length) if not ends.is_empty else 0.0
    for part, along in sheets.uprights_on(shapely.LineString([place, place + fall * max(far, 1.0)])):
        ring = sheets.sheets[part].ring
        z = float(sheets.heights(np.array([sheet]), (place + fall * along)[None, :])[0])
        if sheets.name(part) != names[0] and ring[:, 2].min() < z + TOUCH and ring[:, 2].max() > z + STANDS:
            x, y = place + fall * along
            yield Lost(names[0], sheets.name(part), (float(x), float(y), z), "sealant")
            return
    at = place + fall * (far + OUT)
    there = sheets.at(at[None, :])
    z = float(sheets.heights(np.array([sheet]), at[None, :])[0])
    caught = (there.z < z + STANDS) | (sheets.owners[there.sheet] == sheets.owners[sheet])  # a valley's other side
    if not bool(caught.any()) and any(lands_on(deck, (float(at[0]), float(at[1]), z)) for deck in decks):
        yield Lost(*names, (float(at[0]), float(at[1]), z), "cover")
