"""What is shown: benches, playback, themes, help and the look round."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtWidgets import QAbstractButton, QApplication

from yattle.help import page_of_rows
from yattle.job.settings import THEMES, keep_settings
from yattle.ui import theme as themes
from yattle.ui.benches.install.view import InstallBench
from yattle.ui.benches.opening.view import OpeningBench
from yattle.ui.benches.trim.view import TrimBench
from yattle.ui.commands.shop import Shop
from yattle.ui.drawing.measured_here import picture_of
from yattle.ui.floor.view import FloorView
from yattle.ui.frame.dialogs import AboutBox
from yattle.ui.frame.help_box import HelpBox
from yattle.ui.widgets.rows import Row


def show_bench(shop: Shop, name: str) -> None:
    """Bring a bench to the front."""
    shop.frame.show_bench(name)


def show_built(shop: Shop) -> None:
    """The roof as built, what is selected lit on it."""
    shop.frame.show_bench("fit")
    front = shop.frame.front
    if isinstance(front, InstallBench):
        front.show_view("built")


def play(shop: Shop) -> None:
    """Let the bench in front go through its strokes, cuts or stages by itself, or stop."""
    button = getattr(shop.frame.front, "play", None)
    if isinstance(button, QAbstractButton) and button.isVisible():
        button.toggle()
    else:
        shop.say("nothing plays here: folds play on the brake, cuts on the coil, stages on fit")


def next_flat(shop: Shop) -> None:
    """The flat pattern as a whole, with its points numbered, each of its ends large, in turn."""
    front = shop.frame.front
    if isinstance(front, TrimBench | OpeningBench):
        front.model.next_flat()
    else:
        shop.say("the flat pattern is on the trim bench")


def floor(shop: Shop) -> None:
    """What is to be done now on the whole screen: at the shear, at the brake, on the roof."""
    view = FloorView(shop.parent, shop.store)
    shop.open_dialog(view)
    view.showFullScreen()


def full_screen(shop: Shop) -> None:
    """The window on the whole screen, or as it was."""
    shop.frame.full_screen()


def fold(shop: Shop, part: str) -> None:
    """Fold the ``rail`` or the ``slate`` away, or open it again."""
    shop.frame.fold(part)


def next_theme(shop: Shop) -> None:
    """Desktop, light, dark, in turn."""
    set_theme(shop, THEMES[(THEMES.index(shop.settings.theme) + 1) % len(THEMES)])


def set_theme(shop: Shop, name: str) -> None:
    """``desktop``, ``light`` or ``dark``; kept for the next start."""
    shop.settings = replace(shop.settings, theme=name)
    keep_settings(shop.settings)
    app = QApplication.instance()
    assert isinstance(app, QApplication)
    chosen = {"light": themes.LIGHT, "dark": themes.DARK}.get(name) or themes.desktop_theme()
    themes.use(chosen, app)
    shop.frame.dress()


def take_tour(shop: Shop) -> None:
    """The first look round, from its first stop."""
    shop.frame.tour.go(0)


def first_look(shop: Shop) -> None:
    """The tour of the demo, the first time Yattle is started."""
    if not shop.settings.toured:
        take_tour(shop)


def toured(shop: Shop) -> None:
    """It has been seen, or left: it does not begin by itself again."""
    shop.settings = replace(shop.settings, toured=True)
    keep_settings(shop.settings)


def show_help(shop: Shop) -> None:
    """The chapter of the bench in front."""
    shop.open_dialog(HelpBox(shop.parent, _chapter(shop)))


def _chapter(shop: Shop) -> str:
    front = shop.frame.front
    return "trim" if front.name == "opening" else front.name


def explain(shop: Shop) -> None:
    """What the field in hand is, and the page that explains it; without one the chapter of the bench."""
    widget = QApplication.focusWidget()
    while widget is not None and not isinstance(widget, Row):
        widget = widget.parentWidget()
    if widget is None:
        show_help(shop)
        return
    group = shop.frame.front.slate.group_of(widget)
    found = page_of_rows(_chapter(shop), group)
    front = shop.frame.front
    shop.open_dialog(HelpBox(shop.parent, found.id if found is not None else _chapter(shop), widget.explained,
                             picture_of(front, front.drawn_as(widget.name), front.measured(widget.name))))


def show_page(shop: Shop, page: str) -> None:
    """A page of the guide."""
    shop.open_dialog(HelpBox(shop.parent, page))


def show_about(shop: Shop) -> None:
    """Name, version, licence."""
    AboutBox(shop.parent).exec()
