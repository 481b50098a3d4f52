"""A folded piece as glTF (binary), in metres with y up, as viewers expect."""

from __future__ import annotations

import numpy as np

from yattle.pattern import Pattern, fold_up


def piece_to_glb(pattern: Pattern, colour: str = "#4a6b80") -> bytes:
    """The piece folded up, each facet a flat face seen from both sides."""
    import shapely
    import trimesh

    points, faces, start = [], [], 0
    for facet in fold_up(pattern):
        corners = [shapely.get_coordinates(t)[:3] for t in shapely.constrained_delaunay_triangles(
            shapely.Polygon(facet.flat)).geoms]
        index = {tuple(np.round(p, 6)): n for n, p in enumerate(facet.flat)}
        points.append(facet.space)
        faces += [[start + index[tuple(np.round(p, 6))] for p in triangle] for triangle in corners]
        start += len(facet.space)
    vertices = np.vstack(points)[:, [0, 2, 1]] * np.array([1, 1, -1]) / 1000
    red, green, blue = (int(colour[k : k + 2], 16) for k in (1, 3, 5))
    material = trimesh.visual.material.PBRMaterial(
        baseColorFactor=(red, green, blue, 255), metallicFactor=0.4, roughnessFactor=0.6, doubleSided=True)
    mesh = trimesh.Trimesh(vertices, faces, process=False,
                           visual=trimesh.visual.TextureVisuals(material=material))
    data: bytes = trimesh.Scene({pattern.id: mesh}).export(file_type="glb")
    return data
