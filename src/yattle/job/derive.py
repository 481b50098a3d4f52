"""Everything worked out from a job: job → sections → pieces → fold orders → nest.

Each arrow is one function whose result is kept under the hash of what went in, so an edit
recomputes what depends on it and nothing else. The window, the headless verbs and the
tests ask the same functions.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from typing import Any

from yattle.brake import FoldJob, FoldOrder, Refusal, plain_order
from yattle.coil import NestAnswer, NestJob, NestRules, Part, first_answer, nest
from yattle.details import (
    FAMILIES,
    DetailPiece,
    DetailResult,
    Family,
    Finding,
    Standard,
    Trim,
    develop,
    families_for,
    standard_for,
)
from yattle.details.ends import ends_of
from yattle.details.free import Shape
from yattle.details.schools import Schools
from yattle.errors import InputError
from yattle.job.layers import layers_of, schools_of
from yattle.job.meetings import meetings
from yattle.job.model import Job, Run
from yattle.job.openings import DerivedOpening, derive_meeting, derive_opening, derive_own, is_own
from yattle.job.roof_runs import base_id, roof_runs
from yattle.metal import metal_spec
from yattle.pattern import Pattern
from yattle.roof import Roof, build
from yattle.section import MetalSpec
from yattle.values import check

WORST_GAP = 0.01  # mm between a pattern folded up and its section
NO_DETAIL = DetailResult(None, None, (), (), {}, 0.0, (), (), (), (), ())


@dataclass(frozen=True)
class DerivedRun:
    """One run worked out: its standard, its detail and what there is to look at; ``made`` false where there is no
    detail for its kind of edge yet."""

    run: Run
    standard: Standard
    detail: DetailResult
    findings: tuple[Finding, ...]

    @cached_property
    def family(self) -> Family | None:
        """The detail it gets."""
        return family_of(self.run)

    @property
    def made(self) -> bool:
        return self.family is not None

    @property
    def pieces(self) -> tuple[DetailPiece, ...]:
        return self.detail.pieces


@dataclass(frozen=True, eq=False)
class Derived:
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
    def misfits(self) -> tuple[tuple[str, Finding], ...]:
        """Every piece folded up again: those that are off their section by more than 0.01 mm."""
        return tuple(misfits_of(self))

    @cached_property
    def nest(self) -> NestAnswer:
        """The best plan known for cutting the pieces, else the first one."""
        return self.plan or first_answer(nest_job(self))

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


Told = tuple[str, Finding]


def worst_first(found: Iterable[Told]) -> tuple[Told, ...]:
    """What cannot be made before what is only to be looked at."""
    return tuple(sorted(found, key=lambda item: item[1].level != "stop"))


def misfits_of(derived: Derived) -> Iterator[Told]:
    """(run or opening, finding) for every piece that does not fold up to what it was made for, one after another: each
    takes its time."""
    for run in derived.runs:
        for piece in run.pieces:
            if piece.proof.max_gap > WORST_GAP:
                yield run.run.id, Finding("stop", f"piece {piece.id} does not fold up to its section: "
                                          f"{piece.proof.max_gap:.2f} mm off at {piece.proof.worst}")
    for run in derived.runs:
        for left, right, proof in run.detail.laps:
            if proof.max_gap > WORST_GAP:
                yield run.run.id, Finding("stop", f"pieces {left.id} and {right.id} do not close in their lap: "
                                          f"{proof.max_gap:.2f} mm off at {proof.worst}")
    for opening in derived.openings:
        for made in opening.pieces:
            if made.proof.max_gap > WORST_GAP:
                yield opening.id, Finding("stop", f"piece {made.pattern.id} does not fold up to what it was made for: "
                                          f"{made.proof.max_gap:.2f} mm off at {made.proof.worst}")


def derive(job: Job) -> Derived:
    """Roof, sections, pieces and findings of every run, pieces of every opening and corner."""
    common = _common(job)
    runs = [_derive_run(run, common) for run in job.runs]
    for found in roof_runs(job):
        made = _derive_run(found.run, common)
        runs.append(made)
        for layer in layers_of(job, found, made.family.name if made.family else ""):
            runs.append(_derive_run(_staggered(layer, made), common))
    roof = build(job.roof)
    return Derived(job, tuple(runs), roof, _openings(job, roof, common.metal))


def _openings(job: Job, roof: Roof, spec: MetalSpec) -> tuple[DerivedOpening, ...]:
    """The roof's openings and corners, each with its pieces, and the pieces on no roof."""
    return (*(derive_opening(job, roof, placed, spec) for placed in roof.openings),
            *(derive_meeting(job, roof, meeting, spec) for meeting in meetings(roof)),
            *(derive_own(job, note, spec) for note in job.openings if is_own(note)))


