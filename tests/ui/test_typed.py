"""What a person types goes to the field it was typed for, is refused there, or is dropped with Escape: nothing else."""

from __future__ import annotations

import pytest
from hands import LEFT, choose, escape, keys, press_key_of, settle, type_into
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtWidgets import QApplication, QComboBox, QLineEdit, QSlider

from yattle.derive.roof_runs import base_id, run_of
from yattle.job import Job, demo_path, load
from yattle.ui.widgets.rows import NumberRow

DEMO = load(demo_path()).but(taped=())  # no adjustment is worked out beside each window
OPENING = f"opening:{DEMO.roof.openings[0].id}"


@pytest.fixture
def demo(open_window, qtbot):
    window = open_window(DEMO)
    window.activateWindow()
    window.show_bench("survey")
    settle(window, qtbot)
    return window


def half_typed(window, bench, name, text, qtbot):
    """Text in a field of the slate, not entered."""
    window.show_bench(bench)
    row = next(row for row in window.benches[bench].slate.rows if row.name == name and row.isVisibleTo(window))
    row.field.setFocus()
    row.field.selectAll()
    qtbot.keyClicks(row.field, text)
    assert row.field.isModified()
    return row


def job(window):
    return window.store.session.job


@pytest.mark.parametrize("leave", ["Ctrl+Down", "Ctrl+2", "rail", "table", "plan", "face"])
def test_a_length_typed_and_not_entered_goes_to_its_own_run_whatever_is_done_next(demo, qtbot, leave):
    """It was written to the next run, after Ctrl+Down and any menu."""
    survey, session = demo.benches["survey"], demo.store.session
    session.select(run="E1")
    half_typed(demo, "survey", "taped", "12 345", qtbot)
    if leave == "rail":
        demo.rail.runs.setCurrentRow(3)
    elif leave == "table":
        survey.table.setCurrentIndex(survey.rows.index(4, 0))
    elif leave == "plan":
        survey.model.press("V1")
    elif leave == "face":
        survey.model.press("face:loft.1")
    else:
        keys(demo, leave, qtbot)
    taped = {found.run.id: found.run.taped for found in session.derived.own_runs if found.run.taped}
    before = {found.run.id: found.run.taped for found in demo.store.session.derived.own_runs if run_of(DEMO, found.run.id).taped}
    assert run_of(job(demo), "E1").taped == 12345 and set(taped) == {*before, "E1"}
    assert leave == "Ctrl+2" or session.selection.run != "E1" or session.selection.part


@pytest.mark.parametrize("way", ["Ctrl+S", "Ctrl+Shift+S", "close", "Ctrl+L", "Ctrl+P", "Ctrl+N"])
def test_saving_writing_and_closing_take_it_along(demo, qtbot, tmp_path, way):
    """Ctrl+S saved without it."""
    from PyQt6.QtWidgets import QMessageBox
    demo.store.session.select(run="E1")
    demo.asking.save = lambda name, kinds: str(tmp_path / name.replace(" ", "-"))
    demo.store.session.save(tmp_path / "loft.yattle")
    demo.asking.unsaved = lambda name: QMessageBox.StandardButton.Save
    half_typed(demo, "survey", "name", "the long eave", qtbot)
    if way == "close":
        assert demo.close()
    else:
        keys(demo, way, qtbot)
    settle(demo, qtbot)
    if way in ("Ctrl+L", "Ctrl+P"):
        assert run_of(job(demo), "E1").name == "the long eave" and demo.store.session.changed
    else:
        saved = load(next(tmp_path.glob("*.yattle")) if way == "Ctrl+Shift+S" else tmp_path / "loft.yattle")
        names = {load(path).edges for path in tmp_path.glob("*.yattle")} | {saved.edges}
        assert any(note.name == "the long eave" for edges in names for note in edges)


