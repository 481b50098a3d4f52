"""How a face is really laid: its own rule of laying with what its system, its structure and the schools chosen at its
edges ask for."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from contextlib import suppress
from typing import Any

from yattle.derive.family import family_of
from yattle.derive.layers import schools_of
from yattle.derive.raised import built_up, met, past_edge, raised
from yattle.derive.roof_runs import RoofRun, roof_runs
from yattle.details import standard_for
from yattle.details.all_forms import chosen
from yattle.details.chimney import PANELS_ABOVE
from yattle.details.curb import Curb
from yattle.details.pipe import Pipe
from yattle.details.split_pans import SplitAtPipe
from yattle.details.valley import DoubleValley
from yattle.errors import InputError
from yattle.job.model import Job
from yattle.roof import Facet, Roof, build
from yattle.roof.at_edge import sides
from yattle.roof.model import PipeOpening
from yattle.roof.panel_rule import PanelRule
from yattle.roof.panels import PanelPlan, lay

_CLEAR = 5.0  # mm before the fold of a pitch break's trim, where the panels over it end
SLOT = 20.0  # mm that stay open on each side of a vented ridge where no system says more


def lay_faces(job: Job, roof: Roof) -> dict[str, PanelPlan]:
    """Every face laid, by its id."""
    found = roof_runs(job)
    beside: dict[str, list[RoofRun]] = {facet.id: [] for facet in roof.facets}
    for one in found:
        for face in one.edge.facets:
            beside[face].append(one)
    return {facet.id: lay(roof, facet.id, rule_of(job, facet, beside[facet.id])) for facet in roof.facets}


def rule_on(job: Job, facet: Facet) -> PanelRule:
    """The rule a face of the job's roof is laid by."""
    return rule_of(job, facet, [one for one in roof_runs(job) if facet.id in one.edge.facets])


def rule_of(job: Job, facet: Facet, edges: Iterable[RoofRun]) -> PanelRule:
    """The rule a face is laid by; ``edges``: the runs of its edges. What somebody typed for its ends stands."""
    rule, system, structure = job.panel_rule(facet.id), job.panel_system(facet.id), job.structure_of(facet.id)
    changes: dict[str, Any] = {}
    if system is not None:
        changes |= {"lap": system.rules.lap_at(facet.plane.pitch), "longest": system.rules.longest}
    if structure.kind == "supports":
        changes |= {"supports": structure.spacing, "offset": structure.offset}
    for kinds, field in ((("ridge", "half-ridge"), "at_ridge"), (("headwall",), "at_wall")):
        if not getattr(rule, field):
            more = [_by_school(job, one, system.rules.slot if system is not None else 0.0) for one in edges
                    if one.edge.kind in kinds]
            changes[field] = max(more, key=abs, default=0.0)
    breaks = [(sides(build(job.roof), one.edge)[0] == facet.id, _past_break(job, one, facet.id)) for one in edges
              if one.edge.kind == "pitch-break"]
    if not rule.at_break:
        changes["at_break"] = min((past for above, past in breaks if above), default=0.0)
    if not rule.under_break:
        changes["under_break"] = min((past for above, past in breaks if not above and past < 0.0), default=0.0)
    changes |= {"split_at": tuple(_splits(job, facet)), "behind": tuple(_behind(job, facet)),
                "ribs": max((_ribs(job, one) for one in edges if one.edge.kind == "valley"), default=0.0),
                "leans": built_up(job, facet.id).flat * math.tan(math.radians(facet.plane.pitch))}
    changes = {name: value for name, value in changes.items() if getattr(rule, name) != value}
    return rule.but(**changes) if changes else rule


def _past_break(job: Job, found: RoofRun, face: str) -> float:
    """How far the panels of a face go on past a pitch break's line, mm, or below 0 end before it: to the fold of its
    trim, which lies on the upper deck and on the lower panels, and not through its lower leg; a little short of that
    where they end before the line, as the other leg comes toward them there. On the line where it folds little."""
    roof, edge = build(job.roof), found.edge
    flats = {one: built_up(job, one).flat for one in edge.facets}
    by = raised(roof, edge, flats, found.run.over)
    if not by.any():
        return 0.0
    upper, lower = sides(roof, edge)
    at_leg = met(roof, edge, {upper: flats[upper], lower: flats[lower] + found.run.over}) if face == upper else by
    past = min(past_edge(roof, edge, face, place) for place in (by, at_leg))
    return past - (_CLEAR if past < 0.0 else 0.0)


def _ribs(job: Job, valley: RoofRun) -> float:
    """How much further the inner folds of a valley's pan lie from its line than those of one with a single rib, mm."""
    family, standard = family_of(valley.run), standard_for(job.system, job.own, valley.run.own)
    if family is None or family.model is not DoubleValley:
        return 0.0
    rib = 2.0 * standard.valley_rib * math.cos(math.radians(standard.valley_apex / 2))
    return max(standard.valley_channel + rib - standard.valley_rib, 0.0)


def _splits(job: Job, facet: Facet) -> Iterator[tuple[str, float, float]]:
    """The pipes between two pans, if they stand on a face: how far below their middle the upper pan begins and how far
    it laps, mm; pipes whose holes cannot be are told where their pieces are made."""
    standard = standard_for(job.system, job.own)
    for opening in job.roof.openings:
        values = job.opening_note(opening.id).values
        if isinstance(opening, PipeOpening) and values.get("school") == "split":
            gap, lap = chosen(values, "gap", Pipe.model_fields["gap"].default), chosen(values, "pan_lap", math.nan)
            split = SplitAtPipe(opening.diameter / 2 + gap, facet.plane.pitch,
                                chosen(values, "past_hole", standard.past_hole), gap,
                                None if math.isnan(lap) else lap)
            with suppress(InputError):
                yield opening.id, split.over / 2, split.over


def _behind(job: Job, facet: Facet) -> Iterator[tuple[str, float]]:
    """How far behind what stands in a face the panels above it begin, mm up the slope: the gap over its upper flange,
    and what their seams lean toward a plumb chimney. Folded pans go round one, and nothing is kept clear."""
    high = job.panel_rule(facet.id).height
    if job.panel_system(facet.id) is None:  # nobody has said how high they stand
        high = high or standard_for(job.system, job.own).seam_height
    leans = high * math.tan(math.radians(facet.plane.pitch))
    for opening in job.roof.openings:
        values = job.opening_note(opening.id).values
        if opening.kind == "chimney" and values.get("school") != "folded":
            yield opening.id, PANELS_ABOVE + leans
        elif opening.kind in ("curb", "skylight"):
            yield opening.id, chosen(values, "above_gap", Curb.model_fields["above_gap"].default)


def _by_school(job: Job, found: RoofRun, slot: float) -> float:
    """How much longer (turned up) or shorter (a slot left) the school of an edge wants the panels there, mm."""
    schools = schools_of(found.run, job.schools)
    if schools.closures == "folded":
        return found.run.over or standard_for(job.system, job.own, found.run.own).closure_height
    if schools.ridge == "vented" and found.edge.kind == "ridge":
        return -(slot or SLOT)
    return 0.0
