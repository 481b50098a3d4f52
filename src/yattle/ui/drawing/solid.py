"""A folded piece in space."""

from __future__ import annotations

import numpy as np

from yattle.pattern import Pattern
from yattle.pattern.proof import fold_tree
from yattle.ui.drawing.space import Space, Surface
from yattle.ui.theme import theme

_HEM_OPEN = 5.0  # degrees a closed hem is drawn open, so that its layers can be told apart
_FOLD_INK = "#1b2325"


class Solid(Space):
    """The piece folded to ``share``."""

    def __init__(self, name: str) -> None:
        super().__init__(name)
        self.metal, self.share = "#4a6b80", 1.0
        self._pattern: Pattern | None = None

    def show_piece(self, pattern: Pattern | None, metal: str, upright: float) -> None:
        """``upright``: degrees its largest facet is turned about the run to stand as installed."""
        now = (pattern, metal, upright)
        if now != (self._pattern, self.metal, self.upright):
            self._pattern, self.metal, self.upright = now
            self._soon.start(30)

    def set_share(self, share: float) -> None:
        self.share = share
        self.update()

    def surfaces(self) -> list[Surface]:
        if self._pattern is None:
            return []
        x0, _, x1, _ = self._pattern.box
        keep = self._pattern.girth * 0.8
        found = []
        for facet in fold_tree(self._pattern).folded(self.share, _HEM_OPEN):
            space = _shortened(facet.space, x0 + keep, x1 - keep, keep * 0.35)
            lines = [(space[n], space[(n + 1) % len(space)], 0.8 if fold else 1.2, _FOLD_INK if fold else theme().ink)
                     for n, fold in enumerate(facet.edges)]
            found.append(Surface(space, self.metal, theme().bare, lines))
        return found


def _shortened(space: np.ndarray, left: float, right: float, middle: float) -> np.ndarray:
    """The piece with its long middle left out, so that both ends can be seen."""
    if right - left <= middle:
        return space
    x = space[:, 0]
    moved = np.where(x > right, x - (right - left) + middle,
                     np.where(x > left, left + (x - left) / (right - left) * middle, x))
    return np.column_stack((moved, space[:, 1:]))
