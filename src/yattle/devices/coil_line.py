"""A coil line, decoiler with length counter and shear, on a plain text line.

One command a line, one answer a line; millimetres::

    HELLO              →  COIL 1 shop coil line
    FEED 2450.0        →  OK FEED 2449.2      so much came out, by the line's own counter
    SHEAR              →  OK SHEAR
    anything else      →  ERR what was wrong

:func:`follow` cuts a plan's crosscuts one after another and tells what was really cut.
"""

from __future__ import annotations

import random
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from yattle.devices.folder import STAND_IN, DeviceProblem
from yattle.devices.line import Exchange, number_in

_LONGEST_FEED = 30_000.0  # mm


@dataclass(frozen=True)
class CutOff:
    """One piece off the coil: what it should be long, and what it was. In mm."""

    wanted: float
    cut: float


class CoilLine:
    """Speaks the line protocol; every method raises :class:`DeviceProblem` when it is not obeyed."""

    def __init__(self, exchange: Exchange) -> None:
        self._exchange = exchange
        answer = self._ask("HELLO")
        if not answer.startswith("COIL 1 "):
            raise DeviceProblem(f"the coil line: found {answer!r}, expected 'COIL 1' and its name")
        self.name = answer.removeprefix("COIL 1 ")

    def feed(self, mm: float) -> float:
        """Let ``mm`` out; what came by its own counter. Raises :class:`DeviceProblem` where it is not obeyed."""
        answer = self._ask(f"FEED {mm:.1f}")
        words = answer.split()
        value = number_in(words[2], 0.0, _LONGEST_FEED) if len(words) == 3 and words[:2] == ["OK", "FEED"] else None
        if value is None:
            raise DeviceProblem(f"the coil line: {answer.removeprefix('ERR ') or 'no answer'}")
        return value

    @property
    def is_stand_in(self) -> bool:
        """Whether it is the stand-in, wherever it hangs: what it says was not measured."""
        return STAND_IN in self.name

    def shear(self) -> None:
        """Cut off what was let out. Raises :class:`DeviceProblem` where it is not obeyed."""
        answer = self._ask("SHEAR")
        if answer != "OK SHEAR":
            raise DeviceProblem(f"the coil line: {answer.removeprefix('ERR ') or 'no answer'}")

    def _ask(self, line: str) -> str:
        try:
            return self._exchange(line).strip()
        except OSError as trouble:
            said = (trouble.strerror or str(trouble)).lower()
            raise DeviceProblem(f"the coil line does not answer ({said})") from None


def follow(line: CoilLine, lengths: Sequence[float], most_off: float = 5.0,
           told: Callable[[CutOff], None] = lambda _: None,
           stopped: Callable[[], bool] = lambda: False) -> tuple[CutOff, ...]:
    """Cut pieces of these lengths off the coil, each ``told`` as it is cut; ``stopped`` ends it before the next. Raises
    :class:`DeviceProblem` before a piece that would come out shorter or longer than wanted by more than ``most_off``
    mm: nothing is cut then."""
    done = []
    for n, wanted in enumerate(lengths, 1):
        if stopped():
            break
        came = line.feed(wanted)
        if abs(came - wanted) > most_off:
            raise DeviceProblem(f"piece {n}: found {came:.1f} mm under the shear, expected {wanted:.1f} mm; not cut")
        line.shear()
        done.append(CutOff(wanted, came))
        told(done[-1])
    return tuple(done)


class StandInCoilLine:
    """A coil line that is not there: its counter is off by a ``share`` of its own and a ``scatter`` in mm; it has
    ``length`` mm of coil on it (``None``: enough)."""

    def __init__(self, share: float = -0.0004, scatter: float = 0.3, length: float | None = None,
                 seed: int = 1) -> None:
        self._share, self._scatter, self._left, self._random = share, scatter, length, random.Random(seed)
        self.under_the_shear = 0.0
        self.cut: list[float] = []

    def __call__(self, text: str) -> str:
        words = text.split()
        if words == ["HELLO"]:
            return "COIL 1 stand-in coil line"
        if words == ["SHEAR"]:
            if not self.under_the_shear:
                return "ERR nothing under the shear"
            self.cut.append(self.under_the_shear)
            self.under_the_shear = 0.0
            return "OK SHEAR"
        if len(words) != 2 or words[0] != "FEED":
            return f"ERR unknown command {text[:40]!r}"
        try:
            asked = float(words[1])
        except ValueError:
            return f"ERR {words[1][:20]!r} is no number"
        return self._feed(asked)

    def _feed(self, asked: float) -> str:
        if not 0 < asked < 20_000:
            return "ERR feeds 0 to 20000 mm"
        if self._left is not None and asked > self._left:
            return f"ERR {self._left:.1f} mm left on the coil"
        came = asked * (1 + self._share) + self._random.gauss(0, self._scatter)
        self._left = None if self._left is None else self._left - came
        self.under_the_shear += came
        return f"OK FEED {came:.1f}"
