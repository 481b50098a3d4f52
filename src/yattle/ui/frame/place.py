"""Where the window stands on the screen: within it, as it was left, its rail and slate folded or open."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtCore import QRect, Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QMainWindow

from yattle.job.settings import Settings

USUAL = QRect(0, 0, 1280, 800)
"""As large as the window is where nobody has made it otherwise, px."""
_TITLE = 30  # px of the title bar that a desktop puts over it


def within(wanted: QRect, screen: QRect) -> QRect:
    """The place that is wanted, made no larger than the screen and moved onto it. In px."""
    wide, high = min(wanted.width(), screen.width()), min(wanted.height(), screen.height())
    left = min(max(wanted.left(), screen.left()), screen.left() + screen.width() - wide)
    top = min(max(wanted.top(), screen.top()), screen.top() + screen.height() - high)
    return QRect(left, top, wide, high)


def take_place(window: QMainWindow, settings: Settings) -> None:
    """Put the window where it was left, or in the middle of the screen, never past its edges."""
    wanted = QRect(*settings.place) if settings.place is not None else None
    screen = QGuiApplication.screenAt(wanted.center()) if wanted is not None else None
    screen = screen or QGuiApplication.primaryScreen()
    if screen is None:
        return
    room = screen.availableGeometry()
    if wanted is None:
        wanted = QRect(USUAL)
        wanted.moveCenter(room.center())
    room = room.adjusted(0, _TITLE, 0, 0)
    window.setGeometry(within(wanted, room))
    if settings.large:
        window.setWindowState(window.windowState() | Qt.WindowState.WindowMaximized)


def place_of(window: QMainWindow, settings: Settings) -> Settings:
    """The settings with the place that the window has now; one that fills the screen keeps what it had before."""
    large = window.isMaximized() or window.isFullScreen()
    at = window.normalGeometry() if large else window.geometry()
    kept = (at.left(), at.top(), at.width(), at.height()) if at.isValid() else settings.place
    return replace(settings, place=kept, large=window.isMaximized())
