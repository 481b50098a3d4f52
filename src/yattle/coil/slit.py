"""Slit-first shops: the used length is slit into strips, each strip then cut across.

A first plan at once (:func:`slit_strips`), then better ones: for a used length the strips are what crosscut blocks are
on a coil as wide as that length, and the sum of their widths is made least. The least length at which it is no more
than the coil's width is looked for by halving.
"""

from __future__ import annotations

import time
from dataclasses import replace

from yattle.coil.block import Pool, Spacing, Spot, Strip
from yattle.coil.budget import Budget
from yattle.coil.job import Part
from yattle.coil.search import BlockSearch
from yattle.coil.sizes import Orientation, orientations
from yattle.coil.tree import Leaf, Split, Tree, extent
from yattle.coil.types import ItemType, StockType
from yattle.coil.warm import ready

_EPS = 1e-7
_STEP = 1.01
_CLOSE = 1.0005  # lengths nearer to each other are not told apart
_LOOKS = 12  # lengths looked at, each for its share of the time


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


def _items(pool: Pool, most: float, width: float) -> list[tuple[Part, Orientation]]:
    items = []
    for part, count in pool.counts.items():
        fits = [lie for lie in orientations(part) if lie.along <= most + _EPS and lie.across <= width + _EPS]
        if fits:
            items.extend([(part, fits[0])] * count)
    return sorted(items, key=lambda item: (-item[1].across, -item[1].along, item[0].id))


def _pack(items: list[tuple[Part, Orientation]], length: float, width: float, spacing: Spacing,
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


def shorter(kinds: list[ItemType], source: StockType, spacing: Spacing, budget: Budget, length: float,
            seed: int) -> tuple[float, Tree] | None:
    """A shorter used length than ``length`` of one coil for all pieces, with its cuts; ``None``: none was found.
    Lengths in mm."""
    turned = [ItemType(tuple(_over(lie) for lie in kind.orientations), kind.parts, kind.qty) for kind in kinds]
    area = sum(kind.orientations[0].along * kind.orientations[0].across * kind.qty for kind in kinds)
    low, high = max(area / source.across, max(min(lie.along for lie in kind.orientations) for kind in kinds)), length
    best: tuple[float, Tree] | None = None
    if not ready(budget.until):
        return None
    for look in range(_LOOKS):
        if budget.spent() or high <= low * _CLOSE:
            break
        budget.done += 1
        middle = low + (high - low) * 0.4
        share = budget.left / (_LOOKS - look) if budget.steps is None else None
        tree = _at_length(turned, source, spacing, middle, share, seed + look)
        if tree is None:
            low = middle
        else:
            high = extent(tree, spacing.gap)
            best = high, tree
    return best


def _at_length(kinds: list[ItemType], source: StockType, spacing: Spacing, length: float, seconds: float | None,
               seed: int) -> Tree | None:
    """All pieces in strips of one length, where the strips are no wider than the coil."""
    from yattle.coil.annealing import Annealing, tries_for

    strip = replace(source, across=length, longest=source.across, length=1e9, price=1.0, edge=0.0,
                    kinds=tuple(range(len(kinds))))
    now = time.perf_counter()
    search = BlockSearch(kinds, [strip], spacing, Budget(now + (seconds or 1e6)))
    first = search.filled(search.demand.copy())
    if first is None:
        return None
    anew = Annealing(kinds, [strip], spacing, first)
    pieces = sum(kind.qty for kind in kinds)
    anew.run(Budget(now + (seconds or 1e6), tries_for(pieces) // 4, begun=now), seed,
             stop=lambda: anew.cost <= source.across + spacing.gap + _EPS)
    blocks = anew.best
    if search.value(blocks) > source.across + spacing.gap + _EPS:
        return None
    tree: Tree = None
    for block in sorted(blocks, key=lambda block: block.length):
        tree = Split(False, block.length, _upright(block.rows[0][1]), tree)
    return tree


def _over(lie: Orientation) -> Orientation:
    return Orientation(lie.turn, lie.across, lie.along)


def _upright(tree: Tree) -> Tree:
    """A tree with along and across exchanged."""
    if isinstance(tree, Leaf):
        return Leaf(tree.item, _over(tree.lie))
    if tree is None:
        return None
    return Split(not tree.across, tree.at, _upright(tree.low), _upright(tree.high))
