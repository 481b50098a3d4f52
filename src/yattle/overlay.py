"""Flat shapes cut with each other: as exactly as their coordinates are, and where these tangle, on a fine grid, each
cleaned of what crosses itself where even that is not enough."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

_GRID = 1e-4  # mm: a tenth of what a shear could ever see


def intersection(one: Any, other: Any, **how: Any) -> Any:
    """What two shapes, or arrays of them, have in common; mm."""
    return _robust(shapely.intersection, one, other, **how)


def difference(one: Any, other: Any, **how: Any) -> Any:
    """What the first shape has alone; mm.

    >>> difference(shapely.box(0, 0, 2, 1), shapely.box(1, 0, 2, 1)).area
    1.0
    """
    return _robust(shapely.difference, one, other, **how)


def union(one: Any, other: Any, **how: Any) -> Any:
    """Both shapes as one; mm."""
    return _robust(shapely.union, one, other, **how)


def union_all(shapes: Any, **how: Any) -> Any:
    """All shapes as one; mm."""
    return _robust(shapely.union_all, shapes, **how)


def grown(shapes: Any, by: float) -> Any:
    """Each shape larger by so many mm all round, at its corners by more: they are not rounded, so that few are left.

    >>> grown(shapely.box(0, 0, 2, 1), 1.0).area
    12.0
    """
    return shapely.buffer(shapes, by, join_style="mitre", mitre_limit=2.0)


def polygons(rings: Sequence[NDArray[np.float64]]) -> NDArray[np.object_]:
    """Each ring of corners (n, 2) in mm as a shape, all made at once.

    >>> [shape.area for shape in polygons([np.array([[0.0, 0.0], [2.0, 0.0], [2.0, 1.0]])])]
    [1.0]
    """
    if not len(rings):
        return np.empty(0, dtype=object)
    of = np.repeat(np.arange(len(rings)), [len(ring) for ring in rings])
    return np.asarray(shapely.polygons(shapely.linearrings(np.concatenate(rings), indices=of)))


def _robust(operation: Any, *shapes: Any, **how: Any) -> Any:
    try:
        return operation(*shapes, **how)
    except shapely.errors.GEOSException:  # very sharp corners that lie on each other's borders
        pass
    rounded = {**how, "grid_size": _GRID}
    try:
        return operation(*shapes, **rounded)
    except shapely.errors.GEOSException:  # one of them crosses itself: moved, its corners were rounded across a side
        cleaned = (shapely.make_valid(one, method="structure", keep_collapsed=False) for one in shapes)
        return operation(*cleaned, **rounded)
