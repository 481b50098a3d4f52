"""What is cut from the coil: every piece of a job with what its place on the roof asks of the cutting plan."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

from yattle.coil import NestJob, NestRules, Part
from yattle.coil.job import Begun
from yattle.derive.roof_runs import base_id, roof_runs
from yattle.derive.run import DerivedRun
from yattle.job.deeds import cut_of, cuts_of
from yattle.job.model import Job
from yattle.pattern import Pattern


def cutting_job(job: Job, runs: tuple[DerivedRun, ...], patterns: tuple[Pattern, ...]) -> NestJob:
    """The cutting job of all pieces, like pieces told apart by their ids. ``patterns``: those of the ``runs`` in their
    order, then all others."""
    metal = job.metal_name
    by_coil = job.rules.match_by == "coil"
    lots = {stock.id if by_coil else stock.lot for stock in job.stock if stock.metal == metal}
    lots |= {done.stock if by_coil else done.lot for done in job.cut if done.stock}
    whole = _cutting_job(patterns, metal, job.stock, _rules(job), _wanted(runs, len(patterns)),
                         _matches(job, runs, len(patterns)) if len(lots) > 1 else ())
    return _without_cut(whole, job) if job.cut else whole


def _without_cut(whole: NestJob, job: Job) -> NestJob:
    """The cutting job without the pieces that are cut already."""
    left = ((part, part.qty - cut_of(job, part)) for part in whole.parts)
    return whole.but(parts=tuple(part if many == part.qty else part.but(qty=many) for part, many in left if many),
                     begun=_begun(whole, job))


def _begun(whole: NestJob, job: Job) -> tuple[Begun, ...]:
    """From which lot or coil the pieces of each face are cut that are cut already: that of the first of them."""
    found: dict[str, Begun] = {}
    for part in whole.parts:
        for done in cuts_of(job, part) if part.match else ():
            if done.stock and part.match not in found:
                found[part.match or ""] = Begun(match=part.match or "", lot=done.lot, stock=done.stock)
    return tuple(found.values())


WANTED = ("eave", "valley", "pitch-break", "headwall", "sidewall", "skew-wall", "rake", "hip", "half-ridge", "ridge")
"""Kinds of edge in the order in which the roof wants their trims: from the eave up."""


def _wanted(runs: tuple[DerivedRun, ...], patterns: int) -> tuple[int, ...]:
    """For each pattern how early it is wanted; counterflashings last, openings with the walls."""
    found = []
    for run in runs:
        kind = run.run.kind
        place = WANTED.index(kind) if kind in WANTED else 0
        late = len(WANTED) if run.family is not None and run.family.name == "counterflashing" else place
        found += [late] * len(run.pieces)
    return (*found, *[WANTED.index("headwall")] * (patterns - len(found)))


def _matches(job: Job, runs: tuple[DerivedRun, ...], patterns: int) -> tuple[str | None, ...]:
    """For each pattern the face of the roof on which its colour is to match, where there are several lots (or coils, if
    it is to come off one)."""
    faces = {found.run.id: found.edge.facets[0] for found in roof_runs(job) if found.edge.facets}
    made: list[str | None] = [faces.get(base_id(run.run.id)) for run in runs for _ in run.pieces]
    return (*made, *[None] * (patterns - len(made)))


def _rules(job: Job) -> NestRules:
    """The shear's rules, with the brake's length and, where money is to be least, the shop's rates."""
    rules = job.rules
    if rules.max_crosscut is None:
        rules = rules.but(max_crosscut=job.brake.max_length)
    if rules.objective == "money":
        rules = rules.but(cut_cost=job.shop.a_cut, offcuts_worth=job.shop.offcuts_worth)
    return rules


@lru_cache(maxsize=16)
def _cutting_job(patterns: tuple[Pattern, ...], metal: str, stock: Any, rules: NestRules, wanted: tuple[int, ...],
              matches: tuple[str | None, ...]) -> NestJob:
    parts = tuple(Part(id=p.id, outline=p.outline, holes=p.holes, qty=p.qty, metal=metal, priority=wanted[n],
                       match=matches[n] if matches else None) for n, p in enumerate(patterns))
    return NestJob(stock=stock, parts=parts, rules=rules)
