"""The words every drawing is made of.

Coordinates are mm of the real thing, y up. Texts have no size in mm: a backend sets them
in its own points, and moves them from ``at`` along ``push`` (a direction, length 1 or 0)
by its own distance, so that they keep clear at every scale. ``role`` says what a shape is;
each backend has its own line and colour for it. ``key`` names what a shape belongs to
(``f2``, ``leg:1``, ``E1-2``), so that pressing it selects that.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field

Point = tuple[float, float]
MEASURED = "measured"
"""The key of what shows the one measure that a drawing was made for."""
ROLES = ("cut", "fold-paint", "fold-back", "mark", "paint", "back", "around", "dim", "tool", "leaf", "piece",
         "waste", "stock", "break", "trim", "axis", "face-1", "face-2", "face-3", "edge-eave", "edge-rake",
         "edge-ridge", "edge-hip", "edge-valley", "edge-wall", "edge-break", "opening", "walls", "water",
         "panel", "wall-cut", "hatch", "lit", "lit-edge", "fault", "seen", "seen-back")


@dataclass(frozen=True)
class Line:
    """An open line through ``points``; ``width`` mm where it stands for something thick."""

    points: tuple[Point, ...]
    role: str
    key: str = ""
    width: float = 0.0


@dataclass(frozen=True)
class Ring:
    """A closed outline, filled where its role is. Corners in mm."""

    points: tuple[Point, ...]
    role: str
    key: str = ""


@dataclass(frozen=True)
class Label:
    """A text at ``at``; ``strong`` ones are numbers people read at the bench. ``room``: how wide and high the thing is
    that it stands in, mm; a backend leaves it out where it does not fit."""

    at: Point
    text: str
    push: Point = (0.0, 0.0)
    key: str = ""
    strong: bool = False
    angle: float = 0.0
    room: Point | None = None


@dataclass(frozen=True)
class Tag:
    """A fold's letter and angle in a pill; ``tongs`` adds the small jaw. ``at`` in mm; ``push`` the unit direction
    that it stands off. ``spare``: it is said elsewhere too, and is left out where there is no room for it."""

    at: Point
    text: str
    push: Point = (0.0, 0.0)
    key: str = ""
    tongs: bool = False
    spare: bool = False


@dataclass(frozen=True)
class Dim:
    """A measure between ``a`` and ``b``, drawn beside them along ``push``. Places in mm; ``text`` says the measure in
    the user's unit."""

    a: Point
    b: Point
    text: str
    push: Point = (0.0, 1.0)
    key: str = ""


Shape = Line | Ring | Label | Tag | Dim


@dataclass(frozen=True)
class Drawing:
    """Shapes in the order they are drawn; ``notes`` are said in the drawing's corners. Places in mm, y up."""

    shapes: tuple[Shape, ...]
    notes: tuple[str, ...] = field(default=())
    frame: tuple[float, float, float, float] | None = None

    @property
    def box(self) -> tuple[float, float, float, float]:
        """Least x, least y, greatest x, greatest y of what is to be seen: its frame, or all lines and outlines. In
        mm."""
        if self.frame is not None:
            return self.frame
        points = list(self._points())
        if not points:
            return 0.0, 0.0, 1.0, 1.0
        xs, ys = zip(*points, strict=True)
        return min(xs), min(ys), max(xs), max(ys)

    def _points(self) -> Iterable[Point]:
        for shape in self.shapes:
            if isinstance(shape, Line | Ring):
                yield from shape.points
            elif isinstance(shape, Dim):
                yield from (shape.a, shape.b)
