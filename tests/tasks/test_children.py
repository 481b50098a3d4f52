"""Real threads and real processes: answers come back, what goes on can be stopped, what dies is replaced."""

from __future__ import annotations

import contextlib
import operator
import os
import pickle
import queue
import threading
import time

import pytest

from yattle.errors import InputError
from yattle.job import demo_path, load
from yattle.section import Profile
from yattle.session.beside import search_on
from yattle.session.results import Results, work_out
from yattle.tasks import Board, Hand, On, Policy, Request
from yattle.tasks.children import Children, _Child


class Owner:
    """The thread that asks, with its own row of what comes back."""

    def __init__(self):
        self.came, self.heard, self.told = queue.SimpleQueue(), [], []
        self.board = Board(self.came.put)

    def ask(self, lane, work, *args, **kind):
        return self.board.ask(Request(lane, work, args, **({"on": On.PROCESS} | kind)), self.heard.append, self.told.append)

    def turn(self):
        with contextlib.suppress(queue.Empty):
            self.came.get(timeout=0.01)()

    def wait(self, seconds=20):
        assert self.board.finish(self.turn, seconds)
        return self.heard


@pytest.fixture
def owner():
    found = Owner()
    yield found
    found.board.leave()


@pytest.mark.parametrize("on", [On.THREAD, On.FILES, On.DEVICE, On.PROCESS])
def test_an_answer_comes_back_into_the_owner_s_thread(owner, on):
    owner.ask("a", operator.add, 2, 3, on=on)
    assert owner.heard == []
    owner.wait()
    assert owner.heard[0].result == 5


def test_work_is_done_in_another_process_and_the_same_one_remembers(owner):
    owner.ask("pid", os.getpid)
    owner.ask("pid", os.getpid)
    first, second = (answer.result for answer in owner.wait())
    assert first == second != os.getpid()


def test_what_is_wrong_there_is_said_here_with_its_field(owner):
    owner.ask("a", work_out, 1, 2, hand=True)
    owner.ask("b", Profile.model_validate_json, "{}")
    owner.ask("c", threading.Lock().acquire)
    found = {answer.request.lane: str(answer.error) for answer in owner.wait()}
    assert "something went wrong inside Yattle" in found["a"] and "ValidationError" in found["b"] and "pickle" in found["c"]


def test_an_input_error_is_the_same_on_the_other_side(owner):
    owner.ask("a", load, demo_path().with_name("nothing.yattle"))
    assert str(owner.wait()[0].error) == "nothing.yattle: cannot be read (no such file or directory)"
    copy = pickle.loads(pickle.dumps(InputError("pitch", "95°", "less")))
    assert copy.field == "pitch" and str(copy) == "pitch: found 95°, expected less"


class Unreadable:
    def __reduce__(self):
        return int, ("no number",)


def test_an_answer_that_cannot_be_read_is_said_and_the_child_goes_on(owner):
    owner.ask("a", Unreadable)
    assert "ValueError" in str(owner.wait()[-1].error)
    owner.ask("a", operator.add, 1, 1)
    assert owner.wait()[-1].result == 2


def test_a_search_tells_and_ends_with_the_best_so_far_when_it_is_stopped(owner):
    job = load(demo_path())
    owner.ask("results", work_out, job, None, hand=True)
    owner.wait(60)
    before = owner.told[0].plan
    owner.heard.clear(), owner.told.clear()
    begun = time.monotonic()
    ticket = owner.ask("search", search_on, job, before, frozenset(), 60.0, hand=True)
    while not owner.told:
        owner.turn()
    ticket.stop()
    found = owner.wait(30)[0]
    assert found.stopped and found.result.objective <= owner.told[0].objective and time.monotonic() - begun < 30


def test_a_child_that_dies_is_said_and_replaced(owner):
    owner.ask("a", os._exit, 3)
    assert "ended by itself" in str(owner.wait()[-1].error)
    owner.ask("a", operator.add, 1, 1)
    assert owner.wait()[-1].result == 2


def test_what_does_not_stop_when_something_newer_is_asked_for_is_ended(owner, monkeypatch):
    monkeypatch.setattr("yattle.tasks.children._PATIENCE", 0.2)
    owner.ask("a", time.sleep, 60, policy=Policy.LATEST)
    time.sleep(0.3)
    begun = time.monotonic()
    owner.ask("a", operator.add, 1, 1, policy=Policy.LATEST)
    owner.wait()
    assert [answer.result for answer in owner.heard] == [2] and time.monotonic() - begun < 10


def test_results_of_a_job_come_part_by_part_and_are_whole(owner):
    job = load(demo_path("net-shed"))
    owner.ask("results", work_out, job, None, hand=True)
    found = owner.wait(60)[0].result
    assert [tuple(value is not None for value in (part.plan, part.installation, part.misfits)) for part in (*owner.told, found)] == [
        (True, False, False), (False, True, False), (False, False, True)]
    for part in owner.told:
        found = part.with_more(found)
    assert isinstance(found, Results) and found.complete and found.folds_up
    assert found.installation.runs == {} and found.installation.derived is None, "small enough to be sent"


def test_values_forget_their_hash_on_the_way():
    """A text's hash is another one in another process: a value that brought its own along would not be found there."""
    job = load(demo_path())
    assert hash(job) and "_hash" in job.__dict__
    sent = pickle.loads(pickle.dumps(job))
    assert "_hash" not in sent.__dict__ and sent == job and hash(sent) == hash(job)


def test_a_pool_that_is_ended_gives_nothing_out():
    pool = Children(1)
    assert isinstance(pool._children[0], _Child)
    pool.end()
    pool.put(Request("a", operator.add, (1, 1)), Hand(), lambda answer: pytest.fail("answered"), lambda: False)
    assert pool._next() is None
