"""Sound patterns made wrong in one thing, to see whether the check finds it: for its tests and its table."""

from __future__ import annotations

from bisect import bisect
from collections.abc import Callable, Sequence
from itertools import accumulate, pairwise

from yattle.pattern import Pattern
from yattle.pattern.pattern import PatternFold, Point

Mutant = Callable[[Pattern], Pattern | None]


def longer(by: float) -> Mutant:
    """The right half moved along the piece by so many mm: longer, below 0 shorter."""
    def made(pattern: Pattern) -> Pattern | None:
        left, _, right, _ = pattern.box
        middle = (left + right) / 2

        def at(p: Point) -> Point:
            return (p[0] + by, p[1]) if p[0] > middle else p
        return _moved(pattern, at)
    return made


def wider_leg(n: int, by: float) -> Mutant:
    """All that lies above the middle of fold ``n`` and the next one, moved so many mm across: the leg between them
    wider, below 0 narrower. ``None`` where there is no such leg."""
    def made(pattern: Pattern) -> Pattern | None:
        heights = sorted((fold.a[1] + fold.b[1]) / 2 for fold in pattern.folds if _level(fold))
        if n + 1 >= len(heights) or heights[n + 1] - heights[n] < abs(by) + 5.0:
            return None
        line = (heights[n] + heights[n + 1]) / 2

        def at(p: Point) -> Point:
            return (p[0], p[1] + by) if p[1] > line else p
        return _moved(pattern, at)
    return made


def turned(n: int, turn: Callable[[float], float]) -> Mutant:
    """Fold ``n`` of those along the piece, from below, turned by other degrees; ``None`` where it is none or a hem."""
    def made(pattern: Pattern) -> Pattern | None:
        along = sorted((fold for fold in pattern.folds if _level(fold)), key=lambda fold: fold.a[1] + fold.b[1])
        if n >= len(along) or along[n].kind != "fold" or abs(turn(along[n].turn)) > 179.0:
            return None
        wrong = along[n]
        folds = tuple(fold.model_copy(update={"turn": turn(fold.turn)}) if fold.id == wrong.id else fold
                      for fold in pattern.folds)
        return pattern.model_copy(update={"folds": folds})
    return made


def turned_over(n: int) -> Mutant:
    """Fold ``n`` of all of them turned the other way, whichever way it runs; ``None`` where it is none or a hem."""
    def made(pattern: Pattern) -> Pattern | None:
        if n >= len(pattern.folds) or pattern.folds[n].kind != "fold" or abs(pattern.folds[n].turn) > 179.0:
            return None
        wrong = pattern.folds[n]
        folds = (*pattern.folds[:n], wrong.model_copy(update={"turn": -wrong.turn}), *pattern.folds[n + 1:])
        return pattern.model_copy(update={"folds": folds})
    return made


def hem_turned(n: int) -> Mutant:
    """Hem ``n`` of a piece turned the other way; ``None`` where it has none."""
    def made(pattern: Pattern) -> Pattern | None:
        hems = [fold for fold in pattern.folds if fold.kind == "hem"]
        if n >= len(hems):
            return None
        folds = tuple(fold.model_copy(update={"turn": -fold.turn}) if fold.id == hems[n].id else fold
                      for fold in pattern.folds)
        return pattern.model_copy(update={"folds": folds})
    return made


def scattered(legs: Sequence[float], turns: Sequence[float]) -> Mutant:
    """Every leg between two folds along the piece wider by its own mm, every fold turned by its own degrees more, from
    below; hems as they are."""
    def made(pattern: Pattern) -> Pattern:
        along = sorted((fold for fold in pattern.folds if _level(fold)), key=lambda fold: fold.a[1] + fold.b[1])
        heights = [(fold.a[1] + fold.b[1]) / 2 for fold in along]
        middles = [(a + b) / 2 for a, b in pairwise(heights)]
        steps = [0.0, *accumulate(legs[:len(middles)])]

        def at(p: Point) -> Point:
            return p[0], p[1] + steps[bisect(middles, p[1])]
        moved = _moved(pattern, at)
        by = {fold.id: turn for fold, turn in zip(along, turns, strict=False)
              if fold.kind == "fold" and abs(fold.turn) < 178.0}
        folds = tuple(fold.model_copy(update={"turn": fold.turn + by[fold.id]}) if fold.id in by else fold
                      for fold in moved.folds)
        return moved.model_copy(update={"folds": folds})
    return made


def mirrored(pattern: Pattern) -> Pattern:
    """The other hand: turned over about the middle of its widest leg, folds as they were."""
    heights = sorted((fold.a[1] + fold.b[1]) / 2 for fold in pattern.folds if _level(fold))
    low, high = max(pairwise(heights), key=lambda pair: pair[1] - pair[0], default=(pattern.box[1], pattern.box[3]))

    def at(p: Point) -> Point:
        return p[0], low + high - p[1]
    made = _moved(pattern, at)
    return made.model_copy(update={"outline": made.outline[::-1], "holes": tuple(hole[::-1] for hole in made.holes)})


def _level(fold: PatternFold) -> bool:
    return abs(fold.a[1] - fold.b[1]) < 1e-6 and abs(fold.a[0] - fold.b[0]) > 1.0


def _moved(pattern: Pattern, at: Callable[[Point], Point]) -> Pattern:
    folds = tuple(fold.model_copy(update={"a": at(fold.a), "b": at(fold.b)}) for fold in pattern.folds)
    return pattern.model_copy(update={
        "outline": tuple(at(p) for p in pattern.outline), "folds": folds,
        "holes": tuple(tuple(at(p) for p in hole) for hole in pattern.holes)})
