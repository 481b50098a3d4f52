"""What is asked of the processes beside the window: each a plain function of a job, that can be sent.

A search ``tells`` every better answer as it comes and ends with the best so far when it is asked to.
"""

from __future__ import annotations

from yattle.brake import FoldJob, Suggestion, suggestions
from yattle.brake.state import Limit
from yattle.coil import NestAnswer, nest
from yattle.coil.by_hand import planned_around
from yattle.derive.advice import Advice, girth_advice
from yattle.derive.graph import derive
from yattle.derive.purchase import Proposal, proposals
from yattle.errors import InputError
from yattle.job.model import Job
from yattle.roof import RoofPlan, build
from yattle.roof.drain import Drainage, drainage
from yattle.roof.measured import Adjustment, Taped, adjust
from yattle.roof.panels import PanelPlan, PanelRule, lay
from yattle.tasks.request import Hand


def search_on(hand: Hand, job: Job, before: NestAnswer, locked: frozenset[str], seconds: float) -> NestAnswer:
    """A better cutting plan than ``before``, looked for so long; blocks with a ``locked`` piece (``part/copy``) stay
    as they are. Time in seconds."""
    asked = derive(job).nest_job
    asked = asked.but(rules=asked.rules.but(seconds=seconds))
    if locked:
        return planned_around(asked, before, locked, hand.stopped, hand.tell)
    return nest(asked, hand.stopped, hand.tell)


def to_order(job: Job) -> tuple[Proposal, ...]:
    """What fresh coil of each usual width the job takes."""
    return proposals(derive(job).nest_job)


def advise(hand: Hand, job: Job) -> tuple[Advice, ...]:
    """Leg lengths that save coil; tells how many trials are done, of how many, and the millimetres saved so far."""
    return girth_advice(job, lambda: not hand.stopped(), lambda *progress: hand.tell(progress))


def drained(plan: RoofPlan) -> Drainage:
    """What drains into each edge of a roof."""
    return drainage(build(plan))


def laid_with(plan: RoofPlan, face: str, rule: PanelRule) -> PanelPlan:
    """A face of a roof laid with panels."""
    return lay(build(plan), face, rule)


def adjusted(roof: RoofPlan, taped: tuple[Taped, ...]) -> Adjustment | None:
    """The roof that fits all measures best; ``None`` where a measure is so wild that there is none."""
    try:
        return adjust(roof, taped)
    except InputError:  # a pitch beyond 90°, say: the measure itself is told already
        return None


def helped(job: FoldJob, reasons: tuple[Limit, ...]) -> tuple[Suggestion, ...]:
    """What was tried and helps where there is no fold order."""
    return tuple(suggestions(job, reasons))
