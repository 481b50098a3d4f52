"""Places on a drawing that can be dragged."""

from __future__ import annotations

from dataclasses import dataclass

from yattle.roof.plane import Point


@dataclass(frozen=True)
class ToolCorner:
    """One corner of a tool's outline, mm."""

    tool: str
    index: int
    at: tuple[float, float]


@dataclass(frozen=True)
class Handle:
    """A place that can be dragged: ``part`` it belongs to, ``role`` what dragging it changes."""

    part: str
    role: str
    at: Point
