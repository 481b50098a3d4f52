"""The whole roof in space, with its walls."""

from __future__ import annotations

import numpy as np

from yattle.roof import Roof
from yattle.roof.build import holes3, outline3
from yattle.roof.openings import outline
from yattle.roof.plane import BlockBody, Point, Point3
from yattle.ui.drawing.space import Space, SpaceSurface
from yattle.ui.theme import theme

_WALL, _OPENING, _INK = "#cfc8b8", "#8a6f5c", "#22292b"


class RoofSolid(Space):
    """The roof's faces in the metal's colour; the selected edge, and the selected face, in copper."""

    def __init__(self, name: str) -> None:
        super().__init__(name, -28.0, 30.0)
        self.skin = 9.0
        self._roof: Roof | None = None
        self.metal, self.edge, self.face = "#4a6b80", "", ""

    def show_roof(self, roof: Roof, metal: str, edge: str = "", face: str = "") -> None:
        """``edge`` the engine's id of the selected edge, ``face`` the id of the selected face."""
        now = (roof, metal, edge, face)
        if now != (self._roof, self.metal, self.edge, self.face):
            self._roof, self.metal, self.edge, self.face = now
            self._soon.start(20)

    def surfaces(self) -> list[SpaceSurface]:
        roof, t = self._roof, theme()
        if roof is None:
            return []
        found = [SpaceSurface(np.array(outline3(f)), t.copper if f.id == self.face else self.metal, t.bare, [],
                              [np.array(hole) for hole in holes3(f)]) for f in roof.facets]
        lines = [(np.array(e.a), np.array(e.b), *((3.4, t.copper) if e.id == self.edge else (1.2, _INK)))
                 for e in roof.edges]
        found[0].lines.extend(lines) if found else None
        return [*found, *_walls(roof), *_openings(roof)]


def _walls(roof: Roof) -> list[SpaceSurface]:
    """Every block's walls, up to its roof."""
    found = []
    for body in roof.bodies:
        for a, b in zip(body.walls, (*body.walls[1:], body.walls[0]), strict=True):
            tops = [_top(body, a, b, share) for share in np.linspace(1, 0, 9)]
            points = np.array([(*a, 0.0), (*b, 0.0), *tops])
            found.append(SpaceSurface(points, _WALL, _WALL, []))
    return found


def _top(body: BlockBody, a: Point, b: Point, share: float) -> Point3:
    x, y = a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1])
    return x, y, body.height((x, y)) - 15.0


def _openings(roof: Roof) -> list[SpaceSurface]:
    """Openings as plain boxes on the roof."""
    found = []
    for placed in roof.openings:
        high = max(z for *_, z in placed.corners)
        top = max(placed.opening.top or 0.0, high + 350.0)
        ring = outline(placed.opening)
        found.append(SpaceSurface(np.array([(x, y, top) for x, y in ring]), _OPENING, _OPENING, []))
        for n, (x, y, z) in enumerate(placed.corners):
            u, v, w = placed.corners[(n + 1) % len(placed.corners)]
            lines = [(np.array((x, y, z)), np.array((x, y, top)), 0.8, _INK),
                     (np.array((x, y, top)), np.array((u, v, top)), 0.8, _INK)]
            found.append(SpaceSurface(np.array([(x, y, z), (u, v, w), (u, v, top), (x, y, top)]), _OPENING, _OPENING,
                                      lines))
    return found
