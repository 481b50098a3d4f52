"""How long a search may take."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass, field


@dataclass
class Budget:
    """How long a search may go on: up to a moment, a number of steps, or until it is asked to stop, whichever comes
    first.

    ``until``: the moment, in seconds of :func:`time.perf_counter`
    ``steps``: how many counted steps; ``done``: how many of them are spent
    ``asked``: whether somebody wants it to stop
    ``stopped``: what it ended by: ``work``, ``seconds`` or ``asked``
    ``timed``: whether its share follows from the clock too; not: from the steps alone, so that a search goes the same
        way each time and the moment only ends it
    """

    until: float
    steps: float | None = None
    asked: Callable[[], bool] = lambda: False
    begun: float = field(default_factory=time.perf_counter)
    done: int = 0
    timed: bool = True
    stopped: str = ""

    def spent(self) -> bool:
        """Whether it is over; what ended it first is kept."""
        if not self.stopped:
            if self.steps is not None and self.done >= self.steps:
                self.stopped = "work"
            elif time.perf_counter() >= self.until:
                self.stopped = "seconds"
            elif self.asked():
                self.stopped = "asked"
        return bool(self.stopped)

    @property
    def left(self) -> float:
        """Seconds until its moment; below 0 once that has passed."""
        return self.until - time.perf_counter()

    @property
    def over(self) -> bool:
        """Whether the moment has passed or somebody asked."""
        return self.left <= 0 or self.asked()

    def share(self) -> float:
        """The share of it that is over, 0 … 1, by steps or by time, whichever is more."""
        by_steps = self.done / max(self.steps, 1) if self.steps is not None else 0.0
        now, span = time.perf_counter(), self.until - self.begun
        if not self.timed:
            return by_steps if now < self.until else 1.0
        return max((now - self.begun) / span if span > 0 else 1.0, by_steps)

    @property
    def by_clock(self) -> bool:
        """Whether it was the clock that ended it."""
        return self.steps is None or self.done < self.steps
