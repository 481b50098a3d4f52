"""House standards as files of their own: kept, shared, taken, and held against each other."""

from __future__ import annotations

import json
from dataclasses import dataclass
from pathlib import Path
from typing import Annotated, Literal

from pydantic import Field

from yattle.details import ENTRIES, Own, standard_for
from yattle.details.schools import SCHOOLS, USUAL, Schools
from yattle.details.standard import System
from yattle.files import put, read_text
from yattle.job.model import Job
from yattle.measure import Unit, say_length
from yattle.values import Value, read


class HouseStandard(Value):
    """``yattle-standard/1``: every entry that differs from the program's own, and the schools chosen."""

    format: Literal["yattle-standard/1"] = "yattle-standard/1"
    name: Annotated[str, Field(min_length=1)] = "house standard"
    system: System = "metric"
    own: Own = Own()
    schools: Schools = Schools()


@dataclass(frozen=True)
class Difference:
    """An entry or school in which two standards differ, in words."""

    title: str
    mine: str
    other: str


def standard_of(job: Job) -> HouseStandard:
    """What a job's details go by."""
    return HouseStandard(name=job.name, system=job.system, own=job.own, schools=job.schools)


def with_standard(job: Job, standard: HouseStandard) -> Job:
    """The job going by another standard; what runs have of their own stays."""
    return job.but(own=standard.own, schools=standard.schools)


def differences(job: Job, other: HouseStandard, unit: Unit) -> tuple[Difference, ...]:
    """Where a job's standard and another one differ, entry by entry in the order of the standard."""
    a, b = standard_for(job.system, job.own), standard_for(other.system, other.own)
    found = []
    for name, entry in ENTRIES.items():
        mine, theirs = getattr(a, name), getattr(b, name)
        if abs(mine - theirs) > 1e-6:
            found.append(Difference(entry.title, *(f"{v:g}°" if entry.angle else say_length(v, unit)
                                                   for v in (mine, theirs))))
    for name, school in SCHOOLS.items():
        mine, theirs = (getattr(s.over(USUAL), name) for s in (job.schools, other.schools))
        if mine != theirs:
            found.append(Difference(school.title, school.choices[mine].title, school.choices[theirs].title))
    return tuple(found)


def standard_text(standard: HouseStandard) -> str:
    """A standard as its file holds it."""
    document = standard.model_dump(mode="json", exclude_none=True)
    return json.dumps(document, indent=1, sort_keys=True) + "\n"


def save_standard(standard: HouseStandard, path: Path) -> None:
    """Write a standard, whole or not at all; raises :class:`~yattle.errors.FileProblem`."""
    put(path, standard_text(standard))


def load_standard(path: Path) -> HouseStandard:
    """Read a standard; raises :class:`FileProblem` or :class:`~yattle.errors.InputError`, and entries out of their
    bounds are refused by name."""
    standard = read(HouseStandard, read_text(path))
    for name, entry in ENTRIES.items():
        value = getattr(standard.own, name)
        if value is not None:
            entry.check(value, f"own.{name}")
    return standard
