"""Panels at their places: each as it is cut, its flat and its seams."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np

from yattle.built.frames import built_up, face_axes
from yattle.derive.derived import Derived
from yattle.derive.face_pans import PANS
from yattle.derive.pans import floors_on
from yattle.details import standard_for
from yattle.details.face_pans import FacePans
from yattle.pattern.surface import Array
from yattle.pattern.triangles import triangles_of
from yattle.roof.panel_edges import FOOT, HEAD, LEFT, RIGHT, sides_of


@dataclass(frozen=True)
class LaidPanel:
    """A panel in the roof's coordinates, mm: ``ring`` its flat (n, 3), ``triangles`` of it, ``seams`` standing at its
    sides, each (4, 3); ``part``: of one that is lapped or split."""

    id: str
    face: str
    part: Literal["upper", "lower", "whole"]
    ring: Array
    triangles: list[list[int]]
    seams: tuple[Array, ...]


def laid_panels(derived: Derived, faces: frozenset[str] | None = None) -> Iterator[LaidPanel]:
    """The panels of all faces, or of some, whoever makes them; in mm."""
    job = derived.job
    for facet in derived.roof.facets:
        if faces is not None and facet.id not in faces:
            continue
        laid = derived.panels[facet.id]
        frame, high, parts = face_axes(derived, facet), built_up(derived, facet.id), sides_of(derived.roof, laid)
        floors = floors_on(derived.roof, laid, job.panel_system(facet.id), standard_for(job.system, job.own))
        rise = frame.turn[:, 2] * (high.seams - high.flat)
        for panel in laid.panels:
            edges = floors.get(panel.n)
            if edges is None:
                continue
            flat = [a for a, *_ in edges]
            ring = np.array([frame.at + frame.turn[:, :2] @ np.array(place) for place in flat])
            standing = [(ring[n], ring[(n + 1) % len(ring)]) for n, (*_, side) in enumerate(edges)
                        if side in (LEFT, RIGHT) and high.seams > high.flat]
            part: Literal["upper", "lower", "whole"] = (
                "upper" if FOOT in parts[panel.n] else "lower" if HEAD in parts[panel.n] else "whole")
            yield LaidPanel(f"{facet.id}/{panel.n}", facet.id, part, ring,
                            [list(triangle) for triangle in triangles_of(flat)],
                            tuple(np.array([a, b, b + rise, a + rise]) for a, b in standing))


def faces_of_pans(derived: Derived) -> set[str]:
    """The faces whose panels are pieces with places of their own."""
    return {one.id.removeprefix(f"{PANS} ") for one in derived.openings
            if isinstance(one.form, FacePans) and one.result is not None}
