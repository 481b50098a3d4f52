"""A real window on the demo job, shown, with nobody at the keyboard but the test."""

from __future__ import annotations

import pytest
from hands import settle
from models import bare
from PyQt6.QtWidgets import QMessageBox

from samples import eaves_path
from yattle.job import demo_path, load
from yattle.job.settings import Settings
from yattle.ui import theme as themes
from yattle.ui.app import make_app
from yattle.ui.frame.window import Window


@pytest.fixture(scope="session")
def qapp_cls():
    from PyQt6.QtWidgets import QApplication

    return QApplication


@pytest.fixture
def open_window(qtbot, qapp):
    """Opens a window on a job; leaving it never asks, and every worker has ended before the next test."""
    make_app()
    themes.use(themes.LIGHT, qapp)

    def opener(job=None, path=None) -> Window:
        window = Window(job or load(eaves_path()), path, Settings())
        window.asking.unsaved = lambda name: QMessageBox.StandardButton.Discard
        window.asking.recover = lambda said: None
        window.asking.change_made = lambda said: True
        qtbot.addWidget(window, before_close_func=lambda w: settle(w, qtbot))
        window.show()
        qtbot.waitExposed(window)
        settle(window, qtbot)
        return window

    return opener


@pytest.fixture
def host():
    """The demo for models without a window."""
    return bare(load(demo_path()))


@pytest.fixture
def eaves():
    """Six eaves and no roof, for models without a window."""
    return bare(load(eaves_path()))


@pytest.fixture
def window(open_window):
    return open_window()
