"""The order in which a piece is folded by hand: what hangs furthest out first, so that nothing stands in the way of
what follows; tabs before long folds. Rulings are rolled first, while the sheet is flat."""

from __future__ import annotations

from yattle.pattern.folded import fold_tree
from yattle.pattern.pattern import Pattern, PatternFold


def hand_order(pattern: Pattern) -> tuple[PatternFold, ...]:
    """Every fold of ``pattern`` once (rulings left out), the first to be made first."""
    tree = fold_tree(pattern)
    depth: dict[int, int] = {tree.root: 0}
    seen: dict[str, int] = {}
    for joint in tree.joints:  # from the largest facet outward
        depth[joint.child] = depth[joint.parent] + 1
        seen[joint.fold.id] = max(depth[joint.child], seen.get(joint.fold.id, 0))
    folds = [fold for fold in pattern.folds if fold.kind != "roll"]
    places = {fold.id: n for n, fold in enumerate(folds)}
    return tuple(sorted(folds, key=lambda f: (-seen.get(f.id, 0), f.by != "tongs", places[f.id])))
