"""The coil bench looks for a better plan beside the window: begun, told, stopped, kept, thrown away when the job changes."""

from __future__ import annotations

import json

import pytest
from hands import settle, type_into
from PyQt6.QtCore import Qt

from yattle.coil import faults
from yattle.job import demo_path, load
from yattle.job.derive import nest_job

DEMO = load(demo_path("net-shed"))


@pytest.fixture
def bench(open_window, qtbot):
    window = open_window(DEMO)
    window.show_bench("coil")
    settle(window, qtbot)
    found = window.benches["coil"]
    qtbot.waitUntil(lambda: found.answer is not None, timeout=20000)
    return window, found


def test_a_better_plan_is_found_and_kept(bench, qtbot):
    window, coil = bench
    before = coil.answer
    coil.finder.seconds = 3.0
    qtbot.mouseClick(coil.look_on, Qt.MouseButton.LeftButton)
    assert coil.look_on.text() == "stop" and coil.finder.busy
    qtbot.waitUntil(lambda: not coil.finder.busy, timeout=20000)
    assert coil.look_on.text() == "search on" and coil.progress.text()
    derived = window.store.session.derived
    assert coil.answer.objective <= before.objective and derived.nest is coil.answer
    assert faults(nest_job(derived), json.loads(json.dumps(coil.answer.answer()))) == []
    assert coil.used_says() in window.rail.buttons["coil"].under


def test_it_can_be_stopped_and_a_changed_job_ends_it(bench, qtbot):
    window, coil = bench
    coil.finder.seconds = 60.0
    coil.search()
    coil.search()
    qtbot.waitUntil(lambda: not coil.finder.busy, timeout=20000)
    coil.search()
    before = coil.answer
    type_into(coil.slate.row("width"), "1000", qtbot)
    qtbot.waitUntil(lambda: not coil.finder.busy, timeout=20000)
    settle(window, qtbot)
    assert coil.answer is not before and window.store.session.derived.nest is coil.answer
