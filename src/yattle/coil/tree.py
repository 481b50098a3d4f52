"""How a rectangle is cut up: a tree of edge-to-edge cuts with pieces at its ends.

A *split* cuts a rectangle in two, ``across`` at x or along at y, ``at`` mm from its lower left corner; the rules' gap
lies beyond the cut. A *leaf* holds one piece in the rectangle's lower left corner, which is trimmed to its size.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import Any

from yattle.coil.block import Spacing, Strip
from yattle.coil.sizes import Orientation

_EPS = 1e-7


@dataclass(frozen=True)
class Leaf:
    """``item``: the part, or the number of its kind while the search has it."""

    item: Any
    lie: Orientation


@dataclass(frozen=True)
class Split:
    """One guillotine cut: a rectangle parted ``at`` mm from its start (``across`` the coil) or from below (along it),
    ``low`` before and ``high`` behind; ``None`` where nothing lies."""

    across: bool
    at: float
    low: Tree
    high: Tree = None


Tree = Leaf | Split | None


def in_turn(across: bool, steps: Sequence[tuple[float, Tree]]) -> Tree:
    """Rectangles one after another (``across``: along the coil), each cut off ``at`` its size. In mm."""
    tree: Tree = None
    for at, low in reversed(steps):
        tree = Split(across, at, low, tree)
    return tree


def of_strips(strips: Sequence[Strip]) -> Tree:
    """Strips side by side, with pieces one after another in each."""
    return in_turn(False, [
        (strip.width, in_turn(True, [(spot.lie.along, Leaf(spot.part, spot.lie)) for spot in strip.spots]))
        for strip in strips])


def leaves(tree: Tree, gap: float, x: float = 0.0, y: float = 0.0) -> Iterator[tuple[Leaf, float, float]]:
    """Every piece with the place of its lower left corner, mm from the rectangle's."""
    stack: list[tuple[Tree, float, float]] = [(tree, x, y)]
    while stack:
        node, x, y = stack.pop()
        if isinstance(node, Leaf):
            yield node, x, y
        elif node is not None:
            step = node.at + gap
            stack.append((node.high, x + step, y) if node.across else (node.high, x, y + step))
            stack.append((node.low, x, y))


def changed(tree: Tree, what: Callable[[Leaf], Leaf | None]) -> Tree:
    """The tree with every leaf changed, or taken out, from the lower left on."""
    if tree is None:
        return None
    if isinstance(tree, Leaf):
        return what(tree)
    chain: list[tuple[Split, Tree]] = []
    node: Tree = tree
    while isinstance(node, Split):  # along the chain without going deep
        chain.append((node, changed(node.low, what)))
        node = node.high
    made = changed(node, what)
    for split, low in reversed(chain):
        made = Split(split.across, split.at, low, made) if low is not None or made is not None else None
    return made


def extent(tree: Tree, gap: float) -> float:
    """How far along the coil its pieces reach, mm."""
    return max((x + leaf.lie.along for leaf, x, _ in leaves(tree, gap)), default=0.0)


def is_fine(tree: Tree, wide: float, tall: float, spacing: Spacing, edge: float = 0.0) -> bool:
    """Whether the shear can make every cut in a rectangle: nothing left beside it, or enough. ``edge``: what is
    trimmed off above the rectangle with what is left. All in mm."""
    stack: list[tuple[Tree, float, float, float]] = [(tree, wide, tall, edge)]
    while stack:
        node, wide, tall, edge = stack.pop()
        if isinstance(node, Leaf):
            if not (spacing.rest_is_fine(wide - node.lie.along) and spacing.rest_is_fine(tall - node.lie.across, edge)):
                return False
        elif node is not None:
            rest = (wide if node.across else tall) - node.at
            if not spacing.rest_is_fine(rest, 0.0 if node.across else edge):
                return False
            if node.across:
                stack += [(node.low, node.at, tall, edge), (node.high, rest - spacing.gap, tall, edge)]
            else:
                stack += [(node.low, wide, node.at, 0.0), (node.high, wide, rest - spacing.gap, edge)]
    return True
