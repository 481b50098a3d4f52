"""A folder with a back gauge, on a plain text line.

One command a line, one answer a line, in plain ASCII; lengths in mm, angles in degrees::

    HELLO                 →  FOLDER 1 shop folder
    GAUGE 84.73           →  OK GAUGE 84.73      the gauge stands, counted from the out edge
    FOLD 59.74            →  OK FOLD 57.96       the leaf went there; the angle measured afterwards
    FLATTEN               →  OK FLATTEN
    anything else         →  ERR what was wrong

The transport is anything that takes a line and gives one back (:mod:`yattle.devices.line`): a
serial line, a socket, or the stand-in. :class:`Folder` never believes an answer it does not understand.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from yattle.brake.order import Step
from yattle.devices.line import Exchange, number_in
from yattle.errors import YattleError

STAND_IN = "stand-in"  # stands in the name of every device that is not there


class DeviceProblem(YattleError):
    """The device answered with an error, with nonsense, or not at all; the text says which."""


@dataclass(frozen=True)
class Measured:
    """One stroke as it came out: ``set_angle`` asked of the leaf, ``angle`` measured, ``wanted`` the turn. Degrees."""

    fold: str
    set_angle: float
    angle: float
    wanted: float

    @property
    def springback(self) -> float:
        """Leaf over fold, as this stroke shows it: a ratio."""
        return self.set_angle / self.angle


class Folder:
    """Speaks the line protocol; every method raises :class:`DeviceProblem` when it is not obeyed."""

    def __init__(self, exchange: Exchange) -> None:
        self._exchange = exchange
        answer = self._ask("HELLO")
        if not answer.startswith("FOLDER 1 "):
            raise DeviceProblem(f"the folder: found {answer!r}, expected 'FOLDER 1' and its name")
        self.name = answer.removeprefix("FOLDER 1 ")

    def gauge(self, mm: float) -> None:
        """Send the gauge to ``mm`` from the out edge. Raises :class:`DeviceProblem` where it does not stand there
        within 0.05 mm."""
        stands = self._number("GAUGE", mm, 0.0, 20_000.0)
        if abs(stands - mm) > 0.05:
            raise DeviceProblem(f"the gauge: found it at {stands:.2f} mm, expected {mm:.2f} mm")

    def fold(self, angle: float) -> float:
        """Swing the leaf to ``angle`` and back; the angle measured on the piece, degrees. Raises
        :class:`DeviceProblem` where that cannot be this fold's: under half of what the leaf did, or over it by more
        than 5° and a tenth."""
        found = self._number("FOLD", angle, -360.0, 360.0)
        if not angle / 2 <= found <= 1.1 * angle + 5:
            raise DeviceProblem(f"the folder: found {found:.2f}° after the leaf went to {angle:.2f}°, expected about "
                                "as much; look at the piece")
        return found

    def flatten(self) -> None:
        """Press a hem shut. Raises :class:`DeviceProblem` where it is not obeyed."""
        if self._ask("FLATTEN") != "OK FLATTEN":
            raise DeviceProblem("the folder did not flatten")

    def _number(self, command: str, value: float, least: float, most: float) -> float:
        answer = self._ask(f"{command} {value:.2f}")
        words = answer.split()
        if len(words) != 3 or words[:2] != ["OK", command]:
            raise DeviceProblem(f"the folder: {answer.removeprefix('ERR ') or 'no answer'}")
        number = number_in(words[2], least, most)
        if number is None:
            raise DeviceProblem(f"the folder: found {words[2][:40]!r}, expected a number from {least:g} to {most:g} "
                                f"after {command}")
        return number

    def _ask(self, line: str) -> str:
        try:
            return self._exchange(line).strip()
        except OSError as trouble:
            raise DeviceProblem(f"the folder does not answer ({(trouble.strerror or str(trouble)).lower()})") from None


    @property
    def is_stand_in(self) -> bool:
        """Whether it is one of the stand-ins, wherever it hangs: what it says was not measured."""
        return STAND_IN in self.name


def fold_piece(folder: Folder, steps: tuple[Step, ...], stopped: Callable[[], bool] = lambda: False,
               told: Callable[[Measured], None] = lambda _: None) -> tuple[Measured, ...]:
    """Fold one piece by ``steps``; what was measured after each stroke that folds, each ``told`` as it comes.
    ``stopped`` ends it before the next stroke."""
    found: list[Measured] = []
    for step in steps:
        if stopped():
            break
        folder.gauge(step.mark_from_out_edge)
        if step.set_angle is None:
            folder.flatten()
            continue
        found.append(Measured(step.fold, step.set_angle, folder.fold(step.set_angle), abs(step.turn)))
        told(found[-1])
    return tuple(found)
