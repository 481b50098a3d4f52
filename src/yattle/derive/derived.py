"""A job worked out, as values: its runs, its roof, the pieces of its openings, what is wrong with them."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from functools import cached_property

from yattle.brake import FoldJob, FoldOrder, Refusal, plain_order
from yattle.coil import NestAnswer, NestJob, first_answer, nest
from yattle.derive.cutting import cutting_job
from yattle.derive.laying import lay_faces
from yattle.derive.openings import DerivedOpening
from yattle.derive.roof_runs import RoofRun, roof_runs
from yattle.derive.run import DerivedRun
from yattle.details import DetailPiece, Finding
from yattle.job.model import Job
from yattle.once import Remembers
from yattle.pattern import Pattern
from yattle.roof import Roof
from yattle.roof.panels import PanelPlan

Told = tuple[str, Finding]


@dataclass(frozen=True, eq=False)
class Derived(Remembers):
    """A job worked out: its runs, its roof joined, the pieces of its openings and corners; ``plan`` is the best cutting
    plan that a search has found, where one has. ``nest`` and ``misfits`` are asked for when they are needed, since they
    take longest."""

    job: Job
    runs: tuple[DerivedRun, ...]
    roof: Roof
    openings: tuple[DerivedOpening, ...]
    plan: NestAnswer | None = None

    def run(self, run_id: str) -> DerivedRun:
        """The derived run of that id (it must exist)."""
        return self._by_id[run_id]

    @cached_property
    def _by_id(self) -> dict[str, DerivedRun]:
        return {derived.run.id: derived for derived in self.runs}

    @cached_property
    def pieces(self) -> tuple[DetailPiece, ...]:
        return tuple(piece for run in self.runs for piece in run.pieces)

    def opening(self, opening_id: str) -> DerivedOpening:
        """The derived opening of that id (it must exist)."""
        return next(found for found in self.openings if found.id == opening_id)

    @cached_property
    def patterns(self) -> tuple[Pattern, ...]:
        """Every flat pattern of the job: the runs', then the openings'."""
        return (*(piece.pattern for piece in self.pieces),
                *(piece.pattern for opening in self.openings for piece in opening.pieces if not piece.paper))

    @cached_property
    def own_runs(self) -> tuple[DerivedRun, ...]:
        """The runs without the layers that come with them."""
        return tuple(run for run in self.runs if not run.run.layer)

    @cached_property
    def piece_count(self) -> int:
        """How many pieces there are, like ones each counted."""
        return sum(pattern.qty for pattern in self.patterns)

    @cached_property
    def findings(self) -> tuple[tuple[str, Finding], ...]:
        """(run id, finding), what cannot be made first; pieces are not folded up for it (see :attr:`misfits`)."""
        found = [(run.run.id, finding) for run in self.runs for finding in run.findings]
        found += [(opening.id, finding) for opening in self.openings for finding in opening.findings]
        return worst_first(found)

    @cached_property
    def unsaid(self) -> frozenset[str]:
        """The faces of whose panels nobody has said how high the seams stand."""
        return frozenset(facet.id for facet in self.roof.facets if not self.job.panel_rule(facet.id).height)

    @cached_property
    def edge_runs(self) -> dict[str, RoofRun]:
        """The roof's edges as runs, each by its run's id."""
        return {found.run.id: found for found in roof_runs(self.job)}

    @cached_property
    def _by_edge(self) -> dict[str, RoofRun]:
        return {found.edge.id: found for found in self.edge_runs.values()}

    def run_of_edge(self, edge: str) -> RoofRun:
        """The run that an edge of the roof is."""
        return self._by_edge[edge]

    @cached_property
    def panels(self) -> dict[str, PanelPlan]:
        """How each face of the roof is laid, by its id: worked out once for papers, order and advice."""
        return lay_faces(self.job, self.roof)

    @cached_property
    def misfits(self) -> tuple[tuple[str, Finding], ...]:
        """Every piece folded up again: those that are off their section by more than 0.05 mm."""
        return tuple(misfits_of(self))

    @cached_property
    def nest(self) -> NestAnswer:
        """The best plan known for cutting the pieces, else the first one."""
        return self.plan or first_answer(self.nest_job)

    @cached_property
    def nest_job(self) -> NestJob:
        """The cutting job of all pieces, like pieces told apart by their ids."""
        return cutting_job(self.job, self.runs, self.patterns)

    def searched(self, work: int | None) -> Derived:
        """The same with the better plan that a search has found: of so many counted steps of ``work``, the same each
        time; ``None``: of the job's own seconds and work."""
        job = self.nest_job
        return self.with_plan(nest(job if work is None else job.but(rules=job.rules.but(seconds=None, work=work))))

    def with_plan(self, plan: NestAnswer | None) -> Derived:
        """The same with a better cutting plan."""
        return self if plan is self.plan else replace(self, plan=plan)

    def fold_job(self, run_id: str) -> FoldJob | None:
        """What is to be folded for a run: its section over its longest piece; ``None`` where nothing can be made."""
        detail = self.run(run_id).detail
        if detail.profile is None or not detail.pieces:
            return None
        return FoldJob(profile=detail.profile, length=max(p.pattern.length for p in detail.pieces),
                       brake=self.job.brake)

    def order(self, run_id: str) -> FoldOrder | Refusal | None:
        """The fold order of a run's section with the least handling, or why there is none (without suggestions)."""
        job = self.fold_job(run_id)
        return plain_order(job) if job is not None else None


def worst_first(found: Iterable[Told]) -> tuple[Told, ...]:
    """What cannot be made before what is only to be looked at."""
    return tuple(sorted(found, key=lambda item: item[1].level != "stop"))


def misfits_of(derived: Derived) -> Iterator[Told]:
    """(run or opening, finding) for every piece that does not fold up to what it was made for, one after another: each
    takes its time."""
    for run in derived.runs:
        yield from ((run.run.id, finding) for finding in run.detail.misfits)
    for opening in derived.openings:
        if opening.result is not None:
            yield from ((opening.id, finding) for finding in opening.result.misfits)
