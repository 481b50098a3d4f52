"""The shingles of a face made in the shop: one blank with a lock along each of its four sides, as many as its courses
take."""

from __future__ import annotations

from yattle.details.pan_shape import PanShape
from yattle.details.standard import Standard
from yattle.errors import InputError
from yattle.job.model import Job
from yattle.panels import PanelSystem
from yattle.roof import Roof
from yattle.roof.courses import ShingleCourse, courses_of
from yattle.roof.panels import PanelPlan

_ROOM = 1.0  # mm that a lock is turned over less than its seam is wide, so that two go into each other


def shingles_of(system: PanelSystem | None) -> PanelSystem | None:
    """A system that lies in courses; ``None`` of any other."""
    return system if system is not None and system.kind == "shingle" and system.exposure else None


def shingles_here(system: PanelSystem | None) -> bool:
    """Whether a system is shingles folded in the shop."""
    known = shingles_of(system)
    return known is not None and known.made == "shop"


def courses_laid(job: Job, roof: Roof, laid: PanelPlan, standard: Standard) -> tuple[ShingleCourse, ...]:
    """The courses of a face as it is laid; none of panels that go from the eave to the head."""
    system = shingles_of(job.panel_system(laid.facet))
    if system is None:
        return ()
    return courses_of(roof, laid.facet, laid.rule, system.exposure, standard.valley_open, standard.valley_taper)


def shingle_shape(system: PanelSystem, standard: Standard, courses: tuple[ShingleCourse, ...]) -> PanShape:
    """One shingle, as many as the courses take, whole ones and those that are cut on the roof. Its floor goes from fold
    to fold: what it covers and one lock more each way, for in a lock two folds stand a lock's width apart. Its low and
    right edges are turned under, its left and high edges over onto it. In mm. Raises :class:`InputError` where the
    face takes none, or where the locks leave nothing of it."""
    many = sum(course.whole + course.cut for course in courses)
    if not many:
        raise InputError("panels", "no shingle on the face", "a face of more than a few cm²")
    lock = system.seam or standard.seam_lock
    wide, high = system.pitch_of_seams + lock, system.exposure + lock
    if min(wide, high) < 4 * lock:
        raise InputError("seam", f"{lock:g} mm on a shingle of {wide - lock:g} × {high - lock:g}",
                         "locks narrower than a third of the shingle")
    turned = lock - _ROOM
    floor = ((0.0, 0.0), (wide, 0.0), (wide, high), (0.0, high))
    sides = tuple((a, floor[(n + 1) % 4]) for n, a in enumerate(floor))
    under_over = (turned, turned, -turned, -turned)  # low edge, right, high edge, left
    return PanShape(name="shingle", qty=many, floor=floor, straight=False, mitred=True,
                    hems=tuple((a, b, mm) for (a, b), mm in zip(sides, under_over, strict=True)))
