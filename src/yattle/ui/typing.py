"""What is being typed: it belongs to the field it was typed for, and is taken or refused there before anything else
changes selection or job, saves, writes or closes. Only Escape throws it away."""

from __future__ import annotations

import contextlib
from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

from PyQt6.QtWidgets import QWidget


@dataclass(frozen=True)
class Bound:
    """A field together with what was selected when it was in hand: ``put(text, simulated)`` puts a reading there
    whatever is selected later, and answers with what is wrong. ``simulated``: it is a stand-in's, not measured."""

    says: str
    put: Callable[[str, bool], str | None]


class Typed(Protocol):
    """A place that is typed into."""

    def typed(self) -> str:
        """What the field is called, while text in it has not been taken yet; else nothing."""

    def take(self) -> str | None:
        """Take the text; what is wrong with it is returned, and it stays where it is."""

    def show_it(self) -> None:
        """Bring the field into sight and the keyboard to it."""

    def bound(self, widget: QWidget) -> Bound | None:
        """The field as it is in hand, if ``widget`` is it."""


class Typing:
    """All places that can be typed into; ``trouble`` is told what was refused."""

    def __init__(self, trouble: Callable[[str], None]) -> None:
        self._places: list[Typed] = []
        self._trouble = trouble

    def add(self, place: Typed) -> None:
        """``place`` can be typed into from now on."""
        self._places.append(place)

    def settle(self) -> bool:
        """Have everything taken; the first that is refused is shown and said, and the answer is false."""
        for place in self._places:
            with contextlib.suppress(RuntimeError):  # its window is gone
                name = place.typed()
                wrong = place.take() if name else None
                if wrong:
                    place.show_it()
                    said = wrong.removeprefix(f"{name}: ")
                    self._trouble(f"{name} is not taken yet: {said}. Correct it, or press Escape there.")
                    return False
        return True

    @property
    def pending(self) -> list[str]:
        """The names of the fields that hold text that is not taken yet."""
        return [name for place in self._places if (name := place.typed())]

    def bound(self, widget: QWidget | None) -> Bound | None:
        """The field that has the keyboard, as it is in hand; ``None`` where nothing of the job is typed there."""
        if widget is None:
            return None
        return next((found for place in self._places if (found := place.bound(widget)) is not None), None)
