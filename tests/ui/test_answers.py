"""Every answer knows its question: selection or job change while work is under way, and each answer goes where it was
asked for, or is said."""

from __future__ import annotations

import threading
import time
from contextlib import contextmanager

import pytest
from hands import button, choose, keys, settle
from pypdf import PdfReader
from PyQt6.QtWidgets import QMessageBox

from samples import THREE_EAVES
from yattle.coil import NestAnswer
from yattle.derive.printed import mark_of
from yattle.derive.roof_runs import run_of
from yattle.devices import StandInFolder, StandInInstrument, served
from yattle.devices.coil_line import StandInCoilLine
from yattle.job import demo_path, load
from yattle.job.settings import keep_address

DEMO = load(demo_path()).but(taped=())  # no adjustment is worked out beside each window


@pytest.fixture
def window(open_window, qtbot):
    found = open_window(DEMO)
    found.activateWindow()
    found.show_bench("survey")
    found.asking.unsaved = lambda name: QMessageBox.StandardButton.Discard
    settle(found, qtbot)
    yield found
    keep_address(instrument="stand-in")


def job(window):
    return window.store.session.job


class Gate:
    """A device that answers when it is told to; ``asked`` are the commands that it has heard."""

    def __init__(self, device, holds):
        self.device, self.holds, self.asked = device, holds, []
        self.open = threading.Event()

    def __call__(self, line):
        self.asked.append(line.strip())
        if line.split()[:1] == [self.holds]:
            self.open.wait(20)
        return self.device(line).replace("stand-in", "shop")


@contextmanager
def instrument(device):
    with served(device) as address:
        keep_address(instrument=address)
        yield


def field_in_hand(window, name, qtbot):
    row = next(row for row in window.benches["survey"].slate.rows if row.name == name and row.isVisibleTo(window))
    row.field.setFocus()
    qtbot.waitUntil(row.field.hasFocus, timeout=2000)
    return row


# -- readings --------------------------------------------------------------------------------------------------


def test_a_reading_started_on_one_run_and_answered_after_another_is_selected_goes_to_the_first(window, qtbot):
    session, gate = window.store.session, Gate(StandInInstrument(5371.4, scatter=0.0), "READ")
    with instrument(gate):
        session.select(run="E1")
        field_in_hand(window, "taped", qtbot)
        keys(window, "F9", qtbot)
        qtbot.waitUntil(lambda: "READ" in gate.asked, timeout=5000)
        session.select(run="E2")
        before = run_of(job(window), "E2").taped
        gate.open.set()
        settle(window, qtbot)
    assert run_of(job(window), "E1").taped == 5371.4 and run_of(job(window), "E2").taped == before
    assert session.selection.run == "E2" and "read 5371.4 mm into E1 taped" in window.trouble.text.text()


@pytest.mark.parametrize("field", ["taped fold", "tape said", "taped pitch", "diagonal 1"])
def test_readings_of_faces_blocks_and_folds_go_to_what_was_in_hand(window, qtbot, field):
    survey, gate = window.benches["survey"], Gate(StandInInstrument(41.5, angle="pitch" in field or "fold" in field,
                                                                    scatter=0.0), "READ")
    with instrument(gate):
        survey.model.press("V1" if field == "taped fold" else "face:loft.1")
        field_in_hand(window, field, qtbot)
        keys(window, "F9", qtbot)
        qtbot.waitUntil(lambda: "READ" in gate.asked, timeout=5000)
        survey.model.press("face:wing.1")
        gate.open.set()
        settle(window, qtbot)
    new = [taped for taped in job(window).taped if taped not in DEMO.taped]
    assert len(new) == 1 and new[0].value == 41.5 and "wing" not in new[0].of.split(".")[0].split("|")[0][:4]
    assert survey.model.part == "face:wing.1"


def test_a_reading_for_a_job_that_has_been_left_is_said_and_taken_nowhere(window, qtbot):
    gate = Gate(StandInInstrument(5371.4, scatter=0.0), "READ")
    with instrument(gate):
        window.store.session.select(run="E1")
        field_in_hand(window, "taped", qtbot)
        keys(window, "F9", qtbot)
        qtbot.waitUntil(lambda: "READ" in gate.asked, timeout=5000)
        window.do("job.demo-inch")
        before = job(window)
        gate.open.set()
        settle(window, qtbot)
    assert job(window) == before and "for E1 taped of a job that is closed" in window.trouble.text.text()
    assert "of a job that is closed: not taken" in window.trouble.text.text()


