"""What is said of a run for what lies beside it: too short for a piece, a step, off the wall it was tied to."""

from __future__ import annotations

import math
from dataclasses import replace

from yattle.derive.roof_runs import RoofRun
from yattle.derive.run import NO_DETAIL, DerivedRun
from yattle.details.common import Finding
from yattle.roof import RoofPlan
from yattle.roof.lean_to import just_misses

_MEETS = 5.0  # mm: edges whose ends are that near meet


def left_out(made: DerivedRun, found: RoofRun, edges: tuple[RoofRun, ...]) -> DerivedRun:
    """The run of an edge of the roof; where it is too short for a piece, that is something to look at, not what stops
    the job: those that meet it there cover it."""
    if not made.left_out:
        return made
    ends = (found.edge.a, found.edge.b)
    beside = [other.run.id for other in edges if other is not found and any(
        math.dist(a, b) < _MEETS for a in ends for b in (other.edge.a, other.edge.b))]
    covers = f"covered by {', '.join(beside)}" if beside else "nothing beside it covers it"
    look = Finding("look", f"no piece: {{0}} is too short for one, {covers}",
                   "carry what lies beside it over it, or shape a small piece by hand from the site", "length",
                   (made.run.length,), short=True)
    return replace(made, findings=(look, *(f for f in made.findings if not f.short)))


def step_of(made: DerivedRun, plan: RoofPlan, block: str) -> DerivedRun:
    """The run of a rake that is only the step between two eave lines: no trim, but what would do away with it."""
    own = next((b for b in plan.blocks if b.id == block), None)
    level = getattr(own, "fascia", None) == "own"
    look = Finding("look", "no piece: {0} are only the step between two eave lines, a corner piece closes it",
                   f"level eaves do away with it: set the fascia of {block} to level" if level else
                   "give both sides one eave line: another overhang or eave height on one of them", "length",
                   (made.run.length,), short=True)
    return replace(made, detail=NO_DETAIL, findings=(look, *(f for f in made.findings if f.field == "taped")))


def off_its_wall(made: DerivedRun, plan: RoofPlan, block: str) -> DerivedRun:
    """The run of a shed's high side; where a wall stands near that it does not touch, that is said."""
    missed = just_misses(plan, block)
    if missed is None:
        return made
    way = "into" if missed.off < 0 else "off"
    look = Finding("look", f"{block} stands {{0}} {way} the wall of {missed.block}: its top edge is free, "
                   "not flashed to it",
                   "move it to the wall if it is a lean-to", "x", (abs(missed.off),))
    return replace(made, findings=(*made.findings, look))
