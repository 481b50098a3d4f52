"""The columns of the table of runs: what each shows, and what typing into it changes."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

from yattle.derive import DerivedRun


class RunWords(Protocol):
    """How a job says lengths, pitches and how far a run is."""

    def say(self, mm: float) -> str:
        """A length in the job's unit."""

    def say_pitch(self, degrees: float) -> str:
        """A pitch as the job says it."""

    def state(self, derived: DerivedRun) -> str:
        """How far a run is."""


@dataclass(frozen=True)
class Column:
    """A column of the runs' table, ``width`` pixels wide (0: what the others leave); ``field`` is what typing into it
    changes, none if it is worked out."""

    title: str
    width: int
    show: Callable[[RunWords, DerivedRun], str]
    field: str = ""


COLUMNS = (
    Column("run", 42, lambda words, d: d.run.id),
    Column("place", 0, lambda words, d: d.run.name, "name"),
    Column("pitch", 52, lambda words, d: words.say_pitch(d.run.pitch), "pitch"),
    Column("length", 80, lambda words, d: words.say(d.run.length), "length"),
    Column("taped", 80, lambda words, d: words.say(d.run.taped) if d.run.taped else "", "taped"),
    Column("edge", 78, lambda words, d: d.run.kind.replace("-", " ")),
    Column("slope", 54, lambda words, d: f"{d.run.slope:.1f}°" if d.run.slope > 0.005 else "level"),
    Column("fold", 56, lambda words, d: "" if d.run.fold is None else f"{d.run.fold:.1f}°"),
    Column("detail", 100, lambda words, d: d.family.title if d.family else "none yet"),
    Column("state", 78, lambda words, d: words.state(d)),
)
