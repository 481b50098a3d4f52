"""Goes in: whether a section that is hooked, tucked or slid into place can be put there in the order of fitting,
without passing through what is already there.

Looked at in the plane across the run: the section is taken out again as it was put in, straight, or turned about one of
its corners first and then straight. A straight way is free where neither a corner of the section on its way nor a
corner of what stands there, seen from the section, crosses a line of the other (so nothing is missed between steps); a
turn is taken in steps of three degrees. Sheets have no thickness here: what a corner only touches is free.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from yattle.pattern.surface import Array

FREE = 150.0  # mm out of its place, from where it can be carried away
_TOUCH = 1.5  # mm: what thickness and a hem's spring let by
_STEP, _MOST = 3.0, 75.0  # degrees of a turn: one step, and as far as it is tried
_WAYS = 24  # directions that are tried, round about
_STARTS = 4  # of the free ways out that are tried before a turn
_SHIFTS = (12.0, 30.0)  # mm that are gone straight before a turn


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


def way_in(section: CutLines, there: CutLines) -> WayIn:
    """The first way that is free; where none is, what stands in the way of the one that comes furthest."""
    if not len(there.a) or not len(section.a):
        return WayIn("straight")
    best, furthest = WayIn(stands=there.names[0]), -1.0
    for how, moved in _begun(section, there):
        for way in _directions():
            far, who, at = _straight(moved, there, way)
            if far >= FREE:
                return WayIn(f"{how}{'then ' if how else ''}{_said(way)}")
            if far > furthest:
                best, furthest = WayIn("", there.names[who], (float(at[0]), float(at[1])), FREE - far), far
    return best


def crossed(section: CutLines, there: CutLines) -> Array:
    """Which lines of what stands there the section goes through where it lies, by more than 1.5 mm: that is a clash, and
    no question of the way in."""
    if not len(there.a) or not len(section.a):
        return np.zeros(len(there.a), dtype=bool)
    a, b, c, d = section.a[:, None], section.b[:, None], there.a[None], there.b[None]
    return np.asarray(np.logical_and(_apart(a, b, c, d), _apart(c, d, a, b)).any(axis=0))


def _directions() -> Iterator[Array]:
    """Round about, out and up first: so most things go on."""
    for n in sorted(range(_WAYS), key=lambda n: abs(n - _WAYS / 8)):
        turn = 2 * np.pi * n / _WAYS
        yield np.array([np.cos(turn), np.sin(turn)])


def _said(way: Array) -> str:
    out = "from outside" if way[0] > 0.4 else "from inside" if way[0] < -0.4 else ""
    up = "from above" if way[1] > 0.4 else "from below" if way[1] < -0.4 else ""
    return " and ".join(part for part in (up, out) if part)


def _begun(section: CutLines, there: CutLines) -> Iterator[tuple[str, CutLines]]:
    """The section as it lies; turned about each of its corners as far as it is free; a little out and turned."""
    yield "", section
    starts = [("", section)]
    for way in _directions():
        for far in _SHIFTS:
            if len(starts) <= _STARTS and _straight(section, there, way, far)[0] >= far:
                starts.append(("a little out, ", _moved(section, way * far)))
    for how, start in starts:
        for pivot in np.unique(np.round(np.concatenate((start.a, start.b)), 3), axis=0):
            for sign in (1.0, -1.0):
                for turned in _while_free(start, pivot, sign * _STEP, there):
                    yield f"{how}turned, ", turned


def _while_free(section: CutLines, pivot: Array, step: float, there: CutLines) -> Iterator[CutLines]:
    """Turned about a corner by so many degrees again and again, every third time."""
    for n in range(1, int(_MOST / _STEP) + 1):
        after = _turned(section, pivot, step)
        if _crosses(section, after, there):
            return
        section = after
        if n % 3 == 0:
            yield section


def _moved(section: CutLines, by: Array) -> CutLines:
    return CutLines(section.a + by, section.b + by, section.outs, section.names)


def _turned(section: CutLines, pivot: Array, degrees: float) -> CutLines:
    turn = np.radians(degrees)
    rows = np.array([[np.cos(turn), np.sin(turn)], [-np.sin(turn), np.cos(turn)]])
    a, b = ((ends - pivot) @ rows + pivot for ends in (section.a, section.b))
    return CutLines(a, b, section.outs @ rows, section.names)


def _straight(section: CutLines, there: CutLines, way: Array, far: float = FREE) -> tuple[float, int, Array]:
    """How far a section goes straight along a way, mm, which line then stops it, and where."""
    ends = np.concatenate((section.a, section.b))
    first = _hits(ends, ends + way * far, there.a, there.b, there.outs)
    corners = np.concatenate((there.a, there.b))
    second = _hits(corners, corners - way * far, section.a, section.b, None)
    reach, who, at = far, 0, ends[0]
    for share, mine, line, own in ((*first, True), (*second, False)):
        if share * far < reach:
            reach, who = share * far, line if own else mine % len(there.a)
            at = ends[mine] + way * reach if own else corners[mine]
    return reach, who, at


def _crosses(before: CutLines, after: CutLines, there: CutLines) -> bool:
    """Whether a small turn carries a corner of the section through a line, or a line through a corner."""
    for one, other in ((before.a, after.a), (before.b, after.b)):
        if _hits(one, other, there.a, there.b, there.outs)[0] < 1.0:
            return True
    a, b = after.a[:, None], after.b[:, None]
    c, d = there.a[None], there.b[None]
    return bool(np.logical_and(_apart(a, b, c, d), _apart(c, d, a, b)).any())


def _apart(a: Array, b: Array, c: Array, d: Array) -> Array:
    """Whether two places lie well to either side of a line from c to d."""
    way = d - c
    size = np.maximum(np.linalg.norm(way, axis=-1), 1e-9)
    one = (way[..., 0] * (a - c)[..., 1] - way[..., 1] * (a - c)[..., 0]) / size
    other = (way[..., 0] * (b - c)[..., 1] - way[..., 1] * (b - c)[..., 0]) / size
    return np.asarray((np.minimum(one, other) < -_TOUCH) & (np.maximum(one, other) > _TOUCH))


def _hits(begin: Array, end: Array, a: Array, b: Array, outs: Array | None) -> tuple[float, int, int]:
    """At what share of their ways, 1 where at none, the first of some points crosses one of some lines by more than
    what thickness takes; which point and which line. What begins on a line is on its outer side, where that is
    known."""
    way, go = (b - a)[None], (end - begin)[:, None]
    size = np.maximum(np.linalg.norm(way, axis=-1), 1e-9)
    square = np.stack((-way[..., 1], way[..., 0]), axis=-1) / size[..., None]
    if outs is not None:
        square = square * np.where((square[0] * outs).sum(axis=-1) < 0, -1.0, 1.0)[None, :, None]
    start = ((begin[:, None] - a[None]) * square).sum(axis=-1)
    speed = (go * square).sum(axis=-1)
    held = np.abs(start) <= _TOUCH
    start = np.where(held, _TOUCH if outs is not None else np.where(speed < 0, -_TOUCH, _TOUCH), start)
    stop = start + speed
    through = (start * stop < 0) & (np.abs(stop) > _TOUCH)
    share = np.where(through, -start / np.where(through, speed, 1.0), 1.0)
    along = ((begin[:, None] + go * share[..., None] - a[None]) * way).sum(axis=-1) / size
    through &= (along > _TOUCH) & (along < size - _TOUCH)
    share = np.where(through, share, 1.0)
    point, line = np.unravel_index(int(np.argmin(share)), share.shape)
    return float(share[point, line]), int(point), int(line)
