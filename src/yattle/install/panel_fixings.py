"""What the panels themselves take: clips along every seam and the screws in them, by face."""

from __future__ import annotations

import shapely
from shapely import LineString, Polygon
from shapely.affinity import affine_transform
from shapely.geometry.base import BaseGeometry

from yattle.derive.derived import Derived
from yattle.install.schedule import Need, positions
from yattle.job.fixing_rules import FixingRules
from yattle.roof import Roof
from yattle.roof.openings import outline
from yattle.roof.panels import PanelPlan, face_frame, lay

_BESIDE = 0.01  # mm: a seam is looked for so far inside the panel on its left


def seam_lengths(roof: Roof, plan: PanelPlan) -> tuple[float, ...]:
    """How long each stretch of seam is, mm up the slope, from the left; none where an opening takes the panel away."""
    found: list[float] = []
    taken = _taken(roof, plan.facet)
    for panel in plan.panels:
        if not any(abs(panel.right - seam) < _BESIDE for seam in plan.seams):
            continue
        shape = Polygon(panel.outline)
        low, high = shape.bounds[1] - 1, shape.bounds[3] + 1
        at = panel.right - _BESIDE
        cut = LineString([(at, low), (at, high)]).intersection(shape).difference(taken)
        found += [part.length for part in shapely.get_parts(cut) if part.length > 1]
    return tuple(found)


def _taken(roof: Roof, face: str) -> BaseGeometry:
    """What openings take away of a face, in its own coordinates; pipes stand within a panel and take no seam."""
    frame = face_frame(roof.facet(face))
    return shapely.union_all([affine_transform(Polygon(outline(placed.opening)), frame.matrix)
                              for placed in roof.openings if face in placed.facets and placed.opening.kind != "pipe"])


def needs_of_panels(roof: Roof, plan: PanelPlan, rules: FixingRules) -> tuple[Need, ...]:
    """Clips along the seams of one face and their screws, counted seam by seam: the first and the last clip the edge
    distance from the seam's ends, the others evenly between. Lengths in mm."""
    clips = sum(len(positions(length, rules.panel_clip_pitch, min(rules.edge, length / 4)))
                for length in seam_lengths(roof, plan))
    return (Need("panel clips", clips), Need("clip screws", clips * rules.screws_a_clip)) if clips else ()


def panel_needs(derived: Derived) -> dict[str, tuple[Need, ...]]:
    """Of every face of the job that has a seam."""
    roof, job = derived.roof, derived.job
    found = {facet.id: needs_of_panels(roof, lay(roof, facet.id, job.panel_rule(facet.id)), job.fit)
             for facet in roof.facets}
    return {face: needs for face, needs in found.items() if needs}
