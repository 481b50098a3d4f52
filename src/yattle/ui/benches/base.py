"""What every bench is: drawings in the middle, a slate on the right."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QWidget

from yattle.derive import DerivedRun
from yattle.derive.roof_runs import RoofRun, base_id, roof_runs
from yattle.errors import InputError
from yattle.measure import parse_length, parse_pitch, say_length, say_pitch
from yattle.metal import library
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
        self.slate = Slate(store, self.title)

    def refresh(self) -> None:
        """Show the job and the selection as they are now."""
        self.slate.refresh()

    def show_results(self) -> None:
        """Something of the job shown has been worked out beside the window: say it. Drawings stay as they are where
        nothing in them depends on it."""
        self.slate.refresh()

    def takes(self, canvas: Canvas, edit: Callable[[str, str], str | None], typeable: Callable[[str], bool]) -> None:
        """Let numbers be typed on a drawing of the bench."""
        canvas.takes(self.store.session, edit, typeable)
        self.store.typing.add(canvas)

    # -- words the benches share ------------------------------------------------------------------

    @property
    def run(self) -> DerivedRun | None:
        session = self.store.session
        return session.derived.run(session.selection.run) if session.selection.run else None

    @property
    def roof_run(self) -> RoofRun | None:
        """The selected run as an edge of the roof; ``None`` for a run of its own."""
        here = base_id(self.store.session.selection.run or "")
        return next((r for r in roof_runs(self.store.session.job) if r.run.id == here), None)

    @property
    def metal_colour(self) -> str:
        return library().find(self.store.session.job.metal).colour

    @property
    def pitch_style(self) -> str:
        return "in 12" if self.store.session.job.system == "inch" else "degrees"

    def say(self, mm: float) -> str:
        return say_length(mm, self.store.unit)

    def say_pitch(self, degrees: float) -> str:
        return say_pitch(degrees, self.pitch_style)

    def length_from(self, text: str, field: str) -> float:
        return parse_length(text, self.store.unit.typed, field)

    def pitch_from(self, text: str) -> float:
        if self.pitch_style == "in 12" and text.strip().replace(".", "", 1).isdigit():
            raise InputError("pitch", repr(text), f"a pitch such as {text.strip()}:12 or {text.strip()}°")
        return parse_pitch(text)

    def edit_run(self, title: str, **changes: Callable[[], object]) -> str | None:
        """Change fields of the selected run; what is wrong is returned."""
        session = self.store.session
        run_id = session.selection.run
        if run_id is None:
            return "there is no run yet: add one with Ctrl+Shift+N"
        return self.store.attempt(lambda: session.edit_run(
            f"{run_id} {title}", run_id, **{name: value() for name, value in changes.items()}))
