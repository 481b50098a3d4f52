"""The packing engine (the spyrrow package) in a process of its own, since nothing can stop it from within.

A question comes as JSON on the standard input; plans in which nothing overlaps go out as lines of JSON, each shorter
than the one before. It is run as a file by itself, so that it is there at once: ``python -P packer.py``.
"""

from __future__ import annotations

import json
import os
import sys
import threading
from typing import Any

DOES_NOT_FIT = 3  # exit code: the engine cannot place a part that only just fits
_LOOK = 0.05  # seconds between two looks at what it has


def main() -> int:
    import spyrrow

    question = json.load(sys.stdin)
    items = [spyrrow.Item(name, [tuple(point) for point in ring], many, turns)
             for name, ring, many, turns in question["items"]]
    config = spyrrow.StripPackingConfig(
        early_termination=True, min_items_separation=question["apart"], seed=question["seed"],
        num_workers=question["processors"], total_computation_time=question["seconds"])
    task, queue = spyrrow.StripPackingInstance("strip", question["high"], items), spyrrow.ProgressQueue()
    code: list[int] = []

    def solve() -> None:
        try:
            task.solve(config, queue)
            code.append(0)
        except BaseException as trouble:  # the engine's own panic is no Exception
            code.append(DOES_NOT_FIT if type(trouble).__name__ == "PanicException" else 1)
    search = threading.Thread(target=solve, daemon=True)
    parent, best = os.getppid(), float("inf")
    search.start()
    while search.is_alive() and os.getppid() == parent:
        search.join(_LOOK)
        best = _write(queue, best)
    return code[0] if code else 1


def _write(queue: Any, best: float) -> float:
    """Write the shortest plan that came since the last look, if it is shorter than ``best``; its length."""
    plans = [plan for kind, plan in queue.drain() if "Improving" not in str(kind) and plan.width <= best]
    if not plans:
        return best
    plan = min(plans, key=lambda one: one.width)
    rows = [(place.id, float(place.rotation), *map(float, place.translation)) for place in plan.placed_items]
    print(json.dumps(rows), flush=True)
    return float(plan.width)


if __name__ == "__main__":
    ended = main()
    sys.stdout.flush()
    os._exit(ended)  # the engine's own threads are not waited for
