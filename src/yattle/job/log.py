"""The logbook: what was measured, tried, changed and learnt."""

from __future__ import annotations

from collections.abc import Iterable

from yattle.csv_tables import Cell, as_csv
from yattle.devices.folder import Measured
from yattle.job.model import Job, LogEntry

COLUMNS = ("when", "of", "what", "text", "fold", "wanted", "set", "found", "metal", "brake", "by")
TABLE = (*COLUMNS, "wanted_mm", "found_mm")


def with_entries(job: Job, entries: Iterable[LogEntry]) -> Job:
    """The job with more in its log."""
    return job.but(log=(*job.log, *entries))


def is_measured(entry: LogEntry) -> bool:
    """Whether an entry is a measure of something real: what a stand-in says never is."""
    return entry.what == "measured" and entry.by != "stand-in"


def measured_folds(job: Job, of: str, folds: Iterable[Measured], when: str, simulated: bool) -> tuple[LogEntry, ...]:
    """What a folder measured, or ``simulated`` its stand-in said, as entries of a piece."""
    return tuple(LogEntry(when=when, of=of, what="measured", fold=one.fold, wanted=one.wanted, set=one.set_angle,
                          found=one.angle, metal=job.metal_name, brake=job.brake.name,
                          by="stand-in" if simulated else "device") for one in folds)


def searched(log: Iterable[LogEntry], words: str) -> tuple[LogEntry, ...]:
    """Entries that hold every word, newest first."""
    wanted = words.lower().split()

    def text(entry: LogEntry) -> str:
        return " ".join(str(getattr(entry, name) or "") for name in COLUMNS).lower()
    return tuple(entry for entry in reversed(tuple(log)) if all(word in text(entry) for word in wanted))


def log_csv(log: Iterable[LogEntry]) -> str:
    """One row an entry, oldest first: of folds degrees, of legs mm in columns of their own."""
    return as_csv([TABLE, *(_row(entry) for entry in log)])


def _row(entry: LogEntry) -> list[Cell]:
    cells: list[Cell] = [getattr(entry, name) for name in COLUMNS]
    if not entry.folds:
        return [*cells, None, None]
    angles = COLUMNS.index("wanted"), COLUMNS.index("found")
    return [None if n in angles else cell for n, cell in enumerate(cells)] + [entry.wanted, entry.found]
