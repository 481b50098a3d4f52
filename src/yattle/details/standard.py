"""The house standard: every length a detail takes when nobody says otherwise.

Each entry is named, has a metric default and an inch twin, a least and a most, and the
reason it stands there. A job changes entries for all its runs, a run for itself alone.
All values are mm or degrees.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from yattle.errors import InputError
from yattle.measure import MM_PER_INCH, UNITS, Unit, say_length
from yattle.values import Value

System = Literal["metric", "inch"]


@dataclass(frozen=True)
class Entry:
    """One entry: ``metric`` in mm (or degrees), ``inch`` its twin in inches (or degrees)."""

    name: str
    title: str
    metric: float
    inch: float
    least: float
    most: float
    reason: str
    angle: bool = False

    def default(self, system: System) -> float:
        return self.inch * (1 if self.angle else MM_PER_INCH) if system == "inch" else self.metric

    def check(self, value: float, field: str, unit: Unit = UNITS["mm"]) -> float:
        """``value`` if it lies between least and most, else :class:`InputError` in the user's ``unit``."""
        if self.least <= value <= self.most:
            return value
        said = (f"{v:g}°" if self.angle else say_length(v, unit, mark=True) for v in (value, self.least, self.most))
        found, least, most = said
        raise InputError(field, found, f"{self.title} from {least} to {most}")


ENTRIES: dict[str, Entry] = {
    entry.name: entry
    for entry in (
        Entry("flange", "deck flange", 85, 3.375, 5, 400, "far enough upslope to be lapped by the underlay"),
        Entry("face", "face", 95, 3.75, 5, 400, "covers the fascia's top board and the gutter's back edge"),
        Entry("kick", "kick", 18, 0.75, 3, 100, "throws water off the fascia"),
        Entry("kick_turn", "kick turn", 42, 42, 5, 135, "a steeper kick drips back, a flatter one catches wind",
              angle=True),
        Entry("hem", "hem", 12, 0.5, 0, 40, "no raw edge where it is seen and touched; stiffens the kick"),
        Entry("lap", "lap", 80, 3, 20, 300, "least lap of a trim on a level run"),
        Entry("wrap", "corner wrap", 34, 1.375, 8, 150, "goes round the corner, within the depth of the tongs"),
        Entry("nest_gap", "nest clearance", 2, 0.0625, 0, 10, "room beside the neighbour's hem in a lap"),
        Entry("stock_length", "stock length", 3000, 120, 300, 12000, "what the brake and the coil shear take"),
        Entry("least_piece", "least piece", 500, 20, 50, 3000, "a shorter piece never lies straight"),
    )
}


class Own(Value):
    """Entries that differ from the standard, each ``None`` where it does not (names as in ``ENTRIES``)."""

    flange: float | None = None
    face: float | None = None
    kick: float | None = None
    kick_turn: float | None = None
    hem: float | None = None
    lap: float | None = None
    wrap: float | None = None
    nest_gap: float | None = None
    stock_length: float | None = None
    least_piece: float | None = None


@dataclass(frozen=True)
class Standard:
    """The values in force for one run."""

    flange: float
    face: float
    kick: float
    kick_turn: float
    hem: float
    lap: float
    wrap: float
    nest_gap: float
    stock_length: float
    least_piece: float

    @property
    def names(self) -> tuple[str, ...]:
        return tuple(ENTRIES)


def standard_for(system: System, job_own: Own, run_own: Own | None = None) -> Standard:
    """The run's own values, else the job's, else the house standard's defaults."""
    def pick(entry: Entry) -> float:
        for own in (run_own, job_own):
            value = getattr(own, entry.name) if own is not None else None
            if value is not None:
                return float(value)
        return entry.default(system)

    return Standard(**{name: pick(entry) for name, entry in ENTRIES.items()})
