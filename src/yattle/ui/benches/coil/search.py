"""The search for a better cutting plan, beside the window: it can be stopped, and tells every better plan."""

from __future__ import annotations

from collections.abc import Callable

from yattle.coil import NestAnswer, NestJob
from yattle.job import Job
from yattle.job.ledger import plan_price
from yattle.session.beside import search_on
from yattle.tasks import Answer, On, Policy, Request
from yattle.ui.benches.host import Host

SECONDS = 20.0
LANE = "search"


class PlanSearch:
    """``progress`` says how it goes, ``told`` is called when that changes. ``seconds``: how long it looks; ``better``:
    the plans it has told."""

    def __init__(self, store: Host) -> None:
        self.store = store
        self.seconds, self.progress = SECONDS, ""
        self.told: Callable[[], None] = lambda: None
        self.better: list[NestAnswer] = []
        store.when_edited(self.stop)

    @property
    def busy(self) -> bool:
        """Whether it is looking."""
        return self.store.board.busy(LANE)

    def stop(self) -> None:
        """End with the best so far."""
        self.store.board.stop(LANE)

    def _say(self, progress: str) -> None:
        self.progress = progress
        self.told()

    def start(self, before: NestAnswer, locked: frozenset[str] = frozenset()) -> None:
        """Search on from the plan ``before``; blocks with a ``locked`` piece stay as they are."""
        session = self.store.session
        derived, stamp = session.derived, session.stamp
        self.better.clear()
        request = Request(LANE, search_on, (session.job, before, locked, self.seconds), stamp, policy=Policy.LATEST,
                          on=On.PROCESS, hand=True)
        self.store.ask(request, lambda answer: self._take(answer, derived.nest_job, before), self._better)
        self._say("searching …")

    def _better(self, answer: object) -> None:
        assert isinstance(answer, NestAnswer)
        self.better.append(answer)
        over = f", {answer.over_bound:.1%} over the least" if answer.bound.value else ""
        self._say(f"{answer.objective:.1f}{over}")

    def _take(self, answer: Answer, asked: NestJob, before: NestAnswer) -> None:
        """The plan goes to the job it was looked for; if that is not shown any more it is kept for when it is again."""
        if not isinstance(answer.result, NestAnswer):
            self.store.complain(str(answer.error))
            return
        best = answer.result if answer.result.objective <= before.objective else before
        if self.store.session.take_plan(asked, best):
            said = _gained(self.store.session.job, before, best)
            self._say("the least there is" if best.proved_best and said is None else
                      said or "nothing better found")


def _gained(job: Job, before: NestAnswer, best: NestAnswer) -> str | None:
    """What a better plan saves, and what it comes to with its cuts and kept offcuts where that is something else;
    ``None`` where it saves nothing."""
    saved = before.objective - best.objective
    if saved <= 0.05:
        return None
    whole = plan_price(job, before).value - plan_price(job, best).value
    proven = ", the least there is" if best.proved_best else ""
    if best.objective_of in ("money", "area", "length") or abs(whole - saved) <= 0.05:
        return f"{saved:.1f} less than before{proven}"
    return f"metal {saved:.1f} less{proven}; with cuts and offcuts {abs(whole):.1f} {'less' if whole > 0 else 'more'}"
