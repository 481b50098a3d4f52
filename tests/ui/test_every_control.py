"""Every field, choice, number and action of the real window: what is wrong is said where it happened and changes nothing,
what can be chosen can be taken back, nothing is dead and nothing breaks."""

from __future__ import annotations

import pytest
from hands import settle, type_into
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QMessageBox

from samples import THREE_EAVES
from yattle.job import Job, load
from yattle.ui.commands.table import ACTIONS
from yattle.ui.frame.slate import Slate
from yattle.ui.widgets.rows import ChoiceRow, NumberRow, ReadRow, SaidRow

DEMO = load(THREE_EAVES)
LEFT = Qt.MouseButton.LeftButton
ELSEWHERE = ("piece.advice", "coil.search", "coil.line")  # long work, with tests of its own
BENCHES = ("survey", "trim", "brake", "coil", "fit", "log")


def shown(window, name):
    """The slate of a bench and its rows that are there now."""
    window.show_bench(name)
    slate = window.slates.currentWidget()
    assert isinstance(slate, Slate)
    slate.refresh()
    return slate, [row for row in slate.rows if row.isVisibleTo(slate)]


@pytest.fixture
def window(open_window, qtbot):
    found = open_window(DEMO)
    found.store.session.select(run="E1")
    found.benches["log"].model.choose("measured")  # what is measured has numbers
    settle(found, qtbot)
    return found


def words_only(row):
    """Rows for free words take whatever is typed."""
    return row.field.objectName() != "number"


@pytest.mark.parametrize("bench", BENCHES)
def test_nonsense_in_any_number_is_said_under_it_and_changes_nothing(window, qtbot, bench):
    _, rows = shown(window, bench)
    numbers = [row for row in rows if isinstance(row, NumberRow) and not words_only(row)]
    assert numbers, "every bench has numbers that are typed"
    for row in numbers:
        before = window.store.session.job
        type_into(row, "three fingers", qtbot)
        assert row.wrong.isVisibleTo(row), f"{bench}: {row.name} says nothing"
        said = row.wrong.text()
        assert "\n" not in said and "found" in said and len(said) < 220, f"{bench}: {row.name} says {said!r}"
        assert row.field.text() == "three fingers", "what was typed stays to be mended"
        assert window.store.session.job is before
        qtbot.keyClick(row.field, Qt.Key.Key_Escape)
        assert not row.wrong.isVisibleTo(row)


@pytest.mark.parametrize("bench", BENCHES)
def test_a_number_typed_as_it_stands_is_taken_without_a_word(window, qtbot, bench):
    """What a field shows can be typed into it: in the job's unit, with its spaces and signs."""
    _, rows = shown(window, bench)
    for row in (row for row in rows if isinstance(row, NumberRow) and not words_only(row)):
        stands = row.field.text()
        if not stands or stands in ("–", "enough") or not row.field.isEnabled():
            continue
        undo = window.store.session.undo_title
        type_into(row, stands, qtbot)
        assert not row.wrong.isVisibleTo(row), f"{bench}: {row.name} does not take its own {stands!r}: {row.wrong.text()}"
        assert row.field.text() == stands, f"{bench}: {row.name} makes {row.field.text()!r} of {stands!r}"
        if window.store.session.undo_title != undo:
            window.do("edit.undo")


@pytest.mark.parametrize("bench", BENCHES)
def test_every_answer_of_every_choice_can_be_chosen_and_taken_back(window, qtbot, bench):
    slate, rows = shown(window, bench)
    for name in [row.name for row in rows if isinstance(row, ChoiceRow)]:
        row = next(row for row in slate.rows if row.name == name)
        for index in range(row.box.count()):
            job, bench_now = window.store.session.job, window.stack.currentWidget()
            row.box.setCurrentIndex(index)
            if row.wrong.isVisibleTo(row):
                assert "found" in row.wrong.text() or "\n" not in row.wrong.text()
            if window.store.session.job is not job:
                window.do("edit.undo")
                assert window.store.session.job == job, f"{bench}: {name} is not taken back"
            if window.stack.currentWidget() is not bench_now or window.store.session.selection.run != "E1":
                window.store.session.select(run="E1")
                window.show_bench(bench)
            slate.refresh()
    settle(window, qtbot)


