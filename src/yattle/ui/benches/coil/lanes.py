"""The stock that a plan uses, drawn as lanes."""

from __future__ import annotations

from dataclasses import dataclass

from yattle.drawing import Drawing


@dataclass(frozen=True)
class Lane:
    """A stretch of one stock piece shown on one line: from ``start`` to ``end`` mm."""

    name: str
    drawing: Drawing
    start: float
    end: float
    width: float
