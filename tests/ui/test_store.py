"""The store: answers kept by their questions, one patience for all, what changed and what is wrong."""

from __future__ import annotations

import threading

import pytest

from samples import eaves_path
from yattle.job import load
from yattle.tasks import On
from yattle.ui.store import Desk, Store


@pytest.fixture
def store(qtbot):
    found = Store(load(eaves_path()))
    yield found
    found.board.stop()
    assert found.finish(seconds=20)


def test_two_desks_share_one_patience(store, monkeypatch):
    """However many slow answers a refresh asks for, the window is willing to wait once."""
    willing, one, other = [], Desk(store, "one"), Desk(store, "other")
    monkeypatch.setattr(store.board, "wait", lambda ticket, seconds: bool(willing.append(seconds)))
    monkeypatch.setattr(Desk, "_waited", 0.0)
    for n, desk in enumerate((one, other, one, other)):
        desk.get((f"question {n}",), pow, 2, 3, on=On.THREAD)
        Desk._waited += Desk.PATIENCE / 2  # as if it had waited so long
    assert willing[0] == pytest.approx(Desk.PATIENCE) and willing[1] < 0.6 * Desk.PATIENCE and willing[2:] == [0.0, 0.0]
    Desk._moved_on()
    one.get(("next turn",), pow, 2, 3, on=On.THREAD)
    assert willing[-1] == pytest.approx(Desk.PATIENCE), "the next turn has its own patience"


def test_a_question_gives_way_to_a_newer_one_of_its_kind(store, qtbot):
    """Only the newest of the questions that replace each other is answered; others are each answered in turn."""
    desk, gate, ran = Desk(store, "desk"), threading.Event(), []
    desk.get(("adjust", 0), gate.wait, 10, on=On.THREAD)
    for n in range(1, 5):
        assert desk.get(("adjust", n), gate.wait, 10, on=On.THREAD) is None
    for n in range(3):
        desk.get(("lay", n), ran.append, n, instead=False, on=On.THREAD)
    gate.set()
    qtbot.waitUntil(lambda: not desk.busy and len(ran) == 3, timeout=15000)
    assert ran == [0, 1, 2] and desk.get(("adjust", 4), pow, 1, 1) is True
    assert desk.get(("adjust", 1), int, "7", on=On.THREAD) == 7, "the older one was let go, and can be asked again"


def test_errors_come_as_the_answer_and_are_said(store, qtbot):
    desk, heard = Desk(store, "desk"), []
    desk.trouble.connect(heard.append)
    found = desk.get(("number",), int, "seven", on=On.THREAD)
    qtbot.waitUntil(lambda: bool(heard), timeout=3000)
    assert "ValueError" in heard[0] and (found is None or "ValueError" in str(found))
    assert "ValueError" in str(desk.get(("number",), int, "seven"))


def test_the_store_says_what_changed_and_what_is_wrong(store, qtbot):
    with qtbot.waitSignal(store.job_changed, timeout=1000):
        assert store.attempt(lambda: store.session.set_own("E1", "face", 100.0)) is None
    with qtbot.waitSignal(store.selection_changed, timeout=1000):
        store.session.select(run="E4")
    with qtbot.waitSignal(store.trouble, timeout=1000) as heard:
        assert not store.attempt_aloud(lambda: store.session.set_own("E1", "face", 9999.0))
    assert "expected face from" in heard.args[0]
