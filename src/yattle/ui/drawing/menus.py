"""The menus of drawings: how one is looked at, and its picture; the same on a flat drawing and on one in space."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QMenu, QWidget

from yattle.ui.widgets.clipboard import copy_picture
from yattle.ui.widgets.words import unkeyed

_STEP = 1.6


def offer(menu: QMenu, what: str, do: Callable[[], object]) -> None:
    """Add a line to ``menu``."""
    action = menu.addAction(unkeyed(what))
    assert action is not None
    action.triggered.connect(lambda: do())


def offer_looks(menu: QMenu, drawing: QWidget, look: Callable[[float], object]) -> None:
    """The lines that every drawing has; ``look`` brings it so many times nearer, with 0 it is seen whole."""
    offer(menu, "Nearer\tCtrl++", lambda: look(_STEP))
    offer(menu, "Farther\tCtrl+−", lambda: look(1 / _STEP))
    offer(menu, "The whole drawing\tCtrl+0", lambda: look(0))
    menu.addSeparator()
    offer(menu, "Copy the drawing as a picture", lambda: copy_picture(drawing))
