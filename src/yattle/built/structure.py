"""What the roof stands on and against: decks, walls over their edges, boards under eaves and along rakes."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import partial

import numpy as np
import shapely

from yattle.built.frames import built_up
from yattle.derive.corners import run_frame
from yattle.derive.derived import Derived
from yattle.details import standard_for
from yattle.pattern.surface import Array
from yattle.pattern.triangles import triangles_of
from yattle.roof import Edge, Facet, Roof

_HIGH = 600.0  # mm of a wall that are shown over its edge
_CLEAR = 2.0  # mm at either end of a wall: what goes round its corner is no clash
_ALONG = 13  # places along an edge at which its wall's height is told
_BESIDE = 5.0  # mm: so near a face comes over a wall
_LEAST = 1.0  # mm: a lower board is none
_CUT, _OVER = 80.0, 25.0  # mm over a lower face, and its seams, where a board ends that comes down to it, at the least


@dataclass(frozen=True)
class BuildingPart:
    """A flat part of the building: ``id`` what it is and of which edge or face; ``ring`` its corners (n, 3) in the
    roof's coordinates, mm; ``triangles`` of them."""

    id: str
    ring: Array
    triangles: list[list[int]]


def structure(derived: Derived) -> Iterator[BuildingPart]:
    """Decks, walls and boards."""
    yield from (_deck(facet) for facet in derived.roof.facets)
    yield from walls(derived)
    yield from boards(derived)


def walls(derived: Derived) -> Iterator[BuildingPart]:
    """The wall over each edge at one, up to the roof that comes over it, if one does."""
    for run in derived.runs:
        found = derived.edge_runs.get(run.run.id)
        if found is not None and run.pieces and found.edge.wall:
            asked = "wall", run.run.id, found.edge
            yield derived.roof.once(asked, partial(_wall, derived.roof, run.run.id, found.edge))


def _wall(roof: Roof, run: str, edge: Edge) -> BuildingPart:
    left, right, frame = run_frame(roof, edge)
    feet = np.linspace(left + frame[0] * _CLEAR, right - frame[0] * _CLEAR, _ALONG)
    others = _others_near(roof, edge, feet, _BESIDE)
    return _between(f"wall {run}", feet, [_room_over(others, foot) for foot in feet])


def boards(derived: Derived) -> Iterator[BuildingPart]:
    """The face of the board behind the trim of each eave and rake: as high as the house clads one, down to a roof that
    lies under it."""
    high = standard_for(derived.job.system, derived.job.own).fascia_face
    clear = {facet.id: _clear_over(derived, facet) for facet in derived.roof.facets}
    for run in derived.runs:
        found = derived.edge_runs.get(run.run.id)
        if found is not None and run.pieces and found.edge.kind in ("eave", "rake") and not found.edge.wall:
            asked = "board", run.run.id, found.edge, high, frozenset(clear.items())
            board = derived.roof.once(asked, partial(_board, derived.roof, run.run.id, found.edge, high, clear))
            if board is not None:
                yield board


def _board(roof: Roof, run: str, edge: Edge, high: float, clear: dict[str, float]) -> BuildingPart | None:
    left, right, frame = run_frame(roof, edge)
    heads = np.linspace(left + frame[0] * _CLEAR, right - frame[0] * _CLEAR, _ALONG)
    others = _others_near(roof, edge, heads, _CUT)
    rooms = np.array([_room_under(clear, others, head, high) for head in heads])
    low = np.nonzero(rooms > _LEAST)[0]  # it begins where there is room for it
    if len(low) < 2:
        return None
    whole = slice(int(low[0]), int(low[-1]) + 1)
    return _between(f"board {run}", heads[whole], (-rooms[whole]).tolist())


def _between(name: str, line: Array, highs: list[float]) -> BuildingPart:
    """The upright face between places (n, 3) and what is so high over each, mm; under it where that is less than 0."""
    ring = np.concatenate((line, (line + np.outer(highs, (0.0, 0.0, 1.0)))[::-1]))
    many = len(ring)
    return BuildingPart(name, ring, [triangle for n in range(len(line) - 1) for triangle in (
        [n, n + 1, many - 2 - n], [n, many - 2 - n, many - 1 - n])])


def _others_near(roof: Roof, edge: Edge, line: Array, near: float) -> list[Facet]:
    """The faces that are not an edge's own and come so near, mm in plan, to the line of some places (n, 3)."""
    facets = [facet for facet in roof.facets if facet.id not in edge.facets]
    way = shapely.LineString(line[[0, -1], :2])
    close = shapely.dwithin([facet.shape for facet in facets], way, near) if facets else []
    return [facet for facet, is_near in zip(facets, close, strict=True) if is_near]


def _room_under(clear: dict[str, float], others: list[Facet], head: Array, high: float) -> float:
    """How far a board comes down under its edge at a place, mm; ``others``: the faces that may lie under it, and how
    far over each it ends, ``clear``."""
    place = shapely.Point(head[:2])
    gaps = ((float(head[2]) - facet.plane.z((float(head[0]), float(head[1]))), facet) for facet in others
            if facet.shape.distance(place) < _CUT)
    return max(min((*(gap - clear[facet.id] for gap, facet in gaps if gap > -_CUT), high)), 0.1)


def _clear_over(derived: Derived, facet: Facet) -> float:
    """How high over a face's plane a board ends that comes down to it, mm: clear of what lies there."""
    return max(built_up(derived, facet.id).seams * facet.plane.stretch + _OVER, _CUT)


def _room_over(others: list[Facet], foot: Array) -> float:
    """How high a wall goes over its edge at a place, mm: as high as is shown, or up to the roof over it, of ``others``
    that may be there."""
    place = shapely.Point(foot[:2])
    over = (facet.plane.z((float(foot[0]), float(foot[1]))) - float(foot[2]) for facet in others
            if facet.shape.distance(place) < _BESIDE)
    return max(min((*(high for high in over if high > -_BESIDE), _HIGH)), 0.1)


def _deck(facet: Facet) -> BuildingPart:
    """The plane that a face is built up from: its deck, or the top of its supports."""
    flat = facet.shape.exterior.coords[:-1]
    corners = np.array([facet.plane.at((float(x), float(y))) for x, y in flat])
    return BuildingPart(f"deck {facet.id}", corners, [list(triangle) for triangle in triangles_of(flat)])
