"""The roof put together, for other programs: one glTF (binary) of all that has a place, in metres with y up."""

from __future__ import annotations

from typing import Any

import numpy as np
import shapely

from yattle.built.placed import places_of
from yattle.built.standing import Standing, stand_all
from yattle.derive import Derived
from yattle.pattern.surface import Array

_UNDER = {"panels": (170, 174, 178, 255), "structure": (196, 170, 132, 255)}


def built_to_glb(derived: Derived, answer: dict[str, Any]) -> bytes:
    """Every placed piece in the job's colour, panels grey, decks as wood, each a mesh named as in the ``answer`` of
    :func:`yattle.built.built_answer`."""
    import trimesh

    colour = derived.job.metal_used.colour
    paint = (*(int(colour[k : k + 2], 16) for k in (1, 3, 5)), 255)
    scene = {name: _mesh(*_triangles(piece), paint) for name, piece in
             stand_all(derived.patterns, places_of(derived)[0]).items()}
    for kind, tone in _UNDER.items():
        scene |= {one["id"]: _mesh(np.array(one["vertices"]), one["triangles"], tone) for one in answer[kind]
                  if one["triangles"]}
    data: bytes = trimesh.Scene(scene).export(file_type="glb")
    return data


def _triangles(piece: Standing) -> tuple[Array, list[list[int]]]:
    """All corners of a piece and the triangles of its parts."""
    points, found, start = [], list[list[int]](), 0
    for part, flat in zip(piece.parts, piece.flats, strict=True):
        index = {(round(x, 6), round(y, 6)): n for n, (x, y) in enumerate(flat.tolist())}
        for triangle in shapely.get_parts(shapely.constrained_delaunay_triangles(shapely.Polygon(flat))):
            found.append([start + index[round(x, 6), round(y, 6)] for x, y in triangle.exterior.coords[:3]])
        points.append(part)
        start += len(part)
    return np.vstack(points), found


def _mesh(vertices: Array, triangles: list[list[int]], tone: tuple[int, ...]) -> Any:
    import trimesh

    material = trimesh.visual.material.PBRMaterial(baseColorFactor=tone, metallicFactor=0.4, roughnessFactor=0.6,
                                                   doubleSided=True)
    return trimesh.Trimesh(vertices[:, [0, 2, 1]] * np.array([1, 1, -1]) / 1000, triangles, process=False,
                           visual=trimesh.visual.TextureVisuals(material=material))
