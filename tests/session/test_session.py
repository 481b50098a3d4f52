"""One job in a session: edits of large jobs worked out beside the window, results by one door, gates, selection."""

from __future__ import annotations

import threading

import pytest

from samples import eaves_path
from yattle.derive import derive
from yattle.derive.roof_runs import run_of
from yattle.errors import InputError
from yattle.job import Job, demo_path, load
from yattle.session import Session
from yattle.session.results import Results
from yattle.session.session import Selection
from yattle.tasks import Answer, Board
from yattle.tasks.executors import InStep

DEMO = load(demo_path())
EAVES = load(eaves_path())


class Slow:
    """A session whose work is done when the test says so, and all that it tells."""

    def __init__(self, job=DEMO, patience=0.0):
        self.executors, self.told = InStep(), []
        self.session = Session(job, None, Board(lambda deed: deed(), self.executors), patience)
        self.session.listen(self.told.append)

    def step(self, lane):
        """Do the newest request of a lane."""
        place = max(n for n, one in enumerate(self.executors.waiting) if one[0].lane == lane)
        self.executors.step(place)


def longer(job):
    return job.but(roof=job.roof.but(blocks=(job.roof.blocks[0].but(length=15000.0), *job.roof.blocks[1:])))


def test_a_large_job_is_shown_when_it_is_worked_out_and_the_one_before_until_then():
    slow = Slow()
    session, before = slow.session, slow.session.derived
    session.edit("longer", longer)
    assert session.working and session.derived is before and session.job is DEMO and session.newest == longer(DEMO)
    assert session.changed and session.undo_title == "longer" and slow.told == ["working"]
    done = []
    session.when_shown(lambda: done.append(session.job))
    slow.step("working out")
    assert not session.working and session.job == longer(DEMO) == session.derived.job and done == [session.job]
    session.when_shown(lambda: done.append(1))
    assert done[-1] == 1


def test_one_that_cannot_be_worked_out_is_taken_back_whole_and_said():
    slow = Slow()
    session = slow.session
    off = DEMO.roof.openings[0].but(x=1e5)
    session.edit("longer", longer)
    slow.step("working out")
    past = session.undo_title
    session.edit("off the roof", lambda job: job.but(roof=job.roof.but(openings=(off,))))
    assert session.working and session.newest != session.job
    slow.step("working out")
    assert not session.working and session.newest is session.job and session.undo_title == past
    assert (slow.told[-1] == "refused" and "opening" in session.refused) or "roof" in session.refused
    with pytest.raises(InputError):
        Session(DEMO).edit("off the roof", lambda job: job.but(roof=job.roof.but(openings=(off,))))


def test_one_that_fails_after_another_that_is_not_shown_yet_takes_only_itself_back():
    slow = Slow()
    session, off = slow.session, DEMO.roof.openings[0].but(x=1e5)
    session.edit("longer", longer)
    session.edit("off the roof", lambda job: job.but(roof=job.roof.but(openings=(off,))))
    slow.step("working out")
    assert "refused" in slow.told and session.newest == longer(DEMO) and session.working
    slow.step("working out")
    assert session.job == longer(DEMO) and not session.working and session.undo_title == "longer"


def test_a_quick_edit_takes_the_place_of_one_that_is_still_worked_out():
    executors = InStep()
    session = Session(DEMO, None, Board(lambda deed: deed(), executors), patience=0.0)
    session.edit("longer", longer)
    assert session.working
    session.patience = float("inf")
    session.edit("sand", lambda job: job.but(colour="sand"))
    assert not session.working and session.job == longer(DEMO).but(colour="sand")
    while executors.waiting:
        executors.step()
    assert session.job == longer(DEMO).but(colour="sand")


def test_undo_and_two_edits_on_the_way_end_at_the_right_job():
    slow = Slow()
    session = slow.session
    session.edit("longer", longer)
    session.edit("sand", lambda job: job.but(colour="sand"))
    session.undo()
    assert session.newest == longer(DEMO)
    session.undo()
    assert session.newest == DEMO and session.redo_title == "longer"
    slow.step("working out")
    assert session.job == DEMO and not session.working


def test_patience_shows_a_quick_job_at_once():
    executors = InStep()
    session = Session(DEMO, None, Board(lambda deed: deed(), executors), patience=20.0)
    threading.Timer(0.05, lambda: executors.step(len(executors.waiting) - 1)).start()
    session.edit("sand", lambda job: job.but(colour="sand"))
    assert not session.working and session.job.colour == "sand"


# -- results -----------------------------------------------------------------------------------------------------


