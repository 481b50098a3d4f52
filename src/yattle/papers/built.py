"""The roof put together, for other programs: one glTF (binary) of all that has a place, in metres with y up."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

import numpy as np
import shapely

from yattle.built import Built
from yattle.built.standing import Standing
from yattle.pattern.surface import Array

_UNDER = {"panels": (170, 174, 178, 255), "structure": (196, 170, 132, 255)}


def built_to_glb(built: Built, answer: dict[str, Any]) -> bytes:
    """Every placed piece in the job's colour, panels grey, decks as wood, each a mesh named as in its ``answer``."""
    import trimesh

    colour = built.derived.job.metal_used.colour
    paint = _material((*(int(colour[k : k + 2], 16) for k in (1, 3, 5)), 255))
    scene = {name: _mesh(*_triangles(piece), paint) for name, piece in built.standing.items()}
    for kind, tone in _UNDER.items():
        below = _material(tone)
        scene |= {one["id"]: _mesh(np.array(one["vertices"]), one["triangles"], below) for one in answer[kind]
                  if one["triangles"]}
    data: bytes = trimesh.Scene(scene).export(file_type="glb")
    return data


def _triangles(piece: Standing) -> tuple[Array, list[list[int]]]:
    """All corners of a piece and the triangles of its parts."""
    found, start = list[list[int]](), 0
    for flat in piece.flats:
        found += [[start + n for n in triangle] for triangle in _cut(tuple(map(tuple, flat.round(6).tolist())))]
        start += len(flat)
    return np.vstack(piece.parts), found


@lru_cache(maxsize=4096)
def _cut(flat: tuple[tuple[float, float], ...]) -> tuple[tuple[int, ...], ...]:
    """A flat part cut into triangles, by its corners' numbers; equal pieces share them."""
    index = {place: n for n, place in enumerate(flat)}
    return tuple(tuple(index[x, y] for x, y in triangle.exterior.coords[:3])
                 for triangle in shapely.get_parts(shapely.constrained_delaunay_triangles(shapely.Polygon(flat))))


def _material(tone: tuple[int, ...]) -> Any:
    import trimesh

    return trimesh.visual.material.PBRMaterial(baseColorFactor=tone, metallicFactor=0.4, roughnessFactor=0.6,
                                               doubleSided=True)


def _mesh(vertices: Array, triangles: list[list[int]], material: Any) -> Any:
    import trimesh

    return trimesh.Trimesh(vertices[:, [0, 2, 1]] * np.array([1, 1, -1]) / 1000, triangles, process=False,
                           visual=trimesh.visual.TextureVisuals(material=material))
