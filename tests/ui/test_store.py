"""Work beside the window: answers, errors, newer requests."""

from __future__ import annotations

import threading

import pytest
from PyQt6.QtCore import QThreadPool

from samples import eaves_path
from yattle.errors import InputError, YattleError
from yattle.job import load
from yattle.ui.store import Desk, Store, Worker


def test_an_answer_comes_back_on_the_window_s_thread(qtbot):
    worker, got = Worker(), []
    worker.ask(lambda: threading.get_ident(), lambda result: got.append((result, threading.get_ident())))
    assert worker.busy
    qtbot.waitUntil(lambda: bool(got), timeout=3000)
    assert got[0][0] != got[0][1] == threading.get_ident() and not worker.busy


def test_a_newer_request_replaces_an_older_one(qtbot):
    worker, got, gate = Worker(), [], threading.Event()
    worker.ask(lambda: gate.wait(3) and "old", got.append)
    worker.ask(lambda: "new", got.append)
    qtbot.waitUntil(lambda: bool(got), timeout=3000)
    gate.set()
    qtbot.wait(60)
    assert got == ["new"]


def test_errors_come_as_the_result(qtbot):
    worker, got = Worker(), []

    def wrong():
        raise InputError("pitch", "95°", "less")

    worker.ask(wrong, got.append)
    assert worker.finish(3) and isinstance(got[0], InputError)
    worker.ask(lambda: 1 / 0, got.append)
    assert worker.finish(3) and isinstance(got[1], YattleError) and "ZeroDivisionError" in str(got[1])


def test_a_request_that_waits_can_be_replaced_before_it_starts(qtbot):
    worker, got, ran = Worker(), [], []
    worker.ask(lambda: ran.append("late"), got.append, after=80)
    worker.ask(lambda: ran.append("now"), got.append)
    worker.finish(3)
    qtbot.wait(150)
    assert ran == ["now"] and got == [None]


def test_two_desks_share_one_patience(qtbot, monkeypatch):
    """However many slow answers a refresh asks for, the window is willing to wait once."""
    willing = []
    monkeypatch.setattr(threading.Event, "wait", lambda self, timeout=None: bool(willing.append(timeout)))
    monkeypatch.setattr(Desk, "_waited", 0.0)
    for _ in range(4):
        Desk._wait(threading.Event())
        Desk._waited += Desk.PATIENCE / 2  # as if it had waited so long
    assert willing[0] == pytest.approx(Desk.PATIENCE) and willing[1] < 0.6 * Desk.PATIENCE and willing[2:] == [0.0, 0.0]
    Desk._moved_on()
    Desk._wait(threading.Event())
    assert willing[-1] == pytest.approx(Desk.PATIENCE), "the next turn has its own patience"


def test_a_question_nobody_began_with_gives_way(qtbot):
    """While the helpers are busy only the newest of the questions that replace each other stays in the queue."""
    desk, gate, ran = Desk(), threading.Event(), []
    for n in range(QThreadPool.globalInstance().maxThreadCount()):
        desk.get(("busy", n), lambda: gate.wait(30))
    for n in range(4):
        assert desk.get(("adjust", n), lambda n=n: ran.append(n) or n, instead=True) is None
    gate.set()
    qtbot.waitUntil(lambda: not desk.busy, timeout=15000)
    assert ran == [3] and desk.get(("adjust", 3), lambda: None) == 3


def test_the_store_says_what_changed_and_what_is_wrong(qtbot):
    store = Store(load(eaves_path()))
    with qtbot.waitSignal(store.job_changed, timeout=1000):
        assert store.attempt(lambda: store.session.set_own("E1", "face", 100.0)) is None
    with qtbot.waitSignal(store.selection_changed, timeout=1000):
        store.session.select(run="E4")
    with qtbot.waitSignal(store.trouble, timeout=1000) as heard:
        assert not store.attempt_aloud(lambda: store.session.set_own("E1", "face", 9999.0))
    assert "expected face from" in heard.args[0]
