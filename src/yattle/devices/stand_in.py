"""A folder that is not there: it folds with a springback and a scatter of its own."""

from __future__ import annotations

import random


class StandInFolder:
    """Call it with a command line, it gives the answer line.

    ``springback``: the leaf's angle over the fold's that stays, unknown to who asks; ``scatter``
    degrees (standard deviation) of what is measured. The same ``seed`` gives the same piece again.
    """

    def __init__(self, springback: float = 1.037, scatter: float = 0.25, seed: int = 1, reach: float = 450.0,
                 most: float = 150.0) -> None:
        self._springback, self._scatter, self._random = springback, scatter, random.Random(seed)
        self._reach, self._most = reach, most
        self.gauge_at = 0.0

    def __call__(self, line: str) -> str:
        words = line.split()
        if words == ["HELLO"]:
            return "FOLDER 1 stand-in folder"
        if words == ["FLATTEN"]:
            return "OK FLATTEN"
        if len(words) != 2 or words[0] not in ("GAUGE", "FOLD"):
            return f"ERR unknown command {line[:40]!r}"
        try:
            value = float(words[1])
        except ValueError:
            return f"ERR {words[1][:20]!r} is no number"
        return self._gauge(value) if words[0] == "GAUGE" else self._fold(value)

    def _gauge(self, mm: float) -> str:
        if not 0 <= mm <= self._reach:
            return f"ERR gauge reaches 0 to {self._reach:g} mm"
        self.gauge_at = mm
        return f"OK GAUGE {mm:.2f}"

    def _fold(self, angle: float) -> str:
        if not 0 < angle <= self._most:
            return f"ERR leaf reaches {self._most:g} degrees"
        return f"OK FOLD {angle / self._springback + self._random.gauss(0, self._scatter):.2f}"
