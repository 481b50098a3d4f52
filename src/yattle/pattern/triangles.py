"""A flat ring of corners cut into triangles, for meshes."""

from __future__ import annotations

from collections.abc import Iterable
from functools import lru_cache

Triangle = tuple[int, ...]


def triangles_of(ring: Iterable[Iterable[float]]) -> tuple[Triangle, ...]:
    """The triangles of a ring (n, 2) that does not cross itself, each by the numbers of its three corners; places
    nearer than a millionth of a mm are one."""
    return _cut(tuple((round(float(x), 6), round(float(y), 6)) for x, y in ring))


@lru_cache(maxsize=4096)
def _cut(ring: tuple[tuple[float, float], ...]) -> tuple[Triangle, ...]:
    """Equal rings share them."""
    import shapely

    index = {place: n for n, place in enumerate(ring)}
    return tuple(tuple(index[x, y] for x, y in triangle.exterior.coords[:3])
                 for triangle in shapely.get_parts(shapely.constrained_delaunay_triangles(shapely.Polygon(ring))))
