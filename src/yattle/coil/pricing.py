"""Blocks worth cutting: given what each kind is worth, the best block of every length a source can give.

A strip of a width holds pieces that are no wider, one after another; a block holds strips side by side. Both are sums
(:mod:`~yattle.coil.sums`): along the strip for all lengths at once, then across the block for each length.
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, replace
from itertools import groupby

import numpy as np

from yattle.coil.block import Spacing, Spot, Strip
from yattle.coil.job import Part
from yattle.coil.kinds import Kind, Source
from yattle.coil.sizes import Lie
from yattle.coil.sums import Sums

_EPS = 1e-7
_LENGTHS = 70  # different block lengths looked at in one go
_WIDTHS = 60  # different strip widths in one block's sum


Row = tuple[float, tuple[tuple[float, tuple[tuple[int, Lie], ...]], ...]]  # length, strips: width, pieces in order


@dataclass(frozen=True)
class Block:
    """One crosscut of a source, or a whole sheet or offcut: ``length`` along; ``rows`` one after another along it (one
    of a coil), each of strips side by side; how many of each kind."""

    source: int
    length: float
    rows: tuple[Row, ...]
    counts: tuple[tuple[int, int], ...]

    @property
    def filled(self) -> float:
        """mm² that pieces cover."""
        return sum(lie.along * lie.across for _, strips in self.rows for _, row in strips for _, lie in row)


def block_of(source: int, rows: list[tuple[float, list[tuple[float, list[tuple[int, Lie]]]]]], length: float,
             gap: float) -> Block:
    """A block with its pieces counted; a row's length 0: as long as its longest strip; ``length`` 0: as its rows."""
    counts: dict[int, int] = {}
    made: list[Row] = []
    for given, strips in rows:
        long = given or max(sum(lie.along for _, lie in row) + gap * (len(row) - 1) for _, row in strips)
        made.append((long, tuple((width, tuple(sorted(row, key=lambda piece: (-piece[1].across, -piece[1].along))))
                                 for width, row in sorted(strips, key=lambda s: -s[0]))))
        for _, row in strips:
            for kind, _ in row:
                counts[kind] = counts.get(kind, 0) + 1
    whole = length or sum(long for long, _ in made) + gap * (len(made) - 1)
    return Block(source, whole, tuple(made), tuple(sorted(counts.items())))


def laid(row: Row, spacing: Spacing, part: Callable[[int], Part]) -> tuple[Strip, ...]:
    """A row's strips with their pieces in place; ``part`` gives the next part of a kind."""
    found, y = [], 0.0
    for width, pieces in row[1]:
        spots, x = [], 0.0
        for kind, lie in pieces:
            spots.append(Spot(part(kind), lie, x))
            x += lie.along + spacing.gap
        found.append(Strip(y, width, tuple(spots)))
        y += width + spacing.gap
    return tuple(found)


@dataclass(frozen=True)
class _Strips:
    """Sums along strips: for each strip width its list."""

    widths: list[float]
    lists: list[Sums]
    options: list[tuple[int, Lie]]


