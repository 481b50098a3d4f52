"""The window as people use it: where it opens, what folds, wheel and drag on drawings, files dropped, tables copied and pasted."""

from __future__ import annotations

import pytest
from hands import LEFT, keys, settle
from PyQt6.QtCore import QMimeData, QPoint, QPointF, QRect, Qt, QUrl
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QGuiApplication, QWheelEvent
from PyQt6.QtTest import QTest

from yattle.job import Job, demo_path, load
from yattle.job.settings import Settings, keep_settings, load_settings
from yattle.job.store import as_text
from yattle.ui.app import last_job, make_window
from yattle.ui.frame.place import place_of, take_place, within

SCREENS = (QRect(0, 0, 1366, 768), QRect(1920, 40, 1280, 800), QRect(0, 0, 3840, 2160))


@pytest.mark.parametrize("screen", SCREENS)
@pytest.mark.parametrize("wanted", [QRect(0, 0, 1280, 800), QRect(-300, -200, 1280, 800), QRect(5000, 4000, 800, 700), QRect(10, 10, 9999, 9999)])
def test_a_window_lies_within_its_screen(wanted, screen):
    found = within(wanted, screen)
    assert screen.contains(found)
    assert found.width() == min(wanted.width(), screen.width()) and found.height() == min(wanted.height(), screen.height())
    if screen.contains(wanted):
        assert found == wanted


def test_size_and_what_is_folded_are_kept_for_the_next_start(open_window, qtbot):
    window = open_window(load(demo_path("net-shed")))
    room = QGuiApplication.primaryScreen().availableGeometry()
    window.setGeometry(QRect(room.left(), room.top() + 30, min(room.width(), 1100), min(room.height() - 30, 650)))
    keys(window, "Ctrl+F9", qtbot)
    assert window.rail.width() < 100 and not window.rail.runs.isVisible()
    qtbot.mouseClick(window.edges["slate"], LEFT)
    assert not window.slate_card.isVisible()
    group = window.front.slate.groups[0]
    group.click()
    at, folded = window.geometry(), set(window.store.folded)
    window.close()
    kept = load_settings()
    assert kept.place == (at.left(), at.top(), at.width(), at.height()) and set(kept.folded) == folded == {"rail", "slate", group.key}
    again = open_window(load(demo_path("net-shed")))
    take_place(again, kept)
    assert again.geometry() == at and place_of(again, Settings()).place == kept.place


def test_rows_of_a_folded_group_are_away_and_come_back(open_window, qtbot):
    window = open_window(load(demo_path("net-shed")))
    keys(window, "Ctrl+1", qtbot)
    slate = window.front.slate
    group = next(one for one in slate.groups if one.title == "Job")
    assert slate.row("metal").isVisibleTo(slate)
    qtbot.mouseClick(group, LEFT)
    assert not slate.row("metal").isVisibleTo(slate) and slate.row("pitch").isVisibleTo(slate) and "folded" in group.accessibleDescription()
    group.setFocus()
    qtbot.keyClick(group, Qt.Key.Key_Space)
    assert slate.row("metal").isVisibleTo(slate)


def test_what_there_is_to_begin_with_and_the_job_of_last_time(qtbot, tmp_path):
    assert last_job() is None
    window = make_window(None)
    qtbot.addWidget(window)
    window.show()
    assert window.pages.currentWidget() is window.start and not window.start.recent
    window.start.new.click()
    settle(window, qtbot)
    assert window.pages.currentWidget() is window.body and window.front.name == "survey"
    path = tmp_path / "shed.yattle"
    path.write_text(as_text(Job(name="shed")))
    keep_settings(load_settings().with_recent(path))
    assert last_job() == path
    window.shop.settings = load_settings()
    window.do("job.start")
    assert [button.accessibleName() for button in window.start.recent] == ["shed"]
    qtbot.keyClick(window.start.recent[0], Qt.Key.Key_Return) if window.start.recent[0].hasFocus() else window.start.recent[0].click()
    settle(window, qtbot)
    assert window.store.session.path == path and window.pages.currentWidget() is window.body
    path.unlink()
    assert last_job() is None


