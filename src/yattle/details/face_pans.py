"""All the pans of one face that are made in the shop, equal ones once."""

from __future__ import annotations

from typing import Literal

import numpy as np

from yattle.bounds import Id
from yattle.details.forms import Form, moved
from yattle.details.pan_shape import PanShape, Place
from yattle.pattern.surface import Surface


class FacePans(Form):
    """The pans of a face: each of the ``shapes`` with how many there are of it, and the ``numbers`` of the panels they
    are, with the ``places`` of the first of each on the face, mm. ``closed``: how their seams are."""

    detail: Literal["pans"] = "pans"
    id: Id = "PANS"
    shapes: tuple[PanShape, ...]
    numbers: tuple[tuple[int, ...], ...] = ()
    places: tuple[Place, ...] = ()
    closed: str = ""

    def surfaces(self) -> tuple[Surface, ...]:
        """The pans beside each other as on the face. Raises :class:`InputError` where one cannot be folded."""
        places = self.places or ((0.0, 0.0),) * len(self.shapes)
        return tuple(moved(shape.surface(), np.eye(3), np.array([*at, 0.0]))
                     for shape, at in zip(self.shapes, places, strict=True))

    def pattern_of(self, panel: int) -> str | None:
        """The id of the pattern that a panel of the face is cut to, by the panel's number; ``None`` where its pans come
        with an opening."""
        return next((f"{self.id}-{n}" for n, numbers in enumerate(self.numbers, 1) if panel in numbers), None)

    @property
    def notes(self) -> tuple[str, ...]:
        many = sum(shape.qty for shape in self.shapes)
        return (f"{many} pans, {len(self.shapes)} different ones; {self.closed}.",
                "Low edge to the left, high edge to the right as seen from the eave; each pan carries its number and "
                "its foot.")
