"""What the window does with the roof: blocks and openings on and off, readings, measures in, drawings out."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QApplication, QLineEdit

from yattle.derive import Derived
from yattle.derive.openings import with_own
from yattle.devices import DeviceProblem, StandInInstrument, open_line, take_reading
from yattle.devices.instrument import Reading
from yattle.files import read_text, why
from yattle.job.settings import load_settings
from yattle.tasks import Answer, On, Policy, Request, Target
from yattle.ui.store import Store
from yattle.ui.typing import Bound


class RoofDeeds:
    """The roof's part of the window."""

    store: Store
    show_bench: Callable[[str], None]
    benches: dict
    ask_open: Callable[[str], str]
    _write: Callable[[str, str, Callable[[Derived], str | bytes]], None]

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
        session.when_shown(lambda: session.select(opening=name) and self.show_bench("trim"))

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
        """A reading of the tape or angle finder goes to the field in hand, of what is selected now, whatever is
        selected when it comes. While one is read another is refused."""
        bound = self.store.typing.bound(QApplication.focusWidget())
        if bound is None:
            self.store.trouble.emit("reading: found no field in hand, expected one to be pressed first")
            return
        field = QApplication.focusWidget()
        assert isinstance(field, QLineEdit)
        session = self.store.session
        request = Request(LANE, _read_from, (load_settings().instrument, self._stand_in(field)), session.stamp,
                          Target("field", bound.says), Policy.EXCLUSIVE, On.DEVICE)
        self.store.ask(request, lambda answer: self._take_reading(answer, bound))

    def _take_reading(self, answer: Answer, bound: Bound) -> None:
        reading = answer.result
        said = f"read {reading.text} for {bound.says}" if isinstance(reading, Reading) else ""

        def put() -> None:
            assert isinstance(reading, Reading)
            wrong = self.store.attempt(lambda: found.append(bound.put(reading.text, reading.simulated))) or found[0]
            if wrong:
                self.store.trouble.emit(f"{said}: {wrong}")
            else:
                by = ", by a stand-in: not measured" if reading.simulated else ""
                self.store.said.emit(f"read {reading.text} into {bound.says}{by}")
        found: list[str | None] = []
        self.store.take(answer, put, f"{said} of a job that is closed: not taken")

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
        from yattle.derive.measures import read_measures

        def read() -> None:
            text = read_text(Path(name))
            self.store.session.edit("read measures", lambda job: read_measures(job, text, Path(name).name))
        if self.store.attempt_aloud(read):
            self.store.said.emit(f"measures of {Path(name).name} are in")

    def write_roof_dxf(self) -> None:
        from yattle.papers.roof import roof_to_dxf

        self._write("roof-plan.dxf", "DXF (*.dxf)", roof_to_dxf)

    def write_panel_list(self) -> None:
        from yattle.papers.tables import panel_list

        self._write("panel-list.csv", "CSV (*.csv)", panel_list)

    def write_roof_glb(self) -> None:
        from yattle.metal import library
        from yattle.papers.roof import roof_to_glb

        self._write("roof.glb", "glTF (*.glb)",
                    lambda derived: roof_to_glb(derived.roof, library().find(derived.job.metal).colour))


LANE = "the instrument"


def _read_from(address: str, stand_in: StandInInstrument) -> Reading:
    try:
        with open_line(address, stand_in) as exchange:
            return take_reading(exchange)
    except OSError as trouble:
        raise DeviceProblem(f"the instrument at {address} does not answer ({why(trouble)})") from None
