"""The benches by name, each set up when it is first wanted, so that the window opens at once."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QStackedWidget, QWidget

from yattle.ui.benches.base import BenchPage
from yattle.ui.benches.brake.view import BrakeBench
from yattle.ui.benches.coil.view import CoilBench
from yattle.ui.benches.install.view import InstallBench
from yattle.ui.benches.log.view import LogBench
from yattle.ui.benches.opening.view import OpeningBench
from yattle.ui.benches.survey.view import SurveyBench
from yattle.ui.benches.trim.view import TrimBench
from yattle.ui.store import Store

BENCHES: tuple[type[BenchPage], ...] = (SurveyBench, TrimBench, BrakeBench, CoilBench, InstallBench, LogBench)
"""As they stand on the rail."""
PAGES: tuple[type[BenchPage], ...] = (*BENCHES, OpeningBench)  # the last in the place of the trim bench
_BETWEEN, _BUSY = 20, 375  # ms between two steps of setting up; while something else is worked out


class Benches(dict[str, BenchPage]):
    """The benches of one window: their pages go onto one stack, their slates onto another."""

    def __init__(self, store: Store, stack: QStackedWidget, slates: QStackedWidget) -> None:
        super().__init__()
        self._store, self._stack, self._slates = store, stack, slates

    def __missing__(self, name: str) -> BenchPage:
        kind = next(bench for bench in PAGES if bench.name == name)
        bench = self[name] = kind(self._store)
        self._stack.addWidget(bench)
        self._slates.addWidget(bench.slate)
        return bench

    def prepare(self, going_on: Callable[[], bool]) -> None:
        """Set up what is not there yet, a little in each turn of the event loop, so that no bench is slow when it is
        wanted first; while ``going_on``."""
        deeds: list[Callable[[], object]] = []
        for bench in PAGES:
            deeds += [lambda name=bench.name: self[name], lambda name=bench.name: self[name].slate.refresh(),  # type: ignore[misc]
                      lambda name=bench.name: _dress(self[name]), lambda name=bench.name: _dress(self[name].slate)]  # type: ignore[misc]

        def next_one() -> None:
            if not deeds or not going_on():
                return
            busy = self._store.board.busy("results", "working out")  # one thing after another
            if not busy:
                deeds.pop(0)()
            QTimer.singleShot(_BUSY if busy else _BETWEEN, next_one)
        next_one()


def _dress(widget: QWidget) -> None:
    """Have a widget and all in it get their style now, not when they are shown."""
    for part in widget.findChildren(QWidget):
        part.ensurePolished()
