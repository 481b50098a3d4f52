"""Blocks worth cutting: given what each kind is worth, the best block of every length a source can give.

A strip of a width holds pieces that are no wider, one after another; a block holds strips side by side. Both are sums
(:mod:`~yattle.coil.sums`): along the strip for all lengths at once, then across the block for each length.
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import groupby

import numpy as np

from yattle.coil.block import Spacing
from yattle.coil.sizes import Orientation
from yattle.coil.sums import Sums
from yattle.coil.tree import Leaf, Tree, extent, in_turn, is_fine, leaves
from yattle.coil.types import ItemType, StockType

_EPS = 1e-7
_LENGTHS = 70  # different block lengths looked at in one go
_WIDTHS = 60  # different strip widths in one block's sum
Strips = list[tuple[float, list[tuple[int, Orientation]]]]  # width, and the pieces one after another

Row = tuple[float, Tree]  # length, and how it is cut up


@dataclass(frozen=True)
class Block:
    """One crosscut of a source, or a whole sheet or offcut: ``length`` along; ``rows`` one after another along it (one
    of a coil); how many of each kind, and the mm² they cover."""

    source: int
    length: float
    rows: tuple[Row, ...]
    counts: tuple[tuple[int, int], ...]
    filled: float


def block_of(source: int, rows: Sequence[Row], length: float, gap: float) -> Block:
    """A block with its pieces counted; a row's length 0: as far as its pieces reach; ``length`` 0: as its rows. All in
    mm."""
    found = [leaf for _, tree in rows for leaf, _, _ in leaves(tree, gap)]
    made = tuple((long or extent(tree, gap), tree) for long, tree in rows)
    whole = length or sum(long for long, _ in made) + gap * (len(made) - 1)
    return Block(source, whole, made, tuple(sorted(Counter(leaf.item for leaf in found).items())),
                 sum(leaf.lie.along * leaf.lie.across for leaf in found))


def _striped(strips: Sequence[tuple[float, Sequence[tuple[int, Orientation]]]]) -> Tree:
    """Strips (width, pieces) side by side, the widest first; in each the widest piece first."""
    return in_turn(False, [
        (width, in_turn(True, [(lie.along, Leaf(kind, lie)) for kind, lie in
                               sorted(row, key=lambda piece: (-piece[1].across, -piece[1].along))]))
        for width, row in sorted(strips, key=lambda strip: -strip[0])])


@dataclass(frozen=True)
class _Strips:
    """Sums along strips: for each strip width its list."""

    widths: list[float]
    lists: list[Sums]
    options: list[tuple[int, Orientation]]


def best_blocks(n: int, source: StockType, kinds: list[ItemType], worth: np.ndarray, spacing: Spacing,
                keep: int, counts: dict[int, int] | None = None) -> list[Block]:
    """Up to ``keep`` blocks of source ``n`` that are worth more than they cost, the best by the cost first; lengths are
    looked at in the order of what they could be worth at most. ``counts``: at most so many of each kind."""
    strips = _strips(source, kinds, worth, spacing, counts or {})
    if not strips.widths:
        return []
    lengths = np.array(_lengths(source, strips) if source.endless else [source.longest])
    rooms = lengths + spacing.gap
    values = np.array([row.worth[row.many_at(rooms, spacing.sliver)] for row in strips.lists])
    costs = np.array([max(source.cost(room), 1e-9) for room in rooms])
    most = (values / np.array(strips.widths)[:, None]).max(axis=0) * (source.across + spacing.gap) / costs
    found: list[tuple[float, Block]] = []
    for k in np.argsort(-most, kind="stable"):
        if most[k] <= 1 + 1e-9 or len(found) >= keep:
            break  # even if the width were used to the last mm
        rows, value = _across(source, strips, float(lengths[k]), values[:, k], spacing, counts or {})
        if rows and counts:
            rows, more = _topped_up(rows, source, kinds, worth, spacing, counts)
            value += more
        if rows and value > costs[k] * (1 + 1e-7):
            found.append((value / costs[k], _made(n, source, rows, spacing.gap)))
    found.sort(key=lambda pair: -pair[0])
    return [block for _, block in found]


def _strips(source: StockType, kinds: list[ItemType], worth: np.ndarray, spacing: Spacing,
            counts: dict[int, int]) -> _Strips:
    options = [(kind, lie) for kind in source.kinds for lie in kinds[kind].orientations
               if worth[kind] > 1e-12 and lie.along <= source.longest + _EPS and lie.across <= source.across + _EPS]
    options.sort(key=lambda option: (option[1].across, -option[1].along))
    line, added = Sums(source.longest + spacing.gap), 0
    widths: list[float] = []
    lists: list[Sums] = []

    def add(sums: Sums, k: int) -> None:
        kind, lie = options[k]
        sums.add(k, lie.along + spacing.gap, float(worth[kind]), counts.get(kind, kinds[kind].qty))
    for width, group in groupby(range(len(options)), key=lambda k: round(options[k][1].across, 6)):
        while added < len(options) and options[added][1].across <= width - max(spacing.sliver, 2 * _EPS):
            add(line, added)  # narrow enough to be trimmed
            added += 1
        here = line.snapshot()
        for k in group:
            add(here, k)
        widths.append(max(options[k][1].across for k in range(len(options)) if round(options[k][1].across, 6) == width))
        lists.append(here)
    return _Strips(widths, lists, options)


def _lengths(source: StockType, strips: _Strips) -> list[float]:
    """Block lengths to look at: those of the pieces, and sums of them that pay best."""
    own = {round(lie.along, 6) for _, lie in strips.options}
    sums = strips.lists[-1]
    if len(sums.sizes) > 1:
        share = sums.worth[1:] / sums.sizes[1:]
        good = np.argsort(-share, kind="stable")[:_LENGTHS]
        own |= {round(float(size), 6) for size in sums.sizes[1:][good]}
    found = sorted(length for length in own if length <= source.longest + _EPS)
    step = max(1, math.ceil(len(found) / (2 * _LENGTHS)))
    return found[::-1][::step]


def _across(source: StockType, strips: _Strips, length: float, values: np.ndarray, spacing: Spacing,
            counts: dict[int, int]) -> tuple[Strips, float]:
    """The best strips side by side in a block of one length, and what they are worth."""
    wide = Sums(source.across + spacing.gap)
    before = np.concatenate(([0.0], np.maximum.accumulate(values)[:-1]))
    rises = [k for k in range(len(values)) if values[k] > before[k] + 1e-12]
    rises.sort(key=lambda k: -values[k] / strips.widths[k])
    for k in rises[:_WIDTHS]:
        wide.add(k, strips.widths[k] + spacing.gap, float(values[k]), 1000 if not counts else _fits(
            strips, k, length + spacing.gap, counts, spacing.sliver))
    which = wide.at(source.across + spacing.gap, 0.0 if source.edge else spacing.sliver)
    rows: Strips = []
    for k, many in wide.taken(which):
        line = strips.lists[k]
        at = line.at(length + spacing.gap, spacing.sliver)
        row = [strips.options[item] for item, count in line.taken(at) for _ in range(count)]
        rows += [(strips.widths[k], row)] * many
    return rows, float(wide.worth[which])


def _made(n: int, source: StockType, strips: Strips, gap: float) -> Block:
    whole = 0.0 if source.endless else source.longest
    return block_of(n, [(whole, _striped(strips))], whole, gap)


def _topped_up(rows: Strips, source: StockType, kinds: list[ItemType], worth: np.ndarray, spacing: Spacing,
               counts: dict[int, int]) -> tuple[Strips, float]:
    """A block's strips with what is left of its width filled from what is left of the pieces, and what that adds: where
    the best strip of a width has used its pieces up, the next best takes its place."""
    more = 0.0
    whole = max(sum(lie.along + spacing.gap for _, lie in row) for _, row in rows) - spacing.gap
    length = whole if source.endless else source.longest
    left, new = dict(counts), rows
    while True:
        for kind, qty in _counted(new):
            left[kind] = left.get(kind, 0) - qty
        room = source.across - sum(width + spacing.gap for width, _ in rows)
        worth_left = np.array([value if left.get(kind, 0) > 0 else 0.0 for kind, value in enumerate(worth)])
        rest = replace(source, across=room, longest=length)
        strips = _strips(rest, kinds, worth_left, spacing, left) if room > 0 else None
        if strips is None or not strips.widths:
            return rows, more
        values = np.array([row.worth[row.at(length + spacing.gap, spacing.sliver)] for row in strips.lists])
        new, value = _across(rest, strips, length, values, spacing, left)
        if not new or value <= 0:
            return rows, more
        rows, more = rows + new, more + value


def _counted(rows: Strips) -> list[tuple[int, int]]:
    return list(Counter(kind for _, row in rows for kind, _ in row).items())


def _fits(strips: _Strips, k: int, room: float, counts: dict[int, int], sliver: float) -> int:
    """How often a strip can be cut from what there is of its pieces."""
    taken = strips.lists[k].taken(strips.lists[k].at(room, sliver))
    return max(1, min((counts.get(strips.options[item][0], 1_000_000) // count for item, count in taken), default=1))


def fine(block: Block, source: StockType, spacing: Spacing, edge: float) -> bool:
    """Whether the shear can take every strip and piece of a block off: nothing left, or enough. ``edge``: the trim
    along the coil's edges, mm."""
    return all(is_fine(tree, long, source.across, spacing, edge) for long, tree in block.rows)
