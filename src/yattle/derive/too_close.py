"""What is said of edges that are too close to another roof, with the height that would do away with it."""

from __future__ import annotations

from collections.abc import Iterable

from yattle.derive.raised import built_up
from yattle.derive.run import DerivedRun
from yattle.details import Finding, standard_for
from yattle.details.run_ends import section_corners
from yattle.job.model import Job
from yattle.roof import Roof
from yattle.roof.tight import Room, Tight, tight_places, would_do

_FREE = ("eave", "rake", "half-ridge")
_SAYS = {"hangs": "its edge is {{0}} over {face}, its trim and the panels there want {{1}}",
         "ridge": "it comes in {{0}} below the ridge of {face}, caps and valleys want {{1}}, or one height",
         "eave": "its ridge comes in {{0}} over the edge of {face}'s eave, in its overhang; valleys want {{1}}, or it "
                 "lies wholly under it",
         "gable": "its gable comes out over {face} with sides of {{0}}, trims and valleys want {{1}}"}
_ADVICE = "another height, pitch or overhang of one of them"


def too_close(job: Job, roof: Roof, runs: Iterable[DerivedRun]) -> dict[str, Finding]:
    """What is too close to another roof, by the edges' ids."""
    hangs = dict.fromkeys(_FREE, 0.0)
    for run in runs:
        if run.run.kind in _FREE and not run.run.layer and run.detail.profile is not None:
            hangs[run.run.kind] = max(hangs[run.run.kind], _below(run))
    stands = tuple((facet.id, built_up(job, facet.id).seams) for facet in roof.facets)
    wing = standard_for(job.system, job.own).ridge_wing
    asked = ("too close", tuple(hangs.items()), stands, wing)
    if asked not in roof.remembered:
        room = Room(hangs, dict(stands), wing)
        roof.remembered[asked] = {one.edge.id: _said(job, one, room) for one in tight_places(roof, room)}
    found: dict[str, Finding] = roof.remembered[asked]
    return found


def _below(run: DerivedRun) -> float:
    """How far a trim comes down under its edge, mm."""
    assert run.detail.profile is not None
    return max(-float(section_corners(run.detail.profile, run.detail.heading, 1)[:, 1].min()), 0.0)


def _said(job: Job, tight: Tight, room: Room) -> Finding:
    does = would_do(job.roof, tight, room)
    advice = f"set the eave height of {does[0]} to {{2}}" if does is not None else _ADVICE
    return Finding("look", _SAYS[tight.how].format(face=tight.face.id), advice, "length",
                   (tight.have, tight.need, does[1] if does is not None else 0.0))
