"""The folder's line protocol against the stand-in, and against devices that misbehave."""

from __future__ import annotations

import statistics

import pytest

from samples import section
from yattle.brake import SHOP_BRAKE, FoldJob, best_order
from yattle.brake.batch import batch
from yattle.devices import DeviceProblem, Folder, StandInFolder, fold_piece

ORDER = best_order(FoldJob(profile=section((85.0, 95.0, 18.0), (-58.0, 42.0)), length=2400.0, brake=SHOP_BRAKE))


def test_a_piece_is_folded_and_measured():
    stand_in = StandInFolder(springback=1.05, scatter=0.0)
    measured = fold_piece(Folder(stand_in), ORDER.steps)
    assert [m.fold for m in measured] == [s.fold for s in ORDER.steps if s.action == "fold"]
    assert all(m.springback == pytest.approx(1.05, abs=1e-3) for m in measured)
    assert stand_in.gauge_at == pytest.approx(ORDER.steps[-1].mark_from_out_edge, abs=0.01)


def test_the_hidden_springback_shows_through_the_scatter():
    folder = Folder(StandInFolder(springback=1.04, scatter=0.3, seed=7))
    found = [m.springback for _ in range(40) for m in fold_piece(folder, ORDER.steps)]
    spread = statistics.stdev(found) / len(found) ** 0.5
    assert abs(statistics.mean(found) - 1.04) < 4 * spread


def test_the_same_seed_is_the_same_piece():
    first, second = (fold_piece(Folder(StandInFolder(seed=3)), ORDER.steps) for _ in range(2))
    assert first == second != fold_piece(Folder(StandInFolder(seed=4)), ORDER.steps)


@pytest.mark.parametrize(("line", "answer"), [("FOLD 170", "ERR leaf"), ("FOLD -3", "ERR leaf"), ("GAUGE 900", "ERR gauge"),
                                              ("GAUGE x", "ERR 'x'"), ("DANCE", "ERR unknown"), ("", "ERR unknown"),
                                              ("FOLD nan", "ERR leaf")])
def test_the_stand_in_refuses_what_it_cannot_do(line, answer):
    assert StandInFolder()(line).startswith(answer)


@pytest.mark.parametrize("answer", ["", "OK", "OK FOLD", "OK FOLD nan", "OK FOLD ten", "ERR blown fuse", "OK GAUGE 3"])
def test_an_answer_that_is_none_is_said(answer):
    folder = Folder(StandInFolder())
    folder._exchange = lambda line: answer
    with pytest.raises(DeviceProblem, match="the folder"):
        folder.fold(90.0)


def test_a_gauge_that_stands_wrong_or_a_dead_line():
    folder = Folder(StandInFolder())
    folder._exchange = lambda line: "OK GAUGE 99.00"
    with pytest.raises(DeviceProblem, match=r"expected 84\.70"):
        folder.gauge(84.7)

    def dead(line):
        raise TimeoutError(110, "Connection timed out")

    with pytest.raises(DeviceProblem, match="does not answer"):
        Folder(dead)
    with pytest.raises(DeviceProblem, match="FOLDER 1"):
        Folder(lambda line: "HTTP/1.1 400")


def test_batch_by_hand():
    """Hem fold and flatten share a mark; so three settings a piece, and six pieces."""
    plan = batch(ORDER.steps, 6)
    assert plan.settings_each == 3 and plan.handling == 6 * ORDER.cost
    assert plan.one_by_one == (6, 18) and plan.all_at_once == (18, 3)
    assert plan.better(lift=2.0, setting=1.0) == "one by one" and plan.better(lift=1.0, setting=3.0) == "all at once"


@pytest.mark.parametrize("angle", ["-57.00", "1e300", "0.00", "20.00", "160.00", "nan"])
def test_an_angle_that_cannot_be_this_fold_s_is_not_taken(angle):
    def lying(line):
        return "FOLDER 1 x" if line == "HELLO" else f"OK FOLD {angle}"
    with pytest.raises(DeviceProblem):
        Folder(lying).fold(92.0)
    assert Folder(lambda line: "FOLDER 1 x" if line == "HELLO" else "OK FOLD 89.10").fold(92.0) == 89.1
