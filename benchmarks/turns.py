"""How long one turn of the window's event loop lasts: every event that the application handles is timed."""

from __future__ import annotations

import time
from contextlib import contextmanager

from PyQt6.QtCore import QEvent, QObject
from PyQt6.QtWidgets import QApplication


class TimedApplication(QApplication):
    """An application that remembers how long its events took, those within another one left out."""

    longest = 0.0
    what = ""
    turns: list[float] = []  # noqa: RUF012  (there is one application)
    _deep = 0

    def notify(self, receiver: QObject | None, event: QEvent | None) -> bool:
        if TimedApplication._deep:
            return super().notify(receiver, event)
        TimedApplication._deep += 1
        begun = time.perf_counter()
        try:
            return super().notify(receiver, event)
        finally:
            TimedApplication._deep -= 1
            took = time.perf_counter() - begun
            TimedApplication.turns.append(took)
            if took > TimedApplication.longest:
                kind = event.type() if event is not None else ""
                TimedApplication.longest, TimedApplication.what = took, f"{type(receiver).__name__} {kind}"


@contextmanager
def longest_turn():
    """The longest turn meanwhile, in a list with its milliseconds and what it was."""
    TimedApplication.longest, TimedApplication.what, TimedApplication.turns = 0.0, "", []
    found: list[object] = []
    yield found
    found += [1000 * TimedApplication.longest, TimedApplication.what]
