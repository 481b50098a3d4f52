"""The pans of every face that is covered with pans made in the shop, as pieces like others."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from functools import lru_cache
from typing import Literal

from yattle.derive.cut_round import cut_round
from yattle.derive.derived import Derived
from yattle.derive.laying import rule_on
from yattle.derive.openings import DerivedOpening, developed, form_on
from yattle.derive.pans import grouped, made_here, pans_on
from yattle.derive.shingles import courses_laid, shingle_shape, shingles_here
from yattle.derive.split import split_pans
from yattle.details import standard_for
from yattle.details.common import Finding
from yattle.details.face_pans import FacePans, FaceShingles
from yattle.details.pan_floor import Place
from yattle.details.pan_shape import PanShape
from yattle.details.pipe import Pipe
from yattle.errors import InputError
from yattle.job.model import Job
from yattle.roof import Facet, Roof
from yattle.roof.panels import lay
from yattle.section import MetalSpec
from yattle.values import check

PANS = "pans"
_CLOSED = {"single": "seams turned over once on the roof", "double": "seams turned over twice on the roof",
           "snap": "seams snap over each other"}


def derive_pans(job: Job, roof: Roof, metal: MetalSpec) -> Iterator[DerivedOpening]:
    """The pans of each face whose system is made in the shop; those split at a pipe come with the pipe. A face too
    small for any panel has none."""
    for facet in roof.facets:
        if shingles_here(job.panel_system(facet.id)):
            yield developed(lambda facet=facet: _shingles(job, roof, facet, metal),  # type: ignore[misc]
                            (f"{PANS} {facet.id}", f"shingles, face {facet.id}", PANS, PANS), ())
            continue
        laid = lay(roof, facet.id, rule_on(job, facet))
        if laid.panels and made_here(job, laid):
            yield _pans(job, roof, facet, metal)


def _pans(job: Job, roof: Roof, facet: Facet, metal: MetalSpec) -> DerivedOpening:
    """The pans of one face; each that cannot be made is told by its number and takes nothing from the others."""
    made = developed(lambda: _form(job, roof, facet, metal),
                     (f"{PANS} {facet.id}", f"pans, face {facet.id}", PANS, PANS), ())
    made = made if made.result is not None else _without_refused(made)
    none = made.form.none if isinstance(made.form, FacePans) else ()
    told = tuple(Finding("look", f"no pan {n} on {facet.id}: nothing is left of it once its edges are held back",
                         "the pan beside it is left wider, or the layout starts elsewhere", "panels") for n in none)
    return replace(made, findings=(*told, *made.findings))


def _without_refused(whole: DerivedOpening) -> DerivedOpening:
    """A face's pans without those that cannot be made, each of which is told: one takes nothing from the others."""
    form = whole.form
    if not isinstance(form, FacePans):
        return whole
    kept, told = list[int](), list[Finding]()
    for n, shape in enumerate(form.shapes):
        alone = developed(lambda shape=shape: form.but(shapes=(shape,), numbers=(), places=()),  # type: ignore[misc]
                          (whole.id, whole.title, PANS, PANS), ())
        kept += [n] if alone.result is not None else []
        told += [replace(found, text=f"{shape.name}: {found.text}") for found in alone.findings if alone.result is None]
    if not kept:
        return whole
    left = form.but(shapes=tuple(form.shapes[n] for n in kept), numbers=tuple(form.numbers[n] for n in kept),
                    places=tuple(form.places[n] for n in kept))
    made = developed(lambda: left, (whole.id, whole.title, PANS, PANS), ())
    return replace(made, findings=(*told, *made.findings))


def _shingles(job: Job, roof: Roof, facet: Facet, metal: MetalSpec) -> FaceShingles:
    system = job.panel_system(facet.id)
    assert system is not None
    standard = standard_for(job.system, job.own)
    laid = courses_laid(job, roof, lay(roof, facet.id, rule_on(job, facet)), standard)
    shape = shingle_shape(system, standard, laid)
    return check(lambda: FaceShingles(id=facet.id, metal=metal, measured=job.measured, shape=shape))


def _form(job: Job, roof: Roof, facet: Facet, metal: MetalSpec) -> FacePans:
    system, laid = job.panel_system(facet.id), lay(roof, facet.id, rule_on(job, facet))
    pipes, elsewhere = dict[str, Pipe](), set[int]()
    for placed in roof.openings:
        if placed.opening.kind == "pipe" and placed.facets[0] == facet.id:
            try:
                form = form_on(job, roof, placed, metal)
                assert isinstance(form, Pipe)
                pipes[placed.opening.id] = form
                if form.school == "split":
                    elsewhere |= {n for n, _ in split_pans(job, roof, placed, form) or ()}
            except InputError:
                continue  # told where the pipe's own pieces are made
    none = dict[int, InputError]()
    round_it = cut_round(job, facet.id)
    shapes = pans_on(roof, laid, system, standard_for(job.system, job.own), pipes, round_it, none)
    left = tuple((n, shape) for n, shape in shapes.items() if n not in elsewhere)
    where = tuple((panel.n, (panel.left, min(y for _, y in panel.outline))) for panel in laid.panels)
    closed = _CLOSED.get(system.lock if system is not None else "", "")
    return _cut(facet.id, metal, job.measured, left, where, closed, tuple(none))


@lru_cache(maxsize=256)
def _cut(face: str, metal: MetalSpec, measured: Literal["outside", "inside"], shapes: tuple[tuple[int, PanShape], ...],
         where: tuple[tuple[int, Place], ...], closed: str, none: tuple[int, ...]) -> FacePans:
    """A face's pans, equal ones as one; ``where``: the place of each on the face, mm."""
    left, at = grouped(dict(shapes)), dict(where)
    return check(lambda: FacePans(id=face, metal=metal, measured=measured, shapes=tuple(left.values()),
                                  numbers=tuple(left), closed=closed, places=tuple(at[n[0]] for n in left), none=none))


def not_cut(derived: Derived, face: str) -> frozenset[int]:
    """The panels, by their numbers, of a face whose pans are made in the shop that are cut to no pattern: those that
    could not be made."""
    cut = set[int]()
    for one in derived.openings:
        if one.result is None:
            continue
        if one.id == f"{PANS} {face}" and isinstance(one.form, FacePans):
            cut |= {n for numbers in one.form.numbers for n in numbers} | set(one.form.none)
        elif isinstance(one.form, Pipe) and one.form.school == "split":
            placed = next(placed for placed in derived.roof.openings if placed.opening.id == one.id)
            if placed.facets[0] == face:
                cut |= {n for n, _ in split_pans(derived.job, derived.roof, placed, one.form) or ()}
    return frozenset(panel.n for panel in derived.panels[face].panels) - cut


def is_pans(opening: DerivedOpening) -> bool:
    """Whether it is a face's pans, not what stands at a place of the roof."""
    return opening.kind == PANS

