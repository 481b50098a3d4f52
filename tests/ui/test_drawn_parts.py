"""Parts of drawings for a screen reader: each is there by its name, where it is drawn, and can be pressed."""

from __future__ import annotations

import pytest
from hands import settle
from PyQt6.QtCore import QPoint, Qt

from yattle.job import demo_path, load
from yattle.ui.benches.brake.strip import StepStrip
from yattle.ui.benches.coil.stock_view import StockView
from yattle.ui.drawing.canvas import Canvas
from yattle.ui.drawing.parts import PartButton


def told(widget):
    """The parts that a reader meets on a drawing."""
    return [button for button in widget.findChildren(PartButton) if button.isVisible()]


def drawing_of(window):
    return max((one for one in window.front.findChildren(Canvas) if one.isVisible() and one.hits), key=lambda one: one.width() * one.height())


@pytest.mark.parametrize("bench", ["survey", "trim"])
def test_every_part_is_told_where_it_is_drawn_and_pressing_it_means_it(window, qtbot, bench):
    window.show_bench(bench)
    settle(window, qtbot)
    canvas = drawing_of(window)
    keys = {hit.key for hit in canvas.hits if hit.key}
    qtbot.waitUntil(lambda: {button.key for button in told(canvas)} == keys)
    for button in told(canvas):
        assert button.accessibleName() and any(hit.rect.toRect() == button.geometry() for hit in canvas.hits if hit.key == button.key)
    pressed = []
    canvas.pressed.connect(pressed.append)
    other = next(button for button in told(canvas) if not button.isChecked())
    other.click()
    assert pressed == [other.key]


def test_the_edge_that_a_reader_presses_is_in_hand_and_its_button_is_down(open_window, qtbot):
    window = open_window(load(demo_path("net-shed")))
    window.show_bench("survey")
    settle(window, qtbot)
    canvas = drawing_of(window)
    qtbot.waitUntil(lambda: len(told(canvas)) > 3)
    run = window.store.session.selection.run
    edge = next(button for button in told(canvas) if button.key in {one.run.id for one in window.store.session.derived.runs} and button.key != run)
    edge.click()
    settle(window, qtbot)
    assert window.store.session.selection.run == edge.key != run
    canvas = drawing_of(window)
    qtbot.waitUntil(lambda: [button.key for button in told(canvas) if button.isChecked()] == [canvas.ink.selected])


def test_a_hand_meets_the_drawing_and_not_its_buttons(window, qtbot):
    """The mouse goes through them, Tab does not stop at them, nothing is painted by them."""
    window.show_bench("trim")
    settle(window, qtbot)
    canvas = drawing_of(window)
    qtbot.waitUntil(lambda: len(told(canvas)) > 3)
    for button in told(canvas):
        assert button.focusPolicy() == Qt.FocusPolicy.NoFocus and not button.updatesEnabled()
        assert not isinstance(canvas.childAt(button.geometry().center()), PartButton)
    hit = next(hit for hit in canvas.hits if hit.key and canvas.key_at(hit.rect.center()) == hit.key)
    with qtbot.waitSignal(canvas.pressed) as signal:
        qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=QPoint(int(hit.rect.center().x()), int(hit.rect.center().y())))
    assert signal.args == [hit.key]


def test_steps_of_an_order_and_pieces_on_the_coil_are_told_too(window, qtbot):
    window.show_bench("brake")
    settle(window, qtbot)
    strip = window.front.findChild(StepStrip)
    qtbot.waitUntil(lambda: len(told(strip)) == len(strip.pictures) > 2)
    assert told(strip)[0].accessibleName().startswith("1 ")
    told(strip)[2].click()
    qtbot.waitUntil(lambda: strip.here == 2 and told(strip)[2].isChecked())
    window.show_bench("coil")
    settle(window, qtbot)
    stock = window.front.findChild(StockView)
    qtbot.waitUntil(lambda: {button.key for button in told(stock)} == {key for _, key in stock.hits} != set())
    assert all(button.accessibleName() for button in told(stock))
