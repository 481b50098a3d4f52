"""Requests and answers, in step: what newer ones do to older ones, what is refused, what is told, what is stopped."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yattle.errors import InputError, YattleError
from yattle.tasks import Board, Busy, On, Policy, Request, Target
from yattle.tasks.executors import InStep


class Desk:
    """A board whose work is done when the test says so, and what it has heard."""

    def __init__(self):
        self.executors, self.heard, self.told = InStep(), [], []
        self.board = Board(lambda deed: deed(), self.executors)

    def ask(self, lane, work, *args, **kind):
        return self.board.ask(Request(lane, work, args, **kind), self.heard.append, self.told.append)

    @property
    def results(self):
        return [answer.result for answer in self.heard]


@pytest.fixture
def desk():
    return Desk()


def test_latest_a_newer_one_takes_the_place_of_older_ones(desk):
    old, new = (desk.ask("preview", str, n, policy=Policy.LATEST) for n in (1, 2))
    assert old.dropped and old.halt.is_set() and desk.board.busy("preview")
    desk.executors.step(1)
    desk.executors.step()
    assert desk.results == ["2"] and new.over and not desk.board.busy()


def test_queue_every_one_is_answered_in_turn_and_failures_too(desk):
    """Two papers asked for one after the other: both are done, both reported, the first one's failure as well."""
    def fails():
        raise InputError("paper", "no room", "a disk with room")
    desk.ask("papers", fails, target=Target("file", "first.pdf"))
    desk.ask("papers", str, 2, target=Target("file", "second.pdf"))
    desk.ask("files", str, 3)
    assert [one[0].lane for one in desk.executors.waiting] == ["papers", "files"], "the second waits for the first"
    desk.executors.step()
    assert desk.heard[0].error.field == "paper" and desk.heard[0].request.target.of == "first.pdf"
    desk.executors.step()
    desk.executors.step()
    assert sorted(str(result) for result in desk.results) == ["2", "3", "None"]


def test_exclusive_a_second_one_is_refused_until_the_first_has_ended(desk):
    desk.ask("the folder", str, 1, policy=Policy.EXCLUSIVE)
    with pytest.raises(Busy, match="the folder: found it at work already, expected it to have ended"):
        desk.ask("the folder", str, 2, policy=Policy.EXCLUSIVE)
    desk.ask("the coil line", str, 3, policy=Policy.EXCLUSIVE)
    desk.executors.step()
    desk.ask("the folder", str, 4, policy=Policy.EXCLUSIVE)
    desk.executors.step()
    desk.executors.step()
    assert desk.results == ["1", "3", "4"]


def test_a_hand_tells_and_hears_that_it_is_to_stop(desk):
    def count(hand, most):
        for n in range(most):
            if hand.stopped():
                return n
            hand.tell(n)
            if n == 2:
                ticket.stop()
        return most
    ticket = desk.ask("search", count, 100, hand=True)
    desk.executors.step()
    assert desk.told == [0, 1, 2] and desk.results == [3] and desk.heard[0].stopped


def test_a_fault_is_an_answer_and_what_was_dropped_is_not_told(desk):
    desk.ask("a", lambda: 1 / 0)
    desk.executors.step()
    assert isinstance(desk.heard[0].error, YattleError) and "ZeroDivisionError" in str(desk.heard[0].error)
    desk.ask("b", lambda hand: hand.tell("old"), policy=Policy.LATEST, hand=True)
    waiting = desk.executors.waiting[0]
    desk.ask("b", str, 1, policy=Policy.LATEST)
    waiting[1].tell("too late")
    assert desk.told == []


def test_who_leaves_hears_no_previews_and_all_papers(desk):
    desk.ask("preview", str, 1, policy=Policy.LATEST)
    desk.ask("papers", str, 2)
    desk.board.leave()
    desk.executors.step()
    desk.executors.step()
    assert desk.results == ["2"]


def test_a_board_that_is_held_begins_when_it_is_let_go(desk):
    desk.board.hold()
    desk.ask("a", str, 1)
    assert desk.executors.waiting == [] and desk.board.busy("a")
    desk.board.resume()
    desk.executors.step()
    assert desk.results == ["1"] and desk.board.finish(lambda: None, 0.01, "a") is not False


@given(st.lists(st.tuples(st.sampled_from(list(Policy)), st.sampled_from("ab"), st.integers(0, 5)), max_size=25))
def test_whatever_is_asked_and_in_whatever_order_it_is_done_nothing_queued_is_lost(deeds):
    """Each request of a queue is answered once, the last of a row of previews is, a refused one never."""
    desk, queued, latest, n = Desk(), [], {}, 0
    for policy, lane, place in deeds:
        n += 1
        lane = f"{policy.value} {lane}"
        try:
            desk.ask(lane, str, n, policy=policy)
        except Busy:
            assert policy is Policy.EXCLUSIVE
            continue
        if policy is Policy.LATEST:
            latest[lane] = str(n)
        else:
            queued.append(str(n))
        if place < len(desk.executors.waiting):
            desk.executors.step(place)
    while desk.executors.waiting:
        desk.executors.step()
    assert not desk.board.busy()
    assert sorted(r for r in desk.results if r in queued) == sorted(queued)
    assert set(latest.values()) <= set(desk.results) and len(desk.results) == len(set(desk.results))


def test_a_target_says_what_it_is_for():
    assert str(Target("run", "E1", "length")) == "E1 length" and str(Target("job")) == "job"
    assert Request("a", str).on is On.THREAD
