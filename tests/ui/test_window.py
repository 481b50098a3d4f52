"""The real window, driven by keys and mouse."""

from __future__ import annotations

import pytest
from hands import LEFT, keys, press_finding, press_key_of, type_into
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtWidgets import QAbstractButton, QComboBox, QLabel, QLineEdit, QSlider

from samples import eaves_path
from yattle.derive.roof_runs import run_of
from yattle.job import Job, load
from yattle.ui import theme as themes
from yattle.ui.commands import view
from yattle.ui.commands.table import ACTIONS, MENUS
from yattle.ui.frame.dialogs import AboutBox, KeysBox


def test_a_leg_typed_on_the_drawing(window, qtbot):
    section = window.benches["trim"].section
    press_key_of(section, "leg:2", qtbot)
    qtbot.keyClicks(section._editor, "110")
    qtbot.keyClick(section._editor, Qt.Key.Key_Return)
    assert run_of(window.store.session.job, "E1").own.face == 110 and section._editor is None
    keys(window, "Ctrl+Z", qtbot)
    assert run_of(window.store.session.job, "E1").own.face is None


def test_a_wrong_leg_on_the_drawing_stays_with_its_sentence(window, qtbot):
    section = window.benches["trim"].section
    press_key_of(section, "leg:3", qtbot)
    qtbot.keyClicks(section._editor, "900")
    qtbot.keyClick(section._editor, Qt.Key.Key_Return)
    assert "expected kick from 3.0 mm to 100.0 mm" in section._editor.toolTip() and section._editor.text() == "900"
    qtbot.keyClick(section._editor, Qt.Key.Key_Escape)
    assert section._editor is None and not window.store.session.changed


def test_the_fold_over_the_eave_is_not_typed(window, qtbot):
    section = window.benches["trim"].section
    press_key_of(section, "f1", qtbot)
    assert window.store.session.selection.fold == "f1"
    section.setFocus()
    qtbot.keyClick(section, Qt.Key.Key_Return)
    qtbot.keyClicks(section._editor, "70")
    qtbot.keyClick(section._editor, Qt.Key.Key_Return)
    assert "follows from the pitch" in section._editor.toolTip()


@pytest.mark.parametrize(("row", "typed", "says"), [
    ("pitch", "95°", "0° to under 90°"), ("pitch", "85", "0° to 80°"), ("face", "nonsense", "face: found 'nonsense'"),
    ("face", "nan", "face: found 'nan'"), ("kick", "0", "kick from 3.0 mm")])
def test_a_wrong_number_is_said_where_it_was_typed(window, qtbot, row, typed, says):
    field = window.benches["trim"].slate.row(row)
    type_into(field, typed, qtbot)
    assert says in field.wrong.text() and field.wrong.isVisible()
    assert field.field.text() == typed and not window.store.session.changed
    qtbot.keyClick(field.field, Qt.Key.Key_Escape)
    assert not field.wrong.isVisible() and field.field.text() != typed


def test_a_section_that_cannot_be_made_is_an_answer(window, qtbot):
    trim = window.benches["trim"]
    type_into(trim.slate.row("kick turn"), "135", qtbot)
    type_into(trim.slate.row("kick"), "3", qtbot)
    type_into(trim.slate.row("face"), "10", qtbot)
    assert window.store.session.derived.run("E1").pieces == ()
    assert window.store.session.derived.findings[0][1].level == "stop"
    assert "cannot be made" in trim.pattern_card.under.text()
    for name in ("survey", "brake", "coil", "trim"):
        window.show_bench(name)
    for _ in range(3):
        window.do("edit.undo")
    assert trim.pattern_card.head.text() == "piece 1 of 6"


def test_an_empty_field_takes_the_standard_again(window, qtbot):
    row = window.benches["trim"].slate.row("kick")
    type_into(row, "25", qtbot)
    assert row.note.text() == "this run"
    type_into(row, "", qtbot)
    row.field.clear()
    row.field.setModified(True)
    row.commit()
    assert row.field.text() == "18.0" and row.note.text() == "standard"


def test_a_number_s_sum_unfolds(window, qtbot):
    girth = window.benches["trim"].slate.row("girth")
    assert not girth.sum.isVisible()
    qtbot.mouseClick(girth.button, LEFT)
    labels = [girth.sum._grid.itemAt(n).widget().text() for n in range(girth.sum._grid.count())]
    assert girth.sum.isVisible() and labels[:4] == ["deck flange", "85.00", "face", "+ 95.00"]
    assert labels[-2:] == ["girth", "= 208.58"]
    qtbot.mouseClick(girth.button, LEFT)
    assert not girth.sum.isVisible()


