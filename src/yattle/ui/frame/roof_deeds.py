"""What the window does with the roof: blocks and openings on and off, readings, measures in, drawings out."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QApplication, QLineEdit

from yattle.devices import StandInInstrument, open_line, take_reading
from yattle.devices.instrument import Reading
from yattle.errors import FileProblem, YattleError
from yattle.job import Derived
from yattle.job.openings import with_own
from yattle.job.settings import load_settings
from yattle.ui.store import Store, Worker


class RoofDeeds:
    """The roof's part of the window."""

    store: Store
    writer: Worker
    show_bench: Callable[[str], None]
    benches: dict
    ask_open: Callable[[str], str]
    _write: Callable[[str, str, Callable[[Derived, Path], None]], None]

    @property
    def _survey(self):  # type: ignore[no-untyped-def]
        self.show_bench("survey")
        return self.benches["survey"]

    def add_gable(self) -> None:
        self._survey.add_block("gable")

    def add_hip(self) -> None:
        self._survey.add_block("hip")

    def add_shed(self) -> None:
        self._survey.add_block("shed")

    def add_dormer(self) -> None:
        self._survey.add_block("dormer")

    def add_flat(self) -> None:
        self._survey.add_block("flat")

    def add_face(self) -> None:
        self._survey.add_face()

    def add_chimney(self) -> None:
        self._survey.add_opening("chimney")

    def add_pipe(self) -> None:
        self._survey.add_opening("pipe")

    def add_curb(self) -> None:
        self._survey.add_opening("curb")

    def add_skylight(self) -> None:
        self._survey.add_opening("skylight")

    def add_own_piece(self) -> None:
        """A pan, box, bend, cone … with its own measures, on the trim bench."""
        session = self.store.session
        job, name = with_own(session.job)
        session.edit(f"{name} added", lambda _: job)
        session.select(opening=name)
        self.show_bench("trim")

    def remove_part(self) -> None:
        self._survey.remove_part()

    def show_plan(self) -> None:
        self._survey.show_view("plan")

    def show_space(self) -> None:
        self._survey.show_view("space")

    def show_cut(self) -> None:
        self._survey.show_view("cut")

    def show_panels(self) -> None:
        self._survey.show_view("panels")

    # -- instruments ------------------------------------------------------------------------------

    def take_reading(self) -> None:
        """A reading of the tape or angle finder goes to the field in hand."""
        field = QApplication.focusWidget()
        if not isinstance(field, QLineEdit) or not field.isEnabled():
            self.store.trouble.emit("reading: found no field in hand, expected one to be pressed first")
            return
        address = load_settings().instrument
        stand_in = self._stand_in(field)

        def read() -> Reading:
            try:
                with open_line(address, stand_in) as exchange:
                    return take_reading(exchange)
            except OSError as trouble:
                said = (trouble.strerror or str(trouble)).lower()
                raise YattleError(f"the instrument at {address} does not answer ({said})") from None

        def take(result: object) -> None:
            if isinstance(result, Reading):
                field.setText(result.text)
                field.setModified(True)
                field.returnPressed.emit()
                self.store.said.emit(f"read {result.text}")
            else:
                self.store.trouble.emit(str(result))
        self.writer.ask(read, take)

    def _stand_in(self, field: QLineEdit) -> StandInInstrument:
        """The stand-in reads what the roof says, with a scatter of its own."""
        name = field.accessibleName()
        truth, is_angle = self.benches["survey"].truth_of(name)
        return StandInInstrument(truth, is_angle, seed=len(name) + len(field.text()))

    # -- files ------------------------------------------------------------------------------------

    def read_measures(self) -> None:
        """Taped measures from a CSV file: what was taped, and its value."""
        name = self.ask_open("CSV (*.csv)")
        if not name:
            return
        from yattle.job.measures import read_measures

        def read() -> None:
            try:
                text = Path(name).read_text(encoding="utf-8-sig")
            except (OSError, UnicodeDecodeError) as trouble:
                raise FileProblem(f"{Path(name).name}: cannot be read as text ({trouble})") from None
            self.store.session.edit("read measures", lambda job: read_measures(job, text, Path(name).name))
        if self.store.attempt_aloud(read):
            self.store.said.emit(f"measures of {Path(name).name} are in")

    def write_roof_dxf(self) -> None:
        def write(derived: Derived, path: Path) -> None:
            from yattle.papers.roof import roof_to_dxf

            path.write_text(roof_to_dxf(derived), encoding="utf-8")

        self._write("roof-plan.dxf", "DXF (*.dxf)", write)

    def write_panel_list(self) -> None:
        def write(derived: Derived, path: Path) -> None:
            from yattle.papers.tables import panel_list

            path.write_text(panel_list(derived), encoding="utf-8")

        self._write("panel-list.csv", "CSV (*.csv)", write)

    def write_roof_glb(self) -> None:
        def write(derived: Derived, path: Path) -> None:
            from yattle.metal import library
            from yattle.papers.roof import roof_to_glb

            path.write_bytes(roof_to_glb(derived.roof, library().find(derived.job.metal).colour))

        self._write("roof.glb", "glTF (*.glb)", write)


