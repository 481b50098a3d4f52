"""What is read from two metres, and the deeds every place of the floor offers."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

from yattle.drawing import Drawing


@dataclass(frozen=True)
class Screen:
    """What it is about, the one thing to do in ``big``, more of it in ``small``, what comes ``after``; how far it is;
    a drawing, on which ``now`` is the key of what is done now."""

    about: str
    big: str
    small: str = ""
    after: str = ""
    far: tuple[int, int] = (0, 0)
    drawing: Drawing | None = None
    now: str = ""


class AtPlace(Protocol):
    """The shear, the brake or the roof: where the work stands there."""

    def screen(self) -> Screen:
        """What is to be done now."""

    def next(self) -> None:
        """This is done."""

    def back(self) -> None:
        """One step back; what was ticked stays ticked."""

    def press(self, key: str) -> None:
        """``key`` was pressed on the drawing: the work stands there now; what it stands at already is done."""
