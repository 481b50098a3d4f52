"""Whether one pattern is the mirror image of another."""

from __future__ import annotations

import math
from collections.abc import Callable

from yattle.pattern.pattern import Pattern, Point

_SAME = 0.06  # mm


def mirrored_across(one: Pattern, other: Pattern) -> str:
    """From which edge of its blank the other pattern is measured to come out as the first one does from the opposite
    edge: "right end" or "lower edge"; nothing where it is no mirror image, or the same by itself."""
    if len(one.outline) != len(other.outline) or len(one.folds) != len(other.folds) or one.qty != other.qty or abs(
            one.length - other.length) > _SAME or abs(one.girth - other.girth) > _SAME:
        return ""
    x0, y0, x1, y1 = one.box
    ways: tuple[tuple[str, Callable[[Point], Point]], ...] = (
        ("right end", lambda p: (x0 + x1 - p[0], p[1])), ("lower edge", lambda p: (p[0], y0 + y1 - p[1])))
    return next((name for name, turn in ways if _are(one, other, turn)), "")


def _are(one: Pattern, other: Pattern, turn: Callable[[Point], Point]) -> bool:
    corners = all(any(math.dist(turn(p), q) < _SAME for q in other.outline) for p in one.outline)
    holes = sorted(map(len, one.holes)) == sorted(map(len, other.holes)) and all(
        any(math.dist(turn(p), q) < _SAME for hole in other.holes for q in hole) for hole in one.holes for p in hole)
    return corners and holes and all(
        any(abs(fold.turn - twin.turn) < _SAME and _ends(fold.a, fold.b, twin.a, twin.b, turn) for twin in other.folds)
        for fold in one.folds)


def _ends(a: Point, b: Point, c: Point, d: Point, turn: Callable[[Point], Point]) -> bool:
    a, b = turn(a), turn(b)
    return min(math.dist(a, c) + math.dist(b, d), math.dist(a, d) + math.dist(b, c)) < 2 * _SAME
