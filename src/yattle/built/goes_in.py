"""Goes in: whether a section that is hooked, tucked or slid into place can be put there in the order of fitting,
without passing through what is already there.

Looked at in the plane across the run: the section is taken out again as it was put in, straight, or turned about one of
its corners first and then straight; at last with a leg sprung at its fold, as far as sheet gives before it stays bent.
A straight way is free where neither a corner of the section on its way nor a
corner of what stands there, seen from the section, crosses a line of the other (so nothing is missed between steps); a
turn is taken in steps of three degrees. Sheets have no thickness here: what a corner only touches is free.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import chain

import numpy as np
from numpy.typing import NDArray

from yattle.pattern.surface import Array

FREE = 150.0  # mm out of its place, from where it can be carried away
_TOUCH = 1.5  # mm: what thickness and a hem's spring let by
_STEP, _MOST = 3.0, 75.0  # degrees of a turn: one step, and as far as it is tried
_ROUND = sorted(range(24), key=lambda n: abs(n - 3))  # directions round about, out and up first: so most things go on
_WAYS = np.array([(np.cos(np.pi * n / 12), np.sin(np.pi * n / 12)) for n in _ROUND])
_STARTS = 4  # of the free ways out that are tried before a turn
_SHIFTS = (12.0, 30.0)  # mm that are gone straight before a turn
_GIVES = 0.001  # strain at which the softer metals begin to stay bent
_MOST_SPRUNG = 15.0  # degrees at a fold: more springs no section without being marked
_SAME = 0.5  # mm: ends of lines that meet in a fold


@dataclass(frozen=True)
class CutLines:
    """Segments in the plane across a run: from ``a`` to ``b`` (n, 2), mm; ``outs``: which side of each is the outer one
    (n, 2), 1 mm long; ``names``: whose each is."""

    a: Array
    b: Array
    outs: Array
    names: tuple[str, ...]


@dataclass(frozen=True)
class WayIn:
    """How a section goes in: ``how`` in words, or what is in the way (``stands``), at a place in that plane, mm, where
    the best try ended, ``left`` mm short of being free."""

    how: str = ""
    stands: str = ""
    at: tuple[float, float] = (0.0, 0.0)
    left: float = 0.0

    @property
    def ok(self) -> bool:
        return not self.stands


def way_in(section: CutLines, there: CutLines, thickness: float = 0.0) -> WayIn:
    """The first way that is free; where none is, what stands in the way of the one that comes furthest. Sheet of some
    ``thickness``, mm, is sprung where nothing else helps; 0: it is not."""
    if not len(there.a) or not len(section.a):
        return WayIn("straight")
    best, furthest = WayIn(stands=there.names[0]), -1.0
    for how, moved in chain(_begun(section, there), _sprung(section, there, thickness)):
        far, who, at = _straight(moved, there, _WAYS, FREE)
        free = np.nonzero(far >= FREE)[0]
        if len(free):
            return WayIn(f"{how}{'then ' if how else ''}{_said(_WAYS[int(free[0])])}")
        n = int(np.argmax(far))
        if far[n] > furthest:
            x, y = at[n].tolist()
            best, furthest = WayIn("", there.names[int(who[n])], (x, y), FREE - float(far[n])), float(far[n])
    return best


def crossed(section: CutLines, there: CutLines) -> Array:
    """Which lines of what stands there the section goes through where it lies, by more than 1.5 mm: that is a clash,
    and no question of the way in."""
    if not len(there.a) or not len(section.a):
        return np.zeros(len(there.a), dtype=bool)
    a, b, c, d = section.a[:, None], section.b[:, None], there.a[None], there.b[None]
    return np.asarray(np.logical_and(_apart(a, b, c, d), _apart(c, d, a, b)).any(axis=0))


def _said(way: Array) -> str:
    out = "from outside" if way[0] > 0.4 else "from inside" if way[0] < -0.4 else ""
    up = "from above" if way[1] > 0.4 else "from below" if way[1] < -0.4 else ""
    return " and ".join(part for part in (up, out) if part)


def _begun(section: CutLines, there: CutLines) -> Iterator[tuple[str, CutLines]]:
    """The section as it lies; turned about each of its corners as far as it is free; a little out and turned."""
    yield "", section
    starts = [("", section)]
    for far in _SHIFTS:
        for n in np.nonzero(_straight(section, there, _WAYS, far)[0] >= far)[0].tolist():
            if len(starts) <= _STARTS:
                starts.append(("a little out, ", _moved(section, _WAYS[n] * far)))
    for how, start in starts:
        for turned in _while_free(start, there):
            yield f"{how}turned, ", turned


def _while_free(section: CutLines, there: CutLines) -> Iterator[CutLines]:
    """Turned about each of its corners, one way and the other, as far as nothing is in the way: after every third step,
    the least turns first."""
    corners = np.unique(np.round(np.concatenate((section.a, section.b)), 3), axis=0)
    pivots = np.repeat(corners, 2, axis=0)[:, None]
    turns = np.radians(_STEP) * np.tile([1.0, -1.0], len(corners))
    rows = np.moveaxis(np.array([[np.cos(turns), np.sin(turns)], [-np.sin(turns), np.cos(turns)]]), 2, 0)
    ends = np.repeat(np.concatenate((section.a, section.b))[None], len(pivots), axis=0)
    for n in range(1, int(_MOST / _STEP) + 1):
        after = (ends - pivots) @ rows + pivots
        free = ~_crosses(ends, after, there)
        ends, pivots, rows, turns = after[free], pivots[free], rows[free], turns[free]
        if n % 3 == 0:
            for (a, b), turn in zip(((one[:len(section.a)], one[len(section.a):]) for one in ends), turns, strict=True):
                whole = n * turn
                side = np.array([[np.cos(whole), np.sin(whole)], [-np.sin(whole), np.cos(whole)]])
                yield CutLines(a, b, section.outs @ side, section.names)


def _sprung(section: CutLines, there: CutLines, thickness: float) -> Iterator[tuple[str, CutLines]]:
    """The section with one leg turned about its fold, to either side, as far as it springs: a strip held at one end and
    pushed at the other turns by strain · length / thickness there before its skin stays bent (the beam's line)."""
    if thickness <= 0.0:
        return
    for fold in np.unique(np.round(np.concatenate((section.a, section.b)), 1), axis=0):
        for leg in _beyond(section, fold):
            long = float(np.hypot(*(np.concatenate((section.a[leg], section.b[leg])) - fold).T).max())
            most = min(float(np.degrees(_GIVES * long / thickness)), _MOST_SPRUNG)
            for degrees in (most, -most):
                bent = _turned(section, fold, degrees)
                keep = leg[:, None]
                sprung = CutLines(np.where(keep, bent.a, section.a), np.where(keep, bent.b, section.b),
                                  np.where(keep, bent.outs, section.outs), section.names)
                before, after = (np.concatenate((one.a, one.b))[None] for one in (section, sprung))
                if not _crosses(before, after, there)[0]:
                    yield "sprung, ", sprung


def _beyond(section: CutLines, fold: Array) -> Iterator[Array]:
    """For each line that begins at a fold, which lines hang on it beyond the fold; none where it is an end."""
    ends = np.stack((section.a, section.b), axis=1)
    at_fold = np.hypot(*np.moveaxis(ends - fold, 2, 0)) < _SAME
    if at_fold.sum() < 2:
        return
    for first in np.nonzero(at_fold.any(axis=1))[0].tolist():
        leg = np.zeros(len(ends), dtype=bool)
        leg[first] = True
        while True:
            tips = ends[leg][~at_fold[leg]]
            meets = (np.hypot(*np.moveaxis(ends[:, :, None] - tips, 3, 0)) < _SAME).any(axis=(1, 2))
            more = leg | (meets & ~at_fold.any(axis=1))
            if bool((more == leg).all()):
                break
            leg = more
        yield leg


def _moved(section: CutLines, by: Array) -> CutLines:
    return CutLines(section.a + by, section.b + by, section.outs, section.names)


def _turned(section: CutLines, pivot: Array, degrees: float) -> CutLines:
    turn = np.radians(degrees)
    rows = np.array([[np.cos(turn), np.sin(turn)], [-np.sin(turn), np.cos(turn)]])
    a, b = ((ends - pivot) @ rows + pivot for ends in (section.a, section.b))
    return CutLines(a, b, section.outs @ rows, section.names)


def _straight(section: CutLines, there: CutLines, ways: Array, far: float) -> tuple[Array, Array, Array]:
    """How far a section goes straight along each of some ways, mm, which line then stops it, and where."""
    ends, corners = np.concatenate((section.a, section.b)), np.concatenate((there.a, there.b))
    own, point, line = _hits(ends, ways * far, there.a, there.b, there.outs)
    other, corner, _ = _hits(corners, -ways * far, section.a, section.b, None)
    mine = own <= other
    share = np.where(mine, own, other)
    at = np.where(mine[:, None], ends[point], corners[corner]) + ways * (share * far * mine)[:, None]
    return share * far, np.where(mine, line, corner % len(there.a)), at


def _crosses(begin: Array, end: Array, there: CutLines) -> NDArray[np.bool_]:
    """Of some small turns of a section, each given by the first ends of its lines and then the second ones, (k, n, 2):
    whether it carries a corner of the section through a line, or a line through a corner."""
    along, square, size = _beside(there.a, there.b, there.outs)
    start, stop = ((places @ square.T) - (there.a * square).sum(axis=1) for places in (begin, end))
    start = np.where(np.abs(start) <= _TOUCH, _TOUCH, start)  # what begins on one is on its outer side
    place = (end @ along.T) - (there.a * along).sum(axis=1)
    swept = (start * stop < 0) & (np.abs(stop) > _TOUCH) & (place > _TOUCH) & (place < size - _TOUCH)
    found = swept.any(axis=(1, 2))
    rest, half = end[~found], end.shape[1] // 2
    a, b = rest[:, :half, None], rest[:, half:, None]
    c, d = there.a[None, None], there.b[None, None]
    found[~found] = (_apart(a, b, c, d) & _apart(c, d, a, b)).any(axis=(1, 2))
    return np.asarray(found)


def _beside(a: Array, b: Array, outs: Array | None) -> tuple[Array, Array, Array]:
    """Along each line and square to it, to its outer side where that is known, each 1 mm long, and its length, mm."""
    way = b - a
    size = np.maximum(np.hypot(way[:, 0], way[:, 1]), 1e-9)
    along = way / size[:, None]
    square = np.column_stack((-along[:, 1], along[:, 0]))
    if outs is not None:
        square = square * np.where((square * outs).sum(axis=1) < 0, -1.0, 1.0)[:, None]
    return along, square, size


def _apart(a: Array, b: Array, c: Array, d: Array) -> NDArray[np.bool_]:
    """Whether two places lie well to either side of a line from c to d."""
    (ax, ay), (bx, by), (cx, cy), (dx, dy) = (np.moveaxis(ends, -1, 0) for ends in (a, b, c, d))
    size = np.maximum(np.hypot(dx - cx, dy - cy), 1e-9)
    wx, wy = (dx - cx) / size, (dy - cy) / size
    one, other = wx * (ay - cy) - wy * (ax - cx), wx * (by - cy) - wy * (bx - cx)
    return np.asarray((np.minimum(one, other) < -_TOUCH) & (np.maximum(one, other) > _TOUCH))


def _hits(begin: Array, goes: Array, a: Array, b: Array, outs: Array | None) -> tuple[Array, Array, Array]:
    """For each of some ways (w, 2) in mm: at what share of it, 1 where at none, the first of some points crosses one of
    some lines by more than what thickness takes; which point and which line. What begins on a line is on its outer
    side, where that is known."""
    along, square, size = _beside(a, b, outs)
    start = (begin @ square.T - (a * square).sum(axis=1))[None]  # (1, points, lines)
    speed = (goes @ square.T)[:, None]  # (ways, 1, lines)
    side = _TOUCH if outs is not None else np.where(speed < 0, -_TOUCH, _TOUCH)
    start = np.where(np.abs(start) <= _TOUCH, side, start)
    stop = start + speed
    way, point, line = np.nonzero((start * stop < 0) & (np.abs(stop) > _TOUCH))  # few go through a line's plane
    share = -start[way if len(start) > 1 else 0, point, line] / speed[way, 0, line]
    place = ((begin[point] - a[line]) * along[line]).sum(axis=1) + share * (goes @ along.T)[way, line]
    met = np.nonzero((place > _TOUCH) & (place < size[line] - _TOUCH))[0]
    met = met[np.lexsort((share[met], way[met]))]
    met = met[np.unique(way[met], return_index=True)[1]]  # the first of each way
    shares, points, lines = np.ones(len(goes)), np.zeros(len(goes), dtype=int), np.zeros(len(goes), dtype=int)
    shares[way[met]], points[way[met]], lines[way[met]] = share[met], point[met], line[met]
    return shares, points, lines
