"""Whether a job counts in mm or in feet and inches: its house standard, fixings, pitches; how lengths are said."""

from __future__ import annotations

from typing import Literal

from yattle.job.fixing_rules import fixing_rules_for
from yattle.job.model import Job
from yattle.measure import UNITS


def counted_in(job: Job, system: Literal["metric", "inch"]) -> Job:
    """The job with the standards of those who count so, where it has none of its own, said in a unit of theirs. Its
    measured lengths stay what they are, in mm."""
    if system == job.system:
        return job
    inch = system == "inch"
    unit = job.unit if (UNITS[job.unit].parts > 0) == inch else "in16" if inch else "mm"
    return job.but(system=system, unit=unit, fit=fixing_rules_for(system, job.fit))


def said_in(job: Job, unit: str) -> Job:
    """The job with lengths said in a unit. An empty job counts in it from then on; in one that has a roof or runs no
    length changes by how it is said."""
    if not (job.roof.blocks or job.roof.faces or job.runs):
        job = counted_in(job, "inch" if UNITS[unit].parts else "metric")
    return job.but(unit=unit)
