"""What the panels themselves take: clips along every seam and the screws in them, by face."""

from __future__ import annotations

import math

import shapely
from shapely import LineString, Polygon
from shapely.affinity import affine_transform
from shapely.geometry.base import BaseGeometry

from yattle import overlay
from yattle.derive.derived import Derived
from yattle.derive.roof_runs import roof_runs
from yattle.install.schedule import Need, positions
from yattle.job.fixing_rules import FixingRules
from yattle.panels import PanelSystem, derive_profile
from yattle.roof import Roof
from yattle.roof.openings import outline
from yattle.roof.panels import PanelPlan, face_frame
from yattle.roof.structure import Structure

CLOSED = ("ridge", "half-ridge", "hip", "headwall", "pitch-break")
"""Kinds of edge where the space under the trim is closed between or over the ribs of the panels that end there."""
_BESIDE = 0.01  # mm: a seam is looked for so far inside the panel on its left
END = 150.0  # mm: a support nearer to a panel's end has that end's row
DECK = Structure()


def seam_lengths(roof: Roof, plan: PanelPlan) -> tuple[float, ...]:
    """How long each stretch of seam is, mm up the slope, from the left; none where an opening takes the panel away."""
    found: list[float] = []
    taken = _taken(roof, plan.facet)
    beside: dict[float, list[Polygon]] = {}
    for panel in plan.panels:
        if any(abs(panel.right - seam) < _BESIDE for seam in plan.seams):
            beside.setdefault(panel.right, []).append(Polygon(panel.outline))
    for right, shapes in beside.items():  # a panel that is split has one seam all the same
        shape = overlay.union_all(shapes)
        low, high = shape.bounds[1] - 1, shape.bounds[3] + 1
        at = right - _BESIDE
        cut = LineString([(at, low), (at, high)]).intersection(shape).difference(taken)
        found += [part.length for part in shapely.get_parts(cut) if part.length > 1]
    return tuple(found)


def _taken(roof: Roof, face: str) -> BaseGeometry:
    """What openings take away of a face, in its own coordinates; pipes stand within a panel and take no seam."""
    frame = face_frame(roof.facet(face))
    return overlay.union_all([affine_transform(Polygon(outline(placed.opening)), frame.matrix)
                              for placed in roof.openings if face in placed.facets and placed.opening.kind != "pipe"])


def needs_of_panels(roof: Roof, plan: PanelPlan, rules: FixingRules,
                    system: PanelSystem | None = None, structure: Structure = DECK) -> tuple[Need, ...]:
    """What the panels of one face take by their ``system``, ``None``: standing seams held by clips as the house
    standard has it. Clips and strip screws are counted seam by seam, screws of ribs row by row; a screwed eave has a
    row of tape beneath it. ``structure``: what the panels lie on. Lengths in mm."""
    if system is None:
        return _along_seams(roof, plan, rules, rules.panel_clip_pitch, "panel clips", rules.screws_a_clip)
    fixing, found = system.fixing, list[Need]()
    if fixing.clips:
        found += _along_seams(roof, plan, rules, fixing.clips, "panel clips", fixing.clip_screws)
    if fixing.strip:
        found += _along_seams(roof, plan, rules, fixing.strip, "strip screws", 0)
    if fixing.supports:
        found += _rows(plan, system, structure)
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


def _rows(plan: PanelPlan, system: PanelSystem, structure: Structure) -> tuple[Need, ...]:
    """Screws through ribs: a row at the foot and one at the head of every panel, where an end lap is the two in one,
    and rows between, on the face's supports or, on a deck, as far apart as the system asks; so many at each rib."""
    read = derive_profile(system)
    screws, laps = 0, 0.0
    heads = {round(max(t for _, t in panel.outline)) for panel in plan.panels if panel.is_lapped}
    for panel in plan.panels:
        shape = Polygon(panel.outline)
        low, high = shape.bounds[1], shape.bounds[3]
        free = low + plan.rule.lap if round(low) in heads else low  # the lap has one row
        rows = [(at, system.fixing.middle_row) for at in between(free, high, system, structure)]
        rows.append((low, system.fixing.end_row))
        if panel.is_lapped:
            laps += panel.width  # its head is screwed with the foot of the one above
        else:
            rows.append((high, system.fixing.end_row))
        screws += sum(each * _ribs_at(shape, min(max(at, low + _BESIDE), high - _BESIDE), read.rib_pitch)
                      for at, each in rows)
    plates = sum(panel.is_lapped for panel in plan.panels) if system.fixing.plates else 0
    beads = [Need("tape", 2 * laps, 2)] if laps else []
    return tuple(need for need in (Need("panel screws", screws), Need("backer plates", plates), *beads) if need.many)


def between(low: float, high: float, system: PanelSystem, structure: Structure) -> list[float]:
    """How far up the face the rows of a panel between its foot and its head are, mm."""
    if structure.kind == "supports":
        return [at for at in structure.supports(high) if low + END < at < high - END]
    many = max(0, math.ceil((high - low) / system.fixing.supports - 1e-9) - 1)
    return [low + (high - low) * n / (many + 1) for n in range(1, many + 1)]


def _ribs_at(shape: Polygon, at: float, pitch: float) -> int:
    """How many ribs a panel has at a height."""
    row = shape.intersection(LineString([(shape.bounds[0], at), (shape.bounds[2], at)])).length
    return max(1, round(row / pitch)) if pitch else 1


def panel_needs(derived: Derived) -> dict[str, tuple[Need, ...]]:
    """Of every face of the job that has something to count."""
    roof, job = derived.roof, derived.job
    found = {face: needs_of_panels(roof, laid, job.fit, job.panel_system(face), job.structure_of(face))
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
