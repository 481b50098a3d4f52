"""The floor of a pan: how its outline turns, and how far what is turned up along it finds sheet that is free."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

import numpy as np
import shapely

from yattle import overlay
from yattle.details.feet import Array

Place = tuple[float, float]
CLEAR = 3.0  # mm between a seam leg's end, or what is turned up, and the sheet beside it: room for the cut
_NEAR = 1e-6  # mm
_STRAIGHT = 1e-6  # mm² for every mm: a corner that turns less is none
_BASE = 10.0  # mm of a turn-up's foot that are worth turning up
_SPECK = 0.01  # mm²
_SHORT = 0.9  # mm: an edge of an outline that is hardly longer than what a fold beside it takes is dropped


def turn_at(floor: tuple[Place, ...], at: Place) -> float | None:
    """By how much a floor that runs anticlockwise turns at its corner there, + to the left, in radians; ``None`` where
    it has none."""
    n = next((k for k, p in enumerate(floor) if math.dist(p, at) < _NEAR), None)
    if n is None:
        return None
    (ax, ay), (bx, by), (cx, cy) = floor[n - 1], floor[n], floor[(n + 1) % len(floor)]
    before, after = math.atan2(by - ay, bx - ax), math.atan2(cy - by, cx - bx)
    return math.remainder(after - before, 2 * math.pi)


def sharp_tip(floor: tuple[Place, ...], at: Place) -> float:
    """How far from a sharp corner the floor is wide enough for a fold along its side, mm."""
    turn = turn_at(floor, at)
    return 0.0 if turn is None or turn <= math.pi / 2 else CLEAR / math.tan(math.pi - turn)


def plain_floor(floor: tuple[Place, ...]) -> list[Place]:
    """A floor without corners in the middle of a straight side."""
    def turns(n: int) -> bool:
        (ax, ay), (bx, by), (cx, cy) = floor[n - 1], floor[n], floor[(n + 1) % len(floor)]
        return abs((bx - ax) * (cy - by) - (by - ay) * (cx - bx)) > _STRAIGHT * (1 + math.dist(floor[n - 1], floor[n]))
    return [floor[n] for n in range(len(floor)) if turns(n)]


def inward(floor: tuple[Place, ...], a: Place, b: Place) -> Array:
    """Square to an edge of a floor that runs anticlockwise, into it; 1 mm long."""
    n = next(k for k, p in enumerate(floor) if math.dist(p, a) < _NEAR or math.dist(p, b) < _NEAR)
    after = floor[(n + 1) % len(floor)]
    onward = min(math.dist(after, a), math.dist(after, b)) < _NEAR
    one, other = (floor[n], after) if onward else (floor[n - 1], floor[n])
    size = math.dist(one, other)
    return np.array([-(other[1] - one[1]) / size, (other[0] - one[0]) / size, 0.0])


def turn_up_outlines(floor: tuple[Place, ...], heads: Sequence[tuple[Place, Place, float]],
                     beside: Sequence[Sequence[Place]]) -> tuple[tuple[Place, ...], ...]:
    """What of each turn-up can be cut from one sheet with its floor.

    In the flat sheet a turn-up lies beside the floor. Where the floor has an inner corner it may lie over the floor's
    own sheet, over another turn-up, which shares the wedge between them half and half, or over what else lies there;
    it is cut back from all of these by the cut's room.

    ``floor``: anticlockwise; ``heads``: (left, right, rise) as seen from it; ``beside``: what else lies flat beside it,
    as rings. Gives for each an outline (along, up) from its left end, anticlockwise, beginning with the two ends of its
    foot at 0; an empty one where no foot is left that is worth turning up. All in mm.
    """
    whole = [((0.0, 0.0), (math.dist(a, b), 0.0), (math.dist(a, b), rise), (0.0, rise)) for a, b, rise in heads]
    if not heads or all((turn_at(floor, corner) or 0.0) >= -_NEAR for corner in floor):
        return tuple(whole)
    found: dict[int, tuple[Place, ...]] = {}
    lying: list[tuple[tuple[Place, ...], Any]]
    lying = [((), shapely.Polygon(ring)) for ring in beside]
    for n in sorted(range(len(heads)), key=lambda k: (-math.dist(*heads[k][:2]), heads[k][:2])):
        left, right, _ = heads[n]
        sheet, outside = shapely.Polygon(whole[n]), _above(shapely.Polygon(floor), left, right)
        over = [_seen(one, left, right) for ends, one in lying if left not in ends and right not in ends]
        over = [one for one in over if one.intersection(sheet).area > _SPECK]
        blocks = [one.buffer(CLEAR, join_style="mitre") for one in (_seen(outside, left, right), *over)]
        halves = [half.buffer(CLEAR / 2, join_style="mitre") for half in _halves(floor, heads, n)]
        free = sheet.difference(overlay.union_all([*blocks, *halves]))
        found[n] = _footed(free)
        lying.append(((left, right), shapely.Polygon([_on_floor(p, left, right) for p in found[n]])))
    return tuple(found[n] for n in range(len(heads)))


def _footed(free: Any) -> tuple[Place, ...]:
    """The outline of the part with the longest foot, beginning there; empty where none is long enough."""
    best: tuple[float, tuple[Place, ...]] = (0.0, ())
    for part in shapely.get_parts(free):
        ring = plain_floor(tuple(shapely.geometry.polygon.orient(part).exterior.coords[:-1]))
        for k, (x, y) in enumerate(ring):
            ahead, up = ring[(k + 1) % len(ring)]
            if max(abs(y), abs(up)) < _NEAR and ahead - x > best[0]:
                best = ahead - x, _long_edged([(x, 0.0), (ahead, 0.0), *[*ring[k:], *ring[:k]][2:]])
    return best[1] if best[0] >= _BASE else ()


def _long_edged(ring: list[Place]) -> tuple[Place, ...]:
    """A ring with corners that are next to each other made one in their middle; its first two stay where they are."""
    groups: list[list[Place]] = [[ring[0]], [ring[1]]]
    for corner in ring[2:]:
        if math.dist(corner, ring[0]) > _SHORT and math.dist(corner, ring[1]) > _SHORT:
            if len(groups) > 2 and math.dist(corner, groups[-1][-1]) < _SHORT:
                groups[-1].append(corner)
            else:
                groups.append([corner])
    return tuple((sum(x for x, _ in group) / len(group), sum(y for _, y in group) / len(group)) for group in groups)


def _halves(floor: tuple[Place, ...], heads: Sequence[tuple[Place, Place, float]], n: int) -> list[Any]:
    """What belongs to the turn-ups beside it at inner corners: the farther half of the wedge between the two, in the
    turn-up's own (along, up)."""
    left, right, rise = heads[n]
    long, found = math.dist(left, right), []
    for at, end, side in ((left, 0.0, -1.0), (right, long, 1.0)):
        turn = turn_at(floor, at)
        other = any(math.dist(at, corner) < _NEAR for k, (a, b, _) in enumerate(heads) if k != n for corner in (a, b))
        if turn is not None and turn < -_NEAR and other:
            half, far = (math.pi + turn) / 2, 4 * (rise + long)
            mid, out = math.pi - half, math.pi - 2 * half  # from the way onward, past the corner
            found.append(shapely.Polygon([(end, 0.0), (end + side * far * math.cos(mid), far * math.sin(mid)),
                                          (end + side * far * math.cos(out), far * math.sin(out))]))
    return found


def _above(ground: Any, left: Place, right: Place) -> Any:
    """What of the floor lies on the outer side of a turn-up's foot: the turn-up may lie over it."""
    far = sum(abs(c) for c in ground.bounds) + math.dist(left, right) + 1.0
    strip = [_on_floor(p, left, right) for p in ((-far, 1e-3), (2 * far, 1e-3), (2 * far, 2 * far), (-far, 2 * far))]
    return ground.intersection(shapely.Polygon(strip))


def _frame(left: Place, right: Place) -> tuple[float, float]:
    long = math.dist(left, right)
    return (right[0] - left[0]) / long, (right[1] - left[1]) / long


def _on_floor(place: Place, left: Place, right: Place) -> Place:
    """A turn-up's (along, up) laid flat beside the floor."""
    x, y = _frame(left, right)
    return left[0] + x * place[0] - y * place[1], left[1] + y * place[0] + x * place[1]


def _seen(shape: Any, left: Place, right: Place) -> Any:
    """A shape beside the floor in a turn-up's (along, up)."""
    x, y = _frame(left, right)
    return shapely.transform(shape, lambda p: (p - left) @ np.array([[x, -y], [y, x]]))
