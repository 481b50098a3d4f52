"""What is said of edges that are too close to another roof, with the height that would do away with it."""

from __future__ import annotations

import math
from collections.abc import Iterable

from yattle.derive.derived import Derived
from yattle.derive.raised import built_up
from yattle.derive.run import DerivedRun
from yattle.details import Finding, standard_for
from yattle.details.run_ends import section_corners
from yattle.job.model import Job
from yattle.roof import Edge, Roof, RoofPlan
from yattle.roof.tight import Room, Tight, tight_places, would_do

_FREE = ("eave", "rake", "half-ridge")
_SAYS = {"hangs": "its edge is {{0}} over {face}, its trim and the panels there want {{1}}",
         "ridge": "it comes in {{0}} below the ridge of {face}, caps and valleys want {{1}}, or one height",
         "eave": "its ridge comes in {{0}} over the edge of {face}'s eave, in its overhang; valleys want {{1}}, or it "
                 "lies wholly under it",
         "through": "its edge goes through {face}, as far as {{0}} below it: two overhangs want one height there",
         "wall": "its wall is {{0}} high under {face}, its flashing wants {{1}}",
         "gable": "its gable comes out over {face} with sides of {{0}}, trims and valleys want {{1}}"}
_DRESSED = 5.0  # mm over a ridge that are worth a word
_AT_IT = 2.0  # mm: a head that near below a ridge is at it
_LEAST_SINE = 0.2  # of the angle between a valley and the fall
_ADVICE = "another height, pitch or overhang of one of them"


def too_close(job: Job, roof: Roof, runs: Iterable[DerivedRun]) -> dict[str, Finding]:
    """What is too close to another roof, by the edges' ids."""
    return {tight.edge.id: _said(tight, does) for tight, does in _found(job, roof, runs)}


def over_ridges(roof: Roof, runs: Iterable[tuple[Edge, DerivedRun]]) -> dict[str, Finding]:
    """Valleys whose flanges come out over a ridge that runs close above their head, by the edges' ids: they are dressed
    down over it on the roof."""
    found = ((edge.id, above) for edge, run in runs if edge.kind == "valley" and run.detail.profile is not None
             for above in [_ridge_above(roof, edge, _wing(run))] if above)
    return {name: Finding("look", "its flanges come out over the ridge {0} above its head",
                          "dress them down over it with the tongs, under its cap", "length", (above,))
            for name, above in found}


def _wing(run: DerivedRun) -> float:
    """How wide a valley's flange lies on its face, mm."""
    legs = run.detail.profile.legs if run.detail.profile is not None else ()
    return max((mm for mm, field in zip(legs, run.detail.leg_fields, strict=False) if field == "wing"), default=0.0)


def _ridge_above(roof: Roof, edge: Edge, wide: float) -> float:
    """How high over a valley's head a ridge of its faces runs that a flange so wide, cut there along the fall, reaches
    over, mm; 0 where none does."""
    head, found = max(edge.a, edge.b, key=lambda end: end[2]), list[float]()
    for plane, face in ((roof.facet(name).plane, name) for name in edge.facets):
        x, y = plane.fall or (0.0, 0.0)
        aside = abs((edge.b[0] - edge.a[0]) * y - (edge.b[1] - edge.a[1]) * x) / edge.length
        reach = wide / max(aside, _LEAST_SINE) * math.sin(math.radians(plane.pitch))
        found += [up for one in roof.edges_of(face) if one.kind == "ridge" and _AT_IT < (
            up := one.a[2] - head[2]) < reach - _DRESSED]
    return min(found, default=0.0)


def as_advised(derived: Derived) -> RoofPlan | None:
    """The plan of a roof that is too close to itself, with the first eave height that would do, mm; its own plan where
    none would; ``None`` where it is not too close."""
    found = _found(derived.job, derived.roof, derived.runs)
    name, high = next((does for _, does in found if does is not None), ("", 0.0))
    return derived.job.roof.but(blocks=tuple(block.but(eave_height=high) if block.id == name else block
                                             for block in derived.job.roof.blocks)) if found else None


def _found(job: Job, roof: Roof, runs: Iterable[DerivedRun]) -> list[tuple[Tight, tuple[str, float] | None]]:
    """What is too close, and the block and its eave height, mm, that would do away with it: the same for all of a kind
    between two blocks."""
    hangs, rises = dict.fromkeys(_FREE, 0.0), 0.0
    for run in runs:
        if run.run.kind == "headwall" and not run.run.layer and run.detail.profile is not None:
            rises = max(rises, float(section_corners(run.detail.profile, run.detail.heading, 1)[:, 1].max()))
        if run.run.kind in _FREE and not run.run.layer and run.detail.profile is not None:
            hangs[run.run.kind] = max(hangs[run.run.kind], _below(run))
    stands = tuple((facet.id, built_up(job, facet.id).seams) for facet in roof.facets)
    wing = standard_for(job.system, job.own).ridge_wing
    asked = "too close", tuple(hangs.items()), stands, wing, rises
    return roof.once(asked, lambda: _with_what_does(job, roof, Room(hangs, dict(stands), wing, rises)))


def _with_what_does(job: Job, roof: Roof, room: Room) -> list[tuple[Tight, tuple[str, float] | None]]:
    tight, does = list(tight_places(roof, room)), dict[tuple[str, str, str], tuple[str, float] | None]()
    for one in tight:
        if _sort(roof, one) not in does:
            does[_sort(roof, one)] = would_do(job.roof, one, room)
    return [(one, does[_sort(roof, one)]) for one in tight]


def _sort(roof: Roof, tight: Tight) -> tuple[str, str, str]:
    """How which two blocks are too close."""
    return tight.how, roof.facet(tight.edge.facets[0]).block, tight.face.block


def _below(run: DerivedRun) -> float:
    """How far a trim comes down under its edge, mm."""
    assert run.detail.profile is not None
    return max(-float(section_corners(run.detail.profile, run.detail.heading, 1)[:, 1].min()), 0.0)


def _said(tight: Tight, does: tuple[str, float] | None) -> Finding:
    name, high = does or ("", 0.0)
    return Finding("look", _SAYS[tight.how].format(face=tight.face.id),
                   f"set the eave height of {name} to {{2}}" if name else _ADVICE, "length",
                   (tight.have, tight.need, high))
