"""What the roof stands on and against: decks, and walls over their edges."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from yattle.derive.corners import run_frame
from yattle.derive.derived import Derived
from yattle.derive.roof_runs import RoofRun
from yattle.pattern.surface import Array
from yattle.pattern.triangles import triangles_of
from yattle.roof import Facet

_HIGH = 600.0  # mm of a wall that are shown over its edge
_CLEAR = 2.0  # mm at either end of a wall: what goes round its corner is no clash
_ALONG = 13  # places along an edge at which its wall's height is told
_BESIDE = 5.0  # mm: so near a face comes over a wall


@dataclass(frozen=True)
class BuildingPart:
    """A flat part of the building: ``id`` what it is and of which edge or face; ``ring`` its corners (n, 3) in the
    roof's coordinates, mm; ``triangles`` of them."""

    id: str
    ring: Array
    triangles: list[list[int]]


def structure(derived: Derived) -> Iterator[BuildingPart]:
    """Decks and walls."""
    yield from (_deck(facet) for facet in derived.roof.facets)
    yield from walls(derived)


def walls(derived: Derived) -> Iterator[BuildingPart]:
    """The wall over each edge at one, up to the roof that comes over it, if one does."""
    for run in derived.runs:
        found = derived.edge_runs.get(run.run.id)
        if found is not None and run.pieces and found.edge.wall:
            left, right, frame = run_frame(derived.roof, found.edge)
            feet = np.linspace(left + frame[0] * _CLEAR, right - frame[0] * _CLEAR, _ALONG)
            tops = [foot + np.array([0.0, 0.0, _room_over(derived, found, foot)]) for foot in feet]
            ring = np.concatenate((feet, np.array(tops[::-1])))
            many = len(ring)
            yield BuildingPart(f"wall {run.run.id}", ring, [triangle for n in range(_ALONG - 1) for triangle in (
                [n, n + 1, many - 2 - n], [n, many - 2 - n, many - 1 - n])])


def _room_over(derived: Derived, found: RoofRun, foot: Array) -> float:
    """How high a wall goes over its edge at a place, mm: as high as is shown, or up to the roof over it."""
    import shapely

    place = shapely.Point(foot[:2])
    over = (facet.plane.z((float(foot[0]), float(foot[1]))) - float(foot[2]) for facet in derived.roof.facets
            if facet.id not in found.edge.facets and facet.shape.distance(place) < _BESIDE)
    return max(min((*(high for high in over if high > -_BESIDE), _HIGH)), 0.1)


def _deck(facet: Facet) -> BuildingPart:
    """The plane that a face is built up from: its deck, or the top of its supports."""
    flat = facet.shape.exterior.coords[:-1]
    corners = np.array([facet.plane.at((float(x), float(y))) for x, y in flat])
    return BuildingPart(f"deck {facet.id}", corners, [list(triangle) for triangle in triangles_of(flat)])