def turn(canvas, notches, at):
    QGuiApplication.sendEvent(canvas, QWheelEvent(at, canvas.mapToGlobal(at.toPoint()).toPointF(), QPoint(0, 0), QPoint(0, 120 * notches),
                                                  Qt.MouseButton.NoButton, Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False))
    QTest.qWait(1)


def test_wheel_drag_and_keys_bring_a_drawing_nearer_and_back(open_window, qtbot):
    window = open_window(load(demo_path("net-shed")))
    canvas = window.front.section
    canvas.grab()
    whole, at = canvas._view, QPointF(120.0, 90.0)
    place = ((at.x() - whole.dx) / whole.scale, (whole.dy - at.y()) / whole.scale)
    turn(canvas, 3, at)
    canvas.grab()
    near = canvas._view
    assert near.scale == pytest.approx(whole.scale * 1.25**3) and (near.at(place) - at).manhattanLength() < 0.01, "what is under the pointer stays"
    QTest.mousePress(canvas, Qt.MouseButton.MiddleButton, pos=QPoint(100, 100))
    QTest.mouseMove(canvas, QPoint(130, 115))
    QTest.mouseRelease(canvas, Qt.MouseButton.MiddleButton, pos=QPoint(130, 115))
    canvas.grab()
    assert canvas._view.dx - near.dx == pytest.approx(30.0) and canvas._view.dy - near.dy == pytest.approx(15.0)
    canvas.setFocus()
    qtbot.keyClick(canvas, Qt.Key.Key_0, Qt.KeyboardModifier.ControlModifier)
    canvas.grab()
    assert canvas._view == whole
    turn(canvas, -2, at)
    canvas.grab()
    assert canvas._view == whole, "never farther than the whole drawing"
    qtbot.keyClick(canvas, Qt.Key.Key_Plus, Qt.KeyboardModifier.ControlModifier)
    canvas.grab()
    assert canvas._view.scale == pytest.approx(whole.scale * 1.25)
    other = next(run.run.id for run in window.store.session.derived.runs if run.run.kind == "ridge")
    window.store.session.select(run=other)
    settle(window, qtbot)
    canvas.grab()
    assert canvas.nearer.view is None, "another drawing is seen whole"


def test_a_number_on_a_drawing_is_copied_by_its_menu(open_window):
    canvas = open_window(load(demo_path("net-shed"))).front.section
    canvas.grab()
    hit = next(hit for hit in canvas.hits if hit.key.startswith("leg:"))
    menu = canvas.menu_of(hit)
    texts = [action.text() for action in menu.actions() if action.text()]
    assert texts[0] == f"Copy {hit.text}" and any("whole drawing" in text for text in texts)
    menu.actions()[0].trigger()
    assert QGuiApplication.clipboard().text() == hit.text