@pytest.mark.parametrize("deed", ["Ctrl+Down", "Ctrl+S", "Ctrl+2", "Ctrl+Z", "rail", "close", "plan"])
def test_what_is_refused_stays_in_its_field_and_nothing_else_happens(demo, qtbot, tmp_path, deed):
    session = demo.store.session
    session.select(run="E1")
    session.save(tmp_path / "loft.yattle")
    session.edit("colour", lambda old: old.but(colour="sand"))
    settle(demo, qtbot)
    before, selected = session.job, session.selection
    row = half_typed(demo, "survey", "taped", "forty winks", qtbot)
    if deed == "rail":
        demo.rail.runs.setCurrentRow(3)
    elif deed == "plan":
        demo.benches["survey"].model.press("V1")
    elif deed == "close":
        assert not demo.close()
    else:
        keys(demo, deed, qtbot)
    qtbot.wait(20)
    assert session.job == before and session.selection == selected and demo.front.name == "survey"
    assert row.field.text() == "forty winks" and row.wrong.isVisible() and load(tmp_path / "loft.yattle").colour != "sand"
    assert "taped is not taken yet" in demo.trouble.text.text() and "Escape" in demo.trouble.text.text()
    assert base_id(demo.rail.runs.currentItem().data(Qt.ItemDataRole.UserRole)) == "E1"
    escape(row, qtbot)
    assert not row.wrong.isVisible() and session.settle() and demo.store.typing.pending == []


def test_a_refusal_that_is_corrected_is_taken(demo, qtbot):
    demo.store.session.select(run="E1")
    row = half_typed(demo, "survey", "taped", "9 km of eave", qtbot)
    assert not demo.store.session.settle()
    row.field.selectAll()
    qtbot.keyClicks(row.field, "9 m")
    assert demo.store.session.settle() and run_of(job(demo), "E1").taped == 9000


def test_results_that_arrive_do_not_disturb_what_is_typed(demo, qtbot):
    demo.store.session.select(run="E1")
    demo.store.session.edit("colour", lambda old: old.but(colour="sand"))  # work begins beside the window
    row = half_typed(demo, "survey", "taped", "77", qtbot)
    settle(demo, qtbot)
    demo.refresh()
    assert row.field.text() == "77" and row.field.isModified() and demo.store.typing.pending == ["taped"]


# -- on the drawing and in the table --------------------------------------------------------------------


def test_a_number_on_the_drawing_is_taken_when_something_else_is_pressed(window, qtbot):
    """It vanished on a click elsewhere."""
    window.activateWindow()
    section = window.benches["trim"].section
    press_key_of(section, "leg:2", qtbot)
    qtbot.keyClicks(section._editor, "111")
    window.benches["trim"].slate.row("kick").field.setFocus()
    assert section._editor is None and run_of(job(window), "E1").own.face == 111


def test_a_number_on_the_drawing_is_taken_before_the_run_changes_or_refused_there(window, qtbot):
    section = window.benches["trim"].section
    press_key_of(section, "leg:2", qtbot)
    qtbot.keyClicks(section._editor, "112")
    keys(window, "Ctrl+Down", qtbot)
    assert run_of(job(window), "E1").own.face == 112 and run_of(job(window), "E2").own.face is None
    press_key_of(section, "leg:2", qtbot)
    qtbot.keyClicks(section._editor, "9999")
    keys(window, "Ctrl+Down", qtbot)
    assert window.store.session.selection.run == "E2" and section._editor.text() == "9999"
    window.benches["trim"].slate.row("kick").field.setFocus()
    assert section._editor is not None, "what is refused stays"
    section.show_it()
    qtbot.keyClick(section._editor, Qt.Key.Key_Escape)
    assert section._editor is None and window.store.session.settle()


