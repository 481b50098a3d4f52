"""How the one measure is drawn that a drawing was made for: its line, what it is said to be, how near it is seen."""

from __future__ import annotations

import math

from yattle.drawing.shapes import MEASURED, Label, Line, Point, Shape

Box = tuple[float, float, float, float]
_TICK = 0.06  # of a measure's length: half the strokes at its ends
_SMALL, _ROUND = 0.2, 2.5  # of the whole: a shorter measure is shown larger, with so many times its length round it


def marked(a: Point, b: Point, said: str, push: Point | None = None) -> list[Shape]:
    """The line from ``a`` to ``b``, mm, with strokes at its ends, and what it is ``said`` to be beside it: along
    ``push``, a unit direction, else to its upper side."""
    long = math.dist(a, b) or 1.0
    aside = (a[1] - b[1]) / long, (b[0] - a[0]) / long
    if aside[1] < 0:
        aside = -aside[0], -aside[1]
    tick = _TICK * long
    ends = [Line(tuple((x + way * aside[0] * tick, y + way * aside[1] * tick) for way in (1, -1)), "lit-edge", MEASURED)
            for x, y in (a, b)]
    return [Line((a, b), "lit-edge", MEASURED), *ends,
            Label(((a[0] + b[0]) / 2, (a[1] + b[1]) / 2), said, push or aside, MEASURED, True)]


def seen_near(whole: Box, a: Point, b: Point) -> Box | None:
    """What is to be seen of a drawing so that a short measure on it is large enough; ``None`` where all of it can be.
    In mm."""
    long = math.dist(a, b)
    if long >= _SMALL * max(whole[2] - whole[0], whole[3] - whole[1]):
        return None
    x, y, near = (a[0] + b[0]) / 2, (a[1] + b[1]) / 2, _ROUND * long
    return x - near, y - near, x + near, y + near