def test_a_reading_of_something_that_is_gone_meanwhile_is_said(window, qtbot):
    gate = Gate(StandInInstrument(41.0, angle=True, scatter=0.0), "READ")
    survey = window.benches["survey"]
    with instrument(gate):
        survey.model.press("face:dormer.1")
        field_in_hand(window, "taped pitch", qtbot)
        keys(window, "F9", qtbot)
        qtbot.waitUntil(lambda: "READ" in gate.asked, timeout=5000)
        choose(window, "roof.take-off")
        gate.open.set()
        settle(window, qtbot)
    assert job(window).taped == DEMO.taped and "is not there any more" in window.trouble.text.text()


def test_a_second_reading_while_one_is_awaited_is_refused(window, qtbot):
    gate = Gate(StandInInstrument(5371.4, scatter=0.0), "READ")
    with instrument(gate):
        window.store.session.select(run="E1")
        field_in_hand(window, "taped", qtbot)
        keys(window, "F9", qtbot)
        keys(window, "F9", qtbot)
        assert "at work already" in window.trouble.text.text()
        gate.open.set()
        settle(window, qtbot)
    assert gate.asked.count("READ") == 1


@pytest.mark.parametrize(("answers", "said"), [
    (["TAPE 1 site tape", "OK 5371.4 deg"], "expected a reading from 0 to 200000 in mm"), (["TAPE 1 site tape", "ERR low battery"], "low battery"),
    (["FRIDGE 1", "OK 4 deg"], "expected 'TAPE 1' or 'ANGLE 1'"), (["TAPE 1 site tape", "OK nan mm"], "found 'OK nan mm'"),
    (["TAPE 1 site tape", "OK -3 mm"], "found 'OK -3 mm'"), (["TAPE 1 site tape", "OK 1e300 mm"], "found 'OK 1e300 mm'"),
    (["", ""], "expected 'TAPE 1'")])
def test_a_lying_instrument_changes_nothing(window, qtbot, answers, said):
    left = list(answers)
    with instrument(lambda line: left.pop(0)):
        window.store.session.select(run="E1")
        field_in_hand(window, "taped", qtbot)
        keys(window, "F9", qtbot)
        settle(window, qtbot)
    assert job(window) == DEMO and said in window.trouble.text.text()


def test_a_silent_instrument_is_said_and_the_window_goes_on(window, qtbot, monkeypatch):
    monkeypatch.setattr("yattle.ui.commands.reading.open_line.__wrapped__.__defaults__", (0.4,))
    gate = Gate(StandInInstrument(1.0), "HELLO")
    with instrument(gate):
        window.store.session.select(run="E1")
        field_in_hand(window, "taped", qtbot)
        keys(window, "F9", qtbot)
        window.store.session.set_own("E1", "face", 101.0)  # meanwhile
        settle(window, qtbot)
        gate.open.set()
    assert "does not answer" in window.trouble.text.text() and run_of(job(window), "E1").own.face == 101


def test_a_stand_in_reads_only_into_what_is_taped_and_is_marked(window, qtbot):
    keep_address(instrument="stand-in")
    window.store.session.select(run="E1")
    row = field_in_hand(window, "taped", qtbot)
    keys(window, "F9", qtbot)
    settle(window, qtbot)
    run = run_of(job(window), "E1")
    assert run.taped_by == "stand-in" and "stand-in" in row.note.text() and "not measured" in window.trouble.text.text()
    window.store.session.edit("wild", lambda old: old.but(taped=(old.taped[-1].but(value=1.0),)))
    settle(window, qtbot)
    assert window.benches["survey"].model.measures.adjustment is None and not any(
        finding.field == "taped" for _, finding in window.store.session.findings), "nothing follows from it"
    before = job(window)
    field_in_hand(window, "pitch", qtbot)
    keys(window, "F9", qtbot)
    settle(window, qtbot)
    assert job(window) == before and "which is no measure" in window.trouble.text.text()


# -- papers -----------------------------------------------------------------------------------------------------


