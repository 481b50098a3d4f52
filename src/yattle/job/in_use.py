"""What is in use of what was learnt: a springback for each metal on each brake, a k-factor for each metal."""

from __future__ import annotations

from yattle.brake import Brake
from yattle.brake.machine import Springback
from yattle.job.model import Job, Learnt


def with_learnt(job: Job, what: Learnt) -> Job:
    """The job with one thing learnt, kept in the place of what was known of that metal and brake."""
    rest = tuple(one for one in job.learnt if (one.what, one.metal, one.brake) != (what.what, what.metal, what.brake))
    return job.but(learnt=(*rest, what))


def learnt_of(job: Job, what: str, metal: str, brake: str = "") -> Learnt | None:
    """What was learnt; ``None`` where nothing was."""
    return next((one for one in job.learnt if (one.what, one.metal, one.brake) == (what, metal, brake)), None)


def with_brake(job: Job, brake: Brake, own: bool = False) -> Job:
    """The job on another brake: with the springback that this metal has shown on it, else the metal's usual one, or the
    brake's ``own`` where that came with it."""
    known = learnt_of(job, "springback", job.metal_name, brake.name)
    usual = brake.springback if own else Springback(ratio=job.metal_used.springback)
    spring = usual if known is None else Springback(ratio=known.value, offset=known.offset)
    return job.but(brake=brake.but(springback=spring))


def with_metal(job: Job, metal: str, thickness: float) -> Job:
    """The job in another metal or gauge, mm: its springback and k-factor are those shown, else its usual ones."""
    after = with_brake(job.but(metal=metal, thickness=thickness), job.brake)
    known = learnt_of(after, "k", after.metal_name)
    return after.but(k=known.value if known else None)
