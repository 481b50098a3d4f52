"""How long one turn of the window's event loop lasts: ``turns.py demo`` or ``turns.py large`` prints figures as JSON.

Every event that the application handles is timed, those within another one left out. ``demo`` is the sail loft,
``large`` a roof of 60 blocks with 60 eaves beside it, some 2,700 pieces.
"""

from __future__ import annotations

import json
import os
import sys
import tempfile
import time
from collections.abc import Callable
from contextlib import contextmanager
from pathlib import Path
from statistics import median

from PyQt6.QtCore import QEvent, QObject, QTimer
from PyQt6.QtWidgets import QApplication

from yattle.job import Job, demo_path, load, save
from yattle.job.model import Run
from yattle.roof import RoofPlan
from yattle.roof.starts import with_part
from yattle.values import read

BENCHES = ("survey", "trim", "brake", "coil", "fit", "log")
_QUIET = ("results", "working out")  # lanes that are waited for between two edits


class TimedApplication(QApplication):
    """An application that remembers how long its longest turn took."""

    longest = 0.0
    what = ""
    _within = False

    def notify(self, receiver: QObject | None, event: QEvent | None) -> bool:
        if TimedApplication._within:
            return super().notify(receiver, event)
        TimedApplication._within = True
        begun = time.perf_counter()
        try:
            return super().notify(receiver, event)
        finally:
            TimedApplication._within = False
            took = time.perf_counter() - begun
            if took > TimedApplication.longest:
                TimedApplication.longest = took
                TimedApplication.what = f"{type(receiver).__name__} {event.type().name if event is not None else ''}"


def house(wings: int) -> list[dict[str, object]]:
    """A main gable with ``wings`` across it, each with a dormer and a lean-to beside it."""
    blocks: list[dict[str, object]] = [
        {"id": "main", "kind": "gable", "x": 0, "y": 0, "length": 9000 + 4500 * wings, "span": 8000,
         "eave_height": 4200, "pitch": 35, "eave_overhang": 400, "rake_overhang": 300}]
    for n in range(wings):
        x = (n - (wings - 1) / 2) * 4500
        side = -1 if n % 2 else 1
        kinds = [{"kind": "gable", "y": side * 5000, "bearing": 90, "length": 6000, "span": 3600, "eave_height": 4000,
                  "pitch": 30 + n % 3, "eave_overhang": 300, "rake_overhang": 300},
                 {"kind": "gable", "y": -side * 2300, "bearing": 90, "length": 3000, "span": 1600, "eave_height": 5400,
                  "pitch": 40, "eave_overhang": 150, "rake_overhang": 150},
                 {"kind": "shed", "y": -side * 5200, "bearing": 0 if side > 0 else 180, "length": 3000, "span": 2400,
                  "eave_height": 2600, "pitch": 12, "eave_overhang": 300, "rake_overhang": 200}]
        blocks += [{"id": f"{name}{n}", "x": x, **kind} for name, kind in zip("abc", kinds, strict=True)]
    return blocks


def large() -> Job:
    """The large job: 60 blocks and 60 eaves by themselves, on coil without end."""
    demo = load(demo_path())
    plan = read(RoofPlan, json.dumps({"blocks": house(20)[:60]}))
    runs = tuple(Run(id=f"E{n}", name=f"eave {n}", pitch=20.0 + n % 25, length=15_000.0 + n,
                     at=(0.0, -2500.0 * (n - 880)))
                 for n in range(900, 960))
    stock = tuple(piece.but(length=None) if piece.kind == "coil" else piece for piece in demo.stock)
    return demo.but(name="large", roof=plan, runs=runs, openings=(), taped=(), laps=(), printed=(), log=(), stock=stock)


@contextmanager
def longest_turn():
    """The longest turn meanwhile, ms, and what it was, in a list."""
    TimedApplication.longest, TimedApplication.what = 0.0, ""
    found: list[object] = []
    yield found
    found += [round(1000 * TimedApplication.longest), TimedApplication.what]