def test_a_cell_of_the_table_is_taken_or_keeps_what_is_wrong(demo, qtbot):
    survey = demo.benches["survey"]
    table, model = survey.table, survey.rows
    row = [found.run.id for found in demo.store.session.derived.own_runs].index("E2")
    table.setFocus()
    table.setCurrentIndex(model.index(row, 4))
    qtbot.keyClick(table, "5")
    editor = table.findChild(QLineEdit)
    qtbot.keyClicks(editor, "000")
    keys(demo, "Ctrl+Up", qtbot)
    assert run_of(job(demo), "E2").taped == 5000 and demo.store.session.selection.run != "E2"
    table.setCurrentIndex(model.index(row, 4))
    qtbot.keyClick(table, "x")
    editor = survey.typed_in_table._editor
    qtbot.keyClick(editor, Qt.Key.Key_Return)
    assert survey.typed_in_table.typed() == "E2 taped" and editor.text() == "x" and survey.wrong.isVisible()
    before = demo.store.session.selection
    survey.model.press("V1")
    assert demo.store.session.selection == before
    qtbot.keyClick(editor, Qt.Key.Key_Escape)
    qtbot.waitUntil(lambda: not survey.typed_in_table.typed(), timeout=2000)
    survey.model.press("V1")
    assert demo.store.session.selection.run == "V1"


def test_enter_on_a_run_or_a_face_opens_no_field(demo, qtbot):
    """It opened a blank one, and raised when that was entered."""
    survey = demo.benches["survey"]
    for key in ("E1", "face:loft.1", OPENING):
        survey.model.press(key)
        survey.plan.setFocus()
        qtbot.keyClick(survey.plan, Qt.Key.Key_Return)
        assert survey.plan._editor is None
    survey.model.press("face:loft.1")
    survey.plan.grab()
    measure = next(hit.key for hit in survey.plan.hits if hit.key.startswith("block:") and hit.key.count(":") == 2)
    press_key_of(survey.plan, measure, qtbot)
    assert survey.plan._editor is not None and survey.plan._editor.text()
    qtbot.keyClick(survey.plan._editor, Qt.Key.Key_Escape)


# -- the wheel --------------------------------------------------------------------------------------------


def wheel(widget, by=-120):
    at = QPointF(widget.rect().center())
    event = QWheelEvent(at, widget.mapToGlobal(at), QPoint(0, 0), QPoint(0, by), Qt.MouseButton.NoButton,
                        Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False)
    QApplication.sendEvent(widget, event)
    return event


@pytest.mark.parametrize("bench", ["survey", "trim", "brake", "coil", "fit", "log"])
def test_the_wheel_over_any_control_changes_nothing(demo, qtbot, bench):
    """Over any drop-down it changed the job while somebody scrolled."""
    demo.show_bench(bench)
    settle(demo, qtbot)
    before, selected = job(demo), demo.store.session.selection
    boxes = [box for box in demo.benches[bench].slate.findChildren(QComboBox) if box.isVisibleTo(demo)]
    assert boxes or bench not in ("survey", "trim", "fit")
    for box in boxes:
        box.setFocus()
        shown = box.currentIndex()
        assert not wheel(box).isAccepted() and not wheel(box, 120).isAccepted() and box.currentIndex() == shown
    for control in demo.benches[bench].slate.findChildren(QLineEdit):
        wheel(control)
    assert job(demo) is before and demo.store.session.selection == selected


def test_an_open_drop_down_still_takes_a_press_and_keys(demo, qtbot):
    box = demo.benches["survey"].slate.row("measured").box
    box.setFocus()
    qtbot.keyClick(box, Qt.Key.Key_Down)
    assert job(demo).measured == "inside"
    assert not [slider for slider in demo.benches["survey"].findChildren(QSlider) if slider.isVisible()]


# -- one selection -----------------------------------------------------------------------------------------


def shown_on_survey(window):
    """What list, plan, table and slate of the survey are on."""
    survey, session = window.benches["survey"], window.store.session
    item = window.rail.runs.currentItem()
    rail = item.data(Qt.ItemDataRole.UserRole) if item is not None else ""
    rows = survey.table.selectionModel().selectedRows()
    table = session.derived.own_runs[rows[0].row()].run.id if rows else ""
    slate = "run" if survey.slate.row("length").isVisibleTo(survey.slate) and not survey.model.part else survey.model.part
    return rail, table, survey.plan.ink.selected, slate


