"""Slit-first shops: the used length is slit into strips, each strip then cut across."""

from __future__ import annotations

from yattle.coil.block import Pool, Spacing, Spot, Strip
from yattle.coil.job import Part
from yattle.coil.sizes import Lie, lies

_EPS = 1e-7
_STEP = 1.01


def slit_strips(pool: Pool, most: float, width: float, spacing: Spacing, trim: float) -> tuple[float, list[Strip]]:
    """The shortest length found at which all parts fit into strips side by side.

    Where not all fit into ``most`` mm, what fits is returned. The pool is not changed.
    """
    items = _items(pool, most, width)
    if not items:
        return 0.0, []
    area = sum(lie.along * lie.across for _, lie in items)
    longest = max(lie.along for _, lie in items)
    length = max(longest, area / width)
    while True:
        length = min(length, most)
        strips, placed = _pack(items, length, width, spacing, trim)
        if placed == len(items) or length >= most - _EPS:
            return max((s.spots[-1].x + s.spots[-1].lie.along for s in strips), default=0.0), strips
        length = length * _STEP + 1.0


def _items(pool: Pool, most: float, width: float) -> list[tuple[Part, Lie]]:
    items = []
    for part, count in pool.counts.items():
        fits = [lie for lie in lies(part) if lie.along <= most + _EPS and lie.across <= width + _EPS]
        if fits:
            items.extend([(part, fits[0])] * count)
    return sorted(items, key=lambda item: (-item[1].across, -item[1].along, item[0].id))


def _pack(items: list[tuple[Part, Lie]], length: float, width: float, spacing: Spacing,
          trim: float) -> tuple[list[Strip], int]:
    """First fit by falling width: into the first strip with room, else a new strip beside it."""
    lanes: list[tuple[float, float, list[Spot]]] = []
    y, placed = 0.0, 0
    for part, lie in items:
        for _, wide, spots in lanes:
            x = spots[-1].x + spots[-1].lie.along + spacing.gap
            if (spacing.rest_is_fine(length - x - lie.along) and spacing.rest_is_fine(wide - lie.across)):
                spots.append(Spot(part, lie, x))
                placed += 1
                break
        else:
            if spacing.rest_is_fine(width - y - lie.across, trim) and spacing.rest_is_fine(length - lie.along):
                lanes.append((y, lie.across, [Spot(part, lie, 0.0)]))
                y += lie.across + spacing.gap
                placed += 1
    return [Strip(at, wide, tuple(spots)) for at, wide, spots in lanes], placed