def test_two_papers_asked_for_one_after_the_other_are_both_written_and_reported(window, qtbot, tmp_path):
    said, troubles = [], []
    window.store.said.connect(said.append)
    window.store.trouble.connect(troubles.append)
    names = iter([tmp_path / "nowhere" / "a.pdf", tmp_path / "b.pdf", tmp_path / "c.csv", tmp_path / "d.pdf"])
    window.asking.save = lambda *_: str(next(names))
    for name in ("site", "card", "csv", "labels"):
        choose(window, f"papers.{name}")
    settle(window, qtbot)
    assert sorted(said) == ["b.pdf is written", "c.csv is written", "d.pdf is written"]
    assert len(troubles) == 1 and troubles[0].startswith("a.pdf: cannot be written to")
    assert len(PdfReader(tmp_path / "b.pdf").pages) and (tmp_path / "c.csv").read_text() and (tmp_path / "d.pdf").exists()


def test_as_printed_marks_the_job_that_was_printed(open_window, qtbot, tmp_path):
    window = open_window(load(THREE_EAVES))
    window.asking.unsaved = lambda name: QMessageBox.StandardButton.Discard
    session = window.store.session
    was = session.derived
    window.asking.folder = lambda: str(tmp_path)
    keys(window, "Ctrl+E", qtbot)
    session.set_own("E1", "face", 123.0)  # while the papers are written
    settle(window, qtbot)
    marks = {one.piece: one.mark for one in job(window).printed}
    assert marks == {pattern.id: mark_of(pattern) for pattern in was.patterns} and list(tmp_path.glob("* pack/papers"))
    session.select(run="E1")
    window.show_bench("trim")
    assert "changed since the print" in window.benches["trim"].pattern_card.under.text()
    session.undo()  # the marks
    keys(window, "Ctrl+E", qtbot)
    window.do("job.demo")
    other = job(window)
    settle(window, qtbot)
    assert job(window) == other and "is not marked as printed" in window.trouble.text.text()


def test_a_csv_is_written_in_a_fifth_of_a_second_while_two_searches_run(window, qtbot, tmp_path):
    target = tmp_path / "cut-list.csv"
    window.asking.save = lambda *_: str(target)
    window.show_bench("coil")
    coil = window.benches["coil"]
    window.do("coil.search")
    window.do("piece.advice")
    qtbot.waitUntil(lambda: coil.model.plan.search.busy and window.benches["trim"].model.advice.advising and coil.model.plan.search.progress != "searching …",
                    timeout=20000)
    waited = []
    for _ in range(5):
        target.unlink(missing_ok=True)
        begun = time.perf_counter()
        keys(window, "Ctrl+L", qtbot)
        assert window.store.finish("files", seconds=5)
        waited.append(time.perf_counter() - begun)
        assert target.read_text().startswith("piece")
    assert coil.model.plan.search.busy and window.benches["trim"].model.advice.advising
    window.store.board.stop()
    assert sorted(waited)[2] < 0.2, waited


def test_a_search_answers_for_its_own_job_and_undo_finds_its_plan_again(window, qtbot):
    window.show_bench("coil")
    coil, session = window.benches["coil"], window.store.session
    coil.model.plan.search.seconds = 2.0
    first = coil.model.answer
    window.do("coil.search")
    qtbot.waitUntil(lambda: coil.model.plan.search.progress != "searching …", timeout=20000)
    session.set_own("E1", "face", 130.0)  # that ends the search: its plan is for the job before
    settle(window, qtbot)
    assert isinstance(coil.model.answer, NestAnswer) and coil.model.answer is session.derived.plan is session.results.plan
    session.undo()
    settle(window, qtbot)
    assert coil.model.answer.objective <= first.objective and session.derived.nest is coil.model.answer


# -- devices ----------------------------------------------------------------------------------------------------


def brake_on_e1(window, qtbot):
    """The brake bench with the order of an eave, four strokes."""
    brake = window.benches["brake"]
    window.store.session.select(run="E1")
    window.show_bench("brake")
    qtbot.waitUntil(lambda: len(brake.model.steps) > 3, timeout=20000)
    return brake


