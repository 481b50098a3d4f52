"""The keys of the whole program as a table: none twice, none that a desktop or an input method takes, those that people know mean what they know."""

from __future__ import annotations

import pytest
from hands import keys
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeySequence
from PyQt6.QtWidgets import QMenu

from yattle.job import Job
from yattle.ui.commands.table import ACTIONS, MENUS

TAKEN = {"Ctrl+Space", "Ctrl+.", "Ctrl+;", "Ctrl+Shift+U", "Ctrl+Shift+E", "Ctrl+Shift+Space", "Shift+Space", "Ctrl+Esc",
         "F10", "Shift+F10", "Alt+Tab", "Print"}
"""Of desktops and input methods; F10 and Shift+F10 open menus everywhere."""
KNOWN = {"Ctrl+N": "job.new", "Ctrl+O": "job.open", "Ctrl+S": "job.save", "Ctrl+Shift+S": "job.save-as", "Ctrl+Q": "job.quit",
         "Ctrl+Z": "edit.undo", "Ctrl+Y": "edit.redo", "Ctrl+Shift+Z": "edit.redo", "Ctrl+P": "papers.print", "F11": "view.full",
         "Ctrl+F": "edit.find"}
TABLE = [(key, action.id) for action in ACTIONS for key in (action.shortcut, *action.also) if key]


def test_no_key_means_two_things_and_all_are_keys():
    assert len({key for key, _ in TABLE}) == len(TABLE)
    assert all(QKeySequence(key).toString() == key for key, _ in TABLE)


def test_no_key_of_a_desktop_or_an_input_method_is_taken():
    for key, action in TABLE:
        assert key not in TAKEN and "Ctrl+Alt" not in key and "Meta" not in key, (key, action)
        assert not key.startswith("Alt+"), f"{key}: Alt and a letter opens a menu"


def test_keys_that_people_know_do_what_they_know():
    table = dict(TABLE)
    assert {key: table[key] for key in KNOWN} == KNOWN


def test_what_has_no_key_is_in_a_menu_and_found_by_name(open_window):
    window = open_window(Job(name="new"))
    names = {name for name, *_ in window.menus.entries()}
    for action in ACTIONS:
        assert action.title in names or not window.menus.actions[action.id].isEnabled()
    letters = [menu.title()[menu.title().index("&") + 1].lower() for menu in window.menus.by_name.values()]
    assert len(letters) == len(MENUS) == len(set(letters)), "each menu opens by a letter of its own"


@pytest.mark.qt_log_ignore("This plugin does not support")
@pytest.mark.parametrize("key", [Qt.Key.Key_F10, "alt"])
def test_menus_open_by_key_and_arrows_go_on_from_there(open_window, qtbot, key):
    window = open_window(Job(name="new"))
    window.activateWindow()
    bar = window.menuBar()
    if key == "alt":
        qtbot.keyClick(window, Qt.Key.Key_R, Qt.KeyboardModifier.AltModifier)
        assert window.menus.by_name["Roof"].isVisible()
        window.menus.by_name["Roof"].close()
        return
    qtbot.keyClick(window, key)
    assert bar.activeAction() is bar.actions()[0]
    qtbot.keyClick(bar, Qt.Key.Key_Right)
    assert bar.activeAction() is bar.actions()[1]
    for menu in window.findChildren(QMenu):
        menu.close()


def test_the_whole_screen_and_back(open_window, qtbot):
    window = open_window(Job(name="new"))
    keys(window, "F11", qtbot)
    assert window.isFullScreen()
    keys(window, "F11", qtbot)
    assert not window.isFullScreen()
