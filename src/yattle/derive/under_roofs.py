"""Where flashings along a wall end under the roof of that wall: under its valley, its boards, its rake."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import shapely

from yattle.derive.corners import Array, EndPlane
from yattle.pattern.rings import cross
from yattle.roof import Edge, Roof
from yattle.roof.edges import WALLS

TAPERS = 0.0515
"""Of a plane's unit normal along a piece: what it cuts slantingly under another roof, from 3° on."""
_NEAR = 2.0  # mm: ends that are that near are one corner
_OFF_VALLEY = 60.0  # mm from a valley's fold, on the face, to where panels and flashings end
_UNDER_RAKE = 130.0  # mm under a roof that ends at its wall: its rake's face hangs down there
_UNDER_BOARDS = 30.0  # mm under a roof's plane: its boards
_LOW_OVER = 200.0  # mm over a flashing's line: its upstand finds room under a roof that is higher there
_BOARD_BESIDE, _BOARD_OVER = 150.0, 450.0  # mm beside a wall's corner, and over it, where a board hangs down to it


def under_a_valley(roof: Roof, edge: Edge, at: Array) -> tuple[EndPlane | None, EndPlane | None]:
    """A cheek's head where the roof over it comes down in a valley, or begins at a pitch break: under that roof, as
    far from the crease as the panels end; on both sides of its section. ``at``: the flashing's end, mm."""
    face = edge.facets[0]
    for valley in (e for e in roof.edges_of(face) if e.kind in ("valley", "pitch-break")):
        a, b = np.array(valley.a), np.array(valley.b)
        way = (b - a) / np.linalg.norm(b - a)
        along = float((at - a) @ way)
        if -_NEAR < along < valley.length + _NEAR and np.linalg.norm(at - a - way * along) < _NEAR:
            own, over = (np.array(roof.facet(name).plane.normal) for name in (
                face, next(name for name in valley.facets if name != face)))
            sine = float(np.linalg.norm(cross(own, over)))
            hangs = min(along, valley.length - along) > _OFF_VALLEY or valley.kind == "valley"
            low = _rake_above(roof, edge, at) or not hangs
            cut = EndPlane(over, at - over * (_UNDER_RAKE if low else _OFF_VALLEY * sine))
            return cut, cut
    return None, None


def under_its_wall_s_roof(roof: Roof, edge: Edge, at: Array, away: Array) -> Iterator[EndPlane]:
    """A wall's flashing where the roof of that wall comes down so low over its end that it finds no room: what is
    over that is cut off. ``at``: its end, mm; ``away``: from there along it, 1 mm long."""
    body = next((one for one in roof.bodies if one.id == edge.wall), None)
    if body is None:
        return
    x, y = float(at[0]), float(at[1])
    plane = min(body.planes, key=lambda one: one.z((x, y)))
    over, high = np.array(plane.normal), plane.z((x, y)) - float(at[2])
    if not -_NEAR < high < _LOW_OVER or float(over @ away) > -TAPERS:
        return
    down = _UNDER_RAKE if _rake_above(roof, edge, at) else _UNDER_BOARDS
    yield EndPlane(over, at + over * (high * float(over[2]) - down))


def _rake_above(roof: Roof, edge: Edge, at: Array) -> bool:
    """Whether a rake of the wall's own roof hangs at the wall, over this end."""
    place = shapely.Point(at[:2])
    return any(over.kind == "rake" and roof.facet(over.facets[0]).block == edge.wall
               and shapely.LineString([over.a[:2], over.b[:2]]).distance(place) < _BOARD_BESIDE
               for over in roof.edges)


def under_a_board(roof: Roof, edge: Edge, at: Array, away: Array) -> tuple[EndPlane | None, EndPlane | None]:
    """A cheek's foot at the corner of its wall, where a board of the roof over it hangs down beside: plumb, since
    what leans out past the corner would go through that; on both sides of its section. ``at``: its end, mm; ``away``:
    from there along it, 1 mm long."""
    if not any(other.kind in WALLS and other.wall == edge.wall and edge.facets[0] in other.facets
               for other in roof.ending_at(at) if other.id != edge.id):
        return None, None
    for over in roof.edges:
        if over.kind not in ("rake", "eave") or roof.facet(over.facets[0]).block != edge.wall:
            continue
        line = shapely.LineString([over.a[:2], over.b[:2]])
        place = shapely.Point(at[:2])
        along = line.project(place, normalized=True)
        high = over.a[2] + along * (over.b[2] - over.a[2]) - float(at[2])
        if line.distance(place) < _BOARD_BESIDE and high < _BOARD_OVER:
            cut = EndPlane(np.array([away[0], away[1], 0.0]), at)
            return cut, cut
    return None, None
