"""All the pans or shingles of one face that are made in the shop, equal ones once."""

from __future__ import annotations

from typing import Literal

import numpy as np
from shapely import Point, Polygon

from yattle.bounds import Id
from yattle.details.forms import Form, moved
from yattle.details.pan_floor import Place
from yattle.details.pan_shape import PanShape
from yattle.pattern.surface import Surface

_WRITTEN, _LINE = 120.0, 40.0  # mm from its foot to where a pan's number is written, and the line it stands at


class FacePans(Form):
    """The pans of a face: each of the ``shapes`` with how many there are of it, and the ``numbers`` of the panels they
    are, with the ``places`` of the first of each on the face, mm. ``closed``: how their seams are; ``none``: panels
    that get no pan, since nothing of their floor is left."""

    detail: Literal["pans"] = "pans"
    id: Id = "PANS"
    shapes: tuple[PanShape, ...]
    numbers: tuple[tuple[int, ...], ...] = ()
    places: tuple[Place, ...] = ()
    none: tuple[int, ...] = ()
    closed: str = ""

    def surfaces(self) -> tuple[Surface, ...]:
        """The pans beside each other as on the face. Raises :class:`InputError` where one cannot be folded."""
        places = self.places or ((0.0, 0.0),) * len(self.shapes)
        return tuple(moved(self._marked(n, shape).surface(), np.eye(3), np.array([*at, 0.0]))
                     for n, (shape, at) in enumerate(zip(self.shapes, places, strict=True), 1))

    def _marked(self, n: int, shape: PanShape) -> PanShape:
        """A pan with its number written at its foot."""
        left, low = min(x for x, _ in shape.floor), min(y for _, y in shape.floor)
        right, high = max(x for x, _ in shape.floor), max(y for _, y in shape.floor)
        middle, up = (left + right) / 2, low + min(_WRITTEN, (high - low) / 3)
        if not Polygon(shape.floor).buffer(-5.0).covers(Point(middle, up)):
            return shape
        line = (middle, up), (middle, up + min(_LINE, (high - low) / 4)), f"{self.id}-{n} {shape.name}, foot this way"
        return shape.but(lines=(*shape.lines, line))

    def pattern_of(self, panel: int) -> str | None:
        """The id of the pattern that a panel of the face is cut to, by the panel's number; ``None`` where its pans come
        with an opening."""
        return next((f"{self.id}-{n}" for n, numbers in enumerate(self.numbers, 1) if panel in numbers), None)

    @property
    def notes(self) -> tuple[str, ...]:
        many = sum(shape.qty for shape in self.shapes)
        return (f"{many} pans, {len(self.shapes)} different ones; {self.closed}.",
                "Low edge to the left, high edge to the right as seen from the eave; each pan carries its number and "
                "its foot.", *self._open_corners())

    def _open_corners(self) -> tuple[str, ...]:
        """What closes the corners where a turn-up is cut back."""
        names = [shape.name for shape in self.shapes if shape.cut_back]
        return () if not names else (
            f"At inner corners of {_listed(names)} the turn-up is cut on a slant, so that it comes out of one sheet: "
            "close each corner with a patch over both turn-ups, soldered or riveted and sealed.",)


def _listed(names: list[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


class FaceShingles(Form):
    """The shingles of a face, all alike."""

    detail: Literal["shingles"] = "shingles"
    id: Id = "SHINGLES"
    shape: PanShape

    def surfaces(self) -> tuple[Surface, ...]:
        """One shingle. Raises :class:`InputError` where it cannot be folded."""
        return (self.shape.surface(),)

    @property
    def notes(self) -> tuple[str, ...]:
        return (f"{self.shape.qty} shingles; those at sides, hips, valleys and the head are cut on the roof.",
                "Low and right edges turned under, left and high edges over; laid from the right to the left as seen "
                "from the eave, course upon course.")
