"""The best fold order of a section, or why there is none and what would help."""

from __future__ import annotations

import time
from functools import lru_cache

from yattle.brake.machine import FoldJob
from yattle.brake.order import FoldOrder, Refusal, plain_order
from yattle.brake.suggest import suggestions


@lru_cache(maxsize=256)
def best_order(job: FoldJob) -> FoldOrder | Refusal:
    """The order with the lowest handling cost; or the reasons, and suggestions that were all tried."""
    started = time.perf_counter()
    found = plain_order(job)
    if isinstance(found, FoldOrder):
        return found
    return Refusal(found.reasons, tuple(suggestions(job, found.reasons)), time.perf_counter() - started)
