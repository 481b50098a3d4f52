"""``yattle-job/1``: one job as it is kept in a ``*.yattle`` file.

A job is one value; an edit makes a new one. Lengths in mm, angles in degrees, whatever the
user's unit is.
"""

from __future__ import annotations

from collections import Counter
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from yattle.brake import SHOP_BRAKE, Brake
from yattle.coil.job import NestRules, Stock
from yattle.details import ENTRIES, Own
from yattle.details.eave_drip import check_pitch
from yattle.errors import InputError
from yattle.metal import library
from yattle.runs.split import LONGEST_RUN
from yattle.values import Value

FORMAT = "yattle-job/1"


class Run(Value):
    """One straight edge of the roof; ``length`` true length, ``taped`` what the tape said.

    ``at`` and ``bearing`` place its left end in plan (mm, degrees anticlockwise from east), seen
    from outside with the run going to the right.
    """

    id: Annotated[str, Field(min_length=1, max_length=12)]
    name: str = ""
    kind: Literal["eave"] = "eave"
    pitch: float
    length: Annotated[float, Field(gt=0)]
    taped: Annotated[float, Field(gt=0)] | None = None
    left: Literal["wrap", "plain"] = "wrap"
    right: Literal["wrap", "plain"] = "wrap"
    at: tuple[float, float] = (0.0, 0.0)
    bearing: float = 0.0
    own: Own = Own()

    @model_validator(mode="after")
    def _within_reason(self) -> Self:
        check_pitch(self.pitch)
        if self.length > LONGEST_RUN:
            raise InputError("length", f"{self.length:g} mm", f"at most {LONGEST_RUN:g} mm; enter a longer edge "
                             "as several runs")
        _check_own(self.own)
        return self


class Job(Value):
    """A whole job. ``system`` picks the standard's defaults, ``unit`` how lengths are shown."""

    format: Literal["yattle-job/1"] = "yattle-job/1"
    name: str
    place: str = ""
    system: Literal["metric", "inch"] = "metric"
    unit: Literal["mm", "in8", "in16", "in32"] = "mm"
    metal: str = "prepainted-steel"
    thickness: Annotated[float, Field(gt=0)] = 0.6
    colour: str = "slate blue"
    measured: Literal["outside", "inside"] = "outside"
    allowance: Literal["metal", "din6935", "sum"] = "metal"
    weather: Literal["left", "right"] = "left"
    joints: Literal["even", "full"] = "even"
    tape_tolerance: Annotated[float, Field(ge=0)] = 10.0
    own: Own = Own()
    runs: tuple[Run, ...] = ()
    brake: Brake = SHOP_BRAKE
    stock: tuple[Stock, ...] = ()
    rules: NestRules = NestRules()

    @model_validator(mode="after")
    def _known_and_once(self) -> Self:
        metal = library().find(self.metal)
        if self.thickness not in metal.thicknesses:
            usual = ", ".join(f"{t:g}" for t in metal.thicknesses)
            raise InputError("thickness", f"{self.thickness:g} mm", f"one of {usual} mm for {metal.name}")
        twice = [key for key, count in Counter(run.id for run in self.runs).items() if count > 1]
        if twice:
            raise InputError("runs", f"the id {twice[0]!r} twice", "every run's id once")
        _check_own(self.own)
        return self

    def run(self, run_id: str) -> Run:
        """The run of that id; raises :class:`InputError` where there is none."""
        for run in self.runs:
            if run.id == run_id:
                return run
        raise InputError("run", repr(run_id), "one of " + ", ".join(run.id for run in self.runs))

    def with_run(self, run_id: str, run: Run) -> Job:
        """This job with one run changed."""
        return self.but(runs=tuple(run if old.id == run_id else old for old in self.runs))

    @property
    def coil(self) -> Stock | None:
        """The first coil of the job's metal; ``None`` where there is none."""
        return next((s for s in self.stock if s.kind == "coil" and s.metal == self.metal_name), None)

    @property
    def metal_name(self) -> str:
        return f"{library().find(self.metal).name} {self.thickness:.2f}"


def _check_own(own: Own) -> None:
    for name, entry in ENTRIES.items():
        value = getattr(own, name)
        if value is not None:
            entry.check(value, f"own.{name}")
