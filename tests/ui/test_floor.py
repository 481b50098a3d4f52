"""On the floor: cut by cut, stroke by stroke, item by item, by the space bar; every piece's state is ticked there."""

from __future__ import annotations

import pytest
from hands import keys, press_key_of, settle
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from samples import THREE_EAVES
from yattle.job import demo_path, load
from yattle.ui.floor.model import FloorModel
from yattle.ui.floor.view import FloorView


@pytest.fixture
def floor(open_window, qtbot):
    window = open_window(load(THREE_EAVES))
    keys(window, "F4", qtbot)
    view = window.shop.dialog
    assert isinstance(view, FloorView) and view.isFullScreen()
    yield view
    if view.isVisible():
        view.reject()


def job(view):
    return view.store.session.job


def press(view, key=Qt.Key.Key_Space, times=1):
    for _ in range(times):
        QTest.keyClick(view, key)


def through(view):
    """Everything cut, by the space bar."""
    for _ in range(200):
        if view.big.text() == "all cut":
            return
        press(view)
    raise AssertionError(view.big.text())


def test_the_words_at_the_shear_are_those_of_the_cut_sheet(floor):
    assert floor.about.text() == "coil A · block 1 of 2" and floor.big.text().startswith("Block 1 of 2")
    assert "pull to the stop at" in floor.small.text() and floor.after.text().startswith("then: slit")
    press(floor)
    assert floor.big.text().startswith("slit") and "E1-1" in floor.small.text()
    press(floor, Qt.Key.Key_Backspace)
    assert floor.big.text().startswith("Block 1 of 2") and not floor.book_button.isVisible()


def test_what_is_cut_is_booked_in_one_deed_and_the_rest_goes_on(floor, qtbot):
    before = job(floor)
    through(floor)
    assert floor.model.shear.made == 13 and floor.book_button.isVisible()
    floor.book_button.click()
    assert {done.piece for done in job(floor).cut} == {p.id for p in floor.store.session.derived.patterns}
    assert sum(entry.amount for entry in job(floor).ledger if entry.what == "out") > 5000
    assert floor.big.text() == "nothing to cut"
    floor.store.session.undo()
    assert job(floor) == before


def test_leaving_books_what_was_cut_by_then(floor, qtbot):
    press(floor, times=3)
    made = floor.model.shear.made
    assert 0 < made < 13
    press(floor, Qt.Key.Key_Escape)
    assert job(floor).cut and "booked" in floor.parent().trouble.text.text()
    settle(floor.parent(), qtbot)
    assert floor.parent().store.session.derived.nest_job.begun == () or job(floor).cut[0].stock


def test_strokes_by_the_pedal_tick_a_piece_as_folded(floor, qtbot):
    through(floor)
    floor.book_button.click()
    floor.places["brake"].click()
    first = floor.model.now()
    strokes = len(floor.store.session.derived.order("E1").steps)
    assert "eave" in floor.about.text() and " at " in floor.big.text() and "leaf" in floor.small.text()
    press(floor, Qt.Key.Key_PageDown, strokes - 1)
    assert floor.after.text() == "then: piece done" and not any(done.folded for done in job(floor).cut)
    press(floor, Qt.Key.Key_PageDown)
    assert {done.piece for done in job(floor).cut if done.folded} == {first} and floor.model.now() != first
    press(floor, Qt.Key.Key_PageDown, 40 * strokes)
    assert floor.big.text() == "nothing to fold"
    assert all(done.folded == done.copies for done in job(floor).cut)
    floor.places["roof"].click()
    press(floor, times=len(floor.model.roof._items()))
    assert floor.big.text() == "all on" and all(done.fitted == done.copies for done in job(floor).cut if done.piece.startswith("E"))


def test_a_piece_that_is_not_cut_is_not_ticked_as_folded(floor):
    floor.places["brake"].click()
    press(floor, times=20)
    assert not job(floor).cut and "not booked as cut" in floor.parent().trouble.text.text()


def test_a_label_s_code_opens_its_piece_and_what_is_wrong_is_said(floor, qtbot):
    last = floor.store.session.derived.patterns[-1].id
    floor.code.setText(f"yattle:piece/{last}")
    QTest.keyClick(floor.code, Qt.Key.Key_Return)
    assert floor.model.place == "brake" and floor.model.now() == last and not floor.code.text()
    assert floor.bar.value() == 0, "Return on the code is no stroke that is done"
    floor.code.setText("Q9-9")
    QTest.keyClick(floor.code, Qt.Key.Key_Return)
    assert "piece: found 'Q9-9', expected the number of a piece" in floor.after.text() and floor.code.text() == "Q9-9"


