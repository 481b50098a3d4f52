"""What the panels themselves take: clips along every seam and the screws in them, by face."""

from __future__ import annotations

import math
from collections.abc import Iterator

import shapely
from shapely import LineString, Polygon
from shapely.affinity import affine_transform
from shapely.geometry.base import BaseGeometry

from yattle.derive.derived import Derived
from yattle.derive.layers import narrow_gaps
from yattle.derive.roof_runs import roof_runs
from yattle.details import Finding
from yattle.install.parting import panels_of
from yattle.install.schedule import Need, positions
from yattle.job.fixing_rules import FixingRules
from yattle.panels import PanelSystem, derive_profile
from yattle.roof import Roof
from yattle.roof.openings import outline
from yattle.roof.panels import PanelPlan, face_frame

CLOSED = ("ridge", "half-ridge", "hip", "headwall", "pitch-break")
"""Kinds of edge where the space under the trim is closed between or over the ribs of the panels that end there."""
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


def needs_of_panels(roof: Roof, plan: PanelPlan, rules: FixingRules,
                    system: PanelSystem | None = None) -> tuple[Need, ...]:
    """What the panels of one face take by their ``system``, ``None``: standing seams held by clips as the house
    standard has it. Clips and strip screws are counted seam by seam, screws of ribs row by row; a screwed eave has a
    row of tape beneath it. Lengths in mm."""
    if system is None:
        return _along_seams(roof, plan, rules, rules.panel_clip_pitch, "panel clips", rules.screws_a_clip)
    fixing, found = system.fixing, list[Need]()
    if fixing.clips:
        found += _along_seams(roof, plan, rules, fixing.clips, "panel clips", fixing.clip_screws)
    if fixing.strip:
        found += _along_seams(roof, plan, rules, fixing.strip, "strip screws", 0)
    if fixing.supports:
        found += _rows(plan, system)
    if fixing.lap_screws and roof.facet(plan.facet).plane.pitch < system.rules.tape_below:
        found += _along_seams(roof, plan, rules, fixing.lap_screws, "lap screws", 0)
        found.append(Need("lap tape", sum(seam_lengths(roof, plan))))
    if system.rules.eave == "screwed":
        found.append(Need("tape", sum(edge.length for edge in roof.edges_of(plan.facet) if edge.kind == "eave")))
    return tuple(need for need in found if need.many)


def _along_seams(roof: Roof, plan: PanelPlan, rules: FixingRules, pitch: float, what: str,
                 screws: int) -> tuple[Need, ...]:
    """So many along every seam: the first and the last the edge distance from its ends, the others evenly between."""
    many = sum(len(positions(length, pitch, min(rules.edge, length / 4))) for length in seam_lengths(roof, plan))
    rows = [Need(what, many), Need("clip screws", many * screws)]
    return tuple(need for need in rows if need.many)


def _rows(plan: PanelPlan, system: PanelSystem) -> tuple[Need, ...]:
    """Screws through ribs: rows at both ends of every panel and at each support between, so many at each rib."""
    read = derive_profile(system)
    screws = 0
    for panel in plan.panels:
        shape = Polygon(panel.outline)
        tall = shape.bounds[3] - shape.bounds[1]
        between = max(0, math.ceil(tall / system.fixing.supports - 1e-9) - 1)
        for n in range(between + 2):
            at = shape.bounds[1] + min(max(tall * n / (between + 1), _BESIDE), tall - _BESIDE)
            row = shape.intersection(LineString([(shape.bounds[0], at), (shape.bounds[2], at)])).length
            each = system.fixing.end_row if n in (0, between + 1) else system.fixing.middle_row
            screws += each * max(1, round(row / read.rib_pitch)) if read.rib_pitch else each
    return (Need("panel screws", screws),)


def panel_needs(derived: Derived) -> dict[str, tuple[Need, ...]]:
    """Of every face of the job that has something to count."""
    roof, job = derived.roof, derived.job
    found = {face: needs_of_panels(roof, laid, job.fit, job.panel_system(face))
             for face, laid in derived.panels.items()}
    return {face: needs for face, needs in found.items() if needs}


def strips(derived: Derived) -> dict[str, int]:
    """Profile strips under caps and wall flashings by system: of each face beside them as many as panels end there,
    inner and outer ones alike."""
    found: dict[str, int] = {}
    for one in roof_runs(derived.job):
        made = derived.run(one.run.id)
        if not made.pieces or one.run.kind not in CLOSED:
            continue
        for face in one.edge.facets:
            rule = derived.job.panel_rule(face)
            if rule.fill == "strips":
                found[rule.system] = found.get(rule.system, 0) + math.ceil(one.edge.length / rule.coverage - 1e-9)
    return found


def panel_findings(derived: Derived) -> Iterator[tuple[str, Finding]]:
    """Faces under their system's least pitch, panels longer than it can be handled in one piece, gaps beside seams that
    no closure fills."""
    for one in roof_runs(derived.job):
        made = derived.run(one.run.id)
        narrow = narrow_gaps(derived.job, one, made.family.name) if made.pieces and made.family is not None else ()
        if narrow:
            widest = max(gap for _, gap in narrow)
            faces = ", ".join(dict.fromkeys(face for face, _ in narrow))
            yield one.run.id, Finding(
                "look", f"{len(narrow)} gap{'s' if len(narrow) > 1 else ''} of up to {{0}} beside a seam, too narrow "
                "for a closure", f"fill them with sealant or foam, or lay {faces} from another start", "start",
                (widest,))
    for facet in derived.roof.facets:
        system = derived.job.panel_system(facet.id)
        if system is None:
            continue
        pitch, least = facet.plane.pitch, system.rules.least_pitch
        if pitch < least - 1e-6:
            yield panels_of(facet.id, 0), Finding(
                "look", f"face {facet.id} is {pitch:.1f}°, {system.name} is laid from {least:.1f}° on",
                "another system, or its maker's word for this pitch", "system")
        laid = derived.panels[facet.id]
        longest = max((panel.length for panel in laid.panels), default=0.0)
        if longest > system.rules.longest:
            yield panels_of(facet.id, 0), Finding(
                "look", f"panels of {facet.id} up to {{0}}, {system.name} is handled up to {{1}} in one piece",
                f"end laps of {system.rules.lap_at(pitch):.0f} mm at a support, or lifting gear", "system",
                (longest, system.rules.longest))