@pytest.mark.parametrize("bench", BENCHES)
def test_every_number_that_is_worked_out_says_something_and_unfolds_its_sum(window, qtbot, bench):
    _, rows = shown(window, bench)
    for row in rows:
        if isinstance(row, ReadRow):
            assert row.button.text(), f"{bench}: {row.name} is empty"
            told = row.get()
            if told.sum is None:
                continue
            before = row.sum.isVisibleTo(row)  # some stand open
            qtbot.mouseClick(row.button, LEFT)
            assert row.sum.isVisibleTo(row) != before, f"{bench}: {row.name} keeps its sum to itself"
            terms = [term.amount for term in told.sum.terms]
            assert sum(terms) == pytest.approx(told.sum.value)
            qtbot.mouseClick(row.button, LEFT)
            assert row.sum.isVisibleTo(row) == before
        elif isinstance(row, SaidRow):
            assert row.said.text(), f"{bench}: {row.name} is empty"


def answer_nothing(window):
    """Nobody gives a name for a file, everybody lets go of what is not saved."""
    window.asking.open = lambda *_: ""
    window.asking.save = lambda *_: ""
    window.asking.folder = lambda: ""
    window.asking.unsaved = lambda name: QMessageBox.StandardButton.Discard


@pytest.mark.parametrize("job", [Job(name="empty"), DEMO], ids=["empty", "net shed"])
def test_every_action_that_can_be_used_goes_without_a_fault(open_window, qtbot, monkeypatch, job):
    """From the menus, one after another, on every bench that it may be used on; dialogs are closed at once."""
    window = open_window(job)
    answer_nothing(window)
    opened = []
    monkeypatch.setattr("PyQt6.QtWidgets.QDialog.exec", lambda self: opened.append(type(self).__name__) or 0)
    faults = []
    monkeypatch.setattr("sys.excepthook", lambda kind, fault, trace: faults.append(repr(fault)))
    for spec in ACTIONS:
        if spec.id == "job.quit" or spec.id in ELSEWHERE or "demo" in spec.id:
            continue
        action = window.menus.actions[spec.id]
        if action.isEnabled():
            action.trigger()
            qtbot.wait(1)
            for _ in range(10):  # each from the same job
                if window.store.session.undo_title is not None:
                    window.do("edit.undo")
        assert faults == [], f"{spec.id}: {faults}"
    qtbot.waitUntil(lambda: not (window.store.board.busy("results") or window.store.board.busy("files", "papers")), timeout=60000)
    assert window.isVisible() and window.store.session.job is not None and faults == []


def test_undo_goes_back_through_a_row_of_edits_on_every_bench_and_redo_forward_again(window, qtbot):
    session, steps = window.store.session, [window.store.session.job]
    for bench, name, typed in (("trim", "face", "4 1/2"), ("survey", "length", "30'"), ("coil", "price a foot", "21"),
                               ("fit", "screws every", "9\"")):
        slate, _ = shown(window, bench)
        row = next((row for row in slate.rows if row.name == name and row.isVisibleTo(slate)), None)
        if row is None:
            continue
        type_into(row, typed, qtbot)
        assert not row.wrong.isVisibleTo(row), f"{name}: {row.wrong.text()}"
        steps.append(session.job)
    assert len(steps) >= 4 and len({id(job) for job in steps}) == len(steps)
    for job in reversed(steps[:-1]):
        window.do("edit.undo")
        assert session.job == job
    for job in steps[1:]:
        window.do("edit.redo")
        assert session.job == job
    settle(window, qtbot)
