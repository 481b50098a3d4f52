"""The pans of every face that is covered with pans made in the shop, as pieces like others."""

from __future__ import annotations

from collections.abc import Iterator

from yattle.derive.laying import rule_on
from yattle.derive.openings import DerivedOpening, developed, form_on
from yattle.derive.pans import grouped, made_here, pans_on
from yattle.derive.shingles import courses_laid, shingle_shape, shingles_here
from yattle.derive.split import split_pans
from yattle.details import standard_for
from yattle.details.face_pans import FacePans, FaceShingles
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
    """The pans of each face whose system is made in the shop; those split at a pipe come with the pipe."""
    for facet in roof.facets:
        if shingles_here(job.panel_system(facet.id)):
            yield developed(lambda facet=facet: _shingles(job, roof, facet, metal),  # type: ignore[misc]
                            (f"{PANS} {facet.id}", f"shingles, face {facet.id}", PANS, PANS), ())
        elif made_here(job, lay(roof, facet.id, rule_on(job, facet))):
            yield developed(lambda facet=facet: _form(job, roof, facet, metal),  # type: ignore[misc]
                            (f"{PANS} {facet.id}", f"pans, face {facet.id}", PANS, PANS), ())


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
    shapes = pans_on(roof, laid, system, standard_for(job.system, job.own), pipes)
    left = grouped({n: shape for n, shape in shapes.items() if n not in elsewhere})
    if not left:
        raise InputError("panels", f"no panel on {facet.id}", "a face wide enough for one")
    where = {panel.n: (panel.left, min(y for _, y in panel.outline)) for panel in laid.panels}
    closed = _CLOSED.get(system.lock if system is not None else "", "")
    return check(lambda: FacePans(id=facet.id, metal=metal, measured=job.measured, shapes=tuple(left.values()),
                                  numbers=tuple(left), closed=closed, places=tuple(where[n[0]] for n in left)))


def is_pans(opening: DerivedOpening) -> bool:
    """Whether it is a face's pans, not what stands at a place of the roof."""
    return opening.kind == PANS

