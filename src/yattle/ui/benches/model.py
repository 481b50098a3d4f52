"""What the models of all benches share: the selected run, and numbers in the words and units of the job."""

from __future__ import annotations

from collections.abc import Callable
from typing import Protocol

from yattle.derive import DerivedRun
from yattle.derive.roof_runs import RoofRun, base_id, roof_runs
from yattle.errors import InputError
from yattle.measure import parse_length, parse_pitch, say_length, say_pitch
from yattle.ui.benches.host import Host


class Held(Protocol):
    """What was held against what it was made for."""

    @property
    def holds(self) -> bool: ...


class BenchModel:
    """What a bench knows and can do, without a window; ``changed`` is called when something is to be shown anew."""

    def __init__(self, store: Host, changed: Callable[[], None]) -> None:
        self.store, self.changed = store, changed

    @property
    def run(self) -> DerivedRun | None:
        """The selected run."""
        session = self.store.session
        return session.derived.run(session.selection.run) if session.selection.run else None

    @property
    def roof_run(self) -> RoofRun | None:
        """The selected run as an edge of the roof; ``None`` for a run of its own."""
        here = base_id(self.store.session.selection.run or "")
        return next((r for r in roof_runs(self.store.session.job) if r.run.id == here), None)

    def selected_says(self) -> str:
        """The selected run or opening by its letter and name."""
        session = self.store.session
        if session.selection.opening:
            found = next((one for one in session.derived.openings if one.id == session.selection.opening), None)
            return found.title if found is not None else ""
        run = self.run
        return "" if run is None else f"{run.run.id}  {run.run.layer or run.run.name}"

    @property
    def metal_colour(self) -> str:
        """The job's metal as it is drawn."""
        return self.store.session.job.metal_used.colour

    @property
    def pitch_style(self) -> str:
        """How the job says pitches: ``in 12`` or ``degrees``."""
        return "in 12" if self.store.session.job.system == "inch" else "degrees"

    def say(self, mm: float) -> str:
        """A length in the job's unit."""
        return say_length(mm, self.store.unit)

    def say_pitch(self, degrees: float) -> str:
        """A pitch as the job says it."""
        return say_pitch(degrees, self.pitch_style)

    def with_fit(self, said: str, pattern: str) -> str:
        """What is said of a piece, and whether it fits on the roof, once that has been put together."""
        built = self.store.session.results.built
        if built is None or (built.fits_at(pattern) and not built.whole):
            return said
        return f"{said} · {'fits' if built.fits_at(pattern) else 'does not fit: see Fit'}"

    def is_proven(self, pattern: str, *held: Held | None) -> bool:
        """Whether every proof of a piece holds, and it fits on the roof as built."""
        built = self.store.session.results.built
        return all(one.holds for one in held if one is not None) and built is not None and (
            built.whole and built.fits_at(pattern))

    def length_from(self, text: str, field: str) -> float:
        """The length that was typed into ``field``, mm. Raises :class:`~yattle.errors.InputError`."""
        return parse_length(text, self.store.unit.typed, field)

    def pitch_from(self, text: str) -> float:
        """The pitch that was typed, degrees. Raises :class:`~yattle.errors.InputError`; in an inch job also for a bare
        number, which could be either."""
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