def test_one_selection_in_every_bench(window, qtbot):
    fold = next(rect for rect, key in window.tape.notches if key == "f2")
    qtbot.mouseClick(window.tape, LEFT, pos=fold.center().toPoint())
    assert window.store.session.selection.fold == "f2"
    assert window.benches["trim"].section.ink.selected == "f2" == window.benches["trim"].pattern.ink.selected
    window.show_bench("brake")
    brake = window.benches["brake"]
    qtbot.waitUntil(lambda: brake.model.current is not None and brake.model.current.fold == "f2", timeout=15000)  # it comes beside
    keys(window, "Ctrl+Shift+Right", qtbot)
    assert window.store.session.selection.fold == window.benches["brake"].model.current.fold != "f2"


def test_the_tape_reads_from_either_edge(window, qtbot):
    bend = window.tape._girth.bends[0]
    assert window.tape.distance(bend) == pytest.approx(bend.mark)
    window.tape.setFocus()
    qtbot.keyClick(window.tape, Qt.Key.Key_R)
    assert window.tape.distance(bend) == pytest.approx(window.tape._girth.girth - bend.mark)
    assert "rounded from the edge to 0.5 mm" in window.tape.rounding_says()
    qtbot.mouseClick(window.tape, LEFT, pos=QPointF(40, 40).toPoint())
    assert not window.tape.from_b
    qtbot.keyClick(window.tape, Qt.Key.Key_Right)
    assert window.store.session.selection.fold == "f1"


def test_the_slider_folds_and_the_piece_turns(window, qtbot):
    trim = window.benches["trim"]
    qtbot.waitUntil(lambda: not trim._soon.isActive(), timeout=3000)
    folded = trim.solid.grab().toImage()
    trim.slider.setValue(0)
    assert trim.solid.share == 0
    flat = trim.solid.grab().toImage()
    assert folded != flat
    trim.solid.setFocus()
    qtbot.keyClick(trim.solid, Qt.Key.Key_Right)
    assert trim.solid.grab().toImage() != flat and trim.solid.azimuth == pytest.approx((-32 + 8) % 360)
    trim.solid.turn(0, 500)
    assert trim.solid.tilt == 85


def test_the_survey_s_table_takes_what_is_typed(window, qtbot):
    survey = window.benches["survey"]
    window.show_bench("survey")
    model = survey.rows
    pitch = model.index(0, 2)
    survey.table.setFocus()
    survey.table.setCurrentIndex(pitch)
    qtbot.keyClick(survey.table, "7")
    editor = survey.table.findChild(QLineEdit)
    qtbot.keyClicks(editor, ":12")
    qtbot.keyClick(editor, Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: run_of(window.store.session.job, "E1").pitch == pytest.approx(30.2564, abs=1e-3), timeout=3000)
    assert not model.setData(model.index(0, 3), "10 km of eave")
    assert survey.wrong.isVisible() and "E1 length: found '10 km of eave'" in survey.wrong.text()
    assert not model.setData(model.index(0, 3), "10000 m")
    assert "at most 200000" in survey.wrong.text()
    assert model.setData(model.index(0, 3), "14.9 m") and not survey.wrong.isVisible()
    press_key_of(survey.plan, "E4", qtbot)
    assert window.store.session.selection.run == "E4" and survey.table.currentIndex().row() == 3


def test_what_to_look_at_leads_there(window, qtbot):
    window.show_bench("survey")
    slate = window.benches["survey"].slate
    press_finding(slate, "Look: E2", qtbot)
    assert window.store.session.selection.run == "E2" and slate.row("taped").field.hasFocus()
    type_into(slate.row("taped"), "9478", qtbot)
    assert window.store.session.derived.findings == ()


def test_adding_and_removing_runs(window, qtbot):
    keys(window, "Ctrl+Shift+N", qtbot)
    assert window.store.session.selection.run == "E7" and window.rail.runs.count() == 7
    keys(window, "Ctrl+Del", qtbot)
    assert window.rail.runs.count() == 6
    keys(window, "Ctrl+Z", qtbot)
    keys(window, "Ctrl+Z", qtbot)
    assert window.store.session.job == load(eaves_path())
    keys(window, "Ctrl+Down", qtbot)
    assert window.store.session.selection.run == "E2"


