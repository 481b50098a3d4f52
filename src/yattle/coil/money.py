"""What a plan costs the shop besides its metal: every cut with its handling, less what kept offcuts are worth.

Where the objective is ``money`` the search reckons with it block by block (:func:`besides`), the answer as a whole
(:func:`objective_of`).
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from yattle.coil.answer import Cut, Offcut, Used
from yattle.coil.job import NestRules, ring_area
from yattle.coil.pricing import Block
from yattle.coil.tree import Leaf, Tree
from yattle.coil.types import StockType

_EPS = 1e-6


def besides(block: Block, source: StockType, rules: NestRules, gap: float) -> float:
    """What a block's cuts cost, less what is worth keeping of it; 0 unless the objective is money."""
    if rules.objective != "money":
        return 0.0
    cuts, kept, x = 0, 0.0, 0.0
    least = sorted(rules.min_offcut)
    for long, tree in block.rows:
        x += long + gap
        cuts += source.endless or x < source.longest - _EPS  # the crosscut that ends it
        for size in _cut_up(tree, long, source.across, gap):
            if size is None:
                cuts += 1
            elif min(size) >= least[0] - _EPS and max(size) >= least[1] - _EPS:
                kept += size[0] * size[1]
    rest = (source.longest - x, source.across)
    if not source.endless and min(rest) >= least[0] - _EPS and max(rest) >= least[1] - _EPS:
        kept += rest[0] * rest[1]
    return cuts * rules.cut_cost - kept * a_square_mm(source) * rules.offcuts_worth


def a_square_mm(source: StockType) -> float:
    """What the stock costs by its whole width, a mm²."""
    if source.endless:
        return source.price / (source.stock.width or source.across)
    x0, y0, x1, y1 = source.stock.box
    return source.fixed / ((x1 - x0) * (y1 - y0))


def _cut_up(tree: Tree, wide: float, tall: float, gap: float) -> Iterator[tuple[float, float] | None]:
    """Every cut in a rectangle (``None``) and the size of every piece of it that is left."""
    stack: list[tuple[Tree, float, float]] = [(tree, wide, tall)]
    while stack:
        node, wide, tall = stack.pop()
        if node is None:
            yield wide, tall
        elif isinstance(node, Leaf):
            along, across = node.lie.along, node.lie.across
            if wide > along + _EPS:
                yield None
                yield wide - along, tall
            if tall > across + _EPS:
                yield None
                yield along, tall - across
        else:
            rest = (wide if node.across else tall) - node.at
            stack.append((node.low, node.at, tall) if node.across else (node.low, wide, node.at))
            if rest > _EPS:
                yield None
                yield from [None] if gap > _EPS and node.high is not None else []
                rest -= gap if node.high is not None else 0.0
                stack.append((node.high, rest, tall) if node.across else (node.high, wide, rest))


def objective_of(rules: NestRules, used: Sequence[Used], cuts: Sequence[Cut], offcuts: Sequence[Offcut]) -> float:
    """What an answer comes to under its rules: the metal; under ``money`` with the cuts, less the kept offcuts at
    their share of their own stock's price."""
    metal = sum(one.cost for one in used)
    if rules.objective != "money":
        return metal
    return metal + len(cuts) * rules.cut_cost - rules.offcuts_worth * kept_value(used, offcuts)


def kept_value(used: Sequence[Used], offcuts: Sequence[Offcut]) -> float:
    """What the metal of kept offcuts has cost."""
    rates = {one.stock: one.cost / one.area for one in used if one.area}
    return sum(abs(ring_area(offcut.outline)) / 1e6 * rates.get(offcut.stock, 0.0) for offcut in offcuts)
