"""The table that a hand marks a sheet out by."""

from __future__ import annotations

import math

from yattle.measure import Unit, say_length
from yattle.papers.sheet import Paper
from yattle.pattern import MarkPoint, check_measure


def marking_table(paper: Paper, title: str, points: list[MarkPoint], y: float, unit: Unit) -> None:
    """A table of the numbered points, four columns of them, with the check; from ``y`` mm down, or on a page of its own
    where that leaves no room above the foot."""
    rows = math.ceil(len(points) / 4)
    if y - 12 - 5.5 * rows < 18:
        paper.next_page()
        paper.head(title, "marking out")
        y = paper.height - 32
    paper.text(15, y, "Mark out: no., from the blank's left end, from its upper edge", 11, bold=True)
    for n, point in enumerate(points):
        column, row = divmod(n, rows)
        x, at = 15 + column * 46, y - 7 - 5.5 * row
        paper.text(x + 6, at, str(point.number), 10, bold=True, anchor="right")
        paper.text(x + 23, at, say_length(point.left, unit), 10, anchor="right")
        paper.text(x + 40, at, say_length(point.top, unit), 10, anchor="right")
    check = check_measure(points)
    if check is not None:
        a, b, far = check
        paper.text(15, y - 9 - 5.5 * rows, f"Check: {a.number} to {b.number} is {say_length(far, unit, mark=True)}.",
                   10, bold=True)