def test_a_drawing_in_space_has_the_same_menu(open_window, qtbot):
    """Nearer, farther, whole and its picture; turned and brought nearer, Ctrl+0 stands it up as it first was."""
    window = open_window(load(demo_path("net-shed")))
    for solid in (window.benches["survey"].solid, window.benches["trim"].solid, window.benches["fit"].solid):
        first = solid.azimuth, solid.tilt, solid.zoom
        lines = {action.text().split("\t")[0]: action for action in solid.menu().actions() if action.text()}
        lines["Nearer"].trigger()
        assert solid.zoom > first[2]
        solid.turn(50.0, 12.0)
        qtbot.keyClick(solid, Qt.Key.Key_0, Qt.KeyboardModifier.ControlModifier)
        assert (solid.azimuth, solid.tilt, solid.zoom) == first
        lines["Farther"].trigger()
        assert solid.zoom < first[2]
        middle = solid._centre()
        qtbot.keyClick(solid, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
        assert (solid._centre() - middle).tolist() == [-48.0, 0.0] and solid.azimuth == first[0], "moved, not turned"
        at = QPointF(40.0, 30.0)
        off = (solid._centre() - (40.0, 30.0)) / solid.zoom
        solid.look(1.7, at)
        assert (solid._centre() - (40.0, 30.0)) / solid.zoom == pytest.approx(off), "what lies under the pointer stays there"
        lines["The whole drawing"].trigger()
        assert solid.zoom == first[2] and not solid.aside.any()
        QGuiApplication.clipboard().clear()
        lines["Copy the drawing as a picture"].trigger()
        assert not QGuiApplication.clipboard().image().isNull()


def test_the_menus_and_the_search_field_have_their_room_at_any_width(open_window, qtbot):
    """Drawn narrower and wider, every menu stays on the bar beside the field, and the field within the window."""
    window = open_window(load(demo_path("net-shed")))
    bar, finder = window.menuBar(), window.finder
    for width in (1366, 1000, 1280, 1000, 1600, 1100):
        window.resize(width, 700)
        settle(window, qtbot)
        left = finder.mapTo(window, QPoint(0, 0)).x()
        assert left + finder.width() <= window.width(), width
        assert window.width() - left - finder.width() < 40, f"{width}: at the right"
        ends = [bar.actionGeometry(action).right() for action in bar.actions()]
        assert len(ends) == 8 and all(0 < end < left for end in ends), (width, ends, left)


def drop(window, path):
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path))])
    left, none = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    enter = QDragEnterEvent(QPoint(300, 300), Qt.DropAction.CopyAction, data, left, none)
    window.dragEnterEvent(enter)
    assert enter.isAccepted()
    window.dropEvent(QDropEvent(QPointF(300, 300), Qt.DropAction.CopyAction, data, left, none))


def test_files_that_are_dropped_are_taken_for_what_they_are(open_window, qtbot, tmp_path):
    window = open_window(load(demo_path("net-shed")))
    session = window.store.session
    measures, stock, odd, job = (tmp_path / name for name in ("taped.csv", "stock.csv", "note.txt", "shed.yattle"))
    measures.write_text("what,value\nE1,30'\n")
    stock.write_text("id,kind,metal,width_mm\nC9,coil,prepainted steel,1250\n")
    odd.write_text("?")
    job.write_text(as_text(Job(name="shed")))
    drop(window, measures)
    qtbot.waitUntil(lambda: session.job.taped != load(demo_path("net-shed")).taped, timeout=5000)
    drop(window, stock)
    qtbot.waitUntil(lambda: [piece.id for piece in session.job.stock] == ["C9"], timeout=5000)
    drop(window, odd)
    qtbot.waitUntil(lambda: "note.txt: found a file that is not known here" in window.trouble.text.text(), timeout=5000)
    drop(window, job)
    qtbot.waitUntil(lambda: session.path == job, timeout=5000)


