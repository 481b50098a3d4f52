"""What would make cut pieces useless is said before it is done, and left as it was where that is wanted."""

from __future__ import annotations

import pytest
from hands import settle, type_into
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QMessageBox, QPushButton

from yattle.derive import derive
from yattle.job import demo_path, load
from yattle.job.deeds import shape_of
from yattle.job.model import CutPieces
from yattle.ui.benches.survey.view import SurveyBench

JOB = load(demo_path())


def cut(job, *names, folded=0):
    """The job with one copy of each of these pieces cut, ``folded`` of them."""
    shapes = {p.id: shape_of(p.outline, p.holes) for p in derive(job).patterns}
    return job.but(cut=tuple(CutPieces(piece=name, shape=shapes[name], copies=1, folded=folded) for name in names))


NAMES = [p.id for p in derive(JOB).patterns][:12]


@pytest.fixture
def bench(open_window, qtbot):
    window = open_window(cut(JOB, *NAMES, folded=1))
    window.show_bench("survey")
    settle(window, qtbot)
    survey = window.bench(SurveyBench)
    survey.store.session.select(part=JOB.roof.blocks[0].id)
    window.said = []
    survey.window_of_test = window
    return survey


def answer(bench, yes):
    def asked(said):
        bench.window_of_test.said.append(said)
        return yes
    bench.window_of_test.asking.change_made = asked


def test_left_as_it_is_nothing_has_changed(bench, qtbot):
    session = bench.store.session
    answer(bench, False)
    before, shown = session.job, bench.slate.row("pitch").field.text()
    type_into(bench.slate.row("pitch"), "37", qtbot)
    (said,) = bench.window_of_test.said
    assert "1 cut, 1 folded" in said and "they are other pieces, to be cut again" in said and "and" in said
    assert session.job == session.newest == before and session.undo_title is None
    assert bench.slate.row("pitch").field.text() == shown
    type_into(bench.slate.row("pitch"), "36", qtbot)
    assert len(bench.window_of_test.said) == 2 and session.job == before, "it is asked each time"


def test_the_change_is_made_where_it_is_wanted_and_undone_without_asking(bench, qtbot):
    session = bench.store.session
    answer(bench, True)
    before = session.job
    type_into(bench.slate.row("pitch"), "37", qtbot)
    assert len(bench.window_of_test.said) == 1 and session.job.roof.blocks[0].pitch == 37.0
    type_into(bench.slate.row("pitch"), "38", qtbot)
    session.undo()
    session.undo()
    assert len(bench.window_of_test.said) == 1 and session.job == before, "what fits again is no loss"


def test_what_touches_no_cut_piece_is_not_asked(bench):
    session = bench.store.session
    answer(bench, False)
    session.edit("name", lambda job: job.but(name="another name"))
    session.edit("taken back", lambda job: job.but(cut=()))
    session.edit("pitch", lambda job: job.but(roof=job.roof.but(blocks=tuple(
        block.but(pitch=37.0) for block in job.roof.blocks))))
    assert not bench.window_of_test.said and session.job.name == "another name"


def test_the_question_has_two_answers_and_enter_leaves_things_alone(window, qtbot):
    def press(words):
        def deed():
            box = window.findChild(QMessageBox)
            shown.append((box.text(), box.defaultButton().text()))
            next(b for b in box.findChildren(QPushButton) if b.text() == words).click()
        return deed
    shown = []
    asking = type(window.asking)(window)
    for words, wanted in (("Make the change", True), ("Leave it as it is", False)):
        QTimer.singleShot(50, press(words))
        assert asking.change_made("E1-1 (2 cut) are made already") is wanted
    assert shown == [("E1-1 (2 cut) are made already", "Leave it as it is")] * 2
