"""The order in which a piece is folded by hand: what hangs furthest out first, so that nothing stands in the way of
what follows; tabs before long folds. Rulings are rolled first, while the sheet is flat. What closes round a pocket goes
up all at once."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from yattle.pattern.folded import fold_tree
from yattle.pattern.pattern import Pattern, PatternFold

_MEET = 0.5  # mm: folds that end nearer to each other meet
_DOUBLE = 179.0  # degrees from which a fold lies on itself


@dataclass(frozen=True)
class HandStep:
    """Folds that hands make in one go: a single one, or all that meet round a tray's pockets, these first."""

    folds: tuple[PatternFold, ...]
    pockets: int = 0

    @property
    def together(self) -> bool:
        """Whether its folds go up all at once."""
        return len(self.folds) > 1

    def says(self, names: Sequence[str]) -> str:
        """What hands do where several folds are made in one go, with the ``names`` of its folds; nothing of a single
        fold."""
        if not self.together:
            return ""
        creased, rest = ", ".join(names[:self.pockets]), ", ".join(names[self.pockets:])
        return (f"{creased}: crease the pockets over the jig and open them again; then {rest} all at once, the pockets "
                "fold in behind; a clip over a leg holds the pan meanwhile")


def hand_steps(pattern: Pattern) -> tuple[HandStep, ...]:
    """Every fold of ``pattern`` once (rulings left out), in the steps in which they are made; what goes up together
    last, when everything else is on it."""
    order = _outermost_first(pattern)
    rounds = _round_pockets(order)
    tied = {fold.id for group in rounds for fold in group}
    single = [HandStep((fold,)) for fold in order if fold.id not in tied]
    return (*single, *(HandStep((*filter(_is_pocket, group), *(fold for fold in group if not _is_pocket(fold))),
                                sum(map(_is_pocket, group))) for group in rounds))


def hand_order(pattern: Pattern) -> tuple[PatternFold, ...]:
    """Every fold of ``pattern`` once (rulings left out), the first to be made first."""
    return tuple(fold for step in hand_steps(pattern) for fold in step.folds)


def _is_pocket(fold: PatternFold) -> bool:
    """Whether a fold is one of a pocket's, laid double by hand."""
    return fold.by == "tongs" and abs(fold.turn) > _DOUBLE


def _round_pockets(folds: tuple[PatternFold, ...]) -> list[list[PatternFold]]:
    """The folds that meet at the corners of pockets, where two or more are laid double: those of one tray together."""
    ends = [end for fold in folds if _is_pocket(fold) for end in (fold.a, fold.b)]
    corners = [end for end in ends if sum(math.dist(end, other) < _MEET for other in ends) > 1]
    groups: list[list[PatternFold]] = []
    for fold in folds:
        if any(math.dist(end, corner) < _MEET for end in (fold.a, fold.b) for corner in corners):
            near = [group for group in groups if any(_meet(fold, other) for other in group)]
            groups = [group for group in groups if group not in near]
            groups.append([*(other for group in near for other in group), fold])
    return groups


def _meet(one: PatternFold, other: PatternFold) -> bool:
    return any(math.dist(p, q) < _MEET for p in (one.a, one.b) for q in (other.a, other.b))


def _outermost_first(pattern: Pattern) -> tuple[PatternFold, ...]:
    tree = fold_tree(pattern)
    depth: dict[int, int] = {tree.root: 0}
    seen: dict[str, int] = {}
    for joint in tree.joints:  # from the largest facet outward
        depth[joint.child] = depth[joint.parent] + 1
        seen[joint.fold.id] = max(depth[joint.child], seen.get(joint.fold.id, 0))
    folds = [fold for fold in pattern.folds if fold.kind != "roll"]
    places = {fold.id: n for n, fold in enumerate(folds)}
    return tuple(sorted(folds, key=lambda f: (-seen.get(f.id, 0), f.by != "tongs", places[f.id])))
