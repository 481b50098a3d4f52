"""Everything worked out from a job: job → roof → runs → layers → pieces, openings and corners.

Each arrow is one function whose result is kept under the hash of what went in, so an edit
recomputes what depends on it and nothing else. The window, the headless verbs and the
tests ask the same functions.
"""

from __future__ import annotations

from copy import copy
from dataclasses import replace
from functools import lru_cache

from yattle.derive.derived import Derived
from yattle.derive.face_pans import derive_pans
from yattle.derive.layers import layers_of
from yattle.derive.meetings import meetings
from yattle.derive.names import is_own
from yattle.derive.narrow import narrow_strips
from yattle.derive.near_edges import near_edges
from yattle.derive.openings import DerivedOpening, derive_meeting, derive_opening, derive_own
from yattle.derive.roof_runs import roof_runs
from yattle.derive.run import DerivedRun, common_of, derive_run
from yattle.derive.run_beside import left_out, off_its_wall, step_of
from yattle.derive.too_close import over_ridges, too_close
from yattle.derive.under_panels import under_panels
from yattle.job.model import Job, Run
from yattle.roof import Roof, build
from yattle.roof.at_edge import is_step
from yattle.section import MetalSpec, folded_points


def derive(job: Job) -> Derived:
    """Roof, sections, pieces and findings of every run, pieces of every opening and corner. The last few are kept, with
    what was worked out from them, so that an edit taken back is there at once."""
    found = _derive(job)
    if found.job is not job:  # an equal one: what is shown is told by the job it was asked of
        found = copy(found)
        object.__setattr__(found, "job", job)
    return found


@lru_cache(maxsize=4)
def _derive(job: Job) -> Derived:
    common = common_of(job)
    runs = [derive_run(run, common) for run in job.runs]
    roof, edges = build(job.roof), roof_runs(job)
    for found in edges:
        made = left_out(derive_run(found.run, common), found, edges)
        if is_step(roof, found.edge):
            made = step_of(made, job.roof, roof.facet(found.edge.facets[0]).block)
        if found.edge.kind == "half-ridge":
            made = off_its_wall(made, job.roof, roof.facet(found.edge.facets[0]).block)
        runs.append(made)
        if made.left_out:
            continue
        for layer in layers_of(job, found, made.family.name if made.family else ""):
            runs.append(derive_run(_staggered(layer, made), common))
    by_run = {run.run.id: run for run in runs}
    trims = [(found.edge, by_run[found.run.id]) for found in edges]
    close = (under_panels(job, trims) | narrow_strips(roof, trims) | over_ridges(roof, trims)
             | too_close(job, roof, runs))
    said = {found.run.id: close[found.edge.id] for found in edges if found.edge.id in close}
    runs = [replace(run, findings=(said[run.run.id], *run.findings)) if run.run.id in said else run for run in runs]
    openings = near_edges(job, roof, _openings(job, roof, common.metal, tuple(runs)), trims)
    return Derived(job, tuple(runs), roof, tuple(openings))


def _openings(job: Job, roof: Roof, spec: MetalSpec, runs: tuple[DerivedRun, ...]) -> tuple[DerivedOpening, ...]:
    """The roof's openings and corners, each with its pieces, the pans of its faces, and the pieces on no roof."""
    return (*(derive_opening(job, roof, placed, spec) for placed in roof.openings),
            *(derive_meeting(job, roof, meeting, spec) for meeting in meetings(roof)),
            *derive_pans(job, roof, spec),
            *(derive_own(job, note, spec, lambda name: _section_of(runs, name)) for note in job.openings
              if is_own(note)))


def _section_of(runs: tuple[DerivedRun, ...], name: str) -> tuple[tuple[float, float], ...]:
    """The corners of a run's section from edge A to edge B as it lies, hems left out, mm."""
    found = next((run.detail for run in runs if run.run.id == name), None)
    if found is None or found.profile is None or not found.pieces:
        return ()
    profile = found.profile
    corners = folded_points(profile, found.heading - (profile.hem_a.turn if profile.hem_a else 0.0))
    own = corners[1 if profile.hem_a else 0:len(corners) - (1 if profile.hem_b else 0)]
    return tuple((round(float(x), 6), round(float(y), 6)) for x, y in own)


def _staggered(layer: Run, beneath: DerivedRun) -> Run:
    """A continuous layer with its joints kept apart from those of the trim it goes with."""
    apart = beneath.standard.stagger
    if layer.gaps or not apart:
        return layer
    return layer.but(avoid=tuple((piece.start - apart, piece.start + apart) for piece in beneath.pieces[1:]))
