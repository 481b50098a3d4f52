"""What can be wrong with what somebody typed or handed over.

Two different things are kept apart throughout Yattle:

* *wrong input* raises an :class:`InputError`: it names the field, what was found
  and what is expected, in one sentence of the trade;
* *"cannot be made"* is an answer, never an exception: a result with ``ok`` false
  and its ``reasons``.
"""

from __future__ import annotations


class YattleError(Exception):
    """Base of every error that Yattle raises on purpose; its text is for the user."""


class InputError(YattleError, ValueError):
    """A value that cannot be taken.

    ``field`` is the path of the value (``legs.2``, ``runs.E1.pitch``), ``found`` what
    stood there, ``expected`` what would do. The text is always one line.

    >>> str(InputError("pitch", "95°", "a pitch from 0° to under 90°"))
    'pitch: found 95°, expected a pitch from 0° to under 90°'
    """

    def __init__(self, field: str, found: str, expected: str) -> None:
        self.field, self.found, self.expected = field, found, expected
        super().__init__(self._sentence())

    def __reduce__(self) -> tuple[type, tuple[str, str, str]]:
        """As it goes from one process to another."""
        return type(self), (self.field, self.found, self.expected)

    def _sentence(self) -> str:
        text = f"{self.field}: found {self.found}, expected {self.expected}"
        return _one_line(text)


class FileProblem(YattleError):
    """A file that cannot be read or written; the text says which and why."""

    def __init__(self, text: str) -> None:
        super().__init__(_one_line(text))


def _one_line(text: str) -> str:
    """``text`` as one line that can be written anywhere, without halves of characters."""
    return " ".join(text.split()).encode("utf-8", "replace").decode()
