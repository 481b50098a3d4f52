"""Whether a run's trim lies on the roof: its legs held against the faces and walls they were made for.

Worked out from the roof's own planes, apart from the angles that the detail took from the run.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from yattle.derive.corners import run_frame
from yattle.derive.roof_runs import RoofRun
from yattle.derive.run import DerivedRun
from yattle.details.common import Roles
from yattle.details.run_ends import section_corners
from yattle.pattern.proof import GAP
from yattle.roof import Roof
from yattle.roof.at_edge import sides
from yattle.roof.edges import WALLS


@dataclass(frozen=True)
class OnRoof:
    """The largest distance in mm between a leg and the plane that it should lie along, and which leg that is."""

    max_gap: float
    leg: str

    @property
    def holds(self) -> bool:
        """Whether it lies along its plane, to 0.05 mm."""
        return self.max_gap <= GAP


def on_roof(roof: Roof, found: RoofRun, run: DerivedRun) -> OnRoof | None:
    """How far a run's trim is off the roof; ``None`` where nothing of it should lie on a plane, or nobody can tell: a
    section of one's own."""
    detail, edge = run.detail, found.edge
    if detail.profile is None or run.family is None or run.family.name == "free":
        return None
    frame = _frame(roof, found)
    planes = {face: frame @ np.array(roof.facet(face).plane.normal) for face in edge.facets}
    corners = section_corners(detail.profile, detail.heading, 1)
    shift = 1 if detail.profile.hem_a else 0
    worst, where = 0.0, ""
    for leg, normal in _lying(roof, found, detail.roles, planes, len(detail.profile.legs)):
        step = corners[leg + shift + 1] - corners[leg + shift]
        gap = abs(float(step @ normal[1:]))
        if gap >= worst:
            worst, where = gap, detail.leg_names[leg + shift]
    return OnRoof(worst, where) if where else None


def _frame(roof: Roof, found: RoofRun) -> np.ndarray:
    """Rows: along the run, out, up, as the section's own frame."""
    return run_frame(roof, found.edge)[2]


def _lying(roof: Roof, found: RoofRun, roles: Roles, planes: dict[str, np.ndarray],
           legs: int) -> list[tuple[int, np.ndarray]]:
    """Which legs should lie along which planes, by their normals in the run's frame."""
    lying = [(leg, planes[face]) for leg, face in legs_on(roof, found, roles, legs)]
    if found.edge.kind in WALLS and roles.wall is not None and lying:
        return [(roles.wall, np.array([0.0, 1.0, 0.0])), *lying]
    return lying


def legs_on(roof: Roof, found: RoofRun, roles: Roles, legs: int) -> list[tuple[int, str]]:
    """Which legs of a section of so many (hems left out, counted from 0 at edge A) lie on which faces of the roof."""
    edge = found.edge
    if len(edge.facets) == 2:
        on = (0, 1) if edge.kind == "pitch-break" and legs == 2 else roles.water or roles.wings
        return list(zip(on, sides(roof, edge), strict=True)) if len(on) == 2 else []
    if edge.kind in WALLS and roles.wall is not None:  # what only stands on the wall lies on no face
        return [(leg, edge.facets[0]) for leg in roles.water[:1]]
    return [(0, edge.facets[0])] if roles.face is not None and legs > 1 else []
