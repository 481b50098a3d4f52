"""One open job: its value, every value before it, and what is selected. Knows no window."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path

from yattle.details import ENTRIES, Own
from yattle.details.free import Shape
from yattle.details.schools import Schools
from yattle.errors import FileProblem, InputError, YattleError
from yattle.job.derive import Derived, derive
from yattle.job.model import Job, Run
from yattle.job.roof_runs import all_runs, run_of, with_run
from yattle.job.store import NewerFormat, load, load_to_read, mark_of, save
from yattle.measure import UNITS

_MOST_STEPS = 500


@dataclass(frozen=True)
class Selection:
    """Run → piece → fold; each may be missing. ``opening``: an opening's pieces are meant instead of the run's."""

    run: str | None = None
    piece: int = 0
    fold: str | None = None
    opening: str | None = None


def _first(derived: Derived) -> str | None:
    return next((found.run.id for found in derived.runs if found.made),
                derived.runs[0].run.id if derived.runs else None)


@dataclass(frozen=True)
class _Step:
    title: str
    job: Job


class Session:
    """Edits are functions from job to job; a wrong one raises and changes nothing."""

    def __init__(self, job: Job, path: Path | None = None) -> None:
        self._past: list[_Step] = []
        self._future: list[_Step] = []
        self._listeners: list[Callable[[str], None]] = []
        self.job, self.path, self._saved = job, path, job
        self._mark = mark_of(path)
        self.derived: Derived = derive(job)
        self.selection = Selection(_first(self.derived))

    def listen(self, listener: Callable[[str], None]) -> None:
        """``listener`` is told ``job`` or ``selection`` after each change."""
        self._listeners.append(listener)

    def _tell(self, what: str) -> None:
        for listener in self._listeners:
            listener(what)

    # -- the file ---------------------------------------------------------------------------------

    @property
    def changed(self) -> bool:
        """Whether there is anything that is not saved."""
        return self.job != self._saved

    def recover(self, job: Job, path: Path | None) -> None:
        """Begin with edits that were never saved: the file's own job is what they are compared with."""
        try:
            saved = load(path) if path is not None else None
        except YattleError:  # the file is gone or spoiled: what was recovered is all there is
            saved = None
        self.start(saved or Job(name="new job"), path if saved is not None else None)
        self.edit("recovered edits", lambda _: job)

    def open(self, path: Path) -> None:
        """Read ``path``; on any error this session stays as it was. A newer job is opened to read: it has no file here,
        so that saving asks for another name."""
        try:
            self.start(load(path), path)
        except NewerFormat:
            self.start(load_to_read(path))

    def start(self, job: Job, path: Path | None = None) -> None:
        """Begin anew with ``job``."""
        derived = derive(job)
        self.job, self.path, self._saved, self.derived = job, path, job, derived
        self._mark = mark_of(path)
        self._past, self._future = [], []
        self.selection = Selection(_first(self.derived))
        self._tell("job")

    def save(self, path: Path | None = None) -> None:
        """Write to ``path`` or where it came from; raises :class:`~yattle.errors.FileProblem`, also where somebody else
        has changed the file since: it is not written over."""
        target = path or self.path
        if target is None:
            raise InputError("file", "no name yet", "a name to save under")
        mark = mark_of(target) if target == self.path else ""
        if target == self.path and not mark and target.exists():
            raise FileProblem(f"{target.name}: cannot be read, so nobody can tell whether it has been changed; "
                              "nothing was written over, save under another name")
        if self._mark and mark not in ("", self._mark):
            raise FileProblem(f"{target.name}: changed on the disk since it was opened; nothing was written over, save "
                              "under another name and compare")
        save(self.job, target)
        self.path, self._saved, self._mark = target, self.job, mark_of(target)
        self._tell("saved")

    # -- edits ------------------------------------------------------------------------------------

    def edit(self, title: str, change: Callable[[Job], Job]) -> None:
        """Make the job ``change(job)``; undo gets ``title``. Raises and changes nothing if it is wrong."""
        job = change(self.job)
        derived = derive(job)
        if job == self.job:
            return
        self._past = [*self._past[-_MOST_STEPS:], _Step(title, self.job)]
        self._future = []
        self._show(job, derived)

    def edit_run(self, title: str, run_id: str, **changes: object) -> None:
        """Change fields of one run."""
        self.edit(title, lambda job: with_run(job, run_id, **changes))

    def set_own(self, run_id: str, name: str, value: float | None) -> None:
        """Give one run its own value of a house standard's entry; ``None`` takes the standard's."""
        if value is not None:
            ENTRIES[name].check(value, ENTRIES[name].title, UNITS[self.job.unit])
        run = run_of(self.job, run_id)
        self.edit_run(f"{run_id} {ENTRIES[name].title}", run_id, own=run.own.but(**{name: value}))

    def set_standard(self, name: str, value: float | None) -> None:
        """Change an entry of the standard for the whole job."""
        if value is not None:
            ENTRIES[name].check(value, ENTRIES[name].title, UNITS[self.job.unit])
        self.edit(f"standard {ENTRIES[name].title}", lambda job: job.but(own=job.own.but(**{name: value})))

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
        self.select(run=new_id)
        return new_id

    def add_free(self, shape: Shape | None = None) -> str:
        """A new run of a section of one's own, on no edge of the roof; its id is returned."""
        taken = {run.id for run in all_runs(self.job)}
        new_id = next(f"F{n}" for n in range(1, len(taken) + 2) if f"F{n}" not in taken)
        run = Run(id=new_id, name="own section", kind="free", length=2400.0, left="plain", right="plain",
                  section=shape or Shape(), detail="free")
        self.edit(f"new section {new_id}", lambda job: job.but(runs=(*job.runs, run)))
        self.select(run=new_id)
        return new_id

    def remove_run(self, run_id: str) -> None:
        if run_id not in [run.id for run in self.job.runs]:
            raise InputError("run", run_id, "a run entered by itself; edges of the roof go with their blocks")
        self.edit(f"remove {run_id}", lambda job: job.but(runs=tuple(r for r in job.runs if r.id != run_id)))

    @property
    def undo_title(self) -> str | None:
        return self._past[-1].title if self._past else None

    @property
    def redo_title(self) -> str | None:
        return self._future[-1].title if self._future else None

    def undo(self) -> None:
        self._swap(self._past, self._future)

    def redo(self) -> None:
        self._swap(self._future, self._past)

    def _swap(self, source: list[_Step], target: list[_Step]) -> None:
        if source:
            step = source.pop()
            target.append(replace(step, job=self.job))
            self._show(step.job, derive(step.job))

    def _show(self, job: Job, derived: Derived) -> None:
        self.job, self.derived = job, derived
        ids = [found.run.id for found in derived.runs]
        if self.selection.run not in ids:
            self.selection = Selection(_first(derived))
        if self.selection.opening not in [found.id for found in derived.openings]:
            self.selection = replace(self.selection, opening=None)
        if self.selection.opening:
            count = len(derived.opening(self.selection.opening).pieces)
        else:
            count = len(derived.run(self.selection.run).pieces) if self.selection.run else 0
        self.selection = replace(self.selection, piece=max(0, min(self.selection.piece, count - 1)))
        self._tell("job")

    # -- selection --------------------------------------------------------------------------------

    def select(self, run: str | None = None, piece: int | None = None, fold: str | None = None,
               opening: str | None = None) -> None:
        """Select a run or an opening (its first piece), or a piece, or a fold of what is selected; ``fold`` "" clears
        it."""
        now = self.selection
        if opening is not None and opening != now.opening:
            now = Selection(now.run, opening=opening)
        if run is not None and (run != now.run or now.opening):
            now = Selection(run)
        if piece is not None:
            now = replace(now, piece=piece)
        if fold is not None:
            now = replace(now, fold=fold or None)
        if now != self.selection:
            self.selection = now
            self._tell("selection")
