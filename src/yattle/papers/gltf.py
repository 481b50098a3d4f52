"""Meshes as glTF (binary), in metres with y up, as viewers expect; a folded piece as one."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import lru_cache
from typing import Any

import numpy as np

from yattle.pattern import Pattern
from yattle.pattern.folded import Array, Ring, tree_of
from yattle.pattern.pattern import PatternFold
from yattle.pattern.triangles import triangles_of

Tone = tuple[int, int, int, int]


def tone_of(colour: str) -> Tone:
    """A colour #rrggbb as red, green, blue and opaque, from 0 to 255."""
    red, green, blue = (int(colour[k : k + 2], 16) for k in (1, 3, 5))
    return red, green, blue, 255


def sheet_of(tone: Tone) -> Any:
    """Painted sheet, seen from both sides."""
    import trimesh

    return trimesh.visual.material.PBRMaterial(baseColorFactor=tone, metallicFactor=0.4, roughnessFactor=0.6,
                                               doubleSided=True)


def mesh_of(corners: Array, triangles: Sequence[Sequence[int]], material: Any) -> Any:
    """A mesh of corners (n, 3) in mm, z up."""
    import trimesh

    return trimesh.Trimesh(corners[:, [0, 2, 1]] * np.array([1, 1, -1]) / 1000, triangles, process=False,
                           visual=trimesh.visual.TextureVisuals(material=material))


def to_glb(scene: Mapping[str, Any]) -> bytes:
    """Meshes by their names as one file."""
    import trimesh

    data: bytes = trimesh.Scene(dict(scene)).export(file_type="glb")
    return data


def joined(parts: Sequence[Array], flats: Sequence[Array]) -> tuple[Array, list[list[int]]]:
    """Flat parts, each with its corners in space (n, 3) and on its sheet (n, 2), as corners and triangles of one mesh.
    Lengths in mm."""
    found, start = list[list[int]](), 0
    for flat in flats:
        found += [[start + n for n in triangle] for triangle in triangles_of(flat)]
        start += len(flat)
    return np.vstack(parts), found


def piece_to_glb(pattern: Pattern, colour: str = "#4a6b80") -> bytes:
    """The piece folded up, each facet a flat face seen from both sides."""
    return to_glb({pattern.id: mesh_of(*_folded(pattern.outline, pattern.holes, pattern.folds),
                                       sheet_of(tone_of(colour)))})


@lru_cache(maxsize=64)
def _folded(outline: Ring, holes: tuple[Ring, ...], folds: tuple[PatternFold, ...]) -> tuple[Array, list[list[int]]]:
    """Corners (n, 3) in mm and triangles of what is folded up; equal pieces share them."""
    facets = tree_of(outline, holes, folds).folded(1.0)
    return joined([facet.space for facet in facets], [facet.flat for facet in facets])
