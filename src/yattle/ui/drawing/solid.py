"""A folded piece in space."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from yattle.drawing.pattern import SMALL
from yattle.pattern import Pattern
from yattle.pattern.by_hand import HandStep
from yattle.pattern.folded import FoldedFacet, fold_tree
from yattle.ui.drawing.space import Space, SpaceSurface
from yattle.ui.theme import theme

_HEM_OPEN = 5.0  # degrees a closed hem is drawn open, so that its layers can be told apart
_FOLD_INK = "#1b2325"


@dataclass(frozen=True)
class Neighbour:
    """The next piece of a run: its pattern, and how far along the run it begins after this one, mm (below 0:
    before)."""

    pattern: Pattern
    offset: float


class Solid(Space):
    """The piece folded to ``share``, with the ends of its neighbours faintly beside it."""

    def __init__(self, name: str) -> None:
        super().__init__(name)
        self.metal, self.share = "#4a6b80", 1.0
        self._pattern: Pattern | None = None
        self._steps: tuple[HandStep, ...] = ()
        self.neighbours: tuple[Neighbour, ...] = ()
        self.around: tuple[np.ndarray, ...] = ()

    def show_piece(self, pattern: Pattern | None, metal: str, upright: float,
                   neighbours: tuple[Neighbour, ...] = (), around: tuple[np.ndarray, ...] = ()) -> None:
        """``upright``: degrees its largest facet is turned about the run to stand as installed. ``around``: what lies
        round it on the roof as built, corners (n, 3) in its own frame, mm: drawn in the place of the neighbours."""
        now = (pattern, metal, upright, neighbours)
        if now != (self._pattern, self.metal, self.upright, self.neighbours) or len(around) != len(self.around):
            if pattern is None or self._pattern is None or pattern.id != self._pattern.id:
                self.aside = np.zeros(2)  # another piece comes to the middle
            self._pattern, self.metal, self.upright, self.neighbours = now
            self.around = around
            self._soon.start(30)

    def set_share(self, share: float) -> None:
        self.share = share
        self.update()

    def fold_by_hand(self, steps: tuple[HandStep, ...]) -> None:
        """The steps in which hands fold it: the share then goes through them, one after another."""
        self._steps = steps

    def _own(self) -> dict[str, float] | None:
        """How far each fold is made at this share of the whole, where it is folded in steps."""
        if not self._steps:
            return None
        many = len(self._steps)
        return {fold.id: min(1.0, max(0.0, self.share * many - n)) for n, step in enumerate(self._steps)
                for fold in step.folds}

    def surfaces(self) -> list[SpaceSurface]:
        if self._pattern is None:
            return []
        x0, _, x1, _ = self._pattern.box
        keep = self._pattern.girth * 0.8
        found = []
        rolls = {fold.id for fold in self._pattern.folds if fold.kind == "roll"}
        for facet in fold_tree(self._pattern).folded(self.share, _HEM_OPEN, self._own()):
            space = _shortened(facet.space, x0 + keep, x1 - keep, keep * 0.35)
            lines = [(space[n], space[(n + 1) % len(space)], 0.8 if fold else 1.2, _FOLD_INK if fold else theme().ink)
                     for n, fold in enumerate(facet.edges) if fold not in rolls]
            holes = [_shortened(hole, x0 + keep, x1 - keep, keep * 0.35) for hole in _holes(self._pattern, facet)
                     if not _lost(hole, x0 + keep, x1 - keep, keep * 0.35)]
            lines += [(hole[n - 1], hole[n], 1.2, theme().ink) for hole in holes for n in range(len(hole))]
            found.append(SpaceSurface(space, self.metal, theme().bare, lines, holes))
        if self.around:
            rings = self.around if self.share == 1.0 else ()
            return found + [one for ring in rings for one in self._drawn_faintly(ring.copy(), x0, x1, keep)]
        for neighbour in self.neighbours:
            found += self._faint(neighbour, x0, x1, keep)
        return found

    def _faint(self, neighbour: Neighbour, x0: float, x1: float, keep: float) -> list[SpaceSurface]:
        """The stretch of a neighbour that lies beside this piece, drawn as the ground is."""
        found = []
        for facet in fold_tree(neighbour.pattern).folded(self.share, _HEM_OPEN):
            found += self._drawn_faintly(facet.space + np.array([neighbour.offset, 0.0, 0.0]), x0, x1, keep)
        return found

    def _drawn_faintly(self, space: np.ndarray, x0: float, x1: float, keep: float) -> list[SpaceSurface]:
        space[:, 0] = np.clip(space[:, 0], x0 - 0.4 * keep, x1 + 0.4 * keep)
        if np.ptp(space[:, 0]) <= 1.0:
            return []
        t, space = theme(), _shortened(space, x0 + keep, x1 - keep, keep * 0.35)
        lines = [(space[n], space[(n + 1) % len(space)], 0.6, t.dim) for n in range(len(space))]
        return [SpaceSurface(space, t.line, t.ground, lines)]


def _shortened(space: np.ndarray, left: float, right: float, middle: float) -> np.ndarray:
    """The piece with its long middle left out, so that both ends can be seen."""
    if right - left <= middle:
        return space
    x = space[:, 0]
    moved = np.where(x > right, x - (right - left) + middle,
                     np.where(x > left, left + (x - left) / (right - left) * middle, x))
    return np.column_stack((moved, space[:, 1:]))


def _lost(hole: np.ndarray, left: float, right: float, middle: float) -> bool:
    """Whether a small hole goes with a middle that is left out."""
    xs = hole[:, 0]
    return bool(right - left > middle and left < xs.max() and xs.min() < right and np.ptp(xs) < SMALL)


def _holes(pattern: Pattern, facet: FoldedFacet) -> list[np.ndarray]:
    """The holes that lie in a facet, in space: the same flat turn and shift that its corners had."""
    import shapely

    shape = shapely.Polygon(facet.flat)
    flat = np.column_stack((facet.flat, np.ones(len(facet.flat))))
    turn = np.linalg.lstsq(flat, facet.space, rcond=None)[0]
    return [np.column_stack((hole, np.ones(len(hole)))) @ turn for hole in pattern.holes
            if shape.contains(shapely.Point(hole[0]))]