@pytest.mark.parametrize("way", ["press", "rail", "next", "select"])
def test_list_plan_table_and_slate_are_always_on_the_same_thing(demo, qtbot, way):
    survey, session = demo.benches["survey"], demo.store.session
    for key in ("E1", "face:loft.1", "V1", OPENING, "face:wing.1", "G1", OPENING, "E2"):
        if way == "rail" and not key.startswith("face"):
            row = next(n for n in range(demo.rail.runs.count())
                       if demo.rail.runs.item(n).data(Qt.ItemDataRole.UserRole) == key)
            demo.rail.runs.setCurrentRow(row)
        elif way == "select":
            kind, _, name = key.rpartition(":")
            session.select(**({"part": key} if kind == "face" else {kind or "run": name}))
        else:
            survey.model.press(key)
        if way == "next" and key == "V1":
            keys(demo, "Ctrl+Down", qtbot)
            key = session.selection.run
        demo.front.refresh()
        rail, table, plan, slate = shown_on_survey(demo)
        if key.startswith("face"):
            assert (rail, table, plan, slate) == ("", "", key, key)
        elif key.startswith("opening"):
            assert (rail, table, plan, slate) == (key, "", key, key)
        else:
            assert (rail, table, plan, slate) == (key, base_id(key), key, "run")


def test_what_goes_with_an_edit_is_let_go_everywhere(demo, qtbot):
    survey, session = demo.benches["survey"], demo.store.session
    survey.model.press(OPENING)
    choose(demo, "roof.take-off")
    assert session.selection.opening is None and survey.model.part == "" and session.selection.run
    survey.model.press("face:dormer.1")
    choose(demo, "roof.take-off")
    assert session.selection.part == "" and "dormer.1" not in [facet.id for facet in session.derived.roof.facets]
    keys(demo, "Ctrl+Z", qtbot)
    assert "dormer.1" in [facet.id for facet in session.derived.roof.facets]


# -- a first job of one's own --------------------------------------------------------------------------------


def test_a_first_own_job_takes_nothing_over_from_a_demo(demo, qtbot):
    session = demo.store.session
    demo.do("job.demo-inch")
    session.edit("learnt", lambda old: old.but(k=0.41))
    keys(demo, "Ctrl+N", qtbot)
    assert session.job == Job(name="new job") and "nothing is taken over" in demo.trouble.text.text()
    session.edit("mine", lambda old: old.but(k=0.39))
    keys(demo, "Ctrl+N", qtbot)
    assert session.job.k == 0.39, "one's own shop goes along"


def test_a_demo_saved_under_a_name_is_one_s_own(demo, qtbot, tmp_path):
    demo.do("job.demo")
    demo.store.session.save(tmp_path / "mine.yattle")
    keys(demo, "Ctrl+N", qtbot)
    assert demo.store.session.job.stock == DEMO.stock


def test_every_number_row_belongs_to_the_store(demo):
    """No field can hold text that nobody knows of."""
    places = demo.store.typing._places
    for name in ("survey", "trim", "brake", "coil", "fit", "log"):
        demo.show_bench(name)
        rows = [row for row in demo.benches[name].slate.rows if isinstance(row, NumberRow)]
        assert rows and all(row in places for row in rows)
    assert demo.benches["trim"].section in places and demo.benches["survey"].plan in places


def test_typing_a_wrong_text_and_the_right_one_after_it(window, qtbot):
    row = window.benches["trim"].slate.row("face")
    type_into(row, "nonsense", qtbot)
    assert row.refused
    type_into(row, "99", qtbot)
    assert not row.refused and run_of(job(window), "E1").own.face == 99
    qtbot.mouseClick(window.rail.buttons["survey"], LEFT)
    assert window.front.name == "survey"


def test_a_value_no_model_takes_is_one_sentence_wherever_it_is_typed(window):
    """What a field's own reading lets through and its value does not: never the validator's text, and nothing changes."""
    brake, log, survey = (window.benches[name].model for name in ("brake", "log", "survey"))
    before = window.store.session.job
    for said in (brake.machine.put_gauge("0"), brake.machine.put_gauge("40 mm"), log.note("x" * 100_000),
                 survey.add_metal("y" * 500)):
        assert said and "\n" not in said and "found" in said and "expected" in said
    assert window.store.session.job == before
