"""What a command gets: the open job, its journal, what asks the person, and of the window what shows something."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Protocol, TypeVar

from PyQt6.QtWidgets import QDialog, QWidget

from yattle.derive.run import DerivedRun
from yattle.job.settings import Settings
from yattle.session import Session
from yattle.session.journal import Journal
from yattle.ui.benches.base import BenchPage
from yattle.ui.commands.asking import Asking
from yattle.ui.frame.finder import Finder
from yattle.ui.frame.tape import GirthTape
from yattle.ui.frame.tour import TourBar
from yattle.ui.store import Store

BENCH = TypeVar("BENCH", bound=BenchPage)


class WindowFrame(Protocol):
    """What commands may use of the window."""

    finder: Finder
    tape: GirthTape
    tour: TourBar

    @property
    def front(self) -> BenchPage:
        """The bench that is shown."""

    def bench(self, kind: type[BENCH]) -> BENCH:
        """The bench of that kind, set up if it was not yet."""

    def show_bench(self, name: str) -> None:
        """Bring a bench to the front, once what is typed on the one before is taken."""

    def dress(self) -> None:
        """Show everything anew, in the theme that is in use."""

    def fold(self, part: str) -> None:
        """Fold the rail or the slate away, or open it again."""

    def show_start(self) -> None:
        """What there is to begin with, in the place of the benches."""

    def full_screen(self) -> None:
        """The window on the whole screen, or as it was."""

    def close(self) -> bool:
        """Leave; whether it was left."""


@dataclass
class Shop:
    """``parent`` is what dialogs stand before; ``dialog`` the one that is open; ``put_off`` journals that the person
    left for later."""

    store: Store
    journal: Journal
    settings: Settings
    asking: Asking
    frame: WindowFrame
    parent: QWidget
    dialog: QDialog | None = None
    put_off: set[Path] = field(default_factory=set)

    @property
    def session(self) -> Session:
        """The open job."""
        return self.store.session

    @property
    def run(self) -> DerivedRun | None:
        """The selected run."""
        run = self.session.selection.run
        return self.session.derived.run(run) if run else None

    def say(self, sentence: str) -> None:
        """What was done, in one sentence that goes by itself."""
        self.store.said.emit(sentence)

    def tell(self, sentence: str) -> None:
        """What goes on or was done, in one sentence that stays until it is put away."""
        self.store.told.emit(sentence)

    def complain(self, sentence: str) -> None:
        """What went wrong, in one sentence that stays until it is put away."""
        self.store.trouble.emit(sentence)

    def attempt(self, deed: Callable[[], object]) -> bool:
        """Do ``deed``; an error is shown. Whether it went well."""
        return self.store.attempt_aloud(deed)

    def open_dialog(self, dialog: QDialog) -> None:
        """Show a dialog and go on."""
        self.dialog = dialog
        dialog.open()


Command = Callable[[Shop], object]
"""What an action does."""
