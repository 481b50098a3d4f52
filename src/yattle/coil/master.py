"""Choosing blocks: the linear program over all blocks found, its prices, and whole numbers of blocks from it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from yattle.coil.pricing import Block, block_of
from yattle.coil.tree import Leaf, changed
from yattle.coil.types import ItemType, StockType

Floats = NDArray[np.float64]
_NODES = 4000  # of the branch and bound: a count, so that a run without a clock ends the same each time


@dataclass
class Master:
    """The blocks to choose from. Costs in units of the objective, lengths in mm.

    ``demand``: how many of each kind; what no block covers costs its ``shortage_penalty`` a piece
    ``besides``: what a block costs besides its metal
    ``gap``: clear space after a block
    """

    kinds: list[ItemType]
    sources: list[StockType]
    demand: Floats
    gap: float
    shortage_penalty: Floats
    besides: Callable[[Block], float] = lambda _: 0.0
    blocks: list[Block] = field(default_factory=list)
    _known: set[object] = field(default_factory=set)
    _costs: dict[int, tuple[float, Block]] = field(default_factory=dict)

    def add(self, block: Block) -> bool:
        """Take a block up unless it, or one as good, is there already."""
        key = (block.source, round(block.length, 5), block.counts)
        if key in self._known:
            return False
        self._known.add(key)
        self.blocks.append(block)
        return True

    def cost(self, block: Block) -> float:
        """What a block costs, its metal and besides, in units of the objective."""
        if id(block) not in self._costs:
            cost = self.sources[block.source].cost(block.length + self.gap) + self.besides(block)
            self._costs[id(block)] = cost, block
        return self._costs[id(block)][0]

    # -- the program -------------------------------------------------------------------------------------------

    def _rows(self) -> Any:
        """Demand rows (≥), then for each source how much there is (≤); one more column a kind for what is left."""
        from scipy.sparse import csr_matrix

        count, many = len(self.kinds), len(self.blocks)
        entries: list[tuple[float, int, int]] = []
        for n, block in enumerate(self.blocks):
            for kind, qty in block.counts:
                entries.append((float(qty), kind, n))
            source = self.sources[block.source]
            limit = block.length + self.gap if source.endless else 1.0
            if np.isfinite(source.length if source.endless else float(source.most)):
                entries.append((-limit, count + block.source, n))
        entries += [(1.0, kind, many + kind) for kind in range(count)]
        data, rows, columns = zip(*entries, strict=True)
        return csr_matrix((data, (rows, columns)), shape=(count + len(self.sources), many + count))

    def _limits(self) -> Floats:
        room = [source.length + self.gap if source.endless else float(source.most) for source in self.sources]
        return np.concatenate((self.demand, -np.minimum(room, 1e12)))

    def prices(self) -> tuple[Floats, Floats, Floats]:
        """How much of each block the program takes, what each kind is worth in it, what each source's limit costs. All
        in units of the objective."""
        from scipy.optimize import linprog

        costs = np.array([self.cost(block) for block in self.blocks] + list(self.shortage_penalty))
        done = linprog(costs, A_ub=-self._rows(), b_ub=-self._limits(), method="highs")
        duals = -done.ineqlin.marginals
        return done.x[:len(self.blocks)], duals[:len(self.kinds)], duals[len(self.kinds):]

    def whole(self, seconds: float, gap: float = 1e-5) -> tuple[list[int], bool] | None:
        """How often each block is cut in the best whole plan found within ``seconds``, and whether the clock ended the
        search; ``None``: none was found. ``gap``: the share of the cost that may be missing."""
        from scipy.optimize import Bounds, LinearConstraint, milp

        costs = np.array([self.cost(block) for block in self.blocks] + list(self.shortage_penalty))
        many = len(self.blocks)
        done = milp(costs, constraints=LinearConstraint(self._rows(), self._limits(), np.inf), bounds=Bounds(0, np.inf),
                    integrality=np.ones(len(costs)),
                    options={"time_limit": max(seconds, 0.05), "node_limit": _NODES, "mip_rel_gap": gap})
        if done.x is None:
            return None
        return [round(value) for value in done.x[:many]], bool(done.status == 1 and "ime" in done.message)


def without_surplus(blocks: list[Block], demand: Floats, gap: float, endless: list[bool]) -> list[Block]:
    """The blocks with pieces beyond the demand taken out, those of the thinnest blocks first; empty ones left out.
    ``demand`` in pieces of each kind, ``gap`` in mm."""
    over = -demand.copy()
    for block in blocks:
        for kind, qty in block.counts:
            over[kind] += qty

    def less(leaf: Leaf) -> Leaf | None:
        if over[leaf.item] <= 0:
            return leaf
        over[leaf.item] -= 1
        return None
    kept = []
    for block in sorted(blocks, key=lambda b: sum(qty for _, qty in b.counts)):
        if not any(over[kind] > 0 for kind, _ in block.counts):
            kept.append(block)
            continue
        rows = [(0.0 if endless[block.source] else long, changed(tree, less)) for long, tree in block.rows]
        rows = [row for row in rows if row[1] is not None]
        if rows:
            kept.append(block_of(block.source, rows, 0.0 if endless[block.source] else block.length, gap))
    return kept
