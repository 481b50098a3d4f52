"""Work shared with a copy of the process: the same answers, whoever gives them, and no trace of who did."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import threading
import time
from functools import partial

import numpy as np
import pytest

from yattle import cores
from yattle.cli import main
from yattle.cores import beside, shared
from yattle.job import demo_path


def _mine(n: int) -> tuple[int, int]:
    time.sleep(0.05)
    return n, os.getpid()


@pytest.mark.parametrize("apart", [True, False])
def test_answers_come_in_the_order_of_the_work(apart):
    found = shared([partial(_mine, n) for n in range(8)], apart)
    assert [n for n, _ in found] == list(range(8))
    assert len({who for _, who in found}) == (2 if apart else 1) and os.getpid() in {who for _, who in found}


def test_one_piece_of_work_or_none_is_done_here():
    assert shared([partial(_mine, 5)], True) == [(5, os.getpid())] and shared([], True) == []


def test_large_answers_come_back_whole():
    rows = shared([partial(np.full, (400, 300), float(n)) for n in range(6)], True)
    assert all((row == n).all() and row.shape == (400, 300) for n, row in enumerate(rows))


def _wrong(n: int) -> int:
    time.sleep(0.02)
    if n == 3:
        raise ValueError("leg: found nothing, expected a length")
    return n


def test_what_the_work_raises_is_raised_whoever_took_it():
    for _ in range(4):
        with pytest.raises(ValueError, match="leg: found nothing"):
            shared([partial(_wrong, n) for n in range(6)], True)


def _dies(here: int, n: int) -> int:
    time.sleep(0.02)
    if os.getpid() != here:
        os.kill(os.getpid(), signal.SIGKILL)
    return n


def test_work_of_a_copy_that_was_ended_is_done_again_here():
    assert shared([partial(_dies, os.getpid(), n) for n in range(6)], True) == list(range(6))


def _marked(folder, n: int) -> tuple[int, int]:
    (folder / str(n)).write_text(str(os.getpid()))
    time.sleep(0.02)
    return n, os.getpid()


def test_a_copy_begins_while_something_else_goes_on_and_what_it_left_is_done_here(tmp_path):
    with beside([partial(_marked, tmp_path, n) for n in range(40)], True) as answers:
        until = time.monotonic() + 30.0
        while not (tmp_path / "3").exists() and time.monotonic() < until:
            time.sleep(0.005)
        found = answers()
    assert [n for n, _ in found] == list(range(40))
    assert os.getpid() not in {who for _, who in found[:4]} and os.getpid() in {who for _, who in found}
    with beside([partial(_marked, tmp_path, n) for n in range(3)], False) as answers:
        assert answers() == [(n, os.getpid()) for n in range(3)]


def test_a_copy_whose_answers_nobody_wants_is_ended(tmp_path):
    began = time.monotonic()
    with pytest.raises(KeyError), beside([partial(time.sleep, 60)], True):
        raise KeyError
    with beside([partial(time.sleep, 60)], True):
        pass
    assert time.monotonic() - began < 30


def _unsent(n: int) -> object:
    time.sleep(0.02)
    return threading.Lock() if n % 2 else n


def test_answers_that_cannot_be_sent_are_worked_out_here():
    found = shared([partial(_unsent, n) for n in range(6)], True)
    assert found[::2] == [0, 2, 4] and all(hasattr(one, "acquire") for one in found[1::2])


def test_no_copy_and_no_pipe_is_left_behind(monkeypatch):
    held, copies, copy = len(os.listdir("/proc/self/fd")), list[int](), cores._copy
    monkeypatch.setattr(cores, "_copy", lambda: copies.append(copy()) or copies[-1])
    for _ in range(5):
        shared([partial(_mine, n) for n in range(3)], True)
        with pytest.raises(ValueError):
            shared([partial(_wrong, n) for n in range(2, 5)], True)
    assert len(os.listdir("/proc/self/fd")) == held
    assert len(copies) == 10
    for helper in copies:
        with pytest.raises(ProcessLookupError):
            os.kill(helper, 0)


def test_a_copy_does_not_outlive_who_asked_by_more_than_a_piece_of_work(tmp_path):
    """The process that asks is killed while both are at work: the copy ends after the piece that it is at."""
    code = (f"import os, time, sys; from functools import partial; from yattle.cores import shared\n"
            f"def piece(n):\n    open(r'{tmp_path}/' + str(os.getpid()), 'a').write('x'); time.sleep(0.2)\n"
            f"shared([partial(piece, n) for n in range(200)], True)")
    asks = subprocess.Popen([sys.executable, "-c", code])
    until = time.monotonic() + 30.0
    while len(list(tmp_path.iterdir())) < 2 and time.monotonic() < until:
        time.sleep(0.01)
    asks.kill()
    asks.wait()
    helper, = (path for path in tmp_path.iterdir() if path.name != str(asks.pid))
    time.sleep(1.0)
    done = helper.read_text()
    time.sleep(1.0)
    assert helper.read_text() == done and 0 < len(done) < 50


def test_threads_at_work_and_a_window_share_nothing(monkeypatch):
    """Asked in a process of its own: this one may have threads of who runs the tests."""
    code = ("import threading, time; from yattle import cores; a = cores.can_share();"
            "threading.Thread(target=time.sleep, args=(9,), daemon=True, name=cores.LISTENS).start();"
            "b = cores.can_share();"
            "threading.Thread(target=time.sleep, args=(9,), daemon=True).start(); print(a, b, cores.can_share())")
    run = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True, timeout=60)
    free = len(os.sched_getaffinity(0)) > 1
    assert run.stdout.split() == [str(free), str(free), "False"]
    window = ("import sys, PyQt6.QtCore as core; from yattle import cores; a = cores.can_share();"
              "app = core.QCoreApplication([]); print(a, cores.can_share())")
    run = subprocess.run([sys.executable, "-c", window], capture_output=True, text=True, check=True, timeout=60)
    assert run.stdout.split() == [str(free), "False"]
    monkeypatch.delattr(cores.os, "fork")
    assert not cores.can_share()


@pytest.mark.parametrize("demo", ["sail-loft", "net-shed"])
def test_a_roof_put_together_by_two_is_the_same_as_by_one(demo, capsys, monkeypatch):
    monkeypatch.setattr(cores, "can_share", lambda: False)
    status = main(["built", str(demo_path(demo))])
    alone = json.loads(capsys.readouterr().out)
    run = subprocess.run([sys.executable, "-m", "yattle", "built", str(demo_path(demo))], capture_output=True,
                         text=True, check=False, timeout=120)
    assert run.returncode == status == 0 and not run.stderr and json.loads(run.stdout) == alone
