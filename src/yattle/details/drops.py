"""Where drops go on pieces as they lie installed: down over the metal to where it sheds, or where they get through.

The metal is seen from above on a fine grid: the highest piece over each place, the wall, the bare roof. From every
place on metal a drop runs down the face it lies on, in that face's own direction; where it is stopped it takes the
steepest way beside, and on a level stretch it spreads until there is a way down.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from yattle import overlay
from yattle.pattern.surface import Surface

Array = NDArray[np.float64]
_STEEP = 0.02  # upward part of a face's normal below which nothing lies on it
_SEALED = 1.1  # mm: half a relief cut, which is filled with solder or sealant
_NEAR = 2.0  # mm: pieces nearer than this lie on each other
_ROUND = [(i, j) for i in range(-2, 3) for j in range(-2, 3) if (i, j) != (0, 0)]


@dataclass(frozen=True)
class Piece:
    """A piece as it lies: its faces, and whether its outer edge lies over what is downslope (``sheds``)."""

    surface: Surface
    sheds: bool


@dataclass(frozen=True)
class Leak:
    """A place where a drop does not stay on top: ``says`` what becomes of it. Places in mm."""

    x: float
    y: float
    piece: str
    says: str


@dataclass
class _Seen:
    """The grid: heights of the metal and the piece on top (−1 the roof, −2 the wall), which pieces are there."""

    xs: Array
    ys: Array
    top: Array
    piece: NDArray[np.int64]
    heights: Array  # (pieces, ny, nx), nan where a piece is not
    falls: Array  # (2, ny, nx): where the face on top falls to in plan, a unit vector; nan on level ones and bare roof


def leaks(
    pieces: list[Piece],
    wall: list[tuple[float, float]],
    roof: Callable[[Array, Array], Array],
    step: float = 6.0,
    rim: float = 12.0,
    standing: Sequence[list[tuple[float, float]]] = (),
) -> list[Leak]:
    """Every place on metal from which a drop gets lost. Pieces in the order in which they go on; ``wall`` the outline
    in plan of what stands there, and of whatever else is ``standing``, such as seams; ``roof`` the roof's height;
    nothing starts within ``rim`` mm of the outer edges."""
    seen = _look(pieces, [wall, *standing], roof, step)
    fate: dict[tuple[int, int], Leak | None] = {}
    starts = np.argwhere(_inside(seen.piece, max(1, round(rim / step))))
    for j, i in starts:
        _follow((int(j), int(i)), seen, pieces, fate)
    found = {(leak.piece, leak.says): leak for leak in fate.values() if leak is not None}
    return list(found.values())


def _look(
    pieces: list[Piece], walls: list[list[tuple[float, float]]], roof: Callable[[Array, Array], Array], step: float
) -> _Seen:
    import shapely

    flat = [[face for face in piece.surface.faces if face.normal[2] > _STEEP] for piece in pieces]
    points = np.array([p for faces in flat for face in faces for p in face.corners])
    low, high = points[:, :2].min(axis=0) - 4 * step, points[:, :2].max(axis=0) + 4 * step
    xs, ys = (np.arange(low[k] + 0.37 * step, high[k], step) for k in (0, 1))  # off the lines that faces end on
    gx, gy = np.meshgrid(xs, ys)
    heights = np.full((len(pieces), *gx.shape), np.nan)
    ways = np.full((len(pieces), 2, *gx.shape), np.nan)
    for n, faces in enumerate(flat):
        for face in faces:
            shape = shapely.Polygon([p[:2] for p in face.corners])
            shapely.prepare(shape)
            here = shapely.contains_xy(shape.buffer(_SEALED), gx, gy)
            a, normal = face.corners[0], face.normal
            z = a[2] - ((gx - a[0]) * normal[0] + (gy - a[1]) * normal[1]) / normal[2]
            over = here & ~(z <= heights[n])
            heights[n][over] = z[over]
            steep = float(np.hypot(*normal[:2]))
            ways[n][:, over] = (normal[:2] / steep if steep > 1e-6 else np.full(2, np.nan))[:, None]
    highest = np.nanmax(np.where(np.isnan(heights), -np.inf, heights), axis=0)
    on_top = np.where(heights > highest - _NEAR, np.arange(len(pieces))[:, None, None], -1).max(axis=0)
    bare = ~np.isfinite(highest)
    top = np.where(bare, roof(gx, gy), highest)
    stands = shapely.contains_xy(overlay.union_all([
        shapely.Polygon(wall).buffer(_SEALED, join_style="mitre") for wall in walls]), gx, gy)
    falls = np.take_along_axis(ways, np.maximum(on_top, 0)[None, None], axis=0)[0]
    return _Seen(xs, ys, np.where(stands, np.inf, top), np.where(stands, -2, np.where(bare, -1, on_top)), heights,
                 falls)


def _inside(piece: NDArray[np.int64], cells: int) -> NDArray[np.bool_]:
    """Cells of metal with no bare roof near them."""
    bare = piece == -1
    near = bare.copy()
    for _ in range(cells):
        grown = near.copy()
        grown[1:] |= near[:-1]
        grown[:-1] |= near[1:]
        grown[:, 1:] |= near[:, :-1]
        grown[:, :-1] |= near[:, 1:]
        near = grown
    return np.asarray((piece >= 0) & ~near)


def _follow(
    start: tuple[int, int], seen: _Seen, pieces: list[Piece], fate: dict[tuple[int, int], Leak | None]
) -> None:
    """Follow a drop; what becomes of it holds for every place it came through."""
    way, here, lost = [start], start, None
    at = (float(start[0]), float(start[1]))
    while here not in fate:
        after, at = _on(here, at, seen)
        if after is None:
            lost = _leak(here, seen, pieces, "stands in a hollow")
            break
        mine, its = int(seen.piece[here]), int(seen.piece[after])
        if its == -1:
            lost = None if pieces[mine].sheds else _leak(here, seen, pieces, "runs off its side, under the panels")
            break
        if _beneath(after, mine, its, seen) and _goes_in(after, at, mine, seen):
            lost = _leak(here, seen, pieces, f"runs in under the {pieces[its].surface.name}")
            break
        fate[here] = None  # for now: water comes back to no place it has left
        way.append(after)
        here = after
    else:
        lost = fate[here]
    for place in way:
        fate[place] = lost


def _beneath(place: tuple[int, int], mine: int, its: int, seen: _Seen) -> bool:
    """Whether a piece that went on later lies there on the one a drop is on."""
    return its > mine and bool(seen.heights[mine][place] > seen.top[place] - _NEAR)


def _goes_in(place: tuple[int, int], at: tuple[float, float], mine: int, seen: _Seen) -> bool:
    """Whether a drop that has come to the edge of a piece over its own goes on in under it, and not along that edge
    (the grid does not know an edge better than to its own step)."""
    here: tuple[int, int] | None = place
    for _ in range(3):
        if here is None or not _beneath(here, mine, int(seen.piece[here]), seen):
            return False
        here, at = _on(here, at, seen)
    if here is None:
        return False
    j, i = here
    return bool((seen.piece[j - 1:j + 2, i - 1:i + 2] != mine).all())


def _leak(here: tuple[int, int], seen: _Seen, pieces: list[Piece], says: str) -> Leak:
    return Leak(float(seen.xs[here[1]]), float(seen.ys[here[0]]), pieces[int(seen.piece[here])].surface.name, says)


def _on(here: tuple[int, int], at: tuple[float, float], seen: _Seen) -> tuple[tuple[int, int] | None,
                                                                             tuple[float, float]]:
    """The next place of a drop and where in it (rows, columns): straight down the face, or beside what stops it."""
    x, y = seen.falls[:, here[0], here[1]]
    go = at[0] + 1.5 * float(y), at[1] + 1.5 * float(x)
    if x == x and 0 <= go[0] < len(seen.ys) - 1 and 0 <= go[1] < len(seen.xs) - 1:
        near = round(go[0]), round(go[1])
        if seen.top[near] < seen.top[here] - 1e-6 and seen.top[round((at[0] + go[0]) / 2),
                                                               round((at[1] + go[1]) / 2)] < np.inf:
            return near, go
    best = _down(here, seen)
    return best, (float(best[0]), float(best[1])) if best else at


def _down(here: tuple[int, int], seen: _Seen) -> tuple[int, int] | None:
    """The steepest way down from a place; over a level stretch the nearest place that has one."""
    best = _steepest(here, seen)
    if best is not None:
        return best
    queue, been, level = deque([here]), {here}, seen.top[here]
    while queue and len(been) < 20000:
        j, i = queue.popleft()
        for dj, di in ((0, 1), (0, -1), (1, 0), (-1, 0)):
            near = (j + dj, i + di)
            if near in been or seen.piece[near] < 0 or abs(seen.top[near] - level) > 1e-6:
                continue
            if (best := _steepest(near, seen)) is not None:
                return best
            been.add(near)
            queue.append(near)
    return None


def _steepest(here: tuple[int, int], seen: _Seen) -> tuple[int, int] | None:
    j, i = here
    best, steepest = None, 1e-6
    for dj, di in _ROUND:
        near = (j + dj, i + di)
        if not (0 <= near[0] < len(seen.ys) and 0 <= near[1] < len(seen.xs)):
            continue
        between = seen.top[j + round(dj / 2 + 1e-9), i + round(di / 2 + 1e-9)]
        fall = (seen.top[here] - seen.top[near]) / (dj * dj + di * di) ** 0.5
        if fall > steepest and between < np.inf:
            best, steepest = near, fall
    return best