def test_results_belong_to_the_job_shown_and_do_not_depend_on_who_looked():
    slow = Slow(patience=float("inf"))
    session = slow.session
    assert session.results == Results() and not session.results.folds_up and session.findings == session.derived.findings
    late = slow.executors.waiting[0]
    session.edit("sand", lambda job: job.but(colour="sand"))
    slow.executors.step()  # the older one: dropped
    assert session.results == Results()
    slow.step("results")
    assert session.results.complete and session.results.folds_up and session.derived.nest is session.results.plan
    assert session.results.installation.runs["E1"].needs and session.latest == session.results
    late[1].tell(Results(misfits=(("E1", None),)))
    assert session.results.misfits == ()
    session.edit("zinc", lambda job: job.but(colour="zinc"))
    assert session.results == Results() and session.latest.complete, "a view may show those of a moment ago"
    session.start(EAVES)
    assert session.latest == Results()


def test_two_sessions_on_one_job_say_the_same_whoever_looked_first():
    """Findings were longer once somebody had asked for the proofs."""
    one, other = derive(DEMO), derive(DEMO)
    before = one.findings
    assert other.misfits == () and other.findings == before == one.findings


def test_a_better_plan_goes_to_the_job_it_was_looked_for():
    session = Session(EAVES)
    first = session.derived.nest_job
    plan = session.derived.nest
    session.set_own("E1", "face", 120.0)
    assert not session.take_plan(first, plan) and session.derived.plan is None
    session.undo()
    assert session.derived.plan is plan, "undo finds it again"
    for n in range(30):
        session.take_plan(first.but(rules=first.rules.but(seed=n)), plan)
    assert len(session._plans) <= 16


def test_what_an_answer_is_for_is_told():
    session = Session(DEMO)
    stamp = session.stamp
    assert session.still(stamp) == "same"
    session.edit("sand", lambda job: job.but(colour="sand"))
    assert session.still(stamp) == "changed"
    session.undo()
    assert session.still(stamp) == "same"
    session.start(DEMO)
    assert session.still(stamp) == "left"
    assert Answer(None).error is None


# -- selection and gates ------------------------------------------------------------------------------------------


def test_of_run_opening_and_part_one_is_in_front():
    session = Session(DEMO)
    opening = DEMO.roof.openings[0].id
    session.select(run="V1", fold="f1")
    session.select(part="face:loft.1")
    assert session.selection == Selection("V1", part="face:loft.1")
    session.select(opening=opening)
    assert session.selection == Selection("V1", opening=opening)
    session.select(part="face:loft.2")
    assert session.selection == Selection("V1", part="face:loft.2")
    session.select(run="V1")
    assert session.selection == Selection("V1")
    for wrong in ({"run": "Z9"}, {"opening": "none"}, {"part": "face:none"}, {"part": "block:none"}):
        session.select(**wrong)
        assert session.selection == Selection("V1")


def test_a_gate_that_refuses_keeps_selection_job_and_history():
    session, open_now, asked = Session(DEMO), [False], []
    session.before(lambda: asked.append(1) or open_now[0])
    session.edit("sand", lambda job: job.but(colour="sand"))
    before = session.selection
    assert not session.select(run="V1") and session.selection == before
    session.undo()
    assert session.job.colour == "sand" and session.select() is True
    open_now[0] = True
    session.undo()
    assert session.job == DEMO and session.select(run="V1") and session.selection.run == "V1"
    session.redo()
    assert session.job.colour == "sand" and len(asked) == 5


def test_what_is_done_for_a_selection_goes_there_and_the_hand_stays_where_it_is():
    session, told = Session(DEMO), []
    session.select(run="E1")
    then = session.selection
    session.select(run="E2")
    session.listen(told.append)
    session.for_selection(then, lambda: session.edit_run("taped", session.selection.run, taped=9000.0))
    assert run_of(session.job, "E1").taped == 9000 and session.selection.run == "E2" and told == ["job"]
    with pytest.raises(InputError, match="is not there any more"):
        session.for_selection(Selection("Z9"), lambda: pytest.fail("done"))


def test_an_edit_that_fails_inside_changes_nothing(monkeypatch):
    session = Session(DEMO)
    monkeypatch.setattr("yattle.session.session.derive", lambda job: 1 / 0)
    with pytest.raises(ZeroDivisionError):
        session.edit("sand", lambda job: job.but(colour="sand"))
    assert session.newest is session.job is DEMO and session.undo_title is None
    with pytest.raises(ZeroDivisionError):
        session.start(Job(name="x"))
    assert session.newest is DEMO
