"""The rims of all parts of a roof: places along every edge where a sheet ends or goes on upright and down."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree

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
        return Rims(np.empty(0, np.int64), np.empty((0, 3)), np.empty((0, 2)))
    return Rims(np.concatenate(numbers), np.concatenate(places), np.concatenate(ways))


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