def _staggered(layer: Run, beneath: DerivedRun) -> Run:
    """A continuous layer with its joints kept apart from those of the trim it goes with."""
    apart = beneath.standard.stagger
    if layer.gaps or not apart:
        return layer
    return layer.but(avoid=tuple((piece.start - apart, piece.start + apart) for piece in beneath.pieces[1:]))


@dataclass(frozen=True)
class _Common:
    """What of the job every run depends on."""

    system: Any
    own: Any
    schools: Schools
    metal: MetalSpec
    measured: str
    weather: str
    joints: str
    tolerance: float
    throat: float


def _common(job: Job) -> _Common:
    metal = spec_of(job.metal, job.thickness, job.allowance, job.k)
    return _Common(job.system, job.own, job.schools, metal, job.measured, job.weather, job.joints, job.tape_tolerance,
                   job.brake.throat)


@lru_cache(maxsize=64)
def spec_of(metal: str, thickness: float, allowance: str = "metal", k: float | None = None) -> MetalSpec:
    """The metal as a profile carries it, with the job's own allowance rule or learnt k-factor if it has one."""
    spec = metal_spec(metal, thickness)
    if k is not None and spec["allowance"].get("rule") == "k-factor":
        spec["allowance"] = {"rule": "k-factor", "k": k}
    if allowance != "metal":
        spec["allowance"] = {"rule": allowance}
    return check(lambda: MetalSpec.model_validate(spec), "metal")


@lru_cache(maxsize=8192)
def _derive_run(run: Run, common: _Common) -> DerivedRun:
    standard = standard_for(common.system, common.own, run.own)
    family = family_of(run)
    if family is None:
        return DerivedRun(run, standard, NO_DETAIL, (*_water_findings(run), *_tape_findings(run, common.tolerance)))
    try:
        detail = develop(detail_of(run, family, standard, common))
    except InputError as wrong:  # the roof asks for what this detail cannot be
        stop = Finding("stop", f"{family.title}: {wrong}", field="pitch")
        return DerivedRun(run, standard, NO_DETAIL, (stop, *_tape_findings(run, common.tolerance)))
    return DerivedRun(run, standard, detail, (
        *detail.findings, *_flap_findings(detail, schools_of(run, common.schools), common.throat),
        *_water_findings(run), *_tape_findings(run, common.tolerance)))


def _flap_findings(detail: DetailResult, schools: Schools, throat: float) -> tuple[Finding, ...]:
    """End flaps by brake put the piece into the machine end on: no longer than its throat is deep."""
    longest = max((p.pattern.length for p in detail.pieces if p.tabs), default=0.0)
    if schools.flaps != "brake" or longest <= throat:
        return ()
    return (Finding("look", "end flaps by brake: {0} long, the brake takes {1} end on",
                    "fold these by tongs or between two boards, or on a brake that is open behind", "length",
                    (longest, throat)),)


def family_of(run: Run) -> Family | None:
    """The detail chosen for a run, else the usual one for its kind of edge."""
    if run.layer:
        return FAMILIES[run.detail or ""]
    suits = families_for(run.kind)
    return next((f for f in suits if f.name == run.detail), suits[0] if suits else None)


def detail_of(run: Run, family: Family, standard: Standard, common: _Common) -> Trim:
    """The detail file that this run stands for; ``yattle develop`` gives the same pieces from it."""
    values: dict[str, Any] = {field: getattr(standard, entry) for field, entry in family.entries.items()}
    roof = {"pitch": run.pitch, "fold": run.fold, "upper": run.pitch, "lower": run.pitch - (run.fold or 0.0),
            "lean": run.lean}
    values |= {name: roof[name] for name in family.roof}
    values |= {"left_plane": run.left_plane, "right_plane": run.right_plane, "left_plane_b": run.left_plane_b,
               "right_plane_b": run.right_plane_b, "avoid": run.avoid,
               "slope": run.slope}
    if run.low is not None:
        values["low"] = run.low
    if family.name == "free":
        values |= _own_section(run)
    values |= _mitres(run)
    schools = schools_of(run, common.schools)
    values |= {"joint": schools.joint, "flaps": schools.flaps}
    if run.gaps:
        values |= {"gaps": run.gaps, "length": max(gap for gap, _ in run.gaps)}
        if run.kind == "ridge" and schools.ridge == "vented":
            values["height"] += standard.vent
    made = check(lambda: family.model(
        **{"length": run.length} | values, id=run.id, metal=common.metal, measured=common.measured,  # type: ignore[arg-type]
        weather=common.weather, joints=common.joints, left="plain", right="plain"))  # type: ignore[arg-type]
    can = ends_of(made.sheet())  # what meets a run may ask for an end that another detail of it cannot have
    boxed = {"tab": "box"} if run.kind == "rake" and schools.rake_end == "box" else {}
    ends = {side: boxed.get(end, end) if end in can else "plain"
            for side, end in (("left", run.left), ("right", run.right))}
    return made.but(**ends)


