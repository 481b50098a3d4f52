"""The compiled part of the search: a few blocks taken apart, their pieces cut anew edge to edge, kept if it is better.

A plan is a list of blocks, each with its pieces as rows of numbers (the columns are named below). Every piece lies in
the lower left corner of a free rectangle; one cut over the whole rectangle and one over what is left of it set it free
and leave a rectangle beside and one above it. Lengths in mm, without the trims of the stock.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

KIND, LIE, X, Y, WIDE, TALL, ALONG_FIRST, TRIMMED, COLUMNS = 0, 1, 2, 3, 4, 5, 6, 7, 8
BLOCKS, COST, BEST, IDLE, STATE = 0, 1, 2, 3, 4  # of a plan's state: how many, what they cost, the least, tries in vain
EPS = 1e-6
_OPEN = 64  # blocks that a try may open
_PIECES = 160  # pieces that a try may take up
_FULL = 0.04  # of a block's cost: how much better a full block and an empty one are than two that are half full

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


class CuttingRules(NamedTuple):
    """What is cut from what, as arrays for compiled code; lengths in mm, areas in mm².

    ``size``: (kinds, orientations, along and across); ``ways``: how many orientations a kind has; ``area``: of a kind
    ``across``: of each stock type, the usable width; ``longest``: block of it
    ``price``: of a mm of its length, or ``fixed``: of a piece; ``endless``: whether lengths are taken off it
    ``room``: how much there is of it, in mm or pieces; ``allowed``: (stock types, kinds)
    ``gap``: clear space between neighbours; ``sliver``: the least the shear takes off
    ``cut``: what a cut costs; ``worth``: of a mm² kept
    ``short``, ``long``: sides of a rest from which on it is kept
    """

    size: Floats
    ways: Ints
    area: Floats
    across: Floats
    longest: Floats
    price: Floats
    fixed: Floats
    endless: NDArray[np.bool_]
    room: Floats
    allowed: NDArray[np.bool_]
    gap: float
    sliver: float
    cut: float
    worth: Floats
    short: float
    long: float


class Plan(NamedTuple):
    """Blocks: their source, length, number of pieces, rows (block, piece, column), mm² filled, and which of the blocks
    begun with they are (−1: cut anew), what each costs ``extra`` besides its metal; mm or pieces ``used`` of each
    source; the ``state``."""

    source: Ints
    length: Floats
    many: Ints
    rows: Floats
    filled: Floats
    origin: Ints
    extra: Floats
    used: Floats
    state: Floats


class Free(NamedTuple):
    """Free rectangles (x, y, along, across; the side on which the rules' gap lies before it: 0 none, 1 toward the
    start, 2 below) and the block each is in. All in mm."""

    rects: Floats
    block: Ints


@njit(cache=True, nogil=True)
def seed(value):
    np.random.seed(value)


@njit(cache=True, nogil=True)
def cost_of(shop, source, length):
    return shop.price[source] * (length + shop.gap) if shop.endless[source] else shop.fixed[source]


@njit(cache=True, nogil=True)
def _energy(shop, plan, b):
    """What a block counts for: its cost, less a little where it is full."""
    s = plan.source[b]
    share = plan.filled[b] / (plan.length[b] * shop.across[s])
    return cost_of(shop, s, plan.length[b]) * (1.0 - _FULL * share * share) + plan.extra[b]


@njit(cache=True, nogil=True)
def _clean(shop, rest):
    """Whether the shear can take off what is left, or nothing is."""
    return rest < EPS or rest > shop.sliver - EPS


@njit(cache=True, nogil=True)
def _choose(shop, plan, out):
    """Blocks to be taken apart, the wasteful ones rather: how many."""
    blocks = int(plan.state[BLOCKS])
    wanted = 8 if np.random.random() < 0.02 else 1 + int(np.random.random() * 5)
    chosen, pieces = 0, 0
    for _ in range(4 * wanted):
        if chosen == min(wanted, blocks):
            break
        b, c = int(np.random.random() * blocks), int(np.random.random() * blocks)
        if (plan.filled[c] / (plan.length[c] * shop.across[plan.source[c]])
                < plan.filled[b] / (plan.length[b] * shop.across[plan.source[b]])):
            b = c
        again = False
        for n in range(chosen):
            again = again or out[n] == b
        if again or (chosen > 0 and pieces + plan.many[b] > _PIECES):
            continue
        out[chosen] = b
        chosen += 1
        pieces += plan.many[b]
    out[:chosen].sort()
    return chosen


@njit(cache=True, nogil=True)
def _in_order(shop, plan, out, items, keys):
    """The pieces of the blocks ``out``, large ones first by one measure or another, with some chance."""
    rule = np.random.random()
    noise = 0.02 + 0.6 * np.random.random() ** 2
    many = 0
    for b in out:
        for p in range(plan.many[b]):
            kind = int(plan.rows[b, p, KIND])
            along, across = shop.size[kind, 0, 0], shop.size[kind, 0, 1]
            if rule < 0.4:
                key = along
            elif rule < 0.55:
                key = across
            elif rule < 0.8:
                key = (along * across) ** 0.5
            else:
                key = along + across
            items[many] = kind
            keys[many] = -key * (1.0 + noise * (np.random.random() - 0.5))
            many += 1
    return items[:many][np.argsort(keys[:many])]


@njit(cache=True, nogil=True)
def _score(how, rest, over, left):
    """How well a piece fits a rectangle, the less the better: by what is left beside, above, of the area."""
    if how < 0.35:
        score = min(rest, over)
    elif how < 0.6:
        score = over + 0.01 * rest
    elif how < 0.75:
        score = rest + 0.01 * over
    else:
        score = left ** 0.5
    return 0.5 * score if rest < EPS or over < EPS else score


@njit(cache=True, nogil=True)
def _best_place(shop, made, free, frees, kind, how):
    """The free rectangle a piece fits best, and how it lies there; −1: none."""
    best, best_lie, least = -1, 0, 1e300
    for f in range(frees):
        b = free.block[f]
        if not shop.allowed[made.source[b], kind] or made.many[b] >= made.rows.shape[1]:
            continue
        w, h = free.rects[f, 2], free.rects[f, 3]
        for lie in range(shop.ways[kind]):
            rest, over = w - shop.size[kind, lie, 0], h - shop.size[kind, lie, 1]
            if rest < -EPS or over < -EPS or not (_clean(shop, rest) and _clean(shop, over)):
                continue
            score = _score(how, rest, over, w * h - shop.area[kind])
            if score < least and np.random.random() > 0.03:
                best, best_lie, least = f, lie, score
    return best, best_lie


@njit(cache=True, nogil=True)
def _source_for(shop, used, worth, kind, lie):
    """The source that a new block for a piece comes from, the cheapest by ``worth``; −1: none has room."""
    best, least = -1, 1e300
    along, across = shop.size[kind, lie, 0], shop.size[kind, lie, 1]
    for s in range(len(worth)):
        if not shop.allowed[s, kind] or along > shop.longest[s] + EPS or across > shop.across[s] + EPS:
            continue
        room = used[s] + along <= shop.room[s] + EPS if shop.endless[s] else used[s] + 1 <= shop.room[s] + EPS
        clean = _clean(shop, shop.across[s] - across) and (shop.endless[s] or _clean(shop, shop.longest[s] - along))
        if room and clean and worth[s] < least:
            best, least = s, worth[s]
    return best


@njit(cache=True, nogil=True)
def _length_for(shop, used, s, along, items, at):
    """How long to make a new block: as its first piece, as that and another one, or as long as can be."""
    if not shop.endless[s]:
        return shop.longest[s]
    most = min(shop.longest[s], shop.room[s] - used[s])
    dice, length = np.random.random(), along
    if dice > 0.9:
        length = most
    elif dice > 0.55 and at + 1 < len(items):
        other = items[at + 1 + int(np.random.random() * (len(items) - at - 1))]
        length = along + shop.gap + shop.size[other, int(np.random.random() * shop.ways[other]), 0]
    return length if length < most + EPS and _clean(shop, length - along) else along


@njit(cache=True, nogil=True)
def _along_first(cutting, rest, over, w, h, a, c):
    """Whether to cut along first: so that the larger rectangle stays whole, always, or by chance."""
    if cutting < 0.35:
        return max(rest * c, w * over) >= max(rest * h, a * over)
    if cutting < 0.7:
        return True
    return over * w > rest * h if cutting < 0.85 else np.random.random() < 0.6


@njit(cache=True, nogil=True)
def _put(shop, made, free, frees, f, kind, lie, cutting):
    """Put a piece into the corner of a free rectangle; how many are free then."""
    b = free.block[f]
    x, y, w, h = free.rects[f, 0], free.rects[f, 1], free.rects[f, 2], free.rects[f, 3]
    a, c = shop.size[kind, lie, 0], shop.size[kind, lie, 1]
    rest, over = max(w - a - shop.gap, 0.0), max(h - c - shop.gap, 0.0)
    along_first = _along_first(cutting, rest, over, w, h, a, c)
    row = made.rows[b, made.many[b]]
    row[KIND], row[LIE], row[X], row[Y], row[WIDE], row[TALL] = kind, lie, x, y, a, c
    row[ALONG_FIRST], row[TRIMMED] = 1.0 if along_first else 0.0, 1.0 if w - a > EPS else 0.0
    gap = 1.0 if shop.gap > EPS and free.rects[f, 4] > 0.0 else 0.0  # the gap before it is cut off too
    made.extra[b] += shop.cut * (row[TRIMMED] + (1.0 if h - c > EPS else 0.0) + gap)
    made.many[b] += 1
    made.filled[b] += shop.area[kind]
    frees -= 1
    free.rects[f], free.block[f] = free.rects[frees], free.block[frees]
    if rest > EPS:
        free.rects[frees, 0], free.rects[frees, 1], free.rects[frees, 2] = x + a + shop.gap, y, rest
        free.rects[frees, 3], free.rects[frees, 4], free.block[frees] = c if along_first else h, 1.0, b
        frees += 1
    if over > EPS:
        free.rects[frees, 0], free.rects[frees, 1], free.rects[frees, 3] = x, y + c + shop.gap, over
        free.rects[frees, 2], free.rects[frees, 4], free.block[frees] = w if along_first else a, 2.0, b
        frees += 1
    return frees


@njit(cache=True, nogil=True)
def _shrink(shop, made, b):
    """Make a block no longer than it need be, unless the shear could not take off what is left beside pieces then."""
    if not shop.endless[made.source[b]]:
        return
    far, fine = 0.0, True
    for p in range(made.many[b]):
        row = made.rows[b, p]
        far = max(far, row[X] + row[WIDE])
    for p in range(made.many[b]):
        row = made.rows[b, p]
        fine = fine and _clean(shop, far - row[X] - row[WIDE])
    if not fine:
        return
    if made.length[b] > far + EPS:
        for p in range(made.many[b]):
            row = made.rows[b, p]
            if row[TRIMMED] > 0.0 and row[X] + row[WIDE] > far - EPS:
                made.extra[b] -= shop.cut  # nothing is left beside it any more
    made.used[made.source[b]] += far - made.length[b]
    made.length[b] = far


@njit(cache=True, nogil=True)
def _keep(shop, made, free, frees):
    """Count what is left and worth keeping."""
    for f in range(frees):
        b = free.block[f]
        wide, tall = min(free.rects[f, 2], made.length[b] - free.rects[f, 0]), free.rects[f, 3]
        if wide <= EPS:
            continue
        if free.rects[f, 4] == 1.0:  # nothing lies in it: the gap is left on it
            wide += shop.gap
        elif free.rects[f, 4] == 2.0:
            tall += shop.gap
        if min(wide, tall) > shop.short - EPS and max(wide, tall) > shop.long - EPS:
            made.extra[b] -= wide * tall * shop.worth[made.source[b]]


@njit(cache=True, nogil=True)
def _cut_anew(shop, made, free, items, worth):
    """Cut the pieces ``items`` from new blocks in ``made``: whether all of them were."""
    how, cutting = np.random.random(), np.random.random()
    opened, frees = 0, 0
    for at in range(len(items)):
        kind = items[at]
        f, lie = _best_place(shop, made, free, frees, kind, how)
        if f < 0:
            if opened == len(made.source):
                return False
            lie = 0 if np.random.random() < 0.8 else shop.ways[kind] - 1
            s = _source_for(shop, made.used, worth, kind, lie)
            if s < 0 and shop.ways[kind] > 1:
                lie = 1 - lie
                s = _source_for(shop, made.used, worth, kind, lie)
            if s < 0:
                return False
            length = _length_for(shop, made.used, s, shop.size[kind, lie, 0], items, at)
            made.source[opened], made.length[opened] = s, length
            made.many[opened], made.filled[opened], made.origin[opened] = 0, 0.0, -1
            made.extra[opened] = shop.cut if shop.endless[s] else 0.0
            made.used[s] += length + shop.gap if shop.endless[s] else 1.0
            f, frees = frees, frees + 1
            free.rects[f, 0], free.rects[f, 1], free.rects[f, 2], free.rects[f, 3] = 0.0, 0.0, length, shop.across[s]
            free.rects[f, 4], free.block[f] = 0.0, opened
            opened += 1
        frees = _put(shop, made, free, frees, f, kind, lie, cutting)
    made.state[BLOCKS] = opened
    for b in range(opened):
        _shrink(shop, made, b)
    if shop.cut > 0.0 or shop.worth.max() > 0.0:
        _keep(shop, made, free, frees)
    return True


@njit(cache=True, nogil=True)
def _copy(source, b, target, c):
    """Block ``b`` of one plan becomes block ``c`` of another."""
    target.source[c], target.length[c], target.many[c] = source.source[b], source.length[b], source.many[b]
    target.filled[c], target.origin[c], target.extra[c] = source.filled[b], source.origin[b], source.extra[b]
    for p in range(source.many[b]):
        target.rows[c, p] = source.rows[b, p]


@njit(cache=True, nogil=True)
def _take(plan, out, made):
    """New blocks into the places of the old ones ``out`` (sorted) or at the end; what is empty is closed up."""
    blocks, opened = int(plan.state[BLOCKS]), int(made.state[BLOCKS])
    for n in range(opened):
        if n < len(out):
            _copy(made, n, plan, out[n])
        else:
            _copy(made, n, plan, blocks)
            blocks += 1
    for n in range(len(out) - 1, opened - 1, -1):
        blocks -= 1
        if out[n] != blocks:
            _copy(plan, blocks, plan, out[n])
    plan.state[BLOCKS] = blocks
    plan.used[:] = made.used


@njit(cache=True, nogil=True)
def _set_apart(shop, plan, out, made):
    """What the blocks ``out`` count for and cost; ``made`` begins without them."""
    before, cost = 0.0, 0.0
    made.used[:] = plan.used
    for b in out:
        s = plan.source[b]
        before += _energy(shop, plan, b)
        cost += cost_of(shop, s, plan.length[b]) + plan.extra[b]
        made.used[s] -= plan.length[b] + shop.gap if shop.endless[s] else 1.0
    return before, cost


@njit(cache=True, nogil=True)
def improve(tries, temperature, shop, plan, best):
    """``tries`` times take some blocks of ``plan`` apart and cut them anew; a worse plan is taken now and then, the
    more the greater ``temperature`` (in units of the cost). ``best`` keeps the cheapest seen. Both are changed in
    place."""
    total, sources = int(plan.many[:int(plan.state[BLOCKS])].sum()), len(plan.used)
    most = plan.rows.shape[1]
    items, keys, out = np.empty(total, np.int64), np.empty(total), np.empty(8, np.int64)
    made = Plan(np.empty(_OPEN, np.int64), np.empty(_OPEN), np.empty(_OPEN, np.int64),
                np.empty((_OPEN, most, COLUMNS)), np.empty(_OPEN), np.empty(_OPEN, np.int64), np.zeros(_OPEN),
                np.empty(sources), np.zeros(STATE))
    free = Free(np.empty((2 * total + 8, 5)), np.empty(2 * total + 8, np.int64))
    worth = np.empty(sources)
    for _ in range(tries):
        plan.state[IDLE] += 1
        old = out[:_choose(shop, plan, out)]
        before, cost = _set_apart(shop, plan, old, made)
        for s in range(sources):
            rate = shop.price[s] if shop.endless[s] else shop.fixed[s] / shop.longest[s]
            worth[s] = (rate + 1e-9) / shop.across[s] * (1 + 0.3 * np.random.random())
        if not _cut_anew(shop, made, free, _in_order(shop, plan, old, items, keys), worth):
            continue
        after, new, opened = 0.0, 0.0, int(made.state[BLOCKS])
        for b in range(opened):
            after += _energy(shop, made, b)
            new += cost_of(shop, made.source[b], made.length[b]) + made.extra[b]
        worse = after - before
        if plan.state[BLOCKS] - len(old) + opened > len(plan.source) or (worse > 1e-9 and (
                temperature <= 0.0 or np.random.random() >= np.exp(-worse / temperature))):
            continue
        _take(plan, old, made)
        plan.state[COST] += new - cost
        if plan.state[COST] < plan.state[BEST] - 1e-7:
            plan.state[BEST], plan.state[IDLE] = plan.state[COST], 0
            for b in range(int(plan.state[BLOCKS])):
                _copy(plan, b, best, b)
            best.state[:], best.used[:] = plan.state, plan.used
