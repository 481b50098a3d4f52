"""What the hands of a window test do: press, type, use a shortcut, wait for the workers."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QPushButton

from yattle.ui.frame.window import Window

LEFT = Qt.MouseButton.LeftButton


def press_key_of(canvas, key, qtbot):
    """Press the shape of ``key`` on a drawing, where it really stands."""
    qtbot.waitUntil(lambda: any(hit.key == key for hit in canvas.hits), timeout=3000)
    hit = next(hit for hit in canvas.hits if hit.key == key)
    qtbot.mouseClick(canvas, LEFT, pos=hit.rect.center().toPoint())


def type_into(row, text, qtbot, key=Qt.Key.Key_Return):
    row.field.setFocus()
    row.field.selectAll()
    if not text:
        qtbot.keyClick(row.field, Qt.Key.Key_Delete)
    qtbot.keyClicks(row.field, text)
    qtbot.keyClick(row.field, key)


def escape(row, qtbot):
    """Let go of what stands in a field and was refused."""
    row.field.setFocus()
    qtbot.keyClick(row.field, Qt.Key.Key_Escape)


def findings(slate):
    """What a slate says there is to look at."""
    return [said for view in slate.lists if view.isVisibleTo(slate) for said in view.says()]


def press_finding(slate, words, qtbot):
    """Press the first finding that says ``words``."""
    view = next(view for view in slate.lists if any(words in said for said in view.says()))
    slate.ensureWidgetVisible(view)
    viewport, place = view.place_of(words)
    qtbot.mouseClick(viewport, LEFT, pos=place.center())


def keys(window, shortcut, qtbot):
    """Use an action the way its shortcut does, only if it is enabled."""
    action = next(a for a in window.menus.actions.values() if a.shortcut().toString() == shortcut)
    assert action.isEnabled(), shortcut
    action.trigger()


def choose(window, action_id):
    """Use an action of a menu, only if it is enabled."""
    action = window.menus.actions[action_id]
    assert action.isEnabled(), action_id
    action.trigger()


def settle(window: Window, qtbot) -> None:
    qtbot.waitUntil(lambda: not window.store.board.busy(), timeout=45000)
    qtbot.wait(1)  # answers that have come are told


def button(part, text):
    """The button with that text in a part of the window."""
    return next(found for found in part.findChildren(QPushButton) if found.text() == text)