def best_blocks(n: int, source: Source, kinds: list[Kind], worth: np.ndarray, spacing: Spacing,
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
        block, value = _across(n, source, strips, float(lengths[k]), values[:, k], spacing, counts or {})
        if block is not None and counts:
            block, more = _topped_up(block, n, source, kinds, worth, spacing, counts)
            value += more
        if block is not None and value > costs[k] * (1 + 1e-7):
            found.append((value / costs[k], block))
    found.sort(key=lambda pair: -pair[0])
    return [block for _, block in found]


def _strips(source: Source, kinds: list[Kind], worth: np.ndarray, spacing: Spacing,
            counts: dict[int, int]) -> _Strips:
    options = [(kind, lie) for kind in source.kinds for lie in kinds[kind].lies
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


def _lengths(source: Source, strips: _Strips) -> list[float]:
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


def _across(n: int, source: Source, strips: _Strips, length: float, values: np.ndarray, spacing: Spacing,
            counts: dict[int, int]) -> tuple[Block | None, float]:
    """The best strips side by side in a block of one length."""
    wide = Sums(source.across + spacing.gap)
    before = np.concatenate(([0.0], np.maximum.accumulate(values)[:-1]))
    rises = [k for k in range(len(values)) if values[k] > before[k] + 1e-12]
    rises.sort(key=lambda k: -values[k] / strips.widths[k])
    for k in rises[:_WIDTHS]:
        wide.add(k, strips.widths[k] + spacing.gap, float(values[k]), 1000 if not counts else _fits(
            strips, k, length + spacing.gap, counts, spacing.sliver))
    which = wide.at(source.across + spacing.gap, 0.0 if source.edge else spacing.sliver)
    rows: list[tuple[float, list[tuple[int, Lie]]]] = []
    for k, many in wide.taken(which):
        line = strips.lists[k]
        at = line.at(length + spacing.gap, spacing.sliver)
        row = [strips.options[item] for item, count in line.taken(at) for _ in range(count)]
        rows += [(strips.widths[k], row)] * many
    if not rows:
        return None, 0.0
    whole = 0.0 if source.endless else source.longest
    return block_of(n, [(whole, rows)], whole, spacing.gap), float(wide.worth[which])


def _topped_up(block: Block, n: int, source: Source, kinds: list[Kind], worth: np.ndarray, spacing: Spacing,
               counts: dict[int, int]) -> tuple[Block, float]:
    """The block with what is left of its width filled from what is left of the pieces, and what that adds: where the
    best strip of a width has used its pieces up, the next best takes its place."""
    rows, more, length = list(block.rows[0][1]), 0.0, block.rows[0][0]
    left, new = dict(counts), rows
    while True:
        for kind, qty in _counted(new):
            left[kind] = left.get(kind, 0) - qty
        room = source.across - sum(width + spacing.gap for width, _ in rows)
        worth_left = np.array([value if left.get(kind, 0) > 0 else 0.0 for kind, value in enumerate(worth)])
        rest = replace(source, across=room, longest=length)
        strips = _strips(rest, kinds, worth_left, spacing, left) if room > 0 else None
        if strips is None or not strips.widths:
            break
        values = np.array([row.worth[row.at(length + spacing.gap, spacing.sliver)] for row in strips.lists])
        other, value = _across(n, rest, strips, length, values, spacing, left)
        if other is None or value <= 0:
            break
        new = list(other.rows[0][1])
        rows, more = rows + new, more + value
    if not more:
        return block, 0.0
    strips_now = [(width, list(row)) for width, row in rows]
    return block_of(n, [(0.0 if source.endless else source.longest, strips_now)],
                    0.0 if source.endless else source.longest, spacing.gap), more


def _counted(rows: list[tuple[float, tuple[tuple[int, Lie], ...]]]) -> list[tuple[int, int]]:
    return list(Counter(kind for _, row in rows for kind, _ in row).items())


def _fits(strips: _Strips, k: int, room: float, counts: dict[int, int], sliver: float) -> int:
    """How often a strip can be cut from what there is of its pieces."""
    taken = strips.lists[k].taken(strips.lists[k].at(room, sliver))
    return max(1, min((counts.get(strips.options[item][0], 1_000_000) // count for item, count in taken), default=1))


def fine(block: Block, source: Source, spacing: Spacing, edge: float) -> bool:
    """Whether the shear can take every strip and piece of a block off: nothing left, or enough."""
    return all(_fine_row(row, source, spacing, edge) for row in block.rows)


def _fine_row(row: Row, source: Source, spacing: Spacing, edge: float) -> bool:
    y = source.across
    for width, pieces in row[1]:
        y -= width
        if not spacing.rest_is_fine(y, edge):
            return False
        y -= spacing.gap
        x = row[0]
        for _, lie in pieces:
            x -= lie.along
            if not (spacing.rest_is_fine(x) and spacing.rest_is_fine(width - lie.across)):
                return False
            x -= spacing.gap
    return True