def _own_section(run: Run) -> dict[str, Any]:
    """The fields of a run's own section."""
    shape = run.section or Shape()
    return {name: getattr(shape, name) for name in ("name", "legs", "turns", "hem_a", "hem_b", "heading")}


def _mitres(run: Run) -> dict[str, Any]:
    """The planes of the mitres that were typed, before those of the roof."""
    given = (("left", run.mitre_left), ("right", run.mitre_right))
    return {name: value for side, mitre in given if mitre is not None and not run.layer for name, value in (
        (f"{side}_plane", mitre.normal(side)), (f"{side}_plane_b", None))}  # type: ignore[arg-type]


def _tape_findings(run: Run, tolerance: float) -> tuple[Finding, ...]:
    if run.taped is None or run.taped_by == "stand-in" or abs(run.taped - run.length) <= tolerance:
        return ()
    return (Finding("look", "taped {0}, the run says {1}", "{2} apart; tape it again before anything is cut", "taped",
                    (run.taped, run.length, abs(run.taped - run.length))),)


def _water_findings(run: Run) -> tuple[Finding, ...]:
    if run.kind != "headwall" or run.fold is None or run.fold < 90.05:
        return ()
    return (Finding("look", "the roof falls against this wall", "water stands here: make the block longer so that the "
                    "roofs meet, or plan a cricket", "pitch"),)


def nest_job(derived: Derived) -> NestJob:
    """The cutting job of all pieces, like pieces told apart by their ids."""
    metal = derived.job.metal_name
    by_coil = derived.job.rules.match_by == "coil"
    lots = len({stock.id if by_coil else stock.lot for stock in derived.job.stock if stock.metal == metal}) > 1
    return _nest_job(derived.patterns, metal, derived.job.stock, _rules(derived.job), _wanted(derived),
                     _matches(derived) if lots else ())


WANTED = ("eave", "valley", "pitch-break", "headwall", "sidewall", "skew-wall", "rake", "hip", "half-ridge", "ridge")
"""Kinds of edge in the order in which the roof wants their trims: from the eave up."""


def _wanted(derived: Derived) -> tuple[int, ...]:
    """For each pattern how early it is wanted; counterflashings last, openings with the walls."""
    found = []
    for run in derived.runs:
        kind = run.run.kind
        place = WANTED.index(kind) if kind in WANTED else 0
        late = len(WANTED) if run.family is not None and run.family.name == "counterflashing" else place
        found += [late] * len(run.pieces)
    return (*found, *[WANTED.index("headwall")] * (len(derived.patterns) - len(found)))


def _matches(derived: Derived) -> tuple[str | None, ...]:
    """For each pattern the face of the roof on which its colour is to match, where there are several lots (or coils, if
    it is to come off one)."""
    faces = {found.run.id: found.edge.facets[0] for found in roof_runs(derived.job) if found.edge.facets}
    made: list[str | None] = [faces.get(base_id(run.run.id)) for run in derived.runs for _ in run.pieces]
    return (*made, *[None] * (len(derived.patterns) - len(made)))


def search_nest(derived: Derived, seconds: float) -> Derived:
    """The same with the better plan that a search so long has found."""
    job = nest_job(derived)
    return derived.with_plan(nest(job.but(rules=job.rules.but(seconds=min(seconds, job.rules.seconds or seconds)))))


def _rules(job: Job) -> NestRules:
    """The shear's rules, with the brake's length and, where money is to be least, the shop's rates."""
    rules = job.rules
    if rules.max_crosscut is None:
        rules = rules.but(max_crosscut=job.brake.max_length)
    if rules.objective == "money":
        rules = rules.but(cut_cost=job.shop.a_cut, offcuts_worth=job.shop.offcuts_worth)
    return rules


@lru_cache(maxsize=16)
def _nest_job(patterns: tuple[Pattern, ...], metal: str, stock: Any, rules: NestRules, wanted: tuple[int, ...],
              matches: tuple[str | None, ...]) -> NestJob:
    parts = tuple(Part(id=p.id, outline=p.outline, holes=p.holes, qty=p.qty, metal=metal, priority=wanted[n],
                       match=matches[n] if matches else None) for n, p in enumerate(patterns))
    return NestJob(stock=stock, parts=parts, rules=rules)
