"""A panel system chosen for a job or for one face: it is kept in the job, and the rule of laying follows from it."""

from __future__ import annotations

from typing import Literal

from yattle.job.model import Job
from yattle.panels import PanelSystem, derive_profile, find
from yattle.roof.panels import PanelRule


def ruled_by(rule: PanelRule, system: PanelSystem | None) -> PanelRule:
    """A rule of laying as a system asks for it, ``None``: of no system, with the coverage it has."""
    if system is None:
        return rule.but(system="", seam=0.0, height=0.0, hooked=False, fill="zed", at_ridge=0.0, at_wall=0.0)
    seamed = system.kind in ("standing seam", "snap seam", "shingle")
    rules = system.rules
    return rule.but(system=system.name, coverage=system.pitch_of_seams, seam=system.seam if seamed else 0.0,
                    height=derive_profile(system).height,
                    fill=_fill(system), hem=rules.eave_hem, hooked=rules.eave == "hooked",
                    at_ridge=rules.turn_up if rules.ridge == "tray" else 0.0,
                    at_wall=rules.turn_up if rules.wall == "tray" else 0.0)


def _fill(system: PanelSystem) -> Literal["zed", "strips", "tape"]:
    """What closes a system's upper ends beneath a trim: zeds between standing seams, strips cut to a profile; on
    shingles, whose locks lie flat, the trim's tape."""
    if system.kind == "shingle":
        return "tape"
    return "zed" if system.kind in ("standing seam", "snap seam") else "strips"


def with_system(job: Job, name: str, face: str = "") -> Job:
    """The job with a panel system, by its name, on one face or on all that have no rule of their own; an empty name
    takes it away. Raises :class:`~yattle.errors.InputError` for a system that is not known."""
    system = find(name, job.systems) if name else None
    kept = job.systems if system is None or system in job.systems else (*job.systems, system)
    job = job.but(systems=kept)
    if face:
        return job.with_panels(face, ruled_by(job.panel_rule(face), system))
    return job.but(panels=ruled_by(job.panels, system))


def with_own_system(job: Job, system: PanelSystem) -> Job:
    """The job with a system of one's own, in the place of one of that name; faces laid with it follow it."""
    known = any(one.name == system.name for one in job.systems)
    systems = tuple(system if one.name == system.name else one for one in job.systems)
    faces = tuple(note.model_copy(update={"panels": ruled_by(note.panels, system)}) if note.panels.system == system.name
                  else note for note in job.faces)
    panels = ruled_by(job.panels, system) if job.panels.system == system.name else job.panels
    return job.but(systems=systems if known else (*systems, system), faces=faces, panels=panels)
