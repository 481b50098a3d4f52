"""What of some pieces is done already, as the papers say it, so that every page tells what is still to do."""

from __future__ import annotations

from collections.abc import Iterable

from yattle.job.model import Job
from yattle.job.states import PieceState, state_of
from yattle.pattern import Pattern


def progress_says(job: Job, patterns: Iterable[Pattern]) -> str:
    """How far pieces have come, all together: ``3 of 5 cut, 2 folded``, or ``fitted``; empty where nothing is cut
    of them."""
    if not job.cut:
        return ""
    states = [state_of(job, pattern) for pattern in patterns]
    whole = PieceState("", *(sum(getattr(one, what) for one in states)
                             for what in ("wanted", "cut", "folded", "fitted")))
    return whole.says() if whole.cut else ""