def test_a_spoiled_piece_is_planned_again_with_why(floor, qtbot):
    through(floor)
    floor.book_button.click()
    assert floor.model.spoil("E1-1", "folded on the wrong side") is None
    assert job(floor).log[-1].what == "spoiled" and job(floor).log[-1].text == "folded on the wrong side"
    assert [part.id for part in floor.store.session.derived.nest_job.parts] == ["E1-1"]
    assert "at most 0" in floor.model.spoil("E1-1", "")
    floor.model.shear.begin()
    floor.model.go("shear")
    assert floor.big.text() != "nothing to cut"


def test_the_numbers_are_read_from_two_metres(floor):
    assert floor.big.font().pointSizeF() >= 40 and floor.small.font().pointSizeF() >= 24
    assert floor.done_button.height() >= 80


def test_a_job_without_a_plan_says_so(open_window):
    window = open_window(load(THREE_EAVES).but(roof=type(load(demo_path()).roof)(), runs=()))
    model = FloorModel(window.store, lambda: None)
    for place, word in (("shear", "nothing to cut"), ("brake", "nothing to fold"), ("roof", "nothing to fit")):
        model.go(place)
        assert model.screen().big == word
        model.next()


def test_pressed_on_the_drawing_the_work_stands_at_the_cut_that_frees_the_piece_and_pressed_again_it_is_made(floor, qtbot):
    assert floor.model.shear.at == 0
    press_key_of(floor.picture, "E3-1", qtbot)
    assert floor.big.text().startswith("slit") and "E3-1" in floor.small.text() and not job(floor).cut
    at = floor.model.shear.at
    press_key_of(floor.picture, "E3-1", qtbot)
    assert floor.model.shear.at == at + 1 and floor.model.shear.made > 0
    floor.book_button.click()
    assert "E3-1" in {done.piece for done in job(floor).cut}


def test_every_piece_on_the_drawing_leads_to_a_line_that_names_it(floor):
    shear = floor.model.shear
    for part in {place.part for place in shear.answer.placements}:
        shear.at = 0
        shear.press(part)
        said = shear.screen()
        assert part in f"{said.big} {said.small}", part


def test_at_the_brake_the_drawing_is_the_stroke_and_pressed_it_is_made(floor):
    through(floor)
    floor.book_button.click()
    floor.places["brake"].click()
    first, strokes = floor.model.now(), len(floor.store.session.derived.order("E1").steps)
    for n in range(strokes):
        assert floor.bar.value() == n
        QTest.mouseClick(floor.picture, Qt.MouseButton.LeftButton)
    assert {done.piece for done in job(floor).cut if done.folded} == {first}


def test_on_the_roof_an_edge_pressed_is_what_goes_on_and_pressed_again_it_is_fitted(floor, qtbot):
    through(floor)
    floor.book_button.click()
    floor.places["brake"].click()
    press(floor, Qt.Key.Key_Space, 300)
    floor.places["roof"].click()
    tag = next(hit for hit in paint_now(floor) if hit.key == "E2" and hit.outline is None)
    assert floor.big.text().startswith("E1")
    for said in ("E2", ""):
        QTest.mouseClick(floor.picture, Qt.MouseButton.LeftButton, pos=tag.rect.center().toPoint())
        if said:
            assert said in floor.big.text() and not any(done.fitted for done in job(floor).cut)
    assert {done.piece.split("-")[0] for done in job(floor).cut if done.fitted} == {"E2"}
    assert any(getattr(shape, "role", "") == "lit-edge" for shape in floor.picture.drawing.shapes)


def paint_now(floor):
    floor.picture.grab()
    return floor.picture.hits


def test_a_gloved_finger_beside_an_edge_means_it(floor, qtbot):
    floor.places["roof"].click()
    west = next(hit for hit in paint_now(floor) if hit.key == "E2" and hit.outline is None)
    beside = west.rect.center().toPoint()
    beside.setX(int(west.rect.left()) - 20)
    assert not any(hit.contains(beside.toPointF()) for hit in floor.picture.hits)
    QTest.mouseClick(floor.picture, Qt.MouseButton.LeftButton, pos=beside)
    assert floor.big.text().startswith(west.key)
    far = beside
    far.setX(max(int(west.rect.left()) - 200, 1))
    before = floor.big.text()
    assert all(hit.away(far.toPointF()) > floor.picture.finger for hit in floor.picture.hits)
    QTest.mouseClick(floor.picture, Qt.MouseButton.LeftButton, pos=far)
    assert floor.big.text() == before
