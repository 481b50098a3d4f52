"""What is worked out once of a thing that never changes, and kept with it."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from functools import cached_property
from typing import Any, TypeVar

_Found = TypeVar("_Found")


class Remembers:
    """Keeps what others have worked out of it, under their own keys.

    >>> roof = Remembers()
    >>> roof.once("ridges", lambda: 3), roof.once("ridges", lambda: 4)
    (3, 3)
    """

    @cached_property
    def remembered(self) -> dict[Hashable, Any]:
        """What was worked out, by what was asked."""
        return {}

    def once(self, asked: Hashable, work: Callable[[], _Found]) -> _Found:
        """What is ``asked`` of it, worked out where nobody has asked yet; it must follow from the thing itself and from
        what is in ``asked``."""
        if asked not in self.remembered:
            self.remembered[asked] = work()
        found: _Found = self.remembered[asked]
        return found
