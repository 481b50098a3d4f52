"""The roof put together, for other programs: one glTF (binary) of all that has a place."""

from __future__ import annotations

from typing import Any

import numpy as np

from yattle.built import Built
from yattle.papers.gltf import Tone, joined, mesh_of, sheet_of, to_glb, tone_of

_UNDER: dict[str, Tone] = {"panels": (170, 174, 178, 255), "structure": (196, 170, 132, 255)}


def built_to_glb(built: Built, answer: dict[str, Any]) -> bytes:
    """Every placed piece in the job's colour, panels grey, decks as wood, each a mesh named as in its ``answer``."""
    paint = sheet_of(tone_of(built.derived.job.metal_used.colour))
    scene = {name: mesh_of(*joined(piece.parts, piece.flats), paint) for name, piece in built.standing.items()}
    for kind, tone in _UNDER.items():
        below = sheet_of(tone)
        scene |= {one["id"]: mesh_of(np.array(one["vertices"]), one["triangles"], below) for one in answer[kind]
                  if one["triangles"]}
    return to_glb(scene)
