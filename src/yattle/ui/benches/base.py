"""What every bench is: drawings in the middle, a slate on the right."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QWidget

from yattle.drawing import Drawing
from yattle.ui.drawing.canvas import Canvas
from yattle.ui.frame.slate import Slate
from yattle.ui.store import Store


class BenchPage(QWidget):
    """A bench: ``name`` as actions know it, ``slate`` shown on the right while it is in front."""

    name = ""
    title = ""

    def __init__(self, store: Store) -> None:
        super().__init__()
        self.store = store
        self.slate = Slate(store, self.title, self.name)

    def refresh(self) -> None:
        """Show the job and the selection as they are now."""
        self.slate.refresh()

    def show_results(self) -> None:
        """Something of the job shown has been worked out beside the window: say it. Drawings stay as they are where
        nothing in them depends on it."""
        self.slate.refresh()

    def drawn_as(self, name: str) -> tuple[str, ...]:
        """The parts of the bench's drawings that show the measure of a row."""
        return ()

    def measured(self, name: str) -> Drawing | None:
        """A drawing made to show the measure of a row, where those of the bench do not."""
        return None

    def takes(self, canvas: Canvas, edit: Callable[[str, str], str | None], typeable: Callable[[str], bool]) -> None:
        """Let numbers be typed on a drawing of the bench."""
        canvas.takes(self.store.session, edit, typeable)
        self.store.typing.add(canvas)
