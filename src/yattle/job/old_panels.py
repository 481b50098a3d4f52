"""Jobs from before panel systems know of their panels only how wide they cover: a system of that takes its place."""

from __future__ import annotations

from yattle.details import standard_for
from yattle.job.fixing_rules import FixingRules
from yattle.job.model import FaceNote, Job
from yattle.job.panel_systems import ruled_by
from yattle.panels import PanelSystem
from yattle.panels.system import PanelFixing, PanelRules
from yattle.roof.panels import PanelRule

_ANY = 100_000.0  # mm: nobody said how long a panel may be
SEAM = 10.0
"""Room that a folded seam takes of the flat where nobody said how much, mm."""


def knows_only_coverage(job: Job) -> bool:
    """Whether the roof of a job has faces whose panels are a coverage and nothing else."""
    plan = job.roof
    return bool(plan.blocks or plan.faces) and not all(rule.system for rule in _rules(job))


def _rules(job: Job) -> tuple[PanelRule, ...]:
    return job.panels, *(note.panels for note in job.faces)


def system_of(rule: PanelRule, height: float, fit: FixingRules) -> PanelSystem:
    """A seamed system that covers what ``rule`` says, its seams ``height`` mm high, whose panels end as that rule has
    them and are held by the clips that the job's rules ask for: nothing becomes of lengths and clips."""
    wide = rule.coverage
    rules = PanelRules(eave="hooked" if rule.hooked else "screwed", eave_hem=rule.hem,
                       ridge="tray" if rule.at_ridge else "square", wall="tray" if rule.at_wall else "square",
                       turn_up=max(rule.at_ridge, rule.at_wall) or 40.0, lap=((0.0, rule.lap),), longest=_ANY)
    return PanelSystem(name=f"coverage {wide:g}", kind="standing seam",
                       profile=((0.0, height), (0.0, 0.0), (wide, 0.0), (wide, height)), under=0.0, over=wide,
                       seam=SEAM, lock="single", made="bought", rules=rules,
                       fixing=PanelFixing(clips=fit.panel_clip_pitch, clip_screws=fit.screws_a_clip),
                       sources=(("profile", "from the coverage of an older job; its seams as the house standard has "
                                            "them, the maker's paper comes first"),))


def with_coverage_as_systems(job: Job) -> Job:
    """The job with a system of its coverage in the place of each coverage alone; what was said of a face stays."""
    height = max(standard_for(job.system, job.own).seam_height, 1.0)
    systems = {system.name: system for system in job.systems}

    def ruled(rule: PanelRule) -> PanelRule:
        if rule.system:
            return rule
        system = system_of(rule, height, job.fit)
        number = 2
        while systems.get(system.name, system) != system:  # another face ends its panels otherwise
            system = system.but(name=f"coverage {rule.coverage:g}, {number}")
            number += 1
        systems[system.name] = system
        return ruled_by(rule, system).but(at_ridge=rule.at_ridge, at_wall=rule.at_wall, hooked=rule.hooked)
    panels = ruled(job.panels)
    faces = tuple(FaceNote(face=note.face, panels=ruled(note.panels), structure=note.structure) for note in job.faces)
    return job.but(panels=panels, faces=faces, systems=tuple(systems.values()))