def test_the_table_is_copied_and_a_column_of_measures_pasted(open_window, qtbot):
    window = open_window(load(demo_path("sail-loft")))
    keys(window, "Ctrl+1", qtbot)
    bench, session = window.front, window.store.session
    table = bench.table
    table.setFocus()
    qtbot.keyClick(table, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    lines = QGuiApplication.clipboard().text().splitlines()
    assert len(lines) == 1 + len(session.derived.own_runs) and lines[0].split("\t")[0] == "run" and lines[1].startswith("E1\t")
    column = next(n for n in range(table.model().columnCount()) if table.model().headerData(n, Qt.Orientation.Horizontal) == "taped")
    table.setCurrentIndex(table.model().index(2, column))
    QGuiApplication.clipboard().setText("1460\tx\n5905\nnot a length\n")
    qtbot.keyClick(table, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    settle(window, qtbot)
    taped = {run.run.id: run.run.taped for run in session.derived.own_runs}
    ids = [run.run.id for run in session.derived.own_runs]
    assert taped[ids[2]] == 1460.0 and taped[ids[3]] == 5905.0 and taped[ids[4]] is None
    assert bench.wrong.isVisibleTo(bench) and "not a length" in bench.wrong.text() and ids[4] in bench.wrong.text()


def test_the_drawing_that_has_the_keyboard_is_ringed_and_says_what_is_in_hand(open_window, qtbot):
    window = open_window(load(demo_path("net-shed")))
    window.activateWindow()
    canvas = window.front.section
    canvas.setFocus()
    qtbot.waitUntil(lambda: window.ring.isVisible(), timeout=2000)
    assert window.ring.geometry() == canvas.geometry() and window.ring.parentWidget() is canvas.parentWidget()
    canvas.grab()
    qtbot.keyClick(canvas, Qt.Key.Key_Right)
    canvas.grab()
    first = canvas.accessibleDescription()
    qtbot.keyClick(canvas, Qt.Key.Key_Right)
    canvas.grab()
    assert " of " in first and canvas.accessibleDescription() != first
    window.front.slate.setFocus()
    window.rail.buttons["trim"].setFocus()
    assert not window.ring.isVisible()


def test_by_tab_alone_every_part_of_the_window_is_reached(open_window, qtbot):
    """From the section round and back: drawings, fields, lists, rail and tape, none twice before all were."""
    window = open_window(load(demo_path("net-shed")))
    window.activateWindow()
    window.front.section.setFocus()
    seen = []
    for _ in range(400):
        here = QGuiApplication.instance().focusWidget()
        if here in seen:
            break
        seen.append(here)
        qtbot.keyClick(here, Qt.Key.Key_Tab)
    names = {type(one).__name__ for one in seen}
    assert here is seen[0] and {"GirthTape", "BenchButton", "GroupHead"} <= names and len(seen) > 25
    assert all(one.accessibleName() or one.text() for one in seen if hasattr(one, "text") or one.accessibleName())


def test_what_went_wrong_on_one_bench_does_not_follow_to_another(open_window, qtbot):
    window = open_window(load(demo_path("net-shed")))
    window.shop.complain("flange: found 'x', expected a length")
    assert window.trouble.isVisible()
    keys(window, "Ctrl+3", qtbot)
    assert not window.trouble.isVisible()
    window.shop.tell("the whole pack is written")
    keys(window, "Ctrl+2", qtbot)
    assert window.trouble.isVisible(), "what was done stays to be read"


def test_thin_strips_on_the_coil_come_nearer_by_wheel_keys_and_drag(open_window, qtbot):
    """What is under the pointer stays there; a piece is pressed where it is drawn then; another plan is seen whole again."""
    window = open_window(load(demo_path("net-shed")))
    window.show_bench("coil")
    settle(window, qtbot)
    stock = window.front.view

    def drawn():
        stock.grab()
        qtbot.waitUntil(lambda: not stock._to_paint)
        return {key: rect for rect, key in stock.hits}
    whole = drawn()
    key, rect = next((key, rect) for key, rect in whole.items() if key in {p.id for p in window.store.session.derived.patterns})
    at = rect.center()
    before, scale = stock._stock_at(at), stock.shown[0][1].scale
    turn(stock, 6, at)
    near = drawn()
    assert stock.shown[0][1].scale == pytest.approx(scale * 1.25**6) and len(stock.shown) < 40
    assert len(near) < len(whole), "what lies off the screen is not painted"
    name, x, y = stock._stock_at(at)
    assert name == before[0] and (x, y) == pytest.approx(before[1:], abs=30.0)
    QTest.mousePress(stock, Qt.MouseButton.MiddleButton, pos=QPoint(100, 100))
    QTest.mouseMove(stock, QPoint(140, 125))
    QTest.mouseRelease(stock, Qt.MouseButton.MiddleButton, pos=QPoint(140, 125))
    assert drawn()[key].center() - near[key].center() == QPointF(40.0, 25.0)
    qtbot.mouseClick(stock, Qt.MouseButton.LeftButton, pos=drawn()[key].center().toPoint())
    assert window.store.session.selection.run and stock.selected == key
    stock.setFocus()
    qtbot.keyClick(stock, Qt.Key.Key_0, Qt.KeyboardModifier.ControlModifier)
    assert drawn()[key] == rect and stock.nearer.view is None
    texts = [action.text() for action in stock.menu_of(key).actions() if action.text()]
    assert texts[0].startswith("Copy ") and any("whole drawing" in text for text in texts)
