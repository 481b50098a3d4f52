"""A plan cut up the simpler way: the same pieces out of the same rectangles with fewer settings of the stops.

A search leaves equal pieces in all kinds of nested cuts; often they stand in plain strips just as well. Each rectangle
of a plan is tried in strips along and in strips across, and what takes fewer lines on the cut sheet is kept.
"""

from __future__ import annotations

from collections import defaultdict
from dataclasses import replace
from itertools import groupby
from typing import Any

from yattle.coil.block import Spacing
from yattle.coil.tree import Leaf, Split, Tree, in_turn, is_fine, leaves

_SAME = 0.05  # mm: settings of the stop that are one
_MOST = 200  # pieces of a rectangle that is tried
_EPS = 1e-7
Step = tuple[float, Tree]


def simpler(tree: Tree, along: float, across: float, spacing: Spacing, edge: float = 0.0) -> Tree:
    """The way to cut a rectangle ``along`` × ``across`` up into the same pieces that takes the fewest settings;
    ``edge``: what is trimmed off above it with what is left. All in mm; only for plans without gaps."""
    if not isinstance(tree, Split):
        return tree
    if tree.low is None:  # a trim stays where it is
        rest = (along - tree.at, across) if tree.across else (along, across - tree.at)
        return replace(tree, high=simpler(tree.high, *rest, spacing, edge))
    best = _inner(tree, along, across, spacing, edge)
    held = [leaf for leaf, _, _ in leaves(tree, 0.0)]
    if len(held) > _MOST or _has_trims(tree):
        return best
    for turned in (False, True):
        made = _strips(held, along, across, spacing, turned)
        if made is not None and is_fine(made, along, across, spacing, edge) and lines(made) < lines(best):
            best = made
    return best


def _has_trims(tree: Tree) -> bool:
    """Whether something is trimmed off before what lies in it."""
    stack = [tree]
    while stack:  # without going deep
        node = stack.pop()
        if isinstance(node, Split):
            if node.low is None:
                return True
            stack += [node.low, node.high]
    return False


def _inner(tree: Split, along: float, across: float, spacing: Spacing, edge: float) -> Tree:
    """Each part of a rectangle cut up more simply by itself, equal ones behind each other."""
    steps = list[Step]()
    left = [along, across]
    way = tree.across
    rest: Tree = tree
    while isinstance(rest, Split) and rest.across == way:
        size = (rest.at, across) if way else (along, rest.at)
        steps.append((rest.at, simpler(rest.low, *size, spacing, edge if way else 0.0)))
        left[0 if way else 1] -= rest.at
        rest = rest.high
    last = simpler(rest, left[0], left[1], spacing, edge)
    if all(low is not None for _, low in steps):
        steps.sort(key=lambda step: (-round(step[0] / _SAME), repr(_shape(step[1]))))
    made = last
    for at, low in reversed(steps):
        made = Split(way, at, low, made)
    return made if is_fine(made, along, across, spacing, edge) else tree


def _strips(held: list[Leaf], along: float, across: float, spacing: Spacing, turned: bool) -> Tree:
    """All pieces in strips of just their width along the coil, or, ``turned``, across it; ``None`` where they do not
    go in."""
    long, tall = (across, along) if turned else (along, across)

    def sizes(leaf: Leaf) -> tuple[float, float]:
        return (leaf.lie.across, leaf.lie.along) if turned else (leaf.lie.along, leaf.lie.across)
    by_width: dict[int, list[Leaf]] = defaultdict(list)
    for leaf in held:
        by_width[round(sizes(leaf)[1] / _SAME)].append(leaf)
    strips: list[tuple[float, list[Leaf]]] = []
    for alike in by_width.values():
        wide = max(sizes(leaf)[1] for leaf in alike)
        strips += [(wide, row) for row in _rows(sorted(alike, key=lambda leaf: -sizes(leaf)[0]), long, spacing, sizes)]
    if sum(wide for wide, _ in strips) > tall + _EPS:
        return None
    strips.sort(key=lambda strip: (-strip[0], [-sizes(leaf)[0] for leaf in strip[1]]))
    return in_turn(turned, [(wide, in_turn(not turned, [(sizes(leaf)[0], leaf) for leaf in row]))
                            for wide, row in strips])


def _rows(alike: list[Leaf], long: float, spacing: Spacing, sizes: Any) -> list[list[Leaf]]:
    """Pieces of one width in as few strips as first fit gives, the longest first."""
    rows: list[tuple[list[Leaf], list[float]]] = []
    for leaf in alike:
        size = sizes(leaf)[0]
        row = next((row for row, left in rows if spacing.rest_is_fine(left[0] - size)), None)
        if row is None:
            rows.append(([leaf], [long - size]))
            continue
        left = next(left for held, left in rows if held is row)
        row.append(leaf)
        left[0] -= size
    return [row for row, _ in rows]


# -- how many settings a plan takes ---------------------------------------------------------------------------------


def lines(tree: Tree) -> int:
    """How many lines a rectangle takes on the cut sheet: equal cuts in turn are one."""
    if not isinstance(tree, Split):
        return 1
    steps, rest = _chain(tree)
    found = 0
    for _, alike in groupby(steps, key=lambda step: (round(step[0] / _SAME), _shape(step[1]))):
        low = next(alike)[1]
        found += 1 + (0 if _is_short(low) else lines(low))
    return found + (0 if rest is None else 1 if isinstance(rest, Leaf) else 1 + lines(rest))


def _chain(tree: Split) -> tuple[list[Step], Tree]:
    """The cuts one way through a rectangle, and what is behind the last of them."""
    steps: list[Step] = []
    rest: Tree = tree
    while isinstance(rest, Split) and rest.across == tree.across:
        steps.append((rest.at, rest.low))
        rest = rest.high
    return steps, rest


def _is_short(tree: Tree) -> bool:
    """Whether what falls is said in the same line: a piece, waste, or a strip of which one piece is cut."""
    return not isinstance(tree, Split) or (tree.high is None and not isinstance(tree.low, Split))


def _shape(tree: Tree) -> Any:
    """The same for parts that are cut up alike, whatever their pieces are called."""
    if tree is None:
        return ()
    if isinstance(tree, Leaf):
        return round(tree.lie.along / _SAME), round(tree.lie.across / _SAME)
    steps, rest = _chain(tree)
    return tree.across, tuple((round(at / _SAME), _shape(low)) for at, low in steps), _shape(rest)
