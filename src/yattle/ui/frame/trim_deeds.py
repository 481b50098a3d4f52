"""What the window does with sections and standards: own ones in and out, kept, compared."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from yattle.derive import Derived
from yattle.ui.frame.dialogs import DifferencesBox
from yattle.ui.store import Store

_STANDARDS = "House standards (*.standard.json)"


class TrimDeeds:
    """The trims' part of the window."""

    store: Store
    show_bench: Callable[[str], None]
    benches: dict
    ask_open: Callable[[str], str]
    _write: Callable[[str, str, Callable[[Derived], str | bytes]], None]

    def add_free(self) -> None:
        """A section of one's own, on no edge of the roof."""
        if self.store.attempt_aloud(self.store.session.add_free):
            self.show_bench("trim")

    def read_section(self) -> None:
        """A section from the first open polyline of a drawing, onto the run in hand where that has its own, else
        new."""
        name = self.ask_open("DXF (*.dxf)")
        if not name:
            return
        from yattle.job.sections import section_from_dxf

        def read() -> None:
            shape, session = section_from_dxf(Path(name)), self.store.session
            if self.benches["trim"].shape is not None:
                run = str(session.selection.run)
                session.edit_run(f"{run} section", run, section=shape)
            else:
                session.add_free(shape)
        if self.store.attempt_aloud(read):
            self.show_bench("trim")

    def keep_section(self) -> None:
        """Keep the selected run's own section in the user's library."""
        shape = self.benches["trim"].shape
        if shape is None:
            self.store.trouble.emit("keep: found no section of your own, expected a run whose detail is own section")
            return
        from yattle.job.sections import keep_section

        if self.store.attempt_aloud(lambda: keep_section(shape)):
            self.store.said.emit(f"{shape.name} is in the library")
            self.benches["trim"].refresh()

    # -- standards --------------------------------------------------------------------------------

    def save_standard(self) -> None:
        from yattle.job.standards import standard_of, standard_text

        self._write(f"{self.store.session.job.name}.standard.json", _STANDARDS,
                    lambda derived: standard_text(standard_of(derived.job)))

    def take_standard(self) -> None:
        """Let the job go by a standard from a file; what runs have of their own stays."""
        name = self.ask_open(_STANDARDS)
        if not name:
            return
        from yattle.job.standards import load_standard, with_standard

        def take() -> None:
            standard = load_standard(Path(name))
            self.store.session.edit(f"standard {standard.name}", lambda job: with_standard(job, standard))
        if self.store.attempt_aloud(take):
            self.store.said.emit(f"the job goes by {Path(name).name}")

    def compare_standard(self) -> None:
        """Show where the job's standard and one from a file differ."""
        name = self.ask_open(_STANDARDS)
        if not name:
            return
        from yattle.job.standards import differences, load_standard

        found = []

        def compare() -> None:
            other = load_standard(Path(name))
            found.append((other.name, differences(self.store.session.job, other, self.store.unit)))
        if self.store.attempt_aloud(compare):
            self.differences = DifferencesBox(self, self.store.session.job.name, *found[0])  # type: ignore[arg-type]
            self.differences.open()
