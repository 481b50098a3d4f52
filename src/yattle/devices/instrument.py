"""A digital tape and an angle finder, each on a plain text line.

One command a line, one answer a line; millimetres and degrees::

    HELLO    →  TAPE 1 site tape      or  ANGLE 1 angle finder
    READ     →  OK 5371.4 mm          or  OK 35.2 deg
    anything else, or nothing to read     →  ERR what was wrong
"""

from __future__ import annotations

import random
from dataclasses import dataclass

from yattle.devices.folder import STAND_IN, DeviceProblem
from yattle.devices.line import Exchange, number_in

_UNITS = {"TAPE": ("mm", 200_000.0), "ANGLE": ("deg", 180.0)}
"""What each reads in, and the most it can read."""


@dataclass(frozen=True)
class Reading:
    """``value`` in mm of a tape, in degrees of an angle finder (``is_angle``); ``simulated``: a stand-in's, not
    measured."""

    value: float
    is_angle: bool
    simulated: bool = False

    @property
    def text(self) -> str:
        """As it is typed into a field."""
        return f"{self.value:g}°" if self.is_angle else f"{self.value:g} mm"


def take_reading(exchange: Exchange) -> Reading:
    """One reading of whatever hangs on the line; raises :class:`DeviceProblem` for anything else."""
    try:
        hello, answer = exchange("HELLO").split(), exchange("READ").split()
    except OSError as trouble:
        said = (trouble.strerror or str(trouble)).lower()
        raise DeviceProblem(f"the instrument does not answer ({said})") from None
    if len(hello) < 2 or hello[0] not in _UNITS or hello[1] != "1":
        raise DeviceProblem(f"the instrument: found {' '.join(hello)!r}, expected 'TAPE 1' or 'ANGLE 1' and its name")
    if answer[:1] == ["ERR"]:
        raise DeviceProblem(f"the instrument: {' '.join(answer[1:]) or 'no reading'}")
    unit, most = _UNITS[hello[0]]
    value = number_in(answer[1], 0.0, most) if len(answer) == 3 and (answer[0], answer[2]) == ("OK", unit) else None
    if value is None:
        raise DeviceProblem(f"the instrument: found {' '.join(answer)[:60]!r}, expected a reading from 0 to {most:g} "
                            f"in {unit}")
    return Reading(value, hello[0] == "ANGLE", STAND_IN in " ".join(hello))


class StandInInstrument:
    """A tape or an angle finder that is not there: it reads ``truth`` with a ``scatter`` of its own."""

    def __init__(self, truth: float, angle: bool = False, scatter: float | None = None, seed: int = 1) -> None:
        self._truth, self._angle = truth, angle
        self._scatter = (0.15 if angle else 1.5) if scatter is None else scatter
        self._random = random.Random(seed)

    def __call__(self, line: str) -> str:
        if line.strip() == "HELLO":
            return "ANGLE 1 stand-in angle finder" if self._angle else "TAPE 1 stand-in tape"
        if line.strip() != "READ":
            return f"ERR unknown command {line.strip()[:40]!r}"
        if not self._truth > 0:
            return "ERR nothing to measure"
        value = self._truth + self._random.gauss(0, self._scatter)
        return f"OK {value:.1f} {'deg' if self._angle else 'mm'}"
