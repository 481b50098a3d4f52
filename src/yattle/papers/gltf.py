"""A folded piece as glTF (binary), in metres with y up, as viewers expect."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from yattle.pattern import Pattern
from yattle.pattern.folded import Array, Ring, tree_of
from yattle.pattern.pattern import PatternFold


def piece_to_glb(pattern: Pattern, colour: str = "#4a6b80") -> bytes:
    """The piece folded up, each facet a flat face seen from both sides."""
    import trimesh

    vertices, faces = _mesh_of(pattern.outline, pattern.holes, pattern.folds)
    red, green, blue = (int(colour[k : k + 2], 16) for k in (1, 3, 5))
    material = trimesh.visual.material.PBRMaterial(
        baseColorFactor=(red, green, blue, 255), metallicFactor=0.4, roughnessFactor=0.6, doubleSided=True)
    mesh = trimesh.Trimesh(vertices, faces, process=False,
                           visual=trimesh.visual.TextureVisuals(material=material))
    data: bytes = trimesh.Scene({pattern.id: mesh}).export(file_type="glb")
    return data


@lru_cache(maxsize=64)
def _mesh_of(outline: Ring, holes: tuple[Ring, ...],
             folds: tuple[PatternFold, ...]) -> tuple[Array, list[list[int]]]:
    """Corners (n, 3) in metres, y up, and triangles of what is folded up; equal pieces share them."""
    import shapely

    points, faces, start = [], [], 0
    for facet in tree_of(outline, holes, folds).folded(1.0):
        corners = [shapely.get_coordinates(t)[:3] for t in shapely.constrained_delaunay_triangles(
            shapely.Polygon(facet.flat)).geoms]
        index = {tuple(np.round(p, 6)): n for n, p in enumerate(facet.flat)}
        points.append(facet.space)
        faces += [[start + index[tuple(np.round(p, 6))] for p in triangle] for triangle in corners]
        start += len(facet.space)
    return np.vstack(points)[:, [0, 2, 1]] * np.array([1, 1, -1]) / 1000, faces