def test_an_empty_job_says_what_to_do_and_nothing_breaks(open_window, qtbot):
    window = open_window(Job(name="empty"))
    assert window.stack.currentWidget() is window.benches["survey"]
    assert "Ctrl+Shift+N" in window.benches["survey"].plan_card.under.text()
    for name in ("trim", "brake", "coil", "survey"):
        window.show_bench(name)
        window.grab()
    assert not window.menus.actions["papers.pack"].isEnabled()
    for bench, row in (("survey", "pitch"), ("trim", "face")):  # nothing there that could not be taken
        window.show_bench(bench)
        assert not window.benches[bench].slate.row(row).isVisible()
    keys(window, "Ctrl+Shift+N", qtbot)
    assert window.store.session.derived.pieces


def test_the_coil_bench(window, qtbot):
    window.show_bench("coil")
    coil = window.benches["coil"]
    assert coil.slate.row("used").button.text() == "13.33 m" and coil.card.right.text() == "every piece placed"
    coil.view.grab()
    rect, _key = next((r, k) for r, k in coil.view.hits if k == "E3-4")
    qtbot.mouseClick(coil.view, LEFT, pos=rect.center().toPoint())
    assert window.store.session.selection.run == "E3" and window.store.session.selection.piece == 3
    before = coil.cut.value()
    qtbot.mouseClick(coil.playback.back, LEFT)
    assert coil.cut.value() == before - 1 and f"cut {before - 1} of {before}" in coil.said.text()
    type_into(coil.slate.row("width"), "1000", qtbot)
    qtbot.waitUntil(lambda: not window.store.board.busy("results"), timeout=10000)
    assert coil.slate.row("used").button.text() != "13.33 m"
    type_into(coil.slate.row("width"), "150", qtbot)
    qtbot.waitUntil(lambda: not window.store.board.busy("results"), timeout=10000)
    assert coil.model.answer.unplaced and coil.card.right.text() == ""


def test_another_metal_gets_a_coil_of_its_own(window, qtbot):
    """The steel coil stays in the shop; the first width typed for copper makes a copper coil, and all is placed."""
    window.show_bench("survey")
    survey, coil = window.benches["survey"].slate, window.benches["coil"]
    survey.row("metal").box.setCurrentIndex(survey.row("metal").box.findData("copper"))
    window.show_bench("coil")
    qtbot.waitUntil(lambda: not window.store.board.busy("results") and bool(coil.model.answer.unplaced), timeout=10000)
    assert "no stock of this metal" in coil.card.under.text() and coil.slate.row("width").field.text() == ""
    type_into(coil.slate.row("width"), "1000", qtbot)
    qtbot.waitUntil(lambda: not window.store.board.busy("results") and coil.model.answer.ok, timeout=10000)
    stock = window.store.session.job.stock
    assert [s.metal for s in stock if s.kind == "coil"] == ["prepainted steel 0.60", "copper 0.60"]
    assert len({s.id for s in stock}) == len(stock) and coil.card.right.text() == "every piece placed"


def test_finding_by_typing(window, qtbot):
    keys(window, "Ctrl+K", qtbot)
    qtbot.keyClicks(window.finder, "e3-5")
    assert window.finder.list.isVisible()
    qtbot.keyClick(window.finder, Qt.Key.Key_Return)
    assert window.store.session.selection.run == "E3" and window.store.session.selection.piece == 4
    qtbot.keyClicks(window.finder, "coil")
    qtbot.keyClick(window.finder, Qt.Key.Key_Return)
    assert window.stack.currentWidget() is window.benches["coil"]
    qtbot.keyClicks(window.finder, "zzz")
    assert window.finder.list.item(0).text() == "nothing of that name"
    qtbot.keyClick(window.finder, Qt.Key.Key_Escape)
    assert window.finder.text() == ""


def test_a_run_s_values_for_the_whole_job(window, qtbot):
    type_into(window.benches["trim"].slate.row("kick"), "22", qtbot)
    keys(window, "Ctrl+J", qtbot)
    job = window.store.session.job
    assert job.own.kick == 22 and run_of(job, "E1").own.kick is None
    assert all(run.standard.kick == 22 for run in window.store.session.derived.runs)


def test_the_selected_fold_lights_up_on_the_coil(window, qtbot):
    window.store.session.select(run="E3", piece=4, fold="f2")
    window.show_bench("coil")
    assert (window.benches["coil"].view.selected, window.benches["coil"].view.fold) == ("E3-5", "f2")
    keyed = [s.key for lane in window.benches["coil"].view.lanes for s in lane.drawing.shapes if hasattr(s, "key")]
    assert keyed.count("f2") == 1