def test_measured_folds_are_logged_on_the_piece_that_was_folded(window, qtbot):
    brake, gate = brake_on_e1(window, qtbot), Gate(StandInFolder(), "FOLD")
    with served(gate) as address:
        brake.model.folder.at = address
        keys(window, "Ctrl+G", qtbot)
        qtbot.waitUntil(lambda: any(line.startswith("FOLD") for line in gate.asked), timeout=5000)
        window.store.session.select(run="R1")
        qtbot.waitUntil(lambda: bool(brake.model.steps), timeout=20000)  # its order comes beside the window
        keys(window, "Ctrl+G", qtbot)
        assert "the folder: found it at work already" in window.trouble.text.text()
        gate.open.set()
        settle(window, qtbot)
    assert {entry.of for entry in job(window).log} == {"E1-1"} and {entry.by for entry in job(window).log} == {"device"}
    assert gate.asked.count("HELLO") == 1, "the second start was refused"


@pytest.mark.parametrize("by", ["key", "button"])
def test_the_folder_is_stopped_between_strokes_and_what_was_folded_is_logged(window, qtbot, by):
    brake, gate = brake_on_e1(window, qtbot), Gate(StandInFolder(), "FOLD")
    with served(gate) as address:
        brake.model.folder.at = address
        assert not button(brake.slate, "stop the folder").isVisible()
        keys(window, "Ctrl+G", qtbot)
        qtbot.waitUntil(lambda: any(line.startswith("FOLD") for line in gate.asked), timeout=5000)
        assert button(brake.slate, "stop the folder").isVisible()
        keys(window, "F12", qtbot) if by == "key" else button(brake.slate, "stop the folder").click()
        gate.open.set()
        settle(window, qtbot)
    assert len(job(window).log) == 1 and sum(line.startswith("FOLD") for line in gate.asked) == 1
    assert "stopped after 1 strokes" in brake.model.folder.measured and not button(brake.slate, "stop the folder").isVisible()


def test_folds_of_a_job_that_was_left_are_said_not_logged_elsewhere(window, qtbot):
    brake, gate = brake_on_e1(window, qtbot), Gate(StandInFolder(), "FOLD")
    with served(gate) as address:
        brake.model.folder.at = address
        keys(window, "Ctrl+G", qtbot)
        qtbot.waitUntil(lambda: any(line.startswith("FOLD") for line in gate.asked), timeout=5000)
        window.do("job.demo-inch")
        gate.open.set()
        settle(window, qtbot)
    assert job(window).log == () and "that job is closed: not in the log" in window.trouble.text.text()


def test_a_folder_that_fails_half_way_has_logged_what_it_measured(window, qtbot):
    folds, real = [], StandInFolder()

    def device(line):
        if line.startswith("FOLD") and len(folds) == 2:
            return "ERR the leaf is stuck"
        folds.extend([1] if line.startswith("FOLD") else [])
        return real(line).replace("stand-in", "shop")
    brake = brake_on_e1(window, qtbot)
    with served(device) as address:
        brake.model.folder.at = address
        keys(window, "Ctrl+G", qtbot)
        settle(window, qtbot)
    assert len(job(window).log) == 2 and "the leaf is stuck" in window.trouble.text.text()


def test_the_coil_line_is_refused_twice_told_cut_by_cut_and_stopped_between_cuts(window, qtbot):
    window.show_bench("coil")
    coil, gate = window.benches["coil"], Gate(StandInCoilLine(), "SHEAR")
    with served(gate) as address:
        coil.model.line.address = address
        keys(window, "Ctrl+Shift+L", qtbot)
        qtbot.waitUntil(lambda: "SHEAR" in gate.asked, timeout=5000)
        keys(window, "Ctrl+Shift+L", qtbot)
        assert "the coil line: found it at work already" in window.trouble.text.text()
        keys(window, "F12", qtbot)
        gate.open.set()
        settle(window, qtbot)
    assert len(coil.model.line.cut_off) == 1 and gate.asked.count("SHEAR") == 1 and gate.asked.count("HELLO") == 1
    assert window.trouble.text.text().startswith("stopped: 1 pieces cut off; ")
    assert "by a stand-in" not in coil.model.line.says()
    coil.model.line.address = "stand-in"
    keys(window, "Ctrl+Shift+L", qtbot)
    settle(window, qtbot)
    assert len(coil.model.line.cut_off) > 1 and "by a stand-in: not measured" in coil.model.line.says()
