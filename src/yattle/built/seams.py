"""Which pans lie beside each other on a face, and which face each of them lies on."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import combinations

from yattle.built.frames import face_axes
from yattle.derive.derived import Derived
from yattle.derive.face_pans import PANS
from yattle.derive.openings import DerivedOpening
from yattle.details.face_pans import FacePans
from yattle.pattern.surface import Array
from yattle.roof.panels import Panel

_SEAM = 0.5  # mm: as near two panels' sides are one seam
_LEAST = 60.0  # mm of a common seam that is folded


def pan_names(derived: Derived) -> Iterator[tuple[str, dict[int, str]]]:
    """Each face with pans made in the shop: the piece that each of its panels is, by the panel's number."""
    for opening in derived.openings:
        if isinstance(opening.form, FacePans):
            yield opening.id.removeprefix(f"{PANS} "), _names(opening, opening.form)


def _names(opening: DerivedOpening, pans: FacePans) -> dict[int, str]:
    found = {}
    for piece, numbers in zip(opening.pieces, pans.numbers, strict=False):
        for copy, number in enumerate(numbers, 1):
            found[number] = piece.pattern.id if piece.pattern.qty == 1 else f"{piece.pattern.id}/{copy}"
    return found


def neighbours(derived: Derived) -> Iterator[tuple[str, str, Array, Array]]:
    """Two pans with a seam between them, the left one first, with what is square to their face and what is along the
    seam, each 1 mm long."""
    for face, names in pan_names(derived):
        axes = face_axes(derived, derived.roof.facet(face)).turn
        panels = sorted((panel for panel in derived.panels[face].panels if panel.n in names), key=lambda one: one.left)
        high, low = (_folded(derived, face, side) for side in (1, -1))
        for left, right in combinations(panels, 2):
            beside = abs(left.right - right.left) < _SEAM and _common(left, right) > _LEAST
            if beside and left.n in high and right.n in low:
                yield names[left.n], names[right.n], axes[:, 2], axes[:, 1]


def _folded(derived: Derived, face: str, side: int) -> set[int]:
    """The panels of a face whose pans have a seam on a side: where hardly any of it is left there is none."""
    return {number for opening in derived.openings if isinstance(opening.form, FacePans)
            and opening.id == f"{PANS} {face}" for shape, numbers in zip(opening.form.shapes, opening.form.numbers,
                                                                        strict=True)
            if any(seam.side == side for seam in shape.seams) for number in numbers}


def _common(left: Panel, right: Panel) -> float:
    """How long the seam is that two panels share, mm."""
    seam = left.right
    ends = [[y for x, y in panel.outline if abs(x - seam) < _SEAM] for panel in (left, right)]
    if not all(ends):
        return 0.0
    return min(max(ys) for ys in ends) - max(min(ys) for ys in ends)