def test_units_and_themes(window, qtbot):
    keys(window, "Ctrl+U", qtbot)
    assert window.store.session.job.unit == "in8"
    assert window.benches["trim"].slate.row("face").field.text() == "3 3/4"
    type_into(window.benches["trim"].slate.row("face"), "3-1/2", qtbot)
    assert run_of(window.store.session.job, "E1").own.face == pytest.approx(88.9)
    for name, expected in (("dark", themes.DARK), ("light", themes.LIGHT)):
        view.set_theme(window.shop, name)
        assert themes.theme() is expected
        window.grab()


def test_schools_change_the_pattern(window, qtbot):
    trim = window.benches["trim"]
    before = window.store.session.derived.run("E1").pieces[0].pattern
    box = trim.slate.row("left").box
    box.setCurrentIndex(box.findData("plain"))
    after = window.store.session.derived.run("E1").pieces[0].pattern
    assert len(after.folds) == len(before.folds) - 1
    trim.slate.row("laps").box.setCurrentIndex(1)
    assert window.store.session.job.weather == "right"
    window.show_bench("survey")
    survey = window.benches["survey"].slate
    survey.row("metal").box.setCurrentIndex(survey.row("metal").box.findData("copper"))
    assert window.store.session.job.metal == "copper" and window.store.session.job.thickness == 0.6
    assert window.store.session.job.brake.springback.ratio == 1.01, "the metal's own springback"
    survey.row("allowance").box.setCurrentIndex(2)
    assert window.store.session.derived.run("E1").detail.girth.girth == 210


def test_every_action_is_declared_once_and_works_from_the_table(window):
    assert len({a.id for a in ACTIONS}) == len(ACTIONS)
    shortcuts = [a.shortcut for a in ACTIONS if a.shortcut]
    assert len(set(shortcuts)) == len(shortcuts)
    found = {title for title, *_ in window.menus.entries()}
    assert {a.title for a in ACTIONS if not a.shortcut} <= found, "what has no keys is found by its name"
    for spec in ACTIONS:
        assert spec.menu in MENUS and callable(spec.do), spec.id
        assert window.menus.actions[spec.id] in window.menus.by_name[spec.menu].actions()


def test_every_control_has_an_accessible_name(window):
    for name in window.rail.buttons:
        window.show_bench(name)
    controls = [w for kind in (QAbstractButton, QLineEdit, QComboBox, QSlider) for w in window.findChildren(kind)
                if w.isVisibleTo(window) and not w.objectName().startswith("qt_")]
    nameless = [w for w in controls if not (w.accessibleName() or (isinstance(w, QAbstractButton) and w.text()))
                and not isinstance(w.parent(), QLineEdit | QComboBox)]
    assert controls and nameless == []


def test_keys_and_about(window, qtbot):
    box = KeysBox(window, {menu: [(spec.shortcut, spec.title) for spec in ACTIONS if spec.menu == menu] for menu in MENUS})
    qtbot.addWidget(box)
    texts = [label.text() for label in box.findChildren(type(window.menus.title))]
    assert all(a.shortcut in texts for a in ACTIONS if a.shortcut)
    about = AboutBox(window)
    qtbot.addWidget(about)
    assert any("General Public License" in label.text() for label in about.findChildren(QLabel))


@pytest.mark.parametrize("t", [themes.LIGHT, themes.DARK], ids=["light", "dark"])
def test_text_can_be_read_on_its_ground(t):
    def shine(colour):
        parts = [int(colour[k:k + 2], 16) / 255 for k in (1, 3, 5)]
        r, g, b = (c / 12.92 if c <= 0.03928 else ((c + 0.055) / 1.055) ** 2.4 for c in parts)
        return 0.2126 * r + 0.7152 * g + 0.0722 * b

    pairs = [(t.ink, t.card), (t.ink, t.field), (t.dim, t.card), (t.copper, t.card), (t.verdigris, t.card), (t.oxide, t.card),
             (t.on_copper, t.copper), (t.ink, t.marker_soft), (t.ink, t.oxide_soft), (t.ink, t.copper_soft),
             (t.rail_ink, t.rail), (t.rail_dim, t.rail), (t.rail_dim, t.rail_here), (t.ink, t.sheet), (t.dim, t.ground)]
    for ink, ground in pairs:
        a, b = sorted((shine(ink), shine(ground)), reverse=True)
        assert (a + 0.05) / (b + 0.05) >= 4.5, (ink, ground)
