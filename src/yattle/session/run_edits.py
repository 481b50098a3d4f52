"""What a session does to runs: their fields, their own values of the house standard, runs that come and go."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable

from yattle.derive.roof_runs import all_runs, run_of, with_run
from yattle.details import ENTRIES, FAMILIES, Own
from yattle.details.free import Shape
from yattle.details.schools import Schools
from yattle.errors import InputError
from yattle.job.model import Job, Run
from yattle.measure import UNITS
from yattle.session.selection import Selection


class RunEdits(ABC):
    """Edits of the runs of a ``job`` that is open, each one step to undo."""

    job: Job
    selection: Selection

    @abstractmethod
    def edit(self, title: str, change: Callable[[Job], Job]) -> None:
        """Make the job ``change(job)``; undo gets ``title``."""

    @abstractmethod
    def select(self, run: str | None = None) -> bool:
        """Select a run."""

    @abstractmethod
    def when_shown(self, deed: Callable[[], object]) -> None:
        """Do ``deed`` once the newest job is shown."""

    def edit_run(self, title: str, run_id: str, **changes: object) -> None:
        """Change fields of one run."""
        self.edit(title, lambda job: with_run(job, run_id, **changes))

    def set_own(self, run_id: str, name: str, value: float | None) -> None:
        """Give one run its own value of a house standard's entry; ``None`` takes the standard's. In the entry's own
        unit, mm or degrees."""
        if value is not None:
            ENTRIES[name].check(value, ENTRIES[name].title, UNITS[self.job.unit])
        run = run_of(self.job, run_id)
        self.edit_run(f"{run_id} {ENTRIES[name].title}", run_id, own=run.own.but(**{name: value}))

    def own_for_all(self, run_id: str) -> None:
        """Make one run's own values and schools the job's standard; the run then has none of its own."""
        run = run_of(self.job, run_id)
        own = {name: value for name in ENTRIES if (value := getattr(run.own, name)) is not None}
        self.edit(f"values of {run_id} for all", lambda job: with_run(
            job.but(own=job.own.but(**own), schools=run.schools.over(job.schools)), run_id, own=Own(),
            schools=Schools()))

    def copy_to_like(self, run_id: str) -> int:
        """Give every run of the same kind this one's detail and own values; how many runs were changed."""
        like = run_of(self.job, run_id)
        others = [run.id for run in all_runs(self.job) if run.kind == like.kind and run.id != run_id]

        def change(job: Job) -> Job:
            for other in others:
                job = with_run(job, other, detail=like.detail, own=like.own, schools=like.schools, section=like.section)
            return job
        self.edit(f"{run_id}'s detail for all {like.kind}s", change)
        return len(others)

    def add_run(self) -> str:
        """A new run after the last one, like the one selected; its id is returned."""
        taken = {run.id for run in all_runs(self.job)}
        new_id = next(f"E{n}" for n in range(1, len(taken) + 2) if f"E{n}" not in taken)
        like = run_of(self.job, self.selection.run) if self.selection.run else Run(id="E", pitch=30.0, length=6000.0)
        if like.kind != "eave":
            like = Run(id="E", pitch=like.pitch, length=6000.0)
        like = like.but(slope=0.0, fold=None)
        low = min((run.at[1] for run in self.job.runs), default=0.0)
        run = like.but(id=new_id, name="new eave", taped=None, at=(0.0, low - 2500.0), bearing=0.0)
        self.edit(f"new run {new_id}", lambda job: job.but(runs=(*job.runs, run)))
        self.when_shown(lambda: self.select(run=new_id))
        return new_id

    def add_free(self, shape: Shape | None = None, detail: str = "free") -> str:
        """A new run on no edge of the roof, of a section of one's own or another ``detail`` for such runs; its id is
        returned."""
        taken = {run.id for run in all_runs(self.job)}
        new_id = next(f"F{n}" for n in range(1, len(taken) + 2) if f"F{n}" not in taken)
        own = shape or Shape() if detail == "free" else None
        run = Run(id=new_id, name=FAMILIES[detail].title, kind="free", length=2400.0, left="plain", right="plain",
                  section=own, detail=detail)
        self.edit(f"new {run.name} {new_id}", lambda job: job.but(runs=(*job.runs, run)))
        self.when_shown(lambda: self.select(run=new_id))
        return new_id

    def remove_run(self, run_id: str) -> None:
        """Take a run out of the job. Raises :class:`InputError` where it was not entered by itself."""
        if run_id not in [run.id for run in self.job.runs]:
            raise InputError("run", run_id, "a run entered by itself; edges of the roof go with their blocks")
        self.edit(f"remove {run_id}", lambda job: job.but(runs=tuple(r for r in job.runs if r.id != run_id)))