class Hand:
    """Does things to a window within turns of its event loop and times them."""

    def __init__(self, app: QApplication, path: Path, patience: float) -> None:
        from yattle.ui.app import make_app, make_window

        self.app, self.patience = app, patience
        make_app()
        self.window = make_window(path)
        self.window.resize(1280, 800)
        self.window.show()
        self.session = self.window.store.session

    def stay(self, seconds: float) -> None:
        until = time.perf_counter() + seconds
        while time.perf_counter() < until:
            self.app.processEvents()
            time.sleep(0.001)

    def settle(self) -> None:
        until = time.perf_counter() + self.patience
        while (self.window.store.board.busy(*_QUIET) or self.session.working) and time.perf_counter() < until:
            self.stay(0.002)
        self.stay(0.05)

    def act(self, deed: Callable[[], object]) -> float:
        """Do ``deed`` in a turn of its own and paint; the milliseconds until it is painted."""
        done: list[bool] = []
        begun = time.perf_counter()
        QTimer.singleShot(0, lambda: done.append(bool(deed()) or True))
        while not done or self.session.working:
            self.app.processEvents()
            time.sleep(0.0005)  # as an event loop that has nothing to do
        self.app.processEvents()
        return 1000 * (time.perf_counter() - begun)

    def times(self, deed: Callable[[int], object], many: int, settled: bool = True) -> dict[str, object]:
        """``deed(n)`` so many times: the median until it is painted, and the longest turn of all."""
        took, worst = [], (0, "")
        for n in range(many):
            with longest_turn() as turn:
                took.append(self.act(lambda n=n: deed(n)))
                self.settle() if settled else self.stay(0.12)
            worst = max(worst, (turn[0], turn[1]))
        return {"painted_median": round(median(took)), "painted_most": round(max(took)), "longest_turn": worst}


def measure(hand: Hand, rounds: int) -> dict[str, object]:
    """The figures: each bench shown, a leg typed on each, a leg while everything still runs, the standard, a block."""
    session, window, found = hand.session, hand.window, dict[str, object]()
    with longest_turn() as turn:
        hand.settle()
        hand.stay(4.0)  # the other benches are set up
    found["start"] = {"longest_turn": tuple(turn)}
    run = [one.run.id for one in session.derived.runs if one.run.kind == "eave" and one.pieces][3]
    for bench in BENCHES:
        found[f"{bench} shown"] = hand.times(lambda _, bench=bench: window.show_bench(bench), 1)
    for k, bench in enumerate(BENCHES):
        window.show_bench(bench)
        session.select(run=run)
        hand.settle()
        found[f"leg on {bench}"] = hand.times(lambda n, k=k: session.set_own(run, "face", 80 + n / 2 + k / 50), rounds)
    window.show_bench("trim")
    found["leg on trim, everything still running"] = hand.times(
        lambda n: session.set_own(run, "face", 100 + n / 2), 3 * rounds, settled=False)
    hand.settle()
    found["standard's leg on trim"] = hand.times(lambda n: session.edit(
        "standard", lambda job: job.but(own=job.own.but(face=88 + n / 2))), rounds)
    block = session.job.roof.blocks[1]
    for k, bench in enumerate(("survey", "trim")):
        window.show_bench(bench)
        found[f"block moved on {bench}"] = hand.times(lambda n, k=k: session.edit("move", lambda job: job.but(
            roof=with_part(job.roof, block.id, x=block.x + 25 * n + 11 * k))), rounds)
    found["pieces"] = session.derived.piece_count
    found["longest_turn"] = max(v["longest_turn"] for v in found.values() if isinstance(v, dict))
    return found


def main(which: str) -> None:
    for name in ("XDG_CONFIG_HOME", "XDG_STATE_HOME"):  # nobody's own settings
        os.environ[name] = tempfile.mkdtemp()
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    app = TimedApplication(["yattle"])
    path = demo_path()
    if which == "large":
        path = Path(tempfile.mkdtemp()) / "large.yattle"
        save(large(), path)
    hand, rounds = (Hand(app, path, 20.0), 8) if which == "demo" else (Hand(app, path, 4.0), 4)
    print(json.dumps(measure(hand, rounds), indent=1), flush=True)
    os._exit(0)


if __name__ == "__main__":
    main(sys.argv[1] if len(sys.argv) > 1 else "demo")
